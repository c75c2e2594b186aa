import type { PixelVector } from '../../../../testkit/vectors';
import { at } from '../../../../testkit/contexts';
import type { params } from './params';

export const vectors: PixelVector<typeof params>[] = [
  {
    params: { amountPct: 150, greyPivot: false, pivotPct: 50 },
    in: [0.5, 0.25, 1.2],
    out: [0.5, 0.125, 1.55],
    tol: 2e-7,
    source: 'p + c (v - p) by hand',
  },
  // The grey card of sRGB is 0.46135612950044164 (colorjs.io 0.7.1): it stays to the bit.
  {
    params: { amountPct: 200 },
    in: [Math.fround(0.46135612950044164), 0.5, 0],
    out: [Math.fround(0.46135612950044164), 0.53864387, -0.46135613],
    tol: 1e-7,
    source: 'sRGB grey card by colorjs.io 0.7.1',
  },
  {
    params: { amountPct: 200, shape: 'soft', greyPivot: false, pivotPct: 50 },
    in: [0.5, 0.25, 0.75],
    out: [0.5, 0.125, 0.875],
    tol: 1e-6,
    source: 'p (v/p)^2 and its mirror by hand',
  },
  {
    params: { amountPct: 200, shape: 'soft', greyPivot: false, pivotPct: 50 },
    in: [0, 1, -0.5],
    out: [0, 1, -0.5],
    tol: 0,
    source: 'black, white and beyond stay',
  },
  // The grey card of ACEScct.
  {
    params: { amountPct: 300 },
    context: at('acescct'),
    in: [Math.fround(0.4135884024924422), 0.5135884024924422, 0.4],
    out: [Math.fround(0.4135884024924422), 0.7135884024924422, 0.3728232],
    tol: 3e-7,
    source: 'ACES S-2016-001: 0.18 is 0.4135884',
  },
];
