import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

export const vectors: PixelVector<typeof params>[] = [
  // PCHIP of scipy 1.10.1 through (0,0) (0.25,0.15) (0.5,0.5) (0.75,0.85) (1,1): see tests/data/pchip_case.json.
  {
    params: { rgb: [0, 0, 0.25, 0.15, 0.5, 0.5, 0.75, 0.85, 1, 1] },
    in: [0.07500000000000001, 0.35000000000000003, 0.675],
    out: [0.02652, 0.26984, 0.76558],
    tol: 3e-6,
    source: 'scipy 1.10.1 PchipInterpolator',
  },
  // Luma of neutrals is their value: the same numbers.
  {
    params: { luma: [0, 0, 0.25, 0.15, 0.5, 0.5, 0.75, 0.85, 1, 1] },
    in: [0.35000000000000003, 0.35000000000000003, 0.35000000000000003],
    out: [0.26984, 0.26984, 0.26984],
    tol: 3e-6,
    source: 'scipy 1.10.1 PchipInterpolator',
  },
  // The difference is added to all channels: Cb and Cr stay.
  {
    params: { luma: [0, 0.1, 1, 1.1] },
    in: [0.5, 0.2, 0.9],
    out: [0.6, 0.3, 1],
    tol: 1e-6,
    source: 'a rise of 0.1 by hand',
  },
  {
    params: { red: [0, 0, 1, 0.5] },
    in: [2, 0.5, -0.5],
    out: [1, 0.5, -0.5],
    tol: 1e-6,
    source: 'straight on outside',
  },
];
