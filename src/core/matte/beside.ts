/**
 * What lies beside skin and went along: a collar in the chin's shadow, hair between a forehead and a hat, a strip of
 * wall. Nothing outside the shape teaches that it is not meant, since it lies within, and its colours are near. What an
 * edge parts from the rest nearly all along, and what has another colour, is another thing; what only lies in another
 * light or colour goes over without an edge, or has one and the same colour.
 */
import { distanceTo, windowOf } from './likeness';
import { ofSkin } from './hair';
import { count, indicesOf, looksOf } from './skin';
import type { Marks, SmallPicture } from './spread';
import { colourOf, difference, edgeOver, partings, reachOf } from './twoThings';

/** Between pixels with so much of an edge pieces end: weaker ones part collars, only stronger ones streaky hair. */
const ENDS = [0.3, 0.5] as const;
/** Of what was found: less is a fleck, more is the other half of a face. In pixels at least. */
const PART = { least: 0.008, most: 0.2, px: 12 };
/** Of its border so much is the region's: eyes, lips and brows lie within. */
const OUTWARD = 0.37;
/** What lies beside a piece: so far from it, as a share of the root of what was found. */
const NEAR = 0.25;
/** The edge, cubed, times the difference in colour (twoThings): from all of the rest, and from what lies beside it. */
const ANOTHER = { all: 0.16, beside: 0.09 };

/** Which piece each pixel of a mask is of, from 1 on: within one no edge lies; what is small goes to the nearest. */
function piecesAt(
  p: SmallPicture,
  mask: Uint8Array,
  end: number,
  least: number,
): { piece: Uint16Array; count: number } {
  const { w, h } = p;
  const label = new Int32Array(mask.length);
  const piece = new Uint16Array(mask.length);
  const front: number[] = [];
  let pieces = 0;
  for (let start = 0; start < mask.length; start++) {
    if (mask[start] !== 1 || label[start] !== 0) continue;
    const todo = [start];
    label[start] = start + 1;
    /** From i to the next pixel j, with what lies before i and beyond j. */
    const look = (j: number, before: number, beyond: number): void => {
      if (mask[j] !== 1 || label[j] !== 0 || edgeOver(p, before, beyond) >= end) return;
      label[j] = start + 1;
      todo.push(j);
    };
    for (let at = 0; at < todo.length; at++) {
      const i = todo[at]!;
      const [x, y] = [i % w, Math.floor(i / w)];
      if (x > 0 && x + 2 < w) look(i + 1, i - 1, i + 2);
      if (x > 1 && x + 1 < w) look(i - 1, i + 1, i - 2);
      if (y > 0 && y + 2 < h) look(i + w, i - w, i + 2 * w);
      if (y > 1 && y + 1 < h) look(i - w, i + w, i - 2 * w);
    }
    if (todo.length < least || pieces === 65535) continue;
    pieces++;
    for (const i of todo) {
      piece[i] = pieces;
      front.push(i);
    }
  }
  for (let at = 0; at < front.length; at++) {
    const i = front[at]!;
    const x = i % w;
    const join = (j: number): void => {
      if (mask[j] !== 1 || piece[j] !== 0) return;
      piece[j] = piece[i]!;
      front.push(j);
    };
    if (x > 0) join(i - 1);
    if (x + 1 < w) join(i + 1);
    if (i >= w) join(i - w);
    if (i + w < mask.length) join(i + w);
  }
  return { piece, count: pieces };
}

/**
 * @param mask what was found, 1 inside
 * @param marks 1 where it was painted as meant: a piece with such a stroke stays. Only what is of skin's colour has
 *   such things beside it: cloth has bands and panels of its own
 * @returns what is left; itself where nothing goes
 */
export function withoutBeside(p: SmallPicture, mask: Uint8Array, marks: Marks): Uint8Array {
  const all = count(mask);
  if (all === 0 || !ofSkin(p, marks)) return mask;
  const looks = looksOf(p);
  const within = reachOf(mask, p.w);
  const far = NEAR * Math.sqrt(all);
  const out = mask.slice();
  for (const end of ENDS) {
    const { piece, count: pieces } = piecesAt(p, mask, end, Math.max(PART.px, PART.least * all));
    const size = new Float64Array(pieces + 1);
    const border = new Float64Array(pieces + 1);
    const outward = new Float64Array(pieces + 1);
    const painted = new Uint8Array(pieces + 1);
    for (const i of indicesOf(mask)) {
      const k = piece[i]!;
      size[k]!++;
      if (marks[i] === 1) painted[k] = 1;
      const x = i % p.w;
      for (const j of [x > 0 ? i - 1 : -1, x + 1 < p.w ? i + 1 : -1, i - p.w, i + p.w]) {
        if (j >= 0 && j < mask.length && piece[j] === k) continue;
        border[k]!++;
        if (!(mask[j] === 1)) outward[k]!++;
      }
    }
    for (let k = 1; k <= pieces; k++) {
      if (painted[k] === 1 || size[k]! > PART.most * all || size[k]! < PART.least * all) continue;
      if (outward[k]! < OUTWARD * border[k]!) continue;
      const own = Uint8Array.from(piece, (v) => (v === k ? 1 : 0));
      const rest = mask.map((v, i) => (v === 1 && piece[i] !== k ? 1 : 0));
      const { edge } = partings(p, rest, Uint16Array.from(own), 1, within)[1]!;
      const its = colourOf(looks, own, 1, p.w);
      const other = (of: Uint8Array): number => edge ** 3 * difference(colourOf(looks, of, 1, p.w), its);
      if (other(rest) <= ANOTHER.all) continue;
      // An ear in cool light is not of the colour of a warm cheek, but of that of the cheek beside it.
      const near = distanceTo(own, p.w, 1, windowOf(own, p.w, far));
      const beside = rest.map((v, i) => (v === 1 && near[i]! > 0 && near[i]! <= far ? 1 : 0));
      if (other(beside) <= ANOTHER.beside) continue;
      for (let i = 0; i < own.length; i++) if (own[i] === 1) out[i] = 0;
    }
  }
  return out;
}
