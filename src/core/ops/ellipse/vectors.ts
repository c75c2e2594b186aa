import type { ShapeVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'geometry of the ellipse, by hand';
const e = { cxPx: 100.5, cyPx: 50.5, rxPx: 40, ryPx: 20, softInPx: 4, softOutPx: 4 };
export const vectors: ShapeVector<typeof params>[] = [
  { params: e, at: [100, 50], out: 1, tol: 0, source: `${s}: centre` },
  { params: e, at: [140, 50], out: 0.5, tol: 1e-5, source: `${s}: on the outline, right` },
  { params: e, at: [100, 30], out: 0.5, tol: 1e-5, source: `${s}: on the outline, top` },
  { params: e, at: [100, 74], out: 0, tol: 0, source: `${s}: half the softness outside` },
  { params: e, at: [100, 66], out: 1, tol: 1e-6, source: `${s}: half the softness inside` },
  { params: e, at: [100, 72], out: 0.15625, tol: 1e-4, source: `${s}: two of eight pixels outside, Hermite of 1/4` },
  { params: { ...e, angleDeg: 90 }, at: [100, 10], out: 0.5, tol: 1e-4, source: `${s}: a quarter turn swaps the axes` },
  // 45 degrees counter-clockwise as seen: the long axis points up right, (1, -1) / sqrt 2 in rows that run down.
  {
    params: { ...e, softInPx: 0, softOutPx: 0, angleDeg: 45 },
    at: [126, 24],
    out: 1,
    tol: 0,
    source: `${s}: 36.8 px up right is inside`,
  },
  {
    params: { ...e, softInPx: 0, softOutPx: 0, angleDeg: 45 },
    at: [126, 76],
    out: 0,
    tol: 0,
    source: `${s}: 36.8 px down right is outside`,
  },
  {
    params: { ...e, softInPx: 0, softOutPx: 16 },
    at: [100, 78],
    out: 0.15625,
    tol: 1e-4,
    source: `${s}: eight of sixteen pixels outside, Hermite of 1/4`,
  },
];
