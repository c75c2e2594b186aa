import Color from 'colorjs.io';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { chromaPct, hueDeg, rgbToYcbcr } from '../../color/ycbcr';
import { wrap180 } from '../../math/angle';
import { closed } from '../../math/closed';
import { plainContext } from '../../op/contract';
import type { PixelOp } from '../../op/contract';
import { defaultsOf } from '../../op/params';
import byHue from './index';
import { params } from './params';
import { vectors } from './vectors';

opContract(byHue, vectors, {
  twinTolerance: 5e-3,
  twinReason: 'a hue that is wrong by 2e-5 degrees at a steep bend, times gains of up to five',
  infinityIsOdd: true,
});

const op = byHue as unknown as PixelOp<typeof params>;
function run(p: Partial<Record<keyof typeof params, number[]>>, rgb: readonly number[]): [number, number, number] {
  const [r, g, b] = rgb.map((v) => Float32Array.of(v)) as [Float32Array, Float32Array, Float32Array];
  op.kernel(op.prepare({ ...defaultsOf(params), ...p }, plainContext), { r, g, b, n: 1 });
  return [r[0]!, g[0]!, b[0]!];
}
const channel = fc.double({ min: -0.2, max: 1.2, noNaN: true });
const rgbs = fc.tuple(channel, channel, channel);
const bend = (most: number) =>
  fc
    .array(fc.tuple(fc.double({ min: 0, max: 360, noNaN: true }), fc.double({ min: -most, max: most, noNaN: true })), {
      minLength: 1,
      maxLength: 8,
    })
    .map((l) => l.flat());
const ycc = (rgb: readonly number[]): [number, number, number] => rgbToYcbcr(rgb[0]!, rgb[1]!, rgb[2]!);

describe('by hue', () => {
  it('a turn keeps luma within 1e-5 and chroma; saturation keeps luma and hue; level keeps hue and saturation', () => {
    fc.assert(
      fc.property(rgbs, bend(90), bend(60), (rgb, turn, other) => {
        const was = ycc(rgb.map(Math.fround));
        const [chroma, hue] = [chromaPct(was[1], was[2]), hueDeg(was[1], was[2])];
        const turned = ycc(run({ turn }, rgb));
        expect(Math.abs(turned[0] - was[0])).toBeLessThan(1e-5);
        expect(Math.abs(chromaPct(turned[1], turned[2]) - chroma)).toBeLessThan(1e-3);
        const fuller = ycc(run({ sat: other }, rgb));
        expect(Math.abs(fuller[0] - was[0])).toBeLessThan(1e-5);
        if (chroma > 8) expect(Math.abs(wrap180(hueDeg(fuller[1], fuller[2]) - hue))).toBeLessThan(0.01);
        const lit = ycc(run({ level: other }, rgb));
        // In linear sums: all three grow by one factor.
        const by = was[0] === 0 ? 1 : lit[0] / was[0];
        if (Math.abs(was[0]) > 0.05) {
          expect(Math.abs(lit[1] - by * was[1])).toBeLessThan(1e-5);
          expect(Math.abs(lit[2] - by * was[2])).toBeLessThan(1e-5);
        }
      }),
      { numRuns: 300, seed: 4 },
    );
  });
  it('with no bend, or none near a hue, every bit stays', () => {
    fc.assert(
      fc.property(rgbs, (rgb) => {
        // A zero has no sign that counts.
        expect(run({}, rgb).map((v) => v + 0)).toEqual(rgb.map((v) => Math.fround(v) + 0));
      }),
      { numRuns: 100, seed: 5 },
    );
    const blue = [0.2, 0.3, 0.8];
    const skin = [100, 0, 110, 0, 123, 15, 136, 0, 146, 0];
    expect(run({ turn: skin, sat: skin, level: skin }, blue)).toEqual(blue.map(Math.fround));
    expect(run({ turn: skin }, [0.8, 0.55, 0.45])).not.toEqual([0.8, 0.55, 0.45].map(Math.fround));
  });
  it('a turn to the opposite is what another library makes of it', () => {
    // Source: colours by colorjs.io 0.7.1; BT.709-6 items 3.2, 3.3: at 180 degrees every channel c becomes 2 Y' - c.
    const c = new Color('srgb', [0.7, 0.4, 0.25]).coords.map(Number) as [number, number, number];
    const y = 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2];
    run({ turn: [0, 180] }, c).forEach((v, i) => expect(v).toBeCloseTo(2 * y - c[i]!, 5));
  });
  it('tells its strongest bend', () => {
    expect(op.say!({ ...defaultsOf(params), sat: [123, 12.04, 200, -3] })).toEqual(['hue 123\u00b0 saturation +12 %']);
    expect(op.say!(defaultsOf(params))).toEqual([]);
  });
});

describe('a closed curve', () => {
  it('goes through its points, stays between neighbours, and joins smoothly where the circle closes', () => {
    fc.assert(
      fc.property(bend(50), (v) => {
        const p = Array.from({ length: v.length / 2 }, (_, i) => [v[2 * i]!, v[2 * i + 1]!] as const);
        const distinct = p.filter((q, i) => p.findIndex((z) => Math.abs(wrap180(z[0] - q[0])) < 0.01) === i);
        const f = closed(distinct, 360);
        for (const [x, y] of distinct) expect(f(x)).toBeCloseTo(y, 6);
        const [lo, hi] = [Math.min(...distinct.map((q) => q[1])), Math.max(...distinct.map((q) => q[1]))];
        for (let x = -10; x < 370; x += 1.7) {
          expect(f(x)).toBeGreaterThanOrEqual(lo - 1e-9);
          expect(f(x)).toBeLessThanOrEqual(hi + 1e-9);
          expect(f(x + 360)).toBeCloseTo(f(x), 9);
        }
      }),
      { numRuns: 200, seed: 6 },
    );
    // Equal slopes on both sides of 0 degrees.
    const f = closed(
      [
        [330, 0],
        [350, 10],
        [20, 30],
        [60, 0],
      ],
      360,
    );
    const h = 1e-4;
    expect((f(360 - h) - f(360 - 2 * h)) / h).toBeCloseTo((f(2 * h) - f(h)) / h, 3);
    expect(f(0)).toBeGreaterThan(10);
    expect(f(0)).toBeLessThan(30);
    expect(closed([[77, 4]], 360)(200)).toBe(4);
    expect(() => closed([], 360)).toThrow(RangeError);
  });
});
