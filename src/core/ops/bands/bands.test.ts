import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { rgbToYcbcr, ycbcrToRgb } from '../../color/ycbcr';
import { plainContext } from '../../op/contract';
import type { PixelOp } from '../../op/contract';
import op from './index';
import type { params } from './params';
import { vectors } from './vectors';
import { sortedBorders, weightsAt } from './weights';

opContract(op, vectors, {
  twinTolerance: 3e-5,
  twinReason: 'hue by a polynomial, the turn by a series; both float32',
});
const bands = op as unknown as PixelOp<typeof params>;
const borders = fc.array(fc.double({ min: 0, max: 360, noNaN: true }), { minLength: 3, maxLength: 8 });

describe('bands of hue', () => {
  it('weights are never below 0, sum to one, and are one in the middle of a band', () => {
    fc.assert(
      fc.property(borders, fc.double({ min: 1, max: 120, noNaN: true }), (list, soft) => {
        const at = sortedBorders(list);
        if (at.length < 3) return;
        for (let h = 0; h < 360; h += 1.7) {
          const w = weightsAt(at, soft, h);
          expect(Math.min(...w)).toBeGreaterThanOrEqual(-1e-12);
          expect(Math.abs(w.reduce((a, b) => a + b, 0) - 1)).toBeLessThan(1e-12);
          expect(w.filter((v) => v > 1e-9).length).toBeLessThanOrEqual(2);
        }
        at.forEach((b, i) => {
          const width = (at[(i + 1) % at.length]! - b + 360) % 360 || 360;
          expect(weightsAt(at, soft, b + width / 2)[i]).toBeCloseTo(1, 9);
        });
      }),
      { seed: 5, numRuns: 60 },
    );
  });
  it('both have half at a border, over zero degrees too, and nothing jumps', () => {
    const at = [10, 100, 200, 350];
    expect(weightsAt(at, 16, 350)).toEqual([0, 0, 0.5, 0.5]);
    expect(weightsAt(at, 16, 10)).toEqual([0.5, 0, 0, 0.5]);
    for (let h = 0; h < 360; h += 0.1) {
      const [a, b] = [weightsAt(at, 16, h), weightsAt(at, 16, h + 0.1)];
      for (let i = 0; i < 4; i++) expect(Math.abs(a[i]! - b[i]!)).toBeLessThan(0.015);
    }
  });
  it('a band says what its own colours do; luma stays to a turn and a saturation', () => {
    const values = [0, 0, 0, 25, -30, 0];
    const [r, g, b] = [0, 1, 2].map(() => new Float32Array(72)) as [Float32Array, Float32Array, Float32Array];
    for (let i = 0; i < 72; i++) {
      const h = (i * 5 * Math.PI) / 180;
      [r[i], g[i], b[i]] = ycbcrToRgb(0.5, 0.1 * Math.cos(h), 0.1 * Math.sin(h));
    }
    bands.kernel(bands.prepare({ borders: [0, 90, 180, 270], values, softDeg: 20 }, plainContext), { r, g, b, n: 72 });
    for (let i = 0; i < 72; i++) {
      const [y, cb, cr] = rgbToYcbcr(r[i]!, g[i]!, b[i]!);
      expect(Math.abs(y - 0.5)).toBeLessThan(1e-5);
      const deg = ((Math.atan2(cr, cb) * 180) / Math.PI + 360) % 360;
      if (i * 5 > 101 && i * 5 < 169) {
        expect(Math.abs(deg - i * 5 - 25)).toBeLessThan(0.01);
        expect(Math.hypot(cb, cr)).toBeCloseTo(0.07, 4);
      } else if (i * 5 > 191 || i * 5 < 79) expect(Math.hypot(cb, cr)).toBeCloseTo(0.1, 5);
    }
  });
  it('borders that are not in order keep their own values', () => {
    const run = (borders: number[], values: number[]): number[] => [
      ...bands.prepare({ borders, values, softDeg: 10 }, plainContext),
    ];
    expect(run([200, 20, 100], [7, 0, 0, 0, 50, 0, 0, 0, 9])).toEqual(
      run([20, 100, 200], [0, 50, 0, 0, 0, 9, 7, 0, 0]),
    );
  });
});
