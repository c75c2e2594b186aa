/**
 * How far a spread grows: nobody knows it before it has grown. Half as far a jacket stops at its first fold, twice as
 * far a face runs into a wall of its colour. Strokes are grown from to several reaches on a copy of the picture half as
 * wide; what each found is measured, and the best one's reach is taken for the whole. The weights are where fitting
 * ended on real and rendered things (docs/measured.md, "How far strokes grow").
 */
import { withoutBeside } from './beside';
import { hairBeside } from './hair';
import { cellsOf, distanceTo } from './likeness';
import { parted } from './parted';
import { withoutRare } from './rare';
import { count, looksOf } from './skin';
import { groundOf, spreadOver } from './spread';
import type { Ground, Marks, SmallPicture, Spread, SpreadOptions } from './spread';
import { doubled, halved, halvedMarks } from './sizes';
import { twoThings } from './twoThings';
import { edgeAlong, seen } from './worth';

/** Times the reach that is asked for. */
export const REACHES = [0.25, 0.5, 1, 2, 4] as const;
/** The one that is asked for. */
const ASKED = 2;
/** In a shape, which holds it together, further ones: the nearer is taken where it does. */
const IN_SHAPE = { nearer: 2, further: 4 };
/** Where half and twice the reach find as much the same as this, nothing has to be told, unless it ran all over. */
const CLEAR = { alike: 0.94, share: 0.4 };
/**
 * What each measure counts. `two`: it holds another thing; `around`, `lo`: what lies about it looks as it does, in any
 * light and by what was learnt; `bh`: colours it has in common with that; `edge`: along its border; `prev`: found with
 * half the reach as well; `long`, `share`: its form, its part of the picture; `flood`: of that, what is more than
 * FLOOD; `far`: each doubling of the reach; `laid`: the border was laid where it had grown to.
 */
const WEIGH = {
  two: -3.4,
  around: -4.5,
  lo: -7.5,
  bh: -4.7,
  edge: 9.5,
  prev: -3.9,
  long: -3.1,
  share: -4,
  flood: -10,
  far: -0.39,
  laid: 3.9,
} as const;
/** Of a picture: little is left about what has run over more, and that little tells nothing. */
const FLOOD = 0.7;
/** What lies about a region: to this share of the root of its area from it, and a little more. */
const ABOUT = { share: 0.6, px: 5 };
/** Nearer than so to the border colours mix, in pixels: inside and outside. */
const MIXED = { inside: 2, outside: 1.5 };
/**
 * Who draws a shape round a thing means most of what is in it. What fills less than `enough` of it may have stopped too
 * early; what a longer reach finds is that thing where it fills from `least` to `most`, and so many times `more`: a
 * little more is what lies beside the thing in a `loose` shape. What fills less than that of the shape was not outlined
 * by it: hair, a hat or a collar in it are another thing. What was outlined is meant with all of its panels. What a
 * longer reach adds beyond an edge and in another colour, by more than `another`, is what lies beside the thing however
 * much of the shape it fills: blue tiles about a yellow jacket.
 */
const FILLS = { enough: 0.47, least: 0.5, most: 0.9, more: 1.5, loose: 0.5, another: 0.15 };
/** A longer reach finds more of the thing where it finds so much more on a copy half as wide. */
const GOES_ON = 0.01;
/** What it finds at full size is at most so many times what the copy told. */
const RUN_OVER = 1.15;
/**
 * A loose shape holds what lies beside the thing as well, and holds it together. What strokes alone find is the thing
 * where no more than `beyond` of it was not found with the shape, and as much of its border is an edge, but for `edge`.
 */
const ALONE = { beyond: 0.02, edge: 0.02 };

/**
 * What lies about a region: how much of it belongs by what was learnt, and how much of its colours they share (A.
 * Bhattacharyya, "On a measure of divergence between two statistical populations", 1943: the sum of the roots of the
 * products), both 0..1.
 */
function aboutIt(p: SmallPicture, mask: Uint8Array, belongs: Float32Array): { lo: number; bh: number } {
  const near = ABOUT.share * Math.sqrt(count(mask)) + ABOUT.px;
  const [toIn, toOut] = [distanceTo(mask, p.w, 1), distanceTo(mask, p.w, 0)];
  const cells = cellsOf(p);
  const [own, other] = [new Map<number, number>(), new Map<number, number>()];
  let [inside, outside, like] = [0, 0, 0];
  for (let i = 0; i < mask.length; i++) {
    const into = mask[i] === 1;
    if (into ? toOut[i]! < MIXED.inside : toIn[i]! <= MIXED.outside || toIn[i]! >= near) continue;
    const [counts, at] = [into ? own : other, cells[i]!];
    counts.set(at, (counts.get(at) ?? 0) + 1);
    if (into) inside++;
    else {
      outside++;
      like += belongs[i]!;
    }
  }
  // What has run over everything is told from nothing.
  if (inside === 0 || outside === 0) return { lo: 1, bh: 1 };
  let bh = 0;
  for (const [at, n] of own) bh += Math.sqrt((n / inside) * ((other.get(at) ?? 0) / outside));
  return { lo: like / outside, bh };
}
/** Pixels that both have, of those that either has; 1 where both are empty. */
function alike(a: Uint8Array, b: Uint8Array): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    if (a[i] === 1 && b[i] === 1) both++;
    if (a[i] === 1 || b[i] === 1) either++;
  }
  return either > 0 ? both / either : 1;
}

/**
 * @param of what was found with each of REACHES; at least one has a pixel
 * @returns of each how much it looks like one whole thing, -Infinity for nothing; only differences mean anything
 */
export function worthOfReaches(p: SmallPicture, of: readonly Pick<Spread, 'mask' | 'grown' | 'belongs'>[]): number[] {
  const masks = of.map(({ mask }) => mask);
  const two = twoThings(p, masks, looksOf(p), 1);
  return of.map(({ mask, grown, belongs }, k) => {
    const area = count(mask);
    if (area === 0) return -Infinity;
    const found = {
      ...seen(p, mask),
      ...aboutIt(p, mask, belongs),
      two: two[k]!,
      prev: k > 0 && masks[k - 1]!.includes(1) ? alike(mask, masks[k - 1]!) : 1,
      share: area / mask.length,
      flood: Math.max(0, area / mask.length - FLOOD),
      far: Math.log2(REACHES[k]!),
      laid: alike(mask, grown),
    };
    return (Object.keys(WEIGH) as (keyof typeof WEIGH)[]).reduce((sum, q) => sum + WEIGH[q] * found[q], 0);
  });
}

/** By how much the reach of strokes alone is multiplied: one of REACHES. */
export function reachFor(p: SmallPicture, marks: Marks, o: SpreadOptions): number {
  const copy = halved(p);
  const copied = halvedMarks(marks, p.w, p.h);
  // On a copy what is left counts over what is kept: a stroke among strokes may not be seen there any more.
  if (!copied.includes(1)) return 1;
  const ground = groundOf(copy, copied, null, o);
  const found = (times: number): Spread => spreadOver(ground, { ...o, cap: o.cap * times });
  const near = [ASKED - 1, ASKED, ASKED + 1].map((k) => found(REACHES[k]!));
  const [less, asked, more] = near.map(({ mask }) => mask) as [Uint8Array, Uint8Array, Uint8Array];
  const within = count(asked) < CLEAR.share * asked.length;
  if (within && alike(less, asked) >= CLEAR.alike && alike(asked, more) >= CLEAR.alike) return 1;
  const worth = worthOfReaches(
    copy,
    REACHES.map((times, k) => near[k - ASKED + 1] ?? found(times)),
  );
  return REACHES[worth.indexOf(worth.reduce((a, b) => Math.max(a, b)))]!;
}
const grownAlone = (p: SmallPicture, marks: Marks, o: SpreadOptions, reach: number): Spread =>
  spreadOver(groundOf(p, marks, null, o), { ...o, cap: o.cap * reachFor(p, marks, o) * reach });

/** In a shape that is not drawn about the thing alone. */
function inLoose(p: SmallPicture, marks: Marks, shape: Uint8Array, found: Spread, alone: Spread): Spread {
  const held = { ...found, mask: parted(p, found.mask, marks) };
  const within = (m: Uint8Array): Uint8Array => m.map((v, i) => v & shape[i]!);
  const own = { ...alone, mask: within(alone.mask), grown: within(alone.grown) };
  const area = count(own.mask);
  const beyond = count(own.mask.map((v, i) => v & (1 - held.mask[i]!)));
  if (area === 0 || beyond > ALONE.beyond * area) return held;
  return edgeAlong(p, own.mask) >= edgeAlong(p, held.mask) - ALONE.edge ? own : held;
}
/** Grown in a shape so far as `o` says; with pieces apart, without blobs of colours that are rare in it. */
function grownIn(ground: Ground, o: SpreadOptions): Spread {
  const it = spreadOver(ground, o);
  if (!o.apart || o.byFill || !it.learnt) return it;
  return { ...it, mask: withoutRare(ground.p, it.mask, ground.marks, it.learnt) };
}
/**
 * What a copy half as wide tells of a growth in a shape. There folds and joints are less of a border, and dim ones
 * between a thing and another more: what is parted from the thing stays parted, and what stopped at a fold goes on.
 */
interface OnCopy {
  /** What the reach that is asked for finds there, at the full width. */
  found: Uint8Array;
  /** Pixels at the full width that twice of it finds, where that is more of the thing in a shape that outlines it. */
  further: number | null;
}
function onCopy(p: SmallPicture, marks: Marks, shape: Uint8Array, o: SpreadOptions): OnCopy | null {
  const copy = halved(p);
  const copied = halvedMarks(marks, p.w, p.h);
  if (!copied.includes(1)) return null;
  const within = halvedMarks(shape, p.w, p.h);
  const all = count(within);
  const ground = groundOf(copy, copied, within, o);
  const at = (times: number): Uint8Array => grownIn(ground, { ...o, cap: o.cap * times }).mask;
  const less = at(1);
  const further = (): number | null => {
    if (count(less) < FILLS.loose * all) return null;
    const more = at(IN_SHAPE.nearer);
    const goesOn =
      count(more) >= (1 + GOES_ON) * count(less) &&
      count(more) <= FILLS.most * all &&
      twoThings(copy, [less, more], looksOf(copy), 1)[1]! <= FILLS.another;
    return goesOn ? 4 * count(more) : null;
  };
  return { found: doubled(less, copy.w, copy.h, p.w, p.h), further: further() };
}
/**
 * Grown as far as the thing seems to need.
 *
 * @param shape 1 where the region may be; null: everywhere
 * @param reach times that, as a person asks for it
 */
export function spreadToFit(
  p: SmallPicture,
  marks: Marks,
  shape: Uint8Array | null,
  o: SpreadOptions,
  reach = 1,
): Spread {
  // Who asks for more than the thing gets it.
  const left = (it: Spread): Spread =>
    o.besideToo || o.apart || reach > 1 ? it : { ...it, mask: withoutBeside(p, it.mask, marks) };
  if (!shape) return left(grownAlone(p, marks, o, reach));
  const ground = groundOf(p, marks, shape, o);
  const found = (times: number): Spread => grownIn(ground, { ...o, cap: o.cap * times });
  const all = count(shape);
  const filling = (): [number, Spread] => {
    const asked: [number, Spread] = [1, found(1)];
    const had = count(asked[1].mask);
    if (had >= FILLS.enough * all) return asked;
    const needed = Math.max(FILLS.least * all, FILLS.more * had);
    const further = found(IN_SHAPE.further);
    // A shorter reach does not find more.
    if (count(further.mask) < needed) return asked;
    const another = (mask: Uint8Array): boolean =>
      !o.anyMore && twoThings(p, [asked[1].mask, mask], looksOf(p), 1)[1]! > FILLS.another;
    const fits = ([, { mask }]: [number, Spread]): boolean =>
      count(mask) >= needed && count(mask) <= FILLS.most * all && !another(mask);
    const both: [number, Spread][] = [
      [IN_SHAPE.nearer, found(IN_SHAPE.nearer)],
      [IN_SHAPE.further, further],
    ];
    return both.find(fits) ?? asked;
  };
  const copy = o.byFill ? null : onCopy(p, marks, shape, o);
  const goingOn = (further: number): [number, Spread] => {
    const it = found(IN_SHAPE.nearer);
    // What the copy did not tell of has run over.
    return count(it.mask) <= RUN_OVER * further ? [IN_SHAPE.nearer, it] : filling();
  };
  const [times, it] = copy && copy.further !== null ? goingOn(copy.further) : filling();
  const grown = reach === 1 ? it : found(times * reach);
  const hair = copy && !o.apart && reach <= 1 ? hairBeside(p, grown.mask, copy.found, marks) : null;
  const told = hair && marks.map((v, i) => (v === 0 && hair[i] === 1 ? 2 : v));
  const whole = told ? spreadOver(groundOf(p, told, shape, o), { ...o, cap: o.cap * times * reach }) : grown;
  const asFound = o.apart === true || o.heldByShape === true;
  const outlined = asFound || count(whole.mask) >= FILLS.loose * all;
  return left(outlined ? whole : inLoose(p, marks, shape, whole, grownAlone(p, marks, o, reach)));
}
