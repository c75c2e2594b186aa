/** What decoding a still gives, what can go wrong, and how large a picture may be. */
import type { EncodingRef } from '../core/color/encodings';

export const MAX_FILE_BYTES = 640 * 2 ** 20;
export const MAX_SIDE = 8192;
export const MAX_PIXELS = MAX_SIDE * MAX_SIDE;

export type MediaErrorCode = 'empty' | 'unknown' | 'truncated' | 'too-large' | 'unsupported' | 'profile';

/** The message says the fault, `remedy` what to do; the caller adds the file's name. */
export class MediaError extends Error {
  override name = 'MediaError';
  constructor(
    readonly code: MediaErrorCode,
    fault: string,
    readonly remedy: string,
  ) {
    super(fault);
  }
}
export const damaged = (kind: string, e: unknown): MediaError => new MediaError('truncated', `the ${kind} data are damaged or cut off (${String((e as Error).message ?? e).replace(/\s+/g, ' ').slice(0, 160)})`, 'Copy or export it again.');

export type Samples = Uint8Array | Uint16Array | Float32Array;
export type StillFormat = 'png' | 'jpeg' | 'tiff' | 'exr' | 'webp' | 'avif';
export interface DecodedPicture {
  width: number;
  height: number;
  /** Of one channel in the file; 32 for floating point, half or full: the values are as they stand. */
  bits: 8 | 10 | 12 | 16 | 32;
  format: StillFormat;
  /** Interleaved R'G'B', full range 0..2^bits - 1, or floating point. */
  rgb: Samples;
  /** What was done on the way or left out, in words. */
  notes: string[];
  /** What the file says of its encoding, or what its kind suggests: a guess until somebody confirms it. */
  encoding: EncodingRef;
  /** The file has transparency. */
  alpha: boolean;
  /** Kept transparency, in the same units as rgb. */
  alphaPlane?: Samples;
}
/** What a person chooses for pictures that come in. */
export interface DecodeOptions {
  /** `keep`: alpha goes through to the written picture; `flatten`: the picture is laid over black. */
  alpha: 'keep' | 'flatten';
  /** Profiles that are no matrix and curves: refused with a message, or the numbers taken as sRGB. */
  profile: 'refuse' | 'assume';
}
export const defaultDecode: DecodeOptions = { alpha: 'flatten', profile: 'refuse' };

/** As a format's reader leaves it: 1 to 4 channels, interleaved. */
export interface Raw {
  width: number;
  height: number;
  bits: DecodedPicture['bits'];
  format: StillFormat;
  channels: 1 | 2 | 3 | 4;
  data: Samples;
  notes: string[];
  encoding: EncodingRef;
  /** EXIF and TIFF orientation, 1 to 8. */
  orientation?: number;
  icc?: Uint8Array;
  /** Colour is already multiplied by alpha. */
  premultiplied?: boolean;
}

export function checkSize(w: number, h: number): void {
  if (!(w >= 1 && h >= 1)) throw new MediaError('truncated', 'the file gives a size of zero', 'Export it again from where it came.');
  if (w > MAX_SIDE || h > MAX_SIDE) throw new MediaError('too-large', `the picture has ${w} x ${h} pixels, more than ${MAX_SIDE} on a side`, 'Scale it down and import the smaller one.');
}

/** ITU-T H.273 code points (PNG cICP, AVIF nclx) that stand for an encoding known here; null for others. */
export function encodingOfCicp(primaries: number, transfer: number): EncodingRef | null {
  if (transfer === 16) return 'pq';
  if (transfer === 18) return 'hlg';
  if (transfer === 8) return primaries === 1 ? 'linear709' : null;
  if (primaries === 9) return [1, 6, 14, 15].includes(transfer) ? 'bt2020' : null;
  if (primaries === 12) return transfer === 13 ? 'p3' : null;
  if (primaries === 1 || primaries === 2) return transfer === 13 || transfer === 2 ? 'srgb' : transfer === 1 || transfer === 6 ? 'bt1886' : null;
  return null;
}
