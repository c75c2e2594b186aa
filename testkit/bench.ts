/** Kernel access for tests: both kinds over one small memory. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { tsKernels, wasmKernels } from '../src/engine/kernels';
import type { Kernels } from '../src/engine/kernels';

export const wasmBytes = (): Uint8Array<ArrayBuffer> =>
  new Uint8Array(readFileSync(join(import.meta.dirname, '../build/kernels.wasm')));

export interface Both {
  memory: WebAssembly.Memory;
  wasm: Kernels;
  ts: Kernels;
  f32(at: number, n: number): Float32Array;
}
export async function bothKernels(pages = 64): Promise<Both> {
  const memory = new WebAssembly.Memory({ initial: pages });
  return {
    memory,
    wasm: await wasmKernels(wasmBytes(), memory),
    ts: tsKernels(memory),
    f32: (at, n) => new Float32Array(memory.buffer, at, n),
  };
}
