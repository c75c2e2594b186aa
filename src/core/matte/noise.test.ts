/** Noise of colour, against what was put in; the guard that follows from it. */
import { describe, expect, it } from 'vitest';
import { chromaPct, ycbcrToRgb } from '../color/ycbcr';
import { rng } from '../math/rng';
import { measure } from './keySpace';
import { chromaNoisePct, guardFor, guardIn } from './noise';

const [W, H] = [240, 160];
/** A picture with known noise of Cb and Cr (standard deviation in % of chroma) over what `drawn` says, luma apart. */
function picture(sigmaPct: number, drawn: (x: number, y: number) => [number, number], codes = 0) {
  const random = rng(7);
  const normal = (): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const planes = [0, 1, 2].map(() => new Float32Array(W * H)) as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < W * H; i++) {
    const [cb, cr] = drawn(i % W, Math.floor(i / W));
    const s = sigmaPct / 200;
    const rgb = ycbcrToRgb(0.5 + 0.05 * normal(), cb + s * normal(), cr + s * normal());
    rgb.forEach((v, c) => (planes[c]![i] = codes ? Math.round(v * codes) / codes : v));
  }
  return chromaNoisePct(...planes, W);
}
const shades = (x: number, y: number): [number, number] => [0.1 * Math.sin(x / 40), 0.1 * Math.cos(y / 30)];
/** Tiles of changing colours with hard borders. */
const tiles = (x: number, y: number): [number, number] =>
  ((x >> 4) + (y >> 4)) & 1 ? [0.2 - x / 2000, -0.1] : [-0.1, 0.15 + y / 3000];

describe('noise of colour', () => {
  it.each([0.5, 2, 6])('of %f %% is found over shading, over hard borders, and in 8 bits', (sigma) => {
    for (const drawn of [shades, tiles]) {
      expect(picture(sigma, drawn) / sigma).toBeGreaterThan(0.9);
      // One column in eight stands at a border of the tiles: a sixth too much.
      expect(picture(sigma, drawn) / sigma).toBeLessThan(1.2);
    }
    expect(picture(sigma, shades, 255) / sigma).toBeGreaterThan(0.85);
    expect(picture(sigma, shades, 255) / sigma).toBeLessThan(1.3);
  });
  it('is nothing where there is none, and where there is nothing to compare', () => {
    expect(picture(0, shades)).toBeLessThan(0.05);
    const one = Float32Array.of(0.1, 0.9);
    expect(chromaNoisePct(one, one, one, 1)).toBe(0);
    expect(chromaNoisePct(one, one, one, 2)).toBe(0);
    const nan = new Float32Array(300).fill(NaN);
    expect(chromaNoisePct(nan, nan, nan, 30)).toBe(0);
  });
});
describe('the neutral guard', () => {
  /** Samples of such chroma in %, all of one hue. */
  const of = (...pct: number[]): number[] => pct.flatMap((c) => [c / 200, 0, 0.5]);
  it('grows with the noise from the usual one on, and never shuts out what was sampled', () => {
    const strong = of(...Array.from({ length: 40 }, () => 40));
    expect(guardFor(0, strong)).toBe(2);
    // Hue scatters by 15 degrees where the noise is 0.262 of the chroma.
    expect(guardFor(1, strong)).toBeCloseTo(1 / 0.262, 1);
    expect(guardFor(2, strong)).toBeCloseTo(2 / 0.262, 1);
    expect(guardFor(50, strong)).toBe(10);
    expect(guardFor(50, of(...Array.from({ length: 40 }, () => 9)))).toBe(6);
    expect(guardFor(50, of(...Array.from({ length: 40 }, () => 1)))).toBe(2);
    expect(guardFor(3, [])).toBe(2);
  });
});

describe('a guard told in another space', () => {
  it('means about the same: what it let through half it still lets through half', () => {
    for (const [luma, deg] of [
      [0.3, 20],
      [0.5, 123],
      [0.7, 250],
    ] as const) {
      const pct = 4;
      const own = guardIn(pct, 'scope', 'oklch', luma);
      // A colour whose chroma is the guard's in the scopes' terms, measured in OKLCh.
      const a = (deg * Math.PI) / 180;
      const rgb = ycbcrToRgb(luma, (pct / 200) * Math.cos(a), (pct / 200) * Math.sin(a));
      const [, u, v] = measure('oklch')(rgb[0], rgb[1], rgb[2]);
      expect(chromaPct(u, v) / own, `${luma}, ${deg}`).toBeGreaterThan(0.6);
      expect(chromaPct(u, v) / own, `${luma}, ${deg}`).toBeLessThan(1.6);
      expect(Math.abs(guardIn(own, 'oklch', 'scope', luma) - pct)).toBeLessThan(0.11);
    }
    expect(guardIn(5, 'scope', 'scope', 0.5)).toBe(5);
    expect(guardIn(20, 'oklch', 'scope', 0.02)).toBeLessThanOrEqual(20);
  });
});
