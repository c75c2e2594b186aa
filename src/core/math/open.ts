/** An open curve: monotone cubic pieces between points, flat beyond its ends. */
import { monotone } from './monotone';

/**
 * An open curve through points, in %: never beyond its points, flat beyond its ends.
 *
 * @param points place and value, in any order; of two at one place the first counts
 */
export function open(points: readonly (readonly [number, number])[]): (x: number) => number {
  const p = [...points].sort((a, b) => a[0] - b[0]).filter((q, i, all) => i === 0 || q[0] - all[i - 1]![0] > 1e-6);
  if (p.length === 0) throw new RangeError('A curve needs a point');
  if (p.length === 1) return () => p[0]![1];
  const f = monotone(
    p.map((q) => q[0]),
    p.map((q) => q[1]),
  );
  const [first, last] = [p[0]![0], p.at(-1)![0]];
  return (x) => f.at(Math.min(last, Math.max(first, x)));
}
