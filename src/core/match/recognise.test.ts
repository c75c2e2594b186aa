/** Recognising the chart from colours alone: lamps, cameras and slopes pass, everything else is told apart. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chart24 } from '../color/chart';
import { rng } from '../math/rng';
import { solveLinear } from '../math/linear';
import type { Corner } from '../math/polygon';
import { MISFIT_MOST, orient, ORIENTATIONS, recognise, stripFault } from './recognise';

type Triple = [number, number, number];
const at = Array.from({ length: 24 }, (_, i): Corner => [((i % 6) + 0.5) / 6, (Math.floor(i / 6) + 0.5) / 4]);
const reference = chart24.map((c) => c.linear);
/** Colours that a grid would read of a chart that lies under it as `where` says. */
function read(light: (v: Triple, u: number, w: number) => Triple, where: (u: number, w: number) => [number, number]) {
  return at.map(([u, w]) => {
    // The middle half of a patch, five by five.
    const sum: Triple = [0, 0, 0];
    for (let i = -2; i <= 2; i++)
      for (let k = -2; k <= 2; k++) {
        const [x, y] = where(u + i / 60, w + k / 40);
        const inside = x >= 0 && y >= 0 && x < 1 && y < 1;
        const c = inside ? reference[Math.floor(x * 6) + 6 * Math.floor(y * 4)]! : [0.03, 0.03, 0.03];
        light([...c] as Triple, u, w).forEach((v, ch) => (sum[ch]! += v / 25));
      }
    return sum;
  });
}
const lamps: [string, (v: Triple) => Triple][] = [
  ['plain', (v) => v],
  ['warm and dark', ([r, g, b]) => [0.75 * r, 0.5 * g, 0.25 * b]],
  ['tungsten', ([r, g, b]) => [2 * r, g, 0.25 * b]],
  ['green tubes', ([r, g, b]) => [0.8 * r, 1.1 * g, 0.7 * b]],
  [
    'another camera',
    ([r, g, b]) => [0.7 * r + 0.2 * g + 0.1 * b, 0.15 * r + 0.75 * g + 0.1 * b, 0.05 * r + 0.2 * g + 0.75 * b],
  ],
  ['a contrast curve', (v) => v.map((x) => Math.sign(x) * Math.abs(x) ** 1.4) as Triple],
];

describe('the chart', () => {
  it.each(lamps)('is known under %s, its slope of light to a few percent', (_, lamp) => {
    for (const slope of [0, 0.3]) {
      const r = rng(3);
      const light = (v: Triple, u: number): Triple =>
        lamp(v.map((x) => x * (1 + slope * (2 * u - 1)) * (1 + 0.02 * (r() - 0.5))) as Triple);
      const got = recognise(
        read(light, (u, w) => [u, w]),
        reference,
        at,
      );
      expect(got.misfit).toBeLessThan(MISFIT_MOST * 0.75);
      const true0 = (1 + slope) / (1 - slope) - 1;
      // A curve bends the slope with it.
      expect(Math.abs(got.across - true0)).toBeLessThan(_ === 'a contrast curve' ? 0.5 : 0.08);
      expect(Math.abs(got.down)).toBeLessThan(0.12);
    }
  });
  it.each<[string, (u: number, w: number) => [number, number]]>([
    ['half a patch to the side', (u, w) => [u + 1 / 12, w]],
    ['half a patch down', (u, w) => [u, w + 1 / 8]],
    ['a column off', (u, w) => [u + 1 / 6, w]],
    ['a row off', (u, w) => [u, w + 1 / 4]],
    ['upside down', (u, w) => [1 - u, 1 - w]],
    ['mirrored', (u, w) => [1 - u, w]],
  ])('%s is not the chart, under any lamp', (_, where) => {
    for (const [name, lamp] of lamps)
      expect(recognise(read(lamp, where), reference, at).misfit, name).toBeGreaterThan(3 * MISFIT_MOST);
  });
  it('no wall, slope or random colours are the chart', () => {
    const flat = at.map((): Triple => [0.4, 0.35, 0.3]);
    const slope = at.map(([u, w]): Triple => [0.2 + 0.5 * u, 0.2 + 0.4 * u, 0.3 + 0.2 * w]);
    expect(recognise(flat, reference, at).misfit).toBeGreaterThan(3 * MISFIT_MOST);
    expect(recognise(slope, reference, at).misfit).toBeGreaterThan(3 * MISFIT_MOST);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const r = rng(seed);
        const any = at.map((): Triple => [r(), r(), r()]);
        expect(recognise(any, reference, at).misfit).toBeGreaterThan(2 * MISFIT_MOST);
      }),
      { numRuns: 20, seed: 6 },
    );
  });
  it('clipped patches are left out, and too few of the rest say nothing', () => {
    const colours = read(
      (v) => v,
      (u, w) => [u, w],
    );
    const damaged = colours.map((v, i): Triple => (i % 6 === 0 ? [1, 1, 1] : v));
    const use = at.map((_, i) => i % 6 !== 0);
    expect(recognise(damaged, reference, at, use).misfit).toBeLessThan(1);
    expect(recognise(damaged, reference, at).misfit).toBeGreaterThan(MISFIT_MOST);
    expect(
      recognise(
        colours,
        reference,
        at,
        at.map((_, i) => i < 17),
      ).misfit,
    ).toBe(Infinity);
  });
  it('the eight orientations are eight, and each leads back', () => {
    const q = [
      [0, 0],
      [6, 0],
      [6, 4],
      [0, 4],
    ] as unknown as Parameters<typeof orient>[0];
    const all = ORIENTATIONS.map((_, k) => JSON.stringify(orient(q, k)));
    expect(new Set(all).size).toBe(8);
    for (let k = 0; k < 8; k++)
      expect(ORIENTATIONS.some((_, j) => JSON.stringify(orient(orient(q, k), j)) === JSON.stringify(q))).toBe(true);
  });
  it('a strip rises or falls all the way', () => {
    expect(stripFault([0.1, 0.3, 0.5, 0.7])).toBeNull();
    expect(stripFault([0.9, 0.6, 0.4, 0.1])).toBeNull();
    for (const bad of [
      [0.4, 0.4, 0.4],
      [0.1, 0.5, 0.3, 0.8],
      [0.5, 0.501, 0.502],
      [0.1, 0.1, 0.6],
    ])
      expect(stripFault(bad)).toMatch(/no grey strip/);
  });
});

describe('small linear systems', () => {
  it('are solved to 1e-9, and singular ones are said to be', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 5 }), (seed, n) => {
        const r = rng(seed);
        const a = Array.from({ length: n * n }, (_, i) => r() - 0.5 + (i % (n + 1) === 0 ? 2 : 0));
        const x = Array.from({ length: n }, () => 10 * (r() - 0.5));
        const t = x.map((_, i) => x.reduce((s, v, k) => s + a[i * n + k]! * v, 0));
        solveLinear(a, t)!.forEach((v, i) => expect(Math.abs(v - x[i]!)).toBeLessThan(1e-9));
      }),
      { numRuns: 100, seed: 7 },
    );
    expect(solveLinear([1, 2, 2, 4], [1, 2])).toBeNull();
    expect(solveLinear([0, 1, 1, 0], [3, 5])).toEqual([5, 3]);
  });
});
