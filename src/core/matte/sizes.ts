/**
 * What was pressed, guessed at several sizes: nobody says how large it is, and before a wall of its own colour nothing
 * else tells where it ends. About the press a disc of each size says roughly where the thing lies; the border is laid
 * by a minimum cut between what was learnt inside and outside of it; then the disc is moved to the middle of what was
 * found, which teaches again (C. Rother, V. Kolmogorov, A. Blake, "GrabCut", ACM TOG 23(3), 2004). Large discs are
 * looked at on smaller copies of the picture. Which guess is taken is for the caller to say; that one is laid once more
 * on the whole picture.
 */
import { minimumCut } from '../math/minimumCut';
import { cropped, partingCosts, STEPS } from './divide';
import type { Box, Four } from './divide';
import { distanceTo, likeness } from './likeness';
import { differences, textureOf } from './spread';
import type { Marks, SmallPicture } from './spread';

/** Radii of the discs, of the picture's longer side: a face in a wide shot to one that fills the frame. */
export const SIZES: readonly number[] = [0.028, 0.04, 0.057, 0.08, 0.113, 0.16, 0.226, 0.32];
/** From here on a disc is moved about on a copy a quarter as wide; the smaller ones on one half as wide. */
export const COARSE = 0.1;
/** No colour alone is surer than this. */
const DOUBT = 0.02;
/** In the middle of the disc it is the thing by this much; nothing at its border, twice as much against beyond. */
const MIDDLE = 2;
/** Beyond so many radii nothing is looked at. */
const REACH = 2;
const ROUNDS = 3;
/** Where it is known how much there is: so many times e away from a disc as large. */
const NEAR = 0.6;
/** What the guess says at last, beside colours. */
const GROWN = 1;
/** A border that is to be short shrinks pale and small things to the press: then colours weigh more. */
const WEIGHTS = [1, 3, 9];
/** Not more than so many times the press is such a shrunk one. */
const SHRUNK = 4;
/** A border that was laid on a copy half as wide is laid anew no further from it than so many pixels. */
const NEAR_BORDER = 20;
/** Sizes that find as much the same as this on the copy are one guess. */
const SAME = 0.98;
const PAINTED = 1e6;

/** A picture with what is asked of it only once. */
interface Ground {
  p: SmallPicture;
  marks: Marks;
  inside: Uint8Array | null;
  part: Four;
  pressed: number[];
}
export interface Guess {
  /** Of the copy half as wide; 1 inside. */
  mask: Uint8Array;
  /** Of the disc that it came from, of the longer side. */
  size: number;
  /** How well colours belong by what it taught, of the same copy. */
  belongs: Float32Array;
  /** Something that was in it has been taken out. */
  less?: boolean;
}
type Point = readonly [number, number];

const halves = new WeakMap<SmallPicture, SmallPicture>();
/** Half as wide and high: means of four pixels. Asked once of each picture. */
export function halved(p: SmallPicture): SmallPicture {
  const known = halves.get(p) ?? halfOf(p);
  halves.set(p, known);
  return known;
}
function halfOf(p: SmallPicture): SmallPicture {
  const [w, h] = [Math.max(1, p.w >> 1), Math.max(1, p.h >> 1)];
  const [dx, dy] = [p.w > 1 ? 1 : 0, p.h > 1 ? p.w : 0];
  const plane = (q: Float32Array): Float32Array => {
    const out = new Float32Array(w * h);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const i = 2 * y * p.w + 2 * x;
        out[y * w + x] = (q[i]! + q[i + dx]! + q[i + dy]! + q[i + dx + dy]!) / 4;
      }
    return out;
  };
  return { w, h, L: plane(p.L), a: plane(p.a), b: plane(p.b) };
}
/** Of four pixels the one that counts most: what is left, then what is kept; of a shape, whether it reaches there. */
export function halvedMarks(m: Uint8Array, w: number, h: number): Uint8Array {
  const [hw, hh] = [Math.max(1, w >> 1), Math.max(1, h >> 1)];
  const out = new Uint8Array(hw * hh);
  for (let y = 0; y < Math.min(h, 2 * hh); y++)
    for (let x = 0; x < Math.min(w, 2 * hw); x++) {
      const at = (y >> 1) * hw + (x >> 1);
      out[at] = Math.max(out[at]!, m[y * w + x]!);
    }
  return out;
}
/** Of four pixels what most of them are, 0 or 1. */
export function halvedMost(m: Uint8Array, w: number, h: number): Uint8Array {
  const [hw, hh] = [Math.max(1, w >> 1), Math.max(1, h >> 1)];
  const sum = new Uint8Array(hw * hh);
  for (let y = 0; y < Math.min(h, 2 * hh); y++)
    for (let x = 0; x < Math.min(w, 2 * hw); x++) sum[(y >> 1) * hw + (x >> 1)]! += m[y * w + x]!;
  return sum.map((v) => (v >= 2 ? 1 : 0));
}
/** Each pixel as the one that it came from. */
export function doubled<T extends Uint8Array | Float32Array>(m: T, w: number, h: number, toW: number, toH: number): T {
  const out = (m instanceof Uint8Array ? new Uint8Array(toW * toH) : new Float32Array(toW * toH)) as T;
  for (let y = 0; y < toH; y++)
    for (let x = 0; x < toW; x++) out[y * toW + x] = m[Math.min(h - 1, y >> 1) * w + Math.min(w - 1, x >> 1)]!;
  return out;
}

const grounds = new WeakMap<SmallPicture, Ground>();
const equal = (a: Uint8Array | null, b: Uint8Array | null): boolean => {
  if (a === null || b === null) return a === b;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return a.length === b.length;
};
/** Of each picture the last one is kept: guesses of one press ask the same. */
function groundOf(p: SmallPicture, marks: Marks, inside: Uint8Array | null): Ground {
  const known = grounds.get(p);
  if (known && equal(known.marks, marks) && equal(known.inside, inside)) return known;
  const by = differences(p);
  const pressed: number[] = [];
  for (let i = 0; i < marks.length; i++) if (marks[i] === 1) pressed.push(i);
  const ground = { p, marks, inside, part: partingCosts(p, by, textureOf(p, by, marks)), pressed };
  grounds.set(p, ground);
  return ground;
}

/** What discs about some middles reach, with every mark that is kept. */
function boxAt(g: Pick<Ground, 'p' | 'pressed'>, middles: readonly Point[], s: number): Box {
  const { w, h } = g.p;
  const far = REACH * s;
  const [xs, ys] = [middles.map(([x]) => x), middles.map(([, y]) => y)];
  for (const i of g.pressed) {
    xs.push(i % w);
    ys.push(Math.floor(i / w));
  }
  const from = (v: number[]): number => Math.max(0, Math.floor(v.reduce((a, b) => Math.min(a, b)) - far - 1));
  const to = (v: number[], n: number): number => Math.min(n, Math.ceil(v.reduce((a, b) => Math.max(a, b)) + far + 2));
  const [x0, y0] = [from(xs), from(ys)];
  return { x: x0, y: y0, w: to(xs, w) - x0, h: to(ys, h) - y0 };
}
/** What a cut found within a box. */
interface Found {
  box: Box;
  mask: Uint8Array;
  area: number;
  middles: Point[];
}
/**
 * One cut within discs of radius `s` about some middles.
 *
 * @param belongs of the whole picture, 0..1
 * @param least with fewer pixels than these it is tried again with more weight on colours
 * @param guess a mask of the whole picture that counts beside colours
 * @param about a mask of the whole picture near whose border the new one lies; what is further off stays as it is
 */
function cutIn(
  g: Ground,
  middles: readonly Point[],
  s: number,
  belongs: Float32Array,
  least: number,
  guess?: Uint8Array,
  about?: Uint8Array,
): Found {
  const { w } = g.p;
  const box = boxAt(g, middles, s);
  const { x: x0, y: y0 } = box;
  const n = box.w * box.h;
  const marks = cropped(g.marks, w, box);
  const part = g.part.map((q) => cropped(q, w, box)) as unknown as Four;
  const inner = new Uint8Array(n);
  const outside = new Uint8Array(n);
  const price = new Float32Array(n);
  const held = about ? cropped(about, w, box) : null;
  const near = held && [0, 1].map((v) => distanceTo(held, box.w, v as 0 | 1));
  for (let y = 0, i = 0; y < box.h; y++)
    for (let x = 0; x < box.w; x++, i++) {
      const I = (y + y0) * w + x + x0;
      if (g.inside !== null && g.inside[I] === 0) {
        outside[i] = 1;
        continue;
      }
      let far = Infinity;
      for (let k = 0; k < middles.length; k++) {
        const u = x + x0 - middles[k]![0];
        const v = y + y0 - middles[k]![1];
        far = Math.min(far, (u * u + v * v) / (s * s));
      }
      if (far >= REACH * REACH && marks[i] !== 1) continue;
      if (near && marks[i] === 0 && near[1 - held![i]!]![i]! > NEAR_BORDER) continue;
      inner[i] = 1;
      if (marks[i] !== 0) {
        price[i] = marks[i] === 1 ? PAINTED : -PAINTED;
        continue;
      }
      const b = Math.min(1 - DOUBT, Math.max(DOUBT, belongs[I]!));
      price[i] = Math.log(b / (1 - b)) + MIDDLE * Math.max(-2, 1 - far);
      if (guess) price[i]! += guess[I] === 1 ? GROWN : -GROWN;
    }
  const within = (i: number): boolean => held !== null && held[i] === 1 && inner[i] === 0 && !outside[i];
  // What lies beyond is outside, what is far within a border is inside: parting from either costs as much as anywhere.
  const beyond = new Float32Array(n);
  STEPS.forEach(([dx, dy], k) => {
    for (let y = 0; y < box.h - dy; y++)
      for (let x = Math.max(0, -dx); x < box.w - Math.max(0, dx); x++) {
        const i = y * box.w + x;
        const j = i + dy * box.w + dx;
        if (inner[i] === inner[j]) continue;
        const [in_, out] = inner[i] === 1 ? [i, j] : [j, i];
        beyond[in_]! += within(out) ? -part[k]![i]! : part[k]![i]!;
      }
  });
  let found: Found = { box, mask: new Uint8Array(n), area: 0, middles: [...middles] };
  const weighed = new Float32Array(n);
  for (const weight of WEIGHTS) {
    for (let i = 0; i < n; i++) weighed[i] = (marks[i] !== 0 ? price[i]! : price[i]! * weight) - beyond[i]!;
    const cut = minimumCut(box.w, inner, weighed, part);
    if (held) for (let i = 0; i < n; i++) if (within(i)) cut[i] = 1;
    found = { box, ...pieces(cut, marks, inner, box) };
    if (found.area >= least) break;
  }
  return found;
}
/** Of what was cut, what hangs together with a mark that is kept, and the middle of each piece. */
function pieces(cut: Uint8Array, marks: Uint8Array, inner: Uint8Array, { x: x0, y: y0, w }: Box): Omit<Found, 'box'> {
  const mask = new Uint8Array(cut.length);
  const todo: number[] = [];
  const middles: Point[] = [];
  let area = 0;
  for (let start = 0; start < cut.length; start++) {
    if (marks[start] !== 1 || inner[start] === 0 || mask[start] === 1) continue;
    todo.length = 0;
    todo.push(start);
    mask[start] = 1;
    let [sx, sy] = [0, 0];
    const look = (j: number): void => {
      if (mask[j] === 1 || (cut[j] !== 1 && !(marks[j] === 1 && inner[j] === 1))) return;
      mask[j] = 1;
      todo.push(j);
    };
    for (let at = 0; at < todo.length; at++) {
      const i = todo[at]!;
      const x = i % w;
      sx += x;
      sy += Math.floor(i / w);
      if (x > 0) look(i - 1);
      if (x + 1 < w) look(i + 1);
      if (i >= w) look(i - w);
      if (i + w < cut.length) look(i + w);
    }
    area += todo.length;
    middles.push([x0 + sx / todo.length, y0 + sy / todo.length]);
  }
  return { mask, area, middles };
}
const croppedLab = ({ L, a, b, w }: SmallPicture, box: Box): Pick<SmallPicture, 'L' | 'a' | 'b'> => ({
  L: cropped(L, w, box),
  a: cropped(a, w, box),
  b: cropped(b, w, box),
});
/** What a cut teaches about colours, written into the box of `belongs`. */
function learn({ p, marks }: Ground, { box, mask }: Pick<Found, 'box' | 'mask'>, belongs: Float32Array): Float32Array {
  const small = { w: box.w, h: box.h, ...croppedLab(p, box) };
  const l = likeness(
    small,
    mask,
    cropped(marks, p.w, box),
    mask.map((v) => 1 - v),
    cropped(belongs, p.w, box),
  );
  if (!l) return belongs;
  const out = belongs.slice();
  for (let y = 0; y < box.h; y++) out.set(l.belongs.subarray(y * box.w, (y + 1) * box.w), (y + box.y) * p.w + box.x);
  return out;
}
function whole({ box, mask }: Pick<Found, 'box' | 'mask'>, w: number, h: number): Uint8Array {
  const out = new Uint8Array(w * h);
  for (let y = 0; y < box.h; y++) out.set(mask.subarray(y * box.w, (y + 1) * box.w), (y + box.y) * w + box.x);
  return out;
}

/**
 * @param half the picture half as wide
 * @param marks 1 where it was pressed (at least one pixel), 2 where it is not
 * @param inside 1 where it may be; null: everywhere
 * @param first how well each pixel of a copy belongs by the press alone, 0..1
 * @param share of the picture that it is about, 0..1: only sizes near that are tried; 0: all
 * @param quick a border that was laid on the smallest copy is only laid anew about itself, and what another size found
 *   as well is found once; not so before version 4 of the operation
 * @param sizes some of SIZES: those below COARSE, and those from there on, know nothing of each other
 * @param wanted asked before each size: no more are looked at once nobody wants them
 * @returns from the smallest disc to the largest; none where the copies show no press
 */
export function atSizes(
  p: SmallPicture,
  half: SmallPicture,
  marks: Marks,
  inside: Uint8Array | null,
  first: (copy: SmallPicture, marks: Marks) => Float32Array,
  share = 0,
  quick = true,
  sizes = SIZES,
  wanted = (): boolean => true,
): Guess[] {
  const halfMarks = halvedMarks(marks, p.w, p.h);
  const halfInside = inside && halvedMarks(inside, p.w, p.h);
  const small = groundOf(half, halfMarks, halfInside);
  // On a copy what is left counts over what is kept: a press among strokes may not be seen there any more.
  if (small.pressed.length === 0) return [];
  const quarter = halved(half);
  // Small discs are not looked at there.
  const smaller = sizes.some((size) => size >= COARSE)
    ? groundOf(quarter, halvedMarks(halfMarks, half.w, half.h), halfInside && halvedMarks(halfInside, half.w, half.h))
    : null;
  const seen = [small, ...(smaller && smaller.pressed.length > 0 ? [smaller] : [])];
  const begin = new Map(seen.map((g) => [g, first(g.p, g.marks)]));
  const round = Math.sqrt((share * p.w * p.h) / Math.PI) / Math.max(p.w, p.h);
  const tried = sizes.filter((size) => share === 0 || Math.abs(Math.log(size / round)) < NEAR);
  let before: Uint8Array | null = null;
  return tried.flatMap((size): Guess[] => {
    if (!wanted()) return [];
    const rough = size < COARSE ? small : seen.at(-1)!;
    const s = size * Math.max(rough.p.w, rough.p.h);
    const least = SHRUNK * rough.pressed.length;
    let belongs = begin.get(rough)!;
    let found = cutIn(rough, middlesOf(rough), s, belongs, least);
    for (let round = 2; round < ROUNDS; round++) {
      belongs = learn(rough, found, belongs);
      found = cutIn(rough, found.middles, s, belongs, least);
    }
    let about: Uint8Array | undefined;
    if (quick && rough === smaller) {
      const mask = whole(found, quarter.w, quarter.h);
      if (before !== null && alike(mask, before) >= SAME) return [];
      before = mask;
      about = doubled(mask, quarter.w, quarter.h, half.w, half.h);
    }
    belongs = learn(rough, found, belongs);
    let middles = found.middles;
    // The last round is laid on the finer copy, or a coarse border would look less like an edge.
    if (rough === smaller) {
      belongs = doubled(belongs, quarter.w, quarter.h, half.w, half.h);
      middles = middles.map(([x, y]) => [2 * x + 0.5, 2 * y + 0.5]);
    }
    const [far, fewest] = [size * Math.max(half.w, half.h), SHRUNK * small.pressed.length];
    const last = cutIn(small, middles, far, belongs, fewest, undefined, about);
    return [{ mask: whole(last, half.w, half.h), size, belongs }];
  });
}
/** What two masks have in common, of what either has: 0..1. */
export function alike(a: Uint8Array, b: Uint8Array): number {
  let [both, any] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    both += a[i]! & b[i]!;
    any += a[i]! | b[i]!;
  }
  return any > 0 ? both / any : 1;
}
/** Where discs begin: the middle of each mark that is kept. */
function middlesOf({ p, marks }: Ground): Point[] {
  const box = { x: 0, y: 0, w: p.w, h: p.h };
  return pieces(new Uint8Array(marks.length), marks, new Uint8Array(marks.length).fill(1), box).middles;
}
/** A guess laid along the edges of the whole picture: of which only what the guess may reach is looked at. */
export function laidAt(
  p: SmallPicture,
  marks: Marks,
  inside: Uint8Array | null,
  half: SmallPicture,
  q: Guess,
): Uint8Array {
  const halfInside = inside && halvedMarks(inside, p.w, p.h);
  const found = pieces(q.mask, halvedMarks(marks, p.w, p.h), halfInside ?? new Uint8Array(q.mask.length).fill(1), {
    ...{ x: 0, y: 0, w: half.w, h: half.h },
  });
  const middles = found.middles.map(([x, y]): Point => [2 * x + 0.5, 2 * y + 0.5]);
  const s = q.size * Math.max(p.w, p.h);
  const pressed: number[] = [];
  for (let i = 0; i < marks.length; i++) if (marks[i] === 1) pressed.push(i);
  const box = boxAt({ p, pressed }, middles, s);
  const small: SmallPicture = { w: box.w, h: box.h, ...croppedLab(p, box) };
  const g = groundOf(small, cropped(marks, p.w, box), inside && cropped(inside, p.w, box));
  const guess = cropped(doubled(q.mask, half.w, half.h, p.w, p.h), p.w, box);
  const belongs = cropped(doubled(q.belongs, half.w, half.h, p.w, p.h), p.w, box);
  const all: Box = { x: 0, y: 0, w: box.w, h: box.h };
  const taught = learn(g, { box: all, mask: guess }, belongs);
  const there = middles.map(([x, y]): Point => [x - box.x, y - box.y]);
  const cut = cutIn(g, there, s, taught, 1, guess);
  return whole({ box, mask: whole(cut, box.w, box.h) }, p.w, p.h);
}
