import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const none = { shadowsPct: 0, middlePct: 0, highlightsPct: 0 };
export const vectors: PixelVector<typeof params>[] = [
  {
    params: { strengthPct: 10, ...none, highlightsPct: 100 },
    in: [0.4, 0.4, 0.4],
    out: [0.4, 0.4, 0.4],
    tol: 1e-7,
    source: 'below the middle highlights have no share: by definition',
  },
  {
    params: { strengthPct: 10, ...none, middlePct: 100 },
    in: [0, 0, 0],
    out: [0, 0, 0],
    tol: 1e-7,
    source: 'black is no middle tone: by definition',
  },
  {
    params: { strengthPct: 1, colourPct: 30 },
    in: [0.5, 0.4, 0.3],
    out: [0.5, 0.4, 0.3],
    tol: 0.06,
    source: 'six deviations of 1 %',
  },
];
