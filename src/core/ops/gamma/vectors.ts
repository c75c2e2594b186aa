import type { MatteVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'power law, by hand';
export const vectors: MatteVector<typeof params>[] = [
  { params: { gamma: 2 }, in: 0.25, out: 0.5, tol: 1e-6, source: s },
  { params: { gamma: 0.5 }, in: 0.5, out: 0.25, tol: 1e-6, source: s },
  { params: { gamma: 2 }, in: 0, out: 0, tol: 0, source: 'nothing stays nothing' },
  { params: { gamma: 2 }, in: 1, out: 1, tol: 0, source: 'full stays full' },
];
