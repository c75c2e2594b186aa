import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'one colour is no mixture: worked by hand';
export const vectors: PixelVector<typeof params>[] = [
  { params: { amountPct: 100 }, in: [0.5, 0.4, 0.3], out: [0.5, 0.4, 0.3], tol: 1e-7, source: s },
  { params: { amountPct: 40, reachPx: 3 }, in: [1.4, -0.1, 0.2], out: [1.4, -0.1, 0.2], tol: 1e-7, source: s },
];
