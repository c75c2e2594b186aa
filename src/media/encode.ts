/** Float planes to whole numbers, and those to PNG bytes. Values are clamped to 0..1 and rounded; NaN becomes 0. */
import { encode as encodePng } from 'fast-png';
import { isSquare } from './aspect';
import { encodeExr } from './exrWrite';
import type { Aspect, Codes, Halves } from './picture';
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
export function encodeCodes(
  { width, height, channels, bits, data }: Codes,
  aspect: Aspect = [1, 1],
): Uint8Array<ArrayBuffer> {
  const png = encodePng({ width, height, data, depth: bits, channels }) as Uint8Array<ArrayBuffer>;
  return isSquare(aspect) ? png : withAspect(png, aspect);
}
/** CRC-32 of ISO/IEC 15948, annex D. */
function crc32(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const b of bytes) {
    c ^= b;
    for (let k = 0; k < 8; k++) c = (c >>> 1) ^ (c & 1 ? 0xedb88320 : 0);
  }
  return ~c >>> 0;
}
/** pHYs behind the header: pixels a unit across and down, of no unit, which is what the shape of a pixel is said by. */
function withAspect(png: Uint8Array, [num, den]: Aspect): Uint8Array<ArrayBuffer> {
  const HEAD = 33;
  const chunk = new Uint8Array(21);
  const v = new DataView(chunk.buffer);
  v.setUint32(0, 9);
  chunk.set([0x70, 0x48, 0x59, 0x73], 4);
  v.setUint32(8, den);
  v.setUint32(12, num);
  v.setUint32(17, crc32(chunk.subarray(4, 17)));
  const out = new Uint8Array(png.length + chunk.length);
  out.set(png.subarray(0, HEAD));
  out.set(chunk, HEAD);
  out.set(png.subarray(HEAD), HEAD + chunk.length);
  return out;
}

/** A frame as a file of its own. `aspect`: how wide its pixels are, which every one of these formats can say. */
export function encodeFrame(
  kind: 'png' | 'tiff' | 'exr',
  frame: Codes | Halves,
  aspect: Aspect = [1, 1],
): Uint8Array<ArrayBuffer> {
  if (frame.bits === 'half') return encodeExr(frame, aspect);
  return kind === 'tiff' ? encodeTiff(frame, aspect) : encodeCodes(frame, aspect);
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
