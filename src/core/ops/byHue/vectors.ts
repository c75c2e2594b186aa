import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const bars = 'BT.709 angle of 100 % red: 102.912 degrees (shared/reference/colour_bars.json)';
const flat = (v: number): number[] => [0, v];
export const vectors: PixelVector<typeof params>[] = [
  // 100 % red: luma 0.2126, Cb -0.114572, Cr 0.5; turned by 180 degrees about its luma.
  {
    params: { turn: flat(180) },
    in: [1, 0, 0],
    out: [-0.5748, 0.4252, 0.4252],
    tol: 2e-4,
    source: `${bars}; 2 Y' - R', 2 Y' - G', 2 Y' - B' by hand`,
  },
  { params: { sat: flat(-100) }, in: [1, 0, 0], out: [0.2126, 0.2126, 0.2126], tol: 1e-6, source: 'Kr = 0.2126' },
  { params: { level: flat(-50) }, in: [1, 0, 0], out: [0.5, 0, 0], tol: 1e-6, source: 'half of it, by hand' },
  { params: { level: flat(-50) }, in: [0.4, 0.4, 0.4], out: [0.4, 0.4, 0.4], tol: 1e-6, source: 'a grey has no hue' },
  {
    params: { sat: [102.912, -100, 60, 0, 150, 0, 240, 0, 330, 0] },
    in: [1, 0, 0],
    out: [0.2126, 0.2126, 0.2126],
    tol: 2e-3,
    source: `${bars}: the point stands there`,
  },
  {
    params: { sat: [102.912, -100, 60, 0, 150, 0, 240, 0, 330, 0] },
    in: [0, 0, 1],
    out: [0, 0, 1],
    tol: 1e-6,
    source: 'blue at 354.8 degrees, between two points at 0',
  },
];
