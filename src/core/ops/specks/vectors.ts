import type { MatteVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'a plane that is one piece stays; one that counts nowhere keeps its bits';
export const vectors: MatteVector<typeof params>[] = [
  { params: { sizePx: 20 }, in: 1, out: 1, tol: 0, source: s },
  { params: { sizePx: 20 }, in: 0.5, out: 0.5, tol: 0, source: s },
  { params: { sizePx: 20 }, in: 0, out: 0, tol: 0, source: s },
  {
    params: { sizePx: 2 },
    in: 0.1,
    out: Math.fround(0.1),
    tol: 0,
    source: 'fainter than what counts, but much larger than a speck',
  },
];
