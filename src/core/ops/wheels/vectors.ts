import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const cp = 'common practice, worked by hand';
export const vectors: PixelVector<typeof params>[] = [
  {
    params: { liftLevel: 10 },
    in: [0, 0.5, 1],
    out: [0.1, 0.55, 1],
    tol: 1e-6,
    source: `${cp}: lift moves black, white stays`,
  },
  {
    params: { gainLevel: 20 },
    in: [0, 0.5, 1],
    out: [0, 0.6, 1.2],
    tol: 1e-6,
    source: `${cp}: gain moves white, black stays`,
  },
  {
    params: { offsetLevel: -5 },
    in: [0, 0.5, 1],
    out: [-0.05, 0.45, 0.95],
    tol: 1e-6,
    source: `${cp}: offset moves all`,
  },
  {
    params: { gammaLevel: 100 },
    in: [0, 0.25, 1],
    out: [0, 0.5, 1],
    tol: 1e-6,
    source: `${cp}: gamma 2 is a square root, ends stay`,
  },
  // BT.709 line: Cr +20 % is Cr 0.1, so R' gains 0.15748 and G' loses 0.0468124 at white.
  {
    params: { gainCr: 20 },
    in: [1, 1, 1],
    out: [1.15748, 1 - 0.046812427, 1],
    tol: 1e-6,
    source: 'BT.709-6 item 3.3 by hand',
  },
  // From shared/reference/cdl_cases.json's formula: slope and power without clamping, (0.4 x 1.5)^(1/2).
  {
    params: { gainLevel: 50, gammaLevel: 100 },
    in: [0.4, -0.2, 1.2],
    out: [Math.sqrt(0.6), -0.3, Math.sqrt(1.8)],
    tol: 2e-6,
    source: 'ASC CDL 1.2, slope then power, no clamp',
  },
  // A face from 20 to 60 %: its dark end is what lift moves, its bright one what gain does.
  {
    params: { liftLevel: 10, fromPct: 20, toPct: 60 },
    in: [0.2, 0.4, 0.6],
    out: [0.24, 0.42, 0.6],
    tol: 1e-6,
    source: `${cp}: by hand, 10 % of the range of 0.4 at its dark end, half of it in the middle`,
  },
  {
    params: { gammaLevel: 100, fromPct: 20, toPct: 60 },
    in: [0.2, 0.3, 0.6],
    out: [0.2, 0.4, 0.6],
    tol: 2e-6,
    source: `${cp}: by hand, a quarter of the range becomes a half, both ends stay`,
  },
];
