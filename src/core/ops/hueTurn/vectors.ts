import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const s = 'BT.709-6 item 3.3 worked by hand: a half turn negates Cb and Cr, so out = 2Y - in';
export const vectors: PixelVector<typeof params>[] = [
  { params: { angleDeg: 180 }, in: [1, 0, 0], out: [2 * 0.2126 - 1, 2 * 0.2126, 2 * 0.2126], tol: 1e-6, source: s },
  { params: { angleDeg: -180 }, in: [0.6, 0.4, 0.2], out: [0.25616, 0.45616, 0.65616], tol: 1e-6, source: s },
  {
    params: { angleDeg: 37 },
    in: [0.5, 0.5, 0.5],
    out: [0.5, 0.5, 0.5],
    tol: 2e-7,
    source: 'neutral has no hue: stays',
  },
  // A quarter turn: Cb' = -Cr, Cr' = Cb. For 100 % blue (Cb 0.5, Cr -0.0458471) Cr' = 0.5: R' = 0.0722 + 1.5748 / 2.
  {
    params: { angleDeg: 90 },
    in: [0, 0, 1],
    out: [0.8596, 0.0722 - 0.18732427 * 0.04584709 - 0.46812427 * 0.5, 0.0722 + 1.8556 * 0.04584709],
    tol: 2e-6,
    source: 'BT.709-6 item 3.3 by hand',
  },
];
