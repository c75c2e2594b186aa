/**
 * Changes of single points of a freeform that keep its lists in step: x and y in turn, bends and softness by point,
 * tangents by four.
 */

import { isKeyframedList, resolve, withKey } from '../../op/params';
import type { StoredValue, StoredValues } from '../../op/params';
import { dividedAt, middleOf, PLAIN } from './line';
import { params } from './params';

export interface FreePoints {
  readonly points: readonly number[];
  readonly bends: readonly number[];
  readonly softs: readonly number[];
  readonly tangents: readonly number[];
}
/** -1: as all of them. */
export const AS_ALL = -1;
const PLAIN_SOFT = 100;

/** How many numbers a point has in a list, and what they are where it says nothing. */
const LISTS = {
  points: { each: 2, rest: () => 0 },
  bends: { each: 1, rest: () => AS_ALL },
  softs: { each: 1, rest: () => PLAIN_SOFT },
  tangents: { each: 4, rest: (k: number) => PLAIN[k % 4]! },
} as const;
type List = keyof typeof LISTS;
/** As many numbers as n points have. */
const full = (name: List, list: readonly number[], n: number): number[] =>
  Array.from({ length: LISTS[name].each * n }, (_, k) => list[k] ?? LISTS[name].rest(k));
/** A list that says nothing is empty. */
const trimmed = (name: List, list: number[]): number[] => (list.every((v, k) => v === LISTS[name].rest(k)) ? [] : list);
const said = (bends: number[], softs: number[], tangents: number[]) => ({
  bends: trimmed('bends', bends),
  softs: trimmed('softs', softs),
  tangents: trimmed('tangents', tangents),
});

/** How round a point is that comes in where nothing is round as a whole: its side may be, by its ends. */
const SMOOTH = 100;
/**
 * A new point half-way along the side behind point i: the curve stays as it is. Its softness lies between that of its
 * neighbours.
 *
 * @param round how round the points are as a whole, 0..1
 */
export function withPoint(p: FreePoints, i: number, round: number): FreePoints {
  const n = p.points.length / 2;
  const line = { ...p, round };
  const [bends, softs] = [full('bends', p.bends, n), full('softs', p.softs, n)];
  const j = (i + 1) % n;
  const straight = [i, j].every((k) => (bends[k] === AS_ALL ? 100 * round : bends[k]!) === 0);
  const bend = round > 0 || straight ? AS_ALL : SMOOTH;
  const tangents = straight
    ? full('tangents', p.tangents, n)
    : dividedAt(line, i, bend === AS_ALL ? round : bend / 100);
  if (straight) tangents.splice(4 * i + 4, 0, ...PLAIN);
  bends.splice(i + 1, 0, bend);
  softs.splice(i + 1, 0, (softs[i]! + softs[j]!) / 2);
  const points = [...p.points.slice(0, 2 * i + 2), ...middleOf(line, i), ...p.points.slice(2 * i + 2)];
  return { points, ...said(bends, softs, tangents) };
}
/** Without point i; as it was where only three are left. The curve is drawn anew between its neighbours. */
export function withoutPoint(p: FreePoints, i: number): FreePoints {
  const n = p.points.length / 2;
  if (n <= 3) return p;
  const without = (name: List): number[] =>
    full(name, p[name], n).filter((_, k) => Math.floor(k / LISTS[name].each) !== i);
  const tangents = full('tangents', p.tangents, n);
  for (const k of [(i + n - 1) % n, (i + 1) % n]) tangents.splice(4 * k, 4, ...PLAIN);
  tangents.splice(4 * i, 4);
  return { points: without('points'), ...said(without('bends'), without('softs'), tangents) };
}
export const bendOf = (p: FreePoints, i: number): number => p.bends[i] ?? AS_ALL;
export const softOf = (p: FreePoints, i: number): number => p.softs[i] ?? PLAIN_SOFT;
export function withPointValue(p: FreePoints, i: number, change: { bend?: number; soft?: number }): FreePoints {
  const n = p.points.length / 2;
  const [bends, softs] = [full('bends', p.bends, n), full('softs', p.softs, n)];
  if (change.bend !== undefined) bends[i] = change.bend;
  if (change.soft !== undefined) softs[i] = change.soft;
  return { points: p.points, ...said(bends, softs, [...p.tangents]) };
}

/** The lists of a freeform as stored: each may have keys. */
export interface StoredFreeform {
  points?: StoredValue;
  bends?: StoredValue;
  softs?: StoredValue;
  tangents?: StoredValue;
  roundPct?: StoredValue;
}
const NAMES = Object.keys(LISTS) as List[];
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
): Record<List, StoredValue> {
  const plain = Object.fromEntries(Object.entries(stored).filter(([k]) => k in params));
  const at = (f: number): FreePoints => {
    const v = resolve(params, plain as StoredValues, f);
    return change(v, v.roundPct / 100);
  };
  const { points } = stored;
  const out = {} as Record<List, StoredValue>;
  for (const name of NAMES) {
    // What keeps a curve as it was goes by where the points are: it has a key wherever they have.
    const v = name === 'tangents' && !isKeyframedList(stored.tangents) ? points : stored[name];
    if (!isKeyframedList(v)) {
      out[name] = at(frame)[name];
      continue;
    }
    const keys = v.keys.map((k) => {
      const next = at(k.frame);
      return { ...k, value: next[name], n: next.points.length / 2 };
    });
    const any = keys.some((k) => k.value.length > 0);
    if (!any && !isKeyframedList(stored[name])) {
      out[name] = [];
      continue;
    }
    out[name] = { keys: keys.map(({ n, ...k }) => (any ? { ...k, value: full(name, k.value, n) } : k)) };
  }
  return out;
}
/** A new point half-way along the side behind point i, on the line itself, in every key. */
export const pointInEveryKey = (stored: StoredFreeform, frame: number, i: number): ReturnType<typeof inEveryKey> =>
  inEveryKey(stored, frame, (p, round) => withPoint(p, i, round));
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
): Record<'points' | 'bends' | 'softs', StoredValue> {
  const n = p.points.length / 2;
  const list = (name: 'bends' | 'softs'): StoredValue => {
    const v = stored[name];
    if (!isKeyframedList(v)) return p[name];
    const keys = v.keys.map((k) => ({ ...k, value: full(name, k.value, n) }));
    return withKey({ keys }, frame, full(name, p[name], n));
  };
  return { points: p.points, bends: list('bends'), softs: list('softs') };
}
