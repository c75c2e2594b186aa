/** Changes of single points of a freeform that keep its lists in step: x and y in turn, bends and softness by point. */

import { isKeyframedList, resolve, withKey } from '../../op/params';
import type { StoredValue, StoredValues } from '../../op/params';
import { middleOf } from './line';
import { params } from './params';

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

/** The lists of a freeform as stored: each may have keys. */
export interface StoredFreeform {
  points?: StoredValue;
  bends?: StoredValue;
  softs?: StoredValue;
  roundPct?: StoredValue;
}
const LISTS = ['points', 'bends', 'softs'] as const;
const REST = { points: 0, bends: AS_ALL, softs: PLAIN_SOFT } as const;
/**
 * A change of what points there are, made in every key: keys of different lengths would jump from one to the next.
 *
 * @param frame at which lists without keys are read
 * @param change is given the points as they are at one key, and how round they are as a whole (0..1)
 */
export function inEveryKey(
  stored: StoredFreeform,
  frame: number,
  change: (p: FreePoints, round: number) => FreePoints,
): Record<(typeof LISTS)[number], StoredValue> {
  const plain = Object.fromEntries(Object.entries(stored).filter(([k]) => k in params));
  const at = (f: number): FreePoints => {
    const v = resolve(params, plain as StoredValues, f);
    return change(v, v.roundPct / 100);
  };
  const out = {} as Record<(typeof LISTS)[number], StoredValue>;
  for (const name of LISTS) {
    const v = stored[name];
    if (!isKeyframedList(v)) {
      out[name] = at(frame)[name];
      continue;
    }
    const keys = v.keys.map((k) => {
      const next = at(k.frame);
      return { ...k, value: next[name], n: next.points.length / 2 };
    });
    const said = keys.some((k) => k.value.length > 0);
    out[name] = {
      keys: keys.map(({ n, ...k }) =>
        name === 'points' || !said ? k : { ...k, value: full([...k.value], n, REST[name]) },
      ),
    };
  }
  return out;
}
/** A new point half-way along the side behind point i, on the line itself, in every key. */
export const pointInEveryKey = (stored: StoredFreeform, frame: number, i: number): ReturnType<typeof inEveryKey> =>
  inEveryKey(stored, frame, (p, round) => withPoint(p, i, ...middleOf(p.points, i, round, p.bends)));
export const withoutPointInEveryKey = (
  stored: StoredFreeform,
  frame: number,
  i: number,
): ReturnType<typeof inEveryKey> => inEveryKey(stored, frame, (p) => withoutPoint(p, i));
/**
 * Lists as a hand set them at a frame, for what is stored: where bends or softness have keys, all of them say as much
 * as this one.
 */
export function inStep(
  stored: StoredFreeform,
  frame: number,
  p: FreePoints,
): Record<(typeof LISTS)[number], StoredValue> {
  const n = p.points.length / 2;
  const list = (name: 'bends' | 'softs'): StoredValue => {
    const v = stored[name];
    if (!isKeyframedList(v)) return p[name];
    const keys = v.keys.map((k) => ({ ...k, value: full([...k.value], n, REST[name]) }));
    return withKey({ keys }, frame, full([...p[name]], n, REST[name]));
  };
  return { points: p.points, bends: list('bends'), softs: list('softs') };
}
