/** From a signal to OKLab by a table of its curve and a matrix to BT.709, as keys that look at colour hold them. */
import { decode, rgbToRgb } from '../color/encodings';
import type { Encoding } from '../color/encodings';
import { linearToOklab } from '../color/oklab';

/** Steps of the table from signal to light. */
export const CELLS = 1024;
/** Numbers of the matrix and the table together. */
export const LIGHT_BLOCK = 9 + CELLS + 1;

/** The matrix, then the table. Light over four times white is cut there. */
export const lightBlock = (e: Encoding): number[] => [
  ...rgbToRgb(e.primaries, 'bt709'),
  ...Array.from({ length: CELLS + 1 }, (_, i) => Math.min(4, Math.max(0, decode(e, i / CELLS)))),
];
/** OKLab of a signal by such a block that begins at `at`; what is below 0 or no number is dark, above 1 as 1. */
export function labOf(k: Float32Array, at: number, R: number, G: number, B: number): [number, number, number] {
  const light = (v: number): number => {
    const c = v > 0 ? Math.min(CELLS - 1e-3, v * CELLS) : 0;
    const i = Math.floor(c);
    const t = at + 9 + i;
    return k[t]! + (c - i) * (k[t + 1]! - k[t]!);
  };
  const [r, g, b] = [light(R), light(G), light(B)];
  const row = (i: number): number => k[at + i]! * r + k[at + i + 1]! * g + k[at + i + 2]! * b;
  return linearToOklab(row(0), row(3), row(6));
}
/** OKLab of R'G'B' samples, both one after the other. */
export function labsOf(e: Encoding, rgb: ArrayLike<number>): number[] {
  const way = Float32Array.from(lightBlock(e));
  return Array.from({ length: rgb.length / 3 }, (_, i) =>
    labOf(way, 0, rgb[3 * i]!, rgb[3 * i + 1]!, rgb[3 * i + 2]!),
  ).flat();
}
