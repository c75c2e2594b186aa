/** Transfer curves. `decode` gives linear light, `encode` the signal. Negative values are mirrored about 0. */
import { decode, encode } from './encodings';
import type { Encoding } from './encodings';

export interface TransferCurve {
  readonly id: string;
  readonly title: string;
  readonly ref: string;
  encode(linear: number): number;
  decode(signal: number): number;
}

const odd =
  (f: (x: number) => number) =>
  (x: number): number =>
    x < 0 ? -f(-x) : f(x);

/** IEC 61966-2-1: sRGB. Proving number: linear 0.18 -> 0.4613561. */
export const srgb: TransferCurve = {
  id: 'srgb',
  title: 'sRGB',
  ref: 'IEC 61966-2-1',
  encode: odd((x) => (x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055)),
  decode: odd((x) => (x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4)),
};

/** ITU-R BT.1886, black level 0: a pure power of 2.4. Proving number: linear 0.18 -> 0.4894364. */
export const bt1886: TransferCurve = {
  id: 'bt1886',
  title: 'BT.709 / BT.1886',
  ref: 'ITU-R BT.1886 Annex 1, Lb = 0',
  encode: odd((x) => x ** (1 / 2.4)),
  decode: odd((x) => x ** 2.4),
};

/** Of an encoding, as a pair of functions. */
export const curveOf = (e: Encoding): TransferCurve => ({
  id: e.id,
  title: e.title,
  ref: e.ref,
  encode: (v) => encode(e, v),
  decode: (v) => decode(e, v),
});
