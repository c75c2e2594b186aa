/**
 * Triangular dither, the sum of two even ones of a step each: the mean of what is rounded is then the value, and the
 * noise does not change with it (Lipshitz, Wannamaker, Vanderkooy: Quantization and Dither, JAES 40, 1992). The same
 * place in the same frame always has the same noise, so that a render can be repeated.
 */

/** In steps of the code, within -1..1; `i` counts samples of a frame, `frame` frames. */
export function ditherAt(i: number, frame: number): number {
  // The finalizer of MurmurHash3 (public domain by its author, Austin Appleby).
  let h = (i ^ Math.imul(frame + 1, 0x9e3779b1)) | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  h ^= h >>> 16;
  return ((h >>> 16) - (h & 0xffff)) / 65536;
}

/** A value of 0..1 as a code; what lies at or beyond an end stays there: black gets no noise. */
export const ditheredCode = (v: number, most: number, i: number, frame: number): number =>
  v > 0 ? (v < 1 ? Math.min(most, Math.max(0, Math.floor(v * most + ditherAt(i, frame) + 0.5))) : most) : 0;
