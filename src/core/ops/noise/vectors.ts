import type { MatteVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'a plane of one value is its own median';
export const vectors: MatteVector<typeof params>[] = [
  { params: { radiusPx: 1 }, in: 0, out: 0, tol: 0, source: s },
  { params: { radiusPx: 2 }, in: 0.5, out: 0.5, tol: 0, source: s },
  { params: { radiusPx: 5 }, in: 1, out: 1, tol: 0, source: s },
];
