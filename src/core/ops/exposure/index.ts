import { CURVE_FLOATS, curveBlock, decodeBlock, encodeBlock } from '../../color/curves';
import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { params } from './params';

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const gain = k[CURVE_FLOATS]!;
  for (const p of [r, g, b]) for (let i = 0; i < n; i++) p[i] = encodeBlock(k, 0, decodeBlock(k, 0, p[i]!) * gain);
}

export default definePixelOp<typeof params>({
  id: 'exposure',
  title: 'Exposure',
  doc: "Stops of light: the signal is decoded to linear light by the encoding it stands in, multiplied by 2^stops and encoded again.",
  version: 1,
  params,
  refs: ['common practice: one stop is a doubling of light', "the encoding's own standard (see core/color/encodings.ts)"],
  edge: 'Nothing clamps but the ends of ACEScc and the black of a log curve. Negatives are mirrored in power curves, PQ and HLG. NaN stays NaN.',
  migrations: [],
  /** Block: the curve of the encoding, then the gain. */
  prepare: ({ stops }, { encoding }) => Float32Array.from([...curveBlock(encoding.curve), 2 ** stops]),
  kernel,
  isNoOp: (p) => p.stops === 0,
});
