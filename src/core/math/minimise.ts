/**
 * Least value of a function of a few numbers without derivatives: J. A. Nelder and R. Mead, "A simplex method for
 * function
 * minimization", Computer Journal 7 (1965) 308-313, with the usual coefficients 1, 2, 1/2, 1/2, started again until
 * it rests.
 */
export function minimise(
  f: (x: readonly number[]) => number,
  x0: readonly number[],
  size: readonly number[],
  opts: { tries?: number; tol?: number; most?: number } = {},
): { x: number[]; value: number; count: number } {
  const { tries = 4, tol = 1e-7, most = 4000 } = opts;
  const n = x0.length;
  let count = 0;
  const at = (x: number[]): { x: number[]; v: number } => {
    count++;
    const v = f(x);
    return { x, v: Number.isFinite(v) ? v : Infinity };
  };
  let best = at([...x0]);
  for (let t = 0; t < tries; t++) {
    const before = best.v;
    // Each start has a smaller simplex round what was found.
    const k = 0.4 ** t;
    let s = [best, ...size.map((d, i) => at(best.x.map((v, j) => (j === i ? v + d * k : v))))];
    while (count < most * (t + 1)) {
      s = s.sort((a, b) => a.v - b.v);
      const worst = s[n]!;
      if (worst.v - s[0]!.v <= tol * (Math.abs(s[0]!.v) + tol)) break;
      const mid = x0.map((_, i) => s.slice(0, n).reduce((a, p) => a + p.x[i]!, 0) / n);
      const along = (c: number): { x: number[]; v: number } => at(mid.map((m, i) => m + c * (worst.x[i]! - m)));
      const r = along(-1);
      if (r.v < s[0]!.v) {
        const e = along(-2);
        s[n] = e.v < r.v ? e : r;
      } else if (r.v < s[n - 1]!.v) s[n] = r;
      else {
        const c = along(r.v < worst.v ? -0.5 : 0.5);
        if (c.v < Math.min(r.v, worst.v)) s[n] = c;
        else s = [s[0]!, ...s.slice(1).map((p) => at(p.x.map((v, i) => s[0]!.x[i]! + (v - s[0]!.x[i]!) / 2)))];
      }
    }
    best = s.sort((a, b) => a.v - b.v)[0]!;
    if (before - best.v <= tol * Math.max(1e-12, Math.abs(before))) break;
  }
  return { x: best.x, value: best.v, count };
}
