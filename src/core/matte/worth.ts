/**
 * Which of several guesses at a person's skin is that skin: each is measured by itself and beside the others. The
 * weights are where fitting ended on real and rendered faces (docs/measured.md, "Skin from one press").
 */
import { median } from '../math/stats';
import { cropped } from './divide';
import { distanceTo } from './likeness';
import { count, fitSkin, indicesOf, looksOf, skinAt, some } from './skin';
import type { SmallPicture } from './spread';
import { common, edgeOver, membership, reachOf, twoThings } from './twoThings';
import type { Reach } from './twoThings';

/** What is measured of a guess; shares 0..1. */
export interface Seen {
  /** How much of an edge lies along its border, in the mean, and the share of the border where hardly one does. */
  edge: number;
  weak: number;
  /** Pixels along the picture's own rim, over the root of all. */
  rim: number;
  /** Area of the ellipse with its second moments over its own: 1 for an ellipse, more for what is torn or hollow. */
  torn: number;
  /** Logarithms: the ellipse's longer axis over the shorter one; its height over its width. */
  long: number;
  tall: number;
  /** How much of what lies about it looks as it does itself, in any light. */
  around: number;
  /** Share of it that is far darker than its middle. */
  dark: number;
}
/** What each counts. Heads stand upright more often than not; what is dark and hangs together with skin is hair. */
const WEIGH = { edge: 1, weak: -1.1, rim: -0.2, torn: -1.22, long: -0.39, tall: 0.41, around: -0.34, dark: -4.4 };
/**
 * What counts beside: to be two things; to be much as what grew; each other guess that found much the same; to end
 * within a larger one.
 */
const BESIDE = { two: -0.4, grown: 0.46, again: 0.037, open: -2 };
/** A larger guess has so many times its pixels, all but so much of it, and hardly lies along the picture's rim. */
const LARGER = { least: 1.25, beyond: 0.08, rim: 0.5 };
/** Who draws a shape round a thing means most of what is in it: each time that a guess is e times less than that. */
const FILLS = { share: 0.6, less: -0.5 };
/** Up to here two things are one: a neck, an ear in other light are of the same person. */
export const ONE = 0.15;
/** Guesses that have so much in common found the same. */
const SAME = 0.8;
/** An edge below this is hardly one. */
const WEAK = 0.25;
/** Light in which skin may lie, in logarithms from its middle; darker than so much of it is far darker. */
const LIGHT = { dark: 1.5, light: 1, far: 0.9 };
/** Nearer than this to the border colours mix. */
const MIXED_PX = 2;
/** What lies about a guess: to this share of the root of its area from it, and a little more. */
const ABOUT = { share: 0.25, px: 3 };
/** So many of its pixels tell what it looks like. */
const MOST = 600;

/** Along its border, but where that is the shape's: see Seen. */
function borderOf(
  p: SmallPicture,
  m: Uint8Array,
  inside: Uint8Array | null,
  { x0, y0, x1, y1 }: Reach,
): Pick<Seen, 'edge' | 'weak'> {
  const { w, h } = p;
  let [all, edge, weak] = [0, 0, 0];
  const pair = (i: number, j: number, before: number, after: number): void => {
    if (m[i] === m[j] || (inside && (inside[i] === 0 || inside[j] === 0))) return;
    const e = edgeOver(p, before, after);
    all++;
    edge += e;
    if (e < WEAK) weak++;
  };
  for (let y = Math.max(0, y0 - 1); y < y1; y++)
    for (let x = Math.max(0, x0 - 1); x < x1; x++) {
      const i = y * w + x;
      if (x > 0 && x + 2 < w) pair(i, i + 1, i - 1, i + 2);
      if (y > 0 && y + 2 < h) pair(i, i + w, i - w, i + 2 * w);
    }
  // What fills its shape is as sure as an edge.
  return all > 0 ? { edge: edge / all, weak: weak / all } : { edge: inside ? 1 : 0, weak: 0 };
}
/** How much of an edge lies along the border of a mask, in the mean: see Seen. */
export const edgeAlong = (p: SmallPicture, m: Uint8Array): number => borderOf(p, m, null, reachOf(m, p.w)).edge;
/** Its moments: see Seen. */
function shapeOf(m: Uint8Array, w: number, of: Reach): Pick<Seen, 'rim' | 'torn' | 'long' | 'tall'> {
  const h = m.length / w;
  let [n, rim, sx, sy, xx, yy, xy] = [0, 0, 0, 0, 0, 0, 0];
  for (let y = of.y0; y < of.y1; y++)
    for (let x = of.x0; x < of.x1; x++) {
      if (m[y * w + x] === 0) continue;
      n++;
      if (x === 0 || y === 0 || x === w - 1 || y === h - 1) rim++;
      sx += x;
      sy += y;
      xx += x * x;
      yy += y * y;
      xy += x * y;
    }
  const [mx, my] = [sx / n, sy / n];
  const [vx, vy, c] = [xx / n - mx * mx, yy / n - my * my, xy / n - mx * my];
  const [mean, apart] = [(vx + vy) / 2, Math.hypot((vx - vy) / 2, c)];
  const [longer, shorter] = [mean + apart, Math.max(0.1, mean - apart)];
  return {
    rim: rim / Math.sqrt(n),
    torn: (4 * Math.PI * Math.sqrt(longer * shorter)) / n,
    long: Math.log(longer / shorter) / 2,
    tall: Math.log(vy / Math.max(0.1, vx)) / 2,
  };
}
/** Its colours, and those about it: see Seen. */
function coloursOf(p: SmallPicture, whole: Uint8Array, of: Reach): Pick<Seen, 'around' | 'dark'> {
  const near = ABOUT.share * Math.sqrt(count(whole)) + ABOUT.px;
  const far = Math.ceil(near) + 1;
  const [x, y] = [Math.max(0, of.x0 - far), Math.max(0, of.y0 - far)];
  const box = { x, y, w: Math.min(p.w, of.x1 + far) - x, h: Math.min(p.h, of.y1 + far) - y };
  const { light, sat, hue } = looksOf(p);
  const [looks, m] = [
    { light: cropped(light, p.w, box), sat: cropped(sat, p.w, box), hue: cropped(hue, p.w, box) },
    cropped(whole, p.w, box),
  ];
  const [toOut, toIn] = [distanceTo(m, box.w, 0), distanceTo(m, box.w, 1)];
  const all = indicesOf(m);
  const core = all.filter((i) => toOut[i]! >= MIXED_PX);
  const at = core.length >= 8 ? core : all;
  const lit = median(Float32Array.from(at, (i) => looks.light[i]!));
  const fitted = fitSkin(looks, some(at, MOST), lit, 1);
  const model = { ...fitted, from: fitted.light - LIGHT.dark, to: fitted.light + LIGHT.light };
  let [about, like] = [0, 0];
  for (let i = 0; i < m.length; i++) {
    if (m[i] === 1 || toIn[i]! <= MIXED_PX || toIn[i]! >= near) continue;
    about++;
    like += skinAt(model, looks.light[i]!, looks.sat[i]!, looks.hue[i]!);
  }
  const dark = at.filter((i) => looks.light[i]! < lit - LIGHT.far).length;
  return { around: about > 0 ? like / about : 0, dark: dark / at.length };
}
/** The numbers of `Seen`, in this order. */
export const SEEN = ['edge', 'weak', 'rim', 'torn', 'long', 'tall', 'around', 'dark'] as const satisfies (keyof Seen)[];
/**
 * @param m 1 inside, at least one pixel
 * @param inside the shape that it lies in, 1 inside; null: none
 */
export function seen(p: SmallPicture, m: Uint8Array, inside: Uint8Array | null = null): Seen {
  const of = reachOf(m, p.w);
  return { ...borderOf(p, m, inside, of), ...shapeOf(m, p.w, of), ...coloursOf(p, m, of) };
}

/**
 * How much of the border of each mask lies within a larger one, where less of an edge is than along that one's own
 * border: the shaded half of a face lies beyond such a one. 0..1.
 *
 * @param owns what is seen of each mask; null: it is no thing
 */
export function openBorders(
  p: SmallPicture,
  masks: readonly Uint8Array[],
  owns: readonly (Pick<Seen, 'edge' | 'rim'> | null)[],
  inside: Uint8Array | null,
  which = membership(masks),
  shared = common(masks, which),
): number[] {
  const { w, h } = p;
  return masks.map((m, b) => {
    const own = shared[b]![b]!;
    const larger = owns.flatMap((of, a) =>
      of !== null &&
      of.rim <= LARGER.rim &&
      shared[a]![a]! >= LARGER.least * own &&
      shared[a]![b]! >= (1 - LARGER.beyond) * own
        ? [{ a, edge: of.edge }]
        : [],
    );
    if (own === 0 || larger.length === 0) return 0;
    const [sum, pairs] = [new Float64Array(masks.length), new Float64Array(masks.length)];
    let all = 0;
    const pair = (i: number, j: number, k: number, l: number): void => {
      if (m[j] === m[k] || (inside && (inside[j] === 0 || inside[k] === 0))) return;
      all++;
      const beyond = which[m[j] === 1 ? k : j]!;
      if (beyond === 0) return;
      const edge = edgeOver(p, i, l);
      for (const { a } of larger)
        if (beyond & (1 << a)) {
          sum[a]! += edge;
          pairs[a]!++;
        }
    };
    const { x0, y0, x1, y1 } = reachOf(m, w);
    for (let y = Math.max(0, y0 - 1); y < y1; y++)
      for (let x = Math.max(0, x0 - 1); x < x1; x++) {
        const i = y * w + x;
        if (x > 0 && x + 2 < w) pair(i - 1, i, i + 1, i + 2);
        if (y > 0 && y + 2 < h) pair(i - w, i, i + w, i + 2 * w);
      }
    return Math.max(0, ...larger.map(({ a, edge }) => (pairs[a]! * edge - sum[a]!) / Math.max(1, all)));
  });
}

/**
 * @param masks what grew from the press, then guesses; 1 inside
 * @param least a mask of fewer pixels is no thing
 * @param inside the shape that they lie in, 1 inside; null: none
 * @param known what was seen of some of them already
 * @param open whether it counts that one ends within a larger one; not so before version 6 of the skin operation
 * @returns of each how much it looks like what was pressed, -Infinity for what is no thing; only differences mean
 *   anything
 */
export function worths(
  p: SmallPicture,
  masks: readonly Uint8Array[],
  least: number,
  inside: Uint8Array | null = null,
  known: readonly (Seen | null)[] = [],
  open = true,
): number[] {
  const which = membership(masks);
  const shared = common(masks, which);
  const areas = masks.map((_, k) => shared[k]![k]!);
  const alike = (j: number, k: number): number => shared[j]![k]! / Math.max(1, areas[j]! + areas[k]! - shared[j]![k]!);
  const most = inside && FILLS.share * count(inside);
  const two = twoThings(p, masks, looksOf(p), least);
  const owns = masks.map((m, k) => (areas[k]! < Math.max(1, least) ? null : (known[k] ?? seen(p, m, inside))));
  const opens = open ? openBorders(p, masks, owns, inside, which, shared) : null;
  return masks.map((_, k) => {
    const own = owns[k];
    if (!own) return -Infinity;
    const fills = most === null ? 0 : FILLS.less * Math.max(0, Math.log(most / areas[k]!));
    const itself = SEEN.reduce((sum, q) => sum + WEIGH[q] * own[q], 0);
    const found = masks.filter((_, j) => j !== k && areas[j]! >= Math.max(1, least) && alike(j, k) > SAME).length;
    const ends = opens ? BESIDE.open * opens[k]! : 0;
    const apart = BESIDE.two * Math.max(0, two[k]! - ONE);
    return itself + fills + apart + BESIDE.grown * alike(0, k) + BESIDE.again * found + ends;
  });
}
