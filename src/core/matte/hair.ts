/**
 * Hair beside skin. In a shape about a head the hair is never outside, so that nothing teaches that it is not meant; in
 * dim light it goes over into the skin without much of an edge. On a copy half as wide a growth stops before it: what
 * that one does not find, and what is far darker and of another colour than the rest, is hair, a cap or a collar.
 */
import { median } from '../math/stats';
import { distanceTo } from './likeness';
import { count, indicesOf, looksOf } from './skin';
import type { Marks, SmallPicture } from './spread';
import { colourOf, difference, partings, piecesOf, reachOf } from './twoThings';

/**
 * Skin of any depth in most lights: hue in OKLab in radians, chroma over light. Cloth and walls of these colours have
 * dark panels and folds of their own, of the same colour.
 */
const SKIN = { hue: [0.3, 1.45], sat: [0.04, 0.3] } as const;
/** So far from what the copy found, in pixels: nearer than that it only lies elsewhere. */
const BESIDE_PX = 2;
/** Of what was found: less is tidied away or a shade, more is the other half of a face. */
const PART = { least: 0.06, most: 0.2 };
/** Of the light of the rest, at most. */
const DARK = 0.77;
/** By the hue in radians and half the chroma, at least: a neck in the chin's shadow is as dark, but of one colour. */
const ANOTHER = 0.2;
/** An edge lies between, at least so much of one. */
const EDGED = 0.25;
/** Its rim may be skin. */
const RIM_PX = 2.5;

const lies = (v: number, [from, to]: readonly [number, number]): boolean => v > from && v < to;

/** Whether what is kept (1) has skin's colour. */
export function ofSkin(p: SmallPicture, marks: Marks): boolean {
  const { hue, sat } = looksOf(p);
  const kept = indicesOf(marks.map((v) => (v === 1 ? 1 : 0)));
  const middle = (of: Float32Array): number => median(Float32Array.from(kept, (i) => of[i]!));
  return lies(middle(hue), SKIN.hue) && lies(middle(sat), SKIN.sat);
}
/**
 * @param mask what was found, 1 inside
 * @param onCopy what a copy half as wide found, at this size
 * @param marks strokes: only what is kept (1) of skin's colour has hair beside it
 * @returns 1 where hair certainly is; null: none
 */
export function hairBeside(p: SmallPicture, mask: Uint8Array, onCopy: Uint8Array, marks: Marks): Uint8Array | null {
  if (!ofSkin(p, marks)) return null;
  const { hue, sat } = looksOf(p);
  const near = distanceTo(onCopy, p.w, 1);
  const rest = mask.map((v, i) => (v === 1 && near[i]! <= BESIDE_PX ? 1 : 0));
  const all = count(mask);
  if (all - count(rest) < PART.least * all || !rest.includes(1)) return null;
  const within = reachOf(mask, p.w);
  const { piece, count: pieces } = piecesOf(
    mask.map((v, i) => v & (1 - rest[i]!)),
    p.w,
    PART.least * all,
    within,
  );
  const itself = colourOf({ hue, sat }, rest, 1, p.w);
  const size = new Float64Array(pieces + 1);
  const lit = new Float64Array(pieces + 1);
  let own = 0;
  for (let i = 0; i < mask.length; i++) {
    if (rest[i] === 1) own += p.L[i]!;
    size[piece[i]!]!++;
    lit[piece[i]!]! += p.L[i]!;
  }
  own /= count(rest);
  const hair = partings(p, rest, piece, pieces, within).map(
    ({ edge }, k) =>
      k > 0 &&
      size[k]! <= PART.most * all &&
      lit[k]! <= DARK * own * size[k]! &&
      edge >= EDGED &&
      difference(itself, colourOf({ hue, sat }, piece, k, p.w)) >= ANOTHER,
  );
  if (!hair.includes(true)) return null;
  const it = Uint8Array.from(piece, (k) => (hair[k] ? 1 : 0));
  const deep = distanceTo(it, p.w, 0);
  const sure = Uint8Array.from(deep, (d) => (d > RIM_PX ? 1 : 0));
  return sure.includes(1) ? sure : null;
}
