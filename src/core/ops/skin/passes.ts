/**
 * A press in passes, so that threads share it: `look` makes the small copy, row by row; `guess` grows over it in its
 * first piece, and takes each of PIECES by itself in the others; `settle` chooses. What one leaves for the next lies in
 * spare planes.
 */
import { atSizesBefore, begun, guesses, looksLike, PIECES, piecesOf, settled } from '../../matte/pressed';
import type { Piece, Press } from '../../matte/pressed';
import type { Guess } from '../../matte/sizes';
import { atFullSize, growthOf, lookedAt, lookRows, sizeOf } from '../../matte/small';
import type { Lab } from '../../matte/small';
import type { SmallPicture } from '../../matte/spread';
import { SEEN } from '../../matte/worth';
import type { Seen } from '../../matte/worth';
import type { FrameRun, Pass } from '../../op/contract';

/** What grew says, in the first number of all. */
const OPEN = 0;
/** Nothing is pressed. */
const NOTHING = 1;
/** The press is not seen on the copy half as wide: all is done at the end. */
const HIDDEN = 2;
/** What grew is clearly a thing: no guess is needed. */
const CLEAR = 3;

/**
 * The order in which they are guessed at, by threads that take the next one each: the longest first. What grows comes
 * before all, since it may say that nothing else is wanted.
 */
const ORDER = [1, 0, 3, 2].map((k) => PIECES[k]!);
/** As before version 5 of the operation. */
const ORDER_AS_ONE = [1, 0].map((k) => PIECES[k]!);

/** Where what lies: of n pixels of the small copy, and q of the one half as wide. */
interface Places {
  state: Float32Array;
  lab: Lab;
  grown: Float32Array;
  grownSeen: Float32Array;
  /** For each size of each of PIECES: whether there is a guess, what is seen of it, its mask, what it taught. */
  guesses: readonly {
    piece: Piece;
    size: number;
    there: Float32Array;
    seen: Float32Array;
    mask: Float32Array;
    belongs: Float32Array;
  }[];
}
/** A guess is there, and something was taken out of it. */
const LESS = 2;
/** What is seen of a mask, as it is in the bytes of single numbers: whether it is there, then two for each. */
const SEEN_LENGTH = 1 + 2 * SEEN.length;
function keep(to: Float32Array, of: Seen | null): void {
  const v = new DataView(to.buffer, to.byteOffset, to.byteLength);
  v.setFloat32(0, of ? 1 : 0);
  if (of) SEEN.forEach((name, k) => v.setFloat64(4 + 8 * k, of[name]));
}
function kept(from: Float32Array): Seen | null {
  const v = new DataView(from.buffer, from.byteOffset, from.byteLength);
  if (v.getFloat32(0) === 0) return null;
  return Object.fromEntries(SEEN.map((name, k) => [name, v.getFloat64(4 + 8 * k)])) as unknown as Seen;
}
const slots = PIECES.flatMap((piece) => piece.sizes.map((size) => ({ piece, size })));
const halfOf = (to: { w: number; h: number }): number => Math.max(1, to.w >> 1) * Math.max(1, to.h >> 1);
/** Lengths of what is kept, in its order. */
function lengths(w: number, h: number): number[] {
  const to = sizeOf(w, h);
  const [n, q] = [to.w * to.h, halfOf(to)];
  return [1, n, n, n, q, SEEN_LENGTH, ...slots.flatMap(() => [1, SEEN_LENGTH, q, q])];
}
/** Each behind the one before in a plane, or in the next one where that is full: how many planes it takes. */
function packed(w: number, h: number): { at: [plane: number, from: number, n: number][]; planes: number } {
  const all = w * h;
  let [plane, from] = [0, 0];
  const at = lengths(w, h).map((n): [number, number, number] => {
    if (from + n > all) [plane, from] = [plane + 1, 0];
    from += n;
    return [plane, from - n, n];
  });
  return { at, planes: plane + 1 };
}
export const planesFor = (w: number, h: number): number => packed(w, h).planes;
function placesOf({ work, w, h }: FrameRun): Places {
  const list = packed(w, h).at.map(([plane, from, n]) => work[plane]!.subarray(from, from + n));
  const [state, L, a, b, grown, grownSeen, ...rest] = list as [Float32Array, ...Float32Array[]];
  return {
    state,
    lab: [L!, a!, b!],
    grown: grown!,
    grownSeen: grownSeen!,
    guesses: slots.map((slot, k) => ({
      ...slot,
      there: rest[4 * k]!,
      seen: rest[4 * k + 1]!,
      mask: rest[4 * k + 2]!,
      belongs: rest[4 * k + 3]!,
    })),
  };
}

const same = (a: Float32Array, b: Float32Array): boolean => {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return a.length === b.length;
};
/**
 * The copy that was looked at last on this thread. What is asked of it is kept with it: the pieces of a press ask the
 * same, and so does the next press on the same picture.
 */
let last: SmallPicture | null = null;
function copyOf({ lab: [L, a, b] }: Places, { w, h }: { w: number; h: number }): SmallPicture {
  if (last?.w !== w || last.h !== h || !same(last.L, L) || !same(last.a, a) || !same(last.b, b))
    last = { w, h, L: L.slice(), a: a.slice(), b: b.slice() };
  return last;
}
/** What was pressed, on the copy that `look` left; null: nothing was. */
function pressOf(block: Float32Array, run: FrameRun, places: Places): Press | null {
  const p = copyOf(places, sizeOf(run.w, run.h));
  const of = lookedAt(block, run, [p.L, p.a, p.b]);
  if (!of) return null;
  const { marks, inside, reach, flags } = of;
  const { share, asOne, unparted } = flags;
  return { p, marks, inside, reach, share, asOne, unparted };
}
/** `from` with a function for each is twenty times slower. */
function bytes(of: Float32Array): Uint8Array {
  const out = new Uint8Array(of.length);
  out.set(of);
  return out;
}

/** @param asOne as before version 5 of the operation */
export const passesFor = (asOne: boolean): readonly Pass[] => [
  { name: 'look' },
  { name: 'guess', pieces: 1 + piecesOf(asOne), slowMs: 20_000 },
  { name: 'settle', whole: true, slowMs: 10_000 },
];
export function look(block: Float32Array, run: FrameRun): void {
  const to = placesOf(run);
  if (run.y0 === 0) to.state[0] = OPEN;
  lookRows(block, run, to.lab);
}
export function guess(block: Float32Array, run: FrameRun): void {
  const to = placesOf(run);
  for (let piece = run.y0; piece < run.y1; piece++)
    if (piece === 0) grow(block, run, to);
    else guessAt(block, run, to, piece - 1);
}
function grow(block: Float32Array, run: FrameRun, to: Places): void {
  const q = pressOf(block, run, to);
  const first = q && begun(q);
  if (first) {
    to.grown.set(first.grown);
    keep(to.grownSeen, first.clear || q.asOne ? null : looksLike(q, first.grown));
  }
  to.state[0] = !q ? NOTHING : !first ? HIDDEN : first.clear ? CLEAR : OPEN;
}
function guessAt(block: Float32Array, run: FrameRun, to: Places, k: number): void {
  const piece = (growthOf(block).flags.asOne ? ORDER_AS_ONE : ORDER)[k]!;
  const own = to.guesses.filter((g) => g.piece === piece);
  for (const g of own) g.there[0] = 0;
  // Where it is known by now that nobody asks; what comes of it does not depend on that.
  const wanted = (): boolean => to.state[0] === OPEN;
  if (!wanted()) return;
  const q = pressOf(block, run, to);
  for (const found of q ? guesses(q, piece, false, wanted) : []) {
    const at = own.find((g) => g.size === found.size)!;
    at.there[0] = found.less === true ? LESS : 1;
    keep(at.seen, q!.asOne ? null : looksLike(q!, found.mask));
    at.mask.set(found.mask);
    at.belongs.set(found.belongs);
  }
}
export function settle(block: Float32Array, run: FrameRun): void {
  const from = placesOf(run);
  const [state] = from.state;
  const q = state === NOTHING ? null : pressOf(block, run, from);
  if (!q) return atFullSize(null, run);
  if (state === HIDDEN) return atFullSize(atSizesBefore(q), run);
  const guessed = PIECES.slice(0, piecesOf(q.asOne === true)).reduce((n, { sizes }) => n + sizes.length, 0);
  const there = from.guesses.filter((g, k) => state === OPEN && k < guessed && g.there[0]! > 0);
  const list = there.map((g): Guess => ({
    ...{ size: g.size, mask: bytes(g.mask), belongs: g.belongs.slice() },
    less: g.there[0] === LESS,
  }));
  const known = [kept(from.grownSeen), ...there.map((g) => kept(g.seen))];
  atFullSize(settled(q, bytes(from.grown), list, known), run);
}
