/** Order statistics. Every function sorts a copy; NaN entries must be removed before. */

/** Value at share q (0..1) of a sorted array, linear between neighbours. NaN for an empty array. */
export function quantileSorted(sorted: ArrayLike<number>, q: number): number {
  const n = sorted.length;
  if (n === 0) return NaN;
  const at = Math.min(Math.max(q, 0), 1) * (n - 1);
  const i = Math.floor(at);
  const a = sorted[i]!;
  return i + 1 < n ? a + (sorted[i + 1]! - a) * (at - i) : a;
}

export function median(values: Float32Array): number {
  return quantileSorted(values.slice().sort(), 0.5);
}

/** Median absolute deviation from `centre`, not scaled to a standard deviation (times 1.4826 for that). */
export function mad(values: Float32Array, centre: number): number {
  const d = new Float32Array(values.length);
  for (let i = 0; i < d.length; i++) d[i] = Math.abs(values[i]! - centre);
  return quantileSorted(d.sort(), 0.5);
}

export const clamp = (x: number, lo: number, hi: number): number => Math.min(Math.max(x, lo), hi);
/** The upper middle one of a list; NaN of none. */
export const medianOf = (v: readonly number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1] ?? NaN;
