import { lightBlock, lightKernel } from '../../color/light';
import type { Matrix3 } from '../../color/matrix3';
import { definePixelOp } from '../../op/contract';
import { formatNumber } from '../../op/words';
import { params } from './params';

/** A gain of all three. */
const matrix = (stops: number): Matrix3 => [2 ** stops, 0, 0, 0, 2 ** stops, 0, 0, 0, 2 ** stops];

export default definePixelOp<typeof params>({
  id: 'exposure',
  title: 'Exposure',
  doc:
    'Stops of light: the signal is decoded to linear light by the encoding it stands in, multiplied ' +
    'by 2^stops and encoded again.',
  version: 1,
  params,
  refs: [
    'common practice: one stop is a doubling of light',
    "the encoding's own standard (see core/color/encodings.ts)",
  ],
  edge:
    'Nothing clamps but the ends of ACEScc and the black of a log curve. Negatives are mirrored in ' +
    'power curves, PQ and HLG. NaN and infinity spread to all three channels.',
  migrations: [],
  /** Block: core/color/light.ts. */
  prepare: ({ stops }, { encoding }) => lightBlock(encoding.curve, matrix(stops)),
  kernel: lightKernel,
  light: { matrix: ({ stops }) => matrix(stops), block: (m, { encoding }) => lightBlock(encoding.curve, m) },
  isNoOp: (p) => p.stops === 0,
  say: (p) => [`exposure ${formatNumber(p.stops, 2, true)} stops`],
  brief: (p) => `${formatNumber(p.stops, 2, true)} stops`,
});
