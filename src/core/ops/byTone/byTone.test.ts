import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { chromaPct, hueDeg, rgbToYcbcr, ycbcrToRgb } from '../../color/ycbcr';
import { wrap180 } from '../../math/angle';
import { plainContext } from '../../op/contract';
import type { PixelOp } from '../../op/contract';
import { defaultsOf } from '../../op/params';
import { open } from '../../math/open';
import byTone from './index';
import { params } from './params';
import { vectors } from './vectors';

opContract(byTone, vectors, {
  twinTolerance: 2e-3,
  twinReason: 'a place in a table that is off by one unit of the last place at a steep bend, times gains of up to 25',
  infinityIsOdd: true,
});

const op = byTone as unknown as PixelOp<typeof params>;
function run(p: Partial<Record<keyof typeof params, number[]>>, rgb: readonly number[]): [number, number, number] {
  const [r, g, b] = rgb.map((v) => Float32Array.of(v)) as [Float32Array, Float32Array, Float32Array];
  op.kernel(op.prepare({ ...defaultsOf(params), ...p }, plainContext), { r, g, b, n: 1 });
  return [r[0]!, g[0]!, b[0]!];
}
const channel = fc.double({ min: -0.2, max: 1.2, noNaN: true });
const rgbs = fc.tuple(channel, channel, channel);
const bend = fc
  .array(fc.tuple(fc.double({ min: 0, max: 100, noNaN: true }), fc.double({ min: -90, max: 90, noNaN: true })), {
    minLength: 2,
    maxLength: 8,
  })
  .map((l) => l.flat());
const ycc = (rgb: readonly number[]): [number, number, number] => rgbToYcbcr(rgb[0]!, rgb[1]!, rgb[2]!);

describe('by level and saturation', () => {
  it('saturation keeps luma and hue; level keeps hue and saturation', () => {
    fc.assert(
      fc.property(rgbs, bend, bend, (rgb, one, two) => {
        const was = ycc(rgb.map(Math.fround));
        const fuller = ycc(run({ satByLevel: one, satBySat: two }, rgb));
        expect(Math.abs(fuller[0] - was[0])).toBeLessThan(1e-5);
        if (chromaPct(was[1], was[2]) > 8 && chromaPct(fuller[1], fuller[2]) > 2)
          expect(Math.abs(wrap180(hueDeg(fuller[1], fuller[2]) - hueDeg(was[1], was[2])))).toBeLessThan(0.01);
        const lit = ycc(run({ levelByLevel: one, levelBySat: two }, rgb));
        if (Math.abs(was[0]) > 0.05) {
          const by = lit[0] / was[0];
          expect(Math.abs(lit[1] - by * was[1])).toBeLessThan(1e-5);
          expect(Math.abs(lit[2] - by * was[2])).toBeLessThan(1e-5);
        }
      }),
      { numRuns: 300, seed: 4 },
    );
  });
  it('tones keep their order by level, chromas by saturation, whatever the curve', () => {
    fc.assert(
      fc.property(bend, (v) => {
        const wild = v.map((x, i) => (i % 2 ? 4.4 * x : x)).map((x, i) => (i % 2 ? Math.max(-100, x) : x));
        let [tone, chroma] = [-1, -1];
        for (let x = 0.5; x <= 120; x += 1.3) {
          const t = run({ levelByLevel: wild }, [x / 100, x / 100, x / 100])[0];
          expect(t).toBeGreaterThan(tone);
          tone = t;
          const [, cb, cr] = ycc(run({ satBySat: wild }, ycbcrToRgb(0.5, x / 200, 0)));
          const c = chromaPct(cb, cr);
          expect(c).toBeGreaterThan(chroma);
          chroma = c;
        }
      }),
      { numRuns: 60, seed: 8 },
    );
  });
  it('with no bend, or none where a colour lies, every bit stays', () => {
    fc.assert(
      fc.property(rgbs, (rgb) => {
        expect(run({}, rgb).map((v) => v + 0)).toEqual(rgb.map((v) => Math.fround(v) + 0));
      }),
      { numRuns: 100, seed: 5 },
    );
    const dark = [0.1, 0.12, 0.08];
    const high = [0, 0, 60, 0, 80, 30, 100, 30];
    expect(run({ satByLevel: high, levelByLevel: high }, dark)).toEqual(dark.map(Math.fround));
    expect(run({ satByLevel: high }, [0.9, 0.7, 0.6])).not.toEqual([0.9, 0.7, 0.6].map(Math.fround));
  });
  it('an open curve goes through its points, never beyond them, and is flat beyond its ends', () => {
    fc.assert(
      fc.property(bend, (v) => {
        const p = Array.from({ length: v.length / 2 }, (_, i) => [v[2 * i]!, v[2 * i + 1]!] as const);
        const distinct = p.filter((q, i) => p.findIndex((z) => Math.abs(z[0] - q[0]) < 0.01) === i);
        const f = open(distinct);
        const ys = distinct.map((q) => q[1]);
        for (const [x, y] of distinct) expect(f(x)).toBeCloseTo(y, 6);
        const xs = distinct.map((q) => q[0]);
        expect(f(-50)).toBeCloseTo(f(Math.min(...xs)), 9);
        expect(f(150)).toBeCloseTo(f(Math.max(...xs)), 9);
        for (let x = 0; x <= 100; x += 1.7) {
          expect(f(x)).toBeGreaterThanOrEqual(Math.min(...ys) - 1e-9);
          expect(f(x)).toBeLessThanOrEqual(Math.max(...ys) + 1e-9);
        }
      }),
      { numRuns: 200, seed: 6 },
    );
    expect(() => open([])).toThrow(RangeError);
  });
  it('tells its strongest bend', () => {
    expect(op.say!({ ...defaultsOf(params), satByLevel: [0, 0, 20, -40.02, 100, 3] })).toEqual([
      'saturation \u221240 % at level 20 %',
    ]);
    expect(op.say!({ ...defaultsOf(params), levelBySat: [0, 0, 80, -12] })).toEqual([
      'level \u221212 % at saturation 80 %',
    ]);
    expect(op.say!(defaultsOf(params))).toEqual([]);
  });
});
