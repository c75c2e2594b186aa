/** A TIFF file of whole numbers, uncompressed, in one strip: TIFF 6.0, baseline RGB and grey, little-endian. */
import type { Codes } from './picture';

export function encodeTiff({ width, height, channels, bits, data }: Codes): Uint8Array<ArrayBuffer> {
  const bytes = data.byteLength;
  const entries: [tag: number, type: number, count: number, value: number][] = [
    [256, 4, 1, width],
    [257, 4, 1, height],
    // Bits of each channel, at the end of the directory where there are more than two.
    [258, 3, channels, channels === 1 ? bits : 0],
    [259, 3, 1, 1],
    [262, 3, 1, channels === 1 ? 1 : 2],
    [273, 4, 1, 8],
    [277, 3, 1, channels],
    [278, 4, 1, height],
    [279, 4, 1, bytes],
    [284, 3, 1, 1],
    ...(channels === 4 ? [[338, 3, 1, 2] as [number, number, number, number]] : []),
  ];
  const directory = 8 + bytes + (bytes & 1);
  const after = directory + 2 + 12 * entries.length + 4;
  const out = new Uint8Array(after + 2 * channels);
  const v = new DataView(out.buffer);
  v.setUint16(0, 0x4949);
  v.setUint16(2, 42, true);
  v.setUint32(4, directory, true);
  // The numbers are little-endian wherever this runs: typed arrays are those of the machine.
  out.set(new Uint8Array(data.buffer, data.byteOffset, bytes), 8);
  v.setUint16(directory, entries.length, true);
  entries.forEach(([tag, type, count, value], i) => {
    const at = directory + 2 + 12 * i;
    v.setUint16(at, tag, true);
    v.setUint16(at + 2, type, true);
    v.setUint32(at + 4, count, true);
    if (tag === 258 && channels > 1) v.setUint32(at + 8, after, true);
    else if (type === 3) v.setUint16(at + 8, value, true);
    else v.setUint32(at + 8, value, true);
  });
  for (let c = 0; c < channels; c++) v.setUint16(after + 2 * c, bits, true);
  return out;
}
