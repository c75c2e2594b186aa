/** WebP by libwebp (@jsquash): the same code in the browser and the terminal. */
import { runCodec } from '../codecs';
import { checkSize, damaged, MediaError } from '../picture';
import type { Raw } from '../picture';
import { orientationOf } from './exif';

export async function webp(bytes: Uint8Array): Promise<Raw> {
  const kind = String.fromCharCode(...bytes.subarray(12, 16));
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 30) throw damaged('WebP', new Error('it ends within its header'));
  if (v.getUint32(4, true) + 8 > bytes.length + 1)
    throw damaged('WebP', new Error(`${bytes.length} of ${v.getUint32(4, true) + 8} bytes are there`));
  let icc: Uint8Array | undefined;
  let alpha = false;
  if (kind === 'VP8X') {
    checkSize(1 + (v.getUint32(24, true) & 0xffffff), 1 + ((v.getUint32(26, true) >>> 8) & 0xffffff));
    if (bytes[20]! & 2)
      throw new MediaError('unsupported', 'it is an animation', 'Save one of its frames as a picture.');
    alpha = (bytes[20]! & 16) !== 0;
    for (let at = 12; at + 8 <= bytes.length;) {
      const size = v.getUint32(at + 4, true);
      if (String.fromCharCode(...bytes.subarray(at, at + 4)) === 'ICCP') icc = bytes.slice(at + 8, at + 8 + size);
      at += 8 + size + (size & 1);
    }
  } else if (kind === 'VP8L') {
    const x = v.getUint32(21, true);
    checkSize(1 + (x & 0x3fff), 1 + ((x >>> 14) & 0x3fff));
    alpha = ((x >>> 28) & 1) !== 0;
  } else checkSize(v.getUint16(26, true) & 0x3fff, v.getUint16(28, true) & 0x3fff);
  const p = await runCodec('webp', bytes);
  const rgba = p.data as Uint8ClampedArray;
  const n = p.width * p.height;
  // The header's flags are only hints: what came out decides.
  for (let i = 3; i < 4 * n && !alpha; i += 4) alpha = rgba[i] !== 255;
  const channels = alpha ? 4 : 3;
  const data = new Uint8Array(n * channels);
  for (let i = 0; i < n; i++) for (let c = 0; c < channels; c++) data[i * channels + c] = rgba[4 * i + c]!;
  return {
    width: p.width,
    height: p.height,
    bits: 8,
    format: 'webp',
    channels,
    data,
    notes: [],
    encoding: 'srgb',
    turns: [orientationOf(bytes)],
    ...(icc ? { icc } : {}),
  };
}
