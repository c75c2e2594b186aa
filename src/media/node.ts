/** Decoders' WebAssembly from the packages on disk, for the terminal and for tests. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { setCodecLoader } from './codecs';
import type { CodecName } from './codecs';

const require = createRequire(import.meta.url);
const FILES: Readonly<Record<CodecName, string>> = {
  avif: '@jsquash/avif/codec/dec/avif_dec.wasm',
  webp: '@jsquash/webp/codec/dec/webp_dec.wasm',
  jpeg: '@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm',
  lcms: 'lcms-wasm/dist/lcms.wasm',
};
export function nodeCodecs(): void {
  setCodecLoader(async (name) => new WebAssembly.Module(readFileSync(require.resolve(FILES[name]))));
}
