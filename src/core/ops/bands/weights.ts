/** How much of each band a hue has: soft at the borders, together always 1. */
import { MOST } from './params';

const turn = (deg: number): number => ((deg % 360) + 360) % 360;
/** Rising from 0 on, each once; two that are the same are one border. */
export const sortedBorders = (borders: readonly number[]): number[] =>
  [...new Set(borders.map(turn))].sort((a, b) => a - b).slice(0, MOST);

/**
 * Weights of the bands at a hue, band i from border i to the next one.
 *
 * @param borders as `sortedBorders` has them
 */
export function weightsAt(borders: readonly number[], softDeg: number, hue: number): number[] {
  const n = borders.length;
  const out = new Array<number>(n).fill(0);
  if (n < 2) return out.fill(1);
  const gap = (i: number): number => turn(borders[(i + 1) % n]! - borders[i]!);
  /** Half of the width over which border i gives way: the two beside it may not overlap with it. */
  const half = (i: number): number => Math.min(softDeg, gap(i), gap((i + n - 1) % n)) / 2;
  const h = turn(hue);
  // The band that it lies in, and how far it is from either border.
  let i = borders.findIndex((b, k) => turn(h - b) < gap(k));
  if (i < 0) i = n - 1;
  const [left, right] = [turn(h - borders[i]!), gap(i) - turn(h - borders[i]!)];
  const next = (i + 1) % n;
  const rise = (d: number, w: number): number => {
    if (w <= 0) return 1;
    const t = Math.min(1, Math.max(0, 0.5 + d / (2 * w)));
    return t * t * (3 - 2 * t);
  };
  const [a, b] = [rise(left, half(i)), rise(right, half(next))];
  // Transitions end before the middle, so that of the two at most one is not whole.
  out[i] = a + b - 1;
  out[(i + n - 1) % n]! += 1 - a;
  out[next]! += 1 - b;
  return out;
}
/** Turn, saturation, level of a band. */
export const valuesOfBand = (values: readonly number[], i: number): [turn: number, sat: number, level: number] => [
  values[3 * i] ?? 0,
  values[3 * i + 1] ?? 0,
  values[3 * i + 2] ?? 0,
];
