import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'a flat picture has no detail';
export const vectors: PixelVector<typeof params>[] = [
  { params: { amountPct: 80 }, in: [0.5, 0.4, 0.3], out: [0.5, 0.4, 0.3], tol: 1e-5, source: s },
  { params: { amountPct: -100, sizePx: 20 }, in: [1.4, -0.1, 0.2], out: [1.4, -0.1, 0.2], tol: 1e-5, source: s },
];
