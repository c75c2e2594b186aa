/** The line of a freeform: through its points, straight or as a Catmull-Rom curve, whose tangents may be its own. */

/** Straight pieces that a curved side is made of, at most. */
const PIECES = 10;

type Point = readonly [number, number];
/** What a line is told by; `round` 0..1 is that of points that say nothing of themselves. */
export interface Line {
  points: readonly number[];
  round: number;
  bends?: readonly number[];
  softs?: readonly number[];
  tangents?: readonly number[];
}
/** Reads a line point by point, all the way round. */
class Reader {
  readonly n: number;
  constructor(private readonly line: Line) {
    this.n = line.points.length >> 1;
  }
  private index = (i: number): number => ((i % this.n) + this.n) % this.n;
  at(i: number): Point {
    const k = 2 * this.index(i);
    return [this.line.points[k]!, this.line.points[k + 1]!];
  }
  bend(i: number): number {
    const own = this.line.bends?.[this.index(i)] ?? -1;
    return own < 0 ? this.line.round : own / 100;
  }
  soft(i: number): number {
    return (this.line.softs?.[this.index(i)] ?? 100) / 100;
  }
  /** That of a Catmull-Rom curve. */
  plain(i: number): Point {
    const [a, b] = [this.at(i - 1), this.at(i + 1)];
    return [(b[0] - a[0]) / 2, (b[1] - a[1]) / 2];
  }
  /** Of a point that is wholly smooth. */
  tangent(i: number, side: 'before' | 'behind'): Point {
    const t = this.line.tangents;
    const k = 4 * this.index(i) + (side === 'before' ? 0 : 2);
    const plain = this.plain(i);
    return t?.[k] === undefined ? plain : times([t[k] / 100, t[k + 1]! / 100], plain);
  }
  /** Both ends of the side behind point i, and the tangents there. */
  side(i: number): [p: Point, a: Point, q: Point, b: Point] {
    const [u, v] = [this.bend(i), this.bend(i + 1)];
    const [s, t] = [this.tangent(i, 'behind'), this.tangent(i + 1, 'before')];
    return [this.at(i), [u * s[0], u * s[1]], this.at(i + 1), [v * t[0], v * t[1]]];
  }
}
/** Turned and made longer: as complex numbers are multiplied. */
const times = ([a, b]: Point, [x, y]: Point): Point => [a * x - b * y, a * y + b * x];
/** What turns and lengthens the second into the first; null where the second has no length. */
function over([x, y]: Point, [u, v]: Point): Point | null {
  const d = u * u + v * v;
  return d > 0 ? [(x * u + y * v) / d, (y * u - x * v) / d] : null;
}

/** The line as straight pieces, closed: x, y and softness (1: that of all) in turn. */
export function outline(line: Line): number[] {
  const r = new Reader(line);
  const out: number[] = [];
  for (let i = 0; i < r.n; i++) {
    const [p, a, q, b] = r.side(i);
    const length = Math.hypot(q[0] - p[0], q[1] - p[1]);
    const straight = r.bend(i) <= 0 && r.bend(i + 1) <= 0;
    const k = straight ? 1 : Math.max(1, Math.min(PIECES, Math.ceil(length / 4)));
    for (let j = 0; j < k; j++) {
      const t = j / k;
      const [t2, t3] = [t * t, t * t * t];
      for (const c of [0, 1] as const)
        out.push((2 * t3 - 3 * t2 + 1) * p[c] + (t3 - 2 * t2 + t) * a[c] + (3 * t2 - 2 * t3) * q[c] + (t3 - t2) * b[c]);
      out.push(r.soft(i) + t * (r.soft(i + 1) - r.soft(i)));
    }
  }
  return out;
}
export const pointsOf = ({ points }: Line): Point[] =>
  Array.from({ length: points.length >> 1 }, (_, i) => [points[2 * i]!, points[2 * i + 1]!]);
/** Its straight pieces by where they begin. */
export function cornersOf(line: Line): [number, number][] {
  const flat = outline(line);
  return Array.from({ length: flat.length / 3 }, (_, i) => [flat[3 * i]!, flat[3 * i + 1]!]);
}
/** The same line through other points. */
export const curveOf =
  (line: Line) =>
  (points: readonly Point[]): Point[] =>
    cornersOf({ ...line, points: points.flatMap((p) => [...p]) });
/** Where a point of one's own would be put: half-way along the side behind point i, on the curve itself. */
export function middleOf(line: Line, i: number): Point {
  const [p, a, q, b] = new Reader(line).side(i);
  return [(p[0] + q[0]) / 2 + (a[0] - b[0]) / 8, (p[1] + q[1]) / 2 + (a[1] - b[1]) / 8];
}
/**
 * The tangents of all points once a point has come in half-way along the side behind point i, so that the curve stays
 * what it was (a cubic is divided by de Casteljau's rule, P. de Casteljau 1959: either half has half the tangents).
 *
 * @param bend of the new point, 0..1
 */
export function dividedAt(line: Line, i: number, bend: number): number[] {
  const r = new Reader(line);
  const [p, a, q, b] = r.side(i);
  const m = middleOf(line, i);
  const d = [0, 1].map((c) => (1.5 * (q[c]! - p[c]!) - (a[c]! + b[c]!) / 4) / 2) as unknown as Point;
  const half = ([x, y]: Point): Point => [x / 2, y / 2];
  const own = (side: Point, plain: Point): [number, number] => {
    const [u, v] = over(side, plain) ?? [1, 0];
    return [100 * u, 100 * v];
  };
  const [before, behind] = [r.at(i - 1), r.at(i + 2)];
  const [atP, atQ] = [half([m[0] - before[0], m[1] - before[1]]), half([behind[0] - m[0], behind[1] - m[1]])];
  const middle = own(bend > 0 ? [d[0] / bend, d[1] / bend] : d, half([q[0] - p[0], q[1] - p[1]]));
  const out: number[] = [];
  const next = (i + 1) % r.n;
  for (let k = 0; k < r.n; k++) {
    if (k === i) out.push(...own(r.tangent(k, 'before'), atP), ...own(half(r.tangent(k, 'behind')), atP));
    else if (k === next) out.push(...own(half(r.tangent(k, 'before')), atQ), ...own(r.tangent(k, 'behind'), atQ));
    else out.push(...PLAIN.map((v, j) => line.tangents?.[4 * k + j] ?? v));
    if (k === i) out.push(...middle, ...middle);
  }
  return out;
}
/** What a point says that has the tangents of a Catmull-Rom curve. */
export const PLAIN: readonly number[] = [100, 0, 100, 0];
