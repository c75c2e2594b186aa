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

/**
 * The k-th smallest of a list that is put in another order for it (what comes before it there is no larger), in a time
 * of its length: C. A. R. Hoare, "Algorithm 65: find", CACM 4(7), 1961; about the median of three.
 */
export function nth(v: Float32Array, k: number): number {
  let lo = 0;
  let hi = v.length - 1;
  while (lo < hi) {
    const [a, b, c] = [v[lo]!, v[(lo + hi) >> 1]!, v[hi]!];
    const pivot = a < b ? (b < c ? b : a < c ? c : a) : a < c ? a : b < c ? c : b;
    let i = lo;
    let j = hi;
    while (i <= j) {
      while (v[i]! < pivot) i++;
      while (v[j]! > pivot) j--;
      if (i <= j) {
        const t = v[i]!;
        v[i++] = v[j]!;
        v[j--] = t;
      }
    }
    if (k <= j) hi = j;
    else if (k >= i) lo = i;
    else break;
  }
  return v[k]!;
}
/** The middle of a list that is put in another order for it: what a sorted one would give. */
function middle(v: Float32Array): number {
  const n = v.length;
  if (n < 3) return quantileSorted(v.sort(), 0.5);
  const k = (n - 1) >> 1;
  const low = nth(v, k);
  if (n & 1) return low;
  let next = Infinity;
  for (let i = k + 1; i < n; i++) if (v[i]! < next) next = v[i]!;
  return low + (next - low) * 0.5;
}
export function median(values: Float32Array): number {
  return middle(values.slice());
}

/** Median absolute deviation from `centre`, not scaled to a standard deviation (times 1.4826 for that). */
export function mad(values: Float32Array, centre: number): number {
  const d = new Float32Array(values.length);
  for (let i = 0; i < d.length; i++) d[i] = Math.abs(values[i]! - centre);
  return middle(d);
}

/** Greatest common divisor of whole numbers. */
export const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
export const clamp = (x: number, lo: number, hi: number): number => Math.min(Math.max(x, lo), hi);
/** The upper middle one of a list; NaN of none. */
export const medianOf = (v: readonly number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1] ?? NaN;
