import type { PixelVector } from '../../../../testkit/vectors';
import type { params } from './params';

/** tests/data/rgb_conversions.json: computed with colorjs.io 0.7.1, worst difference to culori 4.0.2 given there. */
const s = 'OKLab of these hex colours by colorjs.io 0.7.1 (tests/data/rgb_conversions.json)';
const rgb = (hex: number): [number, number, number] => [(hex >> 16) / 255, ((hex >> 8) & 255) / 255, (hex & 255) / 255];
const skin = [0.7091793120135561, 0.042234571961552725, 0.043164102008658944];
const brown = [0.4700971660411751, 0.03579028572537926, 0.03451023752906984];
const ochre = [0.678192577644818, 0.057283258407268695, 0.10856274297829283];
const grey = [0.5998708056221469, 0, 0];
const white = 'black stays, and white where the thing is not nearly white itself: by construction';
export const vectors: PixelVector<typeof params>[] = [
  { params: { from: skin, to: brown }, in: rgb(0xc29682), out: rgb(0x735244), tol: 3e-5, source: s },
  { params: { from: brown, to: skin }, in: rgb(0x735244), out: rgb(0xc29682), tol: 3e-5, source: s },
  { params: { from: ochre, to: grey }, in: rgb(0xcd853f), out: rgb(0x808080), tol: 3e-5, source: s },
  { params: { from: grey, to: brown }, in: rgb(0x808080), out: rgb(0x735244), tol: 3e-5, source: s },
  { params: { from: brown, to: skin }, in: [1, 1, 1], out: [1, 1, 1], tol: 3e-5, source: white },
  { params: { from: ochre, to: skin }, in: [0, 0, 0], out: [0, 0, 0], tol: 1e-6, source: white },
];
