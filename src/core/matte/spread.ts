/**
 * Spread: a region grown from keep and leave strokes over like colour until it meets an edge. Two fields of geodesic
 * distance (P. Soille, "Morphological image analysis", 2003, 6.4; raster passes after A. Rosenfeld, J. Pfaltz, 1968)
 * over a cost that is low where the colour belongs and high at edges; a pixel goes to whichever it is nearer.
 */
import { nth } from '../math/stats';
import { divider, TOO_FAR } from './divide';
import { field } from './geodesic';
import { distanceTo, likeness } from './likeness';
import type { Likeness } from './likeness';
import { fitModel, modelOver } from './model';
import type { Model, Samples } from './model';
import { reachOf } from './twoThings';

export interface SmallPicture {
  w: number;
  h: number;
  /** OKLab planes. */
  L: Float32Array;
  a: Float32Array;
  b: Float32Array;
}
/** Marks on the small picture: 1 keep, 2 leave, 0 neither. */
export type Marks = Uint8Array;
export interface SpreadOptions {
  /** The longest way that is still inside. */
  cap: number;
  /** Pieces and holes smaller than this share of the picture go, unless a stroke touches them. */
  smallest: number;
  /** Pieces of the same colour belong too where no way leads to them. */
  apart?: boolean;
  /** In a shape more is meant, whatever a longer reach finds more of, as before version 6 of the operation. */
  anyMore?: boolean;
  /**
   * In a shape only how much of it is filled tells of a longer reach, and blobs of rare colours belong to a thing in
   * pieces, as before version 7 of the operation.
   */
  byFill?: boolean;
  /** What lies beside skin goes along, as before version 8 of the operation. */
  besideToo?: boolean;
  /** A loose shape holds what is beside the thing as well. */
  heldByShape?: boolean;
  /** The border stays where it was grown to, as before version 2 of the operation. */
  asGrown?: boolean;
  /** All strokes are one surface, and strokes alone grow once, as before version 3 of it. */
  once?: boolean;
}
export const SPREAD: SpreadOptions = { cap: 0.02, smallest: 0.0006 };
/** Longest side of the picture that a spread grows over. */
export const SPREAD_SIDE = 480;
const EDGE = 40;
const GATE = 0.05;

const samplesOf = ({ L, a, b }: SmallPicture, at: readonly number[]): Samples =>
  Float32Array.from(at.flatMap((i) => [L[i]!, a[i]!, b[i]!]));
function where(marks: Marks, which: 1 | 2): number[] {
  const out: number[] = [];
  for (let i = 0; i < marks.length; i++) if (marks[i] === which) out.push(i);
  return out;
}
/** The pixels of each piece of what is kept: strokes that touch are one. */
function strokesAt(marks: Marks, w: number): number[][] {
  const h = marks.length / w;
  const seen = new Uint8Array(marks.length);
  const out: number[][] = [];
  for (let start = 0; start < marks.length; start++) {
    if (marks[start] !== 1 || seen[start]) continue;
    const at = [start];
    seen[start] = 1;
    for (let k = 0; k < at.length; k++) {
      const [x, y] = [at[k]! % w, Math.floor(at[k]! / w)];
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const [u, v] = [x + dx, y + dy];
          if (u < 0 || v < 0 || u >= w || v >= h) continue;
          const j = v * w + u;
          if (marks[j] === 1 && !seen[j]) {
            seen[j] = 1;
            at.push(j);
          }
        }
    }
    out.push(at);
  }
  return out;
}
/** The texture of what is kept: three quarters of neighbours under its strokes differ by no more. */
export function textureOf(p: SmallPicture, by: Differences, marks: Marks): number {
  const d: number[] = [];
  for (let y = 0; y < p.h; y++)
    for (let x = 0; x < p.w; x++) {
      const i = y * p.w + x;
      if (marks[i] !== 1) continue;
      if (x + 1 < p.w && marks[i + 1] === 1) d.push(by[0]![i]!);
      if (y + 1 < p.h && marks[i + p.w] === 1) d.push(by[1]![i]!);
    }
  return d.length > 0 ? nth(Float32Array.from(d), Math.floor(0.75 * (d.length - 1))) : 0;
}

/** Neighbours that a pass from the left top has been at already: right, below and the diagonals; four edges a pixel. */
const NEXT = [
  [1, 0],
  [0, 1],
  [1, 1],
  [-1, 1],
] as const;

/** How a pixel differs from each of its next ones; what grows again and again over a picture asks once. */
export type Differences = readonly Float32Array[];
const asked = new WeakMap<SmallPicture, Differences>();
export function differences(p: SmallPicture): Differences {
  const known = asked.get(p) ?? differencesOf(p);
  asked.set(p, known);
  return known;
}
const differencesOf = ({ w, h, L, a, b }: SmallPicture): Differences =>
  NEXT.map(([dx, dy]) => {
    const out = new Float32Array(w * h);
    for (let y = 0; y < h - dy; y++)
      for (let x = Math.max(0, -dx), i = y * w + x, j = i + dy * w + dx; x < w - Math.max(0, dx); x++, i++, j++) {
        const u = L[i]! - L[j]!;
        const v = a[i]! - a[j]!;
        const z = b[i]! - b[j]!;
        out[i] = Math.sqrt(u * u + v * v + z * z);
      }
    return out;
  });
/** What crossing from a pixel to each of its next ones costs by their difference alone; all fields share it. */
function edges(p: SmallPicture, by: Differences, z: number): readonly Float32Array[] {
  const known = crossed.get(by);
  if (known?.z === z) return known.costs;
  const costs = NEXT.map(([dx, dy], n) => {
    const k = (EDGE * Math.hypot(dx, dy)) / Math.max(p.w, p.h);
    const d = by[n]!;
    const out = new Float32Array(d.length);
    for (let i = 0; i < d.length; i++) if (d[i]! > z) out[i] = k * (d[i]! - z);
    return out;
  });
  crossed.set(by, { z, costs });
  return costs;
}
const crossed = new WeakMap<Differences, { z: number; costs: readonly Float32Array[] }>();

/**
 * Pieces of 1 (by corners) or of 0 (by sides) that are too small and that no stroke touches change sides. Pieces are
 * joined from runs along rows, which are far fewer than pixels.
 *
 * @param held what no mark of this kind touches may change
 * @param inside beyond it nothing changes, and a piece that reaches there stays
 */
function dropSmall(
  m: Uint8Array,
  w: number,
  value: 0 | 1,
  least: number,
  marks: Marks,
  held: 1 | 2,
  inside: Uint8Array | null = null,
): void {
  const n = m.length;
  const from: number[] = [];
  const to: number[] = [];
  const first: number[] = [];
  const size: number[] = [];
  const stays: boolean[] = [];
  const root = (k: number): number => {
    while (first[k] !== k) k = first[k] = first[first[k]!]!;
    return k;
  };
  const join = (a: number, b: number): void => {
    const [x, y] = [root(a), root(b)];
    if (x === y) return;
    const [low, high] = x < y ? [x, y] : [y, x];
    first[high] = low;
    size[low]! += size[high]!;
    if (stays[high]) stays[low] = true;
  };
  const beyond = (i: number): boolean => inside![i] === 0 && m[i] === value;
  const corner = value === 1 ? 1 : 0;
  // No piece lies elsewhere.
  const { x0, y0, x1, y1 } =
    value === 1 ? reachOf(m, w) : inside ? reachOf(inside, w) : { x0: 0, y0: 0, x1: w, y1: n / w };
  for (let y = y0, above = 0; y < y1; y++) {
    const row = y * w;
    const begin = from.length;
    for (let i = row + x0; i < row + x1; i++) {
      if (m[i] !== value || (inside !== null && inside[i] === 0)) continue;
      const k = from.length;
      from.push(i);
      first.push(k);
      let stay = false;
      for (; i < row + x1 && m[i] === value && (inside === null || inside[i] !== 0); i++) {
        if (marks[i] === held) stay = true;
        if (inside === null || stay) continue;
        const x = i - row;
        stay =
          (x > 0 && beyond(i - 1)) ||
          (x + 1 < w && beyond(i + 1)) ||
          (row > 0 && beyond(i - w)) ||
          (i + w < n && beyond(i + w));
      }
      to.push(i);
      size.push(i - from[k]!);
      stays.push(stay);
      // Those above that end before this one begins are done with.
      while (above < begin && to[above]! + w + corner <= from[k]!) above++;
      for (let j = above; j < begin && from[j]! + w < i + corner; j++) join(j, k);
    }
    above = begin;
  }
  for (let k = 0; k < from.length; k++) {
    const r = root(k);
    if (!stays[r] && size[r]! < least) m.fill(1 - value, from[k], to[k]);
  }
}

export interface Spread {
  /** 1 inside, 0 outside. */
  mask: Uint8Array;
  /** The same before its border was laid. */
  grown: Uint8Array;
  model: Model;
  /** How well each pixel's colour belongs, 0..1. */
  belongs: Float32Array;
  /** What was learnt of its colours; null: nothing. */
  learnt: Likeness | null;
}
/** With a shape about it a way may be this much longer: the shape keeps it from running off. */
const SHAPED = 1.5;
/** A pixel apart is a beginning of its own from here: sure by what was learnt, and not unlike what was painted. */
const SURE = 0.9;
const NOT_UNLIKE = 0.5;
/** Strokes alone: what they grew to, and as much about it as this share of the root of its area and so many pixels. */
const ABOUT = { share: 0.2, px: 4 };
function about(mask: Uint8Array, w: number): Uint8Array | null {
  let area = 0;
  for (let i = 0; i < mask.length; i++) area += mask[i]!;
  if (area === 0) return null;
  const far = ABOUT.share * Math.sqrt(area) + ABOUT.px;
  const d = distanceTo(mask, w, 1);
  const out = new Uint8Array(mask.length);
  for (let i = 0; i < out.length; i++) if (d[i]! <= far) out[i] = 1;
  return out;
}
/** Half of what was painted belongs by less than this: a twin of its colours was learnt as not meant. */
const TWIN = 0.8;
/** As much more of it that half of what was painted belongs in full, where it belongs by less than `from`. */
function scale(belongs: Float32Array, marks: Marks, from = 1): void {
  const own = Float32Array.from(where(marks, 1), (i) => belongs[i]!).sort();
  const most = Math.max(GATE, own[own.length >> 1] ?? 1);
  if (most < from) for (let i = 0; i < belongs.length; i++) belongs[i] = Math.min(1, belongs[i]! / most);
}
/** What growths from the same strokes over the same picture share, whatever their reach. */
export interface Ground {
  p: SmallPicture;
  marks: Marks;
  /** 1 where the region may be; null: everywhere. */
  shape: Uint8Array | null;
  model: Model;
  /** How well each pixel's colour belongs by the strokes alone, 0..1. */
  belongs: Float32Array;
  by: Differences;
  texture: number;
}
/** @param shape 1 where the region may be; null: everywhere */
export function groundOf(p: SmallPicture, marks: Marks, shape: Uint8Array | null, o: SpreadOptions): Ground {
  // In a shape colours between two strokes lead nowhere else: there they are one surface.
  const strokes = o.once || shape ? [where(marks, 1)] : strokesAt(marks, p.w);
  const model = fitModel(
    strokes.map((at) => samplesOf(p, at)),
    samplesOf(p, where(marks, 2)),
  );
  const belongs = modelOver(model, p.L, p.a, p.b);
  // Where what is kept and what is left look alike, nothing belongs in full: it is told by what was painted itself.
  scale(belongs, marks);
  const by = differences(p);
  return { p, marks, shape, model, belongs, by, texture: textureOf(p, by, marks) };
}
/** Grown from the strokes: see `spreadOver`. */
export const spread = (p: SmallPicture, marks: Marks, shape: Uint8Array | null, o: SpreadOptions = SPREAD): Spread =>
  spreadOver(groundOf(p, marks, shape, o), o);
/**
 * A first growth from the strokes alone. What was found, and what lies beyond the shape that says what is outside (or
 * beyond a margin about what was found, where there is none), teach which colours belong, and it is grown again; twice
 * where pieces apart belong in a shape.
 */
export function spreadOver({ p, marks, shape, model, belongs, by, texture }: Ground, o: SpreadOptions): Spread {
  const seeds = (within: Uint8Array | null, like: (i: number) => boolean): Marks =>
    o.apart ? marks.map((m, i) => (m === 0 && (!within || within[i] === 1) && like(i) ? 1 : m)) : marks;
  const first = shape ? marks : seeds(null, (i) => belongs[i]! > SURE);
  let { mask, way } = grow(p, belongs, marks, shape, o, by, texture, first, o.cap);
  const inside = shape ?? (o.once ? null : about(mask, p.w));
  if (!inside) return { mask, grown: mask, model, belongs, learnt: null };
  let learnt: Likeness | null = null;
  let cap = o.cap;
  for (let round = shape && o.apart ? 2 : 1; round > 0; round--) {
    // A shape may cut through the thing: what like colour leads to beyond it teaches nothing.
    const beyond = new Uint8Array(mask.length);
    for (let i = 0; i < beyond.length; i++) if (inside[i] === 0 && way[i]! > o.cap) beyond[i] = 1;
    const l = likeness(p, mask, marks, beyond, belongs);
    if (!l) break;
    learnt = l;
    // Nobody said that its twin beyond a line is not meant: a thing is not unlike itself for that.
    if (!shape) scale(l.belongs, marks, TWIN);
    const sure = seeds(inside, (i) => l.belongs[i]! > SURE && belongs[i]! > NOT_UNLIKE && l.density[i]! >= l.usual);
    cap = o.cap * SHAPED;
    ({ mask, way } = grow(p, l.belongs, marks, inside, { ...o, cap }, by, texture, sure, TOO_FAR * cap));
  }
  // What was grown is uneven at its border and ends where light ends: the border is laid where it costs least. In a
  // shape that and what was left out teach too, and it is laid once more.
  const grown = mask;
  if (learnt && !o.asGrown) {
    const length = { length: way, most: cap };
    const divide = divider(p, marks, inside, by, texture, length, shape !== null);
    for (let round = 0; round < (shape ? 2 : 1); round++) {
      if (round === 1) {
        const beyond = new Uint8Array(mask.length);
        for (let i = 0; i < beyond.length; i++)
          if (mask[i] === 0 && (inside[i] === 1 || way[i]! > o.cap)) beyond[i] = 1;
        learnt = likeness(p, mask, marks, beyond, belongs) ?? learnt;
      }
      mask = divide(learnt, grown);
      tidied(p, mask, marks, inside, o);
    }
  }
  return { mask, grown, model, belongs: learnt?.belongs ?? belongs, learnt };
}
/** A little further than the furthest that counts, whatever single precision makes of it. */
const BEYOND = 1.001;
/** The same over any measure of what belongs (0..1), by the texture under what is kept. */
export const growOver = (
  p: SmallPicture,
  belongs: Float32Array,
  marks: Marks,
  inside: Uint8Array | null,
  o: SpreadOptions,
  by: Differences,
): Uint8Array => grow(p, belongs, marks, inside, o, by, textureOf(p, by, marks), marks, null).mask;
/** Where ways are only compared with each other, they are this long at most nearly everywhere. */
const SHORT = 0.05;
/**
 * With the way from what is kept to each pixel.
 *
 * @param seeds where it begins (1)
 * @param furthest ways longer than this are not told apart; at least the cap. Null: nobody asks for the ways, and they
 *   are told apart only so far as the mask depends on it
 */
function grow(
  p: SmallPicture,
  belongs: Float32Array,
  marks: Marks,
  inside: Uint8Array | null,
  o: SpreadOptions,
  by: Differences,
  texture: number,
  seeds: Marks,
  furthest: number | null,
): { mask: Uint8Array; way: Float32Array } {
  const n = p.w * p.h;
  const edge = edges(p, by, texture);
  const foreign = new Float32Array(n);
  const kept = new Uint8Array(n);
  const left = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    foreign[i] = 1 - belongs[i]!;
    if (seeds[i] === 1) kept[i] = 1;
    if (marks[i] === 2 || (inside !== null && inside[i] === 0)) left[i] = 1;
  }
  const away = (cap: number): Float32Array => field(p, edge, belongs, left, BEYOND * cap);
  /** The longest way to what is kept away from, of pixels for which it says something. */
  const longest = (leave: Float32Array): number => {
    let most = 0;
    for (let i = 0; i < n; i++)
      if (leave[i]! > most && seeds[i] !== 1 && (inside === null || inside[i] !== 0)) most = leave[i]!;
    return most;
  };
  let leave: Float32Array | null = null;
  let far = furthest ?? o.cap;
  // With nothing to keep away from there is no second field.
  if (left.includes(1)) {
    const short = furthest === null ? Math.min(SHORT, o.cap) : o.cap;
    leave = away(short);
    if (short < o.cap && longest(leave) >= short) leave = away(o.cap);
    // What is nearer to what is left than to what is kept is out, however much further that is.
    if (furthest === null) far = Math.min(far, longest(leave));
  }
  const keep = field(p, edge, foreign, kept, BEYOND * far);
  const mask = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    // What is kept away from has no way to itself.
    if (keep[i]! >= o.cap || left[i] === 1 || (leave !== null && keep[i]! >= leave[i]!)) continue;
    if (belongs[i]! > GATE || marks[i] === 1) mask[i] = 1;
  }
  tidied(p, mask, marks, inside, o);
  return { mask, way: keep };
}
export function tidied(
  p: SmallPicture,
  mask: Uint8Array,
  marks: Marks,
  inside: Uint8Array | null,
  o: SpreadOptions,
): void {
  const least = o.smallest * mask.length;
  dropSmall(mask, p.w, 1, least, marks, 1);
  dropSmall(mask, p.w, 0, least, marks, 2, inside);
}
