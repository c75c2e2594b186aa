import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { alike } from './sizes';
import type { SmallPicture } from './spread';
import { seen, worths } from './worth';

const [W, H] = [96, 80];
const within = (test: (x: number, y: number) => boolean): Uint8Array =>
  Uint8Array.from({ length: W * H }, (_, i) => (test(i % W, Math.floor(i / W)) ? 1 : 0));
const disc = (cx: number, cy: number, rx: number, ry = rx): Uint8Array =>
  within((x, y) => ((x - cx) / rx) ** 2 + ((y - cy) / ry) ** 2 < 1);
/** A face of two sides in different light, hair about its upper half, a wall of no colour; OKLab with some noise. */
function face(): { p: SmallPicture; skin: Uint8Array; hair: Uint8Array } {
  const r = rng(5);
  const n = W * H;
  const p: SmallPicture = { w: W, h: H, L: new Float32Array(n), a: new Float32Array(n), b: new Float32Array(n) };
  const skin = disc(48, 44, 17, 24);
  const hair = disc(48, 36, 24, 28).map((v, i) => (v === 1 && skin[i] === 0 && Math.floor(i / W) < 40 ? 1 : 0));
  for (let i = 0; i < n; i++) {
    const light = 1 - 0.45 * Math.min(1, Math.max(0, ((i % W) - 40) / 20));
    const c = skin[i] ? [0.72 * light, 0.05 * light, 0.055 * light] : hair[i] ? [0.12, 0.004, 0.001] : [0.5, 0, 0.005];
    [p.L[i], p.a[i], p.b[i]] = c.map((v) => v + 0.006 * (r() - 0.5)) as [number, number, number];
  }
  return { p, skin, hair };
}
const { p, skin, hair } = face();
const both = (a: Uint8Array, b: Uint8Array): Uint8Array => a.map((v, i) => v | b[i]!);
const half = skin.map((v, i) => (i % W < 48 ? v : 0));

describe('what is seen of a guess', () => {
  it('an ellipse is not torn, as long as its axes say, upright where it is', () => {
    const { torn, long, tall, rim } = seen(p, disc(48, 40, 15, 30));
    expect(torn).toBeGreaterThan(0.99);
    expect(torn).toBeLessThan(1.01);
    expect(long).toBeCloseTo(Math.log(2), 1);
    expect(tall).toBeCloseTo(long, 6);
    expect(rim).toBe(0);
    const lying = seen(p, disc(48, 40, 30, 15));
    expect(lying.tall).toBeCloseTo(-lying.long, 6);
  });
  it('a ring is torn: its moments are those of what it encloses', () => {
    const ring = disc(48, 40, 20).map((v, i) => (disc(48, 40, 14)[i] ? 0 : v));
    // (1 + q^2) / (1 - q^2) of the radii's ratio q, by the moments of an annulus.
    expect(seen(p, ring).torn).toBeCloseTo((1 + 0.49) / (1 - 0.49), 1);
  });
  it('what the picture cuts off lies along its rim', () => {
    const cut = within((x, y) => x < 10 && y < 20);
    expect(seen(p, cut).rim).toBeCloseTo((20 + 9) / Math.sqrt(200), 6);
  });
  it('a border on an edge, and one that cuts through a surface', () => {
    expect(seen(p, skin).edge).toBeGreaterThan(0.7);
    expect(seen(p, skin).weak).toBeLessThan(0.15);
    const through = disc(37, 44, 2.9);
    expect(seen(p, through).edge).toBeLessThan(0.2);
    expect(seen(p, through).weak).toBeGreaterThan(0.9);
  });
  it('what lies about it in any light; what is far darker than it', () => {
    // The other half of the face is like this one in shade; hair and wall are not.
    expect(seen(p, skin).around).toBeLessThan(0.05);
    expect(seen(p, half).around).toBeGreaterThan(0.15);
    expect(seen(p, skin).dark).toBeLessThan(0.01);
    expect(seen(p, both(skin, hair)).dark).toBeGreaterThan(0.2);
  });
});

describe('which guess looks like what was pressed', () => {
  const best = (masks: readonly Uint8Array[], least = 20): number => {
    const w = worths(p, masks, least);
    return w.indexOf(Math.max(...w));
  };
  it('is the whole face, not the lit half that grew, nor the head with its hair', () => {
    expect(best([half, skin, both(skin, hair)])).toBe(1);
    expect(best([both(skin, hair), half, skin])).toBe(2);
  });
  it('is one that several guesses found, of two that look the same', () => {
    const [left, right] = [disc(24, 40, 12), disc(72, 40, 12)];
    const flat: SmallPicture = { ...p, L: p.L.map(() => 0.5), a: p.a.map(() => 0.03), b: p.b.map(() => 0.03) };
    const grown = disc(48, 40, 3);
    const w = worths(flat, [grown, left, right, right.slice()], 20);
    expect(w[2]! - w[1]!).toBeCloseTo(0.037, 3);
    expect(w[3]).toBe(w[2]);
  });
  it('is never one too small to tell', () => {
    expect(worths(p, [disc(48, 40, 2), skin], 60)[0]).toBe(-Infinity);
    expect(worths(p, [new Uint8Array(W * H), skin], 0)[0]).toBe(-Infinity);
    expect(Number.isFinite(worths(p, [new Uint8Array(W * H), skin], 0)[1])).toBe(true);
  });
});
describe('what two masks have in common', () => {
  it('is a share of what either has', () => {
    expect(alike(skin, skin)).toBe(1);
    expect(alike(half, skin)).toBeCloseTo(half.reduce((a, b) => a + b, 0) / skin.reduce((a, b) => a + b, 0), 9);
    expect(alike(skin, hair)).toBe(0);
    expect(alike(new Uint8Array(4), new Uint8Array(4))).toBe(1);
  });
});
