/** A motion that most pairs of points agree on: RANSAC (Fischler and Bolles 1981), then least squares over those. */
import { rng } from '../math/rng';
import { mapPoint } from '../graph/track';
import type { Homography } from '../graph/track';
import type { Point } from './points';

export type MotionKind = 'position' | 'similarity' | 'perspective';
export interface Pair {
  from: Point;
  to: Point;
  /** How much it counts in a fit of all, in any unit; 1 where it is not said. */
  weight?: number;
}
export const multiplyMaps = (a: Homography, b: Homography): Homography => {
  const out = new Array<number>(9).fill(0);
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) for (let k = 0; k < 3; k++) out[3 * i + j]! += a[3 * i + k]! * b[3 * k + j]!;
  return out.map((v) => v / out[8]!);
};
export function invertMap(h: Homography): Homography {
  const [a, b, c, d, e, f, g, i, k] = h as [number, number, number, number, number, number, number, number, number];
  const out = [
    e * k - f * i,
    c * i - b * k,
    b * f - c * e,
    f * g - d * k,
    a * k - c * g,
    c * d - a * f,
    d * i - e * g,
    b * g - a * i,
    a * e - b * d,
  ];
  return out.map((v) => v / out[8]!);
}
/** The same map about another corner: what is a window's own place becomes the frame's. */
export const shifted = (h: Homography, dx: number, dy: number): Homography =>
  multiplyMaps(multiplyMaps([1, 0, dx, 0, 1, dy, 0, 0, 1], h), [1, 0, -dx, 0, 1, -dy, 0, 0, 1]);
/** How many pairs a motion needs. */
export const LEAST: Readonly<Record<MotionKind, number>> = { position: 1, similarity: 2, perspective: 4 };

/** Solves n equations in place; null where they say nothing. Gauss with row exchange. */
function solve(m: number[][], n: number): number[] | null {
  for (let c = 0; c < n; c++) {
    let p = c;
    for (let r = c + 1; r < n; r++) if (Math.abs(m[r]![c]!) > Math.abs(m[p]![c]!)) p = r;
    if (!(Math.abs(m[p]![c]!) > 1e-12)) return null;
    [m[c], m[p]] = [m[p]!, m[c]!];
    for (let r = 0; r < n; r++) {
      if (r === c) continue;
      const k = m[r]![c]! / m[c]![c]!;
      for (let j = c; j <= n; j++) m[r]![j]! -= k * m[c]![j]!;
    }
  }
  return m.slice(0, n).map((row, i) => row[n]! / row[i]!);
}
/** Least squares over all pairs; null where they do not determine it. */
export function fitAll(pairs: readonly Pair[], kind: MotionKind): Homography | null {
  const n = pairs.length;
  if (n < LEAST[kind]) return null;
  const all = weightOf(pairs);
  const mean = (f: (p: Pair) => number): number => pairs.reduce((a, p) => a + (p.weight ?? 1) * f(p), 0) / all;
  const [fx, fy] = [mean((p) => p.from[0]), mean((p) => p.from[1])];
  const [tx, ty] = [mean((p) => p.to[0]), mean((p) => p.to[1])];
  if (kind === 'position') return [1, 0, tx - fx, 0, 1, ty - fy, 0, 0, 1];
  if (kind === 'similarity') {
    let [a, b, k] = [0, 0, 0];
    for (const { from, to, weight = 1 } of pairs) {
      const [x, y, u, v] = [from[0] - fx, from[1] - fy, to[0] - tx, to[1] - ty];
      a += weight * (x * u + y * v);
      b += weight * (x * v - y * u);
      k += weight * (x * x + y * y);
    }
    if (!(k > 1e-9)) return null;
    [a, b] = [a / k, b / k];
    return [a, -b, tx - a * fx + b * fy, b, a, ty - b * fx - a * fy, 0, 0, 1];
  }
  // Eight numbers of the map about both means, at one size (Hartley 1997): the last stays 1.
  const size = Math.max(
    1,
    mean((p) => Math.hypot(p.from[0] - fx, p.from[1] - fy)),
  );
  const m = Array.from({ length: 8 }, () => new Array<number>(9).fill(0));
  for (const { from, to, weight = 1 } of pairs) {
    const [x, y] = [(from[0] - fx) / size, (from[1] - fy) / size];
    const [u, v] = [(to[0] - tx) / size, (to[1] - ty) / size];
    for (const [row, at] of [
      [[x, y, 1, 0, 0, 0, -u * x, -u * y], u],
      [[0, 0, 0, x, y, 1, -v * x, -v * y], v],
    ] as const)
      for (let i = 0; i < 8; i++) {
        for (let j = 0; j < 8; j++) m[i]![j]! += weight * row[i]! * row[j]!;
        m[i]![8]! += weight * row[i]! * at;
      }
  }
  const s = solve(m, 8);
  if (!s) return null;
  const back: Homography = [size, 0, tx, 0, size, ty, 0, 0, 1];
  const there: Homography = [1 / size, 0, -fx / size, 0, 1 / size, -fy / size, 0, 0, 1];
  return multiplyMaps(multiplyMaps(back, [...s, 1]), there);
}

const KINDS: readonly MotionKind[] = ['position', 'similarity', 'perspective'];
const NUMBERS: Readonly<Record<MotionKind, number>> = { position: 2, similarity: 4, perspective: 8 };
/**
 * By how much what a richer motion explains must pass what chance explains, for it to be taken at all. 1 were fair if
 * points were off independently of each other; light that wanders over cloth takes many of them along.
 */
const STANDS_OUT = 4;
/**
 * Points of what is flat are found to so many pixels, noise of 2 % included (photographs: 0.01 to 0.08). What scatters
 * further bulges, folds or shines, and looks tilted for that: a tilt must then stand out further, by the square of it,
 * up to `MOST` times chance.
 */
const FLAT = 0.05;
const MOST = 40;
const ROUNDS = 3;
/**
 * Least squares over all pairs, where what a richer motion adds to a simpler one counts as far as it stands out of the
 * scatter that is left (W. James, C. Stein, "Estimation with quadratic loss", 4th Berkeley Symposium, 1961; with no
 * negative share): a shape that only slides does not tremble for being allowed to tilt. Null where the pairs do not
 * determine it.
 */
export function fitCalm(pairs: readonly Pair[], kind: MotionKind): Homography | null {
  const left = (h: Homography): number => pairs.reduce((a, p) => a + (p.weight ?? 1) * squared(h, p), 0);
  let calm: Homography | null = null;
  let before = 0;
  for (const k of KINDS.slice(0, KINDS.indexOf(kind) + 1)) {
    const h = fitAll(pairs, k);
    if (!h) return null;
    if (calm) {
      const after = left(h);
      const more = NUMBERS[k] - NUMBERS[KINDS[KINDS.indexOf(k) - 1]!];
      const chance = (more * after) / Math.max(1, 2 * pairs.length - NUMBERS[k]);
      const gained = before - after;
      const asked = k === 'perspective' ? askedOfTilts(after / (2 * weightOf(pairs))) : STANDS_OUT;
      const share = gained > 0 ? Math.max(0, 1 - (asked * chance) / gained) : 0;
      // About the middle of the points: what is mixed are turns and tilts there, not what they do far away.
      const [x, y] = middle(pairs);
      const [a, b] = [shifted(calm, -x, -y), shifted(h, -x, -y)];
      calm = shifted(
        a.map((v, i) => v + share * (b[i]! - v)),
        x,
        y,
      );
    } else calm = h;
    before = left(calm);
  }
  return calm;
}
/**
 * The same, drawn to what most say: pairs count the less the further they are off, and nothing from `within` pixels on
 * (the biweight of A. Beaton, J. Tukey, Technometrics 16, 1974, in three rounds). Null where they do not determine it.
 */
export function fitFirm(pairs: readonly Pair[], kind: MotionKind, within: number): Homography | null {
  let h = fitCalm(pairs, kind);
  for (let round = 0; h && round < ROUNDS; round++) {
    const from: Homography = h;
    const near = pairs
      .map((p) => ({ ...p, weight: (p.weight ?? 1) * Math.max(0, 1 - squared(from, p) / within ** 2) ** 2 }))
      .filter((p) => p.weight > 0);
    if (near.length < 2 * LEAST[kind]) break;
    h = fitCalm(near, kind) ?? h;
  }
  return h;
}
const weightOf = (pairs: readonly Pair[]): number => pairs.reduce((a, p) => a + (p.weight ?? 1), 0);
/** Of the mean of squares that is left along each side. */
const askedOfTilts = (left: number): number => Math.max(STANDS_OUT, Math.min(MOST, (STANDS_OUT * left) / FLAT ** 2));
const middle = (pairs: readonly Pair[]): Point => [
  pairs.reduce((a, p) => a + p.from[0], 0) / pairs.length,
  pairs.reduce((a, p) => a + p.from[1], 0) / pairs.length,
];
const squared = (h: Homography, { from, to }: Pair): number => {
  const [u, v] = mapPoint(h, ...from);
  return (u - to[0]) ** 2 + (v - to[1]) ** 2;
};

export interface Agreement {
  h: Homography;
  /** Of each pair, whether it agrees. */
  agrees: boolean[];
  count: number;
}
/** The motion that most pairs agree on within so many pixels; null where none is to be had. */
export function agree(pairs: readonly Pair[], kind: MotionKind, within: number): Agreement | null {
  const least = LEAST[kind];
  if (pairs.length < least) return null;
  const random = rng(pairs.length * 31 + least);
  const off = (h: Homography, p: Pair): number => {
    const [u, v] = mapPoint(h, ...p.from);
    return Math.hypot(u - p.to[0], v - p.to[1]);
  };
  const count = (h: Homography): number => pairs.reduce((a, p) => a + (off(h, p) <= within ? 1 : 0), 0);
  let best: Homography | null = null;
  let most = 0;
  const tries = kind === 'position' ? pairs.length : kind === 'similarity' ? 150 : 300;
  for (let t = 0; t < tries; t++) {
    const chosen = new Set<number>();
    if (kind === 'position') chosen.add(t);
    else while (chosen.size < least) chosen.add(Math.floor(random() * pairs.length));
    const h = fitAll(
      [...chosen].map((i) => pairs[i]!),
      kind,
    );
    if (!h) continue;
    const c = count(h);
    if (c > most) [best, most] = [h, c];
  }
  if (!best) return null;
  let h = best;
  for (let round = 0; round < 3; round++) {
    const next = fitAll(
      pairs.filter((p) => off(h, p) <= within),
      kind,
    );
    if (!next || count(next) < most * 0.9) break;
    h = next;
  }
  const agrees = pairs.map((p) => off(h, p) <= within);
  return { h, agrees, count: agrees.filter(Boolean).length };
}
