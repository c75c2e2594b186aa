import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'a flat picture has no noise';
export const vectors: PixelVector<typeof params>[] = [
  { params: { strengthPct: 30 }, in: [0.5, 0.4, 0.3], out: [0.5, 0.4, 0.3], tol: 1e-7, source: s },
  { params: { strengthPct: 100, sizePx: 20 }, in: [1.4, -0.1, 0.2], out: [1.4, -0.1, 0.2], tol: 1e-7, source: s },
];
