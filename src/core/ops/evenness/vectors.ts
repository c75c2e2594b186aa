import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const grey = 'what has no colour has no hue to even';
const own = 'a colour at the mean hue and the mean chroma over luma is the mean';
const hand = 'worked by hand: luma 0.5, (Cb, Cr) turned by 10 degrees, weights (1 - (tan 10 / tan 40)^2)^2';
// Luma 0.5 and chroma 0.125 at 90 degrees: Cb 0, Cr 0.125, so R' = Y + 1.5748 Cr, B' = Y.
const CR = 0.125;
const R = 0.5 + 1.5748 * CR;
const G = 0.5 - (0.2126 * 1.5748 * CR) / 0.7152;
const all = { strengthPct: 100, chromaPct: 0, hueDeg: 90, perLumaPct: 25, reachDeg: 40 };
const tan = (deg: number): number => Math.tan((deg * Math.PI) / 180);
// The same chroma ten degrees on: what lies across is taken out by the weight, what lies along stays.
const [p, q] = [0.125 * Math.cos(Math.PI / 18), 0.125 * Math.sin(Math.PI / 18)];
const off = (p - 0.125) / (0.9 * 0.125);
const left = q * (1 - (1 - (tan(10) / tan(40)) ** 2) ** 2 * (1 - off ** 2) ** 2);
const rgb = (cb: number, cr: number): [number, number, number] => [
  0.5 + 1.5748 * cr,
  0.5 - (0.2126 * 1.5748 * cr + 0.0722 * 1.8556 * cb) / 0.7152,
  0.5 + 1.8556 * cb,
];
export const vectors: PixelVector<typeof params>[] = [
  { params: all, in: [0.4, 0.4, 0.4], out: [0.4, 0.4, 0.4], tol: 1e-7, source: grey },
  { params: all, in: [R, G, 0.5], out: [R, G, 0.5], tol: 1e-6, source: own },
  { params: all, in: rgb(-q, p), out: rgb(-left, p), tol: 2e-6, source: hand },
  { params: { ...all, strengthPct: 0 }, in: [0.7, 0.4, 0.3], out: [0.7, 0.4, 0.3], tol: 1e-7, source: 'no strength' },
];
