import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const bars = 'BT.709 angle of 100 % red: 102.912 degrees, of blue 354.76 (shared/reference/colour_bars.json)';
// Red lies in the middle of its band, blue in another.
const borders = [60, 146, 240, 320];
const at = (turn: number, sat: number, level: number): number[] => [turn, sat, level];
export const vectors: PixelVector<typeof params>[] = [
  {
    params: { borders, values: at(180, 0, 0) },
    in: [1, 0, 0],
    out: [-0.5748, 0.4252, 0.4252],
    tol: 2e-4,
    source: `${bars}; 2 Y' - R', 2 Y' - G', 2 Y' - B' by hand`,
  },
  {
    params: { borders, values: at(0, -100, 0) },
    in: [1, 0, 0],
    out: [0.2126, 0.2126, 0.2126],
    tol: 1e-6,
    source: bars,
  },
  { params: { borders, values: at(0, 0, -50) }, in: [1, 0, 0], out: [0.5, 0, 0], tol: 1e-6, source: 'half, by hand' },
  { params: { borders, values: at(90, -40, 30) }, in: [0, 0, 1], out: [0, 0, 1], tol: 1e-6, source: bars },
  { params: { borders, values: at(0, 0, -50) }, in: [0.4, 0.4, 0.4], out: [0.4, 0.4, 0.4], tol: 1e-6, source: 'grey' },
];
