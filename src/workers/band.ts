/** A helper thread: runs bands of stages over the shared memory. */
import { startFlow } from '../engine/flow';
import { wasmKernels } from '../engine/kernels';
import { serveBands } from '../engine/pool';
import type { HelperInit } from '../engine/host';

self.onmessage = async ({ data }: MessageEvent<HelperInit>) => {
  const [kernels] = await Promise.all([wasmKernels(data.wasm, data.memory), startFlow(data.plain)]);
  (self as unknown as { postMessage(m: unknown, t?: Transferable[]): void }).postMessage('ready');
  serveBands({ memory: data.memory, kernels }, data.control, data.thread);
};
