/** The twin of the largest flow (core/math/minimumCut.ts), in a memory of its own for each thread. */
import type { Flow } from '../core/math/minimumCut';
import { placer, plainMemory } from './plainMemory';

export async function wasmFlow(made: WebAssembly.Module): Promise<Flow> {
  const memory = await plainMemory(made);
  const { cut_spare: spareFor, cut_flow: run } = memory.exports as {
    cut_spare: (n: number, w: number) => number;
    cut_flow: (n: number, w: number, cap: number, rest: number, inner: number, out: number, spare: number) => void;
  };
  return (inner, w, cap, rest) => {
    const n = inner.length;
    const { place, end } = placer(memory.from);
    const [capAt, restAt] = [place(cap.byteLength), place(rest.byteLength)];
    const [innerAt, outAt, spareAt] = [place(n), place(n), place(spareFor(n, w))];
    memory.reach(end());
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
