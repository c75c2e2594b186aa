import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

export const vectors: PixelVector<typeof params>[] = [
  {
    params: { deepLevel: 10 },
    in: [0.02, 0.02, 0.02],
    out: [0.12, 0.12, 0.12],
    tol: 2e-7,
    source: 'all deep: 2 % is more than half the softness below 10 %',
  },
  {
    params: { deepLevel: 10 },
    in: [0.1, 0.1, 0.1],
    out: [0.15, 0.15, 0.15],
    tol: 1e-6,
    source: 'on the border each zone has one half',
  },
  {
    params: { topSat: 0 },
    in: [1, 0.95, 0.9],
    out: [0.95702, 0.95702, 0.95702],
    tol: 1e-6,
    source: 'BT.709 luma: 0.2126 + 0.7152 x 0.95 + 0.0722 x 0.9',
  },
  {
    params: { middleCr: 20 },
    in: [0.45, 0.45, 0.45],
    out: [0.45 + 0.15748, 0.45 - 0.046812427, 0.45],
    tol: 1e-6,
    source: 'BT.709-6 item 3.3: Cr 0.1 adds 0.15748 to red',
  },
  {
    params: { highLevel: 10 },
    in: [0.3, 0.3, 0.3],
    out: [0.3, 0.3, 0.3],
    tol: 1e-7,
    source: 'what is in no part of the zone stays',
  },
];
