/** A memory of its own for kernels that are called with whole arrays: laid out anew for each call. */

const PAGE = 65536;

export interface PlainMemory {
  exports: WebAssembly.Exports;
  readonly buffer: ArrayBuffer;
  /** Bytes from here on are free. */
  readonly from: number;
  /** Room up to a byte. */
  reach(end: number): void;
}
export async function plainMemory(made: WebAssembly.Module): Promise<PlainMemory> {
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 65536 });
  const abort = (): void => {
    throw new Error('A kernel stopped');
  };
  const { exports } = await WebAssembly.instantiate(made, { env: { memory, abort } });
  return {
    exports,
    get buffer() {
      return memory.buffer;
    },
    from: PAGE,
    reach(end) {
      const missing = end - memory.buffer.byteLength;
      if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
    },
  };
}
/** Gives places one after the other, each in whole 64 bytes. */
export function placer(from: number): { place(size: number): number; end(): number } {
  let end = from;
  return {
    place(size) {
      const at = end;
      end += 64 * Math.ceil(size / 64);
      return at;
    },
    end: () => end,
  };
}
