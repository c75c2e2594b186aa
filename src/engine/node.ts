/** An engine for one thread without a browser: command line, tests, benchmark. */
import { Arena } from './memory';
import { Evaluator } from './evaluator';
import { startTwins } from './twins';
import { tsKernels, wasmKernels } from './kernels';
import { SoloPool } from './pool';
import { Session } from './session';

export interface SoloOptions {
  /** Bytes of kernels.wasm; without it the TypeScript kernels run. */
  wasm?: BufferSource | null;
  limitBytes?: number;
}

export async function soloSession({ wasm = null, limitBytes = 2 ** 32 - 131072 }: SoloOptions = {}): Promise<Session> {
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 65536 });
  const kernels = wasm ? await wasmKernels(wasm, memory) : tsKernels(memory);
  if (wasm) await startTwins(wasm);
  const arena = new Arena(memory, limitBytes);
  return new Session(new Evaluator(arena, new SoloPool({ memory, kernels }, arena), Math.min(limitBytes * 0.6, 1.2e9)));
}
