/**
 * What of a mask is another thing, and what that it leaves out is none.
 *
 * A guess without what in it is another thing: hair beside an ear, a hat, a strip of jacket. Where the guess divides
 * into two by light, hue or chroma (at the threshold that divides it best: N. Otsu, "A threshold selection method from
 * gray-level histograms", IEEE Trans. SMC 9(1), 1979), a piece on the other side than the press is taken out if an edge
 * parts it all along and its hue is another. Hue alone tells: what lies in shade is darker, and beside burnt-out lights
 * more saturated as well, but it has the hue of its surface.
 */
import { count, indicesOf, looksOf } from './skin';
import type { Marks, SmallPicture } from './spread';
import { colourOf, partings, piecesOf, reachOf, wrap } from './twoThings';

/** With fewer pixels there are no two things to be told. */
const FEWEST = 60;
/** Of the guess, what is taken out at least. */
const LEAST = 0.05;
/** From here on it is another thing: the edge, cubed (one that goes all along counts), times the hue in radians. */
const ANOTHER = 0.22;
/** A hole with less of an edge about it is none: a highlight, which has hardly the colour of its skin. */
const EDGED = 0.4;
/** What is smaller has been tidied away. */
const SPECK = 3;
/** Of the mask, a hole at most. */
const HOLE = 0.5;

/** The threshold that divides numbers best: where the variance between both sides is largest. */
export function otsu(values: Float64Array): number {
  const s = values.slice().sort();
  const n = s.length;
  const total = s.reduce((a, b) => a + b, 0);
  let [sum, best, at] = [0, -1, s[0] ?? 0];
  for (let i = 0; i + 1 < n; i++) {
    sum += s[i]!;
    const share = (i + 1) / n;
    const apart = sum / (i + 1) - (total - sum) / (n - i - 1);
    const between = share * (1 - share) * apart * apart;
    if (between > best) [best, at] = [between, (s[i]! + s[i + 1]!) / 2];
  }
  return at;
}
/** Each of some pixels as the middle of its neighbours that are in as well: single hairs and noise are no pieces. */
function smoothed(v: Float32Array, mask: Uint8Array, all: readonly number[], w: number): Float64Array {
  const near = new Float64Array(9);
  return Float64Array.from(all, (i) => {
    const x = i % w;
    let n = 0;
    for (let dy = -w; dy <= w; dy += w)
      for (let dx = x > 0 ? -1 : 0; dx <= (x + 1 < w ? 1 : 0); dx++) {
        const j = i + dy + dx;
        if (!(mask[j] === 1)) continue;
        // In its place among those before it.
        let k = n++;
        for (; k > 0 && near[k - 1]! > v[j]!; k--) near[k] = near[k - 1]!;
        near[k] = v[j]!;
      }
    return near[n >> 1]!;
  });
}

/**
 * @param mask a guess, 1 inside
 * @param marks 1 where it was pressed: that stays
 * @returns what is left of it; itself where nothing is taken out
 */
export function parted(p: SmallPicture, mask: Uint8Array, marks: Marks): Uint8Array {
  const all = indicesOf(mask);
  const pressed = indicesOf(marks).filter((i) => mask[i] === 1);
  if (all.length < FEWEST || pressed.length === 0) return mask;
  const looks = looksOf(p);
  const [axis] = colourOf(looks, mask, 1, p.w);
  const hue = new Float32Array(mask.length);
  for (const i of all) hue[i] = wrap(looks.hue[i]! - axis);
  const within = reachOf(mask, p.w);
  const where = new Int32Array(mask.length);
  all.forEach((i, k) => (where[i] = k));
  let out = mask;
  for (const plane of [hue, looks.light, looks.sat]) {
    const v = smoothed(plane, mask, all, p.w);
    const threshold = otsu(v);
    // The press lies where most of it does.
    const above = pressed.filter((i) => v[where[i]!]! > threshold).length > pressed.length / 2;
    const own = new Uint8Array(mask.length);
    const other = new Uint8Array(mask.length);
    all.forEach((i, k) => ((v[k]! > threshold === above ? own : other)[i] = 1));
    const { piece, count: pieces } = piecesOf(other, p.w, LEAST * all.length, within);
    if (pieces === 0) continue;
    const [itself] = colourOf(looks, own, 1, p.w);
    partings(p, own, piece, pieces, within).forEach(({ edge }, k) => {
      if (k === 0 || pressed.some((i) => piece[i] === k)) return;
      const [its] = colourOf(looks, piece, k, p.w);
      if (edge ** 3 * Math.abs(wrap(its - itself)) <= ANOTHER) return;
      if (out === mask) out = mask.slice();
      for (const i of all) if (piece[i] === k) out[i] = 0;
    });
  }
  return out;
}

/**
 * With every hole filled about which lies no edge: light on a forehead or a nose. Eyes, nostrils and glasses have one.
 *
 * @param marks what is painted as not meant (2) stays out
 * @param inside 1 where it may be; null: everywhere
 * @returns itself where nothing is filled
 */
export function closed(p: SmallPicture, mask: Uint8Array, marks: Marks, inside: Uint8Array | null): Uint8Array {
  const { w, h } = p;
  const within = reachOf(mask, w);
  const { piece, count: pieces } = piecesOf(
    mask.map((v) => 1 - v),
    w,
    SPECK,
    within,
  );
  const size = new Float64Array(pieces + 1);
  for (let i = 0; i < piece.length; i++) {
    const k = piece[i]!;
    if (k === 0) continue;
    const x = i % w;
    const open = x === 0 || x === w - 1 || i < w || i >= w * (h - 1);
    size[k]! += open || marks[i] === 2 || (inside !== null && inside[i] === 0) ? Infinity : 1;
  }
  const most = HOLE * count(mask);
  const fill = partings(p, mask, piece, pieces, within).map(
    ({ edge, pairs }, k) => k > 0 && pairs > 0 && size[k]! <= most && edge < EDGED,
  );
  return fill.includes(true) ? mask.map((v, i) => (fill[piece[i]!] ? 1 : v)) : mask;
}
