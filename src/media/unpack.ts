/** Guards against data that unpack to far more than a picture needs. */
import { MediaError } from './picture';

/**
 * Below this a stream of zeros unpacks to half a gigabyte at the most (deflate's ratio is 1032 to 1): not worth a
 * look.
 */
export const SMALL_PACK = 2 ** 19;
/**
 * Bytes that LZW data of a TIFF give (TIFF 6.0, section 13), without keeping them; decoders stop at the end of the data
 * without a word.
 */
export function lzwLength(b: Uint8Array): number {
  const CLEAR = 256;
  const END = 257;
  // Length of what each code stands for.
  const length = new Uint32Array(4097).fill(1, 0, 256);
  let next = 258;
  let bits = 9;
  let before = -1;
  let total = 0;
  for (let at = 0; at + bits <= 8 * b.length;) {
    let code = 0;
    const byte = at >> 3;
    // At most 12 bits from three bytes, the highest first.
    code = ((b[byte]! << 16) | ((b[byte + 1] ?? 0) << 8) | (b[byte + 2] ?? 0)) >> (24 - bits - (at & 7));
    code &= (1 << bits) - 1;
    at += bits;
    if (code === END) return total;
    if (code === CLEAR) {
      next = 258;
      bits = 9;
      before = -1;
      continue;
    }
    if (before < 0) {
      if (code > 255) return total;
      total += 1;
    } else {
      if (code > next) return total;
      const n = code < next ? length[code]! : length[before]! + 1;
      total += n;
      if (next < 4096) length[next++] = length[before]! + 1;
    }
    before = code;
    // The code widens one early: the writer's table is one behind.
    if (next >= (1 << bits) - 1 && bits < 12) bits++;
  }
  return total;
}
/** Bytes that PackBits data give (TIFF 6.0, section 9). */
export function packBitsLength(b: Uint8Array): number {
  let total = 0;
  for (let i = 0; i < b.length;) {
    const n = (b[i++]! << 24) >> 24;
    if (n >= 0) {
      const have = Math.min(n + 1, b.length - i);
      total += have;
      i += n + 1;
    } else if (n !== -128) {
      if (i >= b.length) break;
      total += 1 - n;
      i++;
    }
  }
  return total;
}
/**
 * Unpacks without keeping, and stops where more comes out than the size asks for: a small file must not fill the
 * memory. Answers with the bytes that come out.
 */
export const checkUnpacked = (parts: Uint8Array[], most: number): Promise<number> => read(parts, most, () => {});
/** The same, kept; null where the data are damaged or end early. */
export async function unpacked(parts: Uint8Array[], most: number): Promise<Uint8Array | null> {
  const pieces: Uint8Array[] = [];
  let whole = true;
  const total = await read(
    parts,
    most,
    (p) => pieces.push(p),
    () => (whole = false),
  );
  if (!whole) return null;
  const out = new Uint8Array(total);
  let at = 0;
  for (const p of pieces) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}
async function read(
  parts: Uint8Array[],
  most: number,
  use: (piece: Uint8Array) => void,
  damaged = (): void => {},
): Promise<number> {
  const reader = new Blob(parts as BlobPart[]).stream().pipeThrough(new DecompressionStream('deflate')).getReader();
  let total = 0;
  for (;;) {
    let r: ReadableStreamReadResult<Uint8Array>;
    try {
      r = await reader.read();
    } catch {
      // Damaged data: the decoder says it better.
      damaged();
      return total;
    }
    if (r.done) return total;
    total += r.value.length;
    use(r.value);
    if (total > most) {
      await reader.cancel().catch(() => {});
      throw new MediaError(
        'truncated',
        'its data unpack to more than its size asks for',
        'Export it again from where it came.',
      );
    }
  }
}
