/**
 * Where pieces apart belong, whatever has a colour that was learnt belongs wherever it lies: the grey of the joints
 * between tiles brings a grey helmet along. What is rare in a thing lies among what is common in it, as joints among
 * tiles or a band across a jacket. A blob of rare colours alone, parted from the rest by an edge and of another colour,
 * is another thing.
 */
import { distanceTo } from './likeness';
import type { Likeness } from './likeness';
import { count, looksOf } from './skin';
import type { Marks, SmallPicture } from './spread';
import { colourOf, difference, partings, piecesOf, reachOf } from './twoThings';

/** A blob lies further than this from all that is common: so many pixels and this share of the root of the area. */
const FAR = { px: 3, share: 0.06 };
/** Of the region, a blob at least. */
const LEAST = 0.002;
/** From here on it is another thing: the edge, cubed, times the difference in colour (twoThings). */
const ANOTHER = 0.15;

/**
 * @param mask 1 inside
 * @param marks what is painted as meant (1) stays, with all of its blob
 * @returns what is left; itself where nothing goes
 */
export function withoutRare(
  p: SmallPicture,
  mask: Uint8Array,
  marks: Marks,
  { density, usual }: Pick<Likeness, 'density' | 'usual'>,
): Uint8Array {
  const area = count(mask);
  const far = FAR.px + FAR.share * Math.sqrt(area);
  const common = mask.map((v, i) => (v === 1 && density[i]! >= usual ? 1 : 0));
  const toCommon = distanceTo(common, p.w, 1);
  const core = mask.map((v, i) => (v === 1 && toCommon[i]! > far ? 1 : 0));
  if (!core.includes(1)) return mask;
  // Grown back to where it began, but into nothing that is common.
  const toCore = distanceTo(core, p.w, 1);
  const blobs = mask.map((v, i) => (v === 1 && common[i] === 0 && toCore[i]! <= far ? 1 : 0));
  const within = reachOf(mask, p.w);
  const { piece, count: pieces } = piecesOf(blobs, p.w, LEAST * area, within);
  const rest = mask.map((v, i) => (v === 1 && piece[i] === 0 ? 1 : 0));
  const looks = looksOf(p);
  const itself = colourOf(looks, rest, 1, p.w);
  const stays = new Set<number>([0]);
  marks.forEach((v, i) => v === 1 && stays.add(piece[i]!));
  partings(p, rest, piece, pieces, within).forEach(({ edge }, k) => {
    if (edge ** 3 * difference(itself, colourOf(looks, piece, k, p.w)) <= ANOTHER) stays.add(k);
  });
  return mask.map((v, i) => (stays.has(piece[i]!) ? v : 0));
}
