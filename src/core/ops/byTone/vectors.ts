import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const flat = (v: number): number[] => [0, v, 100, v];
/** Only at one place: 0 at its neighbours. */
const at = (x: number, v: number): number[] => [0, 0, x - 10, 0, x, v, x + 10, 0, 100, 0];
const bars = 'BT.709 luma of 100 % red 0.2126, of 100 % blue 0.0722 (ITU-R BT.709-6 item 3.2)';
export const vectors: PixelVector<typeof params>[] = [
  {
    params: { satByLevel: flat(-100) },
    in: [1, 0, 0],
    out: [0.2126, 0.2126, 0.2126],
    tol: 1e-6,
    source: 'Kr = 0.2126',
  },
  { params: { satByLevel: at(21.26, -100) }, in: [1, 0, 0], out: [0.2126, 0.2126, 0.2126], tol: 2e-4, source: bars },
  { params: { satByLevel: at(21.26, -100) }, in: [0, 0, 1], out: [0, 0, 1], tol: 1e-6, source: `${bars}: too dark` },
  {
    params: { levelByLevel: flat(-50) },
    in: [0.8, 0.4, 0.2],
    out: [0.4, 0.2, 0.1],
    tol: 1e-6,
    source: 'half, by hand',
  },
  { params: { levelByLevel: at(50, 20) }, in: [0.5, 0.5, 0.5], out: [0.6, 0.6, 0.6], tol: 1e-4, source: 'by hand' },
  // Half of what red differs from its luma by.
  {
    params: { satBySat: flat(-50) },
    in: [1, 0, 0],
    out: [0.6063, 0.1063, 0.1063],
    tol: 1e-4,
    source: bars,
  },
  {
    params: { levelBySat: [0, 0, 50, 0, 100, -50] },
    in: [0.4, 0.4, 0.4],
    out: [0.4, 0.4, 0.4],
    tol: 1e-6,
    source: 'a grey has no saturation',
  },
  { params: { levelBySat: [0, 0, 50, 0, 100, -50] }, in: [1, 0, 0], out: [0.5, 0, 0], tol: 1e-6, source: bars },
  {
    params: { satByLevel: flat(50) },
    in: [2, 2, 2],
    out: [2, 2, 2],
    tol: 1e-6,
    source: 'above white nothing is cut off',
  },
];
