import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { insidePolygon } from '../../math/polygon';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { ShapeOp } from '../../op/contract';
import freeform from './index';
import { middleOf, outline } from './line';
import type { Line } from './line';
import { resolve } from '../../op/params';
import { params } from './params';
import {
  bendOf,
  inStep,
  pointInEveryKey,
  softOf,
  withoutPoint,
  withoutPointInEveryKey,
  withPoint,
  withPointValue,
} from './points';
import type { FreePoints } from './points';
import { vectors } from './vectors';

opContract(freeform, vectors, { twinTolerance: 2e-6, twinReason: 'float64 in both, rounded to float32 on the way' });

const op = freeform as unknown as ShapeOp<typeof params>;
describe('freeform', () => {
  it('is the even-odd inside and the distance from the line, by another way, where it crosses itself too', () => {
    const r = rng(6);
    for (let k = 0; k < 12; k++) {
      const points = Array.from({ length: 2 * (3 + k) }, () => 5 + 50 * r());
      const softPx = 1 + 12 * r();
      const half = { softInPx: softPx / 2, softOutPx: softPx / 2 };
      const block = op.prepare({ points, roundPct: 0, bends: [], softs: [], tangents: [], ...half }, plainContext);
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
    const line = outline({ points: p, round: 1 }).filter((_, i) => i % 3 < 2);
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
  it('a point that is a corner by itself has straight sides to its like; a new point lies on the curve', () => {
    const p = [0, 0, 60, 5, 80, 70, 20, 90, -10, 40];
    const xy = outline({ points: p, round: 1, bends: [0, 0, -1, -1, -1] }).filter((_, i) => i % 3 < 2);
    // One piece from the first to the second point.
    expect(xy.slice(0, 4)).toEqual([0, 0, 60, 5]);
    const [x, y] = middleOf({ points: p, round: 1 }, 2);
    const all = outline({ points: p, round: 1 });
    const near = Math.min(...all.map((_, k) => (k % 3 ? Infinity : Math.hypot(all[k]! - x, all[k + 1]! - y))));
    expect(near).toBeLessThan(1e-9);
  });
  it('points come and go with what they say of themselves', () => {
    const plain = { points: [0, 0, 10, 0, 10, 10, 0, 10], bends: [], softs: [], tangents: [] };
    const said = withPointValue(withPointValue(plain, 2, { bend: 0 }), 1, { soft: 300 });
    expect([said.bends, said.softs]).toEqual([
      [-1, -1, 0, -1],
      [100, 300, 100, 100],
    ]);
    const more = withPoint(said, 1, 0);
    expect(more.points).toEqual([0, 0, 10, 0, 10, 5, 10, 10, 0, 10]);
    expect(more.tangents).toEqual([]);
    expect([bendOf(more, 3), softOf(more, 2), softOf(more, 1)]).toEqual([0, 200, 300]);
    expect(withoutPoint(more, 2)).toEqual(said);
    // What says nothing is not kept.
    expect(withPointValue(withPointValue(said, 2, { bend: -1 }), 1, { soft: 100 })).toEqual(plain);
    const three = { points: [0, 0, 1, 0, 0, 1], bends: [], softs: [], tangents: [] };
    expect(withoutPoint(three, 0)).toBe(three);
  });
});

/** How far places of one line lie from another one, at most. */
function apart(of: Line, from: Line): number {
  // Scaled up, each side is drawn in as many pieces as there may be, a half side too.
  const big = (l: Line): Line => ({ ...l, points: l.points.map((v) => 100 * v) });
  const places = (l: Line): [number, number][] => {
    const flat = outline(big(l));
    return Array.from({ length: flat.length / 3 }, (_, i) => [flat[3 * i]! / 100, flat[3 * i + 1]! / 100]);
  };
  const there = places(from);
  const away = ([x, y]: [number, number]): number =>
    Math.min(
      ...there.map(([u, v], k) => {
        const next = there[(k + 1) % there.length]!;
        const [dx, dy] = [next[0] - u, next[1] - v];
        const t = ((x - u) * dx + (y - v) * dy) / (dx * dx + dy * dy || 1);
        const s = Math.min(1, Math.max(0, t));
        return Math.hypot(x - u - s * dx, y - v - s * dy);
      }),
    );
  return Math.max(...places(of).map(away));
}
describe('a point that comes in', () => {
  const random = rng(41);
  const places = (n: number): number[] =>
    Array.from({ length: n }, (_, i) => {
      const [a, r] = [(2 * Math.PI * i) / n, 40 + 60 * random()];
      return [100 + r * Math.cos(a), 100 + r * Math.sin(a)];
    }).flat();
  it('leaves the curve as it was, however round it is, on sides with corners, and among others that came in', () => {
    for (let k = 0; k < 60; k++) {
      const n = 3 + (k % 6);
      const round = [1, 0.35, 0.8, 0][k % 4]!;
      const bends = k % 3 === 0 ? [] : Array.from({ length: n }, () => [-1, 0, 100, 40][Math.floor(4 * random())]!);
      let p: FreePoints = { points: places(n), bends, softs: [], tangents: [] };
      const first = { ...p, round };
      for (let more = 0; more < 4; more++) {
        const i = Math.floor(random() * (p.points.length / 2));
        const next = withPoint(p, i, round);
        // Each place that was drawn before is drawn again: a side is halved, its pieces are as many.
        expect(apart({ ...p, round }, { ...next, round }), `${k}, ${more}`).toBeLessThan(1e-9);
        expect(next.tangents.length === 0 || next.tangents.length === 2 * next.points.length).toBe(true);
        p = next;
      }
      expect(p.points).toHaveLength(first.points.length + 8);
    }
  });
  it('still follows when the whole is moved, turned and made larger, and when round is turned down', () => {
    const p = { points: places(5), bends: [], softs: [], tangents: [] };
    const next = withPoint(p, 2, 1);
    const turned = (list: readonly number[]): number[] =>
      list.map((_, k) => {
        const [x, y] = k % 2 ? [list[k - 1]!, list[k]!] : [list[k]!, list[k + 1]!];
        return k % 2 ? 7 + 0.6 * x + 1.1 * y : -3 + 1.1 * x - 0.6 * y;
      });
    const both = [p, next].map((q) => ({ ...q, points: turned(q.points), round: 1 }));
    expect(apart(both[0]!, both[1]!)).toBeLessThan(1e-9);
    const straight = outline({ ...next, round: 0 });
    expect(straight.filter((_, k) => k % 3 < 2)).toEqual([...next.points]);
  });
  it('goes again, and what came in with it', () => {
    const p = { points: places(5), bends: [], softs: [], tangents: [] };
    const next = withPoint(p, 2, 1);
    expect(next.tangents.slice(0, 8)).toEqual([100, 0, 100, 0, 100, 0, 100, 0]);
    expect(withoutPoint(next, 3)).toEqual(p);
  });
});

describe('points that move over time', () => {
  const ease = 'smooth' as const;
  const key = (frame: number, value: number[]) => ({ frame, value, ease });
  const stored = {
    points: { keys: [key(0, [10, 10, 90, 10, 90, 70, 10, 70]), key(10, [30, 20, 130, 25, 120, 95, 25, 80])] },
    bends: { keys: [key(0, []), key(10, [-1, 0, -1, -1])] },
    softs: { keys: [key(0, []), key(10, [])] },
    roundPct: 60,
  };
  const at = (v: object, frame: number) => resolve(params, { ...v, roundPct: 60 } as never, frame);
  it('a new one comes into every key, half-way along its own line', () => {
    const next = { ...stored, ...pointInEveryKey(stored, 4, 1) };
    for (const f of [0, 10]) {
      const [was, is] = [at(stored, f), at(next, f)];
      expect(is.points).toHaveLength(10);
      expect(is.points.slice(4, 6)).toEqual([...middleOf({ ...was, round: 0.6 }, 1)]);
      expect(apart({ ...was, round: 0.6 }, { ...is, round: 0.6 })).toBeLessThan(1e-9);
      expect([...is.points.slice(0, 4), ...is.points.slice(6)]).toEqual([...was.points]);
    }
    // Between keys, where tangents change as well, it is hardly another line.
    const only = { points: stored.points };
    const divided = { ...only, ...pointInEveryKey({ ...only, roundPct: 60 }, 4, 1) };
    for (const f of [0, 3, 5, 7, 10]) {
      const [was, is] = [at(only, f), at(divided, f)].map((v) => ({ ...v, round: 0.6 }));
      expect(apart(was!, is!)).toBeLessThan(f % 10 ? 0.05 : 1e-9);
    }
    // Between the keys nothing jumps: lists are as long as each other.
    const lengths = [0, 3, 5, 7, 10].map((f) => [at(next, f).points.length, at(next, f).bends.length]);
    expect(lengths).toEqual(Array(5).fill([10, 5]));
    expect(at(next, 10).bends).toEqual([-1, 0, -1, -1, -1]);
  });
  it('and goes from every key; the last three stay', () => {
    const next = { ...stored, ...withoutPointInEveryKey(stored, 4, 2) };
    expect(at(next, 0).points).toEqual([10, 10, 90, 10, 10, 70]);
    expect(at(next, 10).points).toEqual([30, 20, 130, 25, 25, 80]);
    expect(at(next, 5).bends).toHaveLength(3);
    expect(at({ ...next, ...withoutPointInEveryKey(next, 4, 0) }, 10).points).toHaveLength(6);
  });
  it('what one of them says at a key, all keys have a place for', () => {
    const said = withPointValue(at(stored, 0), 3, { soft: 250 });
    const next = { ...stored, ...inStep(stored, 0, said) };
    expect(at(next, 0).softs).toEqual([100, 100, 100, 250]);
    expect(at(next, 10).softs).toEqual([100, 100, 100, 100]);
    expect(at(next, 5).softs[3]).toBeCloseTo(175, 6);
    expect(at(next, 10).bends).toEqual([-1, 0, -1, -1]);
  });
});
