/**
 * What a band task is: a command's numbers, packed once by the coordinator, and the work on rows y0..y1-1, done by it
 * and by helper threads alike. Helpers know nothing but shared memory, so all that reaches them is numbers.
 */
import type { BlockStep } from '../../core/graph/plan';
import type { Kernels } from '../kernels';
import type { Plane } from '../memory';

export interface TaskContext {
  memory: WebAssembly.Memory;
  kernels: Kernels;
  /** 0 for the coordinator, 1.. for helpers. */
  thread: number;
  /** This thread's scratch memory. */
  scratch: number;
}
/** Puts numbers into memory for the length of a command; gives their address. */
export type Put = (block: Float32Array | Uint32Array) => number;
export interface Task<C> {
  /** Rows that can be done apart. */
  rows(c: C): number;
  /** Pixels in a row: little work is not worth waking a helper. */
  width(c: C): number;
  pack(c: C, put: Put): readonly number[];
  band(ctx: TaskContext, y0: number, y1: number, args: ArrayLike<number>): void;
}
export const task = <C>(t: Task<C>): Task<C> => t;

/** Numbers by name on one side, in a row on the other. */
export function fields<const F extends readonly string[]>(
  ...names: F
): {
  pack(o: Readonly<Record<F[number], number>>): number[];
  unpack(a: ArrayLike<number>): Record<F[number], number>;
  readonly length: number;
} {
  return {
    pack: (o) => names.map((n) => o[n as F[number]]),
    unpack: (a) => Object.fromEntries(names.map((n, i) => [n, a[i]!])) as Record<F[number], number>,
    length: names.length,
  };
}

export interface Rgb {
  r: Plane;
  g: Plane;
  b: Plane;
}
/** An operation's numbers as a command carries them. */
export type Use = Pick<BlockStep, 'opIndex' | 'block'>;

/** Pixels handled at once: three planes of it stay in the first-level cache, doubled in the second. */
export const CHUNK = 2048;
export const CHUNK_BYTES = CHUNK * 4;
/** Rows of scratch that a view needs, each of the view's width: nine sampled, three column tables. */
export const VIEW_ROWS = 13;
/** Lines of four-byte numbers, each of the plane's width, that a frame pass may use. */
export const FRAME_LINES = 28;
/**
 * Scratch per thread: seven chunks for pixel work, or lines for area steps (4 (w + h) + 256 numbers) and frame passes.
 */
export const scratchBytes = (w: number, h: number): number =>
  Math.max(8 * (CHUNK_BYTES + 64), 4 * (4 * (w + h) + 256), VIEW_ROWS * (w + 8) * 4, FRAME_LINES * (w + 8) * 4) + 64;

/** Whole rows as pieces: their offset in bytes and how many pixels. */
export function chunks(w: number, y0: number, y1: number, f: (offset: number, n: number) => void): void {
  for (let i = y0 * w, end = y1 * w; i < end; i += CHUNK) f(i * 4, Math.min(CHUNK, end - i));
}
