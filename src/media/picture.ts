/** What decoding a still gives, what can go wrong, and how large a picture may be. */
import type { EncodingId, EncodingRef } from '../core/color/encodings';
import type { Meaning } from './cicp';
import type { YuvMeaning, YuvPlanes } from '../core/color/yuv';

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
export const damaged = (kind: string, e: unknown): MediaError =>
  new MediaError(
    'truncated',
    `the ${kind} data are damaged or cut off (${String((e as Error).message ?? e)
      .replace(/\s+/g, ' ')
      .slice(0, 160)})`,
    'Copy or export it again.',
  );

export type Samples = Uint8Array | Uint16Array | Float32Array;
export type StillFormat = 'png' | 'jpeg' | 'tiff' | 'exr' | 'webp' | 'avif';
export type ClipFormat = 'mp4' | 'webm';
/** Width of a pixel over its height, as a fraction. */
export type Aspect = readonly [num: number, den: number];
export interface DecodedPicture {
  width: number;
  height: number;
  /** Of one channel in the file; 32 for floating point, half or full: the values are as they stand. */
  bits: 8 | 10 | 12 | 16 | 32;
  format: StillFormat | ClipFormat;
  /** Interleaved R'G'B', full range 0..2^bits - 1, or floating point; empty where `yuv` holds the picture. */
  rgb: Samples;
  /** A clip's frame as its decoder gave it, and how it is to be read. */
  yuv?: { planes: YuvPlanes; meaning: YuvMeaning };
  /** What was done on the way or left out, in words. */
  notes: string[];
  /** What the file says of its encoding, or what its kind suggests: a guess until somebody confirms it. */
  encoding: EncodingRef;
  /** The file has transparency. */
  alpha: boolean;
  /** Kept transparency, in the same units as rgb. */
  alphaPlane?: Samples;
  /** Of a still that says its pixels are not square. */
  pixelAspect?: Aspect;
}
/** A picture as a file holds it: interleaved, one channel is grey, three are RGB, four RGB with alpha. */
export interface Codes {
  width: number;
  height: number;
  channels: 1 | 3 | 4;
  bits: 8 | 16;
  data: Uint8Array<ArrayBuffer> | Uint16Array<ArrayBuffer>;
  /** A pixel each, 1 where a correction reaches: there a coder of fewer bits may add its noise. */
  reached?: Uint8Array<ArrayBuffer>;
}
/** The same in half floats of linear light. */
export interface Halves {
  width: number;
  height: number;
  channels: 1 | 3 | 4;
  bits: 'half';
  /** The halves' bits; transparency is multiplied in. */
  data: Uint16Array<ArrayBuffer>;
  /** Red, green, blue, white: x, y each; null for what is no light, as a matte. */
  chromaticities: readonly number[] | null;
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
  /** What leads to `encoding` where the numbers are not it yet. */
  convert?: Meaning['convert'];
  /** Whole numbers run from 16 to 235 of 255 (or the same of more bits): ITU-T H.273, video_full_range_flag 0. */
  narrow?: boolean;
  /** The part of it that is the picture, before it is turned. */
  crop?: { x: number; y: number; w: number; h: number };
  /** EXIF and TIFF orientations, 1 to 8, one after another. */
  turns?: readonly number[];
  icc?: Uint8Array;
  /** Width of a pixel over its height, before it is turned; left out: square. */
  aspect?: number;
  /** Colour is already multiplied by alpha. */
  premultiplied?: boolean;
}

export function checkSize(w: number, h: number): void {
  if (!(w >= 1 && h >= 1))
    throw new MediaError('truncated', 'the file gives a size of zero', 'Export it again from where it came.');
  if (w > MAX_SIDE || h > MAX_SIDE)
    throw new MediaError(
      'too-large',
      `the picture has ${w} x ${h} pixels, more than ${MAX_SIDE} on a side`,
      'Scale it down and import the smaller one.',
    );
}

/** All memory that a picture holds: to be counted, or given to another thread. */
export const buffersOf = ({ rgb, alphaPlane, yuv }: DecodedPicture): ArrayBuffer[] =>
  [rgb, ...(alphaPlane ? [alphaPlane] : []), ...(yuv ? [yuv.planes.y, yuv.planes.u, yuv.planes.v] : [])].map(
    (a) => a.buffer as ArrayBuffer,
  );

/** What a clip is, as far as its file says it. */
export interface ClipInfo {
  format: ClipFormat;
  /** As its standard is called. */
  codec: string;
  /** As it is looked at, after turning. */
  width: number;
  height: number;
  bits: 8 | 10 | 12;
  frames: number;
  rate: readonly [num: number, den: number];
  pixelAspect: readonly [num: number, den: number];
  timecode: { start: number; drop: boolean };
  encoding: EncodingId;
  meaning: YuvMeaning;
  /** What the file does not say, and was guessed. */
  guessed: ('matrix' | 'range' | 'siting' | 'primaries' | 'transfer')[];
  audio: { codec: string } | null;
  notes: string[];
}
/** A part of a file's sound, in seconds from the clip's first picture on. */
export interface SoundPart {
  file: Blob;
  from: number;
  to: number;
}
/** What was copied: packets are whole, so that the first one may begin a little after the first picture. */
export interface SoundCopied {
  packets: number;
  /** Seconds from the first picture to the first packet. */
  late: number;
}
/** Sound that goes along with what is written, and what it is called in an archive, without its end. */
export interface Along extends SoundPart {
  name: string;
}
