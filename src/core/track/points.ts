/**
 * Points to follow, and where they went: corners by the lower eigenvalue of the structure tensor (Shi and Tomasi
 * 1994), found again by pyramidal Lucas-Kanade in the inverse compositional form (Baker and Matthews 2004), each window
 * brought to the level and contrast of the other, so that a change of light moves nothing.
 */
import { linearAt } from './image';
import type { Grey } from './image';

export type Point = readonly [x: number, y: number];
/** Half a window: 21 pixels across. */
const R = 10;
const SIDE = 2 * R + 1;

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
  for (let y = B + 1; y < h - B - 1; y++)
    for (let x = B + 1; x < w - B - 1; x++) {
      if (!inside(x, y)) continue;
      let [a, b, c] = [0, 0, 0];
      for (let j = -B; j <= B; j++)
        for (let k = -B; k <= B; k++) {
          const i = (y + j) * w + x + k;
          a += gx[i]! * gx[i]!;
          b += gx[i]! * gy[i]!;
          c += gy[i]! * gy[i]!;
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

interface Scratch {
  t: Float32Array;
  gx: Float32Array;
  gy: Float32Array;
  i: Float32Array;
}
const scratch: Scratch = {
  t: new Float32Array(SIDE * SIDE),
  gx: new Float32Array(SIDE * SIDE),
  gy: new Float32Array(SIDE * SIDE),
  i: new Float32Array(SIDE * SIDE),
};
/** One window of `from` about (px, py) looked for in `to` from (qx, qy) on; null where nothing tells where it is. */
function search(from: Grey, to: Grey, px: number, py: number, qx: number, qy: number, steps: number): Point | null {
  const { t, gx, gy, i: cur } = scratch;
  const n = SIDE * SIDE;
  let mean = 0;
  for (let y = -R, k = 0; y <= R; y++)
    for (let x = -R; x <= R; x++, k++) {
      mean += t[k] = linearAt(from, px + x, py + y);
      gx[k] = (linearAt(from, px + x + 1, py + y) - linearAt(from, px + x - 1, py + y)) / 2;
      gy[k] = (linearAt(from, px + x, py + y + 1) - linearAt(from, px + x, py + y - 1)) / 2;
    }
  mean /= n;
  let [a, b, c, power] = [0, 0, 0, 0];
  for (let k = 0; k < n; k++) {
    a += gx[k]! * gx[k]!;
    b += gx[k]! * gy[k]!;
    c += gy[k]! * gy[k]!;
    power += (t[k]! - mean) ** 2;
  }
  const det = a * c - b * b;
  if (!(det > 1e-12 * (a + c) * (a + c)) || !(power > 0)) return null;
  let [x, y] = [qx, qy];
  for (let s = 0; s < steps; s++) {
    if (x < -R || y < -R || x > to.w - 1 + R || y > to.h - 1 + R) return null;
    let m = 0;
    for (let j = -R, k = 0; j <= R; j++) for (let i = -R; i <= R; i++, k++) m += cur[k] = linearAt(to, x + i, y + j);
    m /= n;
    let [p, cross] = [0, 0];
    for (let k = 0; k < n; k++) {
      const d = cur[k]! - m;
      p += d * d;
      cross += d * (t[k]! - mean);
    }
    if (!(p > 0)) return null;
    // The other window's contrast, but never turned round.
    const gain = Math.max(0.25, Math.min(4, cross / p));
    let [u, v] = [0, 0];
    for (let k = 0; k < n; k++) {
      const e = t[k]! - mean - gain * (cur[k]! - m);
      u += e * gx[k]!;
      v += e * gy[k]!;
    }
    const dx = (c * u - b * v) / det;
    const dy = (a * v - b * u) / det;
    x += Math.max(-4, Math.min(4, dx));
    y += Math.max(-4, Math.min(4, dy));
    if (dx * dx + dy * dy < 1e-5) break;
  }
  return [x, y];
}
/** How alike two windows are, -1..1, whatever their level and contrast. */
export function likeness(from: Grey, to: Grey, [px, py]: Point, [qx, qy]: Point): number {
  let [m, n, pp, qq, pq] = [0, 0, 0, 0, 0];
  const k = SIDE * SIDE;
  for (let y = -R; y <= R; y++)
    for (let x = -R; x <= R; x++) {
      const [a, b] = [linearAt(from, px + x, py + y), linearAt(to, qx + x, qy + y)];
      m += a;
      n += b;
      pp += a * a;
      qq += b * b;
      pq += a * b;
    }
  const [va, vb] = [pp - (m * m) / k, qq - (n * n) / k];
  return va > 0 && vb > 0 ? (pq - (m * n) / k) / Math.sqrt(va * vb) : 0;
}

/** Points of one pyramid found in another, from a guess on (left out: where they were); null where one is not found. */
export function findPoints(
  from: readonly Grey[],
  to: readonly Grey[],
  points: readonly Point[],
  guess: readonly (Point | null)[] = points,
  steps = 12,
): (Point | null)[] {
  const top = Math.min(from.length, to.length) - 1;
  return points.map(([px, py], i) => {
    const g = guess[i];
    if (!g) return null;
    let [dx, dy] = [(g[0] - px) / 2 ** top, (g[1] - py) / 2 ** top];
    for (let l = top; l >= 0; l--) {
      const k = 2 ** l;
      const q = search(from[l]!, to[l]!, px / k, py / k, px / k + dx, py / k + dy, steps);
      // What a coarse level cannot tell a finer one may.
      if (q) [dx, dy] = [q[0] - px / k, q[1] - py / k];
      else if (l === 0) return null;
      if (l > 0) [dx, dy] = [2 * dx, 2 * dy];
    }
    return [px + dx, py + dy];
  });
}
/** The same, and only those that lead back to where they began. */
export function findBothWays(
  from: readonly Grey[],
  to: readonly Grey[],
  points: readonly Point[],
  within: number,
): (Point | null)[] {
  const there = findPoints(from, to, points);
  const found = there.map((q) => q ?? ([0, 0] as Point));
  const back = findPoints(
    to,
    from,
    found,
    points.map((p, i) => (there[i] ? p : null)),
  );
  return there.map((q, i) => {
    const b = back[i];
    const p = points[i]!;
    return q && b && Math.hypot(b[0] - p[0], b[1] - p[1]) <= within ? q : null;
  });
}
