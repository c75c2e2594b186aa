/** How wide a pixel is for its height, as files say it. */
import { gcd } from '../core/math/stats';
import type { Aspect } from './picture';

/** Beyond these it is no lens and no standard, but a damaged number. */
const [LEAST, MOST] = [1 / 8, 8];

/**
 * The fraction of a ratio, by its continued fraction: the first that lies within a hundred-thousandth. Null for what
 * is no shape of a pixel. What differs from a square by less than a thousandth was rounded.
 */
export function aspectOfRatio(x: number): Aspect | null {
  if (!(x >= LEAST && x <= MOST)) return null;
  if (Math.abs(x - 1) < 1e-3) return [1, 1];
  let [p0, q0, p1, q1] = [0, 1, 1, 0];
  for (let r = x, i = 0; i < 32; i++) {
    const a = Math.floor(r);
    [p0, q0, p1, q1] = [p1, q1, a * p1 + p0, a * q1 + q0];
    if (Math.abs(p1 / q1 - x) < 1e-5 * x || q1 > 10_000) break;
    r = 1 / (r - a);
  }
  const d = gcd(p1, q1);
  return [p1 / d, q1 / d];
}
/** Usual ones: ITU-T H.264 table E-1, and lenses that squeeze. */
export const USUAL: readonly Aspect[] = [
  [1, 1],
  [8, 9],
  [10, 11],
  [16, 15],
  [12, 11],
  [32, 27],
  [4, 3],
  [64, 45],
  [16, 11],
  [3, 2],
  [8, 5],
  [9, 5],
  [2, 1],
];
/**
 * A fraction that was found by the width of the shown picture in whole pixels, as WebM's is: the usual one that gives
 * that very width, else as it is.
 */
export function beforeRounding([num, den]: Aspect, width: number): Aspect {
  const shown = Math.round((width * num) / den);
  const off = ([a, b]: Aspect): number => Math.abs((a * den) / (b * num) - 1);
  const near = USUAL.filter((u) => Math.round((width * u[0]) / u[1]) === shown && off(u) < 0.01);
  return near.sort((a, b) => off(a) - off(b))[0] ?? [num, den];
}
export const isSquare = ([num, den]: Aspect): boolean => num === den;
