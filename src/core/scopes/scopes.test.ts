import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { colourContrast } from './contrast';
import {
  addScopes,
  ALL_GROUPS,
  GROUPS,
  groupOf,
  resizeCounts,
  SCOPE_SIZE,
  VECTOR_CELLS,
  VECTOR_RANGE,
  ZOOMED,
} from './reduce';
import type { Group } from './reduce';
import { channels, MASK_CELLS, selectCode, selectMask, selects } from './select';
import { ycbcrToRgb } from '../color/ycbcr';

/** One row of colours given as (Y, Cb, Cr). */
function count(
  list: readonly (readonly [number, number, number])[],
  bits = ALL_GROUPS,
  range = VECTOR_RANGE,
): Uint32Array {
  const rgb = list.map(([y, cb, cr]) => ycbcrToRgb(y, cb, cr));
  const plane = (c: number): Float32Array => Float32Array.from(rgb, (v) => v[c]!);
  const counts = new Uint32Array(SCOPE_SIZE);
  addScopes(
    { r: plane(0), g: plane(1), b: plane(2), m: null, matte: 0, w: list.length, x0: 0, x1: list.length },
    0,
    1,
    1,
    bits,
    123,
    range,
    counts,
  );
  return counts;
}
const sum = (c: Uint32Array): number => c.reduce((a, b) => a + b, 0);

describe('counts', () => {
  it('are not lost when they are brought to another size, and even ones stay even', () => {
    const r = rng(1);
    for (const g of ['vector', 'strip', 'y'] as Group[])
      for (const [w, h] of [
        [239, 152],
        [560, 600],
        [1, 1],
        [77, 401],
        [5000, 5000],
      ] as const) {
        const counts = Uint32Array.from({ length: GROUPS[g].size }, () => (r() < 0.02 ? Math.floor(r() * 900) : 0));
        const out = resizeCounts(g, counts, w, h);
        expect(sum(out.counts)).toBe(sum(counts));
        expect(out.counts).toHaveLength(out.w * out.h);
      }
    const flat = resizeCounts('y', new Uint32Array(GROUPS.y.size).fill(1000), 239, 152).counts;
    expect(Math.max(...flat) / Math.min(...flat)).toBeLessThan(1.01);
  });
  it('row 0 is the top: a bright pixel of a waveform lies above a dark one', () => {
    const out = resizeCounts('y', groupOf(count([[0.88, 0, 0]]), 'y'), 10, 12);
    expect(Math.floor(out.counts.findIndex((n) => n > 0) / out.w)).toBe(2);
  });
  it('a zoomed vectorscope holds what lies inside, finer', () => {
    const list = [
      [0.5, 0.02, 0.03],
      [0.5, 0.3, 0.1],
    ] as const;
    const c = groupOf(count(list, GROUPS.vector.bit | ZOOMED, VECTOR_RANGE / 8), 'vector');
    expect(sum(c)).toBe(1);
    const i = c.findIndex((n) => n > 0);
    expect(Math.abs((((i % VECTOR_CELLS) + 0.5) / VECTOR_CELLS) * 0.14 - 0.07 - 0.02)).toBeLessThan(0.00026);
  });
  it('clip counts channels at the ends, infinity too, and NaN nowhere but as looked at', () => {
    const counts = new Uint32Array(SCOPE_SIZE);
    const p = Float32Array.of(0, 0.5, 1, Infinity, NaN, 0.5);
    addScopes(
      {
        r: p,
        g: new Float32Array(6).fill(0.5),
        b: new Float32Array(6).fill(0.5),
        m: null,
        matte: 0,
        w: 6,
        x0: 0,
        x1: 6,
      },
      0,
      1,
      1,
      ALL_GROUPS,
      123,
      VECTOR_RANGE,
      counts,
    );
    expect([...groupOf(counts, 'clip')].slice(0, 3)).toEqual([1, 2, 6]);
    expect(sum(groupOf(counts, 'r'))).toBe(4);
  });
});

describe('colour contrast', () => {
  it('finds the ends along the skin line, the lean and the spread of hue', () => {
    const dir = (deg: number, chroma: number): [number, number, number] => [
      0.5,
      chroma * Math.cos((deg * Math.PI) / 180),
      chroma * Math.sin((deg * Math.PI) / 180),
    ];
    const c = colourContrast(
      groupOf(
        count([
          ...Array.from({ length: 50 }, () => dir(123, 0.1)),
          ...Array.from({ length: 50 }, () => dir(303, 0.06)),
        ]),
        'vector',
      ),
      123,
    )!;
    expect(Math.abs(c.warmPct - 20)).toBeLessThan(0.9);
    expect(Math.abs(c.coolPct + 12)).toBeLessThan(0.9);
    expect(c.distancePct).toBeCloseTo(c.warmPct - c.coolPct, 9);
    expect(Math.abs(c.leanPct - 4)).toBeLessThan(0.5);
    expect(Math.abs(c.leanDeg! - 123)).toBeLessThan(4);
    // Two opposite hues, within the angle that a cell is wide.
    expect(c.hueSpreadDeg).toBeGreaterThan(174);
    const one = colourContrast(
      groupOf(count(Array.from({ length: 40 }, (_, i) => dir(118 + i / 4, 0.1))), 'vector'),
      123,
    )!;
    expect(one.hueSpreadDeg).toBeGreaterThan(2);
    expect(one.hueSpreadDeg).toBeLessThan(7);
    expect(colourContrast(groupOf(count([[0.5, 0, 0]]), 'vector'), 123)!.hueSpreadDeg).toBeNull();
    expect(colourContrast(new Uint32Array(VECTOR_CELLS ** 2), 123)).toBeNull();
  });
});

describe('marks in a scope', () => {
  it('a lasso in the vectorscope means the colours in it', () => {
    const s = {
      kind: 'vector' as const,
      points: [
        [0.1, 0.1],
        [0.2, 0.1],
        [0.2, 0.2],
        [0.1, 0.2],
      ] as const,
    };
    const mask = selectMask(s)!;
    expect(mask).toHaveLength(MASK_CELLS ** 2);
    const is = (y: number, cb: number, cr: number): boolean =>
      selects(selectCode(s), mask, 0, 0, 123, ...ycbcrToRgb(y, cb, cr));
    expect([
      is(0.5, 0.15, 0.15),
      is(0.1, 0.15, 0.15),
      is(0.5, 0.15, 0.25),
      is(0.5, -0.15, 0.15),
      is(0.5, 0.6, 0.6),
    ]).toEqual([true, true, false, false, false]);
  });
  it('one in the skin strip means hue and luma, and nothing too neutral', () => {
    const s = {
      kind: 'strip' as const,
      points: [
        [-10, 0.4],
        [10, 0.4],
        [10, 0.7],
        [-10, 0.7],
      ] as const,
    };
    const mask = selectMask(s)!;
    const is = (y: number, deg: number, chroma: number): boolean =>
      selects(
        2,
        mask,
        0,
        0,
        123,
        ...ycbcrToRgb(
          y,
          (chroma / 200) * Math.cos((deg * Math.PI) / 180),
          (chroma / 200) * Math.sin((deg * Math.PI) / 180),
        ),
      );
    expect([is(0.5, 123, 20), is(0.5, 129, 9), is(0.5, 140, 20), is(0.8, 123, 20), is(0.5, 123, 4)]).toEqual([
      true,
      true,
      false,
      false,
      false,
    ]);
  });
  it('a band means a range of its signal', () => {
    for (const channel of channels) {
      const code = selectCode({ kind: 'band', channel, lo: 0.1, hi: 0.2 });
      const rgb =
        channel === 'y' || channel === 'cb' || channel === 'cr'
          ? ycbcrToRgb(channel === 'y' ? 0.15 : 0.5, channel === 'cb' ? 0.15 : 0, channel === 'cr' ? 0.15 : 0)
          : (['r', 'g', 'b'].map((c) => (c === channel ? 0.15 : 0.9)) as [number, number, number]);
      expect(selects(code, new Uint8Array(0), 0.1, 0.2, 123, ...rgb), channel).toBe(true);
      expect(selects(code, new Uint8Array(0), 0.16, 0.2, 123, ...rgb), channel).toBe(false);
    }
  });
});
