import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { AreaOp } from '../../op/contract';
import detail from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(detail, vectors, {
  twinTolerance: 0,
  twinReason: 'exact sums, then the same float64 arithmetic',
  infinityIsOdd: true,
});

const op = detail as unknown as AreaOp<typeof params>;
const [W, H] = [120, 40];
function run(src: Float32Array[], p: Partial<Record<keyof typeof params, number>>): Float32Array[] {
  const block = op.prepare({ amountPct: 0, sizePx: 6, finerPx: 0, edgePct: 10, fromPct: 0, ...p }, plainContext);
  const planes = (n: number): Float32Array[] => Array.from({ length: n }, () => new Float32Array(W * H));
  const [dst, work] = [planes(3), planes(3)];
  for (const { name } of op.passes(block))
    op.kernels[name]!(block, { src, dst, work, picture: [], scratch: new Int32Array(0), w: W, h: H, y0: 0, y1: H });
  return dst;
}
const r = rng(4);
/** Texture of 2 % on a step of 60 %. */
const texture = Float32Array.from({ length: W * H }, () => 0.04 * (r() - 0.5));
const stepped = texture.map((t, i) => (i % W < 60 ? 0.2 : 0.8) + t);
const src = [stepped, stepped.map((v) => 0.8 * v), stepped.map((v) => 0.5 * v + 0.1)];
const deviation = (p: Float32Array, from: number, to: number): number => {
  const v = [...p].filter((_, i) => i % W >= from && i % W < to);
  const m = v.reduce((a, b) => a + b, 0) / v.length;
  return Math.sqrt(v.reduce((a, b) => a + (b - m) ** 2, 0) / v.length);
};

describe('detail', () => {
  it('takes texture out and doubles it, and leaves colour difference', () => {
    const soft = run(src, { amountPct: -100 });
    const sharp = run(src, { amountPct: 100 });
    const was = deviation(src[1]!, 10, 50);
    expect(deviation(soft[1]!, 10, 50)).toBeLessThan(0.2 * was);
    expect(deviation(sharp[1]!, 10, 50)).toBeGreaterThan(1.7 * was);
    for (const out of [soft, sharp])
      for (const c of [1, 2])
        out[c]!.forEach((v, i) => expect(v - out[0]![i]!).toBeCloseTo(src[c]![i]! - src[0]![i]!, 6));
  });
  it('softens blotches and leaves the pores on them where what is finer stays', () => {
    // Blotches of 24 px, pores of 2.
    const blotch = (x: number): number => 0.025 * Math.sin((2 * Math.PI * x) / 24);
    const pore = (x: number): number => (x % 2 ? 0.02 : -0.02);
    const skin = Float32Array.from({ length: W * H }, (_, i) => 0.5 + blotch(i % W) + pore(i % W));
    const share = (p: Float32Array, of: (x: number) => number): number => {
      let [dot, all] = [0, 0];
      for (let i = 0; i < p.length; i++) {
        const x = i % W;
        if (x < 30 || x > 90) continue;
        dot += (p[i]! - 0.5) * of(x);
        all += of(x) ** 2;
      }
      return dot / all;
    };
    const soft = run([skin, skin, skin], { amountPct: -100, sizePx: 20, finerPx: 3, edgePct: 40 })[0]!;
    expect(share(soft, pore)).toBeGreaterThan(0.9);
    expect(share(soft, blotch)).toBeLessThan(0.35);
    const all = run([skin, skin, skin], { amountPct: -100, sizePx: 20, edgePct: 40 })[0]!;
    expect(share(all, pore)).toBeLessThan(0.2);
  });
  it('makes no halo at an edge, where a plain blur would overshoot by half of it', () => {
    const flat = stepped.map((_, i) => (i % W < 60 ? 0.2 : 0.8));
    const out = run([flat, flat, flat], { amountPct: 100, edgePct: 5 })[0]!;
    out.forEach((v, i) => expect(Math.abs(v - flat[i]!)).toBeLessThan(0.015));
  });
  it('leaves what is fainter than asked', () => {
    const out = run(src, { amountPct: 100, fromPct: 5 });
    out.forEach((p, c) => p.forEach((v, i) => i % W > 12 && i % W < 48 && expect(v).toBe(src[c]![i])));
  });
});
