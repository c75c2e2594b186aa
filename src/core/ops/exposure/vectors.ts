import type { PixelVector } from '../../../../testkit/vectors';
import { at } from '../../../../testkit/contexts';
import type { params } from './params';

export const vectors: PixelVector<typeof params>[] = [
  // Half of white's light is 0.7353569830524495 in sRGB (colorjs.io 0.7.1), all of it is 1.
  {
    params: { stops: 1 },
    in: [0.7353569830524495, 0, 0.7353569830524495],
    out: [1, 0, 1],
    tol: 3e-6,
    source: 'sRGB by colorjs.io 0.7.1: linear 0.5',
  },
  {
    params: { stops: -1 },
    in: [1, -1, 0],
    out: [0.7353569830524495, -0.7353569830524495, 0],
    tol: 3e-6,
    source: 'sRGB by colorjs.io 0.7.1, mirrored below 0',
  },
  // ACEScct of 0.18 and 0.0078125 (its break): 0.4135884 and 0.1552511; a stop above the break is 1/17.52.
  {
    params: { stops: 1 },
    context: at('acescct'),
    in: [0.4135884024924422, 0.15525114155251143, 0.5547945205479452],
    out: [0.4135884024924422 + 1 / 17.52, 0.15525114155251143 + 1 / 17.52, 0.5547945205479452 + 1 / 17.52],
    tol: 3e-6,
    source: 'ACES S-2016-001: the code of a stop is 1/17.52',
  },
  // A pure power of 2.4: a stop multiplies the signal by 2^(1/2.4).
  {
    params: { stops: 2 },
    context: at('bt1886'),
    in: [0.2, 0.4, -0.1],
    out: [0.2 * 2 ** (2 / 2.4), 0.4 * 2 ** (2 / 2.4), -0.1 * 2 ** (2 / 2.4)],
    tol: 3e-6,
    source: 'BT.1886: 2^(stops/2.4)',
  },
  {
    params: { stops: 1 },
    context: at('linear709'),
    in: [0.18, 5, -1],
    out: [0.36, 10, -2],
    tol: 1e-6,
    source: 'a stop is a doubling',
  },
];
