/**
 * A person's skin from one press: grown from there (skin.ts), and guessed at several sizes (sizes.ts), by colours near
 * the pressed light and by such in any light; the guess that looks most like what was pressed (worth.ts) is laid along
 * the picture's edges. In three steps, so that guesses can be made beside each other: `begun`, `guesses`, `settled`.
 */
import { median } from '../math/stats';
import { closed, parted } from './parted';
import { atRim, carved, count, fitSkin, growSkin, inAnyLight, indicesOf, likenessOf, looksOf, skinAt } from './skin';
import { alike, atSizes, COARSE, halved, halvedMarks, halvedMost, laidAt, SIZES } from './sizes';
import type { Guess } from './sizes';
import type { Marks, SmallPicture } from './spread';
import { twoThings } from './twoThings';
import { ONE, seen, worths } from './worth';
import type { Seen } from './worth';

/** By the press alone colours may differ so much; at each size what is found teaches the rest. */
const OPEN_AT_SIZES = 2;
/** What grew is so clearly a thing that nothing else is tried: an edge all about it, nothing like it beside. */
const CLEAR = { worth: 1, edge: 0.9, weak: 0.02, around: 0.1 };
/** What has so much in common with what grew is taken as it grew: that follows an outline closer than any cut. */
const AS_GROWN = 0.87;
/**
 * As before version 5 of the operation, each guess by itself.
 * What counts beside the likeness of a guess, measured on rendered faces at several sizes: for each length of border
 * beside its size, for each length along the picture's own rim, for each time it is e times as large as the press (a
 * forehead alone looks like a thing as well). What grew from the press follows an outline closer than any cut, and is
 * taken where it is nearly as much of a thing. What holds another thing beside the pressed one counts less.
 */
const WEIGH = { border: -0.069, rim: -0.44, larger: 0.15 };
/**
 * What a guess that grew gains, and from where on it is clearly a thing and nothing else is tried: grown over a copy
 * half as wide, and over the whole one, as before version 4 of the operation. What counts against two things was
 * measured with the rest as it was; any weight from 0.8 to 2 does as well.
 */
const AS_ONE = { grown: 0.2, clear: 1.1, two: -1.2 };
const AT_SIZES = { grown: 0.35, clear: 1, two: 0 };
/**
 * Where it is known how much of the picture was found when it was pressed: each time a guess is e times more or less
 * than that counts so much against it, from a little on (the same border, laid on pixels again).
 */
const HELD = 0.5;
const AS_MUCH = 0.03;
/** Not more than so many times the press is no thing. */
const NO_THING = 3;

/** What was pressed, and where. */
export interface Press {
  p: SmallPicture;
  /** 1 where somebody pressed or painted that it is skin (one pixel at least), 2 that it is not. */
  marks: Marks;
  /** 1 where it may be; null: everywhere. */
  inside: Uint8Array | null;
  /** How far it grows, 1 as measured. */
  reach: number;
  /** Share of the picture that was found where it was pressed, 0..1, for other frames; 0: not known. */
  share: number;
  /** As before version 5 of the operation: guesses near the pressed light, each looked at by itself. */
  asOne?: boolean;
  /** As before version 6 of the operation: guesses with all that is in them. */
  unparted?: boolean;
}
/** Sizes that are guessed at together, and whether colours in any light belong at first. */
export interface Piece {
  sizes: readonly number[];
  anyLight: boolean;
}
/** What may be guessed at beside each other; the first two as before version 5 of the operation. */
export const PIECES: readonly Piece[] = [
  { sizes: SIZES.filter((s) => s < COARSE), anyLight: false },
  { sizes: SIZES.filter((s) => s >= COARSE), anyLight: false },
  { sizes: [SIZES[2]!], anyLight: true },
  { sizes: [SIZES[4]!, SIZES[6]!], anyLight: true },
];
/** How many of PIECES a press guesses at. */
export const piecesOf = (asOne: boolean): number => (asOne ? 2 : PIECES.length);

/** The copy half as wide, and how many of its pixels are pressed. */
const copyOf = (q: Press): { half: SmallPicture; pressed: number } => ({
  half: halved(q.p),
  pressed: indicesOf(halvedMarks(q.marks, q.p.w, q.p.h)).length,
});
const asMuch = (m: Uint8Array, share: number): number =>
  share > 0 ? HELD * Math.max(0, Math.abs(Math.log(Math.max(1, count(m)) / (share * m.length))) - AS_MUCH) : 0;

/**
 * What grew from the press over the copy half as wide, and whether that is clearly a thing. Null where the copy shows
 * no press: among strokes that say "not this" it may be hidden there.
 */
export function begun(q: Press): { grown: Uint8Array; clear: boolean } | null {
  const { half, pressed } = copyOf(q);
  if (pressed === 0) return null;
  const { marks, inside, p } = q;
  const at = halvedMarks(marks, p.w, p.h);
  const grown = growSkin(half, at, inside && halvedMarks(inside, p.w, p.h), q.reach)!.mask;
  const worth = thingness(half, grown, pressed) - asMuch(grown, q.share);
  return { grown, clear: q.asOne ? worth >= AS_ONE.clear : worth >= CLEAR.worth && isClear(half, grown) };
}
function isClear(half: SmallPicture, grown: Uint8Array): boolean {
  const { edge, weak, around } = seen(half, grown);
  return edge >= CLEAR.edge && weak <= CLEAR.weak && around <= CLEAR.around;
}
/**
 * Guesses at some of SIZES.
 *
 * @param wanted asked before each size
 */
export function guesses(q: Press, { sizes, anyLight }: Piece, before = false, wanted?: () => boolean): Guess[] {
  const first = (copy: SmallPicture, at: Marks): Float32Array => {
    const looks = looksOf(copy);
    const pressed = indicesOf(at);
    const lit = median(Float32Array.from(pressed, (i) => looks.light[i]!));
    const fitted = fitSkin(looks, pressed, lit, OPEN_AT_SIZES * q.reach);
    const model = anyLight ? inAnyLight(fitted) : fitted;
    return copy.L.map((_, i) => skinAt(model, looks.light[i]!, looks.sat[i]!, looks.hue[i]!));
  };
  const half = halved(q.p);
  const list = atSizes(q.p, half, q.marks, q.inside, first, q.share, !before, sizes, wanted);
  if (before || !parts(q)) return list;
  const at = halvedMarks(q.marks, q.p.w, q.p.h);
  return list.map((g) => {
    const mask = parted(half, g.mask, at);
    return { ...g, mask, less: mask !== g.mask };
  });
}
/** Since version 6: guesses are parted, open borders count, highlights are filled. */
const parts = (q: Press): boolean => q.asOne !== true && q.unparted !== true;
/** What is to be seen of a mask of the copy half as wide, or null where it is no thing; `settled` needs it of each. */
export function looksLike(q: Press, mask: Uint8Array): Seen | null {
  const { half, pressed } = copyOf(q);
  const inside = q.inside && halvedMarks(q.inside, q.p.w, q.p.h);
  return count(mask) < Math.max(1, NO_THING * pressed) ? null : seen(half, mask, inside);
}
/** A guess on the whole picture. */
function laid(q: Press, guess: Guess): Uint8Array {
  const mask = laidAt(q.p, q.marks, q.inside, halved(q.p), guess);
  // What was taken out of the guess may lie within the cheapest border again.
  return carved(q.p, q.marks, parts(q) ? parted(q.p, mask, q.marks) : mask);
}
/** The guess that is taken of those that are compared with each other; null: what grew. */
function compared(q: Press, grown: Uint8Array, list: readonly Guess[], known: readonly (Seen | null)[]): Guess | null {
  const { half, pressed } = copyOf(q);
  const masks = [grown, ...list.map((g) => g.mask)];
  const inside = q.inside && halvedMarks(q.inside, q.p.w, q.p.h);
  const least = NO_THING * pressed;
  // Where it is known how much it was, that says what belongs to it.
  const open = parts(q) && q.share === 0;
  const worth = worths(half, masks, least, inside, known, open).map((v, k) => v - asMuch(masks[k]!, q.share));
  let best = 0;
  for (let k = 1; k < worth.length; k++) if (worth[k]! > worth[best]!) best = k;
  const guess = best === 0 ? null : list[best - 1]!;
  // A guess that something was taken out of is taken itself: what grew may hold that, or have ended too early.
  return guess && (guess.less === true || alike(guess.mask, grown) < AS_GROWN) ? guess : null;
}
/**
 * As before version 5 of the operation: the guess that is taken, at full size; null: what grew.
 *
 * @param grown over the copy half as wide
 */
function taken(q: Press, grown: Uint8Array, list: readonly Guess[], weigh: typeof AS_ONE): Uint8Array | null {
  const { half, pressed } = copyOf(q);
  const masks = [grown, ...list.map((g) => g.mask)];
  const two = weigh.two === 0 ? null : twoThings(half, masks, looksOf(half), NO_THING * pressed);
  const worth = masks.map(
    (m, k) => thingness(half, m, pressed) - asMuch(m, q.share) + weigh.two * Math.max(0, (two?.[k] ?? 0) - ONE),
  );
  let [best, most] = [null as Guess | null, worth[0]! + weigh.grown];
  for (const [k, guess] of list.entries()) if (worth[k + 1]! > most) [best, most] = [guess, worth[k + 1]!];
  return best && laid(q, best);
}
/**
 * What is taken of what grew and of the guesses; none where what grew is clear.
 *
 * @param known what was seen of what grew and of each guess already
 */
export function settled(
  q: Press,
  grown: Uint8Array,
  list: readonly Guess[],
  known: readonly (Seen | null)[] = [],
): Uint8Array {
  const best = list.length === 0 || q.asOne ? null : compared(q, grown, list, known);
  const found = best ? laid(q, best) : list.length > 0 && q.asOne ? taken(q, grown, list, AS_ONE) : null;
  const mask = found ?? atRim(q.p, halved(q.p), grown, q.marks, q.inside);
  return parts(q) ? closed(q.p, mask, q.marks, q.inside) : mask;
}

/**
 * As before version 4 of the operation: grown over the whole picture, and two things as any one.
 *
 * @returns 1 inside, 0 outside; null without a 1 in `marks`
 */
export function atSizesBefore(q: Press): Uint8Array | null {
  const grown = growSkin(q.p, q.marks, q.inside, q.reach)?.mask;
  if (!grown) return null;
  const half = halvedMost(grown, q.p.w, q.p.h);
  const { half: copy, pressed } = copyOf(q);
  if (thingness(copy, half, pressed) - asMuch(half, q.share) >= AT_SIZES.clear) return grown;
  return taken(q, half, guesses(q, { sizes: SIZES, anyLight: false }, true), AT_SIZES) ?? grown;
}
/** The steps one after the other. @returns as above */
export function pressedSkin(q: Press): Uint8Array | null {
  if (!q.marks.includes(1)) return null;
  const first = begun(q);
  if (!first) return atSizesBefore(q);
  const list = first.clear ? [] : PIECES.slice(0, piecesOf(q.asOne === true)).flatMap((piece) => guesses(q, piece));
  return settled(q, first.grown, list);
}
/**
 * How much a mask looks like one person's skin: an edge all along it, compact, not cut by the frame, no mere part.
 *
 * @param pressed pixels that were pressed
 */
function thingness(p: SmallPicture, mask: Uint8Array, pressed: number): number {
  const { w } = p;
  const n = mask.length;
  let [area, border, rim] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const x = i % w;
    if (x + 1 < w && mask[i] !== mask[i + 1]) border++;
    if (i + w < n && mask[i] !== mask[i + w]) border++;
    if (mask[i] === 0) continue;
    area++;
    if (x === 0 || x === w - 1 || i < w || i >= n - w) rim++;
  }
  if (area < NO_THING * pressed) return -Infinity;
  const size = Math.sqrt(area);
  const shape = (WEIGH.border * border + WEIGH.rim * rim) / size + WEIGH.larger * Math.log(area / pressed);
  return likenessOf(p, mask, null) + shape;
}
