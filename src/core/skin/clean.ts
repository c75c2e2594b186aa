/**
 * Clean skin inside a region: the small box whose colour stands for the whole (lips, eyes, glints, hair and edges
 * scatter or lie elsewhere), and the reading of all that is in.
 */
import { chromaPct, hueDeg, rgbToYcbcr } from '../color/ycbcr';
import { wrap180 } from '../math/angle';
import { keptPixels, patchPixels, readingOf } from './reading';
import type { Box, Reading } from './reading';

interface Planar {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}
/** Of a box as large as this share of the region's root. */
const SIDE = 0.22;
const FULL = 0.98;
/** Of the pixels of a box so many are full. */
const FULL_SHARE = 0.97;
/** Light of skin that reads well, in % of luma (common practice: 40 to 70). */
const LIGHT = { from: 30, to: 75 };

/**
 * The box in which the region is full, whose hue and chroma lie nearest to those of the region as a whole (a push that
 * is right there is right for the whole), and that scatters least. Null where no box of at least 5 pixels lies wholly
 * inside.
 *
 * @param m matte 0..1, as many values as the planes
 * @param of the region's own reading
 */
export function cleanPatch(
  { r, g, b }: Planar,
  m: Float32Array,
  w: number,
  h: number,
  of: Pick<Reading, 'cb' | 'cr'>,
): Box | null {
  let area = 0;
  for (let i = 0; i < m.length; i++) if (m[i]! >= FULL) area++;
  for (let side = Math.round(SIDE * Math.sqrt(area)); side >= 5; side = Math.floor(side * 0.7)) {
    const found = boxOf({ r, g, b }, m, w, h, side, of);
    if (found) return found;
  }
  return null;
}
function boxOf(
  { r, g, b }: Planar,
  m: Float32Array,
  w: number,
  h: number,
  side: number,
  of: Pick<Reading, 'cb' | 'cr'>,
): Box | null {
  const step = Math.max(1, Math.floor(side / 3));
  // Some pixels of a box tell enough.
  const grain = Math.max(1, Math.floor(side / 12));
  const n = Math.ceil(side / grain) ** 2;
  const boxes: { box: Box; luma: number; cb: number; cr: number; scatter: number }[] = [];
  for (let y = 0; y + side <= h; y += step)
    for (let x = 0; x + side <= w; x += step) {
      let [full, l, cb, cr, ll] = [0, 0, 0, 0, 0];
      let [bb, rr] = [0, 0];
      // Most boxes of a picture lie outside: that is seen at their first pixels.
      let out = 0;
      for (let v = y; v < y + side && n - out >= FULL_SHARE * n; v += grain)
        for (let u = x; u < x + side; u += grain) {
          const i = v * w + u;
          if (!(m[i]! >= FULL)) {
            out++;
            continue;
          }
          full++;
          const c = rgbToYcbcr(r[i]!, g[i]!, b[i]!);
          l += c[0];
          cb += c[1];
          cr += c[2];
          ll += c[0] * c[0];
          bb += c[1] * c[1];
          rr += c[2] * c[2];
        }
      if (n - out < FULL_SHARE * n || !Number.isFinite(l + cb + cr)) continue;
      [l, cb, cr] = [l / full, cb / full, cr / full];
      const scatter =
        Math.sqrt(Math.max(0, ll / full - l * l)) +
        2 * Math.sqrt(Math.max(0, bb / full - cb * cb + rr / full - cr * cr));
      boxes.push({ box: { x, y, w: side, h: side }, luma: l, cb, cr, scatter });
    }
  if (boxes.length === 0) return null;
  const [hue, chroma] = [hueDeg(of.cb, of.cr), Math.max(1, chromaPct(of.cb, of.cr))];
  const cost = (k: (typeof boxes)[number]): number => {
    const dark = Math.max(0, LIGHT.from - 100 * k.luma, 100 * k.luma - LIGHT.to);
    return (
      Math.abs(wrap180(hueDeg(k.cb, k.cr) - hue)) / 0.7 +
      Math.abs(chromaPct(k.cb, k.cr) / chroma - 1) / 0.15 +
      k.scatter / 0.03 +
      dark / 15
    );
  };
  return boxes.reduce((a, k) => (cost(k) < cost(a) ? k : a)).box;
}

/** So many pixels tell a region's mean to a hundredth of a degree. */
const PIXELS = 60_000;
/** Some of the pixels that a matte holds by at least one half, in order. */
export function regionPixels(m: Float32Array): Uint32Array {
  let all = 0;
  for (let i = 0; i < m.length; i++) if (m[i]! >= 0.5) all++;
  const step = Math.max(1, Math.ceil(all / PIXELS));
  const at = new Uint32Array(Math.ceil(all / step));
  for (let i = 0, k = 0, o = 0; o < at.length; i++) if (m[i]! >= 0.5 && k++ % step === 0) at[o++] = i;
  return at;
}
/** Reading of some pixels, as a file of so many bits has them; null where that is none. */
export function readPixels({ r, g, b }: Planar, at: Uint32Array, skinLineDeg: number, as: 8 | 16): Reading | null {
  const n = at.length;
  const row = [r, g, b].map((from) => {
    const to = new Float32Array(n);
    for (let o = 0; o < n; o++) to[o] = from[at[o]!]!;
    return to;
  }) as [Float32Array, Float32Array, Float32Array];
  const p = n > 0 ? patchPixels(...row, n, { x: 0, y: 0, w: n, h: 1 }, undefined, as) : null;
  return p && readingOf(p, keptPixels(p), skinLineDeg);
}
/** Reading of what a matte holds, as a file of so many bits has it; null where that is nothing. */
export const readRegion = (p: Planar, m: Float32Array, skinLineDeg: number, as: 8 | 16): Reading | null =>
  readPixels(p, regionPixels(m), skinLineDeg, as);
