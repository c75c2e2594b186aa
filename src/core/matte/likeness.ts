/**
 * What a first growth teaches about colour: how often each colour stands well inside it, and how often where it
 * certainly is not. After C. Rother, V. Kolmogorov, A. Blake, "GrabCut", ACM TOG 23(3), 2004: the region found is the
 * sample of the next round; here by counts of colours in OKLab instead of mixtures.
 */
import { nth } from '../math/stats';
import type { Marks, SmallPicture } from './spread';

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
/** Distance in pixels to where `on` has a value, by two passes over eight neighbours: 8 % too long at worst. */
export function distanceTo(on: Uint8Array, w: number, value: 0 | 1): Float32Array {
  const h = on.length / w;
  const d = new Float32Array(on.length);
  for (let i = 0; i < d.length; i++) d[i] = on[i] === value ? 0 : 1e9;
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      let v = d[i]!;
      if (v === 0) continue;
      if (x > 0) v = Math.min(v, d[i - 1]! + 1);
      if (y > 0) {
        v = Math.min(v, d[i - w]! + 1);
        if (x > 0) v = Math.min(v, d[i - w - 1]! + Math.SQRT2);
        if (x + 1 < w) v = Math.min(v, d[i - w + 1]! + Math.SQRT2);
      }
      d[i] = v;
    }
  for (let y = h - 1, i = d.length - 1; y >= 0; y--)
    for (let x = w - 1; x >= 0; x--, i--) {
      let v = d[i]!;
      if (v === 0) continue;
      if (x + 1 < w) v = Math.min(v, d[i + 1]! + 1);
      if (y + 1 < h) {
        v = Math.min(v, d[i + w]! + 1);
        if (x + 1 < w) v = Math.min(v, d[i + w + 1]! + Math.SQRT2);
        if (x > 0) v = Math.min(v, d[i + w - 1]! + Math.SQRT2);
      }
      d[i] = v;
    }
  return d;
}

export interface Likeness {
  /** How well each pixel's colour belongs, by what was learnt and, where that says little, by the first model; 0..1. */
  belongs: Float32Array;
  /** How often its colour stands inside, as a density. */
  density: Float32Array;
  /** The density that four fifths of what is well inside have. */
  usual: number;
}
/**
 * @param mask the region so far, 1 inside
 * @param beyond what is certainly not meant; near the region it teaches what does not belong
 * @param model how well each pixel's colour belongs by the strokes alone
 * @returns null where the region is too small to teach
 */
export function likeness(
  p: SmallPicture,
  mask: Uint8Array,
  marks: Marks,
  beyond: (i: number) => boolean,
  model: Float32Array,
): Likeness | null {
  const n = mask.length;
  const cell = cellsOf(p);
  const toOut = distanceTo(mask, p.w, 0);
  const toIn = distanceTo(mask, p.w, 1);
  let area = 0;
  for (let i = 0; i < n; i++) area += mask[i]!;
  // What lies further off than about its own size is another part of the picture, which would hide its neighbours.
  const near = 0.6 * Math.sqrt(area) + 10;
  const size = NL * NA * NB;
  const [grown, outside, kept, left] = [0, 1, 2, 3].map(() => new Float32Array(size)) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  let [inside, ofOutside, ofKept, ofLeft] = [0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    const c = cell[i]!;
    if (marks[i] === 1) {
      kept[c]!++;
      ofKept++;
    } else if (marks[i] === 2) {
      left[c]!++;
      ofLeft++;
    }
    if (mask[i] === 1 && toOut[i]! >= BORDER_PX) {
      grown[c]!++;
      inside++;
    } else if (toIn[i]! > BORDER_PX && toIn[i]! < near && beyond(i)) {
      outside[c]!++;
      ofOutside++;
    }
  }
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
  const is = together(grown, inside, kept, ofKept);
  const isNot = together(outside, ofOutside, left, ofLeft);
  const belongs = new Float32Array(n);
  const density = new Float32Array(n);
  const deep = new Float32Array(inside);
  let k = 0;
  for (let i = 0; i < n; i++) {
    const c = cell[i]!;
    belongs[i] = (is[c]! + LITTLE * model[i]!) / (is[c]! + isNot[c]! + LITTLE);
    density[i] = is[c]!;
    if (mask[i] === 1 && toOut[i]! >= BORDER_PX) deep[k++] = is[c]!;
  }
  return { belongs, density, usual: nth(deep, Math.floor(0.2 * deep.length)) };
}
