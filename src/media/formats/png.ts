/**
 * PNG 8 and 16 bit (ISO/IEC 15948) by fast-png. How it is encoded is read here, in the order of the standard's third
 * edition: cICP, iCCP, sRGB, gAMA with cHRM; and eXIf for the orientation, tRNS for a colour that is transparent, pHYs
 * for the shape of the pixels.
 */
import { createCRC32 } from 'hash-wasm';
import { convertIndexedToRgb, decode as decodePng } from 'fast-png';
import { chromaticities, fromCicp, fromGamma } from '../cicp';
import type { Chromaticities, Meaning } from '../cicp';
import { checkSize, damaged, MediaError } from '../picture';
import type { Raw } from '../picture';
import { checkUnpacked, SMALL_PACK, unpacked } from '../unpack';
import { orientationOfTiff } from './exif';

/** Rows over so many bytes are not kept beside the library's own copies: memory before speed. */
const KEPT_MOST = 64 * 2 ** 20;
const CHANNELS: Record<number, number> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };
type Chunks = Map<string, Uint8Array>;

export async function png(bytes: Uint8Array): Promise<Raw> {
  if (bytes.length < 33)
    throw new MediaError('truncated', 'the file ends within its header', 'Copy or export it again.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  // The size is read before anything is unpacked, so that a small file cannot claim gigabytes.
  checkSize(view.getUint32(16), view.getUint32(20));
  const chunks: Chunks = new Map();
  const packed: Uint8Array[] = [];
  for (let at = 8; at + 12 <= bytes.length;) {
    const size = view.getUint32(at);
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    const data = bytes.subarray(at + 8, at + 8 + size);
    if (type === 'IDAT') packed.push(data);
    else if (!chunks.has(type)) chunks.set(type, data);
    at += 12 + size;
  }
  if (chunks.has('acTL'))
    throw new MediaError('unsupported', 'it is an animation', 'Save one of its frames as a picture.');
  let given = bytes;
  if (packed.reduce((a, p) => a + p.length, 0) > SMALL_PACK) {
    const [w, h] = [view.getUint32(16), view.getUint32(20)];
    // Interlaced rows begin with a byte each in seven passes: a little more than the plain ones.
    const row = 1 + Math.ceil((w * (CHANNELS[bytes[25]!] ?? 4) * bytes[24]!) / 8);
    const most = Math.ceil(1.02 * row * h) + 8 * (w + h) + 1024;
    const rows = most <= KEPT_MOST ? await unpacked(packed, most) : (await checkUnpacked(packed, most), null);
    if (rows) given = stored(bytes, rows);
  }
  let p;
  try {
    if (given !== bytes) await checkSums(bytes);
    p = decodePng(given, { checkCrc: given === bytes });
  } catch (e) {
    throw damaged('PNG', e);
  }
  const n = p.width * p.height;
  let data: Uint8Array | Uint16Array = p.data as Uint8Array | Uint16Array;
  let channels = p.channels;
  let bits: 8 | 16 = p.depth === 16 ? 16 : 8;
  // tRNS of grey and RGB is a colour in the file's own depth.
  const trns = chunks.get('tRNS');
  const colour = bytes[25]!;
  const clear =
    trns && (colour === 0 || colour === 2)
      ? Array.from({ length: CHANNELS[colour]! }, (_, c) => (trns[2 * c]! << 8) | trns[2 * c + 1]!)
      : null;
  if (clear?.some((v) => Number.isNaN(v))) throw damaged('PNG', new Error('tRNS is too short'));
  if (p.palette) {
    data = convertIndexedToRgb(p) as Uint8Array;
    channels = data.length / n;
    bits = 8;
    if (trns && channels === 3) throw damaged('PNG', new Error('the transparency of the palette was not read'));
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
    if (clear) clear[0] = (clear[0]! * 255) / max;
  }
  if (clear) {
    // A channel of its own: 0 where the pixel is the clear colour.
    const max = 2 ** bits - 1;
    const out = bits === 16 ? new Uint16Array(n * (channels + 1)) : new Uint8Array(n * (channels + 1));
    for (let i = 0; i < n; i++) {
      let same = true;
      for (let c = 0; c < channels; c++) {
        const v = data[i * channels + c]!;
        out[i * (channels + 1) + c] = v;
        if (v !== clear[c]) same = false;
      }
      out[i * (channels + 1) + channels] = same ? 0 : max;
    }
    data = out;
    channels++;
  }
  const icc = p.iccEmbeddedProfile?.profile;
  const { meaning, narrow } = meaningOf(chunks, icc !== undefined);
  const exif = chunks.get('eXIf');
  const turn = exif ? orientationOfTiff(exif) : 1;
  return {
    width: p.width,
    height: p.height,
    bits,
    format: 'png',
    channels: channels as Raw['channels'],
    data,
    notes: [],
    encoding: meaning.encoding,
    convert: meaning.convert,
    narrow,
    turns: [turn],
    aspect: aspectOf(chunks.get('pHYs')),
    ...(icc && !chunks.has('cICP') ? { icc } : {}),
  };
}

/** pHYs: pixels a unit across and down, whatever the unit. */
function aspectOf(phys: Uint8Array | undefined): number {
  if (!phys || phys.length < 9) return 1;
  const v = new DataView(phys.buffer, phys.byteOffset, 8);
  const [x, y] = [v.getUint32(0), v.getUint32(4)];
  return x > 0 && y > 0 ? y / x : 1;
}
/** Checks every chunk's sum, to the last. Throws an Error that names the first whose sum is another. */
async function checkSums(bytes: Uint8Array): Promise<void> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const crc = await createCRC32();
  for (let at = 8; at + 12 <= bytes.length;) {
    const size = view.getUint32(at);
    if (at + 12 + size > bytes.length) break;
    const sum = parseInt(
      crc
        .init()
        .update(bytes.subarray(at + 4, at + 8 + size))
        .digest('hex'),
      16,
    );
    if (sum !== view.getUint32(at + 8 + size)) {
      const name = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
      throw new Error(`CRC mismatch for chunk ${name}`);
    }
    if (view.getUint32(at + 4) === IEND) return;
    at += 12 + size;
  }
  throw new Error('the file ends within a chunk');
}
/** The name of the last chunk. */
const IEND = 0x49454e44;
const STORED = 65535;
/**
 * The same file with its rows as they are, not packed (stored blocks of deflate, RFC 1951, 3.2.4): what the browser
 * has unpacked natively need not be unpacked again by a script. Sums are left out.
 */
function stored(bytes: Uint8Array, rows: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const blocks = Math.max(1, Math.ceil(rows.length / STORED));
  const idat = 2 + 5 * blocks + rows.length + 4;
  const pieces: Uint8Array[] = [bytes.subarray(0, 8)];
  let done = false;
  for (let at = 8; at + 12 <= bytes.length;) {
    const size = view.getUint32(at);
    const chunk = bytes.subarray(at, at + 12 + size);
    at += 12 + size;
    if (String.fromCharCode(...chunk.subarray(4, 8)) !== 'IDAT') pieces.push(chunk);
    else if (!done) {
      done = true;
      const out = new Uint8Array(12 + idat);
      const v = new DataView(out.buffer);
      v.setUint32(0, idat);
      out.set(chunk.subarray(4, 8), 4);
      out.set([0x78, 0x01], 8);
      for (let k = 0, to = 10; k < blocks; k++) {
        const part = rows.subarray(k * STORED, (k + 1) * STORED);
        out[to] = k === blocks - 1 ? 1 : 0;
        v.setUint16(to + 1, part.length, true);
        v.setUint16(to + 3, ~part.length & 0xffff, true);
        out.set(part, to + 5);
        to += 5 + part.length;
      }
      pieces.push(out);
    }
  }
  const all = new Uint8Array(pieces.reduce((n, p) => n + p.length, 0));
  let to = 0;
  for (const p of pieces) {
    all.set(p, to);
    to += p.length;
  }
  return all;
}

function meaningOf(chunks: Chunks, icc: boolean): { meaning: Meaning; narrow: boolean } {
  const cicp = chunks.get('cICP');
  if (cicp) {
    if (cicp.length !== 4 || cicp[2] !== 0)
      throw new MediaError(
        'unsupported',
        `its colours are stored by the matrix ${cicp[2] ?? '?'} (ITU-T H.273), which a PNG does not have`,
        'Write it again as RGB.',
      );
    return { meaning: fromCicp(cicp[0]!, cicp[1]!), narrow: cicp[3] === 0 };
  }
  const plain = { meaning: { encoding: 'srgb', convert: null } as Meaning, narrow: false };
  if (icc || chunks.has('sRGB')) return plain;
  const u32 = (b: Uint8Array, i: number): number =>
    new DataView(b.buffer, b.byteOffset, b.byteLength).getUint32(4 * i) / 100_000;
  const g = chunks.get('gAMA');
  const c = chunks.get('cHRM');
  let chroma: Chromaticities | null = null;
  if (c && c.length >= 32) {
    // White first, then red, green and blue.
    const v = Array.from({ length: 8 }, (_, i) => u32(c, i));
    chroma = chromaticities([...v.slice(2), v[0]!, v[1]!]);
  }
  const gamma = g && g.length >= 4 ? u32(g, 0) : null;
  if (gamma === null && chroma === null) return plain;
  if (gamma !== null && !(gamma >= 0.1 && gamma <= 5))
    throw new MediaError('unsupported', `it claims a gamma of ${gamma}`, 'Write it again without the gAMA chunk.');
  return { meaning: fromGamma(gamma, chroma), narrow: false };
}
