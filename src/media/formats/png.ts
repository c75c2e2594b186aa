/** PNG 8 and 16 bit (ISO/IEC 15948), by fast-png; chunks cICP, sRGB, gAMA say how it is encoded. */
import { convertIndexedToRgb, decode as decodePng } from 'fast-png';
import { checkSize, damaged, encodingOfCicp, MediaError } from '../picture';
import type { Raw } from '../picture';
import { checkUnpacked, SMALL_PACK } from '../unpack';

const CHANNELS: Record<number, number> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };

export async function png(bytes: Uint8Array): Promise<Raw> {
  if (bytes.length < 33) throw new MediaError('truncated', 'the file ends within its header', 'Copy or export it again.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  // The size is read before anything is unpacked, so that a small file cannot claim gigabytes.
  checkSize(view.getUint32(16), view.getUint32(20));
  let encoding: Raw['encoding'] = 'srgb';
  const packed: Uint8Array[] = [];
  for (let at = 8; at + 12 <= bytes.length; ) {
    const size = view.getUint32(at);
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (type === 'IDAT') packed.push(bytes.subarray(at + 8, at + 8 + size));
    if (type === 'cICP' && size === 4) encoding = encodingOfCicp(bytes[at + 8]!, bytes[at + 9]!) ?? encoding;
    at += 12 + size;
  }
  if (packed.reduce((a, p) => a + p.length, 0) > SMALL_PACK) {
    const [w, h] = [view.getUint32(16), view.getUint32(20)];
    // Interlaced rows begin with a byte each in seven passes: a little more than the plain ones.
    const row = 1 + Math.ceil((w * (CHANNELS[bytes[25]!] ?? 4) * bytes[24]!) / 8);
    await checkUnpacked(packed, Math.ceil(1.02 * row * h) + 8 * (w + h) + 1024);
  }
  let p;
  try {
    p = decodePng(bytes, { checkCrc: true });
  } catch (e) {
    throw damaged('PNG', e);
  }
  const n = p.width * p.height;
  let data: Uint8Array | Uint16Array = p.data as Uint8Array | Uint16Array;
  let channels = p.channels;
  let bits: 8 | 16 = p.depth === 16 ? 16 : 8;
  if (p.palette) {
    data = convertIndexedToRgb(p) as Uint8Array;
    channels = data.length / n;
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
  return { width: p.width, height: p.height, bits, format: 'png', channels: channels as Raw['channels'], data, notes: [], encoding, ...(p.iccEmbeddedProfile ? { icc: p.iccEmbeddedProfile.profile } : {}) };
}
