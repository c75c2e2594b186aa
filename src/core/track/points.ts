/** Points to follow: corners by the lower eigenvalue of the structure tensor (Shi and Tomasi 1994). */
import type { Grey } from './image';

export type Point = readonly [x: number, y: number];
/** Pixels of a block whose noise is looked at. */
const BLOCK = 12;
/**
 * Standard deviation of the noise, in the picture's unit: what a mask that passes over edges and ramps leaves
 * (Immerkaer 1996), in the middle of each block, of the quieter blocks: texture is no noise.
 */
function noiseOf(g: Grey, inside: (x: number, y: number) => boolean): number {
  const { w, h, data } = g;
  const medians: number[] = [];
  for (let by = 1; by + BLOCK < h; by += BLOCK)
    for (let bx = 1; bx + BLOCK < w; bx += BLOCK) {
      if (!inside(bx + BLOCK / 2, by + BLOCK / 2)) continue;
      const list: number[] = [];
      for (let y = by; y < by + BLOCK; y++)
        for (let x = bx; x < bx + BLOCK; x++) {
          const i = y * w + x;
          const side = (k: number): number => data[k - 1]! - 2 * data[k]! + data[k + 1]!;
          list.push(Math.abs(side(i - w) - 2 * side(i) + side(i + w)));
        }
      list.sort((a, b) => a - b);
      medians.push(list[list.length >> 1]!);
    }
  medians.sort((a, b) => a - b);
  // The mask's answer to noise is six times as wide; half of it lies within 0.6745 of that.
  return (medians[Math.floor(medians.length / 8)] ?? 0) / (6 * 0.6745);
}
/** A corner says this much more than noise alone would. */
const OVER = 2;
/** So many are taken all the same: the strongest. */
const FEW = 48;

/** Products of two planes, summed over 2 r + 1 pixels of their row; 0 at its ends. */
function summed(a: Float32Array, b: Float32Array, w: number, h: number, r: number): Float64Array {
  const out = new Float64Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = r; x < w - r; x++) {
      const i = y * w + x;
      let s = 0;
      for (let k = i - r; k <= i + r; k++) s += a[k]! * b[k]!;
      out[i] = s;
    }
  return out;
}
/** Up to `most` corners inside, spread over cells so that they do not crowd. `inside` tells of a pixel. */
export function corners(g: Grey, inside: (x: number, y: number) => boolean, most: number): Point[] {
  const { w, h, data } = g;
  const B = 3;
  const gx = new Float32Array(w * h);
  const gy = new Float32Array(w * h);
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      gx[i] = (data[i + 1]! - data[i - 1]!) / 2;
      gy[i] = (data[i + w]! - data[i - w]!) / 2;
    }
  const score = new Float32Array(w * h);
  let best = 0;
  // Over seven pixels along rows once for each row, then over seven rows.
  const [xx, xy, yy] = [summed(gx, gx, w, h, B), summed(gx, gy, w, h, B), summed(gy, gy, w, h, B)];
  for (let y = B + 1; y < h - B - 1; y++)
    for (let x = B + 1; x < w - B - 1; x++) {
      if (!inside(x, y)) continue;
      let [a, b, c] = [0, 0, 0];
      for (let j = -B; j <= B; j++) {
        const i = (y + j) * w + x;
        a += xx[i]!;
        b += xy[i]!;
        c += yy[i]!;
      }
      const s = (a + c) / 2 - Math.sqrt(((a - c) / 2) ** 2 + b * b);
      score[y * w + x] = s;
      if (s > best) best = s;
    }
  const list: { x: number; y: number; s: number }[] = [];
  for (let y = B + 1; y < h - B - 1; y++)
    for (let x = B + 1; x < w - B - 1; x++) {
      const s = score[y * w + x]!;
      if (s < 0.002 * best || s <= 0) continue;
      let peak = true;
      for (let j = -2; j <= 2 && peak; j++)
        for (let k = -2; k <= 2; k++)
          if (score[(y + j) * w + x + k]! > s) {
            peak = false;
            break;
          }
      if (peak) list.push({ x, y, s });
    }
  list.sort((p, q) => q.s - p.s || p.y - q.y || p.x - q.x);
  // What noise makes of a flat place is another on each frame: each slope squared is half the noise's variance.
  const flat = (OVER * (2 * B + 1) ** 2 * noiseOf(g, inside) ** 2) / 2;
  for (let k = list.length; k > FEW && list[k - 1]!.s < flat; k--) list.pop();
  // First the best of every cell, then the next of each, until there are enough.
  const area = Math.max(1, list.length ? (w * h) / most : 1);
  const cell = Math.max(6, Math.sqrt(area));
  const cells = new Map<string, { x: number; y: number }[]>();
  for (const p of list) {
    const key = `${Math.floor(p.x / cell)} ${Math.floor(p.y / cell)}`;
    const l = cells.get(key);
    if (!l) cells.set(key, [p]);
    else if (l.every((q) => Math.hypot(q.x - p.x, q.y - p.y) > 4)) l.push(p);
  }
  const out: Point[] = [];
  for (let k = 0; out.length < most && [...cells.values()].some((l) => l.length > k); k++)
    for (const l of cells.values()) {
      const p = l[k];
      if (p && out.length < most) out.push([p.x, p.y]);
    }
  return out;
}
