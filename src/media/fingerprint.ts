/**
 * By what a large clip is known again: its size, its beginning, its end and pieces between. The tables of an MP4 or
 * WebM file lie at its ends and name the place of every frame, so another version of a clip differs there; what is
 * not seen is a file of the same size in which only bytes between the pieces were changed.
 */

/** Files up to this size are summed whole. */
export const WHOLE_BYTES = 64 * 2 ** 20;
const END = 2 * 2 ** 20;
const PIECE = 64 * 2 ** 10;
const PIECES = 32;

/** From and to, in bytes, rising; together the whole file where it is small. */
export function partsOf(size: number): [from: number, to: number][] {
  if (size <= 2 * END + PIECES * PIECE) return size > 0 ? [[0, size]] : [];
  const step = (size - 2 * END - PIECE) / (PIECES - 1);
  return [
    [0, END],
    ...Array.from({ length: PIECES }, (_, i): [number, number] => {
      const at = END + Math.floor(i * step);
      return [at, at + PIECE];
    }),
    [size - END, size],
  ];
}
/** Hands over what stands for a file: its size as eight bytes (little endian), then its parts. */
export async function readParts(file: Blob, take: (bytes: Uint8Array) => void): Promise<void> {
  const size = new DataView(new ArrayBuffer(8));
  size.setBigUint64(0, BigInt(file.size), true);
  take(new Uint8Array(size.buffer));
  for (const [from, to] of partsOf(file.size)) take(new Uint8Array(await file.slice(from, to).arrayBuffer()));
}
