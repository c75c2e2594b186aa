/** Bytes of a still -> whole-number R'G'B', the same code in browser, worker and command line, so that numbers agree. */
import { convertIndexedToRgb, decode as decodePng } from 'fast-png';
import type { EncodingRef } from '../core/color/encodings';
import jpeg from 'jpeg-js';

export const MAX_FILE_BYTES = 256 * 2 ** 20;
export const MAX_SIDE = 8192;
export const MAX_PIXELS = 36e6;

export type MediaErrorCode = 'empty' | 'unknown' | 'truncated' | 'too-large' | 'unsupported';

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

export interface DecodedPicture {
  width: number;
  height: number;
  /** Of one channel in the file; 32 for floating point, half or full: the values are as they stand. */
  bits: 8 | 10 | 12 | 16 | 32;
  format: 'png' | 'jpeg' | 'tiff' | 'exr' | 'webp' | 'avif';
  /** Interleaved R'G'B', full range 0..2^bits - 1, or floating point. */
  rgb: Uint8Array | Uint16Array | Float32Array;
  /** What was done on the way or left out, in words. */
  notes: string[];
  /** What the file says of its encoding, or what its kind suggests: a guess until somebody confirms it. */
  encoding: EncodingRef;
  /** The file has transparency (see `alpha` of decodeStill for what was done with it). */
  alpha: boolean;
}

const PNG_MAGIC = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
const FORMATS = 'Rowanleaf opens PNG (8 and 16 bit) and JPEG';

function checkSize(w: number, h: number): void {
  if (w < 1 || h < 1) throw new MediaError('truncated', 'the file gives a size of zero', 'Export it again from where it came.');
  if (w > MAX_SIDE || h > MAX_SIDE || w * h > MAX_PIXELS)
    throw new MediaError('too-large', `the picture has ${w} x ${h} pixels, more than ${MAX_SIDE} on a side or ${MAX_PIXELS / 1e6} million in all`, 'Scale it down and import the smaller one.');
}

export function sniff(bytes: Uint8Array): 'png' | 'jpeg' | null {
  if (PNG_MAGIC.every((v, i) => bytes[i] === v)) return 'png';
  if (bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff) return 'jpeg';
  return null;
}

function png(bytes: Uint8Array): DecodedPicture {
  if (bytes.length < 33) throw new MediaError('truncated', 'the file ends within its header', 'Copy or export it again.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  // The size is read before anything is unpacked, so that a small file cannot claim gigabytes.
  checkSize(view.getUint32(16), view.getUint32(20));
  let p;
  try {
    p = decodePng(bytes, { checkCrc: true });
  } catch (e) {
    throw new MediaError('truncated', `the PNG data are damaged or cut off (${(e as Error).message})`, 'Copy or export it again.');
  }
  const n = p.width * p.height;
  const notes: string[] = [];
  let data: ArrayLike<number> = p.data;
  let channels = p.channels;
  let bits: 8 | 16 = p.depth === 16 ? 16 : 8;
  if (p.palette) {
    const rgb = convertIndexedToRgb(p);
    channels = rgb.length / n;
    data = rgb;
    bits = 8;
  } else if (p.depth < 8) {
    // Grey of 1, 2 or 4 bits: packed rows, spread to the full 8-bit range.
    const rowBytes = Math.ceil((p.width * p.depth) / 8);
    const out = new Uint8Array(n);
    const max = (1 << p.depth) - 1;
    for (let y = 0; y < p.height; y++)
      for (let x = 0; x < p.width; x++) {
        const bit = x * p.depth;
        const v = (p.data[y * rowBytes + (bit >> 3)]! >> (8 - p.depth - (bit & 7))) & max;
        out[y * p.width + x] = (v * 255) / max;
      }
    data = out;
    channels = 1;
  }
  const rgb = bits === 16 ? new Uint16Array(n * 3) : new Uint8Array(n * 3);
  const grey = channels < 3;
  for (let i = 0; i < n; i++) {
    const s = i * channels;
    rgb[3 * i] = data[s]!;
    rgb[3 * i + 1] = data[grey ? s : s + 1]!;
    rgb[3 * i + 2] = data[grey ? s : s + 2]!;
  }
  if (channels === 2 || channels === 4) notes.push('its transparency is left out');
  if (p.iccEmbeddedProfile) notes.push(`its colour profile "${p.iccEmbeddedProfile.name}" is not applied: values are taken as they are`);
  return { width: p.width, height: p.height, bits, format: 'png', rgb, notes, encoding: 'srgb', alpha: channels === 2 || channels === 4 };
}

function jpg(bytes: Uint8Array): DecodedPicture {
  // Frame header: SOF0..SOF15 without DHT, JPG and DAC.
  let at = 2;
  for (;;) {
    while (bytes[at] === 0xff && bytes[at + 1] === 0xff) at++;
    if (at + 9 >= bytes.length || bytes[at] !== 0xff) throw new MediaError('truncated', 'the JPEG data are damaged or cut off', 'Copy or export it again.');
    const marker = bytes[at + 1]!;
    if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc) {
      checkSize((bytes[at + 7]! << 8) | bytes[at + 8]!, (bytes[at + 5]! << 8) | bytes[at + 6]!);
      if (marker > 0xc2) throw new MediaError('unsupported', 'it is a lossless or arithmetic-coded JPEG', 'Save it as PNG or as an ordinary JPEG.');
      if (bytes[at + 9] === 4) throw new MediaError('unsupported', 'it is a CMYK JPEG', 'Convert it to RGB and import it again.');
      break;
    }
    at += 2 + ((bytes[at + 2]! << 8) | bytes[at + 3]!);
  }
  let p;
  try {
    p = jpeg.decode(bytes, { useTArray: true, formatAsRGBA: false, tolerantDecoding: false, maxResolutionInMP: MAX_PIXELS / 1e6 + 1, maxMemoryUsageInMB: 2048 });
  } catch (e) {
    throw new MediaError('truncated', `the JPEG data are damaged or cut off (${(e as Error).message})`, 'Copy or export it again.');
  }
  return { width: p.width, height: p.height, bits: 8, format: 'jpeg', rgb: p.data as Uint8Array, notes: [], encoding: 'srgb', alpha: false };
}

/** Throws a MediaError. */
export function decodeStill(bytes: Uint8Array): DecodedPicture {
  if (bytes.length === 0) throw new MediaError('empty', 'the file is empty', 'Copy or export it again.');
  if (bytes.length > MAX_FILE_BYTES) throw new MediaError('too-large', `the file has ${Math.round(bytes.length / 2 ** 20)} MB, more than ${MAX_FILE_BYTES / 2 ** 20}`, 'Save it smaller and import that.');
  const kind = sniff(bytes);
  if (kind === 'png') return png(bytes);
  if (kind === 'jpeg') return jpg(bytes);
  throw new MediaError('unknown', 'it is not a picture that can be opened here', `${FORMATS}: save it as one of these.`);
}
