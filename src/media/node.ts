/** Decoders' WebAssembly from the packages on disk, for the terminal and for tests. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { setCodecLoader } from './formats/webp';

const require = createRequire(import.meta.url);
export function nodeCodecs(): void {
  setCodecLoader(async (name) => new WebAssembly.Module(readFileSync(require.resolve(`@jsquash/${name}/codec/dec/${name}_dec.wasm`))));
}
