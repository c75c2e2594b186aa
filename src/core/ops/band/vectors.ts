import type { ShapeVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'distance from a line, by hand';
const b = { cxPx: 30, cyPx: 40.5, widthPx: 20, softInPx: 4, softOutPx: 8 };
export const vectors: ShapeVector<typeof params>[] = [
  { params: b, at: [77, 40], out: 1, tol: 0, source: `${s}: on it` },
  { params: b, at: [3, 50], out: 0.5, tol: 1e-6, source: `${s}: lower border` },
  { params: b, at: [3, 30], out: 0.5, tol: 1e-6, source: `${s}: upper border` },
  { params: b, at: [3, 52], out: 0.375 ** 2 * (3 - 0.75), tol: 1e-6, source: `${s}: two outside, Hermite of 3/8` },
  { params: b, at: [3, 48], out: 0.75 ** 2 * (3 - 1.5), tol: 1e-6, source: `${s}: two inside, Hermite of 3/4` },
  { params: b, at: [3, 59], out: 0, tol: 0, source: `${s}: beyond it` },
  { params: { ...b, cxPx: 30.5, angleDeg: 90 }, at: [40, 7], out: 0.5, tol: 1e-5, source: `${s}: upright` },
  // 45 degrees counter-clockwise: the line runs from lower left to upper right, so (40, 30) lies on it.
  { params: { ...b, cxPx: 30.5, angleDeg: 45 }, at: [40, 30], out: 1, tol: 0, source: `${s}: along its own slope` },
];
