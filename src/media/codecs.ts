/**
 * The WebAssembly libraries that read files, the same in the browser and the terminal: libwebp, libavif and mozjpeg of
 * @jsquash, LittleCMS of lcms-wasm. Each is fetched when a file first needs it.
 */
import type { LittleCms } from 'lcms-wasm';
import { damaged, MediaError } from './picture';

export type CodecName = 'avif' | 'webp' | 'jpeg' | 'lcms';
type Loader = (name: CodecName) => Promise<WebAssembly.Module>;
let loader: Loader | null = null;
/** Where the WebAssembly comes from: a worker and the terminal each have their way. */
export function setCodecLoader(f: Loader): void {
  loader = f;
  ready.clear();
  lcmsReady = null;
}
async function moduleOf(name: CodecName): Promise<WebAssembly.Module> {
  if (!loader)
    throw new MediaError('unsupported', `there is no decoder for ${name.toUpperCase()} here`, 'Save it as PNG.');
  return loader(name);
}

export interface Decoded {
  data: Uint8ClampedArray | Uint16Array;
  width: number;
  height: number;
}
type Decode = (b: ArrayBuffer, o?: { bitDepth: number }) => Promise<Decoded>;
type ImageCodec = Exclude<CodecName, 'lcms'>;
/** Lines that a library wrote to its error output during the present file. */
let heard: string[] = [];
const ready = new Map<ImageCodec, Promise<Decode>>();
function codec(name: ImageCodec): Promise<Decode> {
  let d = ready.get(name);
  if (!d) {
    d = (async () => {
      const module = await moduleOf(name);
      // The decoders make an ImageData, which a terminal does not have.
      const g = globalThis as { ImageData?: unknown };
      g.ImageData ??= class {
        constructor(
          readonly data: Uint8ClampedArray,
          readonly width: number,
          readonly height: number,
        ) {}
      };
      const m =
        name === 'avif'
          ? await import('@jsquash/avif/decode.js')
          : name === 'webp'
            ? await import('@jsquash/webp/decode.js')
            : await import('@jsquash/jpeg/decode.js');
      // What libraries only mutter (libjpeg: "Corrupt JPEG data") is heard.
      const said = { printErr: (t: string) => void heard.push(t), print: () => {} };
      await (m.init as unknown as (module: WebAssembly.Module, o: object) => Promise<void>)(module, said);
      return m.default as unknown as Decode;
    })();
    ready.set(name, d);
  }
  return d;
}
const TITLES = { avif: 'AVIF', webp: 'WebP', jpeg: 'JPEG' } as const;
/** RGBA of a whole file. Throws a MediaError. */
export async function runCodec(name: ImageCodec, bytes: Uint8Array, o?: { bitDepth: number }): Promise<Decoded> {
  const f = await codec(name);
  try {
    heard = [];
    const p = await f(bytes.slice().buffer as ArrayBuffer, o);
    const fault = heard.find((t) => /corrupt|premature|invalid|unsupported/i.test(t));
    if (fault) throw new Error(fault);
    if (!p || !(p.width > 0)) throw new Error('nothing came out');
    return p;
  } catch (e) {
    // An abort inside leaves the library's memory as it was in the middle of its work: the next file gets a new one.
    ready.delete(name);
    throw damaged(TITLES[name], e);
  }
}

let lcmsReady: Promise<LittleCms> | null = null;
/** LittleCMS. */
export function lcms(): Promise<LittleCms> {
  lcmsReady ??= (async () => {
    const module = await moduleOf('lcms');
    const { instantiate } = await import('lcms-wasm');
    return instantiate({
      instantiateWasm(imports: WebAssembly.Imports, done: (i: WebAssembly.Instance) => void) {
        const instance = new WebAssembly.Instance(module, imports);
        done(instance);
        return instance.exports;
      },
    });
  })();
  return lcmsReady;
}
