import { plainContext } from '../../op/contract';
import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { naiveGaussian } from '../../../../testkit/naive';
import type { AreaRun, TidyAreaOp } from '../../op/contract';
import type { params } from './params';
import feather, { BOXES, extendedBox } from './index';
import { vectors } from './vectors';

const op = feather as unknown as TidyAreaOp<typeof params>;
opContract(feather, vectors, {
  twinTolerance: 1e-6,
  twinReason: 'float32 sums of the true kernel; the box passes agree to the bit',
});

type Side = 'both' | 'in' | 'out';
function blur(src: Float32Array, w: number, h: number, radiusPx: number, side: Side = 'both'): Float32Array {
  const block = op.prepare({ radiusPx, side }, plainContext);
  let from = src;
  for (const name of op.passes(block)) {
    const dst = new Float32Array(w * h);
    const run: AreaRun = { src: from, dst, scratch: new Int32Array(4 * (w + h) + 256), w, h, y0: 0, y1: h };
    op.kernels[name]!(block, run);
    from = dst;
  }
  return from;
}

describe('feather against a float64 Gaussian', () => {
  const w = 400;
  const h = 320;
  const disc = Float32Array.from({ length: w * h }, (_, i) =>
    Math.hypot((i % w) - 200, Math.floor(i / w) - 160) < 30 ? 1 : 0,
  );
  // [radius, largest difference allowed]: the true kernel is cut at 3 sigma (0.27 % of its weight lies beyond on each
  // axis, which shows most where a blob is as small as the feather), the boxes are within 2.5 % on a blob like this.
  it.each([
    [2, 2e-3],
    [6, 2e-3],
    [24, 5e-3],
    [25, 0.025],
    [50, 0.025],
  ])('radius %d px', (radius, tol) => {
    const got = blur(disc, w, h, radius);
    const want = naiveGaussian(disc, w, h, radius / 2);
    let worst = 0;
    got.forEach((v, i) => (worst = Math.max(worst, Math.abs(v - want[i]!))));
    expect(worst).toBeLessThan(tol);
    expect(worst).toBeGreaterThan(0);
  });

  it('is within 0.8 % of the Gaussian on a straight edge when made of boxes', () => {
    const edge = Float32Array.from({ length: w * h }, (_, i) => (i % w < 200 ? 1 : 0));
    const got = blur(edge, w, h, 40);
    const want = naiveGaussian(edge, w, h, 20);
    const worst = got.reduce((a, v, i) => Math.max(a, Math.abs(v - want[i]!)), 0);
    expect(worst).toBeGreaterThan(0.0005);
    expect(worst).toBeLessThan(0.008);
  });

  it('falls inside or outside of the edge alone where it is told to', () => {
    const edge = Float32Array.from({ length: w * h }, (_, i) => (i % w < 200 ? 1 : 0));
    for (const radius of [8, 40]) {
      const [inwards, outwards] = [blur(edge, w, h, radius, 'in'), blur(edge, w, h, radius, 'out')];
      const both = blur(edge, w, h, radius);
      const row = 160 * w;
      // Nothing is lost on one side, nothing is added on the other; a pixel from the edge the fall has begun.
      for (let x = 0; x < w; x++) {
        if (x < 199) expect(outwards[row + x]).toBe(1);
        if (x >= 201) expect(inwards[row + x]).toBe(0);
        expect(Math.abs(inwards[row + x]! - Math.max(0, 2 * both[row + x]! - 1))).toBeLessThan(1e-6);
        expect(Math.abs(outwards[row + x]! - Math.min(1, 2 * both[row + x]!))).toBeLessThan(1e-6);
      }
      expect(inwards[row + 196]!).toBeLessThan(0.9);
      expect(outwards[row + 203]!).toBeGreaterThan(0.1);
    }
  });
  it('keeps exact zero out of its reach and exact one inside', () => {
    for (const radius of [8, 30]) {
      const got = blur(disc, w, h, radius);
      const halo = op.haloPx({ radiusPx: radius, side: 'both' });
      let zeros = 0;
      got.forEach((v, i) => {
        const d = Math.hypot((i % w) - 200, Math.floor(i / w) - 160);
        if (d > 30 + Math.SQRT2 * halo + 1) {
          expect(v).toBe(0);
          zeros++;
        }
      });
      expect(zeros).toBeGreaterThan(100);
    }
  });

  it('has boxes whose variances add up to the Gaussian', () => {
    for (const sigma of [6.5, 10, 25.3, 80]) {
      const { r, alpha } = extendedBox(sigma);
      expect(alpha >= 0 && alpha < 1).toBe(true);
      let v = 0;
      for (let j = -r; j <= r; j++) v += j * j;
      v = (v + 2 * alpha * (r + 1) ** 2) / (2 * r + 1 + 2 * alpha);
      expect(Math.sqrt(BOXES * v)).toBeCloseTo(sigma, 9);
    }
  });
});
