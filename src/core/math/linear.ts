/** Solves A x = t for a small full matrix, row by row, by elimination with pivoting. Null when it is singular. */
export function solveLinear(matrix: ArrayLike<number>, right: ArrayLike<number>): number[] | null {
  const n = right.length;
  const a = Array.from({ length: n }, (_, r) => [
    ...Array.from({ length: n }, (_, c) => matrix[r * n + c]!),
    right[r]!,
  ]);
  for (let k = 0; k < n; k++) {
    let p = k;
    for (let r = k + 1; r < n; r++) if (Math.abs(a[r]![k]!) > Math.abs(a[p]![k]!)) p = r;
    [a[k], a[p]] = [a[p]!, a[k]!];
    const d = a[k]![k]!;
    if (!(Math.abs(d) > 1e-14)) return null;
    for (let r = 0; r < n; r++) {
      if (r === k) continue;
      const f = a[r]![k]! / d;
      if (f !== 0) for (let c = k; c <= n; c++) a[r]![c]! -= f * a[k]![c]!;
    }
  }
  return a.map((row, i) => row[n]! / row[i]!);
}
