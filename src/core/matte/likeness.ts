/**
 * What a first growth teaches about colour: how often each colour stands well inside it, and how often where it
 * certainly is not. After C. Rother, V. Kolmogorov, A. Blake, "GrabCut", ACM TOG 23(3), 2004: the region found is the
 * sample of the next round; here by counts of colours in OKLab instead of mixtures.
 */
import { nth } from '../math/stats';
import type { Marks, SmallPicture } from './spread';
import { reachOf } from './twoThings';
import type { Reach } from './twoThings';

/** Cells of OKLab: L from 0 to 1.12, a and b from -0.24 to 0.24; what lies beyond counts in the last ones. */
const [NL, NA, NB] = [28, 40, 40] as const;
const STEP_L = 0.04;
const STEP_AB = 0.012;
const LOWEST_AB = -0.24;
/** Nearer than this to the border of the region a pixel teaches nothing: it may be mixed, or the border wrong. */
const BORDER_PX = 3;
/** What strokes weigh beside what they were grown to. */
const PAINTED = 0.3;
/** Density below which counts say little, and the first model's word stands. */
const LITTLE = 2e-4;

const clampTo = (n: number, v: number): number => (v < 0 ? 0 : v >= n ? n - 1 : v);
const celled = new WeakMap<SmallPicture, Uint16Array>();
/** The cell of OKLab in which each pixel's colour counts. What grows again and again over a picture asks once. */
export function cellsOf(p: SmallPicture): Uint16Array {
  const known = celled.get(p) ?? cells(p);
  celled.set(p, known);
  return known;
}
function cells({ L, a, b }: SmallPicture): Uint16Array {
  const out = new Uint16Array(L.length);
  for (let i = 0; i < out.length; i++) {
    const l = clampTo(NL, Math.floor(L[i]! / STEP_L));
    const x = clampTo(NA, Math.floor((a[i]! - LOWEST_AB) / STEP_AB));
    const y = clampTo(NB, Math.floor((b[i]! - LOWEST_AB) / STEP_AB));
    out[i] = (l * NA + x) * NB + y;
  }
  return out;
}
/** Counts of colours, most of which are none: the cells in which something lies, and all of them. */
interface Counts {
  cells: number[];
  values: Float32Array;
}
const AXES = [
  [1, NB],
  [NB, NA],
  [NB * NA, NL],
] as const;
/** Each cell lends a quarter to either neighbour, along each axis. */
function smoothed(h: Counts): Float32Array {
  let { cells, values } = h;
  for (const [step, n] of AXES) {
    const to = new Float32Array(values.length);
    const seen = new Uint8Array(values.length);
    const reached: number[] = [];
    const reach = (i: number): void => {
      if (seen[i] === 1) return;
      seen[i] = 1;
      reached.push(i);
      const at = Math.floor(i / step) % n;
      // In single precision, one after the other.
      const below = at > 0 ? values[i - step]! / 4 : 0;
      to[i] = Math.fround(below + values[i]! / 2) + (at + 1 < n ? values[i + step]! / 4 : 0);
    };
    for (const i of cells) {
      const at = Math.floor(i / step) % n;
      if (at > 0) reach(i - step);
      reach(i);
      if (at + 1 < n) reach(i + step);
    }
    [cells, values] = [reached, to];
  }
  return values;
}
/**
 * Distance in pixels to where `on` has a value, by two passes over eight neighbours: 8 % too long at worst.
 *
 * @param of only in these columns and rows, as if nothing lay beyond: there it is the same where what is nearest lies
 *   there too. Elsewhere 0. Left out: everywhere
 */
export type Distance = (on: Uint8Array, w: number, value: 0 | 1, of?: Reach) => Float32Array;
let measured: Distance = distances;
/** Another way to do the same to the bit, from now on in this thread: its twin in WebAssembly (engine/growing.ts). */
export function distanceBy(other: Distance): void {
  measured = other;
}
export const distanceTo: Distance = (...given) => measured(...given);
/** As defined; see Distance. */
export function distances(
  on: Uint8Array,
  w: number,
  value: 0 | 1,
  { x0, y0, x1, y1 }: Reach = { x0: 0, y0: 0, x1: w, y1: on.length / w },
): Float32Array {
  const d = new Float32Array(on.length);
  for (let y = y0; y < y1; y++)
    for (let x = x0, i = y * w + x; x < x1; x++, i++) {
      if (on[i] === value) continue;
      let v = 1e9;
      if (x > x0) v = Math.min(v, d[i - 1]! + 1);
      if (y > y0) {
        v = Math.min(v, d[i - w]! + 1);
        if (x > x0) v = Math.min(v, d[i - w - 1]! + Math.SQRT2);
        if (x + 1 < x1) v = Math.min(v, d[i - w + 1]! + Math.SQRT2);
      }
      d[i] = v;
    }
  for (let y = y1 - 1; y >= y0; y--)
    for (let x = x1 - 1, i = y * w + x; x >= x0; x--, i--) {
      let v = d[i]!;
      if (v === 0) continue;
      if (x + 1 < x1) v = Math.min(v, d[i + 1]! + 1);
      if (y + 1 < y1) {
        v = Math.min(v, d[i + w]! + 1);
        if (x + 1 < x1) v = Math.min(v, d[i + w + 1]! + Math.SQRT2);
        if (x > x0) v = Math.min(v, d[i + w - 1]! + Math.SQRT2);
      }
      d[i] = v;
    }
  return d;
}
/** What a mask reaches and so much about it, of a picture `w` wide. */
export function windowOf(mask: Uint8Array, w: number, about: number): Reach {
  const { x0, y0, x1, y1 } = reachOf(mask, w);
  const far = Math.ceil(about);
  return {
    x0: Math.max(0, x0 - far),
    y0: Math.max(0, y0 - far),
    x1: Math.min(w, x1 + far),
    y1: Math.min(mask.length / w, y1 + far),
  };
}

export interface Likeness {
  /** How well each pixel's colour belongs, by what was learnt and, where that says little, by the first model; 0..1. */
  belongs: Float32Array;
  /** How often its colour stands inside, as a density. */
  density: Float32Array;
  /** The density that four fifths of what is well inside have. */
  usual: number;
}
/** Counts of colours, of each of OKLab's cells in turn: in a region, outside it, kept, left; and how many in all. */
export interface Counted {
  tables: readonly [Float32Array, Float32Array, Float32Array, Float32Array];
  all: readonly [number, number, number, number];
  /** 1 well inside. */
  deep: Uint8Array;
}
/** What goes over every pixel; see `likeness`. */
export interface Learning {
  /**
   * @param near what lies further from the region teaches nothing
   * @param of where all that lies nearer does
   */
  counted(
    size: number,
    w: number,
    cell: Uint16Array,
    mask: Uint8Array,
    marks: Marks,
    beyond: Uint8Array,
    near: number,
    of: Reach,
  ): Counted;
  weighed(
    cell: Uint16Array,
    is: Float32Array,
    isNot: Float32Array,
    model: Float32Array,
  ): Pick<Likeness, 'belongs' | 'density'>;
}
/** As defined. */
export const learning: Learning = {
  counted(size, w, cell, mask, marks, beyond, near, of) {
    const toOut = distanceTo(mask, w, 0, of);
    const toIn = distanceTo(mask, w, 1, of);
    const tables = [0, 1, 2, 3].map(() => new Float32Array(size)) as unknown as Counted['tables'];
    const [grown, outside, kept, left] = tables;
    const deep = new Uint8Array(mask.length);
    let [inside, ofOutside, ofKept, ofLeft] = [0, 0, 0, 0];
    for (let i = 0; i < mask.length; i++) {
      if (marks[i] === 1) {
        kept[cell[i]!]!++;
        ofKept++;
      } else if (marks[i] === 2) {
        left[cell[i]!]!++;
        ofLeft++;
      }
    }
    for (let y = of.y0; y < of.y1; y++)
      for (let x = of.x0, i = y * w + x; x < of.x1; x++, i++) {
        if (mask[i] === 1) {
          if (!(toOut[i]! >= BORDER_PX)) continue;
          deep[i] = 1;
          grown[cell[i]!]!++;
          inside++;
        } else if (beyond[i] === 1 && toIn[i]! > BORDER_PX && toIn[i]! < near) {
          outside[cell[i]!]!++;
          ofOutside++;
        }
      }
    return { tables, all: [inside, ofOutside, ofKept, ofLeft], deep };
  },
  weighed(cell, is, isNot, model) {
    const belongs = new Float32Array(cell.length);
    const density = new Float32Array(cell.length);
    for (let i = 0; i < cell.length; i++) {
      const own = is[cell[i]!]!;
      belongs[i] = (own + LITTLE * model[i]!) / (own + isNot[cell[i]!]! + LITTLE);
      density[i] = own;
    }
    return { belongs, density };
  },
};
let learns = learning;
/** Another way to do the same to the bit, from now on in this thread: its twin in WebAssembly (engine/growing.ts). */
export function learnBy(other: Learning): void {
  learns = other;
}
/**
 * @param mask the region so far, 1 inside
 * @param beyond 1 for what is certainly not meant; near the region it teaches what does not belong
 * @param model how well each pixel's colour belongs by the strokes alone
 * @returns null where the region is too small to teach
 */
export function likeness(
  p: SmallPicture,
  mask: Uint8Array,
  marks: Marks,
  beyond: Uint8Array,
  model: Float32Array,
): Likeness | null {
  const cell = cellsOf(p);
  let area = 0;
  for (let i = 0; i < mask.length; i++) area += mask[i]!;
  // What lies further off than about its own size is another part of the picture, which would hide its neighbours.
  const near = 0.6 * Math.sqrt(area) + 10;
  const size = NL * NA * NB;
  const of = windowOf(mask, p.w, near + 1);
  const { tables, all, deep } = learns.counted(size, p.w, cell, mask, marks, beyond, near, of);
  const [grown, outside, kept, left] = tables;
  const [inside, ofOutside, ofKept, ofLeft] = all;
  if (inside < 30) return null;
  const together = (found: Float32Array, a: number, painted: Float32Array, b: number): Float32Array => {
    const cells: number[] = [];
    const values = new Float32Array(size);
    for (let c = 0; c < size; c++) {
      if (found[c] === 0 && painted[c] === 0) continue;
      cells.push(c);
      values[c] = (a > 0 ? ((1 - PAINTED) * found[c]!) / a : 0) + (b > 0 ? (PAINTED * painted[c]!) / b : 0);
    }
    return smoothed({ cells, values });
  };
  const { belongs, density } = learns.weighed(
    cell,
    together(grown, inside, kept, ofKept),
    together(outside, ofOutside, left, ofLeft),
    model,
  );
  const well = new Float32Array(inside);
  for (let i = 0, k = 0; k < inside; i++) if (deep[i] === 1) well[k++] = density[i]!;
  return { belongs, density, usual: nth(well, Math.floor(0.2 * inside)) };
}
