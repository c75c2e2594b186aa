import { describe, expect, it } from 'vitest';
import { EBU_R103, LIMITS, outsideLimits } from './limits';

const rgb = (...px: [number, number, number][]) => ({
  r: Float32Array.from(px, (p) => p[0]),
  g: Float32Array.from(px, (p) => p[1]),
  b: Float32Array.from(px, (p) => p[2]),
});

describe('limits of a picture that leaves', () => {
  it('count pixels, each once a side, whichever channel it is', () => {
    const p = rgb([0.5, 0.5, 0.5], [0, 0, 1], [1.2, 0.5, 0.5], [0.5, -0.1, 0.5], [-0.2, 0.4, 1.3]);
    expect(outsideLimits(p, LIMITS)).toEqual({ low: 2, high: 2, any: 3, pixels: 5 });
  });
  it('are those of EBU R 103: -5 and 105 % are still in', () => {
    expect(EBU_R103).toEqual({ lowPct: -5, highPct: 105 });
    const at = (v: number) => outsideLimits(rgb([0.5, v, 0.5]), EBU_R103).any;
    expect([-0.05, 1.05, -0.0499, 1.0499].map(at)).toEqual([0, 0, 0, 0]);
    expect([-0.0501, 1.0501, -1, 4, Infinity, -Infinity].map(at)).toEqual([1, 1, 1, 1, 1, 1]);
  });
  it('less than half a code beyond is none in a file; what is no number is black', () => {
    const at = (v: number, highPct = 100) => outsideLimits(rgb([v, v, v]), { lowPct: 0, highPct });
    expect(at(1 + 0.4 / 65535).any).toBe(0);
    expect(at(1 + 0.6 / 65535)).toEqual({ low: 0, high: 1, any: 1, pixels: 1 });
    expect(at(NaN).any).toBe(0);
    expect(outsideLimits(rgb([NaN, 0.5, 0.5]), { lowPct: 5, highPct: 100 }).low).toBe(1);
  });
  it('turned round they are refused', () => {
    expect(() => outsideLimits(rgb([0, 0, 0]), { lowPct: 50, highPct: 50 })).toThrow(/lower limit/);
  });
});
