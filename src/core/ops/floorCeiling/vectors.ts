import type { MatteVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'straight line, by hand';
export const vectors: MatteVector<typeof params>[] = [
  { params: { floorPct: 20, ceilingPct: 80 }, in: 0.2, out: 0, tol: 1e-7, source: s },
  { params: { floorPct: 20, ceilingPct: 80 }, in: 0.5, out: 0.5, tol: 1e-6, source: s },
  { params: { floorPct: 20, ceilingPct: 80 }, in: 0.8, out: 1, tol: 1e-6, source: s },
  { params: { floorPct: 0, ceilingPct: 50 }, in: 0.25, out: 0.5, tol: 1e-6, source: s },
  { params: { floorPct: 50, ceilingPct: 50 }, in: 0.51, out: 1, tol: 0, source: 'ceiling at the floor: a step' },
  { params: { floorPct: 50, ceilingPct: 50 }, in: 0.49, out: 0, tol: 0, source: 'ceiling at the floor: a step' },
  {
    params: { floorPct: 20, ceilingPct: 80, softPct: 100 },
    in: 0.35,
    out: 0.15625,
    tol: 1e-6,
    source: 'Hermite step of 1/4, by hand',
  },
];
