import type { MatteVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'a constant plane stays constant under any normalised blur';
export const vectors: MatteVector<typeof params>[] = [
  { params: { radiusPx: 6 }, in: 1, out: 1, tol: 0, source: s },
  { params: { radiusPx: 6 }, in: 0, out: 0, tol: 0, source: s },
  { params: { radiusPx: 60 }, in: 1, out: 1, tol: 0, source: s },
  { params: { radiusPx: 60 }, in: 0.25, out: 0.25, tol: 1e-6, source: s },
];
