import { describe, expect, it } from 'vitest';
import { ops } from '../ops/registry.gen';
import { resolve } from '../op/params';
import { plainContext } from '../op/contract';
import { compile } from './plan';
import type { CorrectionSpec } from './plan';
import { localOf, mapAt, mapPoint, moveShape, STILL } from './track';

const turn = (deg: number, s: number, dx: number, dy: number): number[] => {
  const [c, n] = [s * Math.cos((deg * Math.PI) / 180), s * Math.sin((deg * Math.PI) / 180)];
  return [c, -n, dx, n, c, dy, 0, 0, 1];
};
const inverse = (h: readonly number[], x: number, y: number): [number, number] => {
  // Of a similarity.
  const k = h[0]! ** 2 + h[3]! ** 2;
  const [u, v] = [x - h[2]!, y - h[5]!];
  return [(h[0]! * u + h[3]! * v) / k, (-h[3]! * u + h[0]! * v) / k];
};
const drawn: Record<string, Record<string, number | number[]>> = {
  ellipse: { cxPx: 60, cyPx: 50, rxPx: 34, ryPx: 18, angleDeg: 25, softInPx: 8, softOutPx: 8 },
  box: { cxPx: 60, cyPx: 50, rxPx: 34, ryPx: 18, angleDeg: -15, roundPct: 40, softInPx: 8, softOutPx: 8 },
  ramp: { fromXPx: 40, fromYPx: 30, toXPx: 80, toYPx: 60 },
  band: { cxPx: 60, cyPx: 50, angleDeg: 35, widthPx: 30 },
  freeform: { points: [30, 30, 90, 35, 80, 75, 40, 70], softInPx: 6, softOutPx: 6 },
};

describe('shapes that follow', () => {
  /** The moved shape at a place is the drawn one at the place it came from. */
  it.each(Object.keys(drawn))('%s: by a turn, a size and a shift', (id) => {
    const op = ops.find((o) => o.id === id)!;
    if (op.kind !== 'shape') throw new Error('no shape');
    const values = resolve(op.params, drawn[id]!);
    const h = turn(20, 1.3, 12, -7);
    const read = (v: typeof values, x: number, y: number): number => {
      const m = new Float32Array(1);
      // At any place: the run's first pixel has its middle half a pixel on.
      op.kernel(op.prepare(v, plainContext), { m, n: 1, x0: x - 0.5, y: y - 0.5 });
      return m[0]!;
    };
    const moved = moveShape(op.params, values, h);
    let soft = 0;
    for (let y = 0; y < 140; y += 7)
      for (let x = 0; x < 160; x += 7) {
        const want = read(values, ...inverse(h, x, y));
        if (want > 0.02 && want < 0.98) soft++;
        expect(Math.abs(read(moved, x, y) - want)).toBeLessThan(id === 'freeform' ? 0.02 : 2e-3);
      }
    expect(soft).toBeGreaterThan(5);
    expect(moveShape(op.params, values, STILL)).toBe(values);
  });
  it('perspective: points of a freeform go exactly, sizes by what happens about the shape', () => {
    const h = [1, 0.1, 3, 0, 1.1, -2, 0.001, 0.0005, 1];
    const op = ops.find((o) => o.id === 'freeform')!;
    const v = moveShape(op.params, resolve(op.params, drawn['freeform']!), h) as { points: number[] };
    expect(v.points.slice(2, 4)).toEqual(mapPoint(h, 90, 35));
    // Against differences.
    const e = 1e-4;
    const [p, q, r] = [mapPoint(h, 60, 50), mapPoint(h, 60 + e, 50), mapPoint(h, 60, 50 + e)];
    const area = ((q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])) / (e * e);
    expect(localOf(h, 60, 50).scale).toBeCloseTo(Math.sqrt(area), 5);
  });
  it('the nearest earlier frame holds; nothing moves at the frame of drawing', () => {
    const t = { at: 5, path: [3, 7, 9].map((frame) => ({ frame, h: turn(0, 1, frame, 0) })) };
    expect([3, 4, 8, 99, 0].map((f) => mapAt(t, f)[2])).toEqual([3, 3, 7, 9, 3]);
    expect(mapAt(t, 5)).toBe(STILL);
    expect(mapAt({ at: 0, path: [] }, 9)).toBe(STILL);
  });
  it('is compiled: at the scale of a draft, in the frame of a scene', () => {
    const c: CorrectionSpec = {
      id: 'c',
      name: 'C',
      on: true,
      mixPct: 100,
      terms: [
        {
          id: 't',
          join: 'and',
          not: false,
          name: 'E',
          use: { id: 'u', op: 'ellipse', version: 2, on: true, params: drawn['ellipse']! },
          track: { at: 0, path: [{ frame: 4, h: turn(0, 2, 10, 20) }] },
        },
      ],
      tidy: [],
      adjustments: [{ id: 'e', op: 'exposure', version: 1, on: true, params: { stops: 1 } }],
    };
    const centre = (frame: number, scale: number, fit?: CorrectionSpec['fit']): number[] => {
      const [step] = compile([fit ? { ...c, fit } : c], frame, scale);
      const r = step!.region[0]!;
      if (r.do !== 'shape') throw new Error('no shape');
      return [...r.step.block.slice(0, 2)];
    };
    expect(centre(0, 1)).toEqual([60, 50]);
    expect(centre(4, 1)).toEqual([130, 120]);
    expect(centre(4, 0.5)).toEqual([65, 60]);
    // First into the shot's picture, then along with what moves there.
    expect(centre(4, 1, { s: 0.5, dx: 1, dy: 2 })).toEqual([72, 74]);
  });
});
