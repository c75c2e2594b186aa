import type { ShapeVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'distance along a line, by hand';
const down = { fromXPx: 50, fromYPx: 10.5, toXPx: 50, toYPx: 30.5 };
export const vectors: ShapeVector<typeof params>[] = [
  { params: down, at: [3, 4], out: 1, tol: 0, source: `${s}: before it` },
  { params: down, at: [3, 15], out: 0.75 ** 2 * (3 - 1.5), tol: 1e-6, source: `${s}: a quarter down, Hermite of 3/4` },
  { params: down, at: [90, 20], out: 0.5, tol: 1e-6, source: `${s}: half-way` },
  { params: down, at: [3, 31], out: 0, tol: 0, source: `${s}: beyond it` },
  // Along (3, 4) / 5 over 10 px: (12.5, 14.5) lies (3 * 3 + 4 * 4) / 5 = 5 px along it.
  {
    params: { fromXPx: 9.5, fromYPx: 10.5, toXPx: 15.5, toYPx: 18.5 },
    at: [12, 14],
    out: 0.5,
    tol: 1e-6,
    source: `${s}: half-way on a slope`,
  },
  { params: { ...down, toYPx: 10.5 }, at: [50, 10], out: 1, tol: 0, source: 'two points at one place' },
];
