import type { KeyVector } from '../../../../testkit/vectors';
import type { params } from './params';

const off = { hueOn: false, satOn: false, lumaOn: false };
const hue = (centre: number, width: number, soft: number) => ({
  ...off,
  hueOn: true,
  hueFromDeg: centre - width / 2,
  hueToDeg: centre + width / 2,
  hueFadeFromDeg: soft,
  hueFadeToDeg: soft,
});
const bars = 'BT.709 hue angles of the 100 % bars (shared/reference/colour_bars.json): red 102.912, blue 354.761';
export const vectors: KeyVector<typeof params>[] = [
  { params: off, in: [0.2, 0.7, 0.1], out: 1, tol: 0, source: 'no limit on: everything' },
  { params: hue(102.912, 2, 0), in: [1, 0, 0], out: 1, tol: 0, source: bars },
  { params: hue(102.912 + 5, 9, 0), in: [1, 0, 0], out: 0, tol: 0, source: bars },
  {
    params: hue(102.912 + 10, 10, 10),
    in: [1, 0, 0],
    out: 0.5,
    tol: 1e-3,
    source: `${bars}; half way down a Hermite fall is one half`,
  },
  { params: hue(1, 16, 0), in: [0, 0, 1], out: 1, tol: 0, source: `${bars}; the range crosses 0 degrees` },
  { params: hue(123, 360, 0), in: [0.5, 0.5, 0.5], out: 0, tol: 0, source: 'neutral guard: a grey has no hue' },
  {
    params: { ...off, lumaOn: true, lumaFromPct: 20.76, lumaToPct: 21.76, lumaFadeFromPct: 0, lumaFadeToPct: 0 },
    in: [1, 0, 0],
    out: 1,
    tol: 0,
    source: 'BT.709-6 item 3.2: Kr = 0.2126',
  },
  {
    params: { ...off, lumaOn: true, lumaFromPct: 71.52, lumaToPct: 71.52, lumaFadeFromPct: 4, lumaFadeToPct: 4 },
    in: [0, 1.02796, 0],
    out: 0.5,
    tol: 2e-3,
    source: 'BT.709-6 item 3.2: Kg = 0.7152',
  },
  {
    params: { ...off, satOn: true, satFromPct: 99.92, satToPct: 100.92, satFadeFromPct: 0, satFadeToPct: 0 },
    in: [1, 1, 0],
    out: 1,
    tol: 0,
    source: 'radius of the yellow bar 0.502098 (colour_bars.json)',
  },
  // Yellow at 92.78 % luma gains 10 % from black to white: 4.278 less than it measures.
  {
    params: {
      ...off,
      satOn: true,
      satFromPct: 95.64,
      satToPct: 96.64,
      satFadeFromPct: 0,
      satFadeToPct: 0,
      leanPct: 10,
    },
    in: [1, 1, 0],
    out: 1,
    tol: 0,
    source: 'the same yellow, measured at a luma of 50 %, by hand',
  },
];
