import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { overFrames } from './quietTime';
import type { Rgb } from './quietTime';

const [W, H] = [128, 96];
const N = W * H;
/** A textured square that moves over a textured ground, with another noise in each frame; `truth` without. */
function frame(f: number, sigma: number): Rgb {
  const r = rng(50 + f);
  const gauss = (): number => Math.sqrt(-2 * Math.log(1 - r())) * Math.cos(2 * Math.PI * r());
  const left = 30 + 5 * f;
  const plane = (c: number): Float32Array =>
    Float32Array.from({ length: N }, (_, i) => {
      const [x, y] = [i % W, Math.floor(i / W)];
      const inside = x >= left && x < left + 40 && y >= 26 && y < 70;
      const v = inside
        ? [0.6, 0.4, 0.3][c]! + 0.08 * Math.sin((x - left) / 3) * Math.cos(y / 4)
        : [0.3, 0.35, 0.4][c]! + 0.06 * Math.sin(x / 5) * Math.sin(y / 6);
      return v + sigma * gauss();
    });
  return { r: plane(0), g: plane(1), b: plane(2) };
}
const empty = (): Rgb => ({ r: new Float32Array(N), g: new Float32Array(N), b: new Float32Array(N) });
const apart = (a: Rgb, b: Rgb, where: (i: number) => boolean): number => {
  let [sum, n] = [0, 0];
  for (let i = 0; i < N; i++)
    if (where(i)) {
      sum += (a.r[i]! - b.r[i]!) ** 2 + (a.g[i]! - b.g[i]!) ** 2 + (a.b[i]! - b.b[i]!) ** 2;
      n += 3;
    }
  return Math.sqrt(sum / n);
};
const SIGMA = 0.03;
const inSquare = (i: number): boolean => i % W >= 50 && i % W < 70 && Math.floor(i / W) > 30 && Math.floor(i / W) < 66;
const still = (i: number): boolean => i % W > 100 || i % W < 20;

describe('a quieter picture over frames', () => {
  const [truth, now] = [frame(2, 0), frame(2, SIGMA)];
  const others = [1, 3].map((f) => frame(f, SIGMA));
  const out = empty();
  overFrames(now, others, W, H, out);

  it('takes noise out of what stands still and of what moves, by about the root of the frames', () => {
    for (const where of [still, inSquare]) {
      expect(apart(now, truth, where)).toBeCloseTo(SIGMA, 2);
      expect(apart(out, truth, where)).toBeLessThan(0.66 * SIGMA);
    }
  });
  it('nothing trails: about the edges of what moves it is no worse than the frame itself', () => {
    const left = 40;
    const edge = (i: number): boolean => {
      const [x, y] = [i % W, Math.floor(i / W)];
      return y > 26 && y < 70 && (Math.abs(x - left) < 5 || Math.abs(x - left - 40) < 5);
    };
    expect(apart(out, truth, edge)).toBeLessThan(1.02 * apart(now, truth, edge));
    // A cut: frames that show something else do not count.
    const wild = empty();
    const turned = (p: Float32Array): Float32Array => p.map((v) => 0.9 - v);
    overFrames(now, [{ r: turned(now.r), g: turned(now.g), b: turned(now.b) }], W, H, wild);
    expect(apart(wild, now, (i) => i >= 0)).toBeLessThan(0.005);
  });
  it('without other frames, and where nothing is a number it gives the frame itself', () => {
    const same = empty();
    overFrames(now, [], W, H, same);
    expect(same).toEqual(now);
    const odd = { ...now, r: now.r.slice() };
    odd.r[500] = NaN;
    odd.r[501] = Infinity;
    overFrames(odd, others, W, H, same);
    expect([same.r[500], same.r[501]]).toEqual([NaN, Infinity]);
    expect(same.r.filter((v) => !Number.isFinite(v)).length).toBe(2);
  });
});
