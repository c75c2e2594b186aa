/**
 * A smooth field of shifts over (Cb, Cr) that takes given colours where they are wanted and leaves others where they
 * are: radial functions with an end, one about each place, weighted so that every place is met exactly.
 *
 * H. Wendland, "Piecewise polynomial, positive definite and compactly supported radial functions of minimal degree",
 * Advances in Computational Mathematics 4, 1995: (1 - s)^4 (4 s + 1) in two and three dimensions, twice smooth.
 */
import { MOST_HOLDS, MOST_PULLS, PULL } from './params';

/** Places nearer than this, in % of the largest colour difference, are one; the first counts. */
const SAME_PCT = 0.5;
/** Neutral is held unless something else is said this near to it. */
const NEUTRAL_PCT = 2;

export interface Pull {
  /** Cb, Cr in %. */
  from: readonly [number, number];
  to: readonly [number, number];
  levelPct: number;
}
export interface PullValues {
  pulls: readonly number[];
  holds: readonly number[];
  reachPct: number;
}
export const pullsOf = (list: readonly number[]): Pull[] =>
  Array.from({ length: Math.min(MOST_PULLS, Math.floor(list.length / PULL)) }, (_, i) => {
    const [a, b, c, d, level] = list.slice(PULL * i, PULL * i + PULL) as [number, number, number, number, number];
    return { from: [a, b], to: [c, d], levelPct: Math.max(-90, Math.min(100, level)) };
  });
export const holdsOf = (list: readonly number[]): [number, number][] =>
  Array.from({ length: Math.min(MOST_HOLDS, list.length >> 1) }, (_, i) => [list[2 * i]!, list[2 * i + 1]!]);
export const listOfPulls = (pulls: readonly Pull[]): number[] =>
  pulls.flatMap((p) => [...p.from, ...p.to, p.levelPct].map((v) => Math.round(100 * v) / 100));

/** One place with its weights: shift in Cb, in Cr (0..1 for the largest difference of 0.5), change of level. */
export interface Centre {
  x: number;
  y: number;
  u: number;
  v: number;
  level: number;
}
export interface Field {
  /** As (Cb, Cr), -0.5..0.5. */
  reach: number;
  centres: Centre[];
}

export const bump = (s: number): number => (s < 1 ? (1 - s) ** 4 * (4 * s + 1) : 0);
/** Its slope over s, divided by s: finite at the middle. */
const slopeOverS = (s: number): number => (s < 1 ? -20 * (1 - s) ** 3 : 0);

/** Symmetric positive definite equations (Cholesky), several right sides at once; in place. */
function solved(a: number[][], right: number[][]): number[][] {
  const n = a.length;
  for (let j = 0; j < n; j++)
    for (let i = j; i < n; i++) {
      let s = a[i]![j]!;
      for (let k = 0; k < j; k++) s -= a[i]![k]! * a[j]![k]!;
      a[i]![j] = i === j ? Math.sqrt(Math.max(s, 1e-12)) : s / a[j]![j]!;
    }
  return right.map((b) => {
    const x = [...b];
    for (let i = 0; i < n; i++) {
      for (let k = 0; k < i; k++) x[i]! -= a[i]![k]! * x[k]!;
      x[i]! /= a[i]![i]!;
    }
    for (let i = n - 1; i >= 0; i--) {
      for (let k = i + 1; k < n; k++) x[i]! -= a[k]![i]! * x[k]!;
      x[i]! /= a[i]![i]!;
    }
    return x;
  });
}

/** The field that meets every pull and every hold. */
export function fieldOf({ pulls, holds, reachPct }: PullValues): Field {
  const wanted = [
    ...pullsOf(pulls).map((p) => ({
      at: p.from,
      by: [p.to[0] - p.from[0], p.to[1] - p.from[1], p.levelPct / 100] as const,
    })),
    ...holdsOf(holds).map((at) => ({ at, by: [0, 0, 0] as const })),
  ];
  const places: typeof wanted = [];
  const near = (a: readonly number[], b: readonly number[]): number => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!);
  for (const w of wanted) if (places.every((p) => near(p.at, w.at) >= SAME_PCT)) places.push(w);
  if (places.every((p) => Math.hypot(...p.at) >= NEUTRAL_PCT)) places.push({ at: [0, 0], by: [0, 0, 0] });
  const gram = places.map((p) => places.map((q) => bump(near(p.at, q.at) / reachPct)));
  const [u, v, level] = solved(
    gram,
    [0, 1, 2].map((c) => places.map((p) => p.by[c]!)),
  );
  return {
    reach: reachPct / 200,
    centres: places.map((p, i) => ({
      x: p.at[0] / 200,
      y: p.at[1] / 200,
      u: u![i]! / 200,
      v: v![i]! / 200,
      level: level![i]!,
    })),
  };
}
/** Where a colour goes, as (Cb, Cr), and its change of level. */
export function shiftAt(f: Field, cb: number, cr: number): [u: number, v: number, level: number] {
  let [u, v, level] = [0, 0, 0];
  for (const c of f.centres) {
    const w = bump(Math.hypot(cb - c.x, cr - c.y) / f.reach);
    u += c.u * w;
    v += c.v * w;
    level += c.level * w;
  }
  return [u, v, level];
}

/** Steps across the plane at which the field is looked at. */
const GRID = 56;
/**
 * How much the field thins an area out at its worst (the least determinant of its derivatives, 1 where nothing moves):
 * 0 or less where it folds, so that two colours become one and some change their order.
 */
export function leastArea(f: Field): number {
  let least = 1;
  const h = 1 / f.reach;
  for (const c of f.centres) {
    // It is at its worst where something moves: about each place that does.
    if (c.u === 0 && c.v === 0) continue;
    for (let j = 0; j <= GRID; j++)
      for (let i = 0; i <= GRID; i++) {
        const x = c.x + f.reach * ((2 * i) / GRID - 1);
        const y = c.y + f.reach * ((2 * j) / GRID - 1);
        // Further out than any colour of the display lies.
        if (x * x + y * y > 0.45) continue;
        let [uu, uv, vu, vv] = [1, 0, 0, 1];
        for (const q of f.centres) {
          const [dx, dy] = [x - q.x, y - q.y];
          const s = Math.hypot(dx, dy) * h;
          if (s >= 1) continue;
          const k = slopeOverS(s) * h * h;
          uu += q.u * k * dx;
          uv += q.u * k * dy;
          vu += q.v * k * dx;
          vv += q.v * k * dy;
        }
        least = Math.min(least, uu * vv - uv * vu);
      }
  }
  return least;
}
/** A pull goes no further than where so little of an area would be left. */
const LEAST_AREA = 0.05;
export const folds = (v: PullValues): boolean => leastArea(fieldOf(v)) < LEAST_AREA / 2;
/**
 * The values with a pull's target at a place, or as far on the way to it as nothing folds.
 *
 * @returns the values, and whether it was held back
 */
export function pulledTo<V extends PullValues>(values: V, k: number, to: readonly [number, number]): [V, boolean] {
  const list = pullsOf(values.pulls);
  const p = list[k]!;
  const at = (share: number): V => ({
    ...values,
    pulls: listOfPulls(
      list.map((q, i) =>
        i === k
          ? { ...q, to: [p.from[0] + share * (to[0] - p.from[0]), p.from[1] + share * (to[1] - p.from[1])] as const }
          : q,
      ),
    ),
  });
  const fine = (share: number): boolean => leastArea(fieldOf(at(share))) >= LEAST_AREA;
  if (fine(1)) return [at(1), false];
  let [low, high] = [0, 1];
  for (let i = 0; i < 7; i++) {
    const mid = (low + high) / 2;
    if (fine(mid)) low = mid;
    else high = mid;
  }
  return [at(low), true];
}
