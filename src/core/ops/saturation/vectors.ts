import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'ASC CDL 1.2: out = luma + sat (in - luma), luma by 0.2126, 0.7152, 0.0722';
export const vectors: PixelVector<typeof params>[] = [
  { params: { amountPct: 0 }, in: [1, 0, 0], out: [0.2126, 0.2126, 0.2126], tol: 1e-6, source: s },
  { params: { amountPct: 50 }, in: [0, 1, 0], out: [0.3576, 0.8576, 0.3576], tol: 1e-6, source: s },
  { params: { amountPct: 200 }, in: [0.5, 0.25, 0.125], out: [0.705875, 0.205875, -0.044125], tol: 1e-6, source: s },
  { params: { amountPct: 150 }, in: [1.5, -0.25, 0.25], out: [2.170925, -0.454075, 0.295925], tol: 1e-6, source: s },
];
