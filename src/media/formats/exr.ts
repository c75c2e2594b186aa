/** OpenEXR half and float by the loader of three; its header is read here first: size, primaries, channels. */
import { FloatType } from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { primaries } from '../../core/color/encodings';
import { checkSize, damaged, MediaError } from '../picture';
import type { Raw } from '../picture';
import { checkUnpacked, SMALL_PACK } from '../unpack';

interface Header {
  width: number;
  height: number;
  channels: string[];
  /** Red, green, blue, white as x, y pairs. */
  chromaticities: number[] | null;
  compression: number;
  tiled: boolean;
  /** Where the table of offsets begins. */
  end: number;
}
function header(bytes: Uint8Array): Header {
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const out: Header = { width: 0, height: 0, channels: [], chromaticities: null, compression: 0, tiled: (v.getUint8(5) & 2) !== 0, end: 0 };
  let at = 8;
  const word = (): string => {
    const from = at;
    while (v.getUint8(at) !== 0) at++;
    return String.fromCharCode(...bytes.subarray(from, at++));
  };
  while (v.getUint8(at) !== 0) {
    const name = word();
    const type = word();
    const size = v.getUint32(at, true);
    at += 4;
    const end = at + size;
    if (name === 'dataWindow') [out.width, out.height] = [v.getInt32(at + 8, true) - v.getInt32(at, true) + 1, v.getInt32(at + 12, true) - v.getInt32(at + 4, true) + 1];
    if (name === 'chromaticities') out.chromaticities = Array.from({ length: 8 }, (_, i) => v.getFloat32(at + 4 * i, true));
    if (name === 'compression') out.compression = v.getUint8(at);
    if (type === 'chlist')
      while (at < end - 1) {
        out.channels.push(word());
        at += 16;
      }
    at = end;
  }
  out.end = at + 1;
  return out;
}

/** Every block that is deflated (kinds 2, 3, 5) and not small: its rows in whole floats are the most that it may hold. */
async function checkBlocks(bytes: Uint8Array, head: Header): Promise<void> {
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (head.tiled || ![2, 3, 5].includes(head.compression)) return;
  const lines = head.compression === 2 ? 1 : 16;
  for (let i = 0, n = Math.ceil(head.height / lines); i < n; i++) {
    const at = head.end + 8 * i;
    if (at + 8 > bytes.length) return;
    const o = Number(v.getBigUint64(at, true));
    if (o + 8 > bytes.length) return;
    const size = v.getInt32(o + 4, true);
    if (size > SMALL_PACK) await checkUnpacked([bytes.subarray(o + 8, o + 8 + size)], head.width * lines * head.channels.length * 4 + 1024);
  }
}

export async function exr(bytes: Uint8Array): Promise<Raw> {
  let head: Header;
  try {
    head = header(bytes);
  } catch (e) {
    throw damaged('EXR', e);
  }
  checkSize(head.width, head.height);
  const names = head.channels;
  const grey = names.includes('Y') && !names.includes('R');
  if (!grey && !['R', 'G', 'B'].every((n) => names.includes(n))) throw new MediaError('unsupported', `it has no channels R, G and B, but ${names.slice(0, 8).join(', ') || 'none'}`, 'Write the picture into plain R, G and B.');
  await checkBlocks(bytes, head);
  let p: { data: ArrayLike<number>; width: number; height: number };
  try {
    p = new EXRLoader().setDataType(FloatType).parse(bytes.slice().buffer) as unknown as typeof p;
  } catch (e) {
    throw damaged('EXR', e);
  }
  const n = p.width * p.height;
  const channels = Math.round(p.data.length / n);
  if (![1, 2, 3, 4].includes(channels)) throw damaged('EXR', new Error('an unexpected number of samples'));
  const out = grey ? 1 : names.includes('A') ? 4 : 3;
  const data = new Float32Array(n * out);
  // Rows come bottom-up.
  for (let y = 0; y < p.height; y++)
    for (let x = 0; x < p.width; x++) {
      const from = ((p.height - 1 - y) * p.width + x) * channels;
      for (let c = 0; c < out; c++) data[(y * p.width + x) * out + c] = p.data[from + Math.min(c, channels - 1)]!;
    }
  const near = (id: 'ap0' | 'ap1'): boolean => {
    const q = primaries[id];
    return !!head.chromaticities && [...q.red, ...q.green, ...q.blue].every((x, i) => Math.abs(x - head.chromaticities![i]!) < 0.002);
  };
  return { width: p.width, height: p.height, bits: 32, format: 'exr', channels: out as Raw['channels'], data, notes: [], encoding: near('ap0') ? 'linearAp0' : near('ap1') ? 'linearAp1' : 'linear709', premultiplied: true };
}
