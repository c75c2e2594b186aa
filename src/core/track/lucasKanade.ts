/**
 * Where points of one pyramid lie in another: pyramidal Lucas-Kanade in the inverse compositional form (Baker and
 * Matthews 2004), each window brought to the level and contrast of the other, so that a change of light moves nothing.
 * Sums go over the even and the odd pixels apart, as two lanes do: the twin in WebAssembly (kernels/lucasKanade.ts) is
 * this to the bit.
 */
import type { Grey } from './image';
import type { Point } from './points';

/** Half a window: 21 pixels across. */
const R = 10;
const SIDE = 2 * R + 1;
const N = SIDE * SIDE;
/** Half a window with a border of one pixel, for its gradients. */
const WIDE = SIDE + 2;
/** A place may lie so far beyond the edge: half a window, and a step. */
export const BEYOND = R + 4;
/** Pixels of border about a picture, each the nearest one of it: windows that reach over the edge need no question. */
export const PAD = BEYOND + R + 3;
/** A step so short is the last one, squared: pixels of a level. Rough: what is looked at again, finer. */
const CLOSE = 1e-5;
const ROUGH = 1e-3;
const STEPS = 12;
const ROUGH_STEPS = 8;

export interface Found {
  at: Point;
  /** How alike the two windows are, -1..1, whatever their level and contrast. */
  like: number;
  /** One over the variance of the place, along which it is known worst: slopes over what the windows differ by. */
  weight: number;
}
export interface How {
  /** To a hundredth of a pixel instead of a thirtieth. */
  fine: boolean;
  /** Of the pyramid only so many, from the finest on: it is known to lie near. */
  levels?: number;
  /** Only those that lead back to where they began, to so many pixels. */
  within?: number;
}
/** Points of one pyramid found in another, from where they were; null where one is not found. */
export type Find = (from: readonly Grey[], to: readonly Grey[], points: readonly Point[], how: How) => (Found | null)[];
let find: Find = foundBy;
/** Another way to do the same to the bit, from now on in this thread (engine/following.ts). */
export function findBy(other: Find): void {
  find = other;
}
export const findPoints: Find = (from, to, points, how) => find(from, to, points, how);

/** With its border, in rows of w + 2 PAD. */
export function padded({ w, h, data }: Grey): Float32Array {
  const wide = w + 2 * PAD;
  const out = new Float32Array(wide * (h + 2 * PAD));
  for (let y = -PAD; y < h + PAD; y++) {
    const from = Math.max(0, Math.min(h - 1, y)) * w;
    const o = (y + PAD) * wide;
    out.fill(data[from]!, o, o + PAD);
    out.set(data.subarray(from, from + w), o + PAD);
    out.fill(data[from + w - 1]!, o + PAD + w, o + wide);
  }
  return out;
}
interface Padded {
  w: number;
  h: number;
  data: Float32Array;
}
const withBorder = (g: Grey): Padded => ({ w: g.w, h: g.h, data: padded(g) });
const bounded = (v: number, n: number): number => Math.max(-BEYOND, Math.min(n - 1 + BEYOND, v));

/** Between pixels about (x, y), (2 r + 1) by (2 r + 1), in rows. */
function sample(g: Padded, px: number, py: number, r: number, out: Float64Array): void {
  const side = 2 * r + 1;
  const [x, y] = [bounded(px, g.w), bounded(py, g.h)];
  const [fx, fy] = [x - Math.floor(x), y - Math.floor(y)];
  const wide = g.w + 2 * PAD;
  const from = (Math.floor(y) - r + PAD) * wide + Math.floor(x) - r + PAD;
  // All of it lies equally between its pixels: the weights are found once.
  const [w00, w10, w01, w11] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
  const { data } = g;
  for (let j = 0, k = 0; j < side; j++)
    for (let n = 0, i = from + j * wide; n < side; n++, k++, i++)
      out[k] = w00 * data[i]! + w10 * data[i + 1]! + w01 * data[i + wide]! + w11 * data[i + wide + 1]!;
}
const wide = new Float64Array(WIDE * WIDE);
const current = new Float64Array(N);
/** Of the products of two windows. */
function dot(a: Float64Array, b: Float64Array): number {
  let [even, odd] = [a[0]! * b[0]!, 0];
  for (let k = 1; k < N; k += 2) {
    odd += a[k]! * b[k]!;
    even += a[k + 1]! * b[k + 1]!;
  }
  return even + odd;
}
/** A window less its mean. */
function centred(a: Float64Array): void {
  let [even, odd] = [a[0]!, 0];
  for (let k = 1; k < N; k += 2) {
    odd += a[k]!;
    even += a[k + 1]!;
  }
  const mean = (even + odd) / N;
  for (let k = 0; k < N; k++) a[k]! -= mean;
}

/** What is looked for: a window less its mean, its gradients, their structure tensor. */
class Look {
  readonly t = new Float64Array(N);
  readonly gx = new Float64Array(N);
  readonly gy = new Float64Array(N);
  a = 0;
  b = 0;
  c = 0;
  /** The window with its own gradients, and with itself. */
  tu = 0;
  tv = 0;
  power = 0;
  /** Nothing tells where it is: one colour, or one direction only. */
  blank = true;

  set(g: Padded, x: number, y: number): void {
    const { t, gx, gy } = this;
    sample(g, x, y, R + 1, wide);
    for (let j = 0, k = 0; j < SIDE; j++)
      for (let i = 0, m = (j + 1) * WIDE + 1; i < SIDE; i++, k++, m++) {
        t[k] = wide[m]!;
        gx[k] = (wide[m + 1]! - wide[m - 1]!) / 2;
        gy[k] = (wide[m + WIDE]! - wide[m - WIDE]!) / 2;
      }
    centred(t);
    this.power = dot(t, t);
    this.tu = dot(t, gx);
    this.tv = dot(t, gy);
    const a = (this.a = dot(gx, gx));
    const b = (this.b = dot(gx, gy));
    const c = (this.c = dot(gy, gy));
    this.blank = !(a * c - b * b > 1e-12 * (a + c) * (a + c)) || !(this.power > 0);
  }
}
/** A look found in `to` from (qx, qy) on; null where nothing tells where it is. */
function search(look: Look, to: Padded, qx: number, qy: number, steps: number, close: number): Point | null {
  if (look.blank) return null;
  const { t, gx, gy, a, b, c } = look;
  const least = (a * c - b * b) / 16;
  const cur = current;
  let [x, y] = [qx, qy];
  // How what is left over answers to a step. Noise stands in the structure tensor as if it were slopes, so that steps
  // by it fall short, each by the same share: what the last step did tells better (Broyden 1965).
  let [j00, j01, j10, j11] = [a, b, b, c];
  let [sx, sy, u0, v0] = [0, 0, 0, 0];
  for (let s = 0; s < steps; s++) {
    if (!(x >= -R && y >= -R && x <= to.w - 1 + R && y <= to.h - 1 + R)) return null;
    sample(to, x, y, R, cur);
    centred(cur);
    const p = dot(cur, cur);
    if (!(p > 0)) return null;
    // The other window's contrast, but never turned round.
    const gain = Math.max(0.25, Math.min(4, dot(cur, t) / p));
    const u = look.tu - gain * dot(cur, gx);
    const v = look.tv - gain * dot(cur, gy);
    const far = sx * sx + sy * sy;
    if (far > 0) {
      const eu = (u0 - u - j00 * sx - j01 * sy) / far;
      const ev = (v0 - v - j10 * sx - j11 * sy) / far;
      j00 += eu * sx;
      j01 += eu * sy;
      j10 += ev * sx;
      j11 += ev * sy;
      // Steps many times as long as by the tensor are no better than guesses.
      if (!(j00 * j11 - j01 * j10 > least)) [j00, j01, j10, j11] = [a, b, b, c];
    }
    const d = j00 * j11 - j01 * j10;
    const dx = (j11 * u - j01 * v) / d;
    const dy = (j00 * v - j10 * u) / d;
    sx = Math.max(-4, Math.min(4, dx));
    sy = Math.max(-4, Math.min(4, dy));
    [u0, v0] = [u, v];
    x += sx;
    y += sy;
    if (dx * dx + dy * dy < close) break;
  }
  return [x, y];
}
function likeness(look: Look, to: Padded, [x, y]: Point): number {
  const cur = current;
  sample(to, x, y, R, cur);
  centred(cur);
  const p = dot(cur, cur);
  return look.power > 0 && p > 0 ? dot(cur, look.t) / Math.sqrt(look.power * p) : 0;
}
/** Slopes of nothing but noise count no more than a millionth of what differs. */
const SAME = 1e-6;
function weightOf({ a, b, c, power }: Look, like: number): number {
  const half = (a - c) / 2;
  const least = (a + c) / 2 - Math.sqrt(half * half + b * b);
  return (N * least) / (power * (1 - like * like + SAME));
}
/** From a guess on, coarse to fine; `look` is left as that of the finest level. */
function descend(
  look: Look,
  from: readonly Padded[],
  to: readonly Padded[],
  [px, py]: Point,
  [gx, gy]: Point,
  how: How,
): Point | null {
  const top = Math.min(from.length, to.length, how.levels ?? Infinity) - 1;
  let [dx, dy] = [(gx - px) / 2 ** top, (gy - py) / 2 ** top];
  for (let l = top; l >= 0; l--) {
    const k = 2 ** l;
    const fine = l === 0 && how.fine;
    look.set(from[l]!, px / k, py / k);
    const q = search(look, to[l]!, px / k + dx, py / k + dy, fine ? STEPS : ROUGH_STEPS, fine ? CLOSE : ROUGH);
    // What a coarse level cannot tell a finer one may.
    if (q) [dx, dy] = [q[0] - px / k, q[1] - py / k];
    else if (l === 0) return null;
    if (l > 0) [dx, dy] = [2 * dx, 2 * dy];
  }
  return [px + dx, py + dy];
}
/** As defined; see Find. */
export function foundBy(
  from: readonly Grey[],
  to: readonly Grey[],
  points: readonly Point[],
  how: How,
): (Found | null)[] {
  const [a, b] = [from.map(withBorder), to.map(withBorder)];
  const [there, back] = [new Look(), new Look()];
  return points.map((p) => {
    const q = descend(there, a, b, p, p, how);
    if (!q) return null;
    if (how.within !== undefined) {
      const r = descend(back, b, a, q, p, how);
      if (!r || !(Math.sqrt((r[0] - p[0]) ** 2 + (r[1] - p[1]) ** 2) <= how.within)) return null;
    }
    const like = likeness(there, b[0]!, q);
    return { at: q, like, weight: weightOf(there, like) };
  });
}
