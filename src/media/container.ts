/**
 * What a clip's file says beside what its demuxer tells: colour code points as numbers, places of chroma, interlaced
 * fields, edits, timecode. ISO/IEC 14496-12 and -15 (MP4), QuickTime (timecode), RFC 9559 (Matroska, WebM), VP Codec
 * ISO binding, AV1 ISO binding. Reads the part that describes; what the pictures say: bitstream.ts.
 */
import type { Siting } from '../core/color/yuv';

export interface ContainerFacts {
  /** H.273 code points; null where nothing is said. */
  primaries: number | null;
  transfer: number | null;
  matrix: number | null;
  full: boolean | null;
  siting: Siting | null;
  interlaced: boolean;
  /** Pieces of the track that are played, one after another; more than one is a cut inside the file. */
  edits: number;
  timecode: { start: number; drop: boolean } | null;
}
const nothing: ContainerFacts = {
  primaries: null,
  transfer: null,
  matrix: null,
  full: null,
  siting: null,
  interlaced: false,
  edits: 0,
  timecode: null,
};
/** A description larger than this is none. */
const MOST = 64 * 2 ** 20;

const view = async (b: Blob, from: number, to: number): Promise<DataView> =>
  new DataView(await b.slice(from, Math.min(to, b.size)).arrayBuffer());
const name = (v: DataView, at: number): string =>
  String.fromCharCode(v.getUint8(at), v.getUint8(at + 1), v.getUint8(at + 2), v.getUint8(at + 3));

interface Box {
  type: string;
  at: number;
  end: number;
}
/** Boxes that lie in a part of another. */
function* boxes(v: DataView, from: number, to: number): Generator<Box> {
  for (let at = from; at + 8 <= to;) {
    let size = v.getUint32(at);
    let head = 8;
    if (size === 1 && at + 16 <= to) {
      size = Number(v.getBigUint64(at + 8));
      head = 16;
    } else if (size === 0) size = to - at;
    if (size < head || at + size > to) return;
    yield { type: name(v, at + 4), at: at + head, end: at + size };
    at += size;
  }
}
const find = (v: DataView, b: Box | undefined, ...path: string[]): Box | undefined => {
  let at = b;
  for (const type of path) at = at && [...boxes(v, at.at, at.end)].find((x) => x.type === type);
  return at;
};

/** The description of an MP4 or QuickTime file. `file` is asked for a timecode's first number. */
export async function mp4Facts(file: Blob): Promise<ContainerFacts> {
  let moov: DataView | null = null;
  for (let at = 0; at + 8 <= file.size;) {
    const h = await view(file, at, at + 16);
    let size = h.getUint32(0);
    if (size === 1 && h.byteLength >= 16) size = Number(h.getBigUint64(8));
    if (size === 0) size = file.size - at;
    if (size < 8) break;
    if (name(h, 4) === 'moov' && size <= MOST) {
      moov = await view(file, at, at + size);
      break;
    }
    at += size;
  }
  const facts = { ...nothing };
  if (!moov) return facts;
  const v = moov;
  const whole: Box = { type: 'moov', at: 8, end: v.byteLength };
  const tracks = [...boxes(v, whole.at, whole.end)].filter((x) => x.type === 'trak');
  const kind = (t: Box): string => {
    const h = find(v, t, 'mdia', 'hdlr');
    return h ? name(v, h.at + 8) : '';
  };
  const track = tracks.find((t) => kind(t) === 'vide');
  const list = find(v, track, 'edts', 'elst');
  if (list) {
    const long = v.getUint8(list.at) === 1;
    const step = long ? 20 : 12;
    for (let i = 0, at = list.at + 8; i < v.getUint32(list.at + 4) && at + step <= list.end; i++, at += step) {
      const from = long ? Number(v.getBigInt64(at + 8)) : v.getInt32(at + 4);
      if (from >= 0) facts.edits++;
    }
  }
  const stsd = find(v, track, 'mdia', 'minf', 'stbl', 'stsd');
  const entry = stsd && [...boxes(v, stsd.at + 8, stsd.end)][0];
  if (entry)
    // A visual sample entry has 78 bytes before its boxes.
    for (const b of boxes(v, entry.at + 78, entry.end)) {
      if (b.type === 'fiel') facts.interlaced ||= v.getUint8(b.at) === 2;
      else if (b.type === 'colr' && ['nclx', 'nclc'].includes(name(v, b.at))) {
        facts.primaries = v.getUint16(b.at + 4);
        facts.transfer = v.getUint16(b.at + 6);
        facts.matrix = v.getUint16(b.at + 8);
        if (name(v, b.at) === 'nclx') facts.full = v.getUint8(b.at + 10) >> 7 === 1;
      } else if (b.type === 'vpcC') {
        const layout = (v.getUint8(b.at + 6) >> 1) & 7;
        if (layout < 2) facts.siting = layout === 0 ? 'left' : 'topLeft';
      } else if (b.type === 'av1C') {
        const place = v.getUint8(b.at + 2) & 3;
        if (place === 1 || place === 2) facts.siting = place === 1 ? 'left' : 'topLeft';
      }
    }
  facts.timecode = await timecodeOf(
    file,
    v,
    tracks.find((t) => kind(t) === 'tmcd'),
  );
  return facts;
}
/** The first number of a QuickTime timecode track, as a count of frames. */
async function timecodeOf(file: Blob, v: DataView, track: Box | undefined): Promise<ContainerFacts['timecode']> {
  const stbl = find(v, track, 'mdia', 'minf', 'stbl');
  const stsd = find(v, stbl, 'stsd');
  const entry = stsd && [...boxes(v, stsd.at + 8, stsd.end)].find((x) => x.type === 'tmcd');
  const short = find(v, stbl, 'stco');
  const long = find(v, stbl, 'co64');
  if (!entry || !(short ?? long)) return null;
  const at = short ? v.getUint32(short.at + 8) : Number(v.getBigUint64(long!.at + 8));
  const sample = await view(file, at, at + 4);
  if (sample.byteLength < 4) return null;
  return { start: sample.getUint32(0), drop: (v.getUint32(entry.at + 12) & 1) === 1 };
}

/** Elements of Matroska that are looked into, and those whose numbers are read. */
const INTO = new Set([0x18538067, 0x1654ae6b, 0xae, 0xe0, 0x55b0]);
const CLUSTER = 0x1f43b675;
/** The head of a WebM or Matroska file: it ends where the pictures begin. */
export async function webmFacts(file: Blob): Promise<ContainerFacts> {
  const v = await view(file, 0, 2 ** 20);
  const facts = { ...nothing };
  let [horizontal, vertical] = [0, 0];
  /** Length of a number by its first byte, and the number: with its mark (an id) or without (a size). */
  const vint = (at: number, keep: boolean): [n: number, bytes: number] => {
    const first = v.getUint8(at);
    const bytes = Math.clz32(first) - 23;
    if (bytes > 8) return [NaN, 1];
    let n = keep ? first : first & (0xff >> bytes);
    for (let i = 1; i < bytes; i++) n = n * 256 + v.getUint8(at + i);
    return [n, bytes];
  };
  const uint = (at: number, n: number): number => {
    let x = 0;
    for (let i = 0; i < n; i++) x = x * 256 + v.getUint8(at + i);
    return x;
  };
  /** Only the first track that is a picture's counts. */
  let done = false;
  const walk = (from: number, to: number): void => {
    for (let at = from; at + 2 <= to && !done;) {
      const [id, a] = vint(at, true);
      if (at + a >= to || id === CLUSTER) return;
      const [size, b] = vint(at + a, false);
      const body = at + a + b;
      // All ones: of unknown length, to the end.
      const open = size >= 2 ** (7 * b) - 1;
      const end = open ? to : Math.min(to, body + size);
      if (!Number.isFinite(end) || body > to) return;
      if (INTO.has(id)) {
        walk(body, end);
        if (id === 0xe0) done = true;
      } else if (end - body <= 8) {
        const x = uint(body, end - body);
        if (id === 0x9a) facts.interlaced = x === 1;
        else if (id === 0x55b1) facts.matrix = x;
        else if (id === 0x55ba) facts.transfer = x;
        else if (id === 0x55bb) facts.primaries = x;
        else if (id === 0x55b9 && (x === 1 || x === 2)) facts.full = x === 2;
        else if (id === 0x55b7) horizontal = x;
        else if (id === 0x55b8) vertical = x;
      }
      at = end;
    }
  };
  walk(0, v.byteLength);
  if (horizontal === 1) facts.siting = vertical === 1 ? 'topLeft' : 'left';
  else if (horizontal === 2) facts.siting = 'centre';
  return facts;
}
