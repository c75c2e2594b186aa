import type { PixelVector } from '../../../../testkit/vectors';
import { at } from '../../../../testkit/contexts';
import type { params } from './params';

const hold = { gamutPct: 0 } as const;
export const vectors: PixelVector<typeof params>[] = [
  // The grey card of every scene encoding comes to the mid grey that is asked for.
  {
    params: { greyPct: 43 },
    context: at('acescct'),
    in: [0.4135884024924422, 0.4135884024924422, 0.4135884024924422],
    out: [0.43, 0.43, 0.43],
    tol: 4e-6,
    source: 'ACES S-2016-001: 0.18 is 0.4135884',
  },
  {
    params: { greyPct: 45 },
    context: at('hlg'),
    in: [0.3782588830779046, 0.3782588830779046, 0.3782588830779046],
    out: [0.45, 0.45, 0.45],
    tol: 2e-5,
    source: 'ITU-R BT.2408: 18 % grey with white at 75 % HLG',
  },
  {
    params: { greyPct: 45 },
    context: at('pq'),
    in: [0.41089675204166826, 0.41089675204166826, 0.41089675204166826],
    out: [0.45, 0.45, 0.45],
    tol: 5e-5,
    source: 'ITU-R BT.2408: 18 % of 203 cd/m2 in PQ',
  },
  // White, four stops above grey, comes to 100 %.
  {
    params: { whiteStops: 4 },
    context: at('linear709'),
    in: [2.88, 2.88, 2.88],
    out: [1, 1, 1],
    tol: 4e-6,
    source: '0.18 x 2^4; Reinhard et al. 2002 equation 4 brings L_white to 1',
  },
  {
    params: { softPct: 0, whiteStops: 2.47 },
    context: at('linear709'),
    in: [-0.1, 0, 0.18],
    out: [-0.43 * (0.1 / 0.18) ** (1 / 2.4), 0, 0.43],
    tol: 1e-5,
    source: 'without softness a straight line in light',
  },
  // sRGB to gamma 2.4: linear 0.18 is 0.46135613 and 0.48943709.
  {
    params: hold,
    in: [0.46135612950044164, 0, 1],
    out: [0.4894370895738783, 0, 1],
    tol: 4e-6,
    source: 'transfer_functions.json: 30-digit decimal',
  },
  {
    params: { ...hold, display: 'srgb' },
    context: at('bt1886'),
    in: [0.4894370895738783, 0, 1],
    out: [0.46135612950044164, 0, 1],
    tol: 4e-6,
    source: 'transfer_functions.json: 30-digit decimal',
  },
  // BT.709 red in BT.2020 is (0.6274, 0.0691, 0.0164): back it is pure red.
  {
    params: hold,
    context: at('bt2020'),
    in: [0.627403896 ** (1 / 2.4), 0.069097289 ** (1 / 2.4), 0.016391439 ** (1 / 2.4)],
    out: [1, 0, 0],
    tol: 2e-3,
    source: 'ITU-R BT.2087-0: the matrix from BT.709 to BT.2020; 2e-3 of signal is 3e-7 of light at black',
  },
];
