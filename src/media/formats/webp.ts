/** WebP and AVIF by the decoders of @jsquash (libwebp and libavif in WebAssembly): the same code in the browser and the terminal. */
import { checkSize, damaged, encodingOfCicp, MediaError } from '../picture';
import type { Raw } from '../picture';
import { orientationOf } from './exif';

export type CodecName = 'avif' | 'webp';
type Loader = (name: CodecName) => Promise<WebAssembly.Module>;
let loader: Loader | null = null;
/** Where the decoders' WebAssembly comes from: a worker and the terminal each have their way. */
export function setCodecLoader(f: Loader): void {
  loader = f;
  ready.clear();
}
interface Decoded {
  data: Uint8ClampedArray | Uint16Array;
  width: number;
  height: number;
}
type Decode = (b: ArrayBuffer, o?: { bitDepth: number }) => Promise<Decoded>;
const ready = new Map<CodecName, Promise<Decode>>();
function codec(name: CodecName): Promise<Decode> {
  let d = ready.get(name);
  if (!d) {
    d = (async () => {
      if (!loader) throw new MediaError('unsupported', `there is no decoder for ${name.toUpperCase()} here`, 'Save it as PNG.');
      // The decoders make an ImageData, which a terminal does not have.
      const g = globalThis as { ImageData?: unknown };
      g.ImageData ??= class {
        constructor(readonly data: Uint8ClampedArray, readonly width: number, readonly height: number) {}
      };
      const m = name === 'avif' ? await import('@jsquash/avif/decode.js') : await import('@jsquash/webp/decode.js');
      await (m.init as (module: WebAssembly.Module) => Promise<void>)(await loader(name));
      return m.default as unknown as Decode;
    })();
    ready.set(name, d);
  }
  return d;
}
const find = (b: Uint8Array, name: string, from = 0): number => {
  const c = [...name].map((x) => x.charCodeAt(0));
  const end = Math.min(b.length - 4, from + 65536);
  for (let i = from; i < end; i++) if (b[i] === c[0] && b[i + 1] === c[1] && b[i + 2] === c[2] && b[i + 3] === c[3]) return i;
  return -1;
};
const u32 = (b: Uint8Array, i: number): number => ((b[i]! << 24) | (b[i + 1]! << 16) | (b[i + 2]! << 8) | b[i + 3]!) >>> 0;
const u16 = (b: Uint8Array, i: number): number => (b[i]! << 8) | b[i + 1]!;

export async function webp(bytes: Uint8Array): Promise<Raw> {
  const kind = String.fromCharCode(...bytes.subarray(12, 16));
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 30) throw damaged('WebP', new Error('it ends within its header'));
  if (v.getUint32(4, true) + 8 > bytes.length + 1) throw damaged('WebP', new Error(`${bytes.length} of ${v.getUint32(4, true) + 8} bytes are there`));
  let icc: Uint8Array | undefined;
  let alpha = false;
  if (kind === 'VP8X') {
    checkSize(1 + (v.getUint32(24, true) & 0xffffff), 1 + ((v.getUint32(26, true) >>> 8) & 0xffffff));
    if (bytes[20]! & 2) throw new MediaError('unsupported', 'it is an animation', 'Save one of its frames as a picture.');
    alpha = (bytes[20]! & 16) !== 0;
    for (let at = 12; at + 8 <= bytes.length; ) {
      const size = v.getUint32(at + 4, true);
      if (String.fromCharCode(...bytes.subarray(at, at + 4)) === 'ICCP') icc = bytes.slice(at + 8, at + 8 + size);
      at += 8 + size + (size & 1);
    }
  } else if (kind === 'VP8L') {
    const x = v.getUint32(21, true);
    checkSize(1 + (x & 0x3fff), 1 + ((x >>> 14) & 0x3fff));
    alpha = ((x >>> 28) & 1) !== 0;
  } else checkSize(v.getUint16(26, true) & 0x3fff, v.getUint16(28, true) & 0x3fff);
  const p = await run('webp', bytes);
  const rgba = p.data as Uint8ClampedArray;
  const n = p.width * p.height;
  const channels = alpha ? 4 : 3;
  const data = new Uint8Array(n * channels);
  for (let i = 0; i < n; i++) for (let c = 0; c < channels; c++) data[i * channels + c] = rgba[4 * i + c]!;
  return { width: p.width, height: p.height, bits: 8, format: 'webp', channels, data, notes: [], encoding: 'srgb', orientation: orientationOf(bytes), ...(icc ? { icc } : {}) };
}

async function run(name: CodecName, bytes: Uint8Array, o?: { bitDepth: number }): Promise<Decoded> {
  const f = await codec(name);
  try {
    const p = await f(bytes.slice().buffer as ArrayBuffer, o);
    if (!p || !(p.width > 0)) throw new Error('nothing came out');
    return p;
  } catch (e) {
    throw damaged(name === 'avif' ? 'AVIF' : 'WebP', e);
  }
}

export async function avif(bytes: Uint8Array): Promise<Raw> {
  const ispe = find(bytes, 'ispe');
  const av1c = find(bytes, 'av1C');
  if (ispe < 0 || av1c < 0) throw damaged('AVIF', new Error('its header does not say its size'));
  checkSize(u32(bytes, ispe + 8), u32(bytes, ispe + 12));
  const flags = bytes[av1c + 6]!;
  const bits = flags & 0x40 ? (flags & 0x20 ? 12 : 10) : 8;
  let encoding: Raw['encoding'] = 'srgb';
  let icc: Uint8Array | undefined;
  for (let at = find(bytes, 'colr'); at >= 0; at = find(bytes, 'colr', at + 4)) {
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (type === 'nclx') encoding = encodingOfCicp(u16(bytes, at + 8), u16(bytes, at + 10)) ?? encoding;
    if (type === 'prof' || type === 'rICC') icc = bytes.slice(at + 8, at - 4 + u32(bytes, at - 4));
  }
  const alpha = find(bytes, 'auxC') >= 0;
  const p = await run('avif', bytes, { bitDepth: bits });
  const n = p.width * p.height;
  const channels = alpha ? 4 : 3;
  const data = bits === 8 ? new Uint8Array(n * channels) : new Uint16Array(n * channels);
  for (let i = 0; i < n; i++) for (let c = 0; c < channels; c++) data[i * channels + c] = p.data[4 * i + c]!;
  return { width: p.width, height: p.height, bits, format: 'avif', channels, data, notes: [], encoding, ...(icc ? { icc } : {}) };
}
