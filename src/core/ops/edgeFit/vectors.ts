import type { MatteVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'a constant matte is explained by its offset alone, whatever the picture';
export const vectors: MatteVector<typeof params>[] = [
  { params: { radiusPx: 3 }, in: 0, out: 0, tol: 0, source: s },
  { params: { radiusPx: 3 }, in: 1, out: 1, tol: 0, source: s },
  { params: { radiusPx: 8, edgePct: 1 }, in: 0.5, out: 0.5, tol: 1e-5, source: s },
];
