import type { ShapeVector } from '../../../../testkit/vectors';
import type { params } from './params';

// A square from 10 to 30; pixel (x, y) has its middle at x + 0.5.
const points = [10, 10, 30, 10, 30, 30, 10, 30];
const s = 'smooth step of the distance from a side, by hand';
export const vectors: ShapeVector<typeof params>[] = [
  { params: { points, softInPx: 4, softOutPx: 4 }, at: [20, 20], out: 1, tol: 0, source: s },
  { params: { points, softInPx: 4, softOutPx: 4 }, at: [40, 20], out: 0, tol: 0, source: s },
  // Middle at 11.5, 1.5 inside the side at 10: t = 0.5 + 1.5 / 8.
  {
    params: { points, softInPx: 4, softOutPx: 4 },
    at: [11, 20],
    out: 0.6875 ** 2 * (3 - 2 * 0.6875),
    tol: 1e-6,
    source: s,
  },
  {
    params: { points, softInPx: 4, softOutPx: 4 },
    at: [32, 20],
    out: 0.1875 ** 2 * (3 - 2 * 0.1875),
    tol: 1e-6,
    source: s,
  },
  // 3 beyond the right and 4 beyond the lower side: 5 from the corner.
  {
    params: { points, softInPx: 10, softOutPx: 10 },
    at: [32, 33],
    out: smooth(0.5 - Math.hypot(2.5, 3.5) / 20),
    tol: 1e-6,
    source: 'distance from a corner',
  },
  {
    params: { points, softInPx: 0, softOutPx: 0 },
    at: [10, 20],
    out: 1,
    tol: 1e-6,
    source: 'half a pixel inside an edge of one pixel',
  },
  {
    params: { points, softInPx: 2, softOutPx: 8, softs: [100, 100, 300, 300] },
    at: [20, 36],
    out: smooth(0.5 - 6.5 / 48),
    tol: 1e-6,
    source: 'the lower side is three times as soft as the upper',
  },
  {
    params: { points, softInPx: 2, softOutPx: 8, softs: [100, 100, 300, 300] },
    at: [32, 20],
    out: smooth(0.5 - 2.5 / (16 * (1 + 2 * 0.525))),
    tol: 1e-6,
    source: 'half-way down the right side the softness lies between that of its ends',
  },
];
function smooth(t: number): number {
  return t * t * (3 - 2 * t);
}
