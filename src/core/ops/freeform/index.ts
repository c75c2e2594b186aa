/**
 * A freeform: a closed line through points, straight or as a Catmull-Rom curve (E. Catmull, R. Rom, "A class of local
 * interpolating splines", 1974), each point round by itself where it says so, with tangents of its own where one came
 * in between two, with a soft edge by the distance from the line, as soft as its nearest place on it says. Inside is
 * told by the even-odd rule.
 */
import { defineShapeOp } from '../../op/contract';
import { halvesOfSoftness } from '../../op/edgeWidths';
import { outline } from './line';
import { params } from './params';

/** So small a share of the softness is none; it keeps a sign apart from zero. */
const TINY = 1e-12;
/** An edge is drawn at least so wide on either side. */
const LEAST = 0.5;
/** Numbers of one corner in the block. */
const CORNER = 4;

export default defineShapeOp<typeof params>({
  id: 'freeform',
  title: 'Freeform',
  doc:
    'A line of your own through up to 128 points, straight or smooth as a whole or point by point, with an edge that ' +
    'may be softer at some points than at others. Where it crosses itself, what lies inside twice is outside.',
  version: 3,
  params,
  refs: [
    'E. Catmull, R. Rom, "A class of local interpolating splines", Computer Aided Geometric Design, 1974',
    'even-odd rule: SVG 1.1 11.3',
  ],
  edge:
    'A softness below half a pixel is drawn as half a pixel, so that it has no steps. Points may lie ' +
    'beyond the picture.',
  migrations: [
    { from: 1, up: halvesOfSoftness },
    { from: 2, up: (s) => s },
  ],
  fromCorners: (points) => ({ points: points.flat() }),
  fromBox: ({ x, y, w, h }) => ({ points: [x, y, x + w, y, x + w, y + h, x, y + h] }),
  drawnAs: 'corners',
  /** Block: corners, then of each x, y and the softness inside and outside, the first once more at the end. */
  prepare({ points, roundPct, bends, tangents, softInPx, softOutPx, softs }) {
    const line = outline({ points, round: roundPct / 100, bends, softs, tangents });
    const count = line.length / 3;
    const block = new Float32Array(1 + CORNER * (count + 1));
    block[0] = count;
    for (let i = 0; i <= count; i++) {
      const [x, y, s] = line.slice(3 * (i % count), 3 * (i % count) + 3) as [number, number, number];
      block.set([x, y, Math.max(LEAST, s * softInPx), Math.max(LEAST, s * softOutPx)], 1 + CORNER * i);
    }
    return block;
  },
  kernel(block, { m, x0, y, n }) {
    const count = block[0]!;
    const cy = y + 0.5;
    // The sign tells inside; the size is the square of the distance as a share of the softness there, 1 at its end.
    for (let i = 0; i < n; i++) m[i] = 1;
    for (let k = 0; k < count; k++) {
      const at = 1 + CORNER * k;
      const [ax, ay, bx, by] = [block[at]!, block[at + 1]!, block[at + 4]!, block[at + 5]!];
      if (ay > cy === by > cy) continue;
      const cross = ((bx - ax) * (cy - ay)) / (by - ay) + ax;
      for (let i = Math.max(0, Math.ceil(cross - x0 - 0.5)); i < n; i++) m[i] = -m[i]!;
    }
    for (let k = 0; k < count; k++) {
      const at = 1 + CORNER * k;
      const [ax, ay, bx, by] = [block[at]!, block[at + 1]!, block[at + 4]!, block[at + 5]!];
      const [sin, sout, tin, tout] = [block[at + 2]!, block[at + 3]!, block[at + 6]!, block[at + 7]!];
      const reach = Math.max(Math.max(sin, sout), Math.max(tin, tout));
      if (Math.min(ay, by) > cy + reach || Math.max(ay, by) < cy - reach) continue;
      const [dx, dy] = [bx - ax, by - ay];
      const len = dx * dx + dy * dy;
      const from = Math.max(0, Math.floor(Math.min(ax, bx) - reach - x0 - 0.5));
      const to = Math.min(n - 1, Math.ceil(Math.max(ax, bx) + reach - x0 - 0.5));
      for (let i = from; i <= to; i++) {
        const [px, py] = [x0 + i + 0.5 - ax, cy - ay];
        const t = len > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / len)) : 0;
        const [u, v] = [px - t * dx, py - t * dy];
        const inside = m[i]! < 0;
        const soft = inside ? sin + t * (tin - sin) : sout + t * (tout - sout);
        const d = Math.max(TINY, (u * u + v * v) / (soft * soft));
        if (d < Math.abs(m[i]!)) m[i] = inside ? -d : d;
      }
    }
    for (let i = 0; i < n; i++) {
      const v = m[i]!;
      const d = Math.sqrt(Math.abs(v)) / 2;
      const t = Math.min(1, Math.max(0, v < 0 ? 0.5 + d : 0.5 - d));
      m[i] = t * t * (3 - 2 * t);
    }
  },
});
