/** Changes of single points of a freeform that keep its lists in step: x and y in turn, bends and softness by point. */

export interface FreePoints {
  readonly points: readonly number[];
  readonly bends: readonly number[];
  readonly softs: readonly number[];
}
/** -1: as all of them. */
export const AS_ALL = -1;
const PLAIN_SOFT = 100;

const full = (list: readonly number[], n: number, rest: number): number[] =>
  Array.from({ length: n }, (_, i) => list[i] ?? rest);
/** A list that says nothing is empty. */
const trimmed = (list: number[], rest: number): number[] => (list.every((v) => v === rest) ? [] : list);
const both = (bends: number[], softs: number[]) => ({
  bends: trimmed(bends, AS_ALL),
  softs: trimmed(softs, PLAIN_SOFT),
});

/** A new point behind point i; its softness lies between that of its neighbours. */
export function withPoint(p: FreePoints, i: number, x: number, y: number): FreePoints {
  const n = p.points.length / 2;
  const [bends, softs] = [full(p.bends, n, AS_ALL), full(p.softs, n, PLAIN_SOFT)];
  bends.splice(i + 1, 0, AS_ALL);
  softs.splice(i + 1, 0, (softs[i]! + softs[(i + 1) % n]!) / 2);
  return { points: [...p.points.slice(0, 2 * i + 2), x, y, ...p.points.slice(2 * i + 2)], ...both(bends, softs) };
}
/** Without point i; as it was where only three are left. */
export function withoutPoint(p: FreePoints, i: number): FreePoints {
  const n = p.points.length / 2;
  if (n <= 3) return p;
  const without = (list: number[]): number[] => list.filter((_, k) => k !== i);
  return {
    points: p.points.filter((_, k) => k >> 1 !== i),
    ...both(without(full(p.bends, n, AS_ALL)), without(full(p.softs, n, PLAIN_SOFT))),
  };
}
export const bendOf = (p: FreePoints, i: number): number => p.bends[i] ?? AS_ALL;
export const softOf = (p: FreePoints, i: number): number => p.softs[i] ?? PLAIN_SOFT;
export function withPointValue(p: FreePoints, i: number, change: { bend?: number; soft?: number }): FreePoints {
  const n = p.points.length / 2;
  const [bends, softs] = [full(p.bends, n, AS_ALL), full(p.softs, n, PLAIN_SOFT)];
  if (change.bend !== undefined) bends[i] = change.bend;
  if (change.soft !== undefined) softs[i] = change.soft;
  return { points: p.points, ...both(bends, softs) };
}
