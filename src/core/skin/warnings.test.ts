/** Readings that are doubtful: said with their figures, and never of skin that is fine. */
import { describe, expect, it } from 'vitest';
import { ycbcrToRgb } from '../color/ycbcr';
import { DEG } from '../math/angle';
import { rng } from '../math/rng';
import { keptPixels, patchPixels, readingOf } from './reading';
import type { Reading } from './reading';
import { skinWarnings } from './warnings';

const [W, H] = [40, 30];
const r = rng(11);
const gauss = (): number => (r() + r() + r() + r() - 2) * 1.73;
/** A patch of luma and hues as given, with spread of both; rounded to 8 bits as a file of that is. */
function patchOf(of: (i: number) => { y: number; chroma: number; deg: number }, spread = 1.5, eight = false): Reading {
  const [R, G, B] = [0, 1, 2].map(() => new Float32Array(W * H)) as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < W * H; i++) {
    const { y, chroma, deg } = of(i);
    const a = (deg + spread * gauss()) / DEG;
    const rgb = ycbcrToRgb(y + 0.01 * gauss(), (chroma / 2) * Math.cos(a), (chroma / 2) * Math.sin(a));
    [R[i], G[i], B[i]] = rgb.map((v) => (eight ? Math.round(255 * Math.min(1, Math.max(0, v))) / 255 : v)) as [
      number,
      number,
      number,
    ];
  }
  const p = patchPixels(R, G, B, W, { x: 0, y: 0, w: W, h: H })!;
  return readingOf(p, keptPixels(p), 123);
}

describe('what makes a reading of skin doubtful', () => {
  it('nothing does where it is even, blotchy, or one hue that an 8-bit file rounds', () => {
    const fine = { y: 0.55, chroma: 0.2, deg: 126 };
    expect(skinWarnings(patchOf(() => fine))).toEqual([]);
    expect(skinWarnings(patchOf(() => fine, 6))).toEqual([]);
    // An even spread of hues from cheek to temple is one skin under one light.
    expect(skinWarnings(patchOf((i) => ({ ...fine, deg: 116 + (20 * (i % W)) / W })))).toEqual([]);
    // Little chroma: a code is 3 degrees, and the hues of a file are a few.
    expect(skinWarnings(patchOf(() => ({ y: 0.5, chroma: 0.075, deg: 124 }), 2, true))).toEqual([]);
    // A few glints.
    expect(skinWarnings(patchOf((i) => (i % 80 === 0 ? { y: 1.1, chroma: 0.05, deg: 120 } : fine)))).toEqual([]);
  });
  it('two lights are told with the hue and the share of either', () => {
    const two = patchOf((i) => ({ y: 0.5, chroma: 0.2, deg: i % W < 26 ? 112 : 136 }));
    expect(two.two!.share).toBeCloseTo(26 / W, 1);
    expect(two.two!.high - two.two!.low).toBeCloseTo(24, 0);
    const [said, ...more] = skinWarnings(two);
    expect(more).toEqual([]);
    expect(said).toMatch(/^Two hues: 6[45] % of it lie about \u221211\.\d\u00b0, the rest about \+1[23]\.\d\u00b0\./);
  });
  it('a tenth of another hue is a rest, not a second light', () => {
    expect(patchOf((i) => ({ y: 0.5, chroma: 0.2, deg: i % 10 === 0 ? 112 : 136 })).two).toBeNull();
  });
  it('darkness, white and too little colour are told with their figures', () => {
    expect(skinWarnings(patchOf(() => ({ y: 0.06, chroma: 0.08, deg: 123 }), 18))[0]).toMatch(
      /^Too dark: at luma 6 % its hue spreads by 1[5-9]\u00b0/,
    );
    expect(skinWarnings(patchOf((i) => ({ y: i % 4 === 0 ? 0.98 : 0.8, chroma: 0.2, deg: 123 })))[0]).toMatch(
      /^Too bright: \d\d % of it lie at white in a channel/,
    );
    expect(skinWarnings(patchOf(() => ({ y: 0.5, chroma: 0.03, deg: 123 })))).toEqual([
      'Too neutral to read a hue: 3.0 % chroma, at least 6 % are needed.',
    ]);
  });
});
