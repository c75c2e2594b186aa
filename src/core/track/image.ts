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
  const at = (i: number, n: number): number => (i < 0 ? -i : i >= n ? 2 * n - 2 - i : i);
  const clamp = (i: number, n: number): number => Math.max(0, Math.min(n - 1, at(i, n)));
  for (let y = 0; y < g.h; y++)
    for (let x = 0; x < w; x++) {
      const p = (k: number): number => g.data[y * g.w + clamp(2 * x + k, g.w)]!;
      rows[y * w + x] = (p(-2) + p(2) + 4 * (p(-1) + p(1)) + 6 * p(0)) / 16;
    }
  const data = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const p = (k: number): number => rows[clamp(2 * y + k, g.h) * w + x]!;
      data[y * w + x] = (p(-2) + p(2) + 4 * (p(-1) + p(1)) + 6 * p(0)) / 16;
    }
  return { w, h, data };
}
export function pyramid(g: Grey, levels: number): Grey[] {
  const out = [g];
  while (out.length < levels && Math.min(out.at(-1)!.w, out.at(-1)!.h) >= 24) out.push(halfOf(out.at(-1)!));
  return out;
}

/** Between four pixels; beyond the edge the nearest one. */
export function linearAt(g: Grey, x: number, y: number): number {
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
  const [fx, fy] = [x - x0, y - y0];
  const w = (f: number): [number, number, number, number] => {
    const [f2, f3] = [f * f, f * f * f];
    return [-0.5 * f + f2 - 0.5 * f3, 1 - 2.5 * f2 + 1.5 * f3, 0.5 * f + 2 * f2 - 1.5 * f3, -0.5 * f2 + 0.5 * f3];
  };
  const [wx, wy] = [w(fx), w(fy)];
  let sum = 0;
  for (let j = 0; j < 4; j++) {
    const i = (y0 - 1 + j) * g.w + x0 - 1;
    sum += wy[j as 0] * (wx[0] * g.data[i]! + wx[1] * g.data[i + 1]! + wx[2] * g.data[i + 2]! + wx[3] * g.data[i + 3]!);
  }
  return sum;
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
export function warped(frame: Grey, h: Homography, win: Window): { grey: Grey; inside: Uint8Array } {
  const data = new Float32Array(win.w * win.h);
  const inside = new Uint8Array(win.w * win.h);
  for (let y = 0; y < win.h; y++)
    for (let x = 0; x < win.w; x++) {
      const [px, py] = [win.x + x, win.y + y];
      const d = h[6]! * px + h[7]! * py + h[8]!;
      const u = (h[0]! * px + h[1]! * py + h[2]!) / d;
      const v = (h[3]! * px + h[4]! * py + h[5]!) / d;
      const i = y * win.w + x;
      data[i] = cubicAt(frame, u, v);
      if (d > 0 && u >= 0 && v >= 0 && u <= frame.w - 1 && v <= frame.h - 1) inside[i] = 1;
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
