import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const CB = 1.8556;
const CR = 1.5748;
/** R'G'B' of luma and (Cb, Cr), by ITU-R BT.709-6 item 3.2. */
const rgb = (y: number, cb: number, cr: number): [number, number, number] => [
  y + CR * cr,
  y - (0.2126 * CR * cr + 0.0722 * CB * cb) / 0.7152,
  y + CB * cb,
];
const target = 'a pull is met exactly: ITU-R BT.709-6 item 3.2 by hand';
// One pull at Cb 0, Cr 20 % (0.1), reach 20 % (0.1): neutral lies at the very end of its reach, so its weight is 1.
const one = { pulls: [0, 20, 6, 20, 0], holds: [], reachPct: 20 };
const half = (1 - 0.5) ** 4 * (4 * 0.5 + 1);
export const vectors: PixelVector<typeof params>[] = [
  { params: one, in: rgb(0.5, 0, 0.1), out: rgb(0.5, 0.03, 0.1), tol: 1e-6, source: target },
  {
    params: one,
    in: rgb(0.5, 0, 0.15),
    out: rgb(0.5, 0.03 * half, 0.15),
    tol: 1e-6,
    source: 'Wendland 1995: (1 - s)^4 (4 s + 1) at s = 1/2 is 3/16',
  },
  { params: one, in: [0.3, 0.3, 0.3], out: [0.3, 0.3, 0.3], tol: 1e-6, source: 'neutral is held' },
  {
    params: one,
    in: rgb(0.4, 0.3, -0.3),
    out: rgb(0.4, 0.3, -0.3),
    tol: 1e-7,
    source: 'beyond the reach; 1e-7 for numbers of 32 bits',
  },
  {
    params: { pulls: [0, 20, 0, 20, 50], holds: [], reachPct: 20 },
    in: rgb(0.4, 0, 0.1),
    out: rgb(0.6, 0, 0.1),
    tol: 1e-6,
    source: 'half as much level again, the same colour difference: by hand',
  },
  {
    params: { pulls: [0, 20, 6, 20, 0], holds: [5, 25], reachPct: 40 },
    in: rgb(0.5, 0.025, 0.125),
    out: rgb(0.5, 0.025, 0.125),
    tol: 1e-6,
    source: 'a hold stays where it is',
  },
];
