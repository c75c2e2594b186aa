/** Fits that are no richer than what points bear out. */
import { describe, expect, it } from 'vitest';
import { mapPoint } from '../graph/track';
import type { Homography } from '../graph/track';
import { rng } from '../math/rng';
import { fitAll, fitCalm, fitFirm } from './fit';
import type { MotionKind, Pair } from './fit';

const gauss = (r: () => number): number => (r() + r() + r() + r() - 2) * 1.7;
/** Points over a hundred pixels, moved and found with so much error, in pixels. */
function pairs(h: Homography, error: number, seed: number): Pair[] {
  const r = rng(seed);
  return Array.from({ length: 60 }, () => {
    const from = [40 + 100 * r(), 30 + 100 * r()] as const;
    const [u, v] = mapPoint(h, ...from);
    return { from, to: [u + error * gauss(r), v + error * gauss(r)] };
  });
}
/** The worst corner of the square about them. */
const off = (found: Homography, h: Homography): number =>
  Math.max(
    ...(
      [
        [40, 30],
        [140, 30],
        [140, 130],
        [40, 130],
      ] as const
    ).map(([x, y]) => {
      const [a, b] = [mapPoint(found, x, y), mapPoint(h, x, y)];
      return Math.hypot(a[0] - b[0], a[1] - b[1]);
    }),
  );
const SLIDE: Homography = [1, 0, 3.3, 0, 1, -1.2, 0, 0, 1];
const TILT: Homography = [1.01, 0.02, 3, -0.01, 0.99, 1, 1e-4, -8e-5, 1];
const worst = (fit: (p: Pair[]) => Homography | null, h: Homography, error: number): number[] =>
  Array.from({ length: 20 }, (_, k) => off(fit(pairs(h, error, 100 + k))!, h)).sort((a, b) => a - b);

describe('fitCalm', () => {
  it.each(['similarity', 'perspective'] as const)(
    'what only slides does not tremble for being fitted by %s',
    (kind) => {
      const [free, calm, slide] = [
        worst((p) => fitAll(p, kind), SLIDE, 0.3),
        worst((p) => fitCalm(p, kind), SLIDE, 0.3),
        worst((p) => fitAll(p, 'position'), SLIDE, 0.3),
      ];
      expect(calm[10]!).toBeLessThan(0.75 * free[10]!);
      // Nearly always it is the slide itself.
      expect(calm[10]!).toBeCloseTo(slide[10]!, 6);
    },
  );
  it('what tilts is fitted as freely as before', () => {
    const [free, calm] = [
      worst((p) => fitAll(p, 'perspective'), TILT, 0.03),
      worst((p) => fitCalm(p, 'perspective'), TILT, 0.03),
    ];
    expect(free[10]!).toBeGreaterThan(0.005);
    expect(calm[10]!).toBeLessThan(1.1 * free[10]!);
    expect(calm[19]!).toBeLessThan(1.2 * free[19]!);
  });
  it('what bulges is not taken for tilted: points that lie together are off together', () => {
    const bulges = (seed: number): Pair[] => {
      const r = rng(seed);
      const [a, b, c, d] = [7 * r(), 7 * r(), 1 + r(), 1 + r()];
      return pairs(SLIDE, 0.1, seed).map(({ from: [x, y], to: [u, v] }) => ({
        from: [x, y],
        to: [u + 0.2 * Math.sin((c * x) / 18 + a), v + 0.2 * Math.sin((d * y) / 18 + b)],
      }));
    };
    const found = (fit: (p: Pair[]) => Homography | null): number[] =>
      Array.from({ length: 20 }, (_, k) => off(fit(bulges(300 + k))!, SLIDE)).sort((a, b) => a - b);
    const [free, calm, turned] = [
      found((p) => fitAll(p, 'perspective')),
      found((p) => fitCalm(p, 'perspective')),
      found((p) => fitCalm(p, 'similarity')),
    ];
    expect(free[10]!).toBeGreaterThan(0.15);
    expect(calm[15]!).toBeLessThan(0.5 * free[15]!);
    expect(calm[15]!).toBeLessThan(1.1 * turned[15]!);
    // Where they tilt by more than that it is seen all the same.
    const steep: Homography = [1.01, 0.02, 3, -0.01, 0.99, 1, 6e-4, -5e-4, 1];
    expect(worst((p) => fitCalm(p, 'perspective'), steep, 0.15)[15]!).toBeLessThan(
      1.25 * worst((p) => fitAll(p, 'perspective'), steep, 0.15)[15]!,
    );
  });
  it.each([['position'], ['similarity'], ['perspective']] as [MotionKind][])(
    'exact pairs are met exactly by %s',
    (kind) => {
      const h = fitAll(pairs(TILT, 0, 1), kind)!;
      const exact = pairs(h, 0, 2);
      fitCalm(exact, kind)!.forEach((v, i) => expect(v).toBeCloseTo(h[i]!, 8));
    },
  );
  it('too few pairs determine nothing', () => {
    expect(fitCalm([], 'position')).toBeNull();
    expect(fitCalm(pairs(SLIDE, 0, 1).slice(0, 3), 'perspective')).toBeNull();
  });
});

it('fitFirm: what is off by as much as it looks for says nothing, what is off by half says little', () => {
  const exact = pairs(SLIDE, 0, 3);
  const moved = (by: number): Pair[] => exact.map((p, i) => (i % 5 === 0 ? { ...p, to: [p.to[0] + by, p.to[1]] } : p));
  // A fifth of them drags a mean by a fifth.
  expect(off(fitAll(moved(1.5), 'position')!, SLIDE)).toBeCloseTo(0.3, 6);
  expect(off(fitFirm(moved(1.5), 'position', 1)!, SLIDE)).toBeLessThan(1e-6);
  expect(off(fitFirm(moved(0.9), 'position', 1)!, SLIDE)).toBeLessThan(0.02);
  expect(fitFirm([], 'position', 1)).toBeNull();
});
