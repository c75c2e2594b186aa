import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { alike } from './sizes';
import type { SmallPicture } from './spread';
import { openBorders, seen, worths } from './worth';

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
describe('a border that lies within a larger guess', () => {
  const open = (masks: readonly Uint8Array[], inside: Uint8Array | null = null): number[] =>
    openBorders(
      p,
      masks,
      masks.map((m) => (m.includes(1) ? seen(p, m) : null)),
      inside,
    );
  it('is what part of it borders on more of the larger one, by how much less of an edge lies there', () => {
    const [lit, whole] = open([half, skin]);
    expect(whole).toBe(0);
    // By the definition: pairs of the lit half's border that lie in the face, two pixels on either side.
    let [pairs, all, sum] = [0, 0, 0];
    const differ = (i: number, j: number): number =>
      Math.min(
        1,
        Math.sqrt((p.L[i]! - p.L[j]!) ** 2 + 4 * (p.a[i]! - p.a[j]!) ** 2 + 4 * (p.b[i]! - p.b[j]!) ** 2) / 0.12,
      );
    for (let i = 0; i < W * H; i++)
      for (const step of [1, W]) {
        const j = i + step;
        if (j + step >= W * H || i < step || half[i] === half[j]) continue;
        all++;
        if (skin[i] !== 1 || skin[j] !== 1) continue;
        pairs++;
        sum += differ(i - step, j + step);
      }
    expect(pairs).toBe(47);
    expect(lit).toBeCloseTo((pairs * seen(p, skin).edge - sum) / all, 6);
    expect(lit).toBeGreaterThan(0.1);
  });
  it('is none beside a thing of its own, where an edge parts them as well as any', () => {
    const [face] = open([skin, both(skin, hair)]);
    expect(face).toBeLessThan(0.05);
  });
  it('guesses hardly larger, without a part of it, beyond the shape or cut off by the picture say nothing', () => {
    const more = half.map((v, i) => (v === 1 || (skin[i] === 1 && i % W < 50) ? 1 : 0));
    expect(open([half, more])[0]).toBe(0);
    const other = skin.map((v, i) => (i % W < 40 ? 0 : v));
    expect(open([half, other])[0]).toBe(0);
    const shape = within((x) => x < 48);
    expect(open([half, skin], shape)[0]).toBe(0);
    const cutOff = (rim: number): number =>
      openBorders(
        p,
        [half, skin],
        [
          { edge: 0.9, rim: 0 },
          { edge: 0.9, rim },
        ],
        null,
      )[0]!;
    expect(cutOff(0.6)).toBe(0);
    expect(cutOff(0.4)).toBeGreaterThan(0.1);
    expect(open([new Uint8Array(W * H), skin])).toEqual([0, 0]);
  });
  it('counts against a guess since version 6 of the operation', () => {
    const masks = [half, skin];
    const [before, now] = [worths(p, masks, 20, null, [], false), worths(p, masks, 20)];
    expect(now[1]).toBe(before[1]);
    expect(before[0]! - now[0]!).toBeCloseTo(2 * open(masks)[0]!, 9);
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
