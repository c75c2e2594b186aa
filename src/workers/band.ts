/** A helper thread: runs bands of stages over the shared memory. */
import { startTwins } from '../engine/twins';
import { wasmKernels } from '../engine/kernels';
import { serveBands } from '../engine/pool';
import { QUIET_MS, warmUp } from '../engine/warmUp';
import type { HelperInit } from '../engine/host';
import { holdLife } from '../protocol/alive';

/** With the name of the lock that it holds while it lives. */
export type BandInit = HelperInit & { life: string };

self.onmessage = async ({ data }: MessageEvent<BandInit>) => {
  const [kernels, held] = await Promise.all([
    wasmKernels(data.wasm, data.memory),
    holdLife(data.life),
    startTwins(data.plain),
  ]);
  (self as unknown as { postMessage(m: unknown, t?: Transferable[]): void }).postMessage(held);
  serveBands({ memory: data.memory, kernels }, data.control, data.thread, { afterMs: QUIET_MS, work: warmUp() });
};
