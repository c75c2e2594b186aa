/**
 * Sums over square windows, and what a guided filter needs of them. Numbers are rounded to small powers of two first,
 * so that float64 sums are exact whatever their order: any tiling gives the same bits.
 */
import type { FrameRun } from './contract';

/** Steps of what is summed up: a guide, a matte. */
export const FINE = 2 ** 15;
/** Steps of what a window says. */
const SAID = 2 ** 18;
/** The guide is looked at within this range: light beyond is no edge of its own. */
const [LOW, HIGH] = [-0.5, 2];

/** Beyond the border pixels stand mirrored, the outermost twice. */
export function mirror(i: number, n: number): number {
  const m = ((i % (2 * n)) + 2 * n) % (2 * n);
  return m < n ? m : 2 * n - 1 - m;
}
export const guide = (v: number, fine = FINE): number =>
  Math.floor((v > LOW ? (v < HIGH ? v : HIGH) : LOW) * fine + 0.5) / fine;
export const said = (v: number): number => Math.floor(v * SAID + 0.5) / SAID;

/** Sums of `terms` numbers of a pixel over square windows, row by row. `read` puts a pixel's numbers into `at`. */
export function windows(
  { w, h, y0, y1 }: FrameRun,
  r: number,
  terms: number,
  read: (x: number, y: number, at: Float64Array) => void,
  use: (x: number, y: number, sums: Float64Array) => void,
): void {
  const columns = new Float64Array(terms * w);
  const one = new Float64Array(terms);
  const sums = new Float64Array(terms);
  const addRow = (y: number, sign: 1 | -1): void => {
    const yy = mirror(y, h);
    for (let x = 0; x < w; x++) {
      read(x, yy, one);
      for (let t = 0; t < terms; t++) columns[t * w + x]! += sign * one[t]!;
    }
  };
  for (let y = y0 - r; y < y0 + r; y++) addRow(y, 1);
  for (let y = y0; y < y1; y++) {
    addRow(y + r, 1);
    for (let t = 0; t < terms; t++) {
      let s = 0;
      for (let x = -r; x < r; x++) s += columns[t * w + mirror(x, w)]!;
      sums[t] = s;
    }
    for (let x = 0; x < w; x++) {
      for (let t = 0; t < terms; t++) sums[t]! += columns[t * w + mirror(x + r, w)]!;
      use(x, y, sums);
      for (let t = 0; t < terms; t++) sums[t]! -= columns[t * w + mirror(x - r, w)]!;
    }
    addRow(y - r, -1);
  }
}
