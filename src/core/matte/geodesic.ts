/**
 * Geodesic distance over a picture: the least that any way costs (P. Soille, "Morphological image analysis", 2003,
 * 6.4), by raster passes there and back (A. Rosenfeld, J. Pfaltz, 1968).
 */
import type { SmallPicture } from './spread';

/** What a step costs beside what it leads over. */
const STEP = 0.02;
const ROUNDS = 3;

/** Of each row the part that a pass has to look at: from and to, both included; nothing where to lies before from. */
class Parts {
  private readonly from: Int32Array;
  private readonly to: Int32Array;
  constructor(private readonly rows: number) {
    this.from = new Int32Array(rows).fill(1 << 30);
    this.to = new Int32Array(rows).fill(-1);
  }
  add(y: number, x0: number, x1: number): void {
    if (y < 0 || y >= this.rows) return;
    if (x0 < this.from[y]!) this.from[y] = x0;
    if (x1 > this.to[y]!) this.to[y] = x1;
  }
  take(y: number): [from: number, to: number] {
    const got: [number, number] = [this.from[y]!, this.to[y]!];
    [this.from[y], this.to[y]] = [1 << 30, -1];
    return got;
  }
}
/**
 * Distance from where `seed` is 1, over `foreign` (0 belongs, 1 does not): raster passes there and back over eight
 * neighbours. A pass looks only at what lies beside a change that it has not seen; the loops are spelt out: they are
 * the most of the work.
 *
 * @param edge what crossing from a pixel to its neighbour to the right, below, right below and left below costs
 * @param cap what lies further away is not told apart
 */
export type Field = (
  size: Pick<SmallPicture, 'w' | 'h'>,
  edge: readonly Float32Array[],
  foreign: Float32Array,
  seed: Uint8Array,
  cap: number,
) => Float32Array;
let by: Field = fielded;
/** Another way to do the same to the bit, from now on in this thread: its twin in WebAssembly (engine/growing.ts). */
export function fieldBy(other: Field): void {
  by = other;
}
export const field: Field = (...of) => by(...of);
/** As defined; see Field. */
export function fielded(
  { w, h }: Pick<SmallPicture, 'w' | 'h'>,
  edge: readonly Float32Array[],
  foreign: Float32Array,
  seed: Uint8Array,
  cap: number,
): Float32Array {
  const long = Math.max(w, h);
  const n = w * h;
  const d = new Float32Array(n);
  // What is no seed, and one pixel about it.
  let [x0, x1, y0, y1] = [w, -1, h, -1];
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (seed[i] === 1) continue;
      d[i] = cap;
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      y1 = y;
    }
  const [down, up] = [new Parts(h), new Parts(h)];
  const changed = (y: number, x0: number, x1: number): void => {
    down.add(y + 1, x0 - 1, x1 + 1);
    up.add(y - 1, x0 - 1, x1 + 1);
  };
  for (let y = Math.max(0, y0 - 1); y <= Math.min(h - 1, y1 + 1); y++)
    for (let x = Math.max(0, x0 - 1), i = y * w + x; x <= Math.min(w - 1, x1 + 1); x++, i++) {
      if (d[i] !== 0) continue;
      // What lies among seeds leads nowhere new.
      const lone =
        (x > 0 && (d[i - 1] !== 0 || (y > 0 && d[i - w - 1] !== 0) || (y + 1 < h && d[i + w - 1] !== 0))) ||
        (x + 1 < w && (d[i + 1] !== 0 || (y > 0 && d[i - w + 1] !== 0) || (y + 1 < h && d[i + w + 1] !== 0))) ||
        (y > 0 && d[i - w] !== 0) ||
        (y + 1 < h && d[i + w] !== 0);
      if (!lone) continue;
      changed(y, x, x);
      down.add(y, x, x + 1);
      up.add(y, x - 1, x);
    }
  const [right, below, fall, rise] = edge as [Float32Array, Float32Array, Float32Array, Float32Array];
  for (let round = 0; round < ROUNDS; round++) {
    for (let y = 0; y < h; y++) {
      const [from, to] = down.take(y);
      let [first, last] = [-1, -1];
      // On past the end while what is new leads on.
      for (let x = Math.max(0, from), i = y * w + x; x < w && (x <= to || last === x - 1); x++, i++) {
        const a = Math.fround((STEP + foreign[i]!) / long);
        const s = a * Math.SQRT2;
        const was = d[i]!;
        let v = was;
        let t: number;
        if (x > 0 && (t = d[i - 1]! + a + right[i - 1]!) < v) v = t;
        if (y > 0) {
          if ((t = d[i - w]! + a + below[i - w]!) < v) v = t;
          if (x > 0 && (t = d[i - w - 1]! + s + fall[i - w - 1]!) < v) v = t;
          if (x + 1 < w && (t = d[i - w + 1]! + s + rise[i - w + 1]!) < v) v = t;
        }
        if (v < was) {
          d[i] = v;
          if (first < 0) first = x;
          last = x;
        }
      }
      if (first < 0) continue;
      changed(y, first, last);
      up.add(y, first - 1, last);
    }
    for (let y = h - 1; y >= 0; y--) {
      const [from, to] = up.take(y);
      let [first, last] = [w, w];
      for (let x = Math.min(w - 1, to), i = y * w + x; x >= 0 && (x >= from || first === x + 1); x--, i--) {
        const a = Math.fround((STEP + foreign[i]!) / long);
        const s = a * Math.SQRT2;
        const was = d[i]!;
        let v = was;
        let t: number;
        if (x + 1 < w && (t = d[i + 1]! + a + right[i]!) < v) v = t;
        if (y + 1 < h) {
          if ((t = d[i + w]! + a + below[i]!) < v) v = t;
          if (x + 1 < w && (t = d[i + w + 1]! + s + fall[i]!) < v) v = t;
          if (x > 0 && (t = d[i + w - 1]! + s + rise[i]!) < v) v = t;
        }
        if (v < was) {
          d[i] = v;
          if (last === w) last = x;
          first = x;
        }
      }
      if (first === w) continue;
      changed(y, first, last);
      down.add(y, first, last + 1);
    }
  }
  return d;
}
