/**
 * Lays one small picture over others: by what shift, growth and turn it lies in them, and how alike they are there.
 * Inverse compositional registration (S. Baker, I. Matthews, "Lucas-Kanade 20 years on", IJCV 56(3), 2004) of pictures
 * brought to one level and contrast.
 */
import { mapPoint } from '../graph/track';
import type { Homography } from '../graph/track';
import { solveLinear } from '../math/linear';
import { invertMap, multiplyMaps } from './fit';
import type { Point } from './points';

const ROUNDS = 12;
/** A step so short is the last one, in cells. */
const CLOSE = 0.01;

export const shiftBy = (x: number, y: number): Homography => [1, 0, x, 0, 1, y, 0, 0, 1];
/** Between four cells; beyond the edge the nearest one. At least two cells along each side. */
export function between(v: Float32Array, w: number, h: number, x: number, y: number): number {
  const [cx, cy] = [Math.max(0, Math.min(w - 1, x)), Math.max(0, Math.min(h - 1, y))];
  const [x0, y0] = [Math.min(w - 2, Math.floor(cx)), Math.min(h - 2, Math.floor(cy))];
  const [fx, fy] = [cx - x0, cy - y0];
  const i = y0 * w + x0;
  const top = v[i]! + fx * (v[i + 1]! - v[i]!);
  return top + fy * (v[i + w]! + fx * (v[i + w + 1]! - v[i + w]!) - top);
}
const product = (a: Float64Array, b: Float64Array): number => {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
};
/** Less its mean and of length 1; false where it is all one value. */
function unit(v: Float64Array): boolean {
  let mean = 0;
  for (let i = 0; i < v.length; i++) mean += v[i]! / v.length;
  for (let i = 0; i < v.length; i++) v[i]! -= mean;
  const length = Math.sqrt(product(v, v));
  if (!(length > 1e-9)) return false;
  for (let i = 0; i < v.length; i++) v[i]! /= length;
  return true;
}

export class LaidOver {
  private readonly own: Float64Array;
  /** What a small step right, down, in size and in angle makes of it. */
  private readonly steps: Float64Array[];
  private readonly normal: number[];
  private readonly blank: boolean;
  private readonly size: number;

  /**
   * @param first in rows of w cells, h of them
   * @param cells indices of those that count
   * @param centre about which it grows and turns, in cells (the first one's middle is 0, 0)
   * @param turns it may grow and turn as well
   */
  constructor(
    first: Float32Array,
    private readonly w: number,
    private readonly h: number,
    private readonly cells: readonly number[],
    private readonly centre: Point,
    turns: boolean,
  ) {
    this.size = Math.sqrt(cells.length);
    this.own = Float64Array.from(cells, (i) => first[i]!);
    const before = Float64Array.from(this.own);
    this.blank = !unit(this.own);
    const scale = this.blank ? 0 : 1 / product(before, this.own);
    this.steps = Array.from({ length: turns ? 4 : 2 }, () => new Float64Array(cells.length));
    cells.forEach((i, n) => {
      const [x, y] = [i % w, Math.floor(i / w)];
      const gx = x > 0 && x < w - 1 ? ((first[i + 1]! - first[i - 1]!) / 2) * scale : 0;
      const gy = y > 0 && y < h - 1 ? ((first[i + w]! - first[i - w]!) / 2) * scale : 0;
      const [u, v] = [x - centre[0], y - centre[1]];
      [gx, gy, gx * u + gy * v, gy * u - gx * v].forEach((d, k) => {
        if (k < this.steps.length) this.steps[k]![n] = d;
      });
    });
    this.normal = this.steps.flatMap((a) => this.steps.map((b) => product(a, b)));
  }
  /** What lies under it, brought to one level and contrast; null where that is all one value. */
  private under(other: Float32Array, map: Homography): Float64Array | null {
    const { w, h } = this;
    const there = Float64Array.from(this.cells, (i) =>
      between(other, w, h, ...mapPoint(map, i % w, Math.floor(i / w))),
    );
    return unit(there) ? there : null;
  }
  /** The map from its cells to those of the other one, begun where they are; their correlation there, -1..1. */
  on(other: Float32Array): { map: Homography; alike: number } {
    let map = shiftBy(0, 0);
    let best = { map, alike: -1 };
    const [cx, cy] = this.centre;
    for (let round = 0; round < ROUNDS && !this.blank; round++) {
      const there = this.under(other, map);
      if (!there) break;
      const alike = product(there, this.own);
      if (alike > best.alike) best = { map, alike };
      for (let n = 0; n < there.length; n++) there[n]! -= this.own[n]!;
      const by = solveLinear(
        this.normal,
        this.steps.map((s) => product(s, there)),
      );
      if (!by) break;
      const [dx, dy, grow = 0, turn = 0] = by as [number, number, number?, number?];
      const step = multiplyMaps(
        shiftBy(cx + dx, cy + dy),
        multiplyMaps([1 + grow, -turn, 0, turn, 1 + grow, 0, 0, 0, 1], shiftBy(-cx, -cy)),
      );
      map = multiplyMaps(map, invertMap(step));
      if (Math.hypot(dx, dy) < CLOSE && Math.hypot(grow, turn) * this.size < CLOSE) break;
    }
    return best;
  }
}
