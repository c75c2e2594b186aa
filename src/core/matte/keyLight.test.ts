import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { AS_LIT, LIGHT_CELLS, lightGains, lightOf } from './keyLight';
import type { Rgb } from './quietTime';

const [W, H] = [240, 160];
const plain = new Map<number, Float32Array>();
/** Each pixel as bright as the blob that is nearest. */
function blobsOf(seed: number): Float32Array {
  const r = rng(seed);
  const blobs = Array.from({ length: 40 }, () => [r() * W, r() * H, 0.2 + 0.5 * r()] as const);
  const made =
    plain.get(seed) ??
    Float32Array.from({ length: W * H }, (_, i) => {
      const far = ([x, y]: readonly number[]): number => Math.hypot(x! - (i % W), y! - Math.floor(i / W));
      return blobs.reduce((a, b) => (far(b) < far(a) ? b : a))[2];
    });
  plain.set(seed, made);
  return made;
}
/** A picture of patches, lit, with something that moved over some of it. */
function picture(seed: number, lit: readonly number[] = [1, 1, 1], at: number | null = null, noise = 0): Rgb {
  const [base, grain] = [blobsOf(seed), rng(seed + 99)];
  const plane = (c: number): Float32Array =>
    Float32Array.from({ length: W * H }, (_, i) => {
      const x = i % W;
      const over = at !== null && x >= at && x < at + 60 ? 0.05 : base[i]! * [1, 0.8, 0.7][c]!;
      return lit[c]! * over + noise * (grain() - 0.5);
    });
  return { r: plane(0), g: plane(1), b: plane(2) };
}
const made = lightOf(picture(1), W, H);

describe('the light that a key was made in', () => {
  it('of the same frame, and of one with other noise: nothing is multiplied', () => {
    expect(made).toHaveLength(LIGHT_CELLS);
    expect(lightGains(made, made)).toEqual({ gains: [1, 1, 1], told: 1 });
    for (const g of lightGains(made, lightOf(picture(1, [1, 1, 1], null, 0.05), W, H)).gains)
      expect(Math.abs(g - 1)).toBeLessThan(0.002);
  });
  it('what is lit otherwise is brought back by each channel, whatever moves over a quarter of it', () => {
    for (const at of [null, 100]) {
      const { gains, told } = lightGains(made, lightOf(picture(1, [1.1, 1, 0.85], at), W, H));
      expect(told).toBe(1);
      [1 / 1.1, 1, 1 / 0.85].forEach((want, c) => expect(Math.abs(gains[c]! - want), `${at}`).toBeLessThan(0.003));
    }
  });
  it('smaller copies of a frame are told alike', () => {
    const [big, half] = [
      picture(1, [1.2, 1.1, 1]),
      (p: Float32Array) =>
        Float32Array.from({ length: (W * H) / 4 }, (_, i) => {
          const k = 2 * Math.floor(i / (W / 2)) * W + 2 * (i % (W / 2));
          return (p[k]! + p[k + 1]! + p[k + W]! + p[k + W + 1]!) / 4;
        }),
    ];
    const small = lightOf({ r: half(big.r), g: half(big.g), b: half(big.b) }, W / 2, H / 2);
    const [a, b] = [lightGains(made, lightOf(big, W, H)), lightGains(made, small)];
    a.gains.forEach((g, c) => expect(Math.abs(g - b.gains[c]!)).toBeLessThan(5e-4));
    expect(a.gains[0]).toBeLessThan(0.85);
  });
  it('another picture, one lit in part, and one nearly black: nothing is told, and nothing done', () => {
    expect(lightGains(made, lightOf(picture(7), W, H))).toBe(AS_LIT);
    const part = picture(1);
    for (const p of [part.r, part.g, part.b]) p.forEach((v, i) => i % W > W / 2 && (p[i] = 0.6 * v));
    expect(lightGains(made, lightOf(part, W, H))).toBe(AS_LIT);
    expect(lightGains(made, lightOf(picture(1, [0.02, 0.02, 0.02]), W, H))).toBe(AS_LIT);
    expect(lightGains(made, lightOf(picture(1, [0.5, 0.5, 0.5]), W, H))).toBe(AS_LIT);
    expect(lightGains([], made)).toBe(AS_LIT);
  });
  it('towards what cannot be told it counts less and less, without a jump', () => {
    let last = lightGains(made, made).gains[0];
    let least = Infinity;
    for (let k = 1; k > 0.5; k -= 0.005) {
      const [g] = lightGains(made, lightOf(picture(1, [k, k, k]), W, H)).gains;
      expect(Math.abs(g - last)).toBeLessThan(0.05);
      least = Math.min(least, g - 1);
      last = g;
    }
    expect(last).toBe(1);
    expect(least).toBeGreaterThanOrEqual(0);
  });
  it('what is no number is left out', () => {
    const p = picture(1);
    p.g[5] = NaN;
    p.r[900] = Infinity;
    expect(lightGains(made, lightOf(p, W, H)).gains.every((g) => Math.abs(g - 1) < 0.01)).toBe(true);
    const none = { r: p.r.map(() => NaN), g: p.g, b: p.b };
    expect(lightGains(made, lightOf(none, W, H))).toBe(AS_LIT);
  });
});
