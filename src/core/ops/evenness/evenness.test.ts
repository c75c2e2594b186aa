import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { luma, rgbToYcbcr, ycbcrToRgb } from '../../color/ycbcr';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { PixelOp } from '../../op/contract';
import op from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 4e-6, twinReason: 'float32 where the kernel divides in float64' });

const even = op as unknown as PixelOp<typeof params>;
type Rgb = [Float32Array, Float32Array, Float32Array];
const run = (planes: Rgb, p: Partial<Record<keyof typeof params, number>> = {}): Rgb => {
  const [r, g, b] = planes.map((v) => v.slice()) as Rgb;
  const all = { strengthPct: 100, chromaPct: 50, hueDeg: 118, perLumaPct: 26, reachDeg: 40, ...p };
  even.kernel(even.prepare(all, plainContext), { r, g, b, n: r.length });
  return [r, g, b];
};
/** Skin in light and shade with blotches: hue off by up to ten degrees, chroma by a quarter. */
function blotchy(n: number): Rgb {
  const r = rng(8);
  const rows = Array.from({ length: n }, () => {
    const y = 0.2 + 0.5 * r();
    const hue = ((118 + 20 * (r() - 0.5)) * Math.PI) / 180;
    const c = 0.26 * y * (0.75 + 0.5 * r());
    return ycbcrToRgb(y, c * Math.cos(hue), c * Math.sin(hue));
  });
  return [0, 1, 2].map((c) => Float32Array.from(rows, (x) => x[c]!)) as Rgb;
}
const hues = ([r, g, b]: Rgb): number[] =>
  Array.from(r, (_, i) => {
    const [, cb, cr] = rgbToYcbcr(r[i]!, g[i]!, b[i]!);
    return (Math.atan2(cr, cb) * 180) / Math.PI;
  });
const deviation = (v: number[]): number => {
  const mean = v.reduce((a, b) => a + b, 0) / v.length;
  return Math.sqrt(v.reduce((a, b) => a + (b - mean) ** 2, 0) / v.length);
};

describe('evenness', () => {
  it('takes the spread of hue down by much more than 40 % at full strength, and less at less', () => {
    const skin = blotchy(3000);
    const [was, half, is] = [skin, run(skin, { strengthPct: 50 }), run(skin)].map((p) => deviation(hues(p)));
    expect(is! / was!).toBeLessThan(0.4);
    expect(half! / was!).toBeGreaterThan(0.5);
    expect(half! / was!).toBeLessThan(0.75);
  });

  it('leaves luma within a hundred-thousandth', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1.2, noNaN: true }), { minLength: 3, maxLength: 3 }), (rgb) => {
        const [r, g, b] = run(rgb.map((v) => Float32Array.of(v)) as Rgb);
        const before = luma(...(rgb.map(Math.fround) as [number, number, number]));
        expect(Math.abs(luma(r[0]!, g[0]!, b[0]!) - before)).toBeLessThan(1e-5 / 2);
      }),
      { seed: 6, numRuns: 300 },
    );
  });

  it('keeps light and shade apart: chroma goes to what the mean has at the same luma', () => {
    const [dark, light] = [0.25, 0.6].map((y) => ycbcrToRgb(y, 0.3 * y * -0.4695, 0.3 * y * 0.8829));
    const out = run([0, 1, 2].map((c) => Float32Array.of(dark![c]!, light![c]!)) as Rgb, { chromaPct: 100 });
    const chroma = [0, 1].map((i) => {
      const [y, cb, cr] = rgbToYcbcr(out[0][i]!, out[1][i]!, out[2][i]!);
      return Math.hypot(cb, cr) / y;
    });
    expect(chroma[0]).toBeCloseTo(chroma[1]!, 4);
    expect(chroma[0]!).toBeLessThan(0.3);
    expect(chroma[0]!).toBeGreaterThanOrEqual(0.26 - 1e-6);
  });

  it('leaves lips, the white of an eye, and a green wall to the bit', () => {
    const others = [ycbcrToRgb(0.4, 0.05, 0.12), [0.8, 0.79, 0.78], [0.3, 0.5, 0.3]] as const;
    const planes = [0, 1, 2].map((c) => Float32Array.from(others, (o) => o[c]!)) as Rgb;
    const out = run(planes);
    for (let c = 0; c < 3; c++)
      expect(Buffer.compare(Buffer.from(out[c]!.buffer), Buffer.from(planes[c]!.buffer))).toBe(0);
  });
});
