import { describe, expect, it } from 'vitest';
import { minimise } from '../math/minimise';
import { insidePolygon, polygonMask } from '../math/polygon';
import { quadFault, quadMap } from './chart';

describe('minimise', () => {
  it('finds the valley of Rosenbrock (H. H. Rosenbrock, Computer Journal 3 (1960) 175) at (1, 1)', () => {
    const r = minimise(([x, y]) => 100 * (y! - x! * x!) ** 2 + (1 - x!) ** 2, [-1.2, 1], [0.5, 0.5], { tol: 1e-14 });
    expect(r.x[0]).toBeCloseTo(1, 4);
    expect(r.x[1]).toBeCloseTo(1, 4);
  });
  it('finds the centre of an ellipsoid in six dimensions, and lives with NaN', () => {
    const c = [1, -2, 3, 0.5, -0.25, 8];
    const r = minimise(
      (x) => (x[0]! < -50 ? NaN : x.reduce((s, v, i) => s + (1 + i) * (v - c[i]!) ** 2, 0)),
      [0, 0, 0, 0, 0, 0],
      [1, 1, 1, 1, 1, 1],
      { tol: 1e-13 },
    );
    r.x.forEach((v, i) => expect(v).toBeCloseTo(c[i]!, 3));
  });
});
describe('quads', () => {
  const q = [
    [10, 20],
    [110, 30],
    [100, 130],
    [5, 110],
  ] as const;
  it('corners map to corners, and lines stay lines', () => {
    const m = quadMap(q);
    [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ].forEach(([u, v], i) => m(u!, v!).forEach((x, k) => expect(x).toBeCloseTo(q[i]![k]!, 9)));
    const [a, b, c] = [m(0.1, 0.2), m(0.5, 0.5), m(0.9, 0.8)];
    expect((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])).toBeCloseTo(0, 6);
    // A square keeps its thirds.
    expect(
      quadMap([
        [0, 0],
        [3, 0],
        [3, 3],
        [0, 3],
      ])(1 / 3, 2 / 3),
    ).toEqual([expect.closeTo(1, 9), expect.closeTo(2, 9)]);
  });
  it('says when corners cross', () => {
    expect(quadFault(q)).toBeNull();
    expect(quadFault([q[0], q[2], q[1], q[3]])).toMatch(/cross/);
    expect(
      quadFault([
        [0, 0],
        [1, 1],
        [2, 2],
        [0, 3],
      ]),
    ).toMatch(/line/);
  });
  it('a mask of a polygon holds the cells whose middles lie inside', () => {
    const p = [
      [1.2, 0.7],
      [8.9, 2.2],
      [5.5, 9.1],
      [4, 4],
    ] as const;
    const m = polygonMask(p, 10, 10);
    for (let i = 0; i < 100; i++)
      expect(m[i] === 1, String(i)).toBe(insidePolygon(p, (i % 10) + 0.5, Math.floor(i / 10) + 0.5));
    expect(m.reduce((a, b) => a + b, 0)).toBeGreaterThan(15);
  });
});
