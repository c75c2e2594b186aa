import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { rgbToYcbcr, ycbcrToRgb } from '../../color/ycbcr';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { PixelOp } from '../../op/contract';
import { fieldOf, folds, leastArea, listOfPulls, pulledTo, pullsOf, shiftAt } from './field';
import type { Pull, PullValues } from './field';
import op from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 3e-5,
  twinReason: 'float32 sums of weights that are large where pulls lie close together',
});

const pulls = op as unknown as PixelOp<typeof params>;
const through = (v: PullValues, colours: readonly (readonly [number, number, number])[]): number[][] => {
  const [r, g, b] = [0, 1, 2].map((c) => Float32Array.from(colours, (x) => x[c]!)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  pulls.kernel(pulls.prepare(v, plainContext), { r, g, b, n: r.length });
  return Array.from(r, (_, i) => [r[i]!, g[i]!, b[i]!]);
};
/** Some pulls and holds on a grid of places that lie apart, as hands set them. */
function drawn(seed: number): { values: PullValues; list: Pull[]; holds: [number, number][] } {
  const r = rng(seed);
  const places: [number, number][] = [];
  while (places.length < 6) {
    const p: [number, number] = [80 * (r() - 0.5), 80 * (r() - 0.5)];
    if (Math.hypot(...p) > 8 && places.every((q) => Math.hypot(p[0] - q[0], p[1] - q[1]) > 8))
      places.push([Math.round(p[0] * 10) / 10, Math.round(p[1] * 10) / 10]);
  }
  const list = places.slice(0, 3).map((from): Pull => ({
    from,
    to: [from[0] + Math.round(60 * (r() - 0.5)) / 10, from[1] + Math.round(60 * (r() - 0.5)) / 10],
    levelPct: Math.round(40 * (r() - 0.5)),
  }));
  const holds = places.slice(3);
  return { values: { pulls: listOfPulls(list), holds: holds.flat(), reachPct: 45 }, list, holds };
}

describe('pulls and holds', () => {
  it('every pull meets its target within 0.1 degree and 0.1 % of chroma, every hold stays; at any luma', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const { values, list, holds } = drawn(seed);
      for (const y of [0.15, 0.5, 0.9]) {
        const out = through(
          values,
          [...list.map((p) => p.from), ...holds].map(([a, b]) => ycbcrToRgb(y, a / 200, b / 200)),
        ).map((c) => rgbToYcbcr(...(c as [number, number, number])));
        list.forEach((p, i) => {
          const [l, cb, cr] = out[i]!;
          const off = Math.atan2(cr, cb) - Math.atan2(p.to[1], p.to[0]);
          expect(Math.abs(Math.atan2(Math.sin(off), Math.cos(off)))).toBeLessThan((0.1 * Math.PI) / 180);
          expect(Math.abs(200 * Math.hypot(cb, cr) - Math.hypot(...p.to))).toBeLessThan(0.1);
          expect(Math.abs(l / y - 1 - p.levelPct / 100)).toBeLessThan(1e-4);
        });
        holds.forEach(([a, b], i) => {
          const [l, cb, cr] = out[list.length + i]!;
          expect(Math.hypot(200 * cb - a, 200 * cr - b)).toBeLessThan(1e-3);
          expect(Math.abs(l - y)).toBeLessThan(1e-5);
        });
      }
    }
  });
  it('luma stays within a hundred-thousandth without a change of level; neutrals stay neutral', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 500 }), fc.double({ min: 0, max: 1.2, noNaN: true }), (seed, y) => {
        const { list, values } = drawn(seed);
        const level = { ...values, pulls: listOfPulls(list.map((p) => ({ ...p, levelPct: 0 }))) };
        const r = rng(seed);
        const colours = Array.from({ length: 30 }, () => ycbcrToRgb(y, 0.5 * (r() - 0.5), 0.5 * (r() - 0.5)));
        for (const c of through(level, colours)) {
          const [l] = rgbToYcbcr(...(c as [number, number, number]));
          expect(Math.abs(l - y)).toBeLessThan(1e-5);
        }
        const [grey] = through(values, [[y, y, y]]);
        for (const v of grey!) expect(Math.abs(v - y)).toBeLessThan(2e-6);
      }),
      { seed: 3, numRuns: 60 },
    );
  });
  it('nothing moves beyond the reach of every place, to the bit', () => {
    const { values } = drawn(3);
    const small = { ...values, reachPct: 6 };
    const far = ycbcrToRgb(0.5, 0.3, 0.3).map(Math.fround) as [number, number, number];
    expect(through(small, [far])[0]).toEqual([...far]);
  });
  it('the area that is left agrees with differences of the field, and a fold is seen', () => {
    const one = (by: number): PullValues => ({ pulls: [40, 0, 40 + by, 0, 0], holds: [], reachPct: 30 });
    // A single bump is steepest at s = 1/4: 135/64 a reach.
    const edge = 30 / (135 / 64);
    expect(folds(one(0.9 * edge))).toBe(false);
    expect(folds(one(1.1 * edge))).toBe(true);
    expect(leastArea(fieldOf(one(0.5 * edge)))).toBeCloseTo(0.5, 1);
    for (let seed = 1; seed < 12; seed++) {
      const { values } = drawn(seed);
      const f = fieldOf(values);
      let least = 1;
      const e = 1e-5;
      for (let x = -0.5; x <= 0.5; x += 0.01)
        for (let y = -0.5; y <= 0.5; y += 0.01) {
          const at = (a: number, b: number): [number, number] => {
            const [u, v] = shiftAt(f, a, b);
            return [a + u, b + v];
          };
          const [p, q, s] = [at(x, y), at(x + e, y), at(x, y + e)];
          least = Math.min(least, ((q[0] - p[0]) * (s[1] - p[1]) - (q[1] - p[1]) * (s[0] - p[0])) / (e * e));
        }
      expect(Math.abs(leastArea(f) - least), `seed ${seed}`).toBeLessThan(0.06);
    }
  });
  it('a pull is held back where it would fold, on the way to where the hand is', () => {
    const values: PullValues = { pulls: [40, 0, 40, 0, 0], holds: [], reachPct: 30 };
    const [near, free] = pulledTo(values, 0, [45, 5]);
    expect(free).toBe(false);
    expect(pullsOf(near.pulls)[0]!.to).toEqual([45, 5]);
    const [far, held] = pulledTo(values, 0, [40, 60]);
    expect(held).toBe(true);
    const [x, y] = pullsOf(far.pulls)[0]!.to;
    expect(x).toBeCloseTo(40, 2);
    expect(y).toBeGreaterThan(11);
    expect(y).toBeLessThan(14.3);
    expect(folds(far)).toBe(false);
    // With twice the reach it gets twice as far.
    const [wide] = pulledTo({ ...values, reachPct: 60 }, 0, [40, 60]);
    expect(pullsOf(wide.pulls)[0]!.to[1]).toBeGreaterThan(1.8 * y);
  });
  it('two places on one another are one; the first counts', () => {
    const twice: PullValues = { pulls: [20, 20, 24, 20, 0, 20.1, 20, 10, 10, 0], holds: [20, 20.2], reachPct: 40 };
    const [c] = through(twice, [ycbcrToRgb(0.5, 0.1, 0.1)]);
    const [, cb, cr] = rgbToYcbcr(...(c as [number, number, number]));
    expect(200 * cb).toBeCloseTo(24, 3);
    expect(200 * cr).toBeCloseTo(20, 3);
  });
});
