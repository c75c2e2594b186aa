/** Colours as hex codes. A code means sRGB (IEC 61966-2-1), whatever display a shot is for. */
import { decode, encode, resolveEncoding } from './encodings';
import { linearToOklab, oklabToLinear } from './oklab';

const SRGB = resolveEncoding('srgb');
/** Of #rrggbb. */
export const labOfHex = (hex: string): [number, number, number] =>
  linearToOklab(
    ...([1, 3, 5].map((i) => decode(SRGB, parseInt(hex.slice(i, i + 2), 16) / 255)) as [number, number, number]),
  );
/** The nearest code; what sRGB cannot show is cut channel by channel. */
export const hexOfLab = ([L, a, b]: readonly number[]): string =>
  `#${oklabToLinear(L!, a!, b!)
    .map((v) =>
      Math.round(255 * Math.min(1, Math.max(0, encode(SRGB, v))))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
