/** The small copy that regions grow over, and the way back from it, against the plain way to say both. */
import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import type { FrameRun } from '../op/contract';
import { plainContext } from '../op/contract';
import { atFullSize, grownBlock, lookedAt, lookRows, shrink, sizeOf } from './small';

const runOf = (w: number, h: number, rest: Partial<FrameRun> = {}): FrameRun => ({
  ...{ src: [], dst: [new Float32Array(w * h).fill(NaN)], work: [], picture: [], scratch: new Int32Array(0) },
  ...{ w, h, y0: 0, y1: h },
  ...rest,
});
const SIZES = [
  [1003, 517],
  [1920, 1080],
  [1600, 900],
  [480, 270],
  [300, 700],
  [37, 5],
] as const;

describe('the small copy', () => {
  it.each(SIZES)('of %i x %i: each pixel is the mean of its own, whatever part of it is asked for', (w, h) => {
    const r = rng(w + h);
    const p = Float32Array.from({ length: w * h }, () => 1.4 * r() - 0.1);
    p[3] = NaN;
    const to = sizeOf(w, h);
    const all = shrink(p, w, h, to);
    for (let k = 0; k < 400; k++) {
      const [x, y] = [Math.floor(r() * to.w), Math.floor(r() * to.h)];
      const from = [Math.floor((x * w) / to.w), Math.floor((y * h) / to.h)] as const;
      const until = [Math.floor(((x + 1) * w) / to.w), Math.floor(((y + 1) * h) / to.h)] as const;
      let [sum, n] = [0, 0];
      for (let v = from[1]; v < until[1]; v++) for (let u = from[0]; u < until[0]; u++, n++) sum += p[v * w + u]!;
      expect(all[y * to.w + x]).toBeCloseTo(sum / n > 0 ? sum / n : 0, 5);
    }
    const part = { x0: to.w >> 2, y0: to.h >> 1, x1: to.w, y1: to.h };
    const some = shrink(p, w, h, to, part);
    some.forEach((v, i) => {
      const [x, y] = [i % to.w, Math.floor(i / to.w)];
      const in_ = x >= part.x0 && x < part.x1 && y >= part.y0 && y < part.y1;
      if (v !== (in_ ? all[i] : 0)) throw new Error(`${v} at ${x}, ${y}`);
    });
  });

  it.each(SIZES)('of %i x %i: bands of rows make the same as all at once', (w, h) => {
    const r = rng(7);
    const picture = [0, 1, 2].map(() => Float32Array.from({ length: w * h }, () => r()));
    const strokes = [{ keep: true, points: [[w / 2, h / 2]] as [number, number][] }];
    const block = grownBlock(100, 0.1 * w, { ...plainContext, strokes });
    const { p } = lookedAt(block, runOf(w, h, { picture }))!;
    // Row by row where they are few: each call looks at the strokes anew.
    for (const band of [h > 600 ? 45 : 1, 100, Math.ceil(h / 3)]) {
      const empty = (q: Float32Array): Float32Array => new Float32Array(q.length).fill(NaN);
      const lab = [empty(p.L), empty(p.a), empty(p.b)] as const;
      for (let y0 = 0; y0 < h; y0 += band)
        lookRows(block, runOf(w, h, { picture, y0, y1: Math.min(h, y0 + band) }), lab);
      // By bytes: element by element takes seconds.
      const bytes = (q: Float32Array): Buffer => Buffer.from(q.buffer, q.byteOffset, q.byteLength);
      [p.L, p.a, p.b].forEach((q, i) => expect(bytes(lab[i]!).equals(bytes(q))).toBe(true));
    }
  });

  it.each(SIZES)('comes back at %i x %i by straight lines between its pixels', (w, h) => {
    const r = rng(9);
    const to = sizeOf(w, h);
    // Blots of some pixels, so that there are runs of both and borders between.
    const mask = Uint8Array.from({ length: to.w * to.h }, (_, i) =>
      Math.sin((i % to.w) / 9) + Math.cos(i / to.w / 7) + 0.3 * r() > 0.2 ? 1 : 0,
    );
    const run = runOf(w, h);
    atFullSize(mask, run);
    const at = (x: number, y: number): number => mask[Math.min(to.h - 1, y) * to.w + Math.min(to.w - 1, x)]!;
    const held = (v: number, n: number): number => Math.min(n - 1, Math.max(0, v));
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const u = held(((x + 0.5) * to.w) / w - 0.5, to.w);
        const v = held(((y + 0.5) * to.h) / h - 0.5, to.h);
        const [i, j] = [Math.floor(u), Math.floor(v)];
        const row = (k: number): number => at(i, k) + (u - i) * (at(i + 1, k) - at(i, k));
        const want = row(j) + (v - j) * (row(j + 1) - row(j));
        if (!(Math.abs(run.dst[0]![y * w + x]! - want) < 1e-6)) throw new Error(`${x}, ${y}`);
      }
    atFullSize(null, run);
    expect(run.dst[0]!.every((v) => v === 0)).toBe(true);
  });
});
