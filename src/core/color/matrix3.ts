/** 3x3 colour matrices, row major, and their application to planar rows. */
import type { PixelRun } from '../op/contract';
import { CB_DIV, CR_DIV, G_CB, G_CR, KB, KG, KR } from './ycbcr';

export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];

/** R'G'B' -> Y'CbCr (BT.709-6 item 3.2, 3.3). */
export const RGB_TO_YCBCR: Matrix3 = [
  KR,
  KG,
  KB,
  -KR / CB_DIV,
  -KG / CB_DIV,
  (1 - KB) / CB_DIV,
  (1 - KR) / CR_DIV,
  -KG / CR_DIV,
  -KB / CR_DIV,
];
/** Y'CbCr -> R'G'B'. */
export const YCBCR_TO_RGB: Matrix3 = [1, 0, CR_DIV, 1, G_CB, G_CR, 1, CB_DIV, 0];

export function multiply(a: Matrix3, b: Matrix3): Matrix3 {
  const o = new Array<number>(9).fill(0);
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) for (let k = 0; k < 3; k++) o[i * 3 + j]! += a[i * 3 + k]! * b[k * 3 + j]!;
  return o as unknown as Matrix3;
}

/** Matrix on R'G'B' that does `m` to (Cb, Cr) and leaves Y' exactly as it was. */
export function onChroma(cbcb: number, cbcr: number, crcb: number, crcr: number): Matrix3 {
  return multiply(YCBCR_TO_RGB, multiply([1, 0, 0, 0, cbcb, cbcr, 0, crcb, crcr], RGB_TO_YCBCR));
}

/** In place: (r, g, b) <- M (r, g, b). NaN and infinity spread to the channels that read them. */
export function applyMatrix(m: Float32Array, { r, g, b, n }: PixelRun): void {
  const [a0, a1, a2, b0, b1, b2, c0, c1, c2] = m as unknown as Matrix3;
  for (let i = 0; i < n; i++) {
    const x = r[i]!;
    const y = g[i]!;
    const z = b[i]!;
    r[i] = a0 * x + a1 * y + a2 * z;
    g[i] = b0 * x + b1 * y + b2 * z;
    b[i] = c0 * x + c1 * y + c2 * z;
  }
}
