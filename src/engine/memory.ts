/** Planes in one WebAssembly memory: a first-fit allocator in whole 64-byte units. */

const UNIT = 64;
const PAGE = 65536;
/** The kernels keep no data; the first page is theirs all the same. */
const BASE = PAGE;

/**
 * A handle of a piece of memory: whoever holds it can hand it to commands and look through it, and nothing else. Here
 * it is an address; for another back end it may be anything.
 */
export type Plane = number & { readonly plane: unique symbol };

export class OutOfMemory extends Error {
  override name = 'OutOfMemory';
}

export class Arena {
  /** Free pieces by address, joined where they touch. */
  private free: { at: number; size: number }[] = [];
  private sizes = new Map<number, number>();
  private end: number;
  used = 0;
  private looking = 0;

  constructor(
    readonly memory: WebAssembly.Memory,
    /** Most bytes that may be in use. */
    readonly limit: number,
  ) {
    this.end = BASE;
  }

  /**
   * A piece of `bytes` of memory, at a multiple of 64, plus room for one padded vector. Contents are whatever was
   * there.
   */
  alloc(bytes: number): Plane {
    if (this.looking > 0) throw new Error('Memory cannot be asked for while somebody looks at it');
    const size = Math.ceil((bytes + 16) / UNIT) * UNIT;
    const i = this.free.findIndex((f) => f.size >= size);
    let at: number;
    if (i >= 0) {
      const f = this.free[i]!;
      at = f.at;
      if (f.size === size) this.free.splice(i, 1);
      else this.free[i] = { at: f.at + size, size: f.size - size };
    } else {
      at = this.end;
      const need = at + size;
      if (need > this.limit)
        throw new OutOfMemory(`The picture and its corrections need more than ${Math.round(this.limit / 2 ** 20)} MB`);
      const have = this.memory.buffer.byteLength;
      // Growing by at least 16 MB keeps the number of growths small: each one renews every view.
      if (need > have) {
        const pages = Math.ceil((need - have) / PAGE);
        try {
          this.memory.grow(Math.max(pages, Math.min(256, Math.floor((this.limit - have) / PAGE))));
        } catch {
          try {
            this.memory.grow(pages);
          } catch {
            throw new OutOfMemory('The browser gives no more memory: close other tabs or use a smaller picture');
          }
        }
      }
      this.end = need;
    }
    this.sizes.set(at, size);
    this.used += size;
    return at as Plane;
  }

  release(at: Plane): void {
    const size = this.sizes.get(at);
    if (size === undefined) throw new RangeError(`No piece of memory begins at ${at}`);
    this.sizes.delete(at);
    this.used -= size;
    let i = this.free.findIndex((f) => f.at > at);
    if (i < 0) i = this.free.length;
    this.free.splice(i, 0, { at, size });
    for (const j of [i, i - 1]) {
      const a = this.free[j];
      const b = this.free[j + 1];
      if (a && b && a.at + a.size === b.at) this.free.splice(j, 2, { at: a.at, size: a.size + b.size });
    }
    const last = this.free[this.free.length - 1];
    if (last && last.at + last.size === this.end) {
      this.free.pop();
      this.end = last.at;
    }
  }

  /**
   * Views of memory live inside `body` and nowhere else: meanwhile nothing can be allocated, since growing the memory
   * would leave them empty, and what `body` gives back must be plain values or copies.
   */
  look<T>(body: (v: Views) => T): T {
    this.looking++;
    try {
      const out = body(this.views);
      if (holdsView(out, this.memory.buffer)) throw new Error('A view of memory was handed out: copy it');
      return out;
    } finally {
      this.looking--;
    }
  }
  private readonly views: Views = {
    f32: (at, n) => new Float32Array(this.memory.buffer, at, n) as Float32Array,
    u32: (at, n) => new Uint32Array(this.memory.buffer, at, n) as Uint32Array,
    f64: (at, n) => new Float64Array(this.memory.buffer, at, n) as Float64Array,
    u8: (at, n) => new Uint8Array(this.memory.buffer, at, n) as Uint8Array,
  };
}

/** Ways to see memory, for the length of one `look`. */
export interface Views {
  f32(at: Plane, n: number): Float32Array;
  u32(at: Plane, n: number): Uint32Array;
  f64(at: Plane, n: number): Float64Array;
  u8(at: Plane, n: number): Uint8Array;
}
function holdsView(x: unknown, buffer: ArrayBufferLike): boolean {
  if (typeof x !== 'object' || x === null) return false;
  if (ArrayBuffer.isView(x)) return x.buffer === buffer;
  return Object.values(x).some((v) => ArrayBuffer.isView(v) && v.buffer === buffer);
}
