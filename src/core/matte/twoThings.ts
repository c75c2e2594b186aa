/**
 * Whether a guess at a thing is two things: a face with its hat, a jaw with a strip of the wall beside it. Another,
 * smaller guess lies within it, and what it holds beyond that one is parted from it by an edge and has another colour.
 * A neck in the chin's shadow is parted by an edge as well, but has the face's hue; a cheek in warmer light has another
 * hue, but no edge lies between.
 */
import { median } from '../math/stats';
import type { SmallPicture } from './spread';

/** Hue in radians and chroma over light of each pixel. */
export interface Colours {
  hue: Float32Array;
  sat: Float32Array;
}
/** The smaller guess has at least so much of the larger one, and lies in it but for so much of itself. */
const HELD = { least: 0.35, beyond: 0.05 };
/** What the larger one holds beyond it in all, and a piece of that, of the larger one's pixels. */
const MORE = { all: 0.12, piece: 0.06 };
/** They touch along so many times the smaller one's width. */
const TOUCHES = 0.15;
/** Least chroma over light that another is a share of. */
const PALE = 0.05;
/** How a difference of chroma counts beside one of hue, both at most 1. */
const CHROMA = 0.5;
/** Difference over an edge, two pixels on either side, that is a whole one. */
const EDGE = 0.12;

export const wrap = (a: number): number => (a > Math.PI ? a - 2 * Math.PI : a < -Math.PI ? a + 2 * Math.PI : a);
/** How much of an edge lies between pixels j and k: what their neighbours away from each other, i and l, differ by. */
export const edgeOver = ({ L, a, b }: SmallPicture, i: number, l: number): number =>
  Math.min(1, Math.sqrt((L[i]! - L[l]!) ** 2 + 4 * (a[i]! - a[l]!) ** 2 + 4 * (b[i]! - b[l]!) ** 2) / EDGE);

/**
 * Hue and chroma in the middle of where a mask has a value; its border, where colours mix, only where there is nothing
 * else.
 */
export function colourOf({ hue, sat }: Colours, m: Uint8Array | Uint16Array, v: number, w: number): [number, number] {
  const all: number[] = [];
  const core: number[] = [];
  /** Whether three pixels side by side are of it. */
  const three = (i: number): boolean => m[i - 1] === v && m[i] === v && m[i + 1] === v;
  for (let i = 0; i < m.length; i++) {
    if (m[i] !== v) continue;
    all.push(i);
    const x = i % w;
    const about = x > 0 && x + 1 < w && i >= w && i + w < m.length;
    if (about && three(i) && three(i - w) && three(i + w)) core.push(i);
  }
  const at = core.length < 8 ? all : core;
  const middle = (f: (i: number) => number): number => median(Float32Array.from(at, f));
  const axis = Math.atan2(
    middle((i) => Math.sin(hue[i]!) * sat[i]!),
    middle((i) => Math.cos(hue[i]!) * sat[i]!),
  );
  return [axis + middle((i) => wrap(hue[i]! - axis)), middle((i) => sat[i]!)];
}

/** Of hue in radians (at most 1) and half of that of chroma (as a share of the first's, at most 1). */
export const difference = ([hue, sat]: [number, number], [hue2, sat2]: [number, number]): number =>
  Math.min(1, Math.abs(wrap(hue2 - hue))) + CHROMA * Math.min(1, Math.abs(sat2 - sat) / Math.max(PALE, sat));

/** Columns and rows that a mask reaches: from x0, y0 to before x1, y1; an empty one reaches none. */
export interface Reach {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}
export function reachOf(m: Uint8Array, w: number): Reach {
  let [first, last] = [0, m.length - 1];
  while (first <= last && m[first] === 0) first++;
  while (last >= first && m[last] === 0) last--;
  if (first > last) return { x0: 0, y0: 0, x1: 0, y1: 0 };
  const [y0, y1] = [Math.floor(first / w), Math.floor(last / w) + 1];
  let [x0, x1] = [w, 0];
  // Only what lies further out than what was found before tells anything.
  for (let row = y0 * w; row < y1 * w; row += w) {
    for (let x = 0; x < x0; x++) if (m[row + x] !== 0) x0 = x;
    for (let x = w - 1; x >= x1; x--) if (m[row + x] !== 0) x1 = x + 1;
  }
  return { x0, y0, x1, y1 };
}
/** Of each pixel the masks that it is in, a bit each; of at most 30 masks. */
export function membership(masks: readonly Uint8Array[]): Int32Array {
  const n = masks[0]?.length ?? 0;
  const which = new Int32Array(n);
  masks.forEach((m, k) => {
    for (let i = 0; i < n; i++) if (m[i] !== 0) which[i] = which[i]! | (1 << k);
  });
  return which;
}
/**
 * Pixels that two masks share, of each pair of at most 30: counted by which masks each pixel is in, of which there are
 * few.
 */
export function common(masks: readonly Uint8Array[], which = membership(masks)): number[][] {
  const n = which.length;
  const counts = new Map<number, number>();
  for (let i = 0, from = 0; i < n; i++)
    if (i + 1 === n || which[i + 1] !== which[i]) {
      counts.set(which[i]!, (counts.get(which[i]!) ?? 0) + i + 1 - from);
      from = i + 1;
    }
  const out = masks.map(() => masks.map(() => 0));
  for (const [bits, count] of counts)
    for (let j = 0; j < masks.length; j++)
      if (bits & (1 << j)) for (let k = 0; k < masks.length; k++) if (bits & (1 << k)) out[j]![k]! += count;
  return out;
}

/** Pieces of `of` that hang together by sides, none smaller than `least`: which one each pixel is of, from 1 on. */
export function piecesOf(
  of: Uint8Array,
  w: number,
  least: number,
  within: Reach,
): { piece: Uint16Array; count: number } {
  const piece = new Uint16Array(of.length);
  const seen = new Uint8Array(of.length);
  let count = 0;
  for (let start = within.y0 * w; start < within.y1 * w; start++) {
    if (of[start] === 0 || seen[start] === 1) continue;
    const todo = [start];
    seen[start] = 1;
    const look = (j: number): void => {
      if (of[j] === 0 || seen[j] === 1) return;
      seen[j] = 1;
      todo.push(j);
    };
    for (let at = 0; at < todo.length; at++) {
      const i = todo[at]!;
      const x = i % w;
      if (x > 0) look(i - 1);
      if (x + 1 < w) look(i + 1);
      if (i >= w) look(i - w);
      if (i + w < of.length) look(i + w);
    }
    if (todo.length < least) continue;
    count++;
    for (const i of todo) piece[i] = count;
  }
  return { piece, count };
}

/** How much of an edge parts a mask from each piece beside it, 0..1, and along how many pairs of pixels. */
export function partings(
  p: SmallPicture,
  mask: Uint8Array,
  piece: Uint16Array,
  count: number,
  within: Reach,
): { edge: number; pairs: number }[] {
  const { w, h } = p;
  const sums = Array.from({ length: count + 1 }, () => ({ edge: 0, pairs: 0 }));
  const pair = (i: number, j: number, k: number, l: number): void => {
    const at = mask[j] === 1 ? piece[k]! : mask[k] === 1 ? piece[j]! : 0;
    if (at === 0) return;
    sums[at]!.edge += edgeOver(p, i, l);
    sums[at]!.pairs++;
  };
  // A pair begins one before what either reaches, at the earliest.
  for (let y = Math.max(0, within.y0 - 1); y < within.y1; y++)
    for (let x = Math.max(0, within.x0 - 1); x < within.x1; x++) {
      const i = y * w + x;
      if (x > 0 && x + 2 < w) pair(i - 1, i, i + 1, i + 2);
      if (y > 0 && y + 2 < h) pair(i - w, i, i + w, i + 2 * w);
    }
  return sums.map(({ edge, pairs }) => ({ edge: pairs > 0 ? edge / pairs : 0, pairs }));
}

/**
 * @param masks guesses at the same thing, 1 inside
 * @param least a guess of fewer pixels says nothing about others
 * @returns of each, 0 (one thing, as far as the others tell) to 1.5: the edge, cubed (one that goes all along counts),
 *   times the difference in hue (radians, at most 1) and half of that in chroma (as a share, at most 1)
 */
export function twoThings(p: SmallPicture, masks: readonly Uint8Array[], colours: Colours, least: number): number[] {
  const shared = common(masks);
  const areas = masks.map((_, k) => shared[k]![k]!);
  const own = masks.map((): [number, number] | null => null);
  return masks.map((A, i) => {
    let most = 0;
    let reach: Reach | null = null;
    masks.forEach((B, j) => {
      if (i === j || areas[j]! < Math.max(1, least, HELD.least * areas[i]!) || areas[j]! >= areas[i]!) return;
      const both = shared[i]![j]!;
      if (both < (1 - HELD.beyond) * areas[j]! || areas[i]! - both < MORE.all * areas[i]!) return;
      const { piece, count } = piecesOf(
        A.map((v, k) => v & (1 - B[k]!)),
        p.w,
        MORE.piece * areas[i]!,
        (reach ??= reachOf(A, p.w)),
      );
      if (count === 0) return;
      const between = partings(p, B, piece, count, reach);
      for (let q = 1; q <= count; q++) {
        const { edge, pairs } = between[q]!;
        if (pairs < TOUCHES * Math.sqrt(areas[j]!)) continue;
        own[j] ??= colourOf(colours, B, 1, p.w);
        most = Math.max(most, edge ** 3 * difference(own[j], colourOf(colours, piece, q, p.w)));
      }
    });
    return most;
  });
}
