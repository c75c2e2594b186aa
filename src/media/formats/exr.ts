/**
 * OpenEXR, one part, half and float ("Technical Introduction to OpenEXR", "OpenEXR File Layout"). Plain, RLE, ZIPS and
 * ZIP scan lines are read here, channels of different kinds included; PIZ, PXR24, B44 and DWA, and tiles, by the loader
 * of three, after the header has been found to be one that it reads rightly. Every row or tile must be there.
 */
import { unzlibSync } from 'fflate';
import { FloatType } from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { halfTable } from '../../core/math/half';
import { chromaticities, fromLinear } from '../cicp';
import { checkSize, damaged, MediaError } from '../picture';
import type { Raw } from '../picture';
import { checkUnpacked, SMALL_PACK } from '../unpack';

interface Channel {
  name: string;
  /** 0 whole numbers, 1 half, 2 float. */
  kind: number;
  sampling: readonly [number, number];
}
interface Window {
  x: number;
  y: number;
  w: number;
  h: number;
}
interface Header {
  data: Window;
  display: Window;
  channels: Channel[];
  chromaticities: number[] | null;
  compression: number;
  tiles: { w: number; h: number; mode: number } | null;
  aspect: number;
  /** Where the table of offsets begins. */
  end: number;
}
const COMPRESSIONS = ['none', 'RLE', 'ZIPS', 'ZIP', 'PIZ', 'PXR24', 'B44', 'B44A', 'DWAA', 'DWAB'];
const LINES = [1, 1, 1, 16, 32, 16, 32, 32, 32, 256];
const KINDS = ['whole numbers (uint)', 'half', 'float'];
const BYTES = [4, 2, 4];
const refuse = (what: string, remedy: string): never => {
  throw new MediaError('unsupported', what, remedy);
};

function header(bytes: Uint8Array): Header {
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const flags = v.getUint32(4, true);
  if ((flags & 0xff) !== 2) refuse(`it is of version ${flags & 0xff} of the format`, 'Save it as OpenEXR 2.');
  if (flags & 0x800) refuse('it holds deep data', 'Flatten it to a plain picture.');
  if (flags & 0x1000) refuse('it holds several parts', 'Save the part that you need as a file of its own.');
  const out: Header = {
    data: { x: 0, y: 0, w: 0, h: 0 },
    display: { x: 0, y: 0, w: 0, h: 0 },
    channels: [],
    chromaticities: null,
    compression: 0,
    tiles: null,
    aspect: 1,
    end: 0,
  };
  let at = 8;
  const word = (): string => {
    const from = at;
    while (v.getUint8(at) !== 0) at++;
    return String.fromCharCode(...bytes.subarray(from, Math.min(at++, from + 255)));
  };
  const windowAt = (o: number): Window => {
    const [x0, y0, x1, y1] = [0, 4, 8, 12].map((i) => v.getInt32(o + i, true)) as [number, number, number, number];
    return { x: x0, y: y0, w: x1 - x0 + 1, h: y1 - y0 + 1 };
  };
  while (v.getUint8(at) !== 0) {
    const name = word();
    const type = word();
    const size = v.getUint32(at, true);
    at += 4;
    const end = at + size;
    if (end > bytes.length) throw new Error(`its attribute ${name} reaches beyond the end`);
    if (name === 'dataWindow') out.data = windowAt(at);
    if (name === 'displayWindow') out.display = windowAt(at);
    if (name === 'chromaticities')
      out.chromaticities = Array.from({ length: 8 }, (_, i) => v.getFloat32(at + 4 * i, true));
    if (name === 'compression') out.compression = v.getUint8(at);
    if (name === 'pixelAspectRatio') out.aspect = v.getFloat32(at, true);
    if (name === 'tiles')
      out.tiles = { w: v.getUint32(at, true), h: v.getUint32(at + 4, true), mode: v.getUint8(at + 8) };
    if (type === 'chlist')
      while (at < end - 1) {
        const channel = word();
        const kind = v.getInt32(at, true);
        const sampling = [v.getInt32(at + 8, true), v.getInt32(at + 12, true)] as const;
        at += 16;
        out.channels.push({ name: channel, kind, sampling });
      }
    at = end;
  }
  out.end = at + 1;
  if (((flags & 0x200) !== 0) !== (out.tiles !== null)) throw new Error('it does not say whether it is tiled');
  if (out.display.w === 0) out.display = out.data;
  return out;
}

/** What cannot be read rightly is refused before anything is unpacked: the header tells. Gives the wanted channels. */
function wanted(head: Header): Channel[] {
  checkSize(head.data.w, head.data.h);
  checkSize(head.display.w, head.display.h);
  const { channels } = head;
  if (head.compression >= COMPRESSIONS.length)
    refuse(`its compression (${head.compression}) is not known`, 'Save it as ZIP.');
  const find = (n: string): Channel | undefined => channels.find((c) => c.name === n);
  const names = find('R') ? ['R', 'G', 'B'] : ['Y'];
  if (!names.every(find) || (names[0] === 'Y' && (find('RY') || find('BY'))))
    refuse(
      find('RY')
        ? 'its colours are stored as luminance and differences (Y, RY, BY)'
        : `it has no channels R, G and B, but ${
            channels
              .map((c) => c.name)
              .slice(0, 8)
              .join(', ') || 'none'
          }`,
      'Write the picture into plain R, G and B.',
    );
  const list = [...names, ...(find('A') ? ['A'] : [])].map((n) => find(n)!);
  for (const c of channels)
    if (!(c.kind >= 0 && c.kind <= 2)) throw new Error(`its channel ${c.name} is of no known kind`);
  const whole = list.find((c) => c.kind === 0);
  if (whole) refuse(`its channel ${whole.name} holds ${KINDS[0]}, not light`, 'Write the picture as half or float.');
  if (list.some((c) => c.sampling[0] !== 1 || c.sampling[1] !== 1))
    refuse('its channels have fewer samples than the picture has pixels', 'Write every channel in full.');
  const own = !head.tiles && head.compression <= 3;
  if (
    !own &&
    (channels.some((c) => c.kind !== channels[0]!.kind) ||
      channels.some((c) => c.sampling[0] !== 1 || c.sampling[1] !== 1))
  )
    refuse(
      `its channels are of different kinds (${channels
        .slice(0, 6)
        .map((c) => `${c.name}: ${KINDS[c.kind]}`)
        .join(', ')}), ` + `which is not read with ${head.tiles ? 'tiles' : COMPRESSIONS[head.compression]}`,
      'Save it in scan lines with ZIP, or with channels of one kind.',
    );
  if (head.tiles && (head.tiles.mode & 15) !== 0)
    refuse('it holds the picture in several sizes (mip-map)', 'Save it with one level.');
  return list;
}

interface Chunk {
  /** First row, from 0; of a tile: its number. */
  row: number;
  at: number;
  size: number;
}
/** The chunks by the table of offsets. Throws where one is missing or lies outside the file: it is cut off then. */
function chunksOf(bytes: Uint8Array, head: Header): Chunk[] {
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const { tiles } = head;
  if (tiles && !(tiles.w >= 1 && tiles.h >= 1)) throw new Error('its tiles have no size');
  const lines = LINES[head.compression]!;
  const n = tiles
    ? Math.ceil(head.data.w / tiles.w) * Math.ceil(head.data.h / tiles.h)
    : Math.ceil(head.data.h / lines);
  if (head.end + 8 * n > bytes.length) throw new Error('it ends within its table of rows');
  const seen = new Set<number>();
  const out: Chunk[] = [];
  for (let i = 0; i < n; i++) {
    const o = Number(v.getBigUint64(head.end + 8 * i, true));
    const lead = tiles ? 20 : 8;
    if (o < head.end + 8 * n || o + lead > bytes.length)
      throw new Error(`${tiles ? 'tile' : 'row'} ${i} of ${n} is missing`);
    const size = v.getInt32(o + lead - 4, true);
    const y = v.getInt32(o + 4 * (tiles ? 1 : 0), true);
    const row = tiles ? y * 65536 + v.getInt32(o, true) : y - head.data.y;
    if (size < 0 || o + lead + size > bytes.length)
      throw new Error(`${tiles ? 'tile' : 'row'} ${i} of ${n} is cut off`);
    if (!tiles && (row < 0 || row >= head.data.h || row % lines !== 0))
      throw new Error(`row ${row} does not belong to it`);
    if (seen.has(row)) throw new Error(`${tiles ? 'a tile' : `row ${row}`} is there twice`);
    seen.add(row);
    out.push({ row, at: o + lead, size });
  }
  return out;
}

/** Run lengths: a negative count copies, another repeats. */
function unRle(from: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let o = 0;
  for (let i = 0; i < from.length;) {
    const n = (from[i]! << 24) >> 24;
    i++;
    if (n < 0) {
      if (o - n > size || i - n > from.length) throw new Error('a run is too long');
      out.set(from.subarray(i, i - n), o);
      i -= n;
      o -= n;
    } else {
      if (o + n + 1 > size || i >= from.length) throw new Error('a run is too long');
      out.fill(from[i++]!, o, o + n + 1);
      o += n + 1;
    }
  }
  if (o !== size) throw new Error('a block is too short');
  return out;
}
/** Undoes the differences and puts the two halves together byte by byte. */
function unPredict(b: Uint8Array): Uint8Array {
  for (let i = 1; i < b.length; i++) b[i] = b[i - 1]! + b[i]! - 128;
  const out = new Uint8Array(b.length);
  const half = (b.length + 1) >> 1;
  for (let i = 0; i < b.length; i++) out[i] = b[i & 1 ? half + (i >> 1) : i >> 1]!;
  return out;
}

/** Interleaved samples of the wanted channels, data window, rows from the top. */
async function scanLines(bytes: Uint8Array, head: Header, list: readonly Channel[]): Promise<Float32Array> {
  const { w, h } = head.data;
  const lines = LINES[head.compression]!;
  const out = new Float32Array(w * h * list.length);
  const table = halfTable();
  // How many samples a channel has in a row: whole ones of its sampling, by picture position.
  const count = (c: Channel): number => {
    const [s] = c.sampling;
    if (!(s >= 1)) throw new Error(`its channel ${c.name} has no samples`);
    return Math.floor((head.data.x + w - 1) / s) - Math.ceil(head.data.x / s) + 1;
  };
  const has = (c: Channel, row: number): boolean => (head.data.y + row) % Math.max(1, c.sampling[1]) === 0;
  for (const chunk of chunksOf(bytes, head)) {
    const rows = Math.min(lines, h - chunk.row);
    let size = 0;
    for (let y = 0; y < rows; y++)
      for (const c of head.channels) if (has(c, chunk.row + y)) size += count(c) * BYTES[c.kind]!;
    const packed = bytes.subarray(chunk.at, chunk.at + chunk.size);
    let block: Uint8Array;
    if (packed.length === size) block = packed;
    else if (head.compression === 0 || packed.length > size)
      throw new Error(`row ${chunk.row} has another size than it should`);
    else if (head.compression === 1) block = unPredict(unRle(packed, size));
    else {
      if (packed.length > SMALL_PACK) await checkUnpacked([packed], size);
      const raw = unzlibSync(packed);
      if (raw.length !== size) throw new Error(`row ${chunk.row} unpacks to another size than it should`);
      block = unPredict(raw);
    }
    const v = new DataView(block.buffer, block.byteOffset, block.byteLength);
    let at = 0;
    for (let y = 0; y < rows; y++)
      for (const c of head.channels) {
        if (!has(c, chunk.row + y)) continue;
        const k = list.indexOf(c);
        const n = count(c);
        if (k >= 0)
          for (let x = 0, o = (chunk.row + y) * w * list.length + k; x < n; x++, o += list.length)
            out[o] = c.kind === 1 ? table[v.getUint16(at + 2 * x, true)]! : v.getFloat32(at + 4 * x, true);
        at += n * BYTES[c.kind]!;
      }
  }
  return out;
}

/** Every deflated block that is not small: its rows in whole floats are the most that it may hold. */
async function checkBlocks(bytes: Uint8Array, head: Header): Promise<void> {
  const area = head.tiles ? head.tiles.w * head.tiles.h : head.data.w * LINES[head.compression]!;
  for (const c of chunksOf(bytes, head))
    if ([2, 3, 5].includes(head.compression) && c.size > SMALL_PACK)
      await checkUnpacked([bytes.subarray(c.at, c.at + c.size)], area * head.channels.length * 4 + 1024);
}
/** By the loader of three; rows come from the bottom, colours always as RGBA or single. */
async function byLoader(bytes: Uint8Array, head: Header, list: readonly Channel[]): Promise<Float32Array> {
  await checkBlocks(bytes, head);
  const p = new EXRLoader().setDataType(FloatType).parse(bytes.slice().buffer) as unknown as {
    data: ArrayLike<number>;
    width: number;
    height: number;
  };
  const { w, h } = head.data;
  const channels = Math.round(p.data.length / (w * h));
  if (p.width !== w || p.height !== h || ![1, 2, 3, 4].includes(channels))
    throw new Error('an unexpected number of samples');
  const out = new Float32Array(w * h * list.length);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const from = ((h - 1 - y) * w + x) * channels;
      for (let c = 0; c < list.length; c++)
        // Grey with alpha has its alpha last.
        out[(y * w + x) * list.length + c] =
          p.data[from + (list.length === 2 && c === 1 ? channels - 1 : Math.min(c, channels - 1))]!;
    }
  return out;
}

export async function exr(bytes: Uint8Array): Promise<Raw> {
  const notes: string[] = [];
  try {
    const head = header(bytes);
    const list = wanted(head);
    const meaning = fromLinear(
      chromaticities(head.chromaticities ?? [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329]),
    );
    const own = !head.tiles && head.compression <= 3;
    const data = await (own ? scanLines(bytes, head, list) : byLoader(bytes, head, list));
    const left = head.channels.length - list.length;
    if (left > 0) notes.push(`${left} more channel${left > 1 ? 's are' : ' is'} left out`);
    const { display: d, data: w } = head;
    const same = d.x === w.x && d.y === w.y && d.w === w.w && d.h === w.h;
    if (!same) notes.push(`the display window of ${d.w} x ${d.h} is taken, black where the data do not reach`);
    return {
      width: d.w,
      height: d.h,
      bits: 32,
      format: 'exr',
      channels: list.length as Raw['channels'],
      data: same ? data : placed(data, w, d, list.length),
      notes,
      encoding: meaning.encoding,
      convert: meaning.convert,
      premultiplied: true,
      ...(Number.isFinite(head.aspect) ? { aspect: head.aspect } : {}),
    };
  } catch (e) {
    if (e instanceof MediaError) throw e;
    throw damaged('EXR', e);
  }
}
/** The data window's pixels where they stand in the display window. */
function placed(data: Float32Array, from: Window, to: Window, channels: number): Float32Array {
  const out = new Float32Array(to.w * to.h * channels);
  const [x0, x1] = [Math.max(from.x, to.x), Math.min(from.x + from.w, to.x + to.w)];
  for (let y = Math.max(from.y, to.y); y < Math.min(from.y + from.h, to.y + to.h) && x1 > x0; y++) {
    const s = ((y - from.y) * from.w + x0 - from.x) * channels;
    out.set(data.subarray(s, s + (x1 - x0) * channels), ((y - to.y) * to.w + x0 - to.x) * channels);
  }
  return out;
}
