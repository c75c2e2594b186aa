import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

export const vectors: PixelVector<typeof params>[] = [
  // Even: white's gains keep its luma, and a neutral picture turns warm without another luma.
  {
    params: { mired: 0, tint: 0 },
    in: [0.2, 0.5, 0.9],
    out: [0.2, 0.5, 0.9],
    tol: 3e-6,
    source: 'no shift is the identity',
  },
  // D65 to illuminant A by colour-science's published worked numbers cannot be quoted here; the matrix is checked in
  // tests/encodings.test.ts against ICC's D65 to D50.
  { params: { mired: 30, how: 'even' }, in: [0, 0, 0], out: [0, 0, 0], tol: 0, source: 'black has no white to move' },
];
