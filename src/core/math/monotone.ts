/**
 * Monotone piecewise cubic interpolation: F. N. Fritsch and J. Butland, SIAM J. Sci. Stat. Comput. 5 (1984) 300-304,
 * weighted
 * harmonic mean of the neighbouring slopes, with three-point end slopes limited to keep the shape. Straight outside.
 */
export interface Monotone {
  slopes: readonly number[];
  at(x: number): number;
}

/** `x` rises strictly; at least two points. Throws a RangeError otherwise. */
export function monotone(x: readonly number[], y: readonly number[]): Monotone {
  const n = x.length;
  if (n < 2 || y.length !== n || x.some((v, i) => i > 0 && !(v > x[i - 1]!)))
    throw new RangeError('A curve needs two points or more, with x rising');
  const h = Array.from({ length: n - 1 }, (_, i) => x[i + 1]! - x[i]!);
  const d = h.map((v, i) => (y[i + 1]! - y[i]!) / v);
  const m = new Array<number>(n).fill(d[0]!);
  if (n > 2) {
    for (let i = 1; i < n - 1; i++) {
      const [a, b] = [d[i - 1]!, d[i]!];
      if (a * b <= 0) m[i] = 0;
      else {
        const w1 = 2 * h[i]! + h[i - 1]!;
        const w2 = h[i]! + 2 * h[i - 1]!;
        m[i] = (w1 + w2) / (w1 / a + w2 / b);
      }
    }
    const end = (h0: number, h1: number, d0: number, d1: number): number => {
      const s = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1);
      if (Math.sign(s) !== Math.sign(d0)) return 0;
      return Math.sign(d0) !== Math.sign(d1) && Math.abs(s) > 3 * Math.abs(d0) ? 3 * d0 : s;
    };
    m[0] = end(h[0]!, h[1]!, d[0]!, d[1]!);
    m[n - 1] = end(h[n - 2]!, h[n - 3]!, d[n - 2]!, d[n - 3]!);
  }
  return {
    slopes: m,
    at(q) {
      if (q <= x[0]!) return y[0]! + m[0]! * (q - x[0]!);
      if (q >= x[n - 1]!) return y[n - 1]! + m[n - 1]! * (q - x[n - 1]!);
      let lo = 0;
      let hi = n - 1;
      while (hi - lo > 1) {
        const mid = (lo + hi) >> 1;
        if (x[mid]! <= q) lo = mid;
        else hi = mid;
      }
      const t = (q - x[lo]!) / h[lo]!;
      const u = 1 - t;
      return (
        y[lo]! * (1 + 2 * t) * u * u +
        m[lo]! * h[lo]! * t * u * u +
        y[hi]! * t * t * (3 - 2 * t) +
        m[hi]! * h[lo]! * t * t * (t - 1)
      );
    },
  };
}
