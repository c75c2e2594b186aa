/**
 * Readings of a patch: trimmed mean of (Cb, Cr) and luma, hue spread, share of pixels left out as outliers.
 * Lips, eyes, glints and hair in a patch pull a plain mean; pixels further than three robust standard deviations
 * (1.4826 MAD, P. Rousseeuw and C. Croux, JASA 88, 1993) from the median of luma or of (Cb, Cr) are left out.
 */
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT, rgbToYcbcr, SKIN_LINE_DEG } from '../color/ycbcr';
import { DEG, wrap180 } from '../math/angle';
import { mad, median } from '../math/stats';
import { polygonMask } from '../math/polygon';
import type { Corner } from '../math/polygon';
import { twoHues } from './twoHues';
import type { TwoHues } from './twoHues';

export interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

export interface Reading {
  /** Trimmed mean, signal. */
  luma: number;
  cb: number;
  cr: number;
  lumaPct: number;
  chromaPct: number;
  /** Null when too neutral to read (chroma below 6 %). */
  hueDeg: number | null;
  /** Signed degrees from the skin line, counter-clockwise positive; null when too neutral to read. */
  offLineDeg: number | null;
  /** Standard deviation of hue about the mean hue, of the pixels kept; null when too neutral. */
  hueSpreadDeg: number | null;
  /** 0..1. */
  outlierShare: number;
  pixels: number;
  /** The mean of every pixel, where it lies more than 1 degree from the trimmed one; else null. */
  second: SecondHue | null;
  /** Share of the pixels of which a channel lies at white, or beyond. */
  topShare: number;
  /** Its pixels have two hues, not one; degrees from `offLineDeg`. */
  two: TwoHues | null;
}
/** A second hue in a patch: what the trimmed mean leaves out is another colour, not only glints of the same. */
export interface SecondHue {
  /** Of the plain mean; null when too neutral to read. */
  plainOffLineDeg: number | null;
  /** What is left out: its share of the patch, and where its own mean lies; null when too neutral to read. */
  share: number;
  offLineDeg: number | null;
  chromaPct: number;
}

/** Several readings as one colour: each counts alike. What is told of pixels is told of the worst. */
export function asOne(list: readonly Reading[], lineDeg = SKIN_LINE_DEG): Reading {
  const mean = (of: (r: Reading) => number): number => list.reduce((a, r) => a + of(r), 0) / list.length;
  const most = (of: (r: Reading) => number | null): number => Math.max(...list.map((r) => of(r) ?? 0));
  const [luma, cb, cr] = [mean((r) => r.luma), mean((r) => r.cb), mean((r) => r.cr)];
  const chroma = chromaPct(cb, cr);
  const hue = chroma < NEUTRAL_CHROMA_PCT ? null : hueDeg(cb, cr);
  return {
    ...{ luma, cb, cr },
    lumaPct: 100 * luma,
    chromaPct: chroma,
    hueDeg: hue,
    offLineDeg: hue === null ? null : wrap180(hue - lineDeg),
    // Between them as well as inside each.
    hueSpreadDeg:
      hue === null
        ? null
        : Math.max(
            most((r) => r.hueSpreadDeg),
            most((r) => (r.hueDeg === null ? 0 : Math.abs(wrap180(r.hueDeg - hue)))),
          ),
    outlierShare: most((r) => r.outlierShare),
    pixels: list.reduce((a, r) => a + r.pixels, 0),
    second: null,
    topShare: most((r) => r.topShare),
    two: null,
  };
}

/** Spread below which nothing is an outlier: half an 8-bit code, so that flat patches lose no pixels to rounding. */
const FLOOR = 0.5 / 255;

/**
 * Pixels of planes inside a box, clipped to the planes. Boxes are in whole pixels, x and y rounded down, w and h up
 * to at least 1.
 */
export function clipBox(box: Box, w: number, h: number): Box | null {
  const x0 = Math.max(0, Math.floor(box.x));
  const y0 = Math.max(0, Math.floor(box.y));
  const x1 = Math.min(w, Math.max(Math.floor(box.x) + 1, Math.round(box.x + box.w)));
  const y1 = Math.min(h, Math.max(Math.floor(box.y) + 1, Math.round(box.y + box.h)));
  return x1 > x0 && y1 > y0 ? { x: x0, y: y0, w: x1 - x0, h: y1 - y0 } : null;
}

/**
 * Pixels of a patch as luma and chroma. `clipped`: a channel lies outside the display's range. `top`: a channel lies at
 * white, within half an 8-bit code, or beyond.
 */
export interface PatchPixels {
  y: Float32Array;
  cb: Float32Array;
  cr: Float32Array;
  clipped: Uint8Array;
  top: Uint8Array;
  /** Where each lies in the box, row by row. */
  at: Uint32Array;
}
const WHITE = 1 - 0.5 / 255;
/** The code a file of so many bits holds, as signal: what is written is what is read. */
export const asWritten = (v: number, bits: 8 | 16): number => {
  const max = bits === 16 ? 65535 : 255;
  return (v > 0 ? (v < 1 ? Math.floor(v * max + 0.5) : max) : 0) / max;
};
const asShown = (v: number): number => (v > 0 ? (v < 1 ? v : 1) : v <= 0 ? 0 : v);

/**
 * Pixels of a box (or of the corners in it) of planar R'G'B' of width `w`. Null when it lies outside or holds no finite
 * pixel.
 * @param as left out: as they are; `shown`: held in 0..1; 8 or 16: as a file of these bits holds them
 */
export function patchPixels(
  r: Float32Array,
  g: Float32Array,
  b: Float32Array,
  w: number,
  box: Box,
  points?: readonly Corner[],
  as?: 'shown' | 8 | 16,
): PatchPixels | null {
  const all = clipBox(box, w, Math.floor(r.length / w));
  if (!all) return null;
  const n = all.w * all.h;
  const [y, cb, cr] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const [clipped, top] = [new Uint8Array(n), new Uint8Array(n)];
  const at = new Uint32Array(n);
  let count = 0;
  const mask = points
    ? polygonMask(
        points.map(([px, py]) => [px - all.x, py - all.y]),
        all.w,
        all.h,
      )
    : null;
  const held = as === 'shown' ? asShown : as ? (v: number): number => asWritten(v, as) : (v: number): number => v;
  const out = (v: number): boolean => v < -1e-4 || v > 1 + 1e-4;
  for (let py = all.y; py < all.y + all.h; py++)
    for (let px = all.x; px < all.x + all.w; px++) {
      if (mask && !mask[(py - all.y) * all.w + px - all.x]) continue;
      const i = py * w + px;
      if (!Number.isFinite(r[i]! + g[i]! + b[i]!)) continue;
      [y[count], cb[count], cr[count]] = rgbToYcbcr(held(r[i]!), held(g[i]!), held(b[i]!)) as [number, number, number];
      at[count] = (py - all.y) * all.w + px - all.x;
      top[count] = Math.max(r[i]!, g[i]!, b[i]!) >= WHITE ? 1 : 0;
      clipped[count++] = out(r[i]!) || out(g[i]!) || out(b[i]!) ? 1 : 0;
    }
  if (count === 0) return null;
  return {
    y: y.subarray(0, count),
    cb: cb.subarray(0, count),
    cr: cr.subarray(0, count),
    clipped: clipped.subarray(0, count),
    top: top.subarray(0, count),
    at: at.subarray(0, count),
  };
}

/** Which pixels count: 1 for those within three robust standard deviations of the medians. */
export function keptPixels(p: PatchPixels): Uint8Array {
  const n = p.y.length;
  const my = median(p.y);
  const mcb = median(p.cb);
  const mcr = median(p.cr);
  const limY = 3 * 1.4826 * Math.max(mad(p.y, my), FLOOR);
  const d = new Float32Array(n);
  for (let i = 0; i < n; i++) d[i] = Math.hypot(p.cb[i]! - mcb, p.cr[i]! - mcr);
  // A distance in the plane: its median is 1.1774 standard deviations (Rayleigh).
  const limC = (3 / 1.1774) * Math.max(median(d), FLOOR);
  const keep = new Uint8Array(n);
  for (let i = 0; i < n; i++) keep[i] = Math.abs(p.y[i]! - my) <= limY && d[i]! <= limC ? 1 : 0;
  return keep;
}

const SECOND_DEG = 1;
/** Reading of pixels of which those count whose `keep` is not 0. */
export function readingOf(p: PatchPixels, keep: Uint8Array, skinLineDeg: number): Reading {
  const n = p.y.length;
  const mean = (want: (i: number) => boolean): { n: number; l: number; cb: number; cr: number } => {
    const s = { n: 0, l: 0, cb: 0, cr: 0 };
    for (let i = 0; i < n; i++) {
      if (!want(i)) continue;
      s.n++;
      s.l += p.y[i]!;
      s.cb += p.cb[i]!;
      s.cr += p.cr[i]!;
    }
    return { n: s.n, l: s.l / s.n, cb: s.cb / s.n, cr: s.cr / s.n };
  };
  const offOf = (cb: number, cr: number): number | null =>
    chromaPct(cb, cr) < NEUTRAL_CHROMA_PCT ? null : wrap180(hueDeg(cb, cr) - skinLineDeg);
  const { n: kept, l, cb, cr } = mean((i) => keep[i] !== 0);
  const chroma = chromaPct(cb, cr);
  const neutral = chroma < NEUTRAL_CHROMA_PCT;
  let spread: number | null = null;
  if (!neutral) {
    // Angle from the mean direction, by rotation: no wrap to mind.
    const len = Math.hypot(cb, cr);
    const ux = cb / len;
    const uy = cr / len;
    let s2 = 0;
    for (let i = 0; i < n; i++)
      if (keep[i]) s2 += (Math.atan2(p.cr[i]! * ux - p.cb[i]! * uy, p.cb[i]! * ux + p.cr[i]! * uy) * DEG) ** 2;
    spread = Math.sqrt(s2 / kept);
  }
  const hue = neutral ? null : hueDeg(cb, cr);
  const off = offOf(cb, cr);
  let second: SecondHue | null = null;
  if (kept < n) {
    const whole = mean(() => true);
    const plain = offOf(whole.cb, whole.cr);
    const apart = plain === null || off === null ? plain !== off : Math.abs(wrap180(plain - off)) > SECOND_DEG;
    if (apart) {
      const rest = mean((i) => keep[i] === 0);
      second = {
        plainOffLineDeg: plain,
        share: rest.n / n,
        offLineDeg: offOf(rest.cb, rest.cr),
        chromaPct: chromaPct(rest.cb, rest.cr),
      };
    }
  }
  return {
    luma: l,
    cb,
    cr,
    lumaPct: l * 100,
    chromaPct: chroma,
    hueDeg: hue,
    offLineDeg: off,
    hueSpreadDeg: spread,
    outlierShare: 1 - kept / n,
    pixels: n,
    second,
    topShare: p.top.reduce((a, v) => a + v, 0) / n,
    two: neutral ? null : twoHues(p.cb, p.cr, [cb, cr]),
  };
}

/** Reads a box of planar R'G'B' of width `w`. Null when the box lies outside or holds no finite pixel. */
export function readPatch(
  r: Float32Array,
  g: Float32Array,
  b: Float32Array,
  w: number,
  box: Box,
  skinLineDeg = SKIN_LINE_DEG,
  points?: readonly Corner[],
  as?: 'shown' | 8 | 16,
): Reading | null {
  const p = patchPixels(r, g, b, w, box, points, as);
  return p && readingOf(p, keptPixels(p), skinLineDeg);
}

/** Which pixels of a patch its reading counts: what a person may ask before trusting it. */
export interface UsedPixels {
  /** On whole pixels of the picture. */
  box: Box;
  /** Row by row: 0 lies outside of the patch or is no number, 1 counts, 2 is left out. */
  used: Uint8Array<ArrayBuffer>;
}
/** The very pixels that `readPatch` counts. Null when the box lies outside or holds no finite pixel. */
export function usedPixels(
  r: Float32Array,
  g: Float32Array,
  b: Float32Array,
  w: number,
  box: Box,
  points?: readonly Corner[],
  as?: 'shown' | 8 | 16,
): UsedPixels | null {
  const all = clipBox(box, w, Math.floor(r.length / w));
  const p = patchPixels(r, g, b, w, box, points, as);
  if (!all || !p) return null;
  const used = new Uint8Array(all.w * all.h);
  keptPixels(p).forEach((k, i) => (used[p.at[i]!] = k ? 1 : 2));
  return { box: all, used };
}
