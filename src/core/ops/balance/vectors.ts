import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'BT.709-6 item 3.3 by hand: at 50 % grey a push of p % gives Cb or Cr = p / 200';
export const vectors: PixelVector<typeof params>[] = [
  {
    params: { cbPct: 10, crPct: 0 },
    in: [0.5, 0.5, 0.5],
    out: [0.5, 0.5 - 0.18732427 * 0.05, 0.5 + 1.8556 * 0.05],
    tol: 1e-6,
    source: s,
  },
  {
    params: { cbPct: 0, crPct: 10 },
    in: [0.5, 0.5, 0.5],
    out: [0.5 + 1.5748 * 0.05, 0.5 - 0.46812427 * 0.05, 0.5],
    tol: 1e-6,
    source: s,
  },
  { params: { cbPct: -20, crPct: 20 }, in: [0, 0, 0], out: [0, 0, 0], tol: 0, source: 'black stays black' },
  {
    params: { cbPct: 0, crPct: -10 },
    in: [1, 1, 1],
    out: [1 - 1.5748 * 0.1, 1 + 0.46812427 * 0.1, 1],
    tol: 1e-6,
    source: s,
  },
];
