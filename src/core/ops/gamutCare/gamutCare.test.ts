import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { hueDeg, rgbToYcbcr } from '../../color/ycbcr';
import { plainContext } from '../../op/contract';
import type { PixelOp } from '../../op/contract';
import op from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 4e-6, twinReason: 'float32 where the kernel divides in float64' });

const care = op as unknown as PixelOp<typeof params>;
const run = (rgb: readonly number[], p = { amountPct: 100, kneePct: 92 }): number[] => {
  const [r, g, b] = rgb.map((v) => Float32Array.of(v)) as [Float32Array, Float32Array, Float32Array];
  care.kernel(care.prepare(p, plainContext), { r, g, b, n: 1 });
  return [r[0]!, g[0]!, b[0]!];
};
const channel = fc.double({ min: -0.6, max: 1.8, noNaN: true });

describe('gamut care', () => {
  it('brings every colour into the range, at its luma and its hue', () => {
    fc.assert(
      fc.property(channel, channel, channel, (r, g, b) => {
        const out = run([r, g, b]);
        out.forEach((v) => expect(v >= -1e-6 && v <= 1 + 1e-6).toBe(true));
        const [y, cb, cr] = rgbToYcbcr(r, g, b);
        const [y2, cb2, cr2] = rgbToYcbcr(...(out as [number, number, number]));
        expect(Math.abs(y2 - Math.min(1, Math.max(0, y)))).toBeLessThan(2e-6);
        if (Math.hypot(cb2, cr2) > 0.01) {
          const turn = Math.abs(hueDeg(cb2, cr2) - hueDeg(cb, cr));
          expect(Math.min(turn, 360 - turn)).toBeLessThan(0.01);
        }
      }),
      { seed: 5, numRuns: 400 },
    );
  });

  it('keeps the order of what it draws in: further out stays further out', () => {
    let last = 0;
    for (let k = 0.4; k < 3; k += 0.01) {
      const [r] = run([0.5 + k * 0.3, 0.5 - k * 0.05, 0.5 - k * 0.1]);
      expect(r!).toBeGreaterThan(last);
      last = r!;
    }
    expect(last).toBeLessThan(1);
  });
});
