/**
 * A freeform: a closed line through points, straight or as a Catmull-Rom curve (E. Catmull, R. Rom, "A class of local
 * interpolating splines", 1974), with a soft edge by the distance from it. Inside is told by the even-odd rule.
 */
import { defineShapeOp } from '../../op/contract';
import { params } from './params';

/** Straight pieces that a curved side is made of, at most. */
const PIECES = 10;
/** So small a squared distance is none; it keeps a sign apart from zero. */
const TINY = 1e-9;

/** The line as straight pieces: x and y in turn, closed. */
export function flatten(points: readonly number[], round: number): number[] {
  const n = points.length >> 1;
  if (round <= 0) return points.slice(0, 2 * n);
  const at = (i: number, c: number): number => points[2 * (((i % n) + n) % n) + c]!;
  const out: number[] = [];
  for (let i = 0; i < n; i++) {
    const length = Math.hypot(at(i + 1, 0) - at(i, 0), at(i + 1, 1) - at(i, 1));
    const k = Math.max(1, Math.min(PIECES, Math.ceil(length / 4)));
    for (let j = 0; j < k; j++) {
      const t = j / k;
      const [t2, t3] = [t * t, t * t * t];
      for (const c of [0, 1]) {
        const [p, q] = [at(i, c), at(i + 1, c)];
        const [a, b] = [(round * (q - at(i - 1, c))) / 2, (round * (at(i + 2, c) - p)) / 2];
        out.push((2 * t3 - 3 * t2 + 1) * p + (t3 - 2 * t2 + t) * a + (3 * t2 - 2 * t3) * q + (t3 - t2) * b);
      }
    }
  }
  return out;
}

export default defineShapeOp<typeof params>({
  id: 'freeform',
  title: 'Freeform',
  doc:
    'A line of your own through up to 128 points, straight or smooth, with a soft edge. Where it crosses itself, ' +
    'what lies inside twice is outside.',
  version: 1,
  params,
  refs: [
    'E. Catmull, R. Rom, "A class of local interpolating splines", Computer Aided Geometric Design, 1974',
    'even-odd rule: SVG 1.1 11.3',
  ],
  edge: 'A soft edge under one pixel is one pixel wide, so that it has no steps. Points may lie beyond the picture.',
  migrations: [],
  fromCorners: (points) => ({ points: points.flat() }),
  fromBox: ({ x, y, w, h }) => ({ points: [x, y, x + w, y, x + w, y + h, x, y + h] }),
  drawnAs: 'corners',
  /** Block: width of the soft edge, pieces, then their corners, the first once more at the end. */
  prepare({ points, roundPct, softPx }) {
    const line = flatten(points, roundPct / 100);
    return Float32Array.of(Math.max(1, softPx), line.length / 2, ...line, line[0]!, line[1]!);
  },
  kernel(block, { m, x0, y, n }) {
    const soft = block[0]!;
    const count = block[1]!;
    const reach = soft / 2;
    const far = reach * reach;
    const cy = y + 0.5;
    // The sign tells inside, the size is the squared distance so far.
    for (let i = 0; i < n; i++) m[i] = far;
    for (let k = 0; k < count; k++) {
      const [ax, ay, bx, by] = [block[2 + 2 * k]!, block[3 + 2 * k]!, block[4 + 2 * k]!, block[5 + 2 * k]!];
      if (ay > cy === by > cy) continue;
      const cross = ((bx - ax) * (cy - ay)) / (by - ay) + ax;
      for (let i = Math.max(0, Math.ceil(cross - x0 - 0.5)); i < n; i++) m[i] = -m[i]!;
    }
    for (let k = 0; k < count; k++) {
      const [ax, ay, bx, by] = [block[2 + 2 * k]!, block[3 + 2 * k]!, block[4 + 2 * k]!, block[5 + 2 * k]!];
      if (Math.min(ay, by) > cy + reach || Math.max(ay, by) < cy - reach) continue;
      const [dx, dy] = [bx - ax, by - ay];
      const len = dx * dx + dy * dy;
      const from = Math.max(0, Math.floor(Math.min(ax, bx) - reach - x0 - 0.5));
      const to = Math.min(n - 1, Math.ceil(Math.max(ax, bx) + reach - x0 - 0.5));
      for (let i = from; i <= to; i++) {
        const [px, py] = [x0 + i + 0.5 - ax, cy - ay];
        const t = len > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / len)) : 0;
        const [u, v] = [px - t * dx, py - t * dy];
        const d = Math.max(TINY, u * u + v * v);
        if (d < Math.abs(m[i]!)) m[i] = m[i]! < 0 ? -d : d;
      }
    }
    for (let i = 0; i < n; i++) {
      const v = m[i]!;
      const d = Math.sqrt(Math.abs(v)) / soft;
      const t = Math.min(1, Math.max(0, v < 0 ? 0.5 + d : 0.5 - d));
      m[i] = t * t * (3 - 2 * t);
    }
  },
});
