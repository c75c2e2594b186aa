import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { AreaOp } from '../../op/contract';
import denoise from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(denoise, vectors, {
  twinTolerance: 2e-4,
  twinReason: 'float32 sums of 25 weighted differences, twice',
  infinityIsOdd: true,
});

const op = denoise as unknown as AreaOp<typeof params>;
const [W, H] = [96, 64];
function run(src: Float32Array[], p: Partial<Record<keyof typeof params, number>>): Float32Array[] {
  const block = op.prepare({ strengthPct: 40, sizePx: 6, lightPct: 100, ...p }, plainContext);
  const planes = (n: number): Float32Array[] => Array.from({ length: n }, () => new Float32Array(W * H));
  const [dst, work] = [planes(3), planes(3)];
  for (const { name } of op.passes(block))
    op.kernels[name]!(block, { src, dst, work, picture: [], scratch: new Int32Array(0), w: W, h: H, y0: 0, y1: H });
  return dst;
}
const r = rng(3);
/** Standard normal (Box and Muller, 1958). */
const normal = (): number => Math.sqrt(-2 * Math.log(1 - r())) * Math.cos(2 * Math.PI * r());
const base = [0.5, 0.35, 0.3];
/** Two surfaces, one right of column 48 and 0.3 lighter, with noise of 2 % in each channel. */
const clean = base.map((v) => Float32Array.from({ length: W * H }, (_, i) => v + (i % W < 48 ? 0 : 0.3)));
const noisy = clean.map((p) => p.map((v) => v + 0.02 * normal()));
const error = (a: readonly Float32Array[], from = 0, to = W): number => {
  let [s, n] = [0, 0];
  a.forEach((p, c) =>
    p.forEach((v, i) => {
      if (i % W < from || i % W >= to) return;
      s += (v - clean[c]![i]!) ** 2;
      n++;
    }),
  );
  return Math.sqrt(s / n);
};

describe('noise reduction', () => {
  it('takes most of the noise of flat parts, right up to an edge, and nothing of the edge', () => {
    const out = run(noisy, {});
    expect(error(noisy)).toBeGreaterThan(0.019);
    expect(error(out, 10, 40)).toBeLessThan(0.3 * error(noisy, 10, 40));
    expect(error(out, 44, 52)).toBeLessThan(0.5 * error(noisy, 44, 52));
    // Without noise an edge stays to the bit, since nothing comes over it.
    run(clean, {}).forEach((p, c) => expect(p).toEqual(clean[c]));
  });
  it('takes less at less strength, and colour alone when luma stays', () => {
    const soft = error(run(noisy, { strengthPct: 5 }), 10, 40);
    expect(soft).toBeGreaterThan(error(run(noisy, { strengthPct: 40 }), 10, 40));
    const out = run(noisy, { lightPct: 0 });
    const luma = (p: readonly Float32Array[], i: number): number =>
      0.2126 * p[0]![i]! + 0.7152 * p[1]![i]! + 0.0722 * p[2]![i]!;
    for (let i = 0; i < W * H; i += 37) expect(luma(out, i)).toBeCloseTo(luma(noisy, i), 5);
    const blue = (p: readonly Float32Array[]): Float32Array[] => [p[2]!.map((v, i) => v - luma(p, i))];
    const spread = (p: Float32Array): number => {
      const part = [...p].filter((_, i) => i % W > 9 && i % W < 40);
      const m = part.reduce((a, b) => a + b, 0) / part.length;
      return Math.sqrt(part.reduce((a, b) => a + (b - m) ** 2, 0) / part.length);
    };
    expect(spread(blue(out)[0]!)).toBeLessThan(0.35 * spread(blue(noisy)[0]!));
  });
  it('what is no number stays alone', () => {
    const src = clean.map((p) => p.slice());
    src[1]![30 * W + 20] = NaN;
    src[0]![31 * W + 60] = Infinity;
    const out = run(src, {});
    expect(out[1]![30 * W + 20]).toBeNaN();
    expect(out[0]![31 * W + 60]).toBe(Infinity);
    out.forEach((p, c) => p.forEach((v, i) => Number.isFinite(src[c]![i]!) && expect(v).toBe(src[c]![i])));
  });
});
