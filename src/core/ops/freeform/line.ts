/** The line of a freeform: through its points, straight or as a Catmull-Rom curve. */

/** Straight pieces that a curved side is made of, at most. */
const PIECES = 10;

/** The line as straight pieces, closed: x, y and softness (1: that of all) in turn. */
export function outline(
  points: readonly number[],
  round: number,
  bends: readonly number[] = [],
  softs: readonly number[] = [],
): number[] {
  const n = points.length >> 1;
  const wrap = (i: number): number => ((i % n) + n) % n;
  const at = (i: number, c: number): number => points[2 * wrap(i) + c]!;
  const bend = (i: number): number => {
    const own = bends[wrap(i)] ?? -1;
    return own < 0 ? round : own / 100;
  };
  const soft = (i: number): number => (softs[wrap(i)] ?? 100) / 100;
  const out: number[] = [];
  for (let i = 0; i < n; i++) {
    const length = Math.hypot(at(i + 1, 0) - at(i, 0), at(i + 1, 1) - at(i, 1));
    const straight = bend(i) <= 0 && bend(i + 1) <= 0;
    const k = straight ? 1 : Math.max(1, Math.min(PIECES, Math.ceil(length / 4)));
    for (let j = 0; j < k; j++) {
      const t = j / k;
      const [t2, t3] = [t * t, t * t * t];
      for (const c of [0, 1]) {
        const [p, q] = [at(i, c), at(i + 1, c)];
        const [a, b] = [(bend(i) * (q - at(i - 1, c))) / 2, (bend(i + 1) * (at(i + 2, c) - p)) / 2];
        out.push((2 * t3 - 3 * t2 + 1) * p + (t3 - 2 * t2 + t) * a + (3 * t2 - 2 * t3) * q + (t3 - t2) * b);
      }
      out.push(soft(i) + t * (soft(i + 1) - soft(i)));
    }
  }
  return out;
}
/** Where a point of one's own would be put: half-way along the side behind point i, on the curve itself. */
export function middleOf(points: readonly number[], i: number, round: number, bends: readonly number[] = []): Point {
  const n = points.length >> 1;
  const at = (k: number, c: number): number => points[2 * ((k + n) % n) + c]!;
  const bend = (k: number): number => {
    const own = bends[(k + n) % n] ?? -1;
    return own < 0 ? round : own / 100;
  };
  return [0, 1].map((c) => {
    const [p, q] = [at(i, c), at(i + 1, c)];
    const [a, b] = [(bend(i) * (q - at(i - 1, c))) / 2, (bend(i + 1) * (at(i + 2, c) - p)) / 2];
    return (p + q) / 2 + (a - b) / 8;
  }) as unknown as Point;
}
type Point = readonly [number, number];
