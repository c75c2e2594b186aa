/**
 * A press in passes, so that threads can guess at its sizes beside each other: `look` makes the small copy and grows
 * over it; `guess` takes each of PIECES by itself; `settle` chooses. What one leaves for the next lies in spare planes.
 */
import { atSizesBefore, begun, guesses, PIECES, piecesOf, settled } from '../../matte/pressed';
import type { Piece, Press } from '../../matte/pressed';
import type { Guess } from '../../matte/sizes';
import { atFullSize, growthOf, lookedAt, sizeOf } from '../../matte/small';
import type { FrameRun, Pass } from '../../op/contract';

/** How far it has come, in the first number of all. */
const NOTHING = 0;
/** The press is not seen on the copy half as wide: all is done at the end. */
const HIDDEN = 1;
/** What grew is clearly a thing: nothing is guessed. */
const CLEAR = 2;
const OPEN = 3;

/** Where what lies: of n pixels of the small copy, and q of the one half as wide. */
interface Places {
  state: Float32Array;
  lab: readonly [Float32Array, Float32Array, Float32Array];
  /** Marks, and 4 more where it may be; 8 more of all where there is a shape. */
  marks: Float32Array;
  grown: Float32Array;
  /** For each size of each of PIECES: whether there is a guess, its mask, what it taught. */
  guesses: readonly { piece: Piece; size: number; there: Float32Array; mask: Float32Array; belongs: Float32Array }[];
}
const ALLOWED = 4;
const SHAPED = 8;
const slots = PIECES.flatMap((piece) => piece.sizes.map((size) => ({ piece, size })));
const halfOf = (to: { w: number; h: number }): number => Math.max(1, to.w >> 1) * Math.max(1, to.h >> 1);
/** Lengths of what is kept, in its order. */
function lengths(w: number, h: number): number[] {
  const to = sizeOf(w, h);
  const [n, q] = [to.w * to.h, halfOf(to)];
  return [1, n, n, n, n, q, ...slots.flatMap(() => [1, q, q])];
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
  const [state, L, a, b, marks, grown, ...rest] = list as [Float32Array, ...Float32Array[]];
  return {
    state,
    lab: [L!, a!, b!],
    marks: marks!,
    grown: grown!,
    guesses: slots.map((slot, k) => ({
      ...slot,
      there: rest[3 * k]!,
      mask: rest[3 * k + 1]!,
      belongs: rest[3 * k + 2]!,
    })),
  };
}

/** What `look` left. */
function pressOf(block: Float32Array, run: FrameRun, { lab: [L, a, b], marks }: Places): Press {
  const to = sizeOf(run.w, run.h);
  const { reach, flags } = growthOf(block);
  const shaped = marks[0]! >= SHAPED;
  return {
    p: { w: to.w, h: to.h, L: L.slice(), a: a.slice(), b: b.slice() },
    marks: Uint8Array.from(marks, (v) => v & 3),
    inside: shaped ? Uint8Array.from(marks, (v) => (v & ALLOWED ? 1 : 0)) : null,
    reach,
    share: flags.share,
    asOne: flags.asOne,
  };
}

/** @param asOne as before version 5 of the operation */
export const passesFor = (asOne: boolean): readonly Pass[] => [
  { name: 'look', whole: true, slowMs: 10_000 },
  { name: 'guess', pieces: piecesOf(asOne), slowMs: 20_000 },
  { name: 'settle', whole: true, slowMs: 10_000 },
];
export function look(block: Float32Array, run: FrameRun): void {
  const to = placesOf(run);
  const of = lookedAt(block, run);
  to.state[0] = NOTHING;
  if (!of) return;
  const { p, marks, inside, reach, flags } = of;
  [p.L, p.a, p.b].forEach((plane, k) => to.lab[k]!.set(plane));
  to.marks.set(marks.map((v, i) => v + (inside?.[i] === 1 ? ALLOWED : 0) + (inside ? SHAPED : 0)));
  const first = begun({ p, marks, inside, reach, share: flags.share, asOne: flags.asOne });
  to.state[0] = !first ? HIDDEN : first.clear ? CLEAR : OPEN;
  if (first) to.grown.set(first.grown);
}
export function guess(block: Float32Array, run: FrameRun): void {
  const to = placesOf(run);
  if (to.state[0] !== OPEN) return;
  const q = pressOf(block, run, to);
  for (const piece of PIECES.slice(run.y0, run.y1)) {
    const own = to.guesses.filter((g) => g.piece === piece);
    for (const g of own) g.there[0] = 0;
    for (const found of guesses(q, piece)) {
      const at = own.find((g) => g.size === found.size)!;
      at.there[0] = 1;
      at.mask.set(found.mask);
      at.belongs.set(found.belongs);
    }
  }
}
export function settle(block: Float32Array, run: FrameRun): void {
  const from = placesOf(run);
  const [state] = from.state;
  if (state === NOTHING) return atFullSize(null, run);
  const q = pressOf(block, run, from);
  if (state === HIDDEN) return atFullSize(atSizesBefore(q), run);
  const guessed = PIECES.slice(0, piecesOf(q.asOne === true)).reduce((n, { sizes }) => n + sizes.length, 0);
  const list = from.guesses
    .filter((g, k) => state === OPEN && k < guessed && g.there[0] === 1)
    .map((g): Guess => ({ size: g.size, mask: Uint8Array.from(g.mask), belongs: g.belongs.slice() }));
  atFullSize(settled(q, Uint8Array.from(from.grown), list), run);
}
