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
}

/** Spread below which nothing is an outlier: half an 8-bit code, so that flat patches lose no pixels to rounding. */
const FLOOR = 0.5 / 255;

/** Pixels of planes inside a box, clipped to the planes. Boxes are in whole pixels, x and y rounded down, w and h up to at least 1. */
export function clipBox(box: Box, w: number, h: number): Box | null {
  const x0 = Math.max(0, Math.floor(box.x));
  const y0 = Math.max(0, Math.floor(box.y));
  const x1 = Math.min(w, Math.max(Math.floor(box.x) + 1, Math.round(box.x + box.w)));
  const y1 = Math.min(h, Math.max(Math.floor(box.y) + 1, Math.round(box.y + box.h)));
  return x1 > x0 && y1 > y0 ? { x: x0, y: y0, w: x1 - x0, h: y1 - y0 } : null;
}

/** Reads a box of planar R'G'B' of width `w`. Null when the box lies outside or holds no finite pixel. */
export function readPatch(r: Float32Array, g: Float32Array, b: Float32Array, w: number, box: Box, skinLineDeg = SKIN_LINE_DEG, points?: readonly Corner[]): Reading | null {
  const all = clipBox(box, w, Math.floor(r.length / w));
  if (!all) return null;
  const n = all.w * all.h;
  const Y = new Float32Array(n);
  const CB = new Float32Array(n);
  const CR = new Float32Array(n);
  let count = 0;
  const mask = points ? polygonMask(points.map(([x, y]) => [x - all.x, y - all.y]), all.w, all.h) : null;
  for (let y = all.y; y < all.y + all.h; y++)
    for (let x = all.x; x < all.x + all.w; x++) {
      if (mask && !mask[(y - all.y) * all.w + x - all.x]) continue;
      const [l, cb, cr] = rgbToYcbcr(r[y * w + x]!, g[y * w + x]!, b[y * w + x]!);
      if (!Number.isFinite(l + cb + cr)) continue;
      Y[count] = l;
      CB[count] = cb;
      CR[count++] = cr;
    }
  if (count === 0) return null;
  const [ys, cbs, crs] = [Y, CB, CR].map((p) => p.subarray(0, count)) as [Float32Array, Float32Array, Float32Array];
  const my = median(ys);
  const mcb = median(cbs);
  const mcr = median(crs);
  const limY = 3 * 1.4826 * Math.max(mad(ys, my), FLOOR);
  const d = new Float32Array(count);
  for (let i = 0; i < count; i++) d[i] = Math.hypot(cbs[i]! - mcb, crs[i]! - mcr);
  // A distance in the plane: its median is 1.1774 standard deviations (Rayleigh).
  const limC = (3 / 1.1774) * Math.max(median(d), FLOOR);
  let sy = 0;
  let scb = 0;
  let scr = 0;
  let kept = 0;
  for (let i = 0; i < count; i++) {
    if (Math.abs(ys[i]! - my) > limY || d[i]! > limC) continue;
    sy += ys[i]!;
    scb += cbs[i]!;
    scr += crs[i]!;
    kept++;
  }
  const l = sy / kept;
  const cb = scb / kept;
  const cr = scr / kept;
  const chroma = chromaPct(cb, cr);
  const neutral = chroma < NEUTRAL_CHROMA_PCT;
  let spread: number | null = null;
  if (!neutral) {
    // Angle from the mean direction, by rotation: no wrap to mind.
    const len = Math.hypot(cb, cr);
    const ux = cb / len;
    const uy = cr / len;
    let s2 = 0;
    for (let i = 0; i < count; i++) {
      if (Math.abs(ys[i]! - my) > limY || d[i]! > limC) continue;
      s2 += (Math.atan2(crs[i]! * ux - cbs[i]! * uy, cbs[i]! * ux + crs[i]! * uy) * DEG) ** 2;
    }
    spread = Math.sqrt(s2 / kept);
  }
  const hue = neutral ? null : hueDeg(cb, cr);
  return {
    luma: l, cb, cr,
    lumaPct: l * 100,
    chromaPct: chroma,
    hueDeg: hue,
    offLineDeg: hue === null ? null : wrap180(hue - skinLineDeg),
    hueSpreadDeg: spread,
    outlierShare: 1 - kept / count,
    pixels: count,
  };
}
