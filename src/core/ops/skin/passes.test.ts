/** A press in passes, by threads or alone: what it finds is what all in one finds. */
import { describe, expect, it } from 'vitest';
import { rng } from '../../math/rng';
import { atSizesBefore, begun, PIECES, pressedSkin } from '../../matte/pressed';
import { lookedAt } from '../../matte/small';
import { defaultsOf } from '../../op/params';
import { plainContext } from '../../op/contract';
import type { FrameRun, Stroke } from '../../op/contract';
import skin from './index';
import { planesFor } from './passes';

const [W, H] = [150, 104];
/** A face, one side of it in shade, and a hat before a wall that differs from it by so much. */
function picture(wall: number, shaded = 0.35): Float32Array[] {
  const r = rng(11);
  const planes = [0, 1, 2].map(() => new Float32Array(W * H));
  for (let i = 0; i < W * H; i++) {
    const [u, v] = [((i % W) - 72) / 30, (Math.floor(i / W) - 56) / 38];
    const shade = 1 - shaded * Math.max(0, u);
    const c =
      u * u + v * v < 1
        ? [0.78 * shade, 0.58 * shade, 0.48 * shade]
        : u * u + (v + 0.7) ** 2 < 0.8 && v < -0.6
          ? [0.25, 0.33, 0.3]
          : [0.78 - wall, 0.58 - 0.4 * wall, 0.48 + 0.2 * wall];
    c.forEach((x, k) => (planes[k]![i] = x + 0.012 * (r() - 0.5)));
  }
  return planes;
}
const keep = (x: number, y: number): Stroke => ({ keep: true, points: [[x, y]] });
const leave = (x: number, y: number): Stroke => ({ keep: false, points: [[x, y]] });
function blockFor(strokes: readonly Stroke[], brushPx = 6): Float32Array {
  return skin.prepare({ ...defaultsOf(skin.params), brushPx } as never, { ...plainContext, strokes });
}
/** Planes that hold anything at first. */
function runOn(rgb: Float32Array[], src: Float32Array[] = []): FrameRun {
  const work = Array.from({ length: planesFor(W, H) }, () => new Float32Array(W * H).fill(NaN));
  const dst = [new Float32Array(W * H).fill(NaN)];
  return { src, dst, work, picture: rgb, scratch: new Int32Array(4 * (W + H)), w: W, h: H, y0: 0, y1: H };
}
if (skin.area !== 'frame') throw new Error('It looks at the whole frame');
const { passes, kernels } = skin;
/** As threads do: pieces by themselves, in this order; rows in bands of so many. */
function inPasses(block: Float32Array, run: FrameRun, order: readonly number[], band: number): Float32Array {
  for (const pass of passes(block))
    if (pass.pieces) for (const y0 of order) kernels[pass.name]!(block, { ...run, y0, y1: y0 + 1 });
    else if (pass.whole) kernels[pass.name]!(block, run);
    else for (let y0 = 0; y0 < H; y0 += band) kernels[pass.name]!(block, { ...run, y0, y1: Math.min(H, y0 + band) });
  return run.dst[0]!;
}
const SAME = Array.from({ length: 1 + PIECES.length }, (_, i) => i);

describe('a press in passes', () => {
  it.each([
    ['clearly a thing', 0.45, [keep(66, 60)], null, true],
    ['before a wall of its colour', 0.03, [keep(66, 60)], null, false],
    ['with strokes that leave out', 0.03, [keep(66, 60), leave(20, 60), leave(130, 30)], null, false],
    ['within a shape', 0.03, [keep(66, 60)], 46, false],
  ] as const)('%s: pieces in any order find what all in one finds', (_, wall, strokes, within, clear) => {
    const block = blockFor(strokes, clear ? 3 : 6);
    const rgb = picture(wall, clear ? 0.1 : 0.35);
    const shape =
      within === null
        ? []
        : [
            Float32Array.from({ length: W * H }, (_v, i) =>
              Math.hypot((i % W) - 72, Math.floor(i / W) - 56) < within ? 1 : 0,
            ),
          ];
    const of = lookedAt(block, runOn(rgb, shape))!;
    const q = { ...of, share: 0 };
    expect(begun(q)!.clear).toBe(clear);
    const whole = pressedSkin(q)!;
    expect(whole.includes(1)).toBe(true);
    for (const [order, band] of [
      [SAME, H],
      [[...SAME].reverse(), 1],
      [SAME, 37],
    ] as const)
      expect(Uint8Array.from(inPasses(block, runOn(rgb, shape), order, band))).toEqual(whole);
  });
  it('where strokes hide it on the smaller copy it is grown over the whole one; without a press nothing is in', () => {
    const rgb = picture(0.03);
    const hidden = blockFor([keep(66.5, 62.5), leave(67.5, 63.5)], 1);
    const of = lookedAt(hidden, runOn(rgb))!;
    expect(begun({ ...of, share: 0 })).toBeNull();
    expect(Uint8Array.from(inPasses(hidden, runOn(rgb), SAME, H))).toEqual(atSizesBefore({ ...of, share: 0 }));
    const none = inPasses(blockFor([leave(20, 20)]), runOn(rgb), SAME, 10);
    expect(none.every((v) => v === 0)).toBe(true);
  });
  it('has room for all that it keeps, in planes of any size', () => {
    for (const [w, h] of [
      [1, 1],
      [7, 3],
      [480, 270],
      [800, 450],
      [1920, 1080],
    ] as const)
      expect(planesFor(w, h) * w * h).toBeGreaterThan(4 * Math.min(w, 480) * Math.min(h, 270));
    expect(planesFor(3840, 2160)).toBe(1);
  });
});
