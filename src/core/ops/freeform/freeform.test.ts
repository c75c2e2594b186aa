import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { insidePolygon } from '../../math/polygon';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { ShapeOp } from '../../op/contract';
import freeform, { flatten } from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(freeform, vectors, { twinTolerance: 2e-6, twinReason: 'float64 in both, rounded to float32 on the way' });

const op = freeform as unknown as ShapeOp<typeof params>;
describe('freeform', () => {
  it('is the even-odd inside and the distance from the line, by another way, where it crosses itself too', () => {
    const r = rng(6);
    for (let k = 0; k < 12; k++) {
      const points = Array.from({ length: 2 * (3 + k) }, () => 5 + 50 * r());
      const softPx = 1 + 12 * r();
      const block = op.prepare({ points, roundPct: 0, softPx }, plainContext);
      const corners = Array.from(
        { length: points.length / 2 },
        (_, i) => [points[2 * i]!, points[2 * i + 1]!] as const,
      );
      for (let y = 0; y < 60; y += 3) {
        const m = new Float32Array(60);
        op.kernel(block, { m, n: 60, x0: 0, y });
        m.forEach((v, x) => {
          const [px, py] = [x + 0.5, y + 0.5];
          let d = Infinity;
          corners.forEach((a, i) => {
            const b = corners[(i + 1) % corners.length]!;
            const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
            const t = Math.min(1, Math.max(0, ((px - a[0]) * dx + (py - a[1]) * dy) / (dx * dx + dy * dy)));
            d = Math.min(d, Math.hypot(px - a[0] - t * dx, py - a[1] - t * dy));
          });
          const t = Math.min(1, Math.max(0, 0.5 + (insidePolygon(corners, px, py) ? d : -d) / softPx));
          expect(Math.abs(v - t * t * (3 - 2 * t))).toBeLessThan(1e-4);
        });
      }
    }
  });
  it('smooth, it runs through its points, and as the cubic of the same ends does in Bernstein form', () => {
    const p = [0, 0, 60, 5, 80, 70, 20, 90, -10, 40];
    const line = flatten(p, 1);
    for (let i = 0; i < p.length; i += 2)
      expect(
        Math.min(...line.map((_, k) => (k % 2 ? Infinity : Math.hypot(line[k]! - p[i]!, line[k + 1]! - p[i + 1]!)))),
      ).toBeLessThan(1e-9);
    // From the first to the second point: control points a third of the tangents away (de Casteljau).
    const at = (i: number): [number, number] => [p[2 * ((i + 5) % 5)]!, p[2 * ((i + 5) % 5) + 1]!];
    const tangent = (i: number): [number, number] => [
      (at(i + 1)[0] - at(i - 1)[0]) / 2,
      (at(i + 1)[1] - at(i - 1)[1]) / 2,
    ];
    const c = [at(0), at(0).map((v, k) => v + tangent(0)[k]! / 3), at(1).map((v, k) => v - tangent(1)[k]! / 3), at(1)];
    const mix = (a: number[], b: number[], t: number): number[] => a.map((v, k) => v + t * (b[k]! - v));
    for (let j = 0; j < 10; j++) {
      let list = c as number[][];
      while (list.length > 1) list = list.slice(1).map((q, k) => mix(list[k]!, q, j / 10));
      expect(line[2 * j]).toBeCloseTo(list[0]![0]!, 9);
      expect(line[2 * j + 1]).toBeCloseTo(list[0]![1]!, 9);
    }
  });
});
