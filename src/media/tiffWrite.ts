/** A TIFF file of whole numbers, uncompressed, in one strip: TIFF 6.0, baseline RGB and grey, little-endian. */
import { isSquare } from './aspect';
import type { Aspect, Codes } from './picture';

export function encodeTiff(
  { width, height, channels, bits, data }: Codes,
  aspect: Aspect = [1, 1],
): Uint8Array<ArrayBuffer> {
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
    // Pixels a unit of length, of no unit: TIFF 6.0 has it for pixels that are not square.
    ...(isSquare(aspect)
      ? []
      : ([
          [282, 5, 1, 0],
          [283, 5, 1, 8],
        ] as [number, number, number, number][])),
    [284, 3, 1, 1],
    ...(isSquare(aspect) ? [] : ([[296, 3, 1, 1]] as [number, number, number, number][])),
    ...(channels === 4 ? [[338, 3, 1, 2] as [number, number, number, number]] : []),
  ];
  const directory = 8 + bytes + (bytes & 1);
  const after = directory + 2 + 12 * entries.length + 4;
  const densities = after + 2 * channels + ((2 * channels) & 2);
  const out = new Uint8Array(densities + (isSquare(aspect) ? 0 : 16));
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
    else if (type === 5) v.setUint32(at + 8, densities + value, true);
    else if (type === 3) v.setUint16(at + 8, value, true);
    else v.setUint32(at + 8, value, true);
  });
  for (let c = 0; c < channels; c++) v.setUint16(after + 2 * c, bits, true);
  if (!isSquare(aspect)) [aspect[1], 1, aspect[0], 1].forEach((x, i) => v.setUint32(densities + 4 * i, x, true));
  return out;
}
