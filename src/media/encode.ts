/** Float planes to whole numbers, and those to PNG bytes. Values are clamped to 0..1 and rounded; NaN becomes 0. */
import { encode as encodePng } from 'fast-png';
import { encodeExr } from './exrWrite';
import type { Codes, Halves } from './picture';
import { encodeTiff } from './tiffWrite';

/** The numbers of one plane into their places: the definition of what a file holds. */
export function toCodes(
  plane: Float32Array,
  data: Uint8Array | Uint16Array,
  channels: number,
  channel: number,
  bits: 8 | 16,
): void {
  const max = bits === 16 ? 65535 : 255;
  for (let i = 0; i < plane.length; i++) {
    const v = plane[i]!;
    data[i * channels + channel] = v > 0 ? (v < 1 ? Math.floor(v * max + 0.5) : max) : 0;
  }
}
export const encodeCodes = ({ width, height, channels, bits, data }: Codes): Uint8Array<ArrayBuffer> =>
  encodePng({ width, height, data, depth: bits, channels }) as Uint8Array<ArrayBuffer>;

/** A frame as a file of its own. */
export function encodeFrame(kind: 'png' | 'tiff' | 'exr', frame: Codes | Halves): Uint8Array<ArrayBuffer> {
  if (frame.bits === 'half') return encodeExr(frame);
  return kind === 'tiff' ? encodeTiff(frame) : encodeCodes(frame);
}
export function encodePlanes(
  planes: readonly Float32Array[],
  width: number,
  height: number,
  bits: 8 | 16,
): Uint8Array<ArrayBuffer> {
  const n = width * height * planes.length;
  const data = bits === 16 ? new Uint16Array(n) : new Uint8Array(n);
  planes.forEach((p, c) => toCodes(p, data, planes.length, c, bits));
  return encodeCodes({ width, height, channels: planes.length as 1 | 3 | 4, bits, data });
}
