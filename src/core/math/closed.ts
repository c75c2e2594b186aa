/** A closed curve over a circle: monotone cubic pieces that join smoothly where the circle closes. */
import { monotone } from './monotone';

/**
 * Between points a curve never overshoots them (see monotone.ts); with one point it is that value everywhere.
 *
 * @param points x (taken into one period, in any order) and value; at least one; of two at one place the first counts
 */
export function closed(points: readonly (readonly [number, number])[], period: number): (x: number) => number {
  const into = (x: number): number => ((x % period) + period) % period;
  const list = points.map(([x, y]) => [into(x), y] as const).sort((a, b) => a[0] - b[0]);
  const p = list.filter((q, i) => i === 0 || q[0] - list[i - 1]![0] > 1e-6);
  if (p.length === 0) throw new RangeError('A closed curve needs a point');
  if (p.length === 1) return () => p[0]![1];
  // Two more on either side than are needed: the slopes at the ends are nobody's.
  const n = p.length;
  const all = Array.from({ length: n + 4 }, (_, k) => {
    const i = k - 2;
    const turn = Math.floor(i / n);
    const [x, y] = p[i - turn * n]!;
    return [x + turn * period, y] as const;
  });
  const f = monotone(
    all.map((q) => q[0]),
    all.map((q) => q[1]),
  );
  return (x) => f.at(into(x));
}

/** The points of a list, in pairs. */
export const pointsOf = (v: readonly number[]): [number, number][] =>
  Array.from({ length: v.length >> 1 }, (_, i) => [v[2 * i]!, v[2 * i + 1]!]);
/** Every point of a list lies at 0: the curve does nothing. */
export const isLevel = (v: readonly number[]): boolean => v.every((x, i) => i % 2 === 0 || x === 0);
