import type { MatteVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'a plane of one value stays';
export const vectors: MatteVector<typeof params>[] = [
  { params: { byPx: 3.5 }, in: 0, out: 0, tol: 0, source: s },
  { params: { byPx: -2 }, in: 0.5, out: 0.5, tol: 0, source: s },
  { params: { byPx: -2 }, in: 1, out: 1, tol: 0, source: s },
];
