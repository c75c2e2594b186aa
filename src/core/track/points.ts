/**
 * Points to follow, and where they went: corners by the lower eigenvalue of the structure tensor (Shi and Tomasi
 * 1994), found again by pyramidal Lucas-Kanade in the inverse compositional form (Baker and Matthews 2004), each window
 * brought to the level and contrast of the other, so that a change of light moves nothing.
 */
import type { Grey } from './image';

export type Point = readonly [x: number, y: number];
/** Half a window: 21 pixels across. */
const R = 10;
const SIDE = 2 * R + 1;

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

/** A window with a border of one pixel, for its gradients. */
const WIDE = SIDE + 2;
const wide = new Float32Array(WIDE * WIDE);
const current = new Float32Array(SIDE * SIDE);

const columns = { at: new Int32Array(WIDE), next: new Int32Array(WIDE), part: new Float64Array(WIDE) };
/** `linearAt` of every place; what lies beside an edge is found once for each column. */
function sampleEdge(g: Grey, x: number, y: number, r: number, out: Float32Array): void {
  const side = 2 * r + 1;
  const { w, h, data } = g;
  for (let i = 0; i < side; i++) {
    const c = Math.max(0, Math.min(w - 1.000001, x + i - r));
    const x0 = Math.floor(c);
    columns.at[i] = x0;
    columns.next[i] = Math.min(x0 + 1, w - 1);
    columns.part[i] = c - x0;
  }
  const { at, next, part } = columns;
  for (let j = 0, k = 0; j < side; j++) {
    const c = Math.max(0, Math.min(h - 1.000001, y + j - r));
    const y0 = Math.floor(c);
    const fy = c - y0;
    const a = y0 * w;
    const b = Math.min(y0 + 1, h - 1) * w;
    for (let i = 0; i < side; i++, k++) {
      const fx = part[i]!;
      const top = data[a + at[i]!]! + fx * (data[a + next[i]!]! - data[a + at[i]!]!);
      const low = data[b + at[i]!]! + fx * (data[b + next[i]!]! - data[b + at[i]!]!);
      out[k] = top + fy * (low - top);
    }
  }
}
/** Between pixels about (x, y), (2 r + 1) by (2 r + 1), in rows; beyond the edge the nearest pixel. */
function sample(g: Grey, x: number, y: number, r: number, out: Float32Array): void {
  const side = 2 * r + 1;
  const x0 = Math.floor(x) - r;
  const y0 = Math.floor(y) - r;
  if (!(x0 >= 0 && y0 >= 0 && x0 + side < g.w && y0 + side < g.h)) return sampleEdge(g, x, y, r, out);
  // All of it lies equally between its pixels: the weights are found once.
  const fx = x - Math.floor(x);
  const fy = y - Math.floor(y);
  const [w00, w10, w01, w11] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
  const { w, data } = g;
  for (let j = 0, k = 0; j < side; j++) {
    let i = (y0 + j) * w + x0;
    let a = data[i]!;
    let c = data[i + w]!;
    for (let n = 0; n < side; n++, k++) {
      i++;
      const b = data[i]!;
      const d = data[i + w]!;
      out[k] = w00 * a + w10 * b + w01 * c + w11 * d;
      a = b;
      c = d;
    }
  }
}

/** What is looked for: a window less its mean, its gradients, and the inverse of their structure tensor. */
interface Look {
  t: Float32Array;
  gx: Float32Array;
  gy: Float32Array;
  a: number;
  b: number;
  c: number;
  det: number;
  power: number;
  /** Nothing tells where it is: one colour, or one direction only. */
  blank: boolean;
}
const emptyLook = (): Look => ({
  t: new Float32Array(SIDE * SIDE),
  gx: new Float32Array(SIDE * SIDE),
  gy: new Float32Array(SIDE * SIDE),
  a: 0,
  b: 0,
  c: 0,
  det: 0,
  power: 0,
  blank: true,
});
function lookAt(g: Grey, x: number, y: number, into: Look): Look {
  const { t, gx, gy } = into;
  sample(g, x, y, R + 1, wide);
  let mean = 0;
  let [a, b, c] = [0, 0, 0];
  for (let j = 0, k = 0; j < SIDE; j++)
    for (let i = 0, m = (j + 1) * WIDE + 1; i < SIDE; i++, k++, m++) {
      mean += t[k] = wide[m]!;
      const u = (gx[k] = (wide[m + 1]! - wide[m - 1]!) / 2);
      const v = (gy[k] = (wide[m + WIDE]! - wide[m - WIDE]!) / 2);
      a += u * u;
      b += u * v;
      c += v * v;
    }
  mean /= SIDE * SIDE;
  let power = 0;
  for (let k = 0; k < SIDE * SIDE; k++) {
    const d = (t[k] = t[k]! - mean);
    power += d * d;
  }
  const det = a * c - b * b;
  into.a = a;
  into.b = b;
  into.c = c;
  into.det = det;
  into.power = power;
  into.blank = !(det > 1e-12 * (a + c) * (a + c)) || !(power > 0);
  return into;
}
/**
 * Looks of the points of a pyramid, level by level. They are kept with it: a reference is looked for in many frames.
 */
const kept = new WeakMap<readonly Grey[], { points: readonly Point[]; looks: Look[][] }>();
function looksOf(levels: readonly Grey[], points: readonly Point[]): Look[][] {
  const there = kept.get(levels);
  if (there?.points === points) return there.looks;
  const looks = levels.map((g, l) => points.map(([x, y]) => lookAt(g, x / 2 ** l, y / 2 ** l, emptyLook())));
  kept.set(levels, { points, looks });
  return looks;
}

/** A look found in `to` from (qx, qy) on; null where nothing tells where it is. */
function search(look: Look, to: Grey, qx: number, qy: number, steps: number): Point | null {
  if (look.blank) return null;
  const { t, gx, gy, a, b, c, det } = look;
  const cur = current;
  const n = SIDE * SIDE;
  let [x, y] = [qx, qy];
  for (let s = 0; s < steps; s++) {
    if (x < -R || y < -R || x > to.w - 1 + R || y > to.h - 1 + R) return null;
    sample(to, x, y, R, cur);
    let m = 0;
    for (let k = 0; k < n; k++) m += cur[k]!;
    m /= n;
    // The gradients' sums with both windows; the gain comes out of the same round.
    let [p, cross] = [0, 0];
    let [tu, tv, cu, cv] = [0, 0, 0, 0];
    for (let k = 0; k < n; k++) {
      const d = cur[k]! - m;
      const e = t[k]!;
      const u = gx[k]!;
      const v = gy[k]!;
      p += d * d;
      cross += d * e;
      tu += e * u;
      tv += e * v;
      cu += d * u;
      cv += d * v;
    }
    if (!(p > 0)) return null;
    // The other window's contrast, but never turned round.
    const gain = Math.max(0.25, Math.min(4, cross / p));
    const u = tu - gain * cu;
    const v = tv - gain * cv;
    const dx = (c * u - b * v) / det;
    const dy = (a * v - b * u) / det;
    x += Math.max(-4, Math.min(4, dx));
    y += Math.max(-4, Math.min(4, dy));
    if (dx * dx + dy * dy < 1e-5) break;
  }
  return [x, y];
}
/** How alike the window of point `i` of a pyramid is to one of `to`, -1..1, whatever their level and contrast. */
export function likeness(
  from: readonly Grey[],
  points: readonly Point[],
  i: number,
  to: Grey,
  [qx, qy]: Point,
): number {
  const look = looksOf(from, points)[0]![i]!;
  const n = SIDE * SIDE;
  sample(to, qx, qy, R, current);
  let m = 0;
  for (let k = 0; k < n; k++) m += current[k]!;
  m /= n;
  let [p, cross] = [0, 0];
  for (let k = 0; k < n; k++) {
    const d = current[k]! - m;
    p += d * d;
    cross += d * look.t[k]!;
  }
  return look.power > 0 && p > 0 ? cross / Math.sqrt(look.power * p) : 0;
}

const once = emptyLook();
type Places = readonly (Point | null)[];
/** From each guess on, coarse to fine. `look`: of point i at a level, made when it is asked for. */
function descend(
  look: (i: number, level: number) => Look,
  to: readonly Grey[],
  levels: number,
  points: readonly Point[],
  guess: Places,
  steps: number,
): (Point | null)[] {
  const top = Math.min(levels, to.length) - 1;
  return points.map(([px, py], i) => {
    const g = guess[i];
    if (!g) return null;
    let [dx, dy] = [(g[0] - px) / 2 ** top, (g[1] - py) / 2 ** top];
    for (let l = top; l >= 0; l--) {
      const k = 2 ** l;
      const q = search(look(i, l), to[l]!, px / k + dx, py / k + dy, steps);
      // What a coarse level cannot tell a finer one may.
      if (q) [dx, dy] = [q[0] - px / k, q[1] - py / k];
      else if (l === 0) return null;
      if (l > 0) [dx, dy] = [2 * dx, 2 * dy];
    }
    return [px + dx, py + dy];
  });
}
const STEPS = 12;
/** Points of one pyramid found in another, from where they were; null where one is not found. */
export function findPoints(from: readonly Grey[], to: readonly Grey[], points: readonly Point[]): (Point | null)[] {
  const looks = looksOf(from, points);
  return descend((i, l) => looks[l]![i]!, to, from.length, points, points, STEPS);
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
  const back = descend(
    (i, l) => lookAt(to[l]!, found[i]![0] / 2 ** l, found[i]![1] / 2 ** l, once),
    from,
    to.length,
    found,
    points.map((p, i) => (there[i] ? p : null)),
    STEPS,
  );
  return there.map((q, i) => {
    const b = back[i];
    const p = points[i]!;
    return q && b && Math.hypot(b[0] - p[0], b[1] - p[1]) <= within ? q : null;
  });
}
