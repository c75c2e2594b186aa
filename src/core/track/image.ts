/** Grey pictures for following: pyramids, sampling between pixels, a frame warped back onto another. */
import type { Homography } from '../graph/track';

/** Luma in rows, any unit. Places are pixel indices: the middle of pixel (x, y) is (x, y). */
export interface Grey {
  w: number;
  h: number;
  data: Float32Array;
}
/** A smoothed half: 1 4 6 4 1 along both sides, every second pixel (Burt and Adelson 1983). */
export function halfOf(g: Grey): Grey {
  const [w, h] = [(g.w + 1) >> 1, (g.h + 1) >> 1];
  const rows = new Float32Array(w * g.h);
  const at = (i: number, n: number): number => Math.max(0, Math.min(n - 1, i < 0 ? -i : i >= n ? 2 * n - 2 - i : i));
  const src = g.data;
  // Where nothing lies beyond the edge, from here up to there.
  const [lo, hi] = [1, (g.w - 3) >> 1];
  for (let y = 0; y < g.h; y++) {
    const o = y * g.w;
    const edge = (x: number): void => {
      const p = (k: number): number => src[o + at(2 * x + k, g.w)]!;
      rows[y * w + x] = (p(-2) + p(2) + 4 * (p(-1) + p(1)) + 6 * p(0)) / 16;
    };
    for (let x = 0; x < Math.min(lo, w); x++) edge(x);
    for (let x = lo, i = o + 2 * lo, k = y * w + lo; x <= hi; x++, i += 2, k++)
      rows[k] = (src[i - 2]! + src[i + 2]! + 4 * (src[i - 1]! + src[i + 1]!) + 6 * src[i]!) / 16;
    for (let x = Math.max(lo, hi + 1); x < w; x++) edge(x);
  }
  const data = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    const [a, b, c, d, e] = [-2, -1, 0, 1, 2].map((k) => at(2 * y + k, g.h) * w) as [
      number,
      number,
      number,
      number,
      number,
    ];
    for (let x = 0, k = y * w; x < w; x++, k++)
      data[k] = (rows[a + x]! + rows[e + x]! + 4 * (rows[b + x]! + rows[d + x]!) + 6 * rows[c + x]!) / 16;
  }
  return { w, h, data };
}
export function pyramid(g: Grey, levels: number): Grey[] {
  const out = [g];
  while (out.length < levels && Math.min(out.at(-1)!.w, out.at(-1)!.h) >= 24) out.push(halfOf(out.at(-1)!));
  return out;
}

/** Between four pixels; beyond the edge the nearest one. */
function linearAt(g: Grey, x: number, y: number): number {
  const cx = Math.max(0, Math.min(g.w - 1.000001, x));
  const cy = Math.max(0, Math.min(g.h - 1.000001, y));
  const x0 = Math.floor(cx);
  const y0 = Math.floor(cy);
  const [fx, fy] = [cx - x0, cy - y0];
  const i = y0 * g.w + x0;
  const right = x0 + 1 < g.w ? 1 : 0;
  const down = y0 + 1 < g.h ? g.w : 0;
  const { data } = g;
  const top = data[i]! + fx * (data[i + right]! - data[i]!);
  const low = data[i + down]! + fx * (data[i + down + right]! - data[i + down]!);
  return top + fy * (low - top);
}
/** Cubic convolution (Keys 1981, a = -1/2) over sixteen pixels; near the edge linear. */
function cubicAt(g: Grey, x: number, y: number): number {
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  if (x0 < 1 || y0 < 1 || x0 + 2 >= g.w || y0 + 2 >= g.h) return linearAt(g, x, y);
  const { w, data } = g;
  // Weights in names of their own: a list for each pixel was most of the work.
  const f = x - x0;
  const f2 = f * f;
  const f3 = f2 * f;
  const a = -0.5 * f + f2 - 0.5 * f3;
  const b = 1 - 2.5 * f2 + 1.5 * f3;
  const c = 0.5 * f + 2 * f2 - 1.5 * f3;
  const d = -0.5 * f2 + 0.5 * f3;
  const e = y - y0;
  const e2 = e * e;
  const e3 = e2 * e;
  const i = (y0 - 1) * w + x0 - 1;
  const j = i + w;
  const k = j + w;
  const l = k + w;
  return (
    (-0.5 * e + e2 - 0.5 * e3) * (a * data[i]! + b * data[i + 1]! + c * data[i + 2]! + d * data[i + 3]!) +
    (1 - 2.5 * e2 + 1.5 * e3) * (a * data[j]! + b * data[j + 1]! + c * data[j + 2]! + d * data[j + 3]!) +
    (0.5 * e + 2 * e2 - 1.5 * e3) * (a * data[k]! + b * data[k + 1]! + c * data[k + 2]! + d * data[k + 3]!) +
    (-0.5 * e2 + 0.5 * e3) * (a * data[l]! + b * data[l + 1]! + c * data[l + 2]! + d * data[l + 3]!)
  );
}

export interface Window {
  x: number;
  y: number;
  w: number;
  h: number;
}
/**
 * A window of the reference as another frame shows it: at (x, y) of the window stands the frame's value where the map
 * takes that place. `inside` tells how much of the window lies in the frame.
 */
export const warped: Warp = (frame, h, win) => warp(frame, h, win);
export type Warp = (frame: Grey, h: Homography, win: Window) => { grey: Grey; inside: Uint8Array };
let warp: Warp = warpedBy;
/** Another way to do the same to the bit, from now on in this thread (engine/following.ts). */
export function warpBy(other: Warp): void {
  warp = other;
}
/** As defined; see `warped`. */
export function warpedBy(frame: Grey, h: Homography, win: Window): { grey: Grey; inside: Uint8Array } {
  const data = new Float32Array(win.w * win.h);
  const inside = new Uint8Array(win.w * win.h);
  const [a, b, c, d, e, f, p, q, r] = h as [number, number, number, number, number, number, number, number, number];
  const right = frame.w - 1;
  const bottom = frame.h - 1;
  for (let y = 0, i = 0; y < win.h; y++) {
    const py = win.y + y;
    for (let x = 0; x < win.w; x++, i++) {
      const px = win.x + x;
      const depth = p * px + q * py + r;
      const u = (a * px + b * py + c) / depth;
      const v = (d * px + e * py + f) / depth;
      data[i] = cubicAt(frame, u, v);
      if (depth > 0 && u >= 0 && v >= 0 && u <= right && v <= bottom) inside[i] = 1;
    }
  }
  return { grey: { w: win.w, h: win.h, data }, inside };
}
/** The part of a picture under a window. */
export function cropped(g: Grey, win: Window): Grey {
  const data = new Float32Array(win.w * win.h);
  for (let y = 0; y < win.h; y++)
    for (let x = 0; x < win.w; x++) {
      const px = Math.max(0, Math.min(g.w - 1, win.x + x));
      const py = Math.max(0, Math.min(g.h - 1, win.y + y));
      data[y * win.w + x] = g.data[py * g.w + px]!;
    }
  return { w: win.w, h: win.h, data };
}
