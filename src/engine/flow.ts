/** The twin of the largest flow (core/math/minimumCut.ts), in a memory of its own for each thread. */
import { flowBy } from '../core/math/minimumCut';
import type { Flow } from '../core/math/minimumCut';

const PAGE = 65536;

/** @param bytes of kernels.wasm: of plain memory, in which bytes are copied faster than in a shared one */
export async function wasmFlow(bytes: BufferSource): Promise<Flow> {
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 65536 });
  const abort = (): void => {
    throw new Error('A kernel stopped');
  };
  const { instance } = await WebAssembly.instantiate(bytes, { env: { memory, abort } });
  const { cut_spare: spareFor, cut_flow: run } = instance.exports as {
    cut_spare: (n: number, w: number) => number;
    cut_flow: (n: number, w: number, cap: number, rest: number, inner: number, out: number, spare: number) => void;
  };
  return (inner, w, cap, rest) => {
    const n = inner.length;
    // Each in whole 64 bytes.
    let end = PAGE;
    const place = (size: number): number => (end += 64 * Math.ceil(size / 64)) - 64 * Math.ceil(size / 64);
    const [capAt, restAt] = [place(cap.byteLength), place(rest.byteLength)];
    const [innerAt, outAt, spareAt] = [place(n), place(n), place(spareFor(n, w))];
    const missing = end - memory.buffer.byteLength;
    if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
    const floats = (from: number, of: Float32Array): Float32Array => new Float32Array(memory.buffer, from, of.length);
    const bytesAt = (from: number): Uint8Array => new Uint8Array(memory.buffer, from, n);
    floats(capAt, cap).set(cap);
    floats(restAt, rest).set(rest);
    bytesAt(innerAt).set(inner);
    run(n, w, capAt, restAt, innerAt, outAt, spareAt);
    cap.set(floats(capAt, cap));
    rest.set(floats(restAt, rest));
    return bytesAt(outAt).slice();
  };
}
/** From now on in this thread. */
export const startFlow = async (bytes: BufferSource): Promise<void> => flowBy(await wasmFlow(bytes));
