import type { KeyVector } from '../../../../testkit/vectors';
import { encodings, decode } from '../../color/encodings';
import { linearToOklab } from '../../color/oklab';
import type { params } from './params';

const lab = (r: number, g: number, b: number): [number, number, number] =>
  linearToOklab(decode(encodings.srgb, r), decode(encodings.srgb, g), decode(encodings.srgb, b));
const s = 'distance in OKLab, by hand';
const red = lab(0.8, 0.3, 0.2);
const grey = lab(0.5, 0.5, 0.5);
const steps = { reachPct: 5, fadePct: 5, lightPct: 100 };
export const vectors: KeyVector<typeof params>[] = [
  { params: { near: red, ...steps }, in: [0.8, 0.3, 0.2], out: 1, tol: 0, source: `${s}: the colour itself` },
  { params: { near: red, ...steps }, in: [0.2, 0.3, 0.8], out: 0, tol: 0, source: `${s}: another one` },
  // Of greys a and b are 0 (to 1e-7) and L is the cube root of light: L + 0.05 is one half.
  {
    params: { near: [grey[0] + 0.05, 0, 0], ...steps },
    in: [0.5, 0.5, 0.5],
    out: 0.5,
    tol: 2e-3,
    source: `${s}: at its reach`,
  },
  {
    params: { near: [grey[0] + 0.05, 0, 0], ...steps, lightPct: 50 },
    in: [0.5, 0.5, 0.5],
    out: 1,
    tol: 0,
    source: `${s}: half the weight of light`,
  },
  {
    params: { near: [grey[0] + 0.02, 0, 0], far: [grey[0] - 0.02, 0, 0], ...steps },
    in: [0.5, 0.5, 0.5],
    out: 0.5,
    tol: 2e-3,
    source: `${s}: half-way between what belongs and what does not`,
  },
];
