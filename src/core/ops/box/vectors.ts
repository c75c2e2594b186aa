import type { ShapeVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'geometry of a box, by hand';
// From 60 to 140 and from 30 to 70; the middle of pixel (x, y) lies at x + 0.5.
const b = { cxPx: 100, cyPx: 50, rxPx: 40, ryPx: 20, softInPx: 4, softOutPx: 4 };
const hermite = (t: number): number => t * t * (3 - 2 * t);
export const vectors: ShapeVector<typeof params>[] = [
  { params: b, at: [100, 50], out: 1, tol: 0, source: `${s}: middle` },
  { params: b, at: [139, 50], out: hermite(0.5 + 0.5 / 8), tol: 1e-5, source: `${s}: half a pixel inside the right` },
  { params: b, at: [100, 71], out: hermite(0.5 - 1.5 / 8), tol: 1e-5, source: `${s}: one and a half below` },
  { params: b, at: [141, 71], out: hermite(0.5 - Math.hypot(1.5, 1.5) / 8), tol: 1e-5, source: `${s}: off a corner` },
  { params: { ...b, softOutPx: 40 }, at: [149, 50], out: hermite(0.5 - 9.5 / 80), tol: 1e-5, source: `${s}: outside` },
  { params: { ...b, softInPx: 12 }, at: [134, 50], out: hermite(0.5 + 5.5 / 24), tol: 1e-5, source: `${s}: inside` },
  {
    params: { ...b, angleDeg: 90 },
    at: [100, 10],
    out: hermite(0.5 + 0.5 / 8),
    tol: 1e-4,
    source: `${s}: a quarter turn`,
  },
  // A quarter circle of 20 px about (120, 50): half the way round it lies 20 from there.
  {
    params: { ...b, rxPx: 20, roundPct: 100 },
    at: [114, 64],
    out: hermite(0.5 - (Math.hypot(14.5, 14.5) - 20) / 8),
    tol: 1e-2,
    source: `${s}: a square rounded to a circle`,
  },
];
