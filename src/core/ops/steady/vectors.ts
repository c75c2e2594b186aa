import type { MatteVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'the mean of mattes that are alike is that matte';
export const vectors: MatteVector<typeof params>[] = [
  { params: { reachFrames: 2 }, in: 0, out: 0, tol: 0, source: s },
  { params: { reachFrames: 2 }, in: 0.5, out: 0.5, tol: 0, source: s },
  { params: { reachFrames: 3 }, in: 1, out: 1, tol: 0, source: s },
];
