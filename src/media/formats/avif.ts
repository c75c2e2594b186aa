/**
 * AVIF by libavif (@jsquash). What the picture is, is read here from its boxes (ISO/IEC 14496-12, 23008-12, MIAF):
 * size, depth, colour, and the crop, turn and mirror that the library leaves to its caller.
 */
import { fromCicp } from '../cicp';
import type { Meaning } from '../cicp';
import { runCodec } from '../codecs';
import { checkSize, damaged, MediaError } from '../picture';
import type { Raw } from '../picture';

interface Box {
  type: string;
  /** Where its content begins and ends. */
  from: number;
  to: number;
}
class Reader {
  private readonly v: DataView;
  constructor(readonly b: Uint8Array) {
    this.v = new DataView(b.buffer, b.byteOffset, b.byteLength);
  }
  u8(i: number): number {
    return this.v.getUint8(i);
  }
  u16(i: number): number {
    return this.v.getUint16(i);
  }
  u32(i: number): number {
    return this.v.getUint32(i);
  }
  s32(i: number): number {
    return this.v.getInt32(i);
  }
  name(i: number): string {
    return String.fromCharCode(...this.b.subarray(i, i + 4));
  }
  boxes(from: number, to: number): Box[] {
    const out: Box[] = [];
    for (let at = from; at + 8 <= to;) {
      let size = this.u32(at);
      let head = 8;
      if (size === 1) {
        size = this.u32(at + 8) * 2 ** 32 + this.u32(at + 12);
        head = 16;
      } else if (size === 0) size = to - at;
      if (size < head || at + size > to) throw new Error(`the box ${this.name(at + 4)} reaches beyond its place`);
      out.push({ type: this.name(at + 4), from: at + head, to: at + size });
      if (out.length > 4096) throw new Error('it has too many boxes');
      at += size;
    }
    return out;
  }
}
const one = (list: readonly Box[], type: string): Box => {
  const b = list.find((x) => x.type === type);
  if (!b) throw new Error(`its header has no ${type}`);
  return b;
};

interface Info {
  width: number;
  height: number;
  bits: 8 | 10 | 12;
  alpha: boolean;
  premultiplied: boolean;
  nclx: [primaries: number, transfer: number] | null;
  icc: Uint8Array | null;
  crop: Raw['crop'];
  turns: number[];
  /** Width of a pixel over its height. */
  aspect: number;
}
function info(bytes: Uint8Array): Info {
  const r = new Reader(bytes);
  // The picture data may be cut off: that is for the decoder to say. The header must be whole.
  const top: Box[] = [];
  for (let at = 0; at + 8 <= bytes.length;) {
    const size = r.u32(at);
    const type = r.name(at + 4);
    if (type === 'meta') top.push({ type, from: at + 8, to: Math.min(bytes.length, at + size) });
    if (size < 8) break;
    at += size;
  }
  // A full box: version and flags come first.
  const meta = one(top, 'meta');
  const in4 = r.boxes(meta.from + 4, meta.to);
  const pitm = one(in4, 'pitm');
  const primary = r.u8(pitm.from) === 0 ? r.u16(pitm.from + 4) : r.u32(pitm.from + 4);
  const iprp = r.boxes(one(in4, 'iprp').from, one(in4, 'iprp').to);
  const ipco = r.boxes(one(iprp, 'ipco').from, one(iprp, 'ipco').to);
  const of = new Map<number, Box[]>();
  for (const ipma of iprp.filter((b) => b.type === 'ipma')) {
    const version = r.u8(ipma.from);
    const wide = (r.u8(ipma.from + 3) & 1) !== 0;
    let at = ipma.from + 4;
    const entries = r.u32(at);
    at += 4;
    for (let i = 0; i < entries; i++) {
      const id = version === 0 ? r.u16(at) : r.u32(at);
      at += version === 0 ? 2 : 4;
      const n = r.u8(at++);
      const list: Box[] = [];
      for (let k = 0; k < n; k++) {
        const index = wide ? r.u16(at) & 0x7fff : r.u8(at) & 0x7f;
        at += wide ? 2 : 1;
        const p = ipco[index - 1];
        if (p) list.push(p);
      }
      of.set(id, list);
    }
  }
  const mine = of.get(primary) ?? [];
  const ispe = one(mine, 'ispe');
  // A grid has its depth in its tiles.
  const av1c = mine.find((b) => b.type === 'av1C') ?? one(ipco, 'av1C');
  const flags = r.u8(av1c.from + 2);
  const out: Info = {
    width: r.u32(ispe.from + 4),
    height: r.u32(ispe.from + 8),
    bits: flags & 0x40 ? (flags & 0x20 ? 12 : 10) : 8,
    alpha: false,
    premultiplied: in4.some((b) => b.type === 'iref' && r.boxes(b.from + 4, b.to).some((x) => x.type === 'prem')),
    nclx: null,
    icc: null,
    crop: undefined,
    turns: [],
    aspect: 1,
  };
  for (const [id, list] of of)
    if (id !== primary)
      for (const b of list)
        if (b.type === 'auxC' && String.fromCharCode(...bytes.subarray(b.from + 4, b.to)).includes('alpha'))
          out.alpha = true;
  // Transformations apply in the order in which they are listed.
  for (const b of mine) {
    if (b.type === 'colr') {
      const kind = r.name(b.from);
      if (kind === 'nclx') out.nclx = [r.u16(b.from + 4), r.u16(b.from + 6)];
      if (kind === 'prof' || kind === 'rICC') out.icc = bytes.slice(b.from + 4, b.to);
    } else if (b.type === 'clap') {
      if (out.turns.length) throw unusual();
      const n = (i: number): number => {
        const d = r.s32(b.from + 8 * i + 4);
        if (d <= 0) throw new Error('its clean aperture divides by zero');
        return r.s32(b.from + 8 * i) / d;
      };
      const [w, h, dx, dy] = [n(0), n(1), n(2), n(3)];
      const [x, y] = [dx + (out.width - w) / 2, dy + (out.height - h) / 2];
      if (
        ![w, h, x, y].every(Number.isInteger) ||
        w < 1 ||
        h < 1 ||
        x < 0 ||
        y < 0 ||
        x + w > out.width ||
        y + h > out.height
      )
        throw new Error('its clean aperture lies outside the picture');
      out.crop = { x, y, w, h };
    } else if (b.type === 'irot') {
      // Quarter turns against the clock.
      const a = r.u8(b.from) & 3;
      if (a) out.turns.push([1, 8, 3, 6][a]!);
    } else if (b.type === 'imir') out.turns.push(r.u8(b.from) & 1 ? 2 : 4);
    else if (b.type === 'pasp') out.aspect = r.u32(b.from) / r.u32(b.from + 4);
  }
  return out;
}
const unusual = (): MediaError =>
  new MediaError('unsupported', 'it is turned before it is cropped', 'Save it again as it should look.');

export async function avif(bytes: Uint8Array): Promise<Raw> {
  let head: Info;
  try {
    head = info(bytes);
  } catch (e) {
    if (e instanceof MediaError) throw e;
    throw damaged('AVIF', e);
  }
  checkSize(head.width, head.height);
  const meaning: Meaning = head.nclx ? fromCicp(...head.nclx) : { encoding: 'srgb', convert: null };
  const p = await runCodec('avif', bytes, { bitDepth: head.bits });
  if (p.width !== head.width || p.height !== head.height)
    throw damaged('AVIF', new Error(`${p.width} x ${p.height} pixels came out, not ${head.width} x ${head.height}`));
  const n = p.width * p.height;
  const full = 2 ** head.bits - 1;
  let { alpha } = head;
  for (let i = 3; i < 4 * n && !alpha; i += 4) alpha = p.data[i] !== full;
  const channels = alpha ? 4 : 3;
  const data = head.bits === 8 ? new Uint8Array(n * channels) : new Uint16Array(n * channels);
  for (let i = 0; i < n; i++) for (let c = 0; c < channels; c++) data[i * channels + c] = p.data[4 * i + c]!;
  return {
    width: p.width,
    height: p.height,
    bits: head.bits,
    format: 'avif',
    channels,
    data,
    notes: [],
    encoding: meaning.encoding,
    convert: meaning.convert,
    turns: head.turns,
    aspect: head.aspect,
    premultiplied: head.premultiplied,
    ...(head.crop ? { crop: head.crop } : {}),
    ...(head.icc ? { icc: head.icc } : {}),
  };
}
