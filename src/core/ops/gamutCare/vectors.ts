import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

const all = { amountPct: 100, kneePct: 80 };
const within = 'what lies within the knee keeps its bits';
// Luma 0.2126 * 1.3 + 0.7152 * 0.4 + 0.0722 * 0.4 = 0.59134; red is (1.3 - Y) / (1 - Y) = 1.7342 of the way out.
const Y = 0.2126 * 1.3 + 0.7874 * 0.4;
const d = (1.3 - Y) / (1 - Y);
const x = (d - 0.8) / 0.2;
const s = (0.8 + (0.2 * x) / (1 + x)) / d;
const hand = 'worked by hand: luma, the way of the nearest channel to its border, the curve beyond the knee';
const out = [1.3, 0.4, 0.4].map((c) => Y + s * (c - Y)) as [number, number, number];
const half = [1.3, 0.4, 0.4].map((c, i) => (c + out[i]!) / 2) as [number, number, number];
export const vectors: PixelVector<typeof params>[] = [
  { params: all, in: [0.5, 0.4, 0.3], out: [0.5, 0.4, 0.3], tol: 1e-7, source: within },
  { params: all, in: [1, 1, 1], out: [1, 1, 1], tol: 0, source: within },
  { params: all, in: [0, 0, 0], out: [0, 0, 0], tol: 0, source: within },
  { params: all, in: [1.3, 0.4, 0.4], out, tol: 1e-6, source: hand },
  { params: { ...all, amountPct: 50 }, in: [1.3, 0.4, 0.4], out: half, tol: 1e-6, source: hand },
  { params: all, in: [1.4, 1.2, 1.1], out: [1, 1, 1], tol: 1e-6, source: 'luma beyond white is white' },
  { params: all, in: [-0.2, -0.1, 0.1], out: [0, 0, 0], tol: 1e-6, source: 'luma below black is black' },
];
