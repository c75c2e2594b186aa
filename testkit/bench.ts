/** Kernel access for tests, both kinds over one small memory; stages on one thread for benchmarks. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Evaluator } from '../src/engine/evaluator';
import { Arena } from '../src/engine/memory';
import { SoloPool } from '../src/engine/pool';
import { startTwins } from '../src/engine/twins';
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

/** Median of some runs in ms, after one that does not count. */
export function timed(f: () => void, runs = 7): number {
  f();
  const ms = Array.from({ length: runs }, () => {
    const t = performance.now();
    f();
    return performance.now() - t;
  });
  return ms.sort((a, b) => a - b)[runs >> 1]!;
}
/** What stages need on one thread: memory, a pool, an evaluator over both. */
export async function soloStages(): Promise<{ arena: Arena; pool: SoloPool; ev: Evaluator }> {
  await startTwins(wasmBytes());
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 32768 });
  const arena = new Arena(memory, 2 ** 31 - 65536);
  const pool = new SoloPool({ memory, kernels: await wasmKernels(wasmBytes(), memory) }, arena);
  return { arena, pool, ev: new Evaluator(arena, pool, 2 ** 30) };
}
