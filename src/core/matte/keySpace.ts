/** What the ranges of a key are measured in: the scopes' own terms, or OKLCh. */
import { resolveEncoding } from '../color/encodings';
import type { Encoding } from '../color/encodings';
import { rgbToYcbcr } from '../color/ycbcr';
import { labOf, lightBlock } from './light';

export type KeySpace = 'scope' | 'oklch';
type Triple = [number, number, number];

/** OKLab's a and b as Cb and Cr, so that chroma in % is that of 0.4. */
const AB = 250 / 200;
/** Luma (or lightness) and two colour axes of a signal, as a key of that space measures them. */
export function measure(space: KeySpace, encoding?: Encoding): (r: number, g: number, b: number) => Triple {
  if (space === 'scope') return rgbToYcbcr;
  const way = Float32Array.from(lightBlock(encoding ?? resolveEncoding('srgb')));
  return (r, g, b) => {
    const [L, u, v] = labOf(way, 0, r, g, b);
    return [Number.isFinite(r + g + b) ? L : NaN, AB * u, AB * v];
  };
}
