import { describe, expect, it } from 'vitest';
import { compile } from './plan';
import type { CorrectionSpec, Fit } from './plan';
import { newUse } from './plan.defaults';
import { carriedTo, countingAt, strokesAt } from './strokes';
import type { Painted } from './strokes';
import type { Track } from './track';

const right = (dx: number, dy = 0): number[] => [1, 0, dx, 0, 1, dy, 0, 0, 1];
/** Drawn at 10; three pixels a frame to the right, two down. */
const track: Track = {
  at: 10,
  path: [5, 6, 7, 8, 9, 11, 12, 13, 14, 15].map((f) => ({ frame: f, h: right(3 * (f - 10), 2 * (f - 10)) })),
};
const stroke = (frame: number, x: number, keep = true): Painted[number] => ({ keep, frame, points: [[x, 20]] });
const painted: Painted = [stroke(10, 100), stroke(10, 50, false), stroke(14, 200)];

describe('strokes over time', () => {
  it('count from the frame they were painted on until the next; before the first those of that', () => {
    expect([0, 10, 13].map((f) => countingAt(painted, f))).toEqual([
      [0, 1],
      [0, 1],
      [0, 1],
    ]);
    expect(countingAt(painted, 14)).toEqual([2]);
    expect(countingAt(painted, 99)).toEqual([2]);
    expect(countingAt([], 3)).toEqual([]);
  });
  it('stand still without a path, and move with it from the frame they were painted on', () => {
    const at = (f: number, t?: Track): unknown => strokesAt(painted, f, 1, undefined, t).map((s) => s.points[0]);
    expect(at(13)).toEqual([
      [100, 20],
      [50, 20],
    ]);
    expect(at(10, track)).toEqual(at(10));
    expect(at(13, track)).toEqual([
      [109, 26],
      [59, 26],
    ]);
    expect(at(5, track)).toEqual([
      [85, 10],
      [35, 10],
    ]);
    // Painted on a frame of the path: from there.
    expect(at(14, track)).toEqual([[200, 20]]);
    expect(at(15, track)).toEqual([[203, 22]]);
    // Planes of half the size.
    expect(strokesAt(painted, 13, 0.5, undefined, track)[0]!.points[0]).toEqual([54.5, 13]);
  });
  it('painted on another frame they add to what counted there, where that lies by then', () => {
    const more = carriedTo(painted, 12, undefined, track);
    expect(more.slice(0, 3)).toEqual(painted);
    expect(more.slice(3)).toEqual([
      { keep: true, frame: 12, points: [[106, 24]] },
      { keep: false, frame: 12, points: [[56, 24]] },
    ]);
    // What it was at every frame it is still.
    for (let f = 3; f < 18; f++)
      expect(strokesAt(more, f, 1, undefined, track)).toEqual(strokesAt(painted, f, 1, undefined, track));
    expect(carriedTo(painted, 14, undefined, track)).toBe(painted);
    expect(carriedTo([], 14)).toEqual([]);
  });
  it("in a scene's frame: the path is the shot's", () => {
    const fit: Fit = { s: 2, dx: 10, dy: -4 };
    expect(strokesAt(painted, 13, 1, fit, track)[0]!.points[0]).toEqual([2 * 100 + 10 + 9, 2 * 20 - 4 + 6]);
    const more = carriedTo(painted, 13, fit, track);
    expect(more[3]!.points[0]).toEqual([104.5, 23]);
    expect(strokesAt(more, 13, 1, fit, track)).toEqual(strokesAt(painted, 13, 1, fit, track));
  });
  it('a spread is grown from where they lie; its brush keeps its width', () => {
    const c = (t?: Track): CorrectionSpec => ({
      id: 'c',
      name: 'c',
      on: true,
      mixPct: 100,
      terms: [
        {
          id: 't',
          join: 'and',
          not: false,
          name: 't',
          use: newUse('u', 'spread', { brushPx: 6 }),
          strokes: painted,
          ...(t ? { track: t } : {}),
        },
      ],
      tidy: [],
      adjustments: [newUse('a', 'exposure', { stops: 1 })],
    });
    const block = (frame: number, t?: Track): Float32Array => {
      const [s] = compile([c(t)], frame, 1)[0]!.region;
      if (s?.do !== 'key') throw new Error('no key');
      return s.step.block;
    };
    const moved = { ...c(), terms: [{ ...c().terms[0]!, strokes: [stroke(0, 109), stroke(0, 59, false)] }] };
    moved.terms[0]!.strokes = moved.terms[0]!.strokes!.map((s) => ({ ...s, points: [[s.points[0]![0], 26]] }));
    const [want] = compile([moved as CorrectionSpec], 13, 1)[0]!.region;
    expect(block(13, track)).toEqual(want?.do === 'key' ? want.step.block : null);
    expect(block(13, track)).not.toEqual(block(13));
    const twice: Track = { at: 10, path: [{ frame: 13, h: [2, 0, 0, 0, 2, 0, 0, 0, 1] }] };
    expect(block(13, twice).slice(0, 3)).toEqual(block(13).slice(0, 3));
  });
});
