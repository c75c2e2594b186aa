import { plainContext } from '../../op/contract';
import { describe, expect, it } from 'vitest';
import { bothKernels } from '../../../../testkit/bench';
import { opContract } from '../../../../testkit/opContract';
import { naiveGaussian } from '../../../../testkit/naive';
import type { AreaRun, TidyAreaOp } from '../../op/contract';
import type { params } from './params';
import feather, { BOXES, extendedBox, narrowed, stepOf } from './index';
import { vectors } from './vectors';

const op = feather as unknown as TidyAreaOp<typeof params>;
opContract(feather, vectors, {
  twinTolerance: 1e-6,
  twinReason: 'float32 sums in another order',
});

type Side = 'both' | 'in' | 'out';
function blur(
  src: Float32Array,
  w: number,
  h: number,
  radiusPx: number,
  side: Side = 'both',
  kernel: 'splines' | 'boxes' = 'splines',
): Float32Array {
  const block = op.prepare({ radiusPx, side, kernel }, plainContext);
  let from = src;
  for (const name of op.passes(block)) {
    const dst = new Float32Array(w * h);
    const run: AreaRun = {
      src: from,
      dst,
      scratch: new Int32Array(4 * (w + h) + 256),
      w,
      h,
      y0: 0,
      y1: h,
      left: 0,
      top: 0,
    };
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
  // The kernel is cut at 3.25 sigma: 0.12 % of its weight lies beyond on each axis.
  it.each([2, 5, 6, 7, 12, 20, 24, 25, 50, 60])('radius %d px, a disc of 30 px', (radius) => {
    const got = blur(disc, w, h, radius);
    const want = naiveGaussian(disc, w, h, radius / 2);
    let worst = 0;
    got.forEach((v, i) => (worst = Math.max(worst, Math.abs(v - want[i]!))));
    expect(worst).toBeLessThan(0.004);
    expect(worst).toBeGreaterThan(0);
  });

  it.each([4, 6, 7.5, 13, 40, 90])('radius %d px, a straight edge', (radius) => {
    const edge = Float32Array.from({ length: w * h }, (_, i) => (i % w < 200 ? 1 : 0));
    const got = blur(edge, w, h, radius);
    const want = naiveGaussian(edge, w, h, radius / 2);
    const worst = got.reduce((a, v, i) => Math.max(a, Math.abs(v - want[i]!)), 0);
    expect(worst).toBeGreaterThan(1e-6);
    expect(worst).toBeLessThan(0.002);
    // It only falls, and never leaves 0..1.
    const row = got.subarray(160 * w, 161 * w);
    row.forEach((v, x) => expect(x === 0 || v <= row[x - 1]! + 1e-6).toBe(true));
    expect(Math.min(...row)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...row)).toBeLessThanOrEqual(1);
  });

  it('blurs a plane too small for knots too', () => {
    const small = Float32Array.from({ length: 7 * 9 }, (_, i) => (i % 7 < 3 ? 1 : 0));
    const got = blur(small, 7, 9, 10);
    naiveGaussian(small, 7, 9, 5).forEach((v, i) => expect(Math.abs(got[i]! - v)).toBeLessThan(0.002));
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
      const halo = op.haloPx({ radiusPx: radius, side: 'both', kernel: 'splines' });
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

  it('narrows the kernel at the knots by what the splines blur', () => {
    for (const sigma of [3, 6.5, 10, 25.3, 80]) {
      // Variance of the cubic B-spline on a step, by adding up the spline itself.
      const step = stepOf(sigma);
      const spline = (t: number): number => (t >= 2 ? 0 : t >= 1 ? (2 - t) ** 3 / 6 : 2 / 3 - t * t + t ** 3 / 2);
      let [mass, second] = [0, 0];
      for (let x = -2; x <= 2; x += 1 / 512) {
        mass += spline(Math.abs(x));
        second += spline(Math.abs(x)) * (x * step) ** 2;
      }
      expect(Math.sqrt(narrowed(sigma) ** 2 + second / mass)).toBeCloseTo(sigma, 3);
    }
  });

  it('gives a pixel the same bits in a window of the picture, wherever that begins', async () => {
    const { wasm, ts, f32 } = await bothKernels();
    const m = Float32Array.from({ length: w * h }, (_, i) =>
      Math.max(0, Math.min(1, (60 - Math.hypot((i % w) - 200, Math.floor(i / w) - 160)) / 12)),
    );
    for (const kernels of [wasm, ts])
      for (const radiusPx of [5, 9, 15, 21]) {
        const block = op.prepare({ radiusPx, side: 'both', kernel: 'splines' }, plainContext);
        const halo = op.haloPx({ radiusPx, side: 'both', kernel: 'splines' });
        const part = (x0: number, y0: number, pw: number, ph: number): Float32Array => {
          const at = [0, 1, 2, 3].map((i) => 2 ** 18 + i * 4 * (pw * ph + 64));
          f32(1024, block.length).set(block);
          f32(at[0]!, pw * ph).set(
            Float32Array.from({ length: pw * ph }, (_, i) => m[(y0 + Math.floor(i / pw)) * w + x0 + (i % pw)]!),
          );
          let from = 0;
          for (const pass of op.passes(block)) {
            const to = from === 1 ? 2 : 1;
            kernels[`area_feather_${pass}`]!(1024, at[from]!, at[to]!, at[3]!, pw, ph, 0, ph, x0, y0);
            from = to;
          }
          return f32(at[from]!, pw * ph).slice();
        };
        const whole = part(0, 0, w, h);
        for (const [x, y] of [
          [145, 130],
          [252, 161],
          [201, 217],
          [0, 160],
          [399, 319],
        ] as const) {
          const [x0, y0] = [Math.max(0, x - halo), Math.max(0, y - halo)];
          const pw = Math.min(w, x + halo + 1) - x0;
          const got = part(x0, y0, pw, Math.min(h, y + halo + 1) - y0);
          expect(got[(y - y0) * pw + x - x0]).toBe(whole[y * w + x]);
        }
        expect(whole[130 * w + 145]! > 0 && whole[130 * w + 145]! < 1).toBe(true);
      }
  });

  it('keeps the boxes of version 1, and their variances add up to the Gaussian', () => {
    expect(op.migrations[0]!.up({ radiusPx: 30 })).toEqual({ radiusPx: 30, kernel: 'boxes' });
    for (const sigma of [12.5, 25.3, 80]) {
      const { r, alpha } = extendedBox(sigma);
      expect(alpha >= 0 && alpha < 1).toBe(true);
      let v = 0;
      for (let j = -r; j <= r; j++) v += j * j;
      v = (v + 2 * alpha * (r + 1) ** 2) / (2 * r + 1 + 2 * alpha);
      expect(Math.sqrt(BOXES * v)).toBeCloseTo(sigma, 9);
    }
    const [got, want] = [blur(disc, w, h, 50, 'both', 'boxes'), naiveGaussian(disc, w, h, 25)];
    const worst = got.reduce((a, v, i) => Math.max(a, Math.abs(v - want[i]!)), 0);
    expect(worst).toBeLessThan(0.025);
    expect(worst).toBeGreaterThan(0.004);
  });
});
