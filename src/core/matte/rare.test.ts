/** Blobs of colours that are rare in a thing are another thing; thin ones, painted ones and shade are not. */
import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { likeness } from './likeness';
import { withoutRare } from './rare';
import { spreadToFit } from './reaches';
import { SPREAD } from './spread';
import type { SmallPicture } from './spread';

const [W, H] = [120, 90];
type Colour = readonly [L: number, a: number, b: number];
const TILE: Colour = [0.55, -0.02, -0.07];
const GREY: Colour = [0.42, 0.002, 0.004];
const joint = (x: number, y: number): boolean => x % 14 < 1 || y % 14 < 1;
const disc = (x: number, y: number): boolean => Math.hypot(x - 70, y - 45) < 18;
/** Tiles with joints of the thing's colour; where `there` says so, another colour lies over them. */
function wall(there: (x: number, y: number) => boolean, other: Colour): SmallPicture {
  const r = rng(3);
  const p = { w: W, h: H, L: new Float32Array(W * H), a: new Float32Array(W * H), b: new Float32Array(W * H) };
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const c = there(x, y) ? other : joint(x, y) ? GREY : TILE;
    // What lies over them is lit from above.
    const lit = there(x, y) ? 1 - 0.014 * (y - 30) : 1;
    p.L[i] = lit * c[0] + 0.01 * (r() - 0.5);
    p.a[i] = lit * c[1] + 0.003 * (r() - 0.5);
    p.b[i] = lit * c[2] + 0.003 * (r() - 0.5);
  }
  return p;
}
/** What is left of a mask over everything, with a stroke at a place. */
function left(p: SmallPicture, at: readonly [number, number]): Uint8Array {
  const marks = new Uint8Array(W * H);
  for (let k = -4; k <= 4; k++) marks[at[1] * W + at[0] + k] = 1;
  const all = new Uint8Array(W * H).fill(1);
  const learnt = likeness(p, all, marks, new Uint8Array(W * H), new Float32Array(W * H).fill(1))!;
  return withoutRare(p, all, marks, learnt);
}
/** Of the places that `of` says, the share that is in. */
function share(m: Uint8Array, of: (x: number, y: number) => boolean): number {
  let [all, inside] = [0, 0];
  for (let i = 0; i < m.length; i++) {
    if (!of(i % W, Math.floor(i / W))) continue;
    all++;
    inside += m[i]!;
  }
  return inside / all;
}

describe('withoutRare', () => {
  const helmet = wall(disc, GREY);
  const [onTile, onHelmet] = [
    [30, 30],
    [70, 45],
  ] as const;

  it('takes out a blob of the colour of joints, and leaves tiles and joints', () => {
    const m = left(helmet, onTile);
    // But for where its grey is just that of the joints.
    expect(share(m, disc)).toBeLessThan(0.2);
    expect(share(m, (x, y) => !disc(x, y))).toBeGreaterThan(0.99);
    expect(share(m, (x, y) => joint(x, y) && Math.hypot(x - 70, y - 45) > 24)).toBe(1);
  });
  it('leaves a blob that was painted', () => {
    expect(share(left(helmet, onHelmet), disc)).toBe(1);
  });
  it('leaves a shade on the thing, which has its hue and chroma', () => {
    const shaded: Colour = [0.33, -0.012, -0.042];
    expect(share(left(wall(disc, shaded), onTile), disc)).toBe(1);
  });
  it('leaves a band across the thing, which is thin', () => {
    const band = (_: number, y: number): boolean => y >= 40 && y < 48;
    expect(share(left(wall(band, GREY), onTile), band)).toBe(1);
  });
  it('leaves a blob that no edge parts from the rest', () => {
    // Towards its rim it becomes the wall, step by step.
    const p = wall(() => false, TILE);
    for (let i = 0; i < W * H; i++) {
      const t = Math.min(1, Math.max(0, 1.5 - Math.hypot((i % W) - 70, Math.floor(i / W) - 45) / 26));
      p.L[i]! += t * (GREY[0] - p.L[i]!);
      p.a[i]! += t * (GREY[1] - p.a[i]!);
      p.b[i]! += t * (GREY[2] - p.b[i]!);
    }
    expect(share(left(p, onTile), disc)).toBe(1);
  });
  it('goes from a spread in a shape with pieces apart, but not as older projects have it', () => {
    const shape = new Uint8Array(W * H).fill(1);
    const marks = new Uint8Array(W * H);
    // Over a tile, and along a joint: its grey is meant.
    for (let x = 6; x < 50; x++) marks[28 * W + x] = marks[34 * W + x] = 1;
    const of = (byFill: boolean): number =>
      share(spreadToFit(helmet, marks, shape, { ...SPREAD, apart: true, byFill }).mask, disc);
    expect(of(true)).toBeGreaterThan(0.6);
    expect(of(false)).toBeLessThan(0.2);
  });
});
