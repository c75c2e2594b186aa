/** Float planes to whole numbers, and those to files. Values are clamped to 0..1 and rounded; NaN becomes 0. */
import { encodeExr } from './exrWrite';
import type { Aspect, Codes, Halves } from './picture';
import { encodePng } from './pngWrite';
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

/** A frame as a file of its own. `aspect`: how wide its pixels are, which every one of these formats can say. */
export function encodeFrame(
  kind: 'png' | 'tiff' | 'exr',
  frame: Codes | Halves,
  aspect: Aspect = [1, 1],
): Uint8Array<ArrayBuffer> {
  if (frame.bits === 'half') return encodeExr(frame, aspect);
  return kind === 'tiff' ? encodeTiff(frame, aspect) : encodePng(frame, aspect);
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
  return encodePng({ width, height, channels: planes.length as 1 | 3 | 4, bits, data });
}
