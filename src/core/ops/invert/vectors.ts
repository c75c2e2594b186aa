import type { MatteVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'one minus the value';
export const vectors: MatteVector<typeof params>[] = [
  { params: { invert: true }, in: 0, out: 1, tol: 0, source: s },
  { params: { invert: true }, in: 1, out: 0, tol: 0, source: s },
  { params: { invert: true }, in: 0.25, out: 0.75, tol: 0, source: s },
  { params: { invert: false }, in: 0.25, out: 0.25, tol: 0, source: 'not turned round' },
];
