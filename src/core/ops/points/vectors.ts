import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

export const vectors: PixelVector<typeof params>[] = [
  {
    params: { blackPct: 10, whitePct: 90 },
    in: [0.1, 0.9, 0.5],
    out: [0, 1, 0.5],
    tol: 2e-7,
    source: 'a line through two points',
  },
  {
    params: { blackPct: 2, whitePct: 80, toBlackPct: 6, toWhitePct: 93 },
    in: [0.02, 0.8, 1.2],
    out: [0.06, 0.93, 0.93 + 0.4 * (0.87 / 0.78)],
    tol: 3e-7,
    source: 'blacks about 5-10 %, whites about 90-95 %: common practice',
  },
];
