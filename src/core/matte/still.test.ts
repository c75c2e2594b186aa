import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { flickerOf, lightRatio, noiseBetween } from './still';
import type { MatteFrame, ThreePlanes } from './still';

const [w, h] = [120, 90];
const plane = (f: (i: number) => number): Float32Array => Float32Array.from({ length: w * h }, (_, i) => f(i));
const textured = (seed: number, gain: readonly number[], noise: number, shift = 0): ThreePlanes => {
  const r = rng(seed);
  const t = rng(5);
  const texture = Array.from({ length: 4 * w * h }, () => t());
  return [0, 1, 2].map((c) =>
    plane((i) => gain[c]! * (0.3 + 0.3 * texture[i + shift]!) + noise * (r() + r() + r() - 1.5) * 2),
  ) as unknown as ThreePlanes;
};

describe('what stands still', () => {
  it('finds the light between two frames, channel by channel, within half a percent', () => {
    const [a, b] = [textured(1, [1, 1, 1], 0.01), textured(2, [1.2, 0.9, 0.8], 0.01)];
    [1.2, 0.9, 0.8].forEach((g, c) => expect(Math.abs(lightRatio(a[c]!, b[c]!, w, h) * g - 1)).toBeLessThan(0.005));
    expect(
      lightRatio(
        plane(() => 0),
        b[0],
        w,
        h,
      ),
    ).toBe(1);
  });

  it('measures the noise of both frames together, and takes motion for none of it', () => {
    // Three uniform numbers, doubled: a standard deviation of 1; of two frames the difference has twice the square.
    for (const noise of [0.005, 0.01]) {
      const found = noiseBetween(textured(1, [1, 1, 1], noise), textured(2, [1, 1, 1], noise), [1, 1, 1], w, h);
      expect(Math.sqrt(found / 2) / noise).toBeGreaterThan(0.93);
      expect(Math.sqrt(found / 2) / noise).toBeLessThan(1.07);
    }
    const moved = noiseBetween(textured(1, [1, 1, 1], 0), textured(1, [1, 1, 1], 0, 3), [1, 1, 1], w, h);
    expect(moved).toBeLessThanOrEqual(0.03 * 0.03);
  });

  it('counts the change of a matte only where the picture holds still', () => {
    const at = (picture: ThreePlanes, matte: (i: number) => number): MatteFrame => ({ picture, matte: plane(matte) });
    const still = textured(1, [1, 1, 1], 0.004);
    const again = textured(2, [1.1, 1.05, 1], 0.004);
    const half = (v: number) => (i: number) => (i % w < 60 ? v : 0);
    const f = flickerOf(at(still, half(0.8)), at(again, half(0.9)), w, h)!;
    expect(f.change).toBeCloseTo(0.1, 3);
    expect(f.still).toBeGreaterThan(0.95);
    const g = flickerOf(at(still, half(0.8)), at(textured(1, [1, 1, 1], 0.004, 3), half(0.9)), w, h)!;
    expect(g.still).toBeLessThan(0.1);
    expect(
      flickerOf(
        at(still, () => 0),
        at(again, () => 0),
        w,
        h,
      ),
    ).toBeNull();
  });

  it('takes an edge that creeps by a third of a pixel for motion, and the flat beside it for still', () => {
    // 30 % of contrast; the matte follows the thing, and breathes by a twentieth all over it.
    const at = (edge: number, breath: number, seed: number): MatteFrame => {
      const r = rng(seed);
      const share = (i: number): number => Math.min(1, Math.max(0, edge - (i % w)));
      const picture = [0, 1, 2].map(() => plane((i) => 0.3 + 0.3 * share(i) + 0.002 * (r() - 0.5)));
      return { picture: picture as unknown as ThreePlanes, matte: plane((i) => breath * share(i)) };
    };
    const f = flickerOf(at(60, 0.9, 1), at(60 + 1 / 3, 0.95, 2), w, h)!;
    // One column of 61 has its matte changed by a third: counted, the mean would be 0.055.
    expect(f.change).toBeCloseTo(0.05, 4);
    expect(f.still).toBeGreaterThan(0.9);
    expect(f.still).toBeLessThan(0.96);
  });
});
