import { definePixelOp } from '../../op/contract';
import { applyMatrix, onChroma } from '../../color/matrix3';
import { formatNumber } from '../../op/words';
import { params } from './params';

export default definePixelOp<typeof params>({
  id: 'saturation',
  title: 'Saturation',
  doc: 'Scales (Cb, Cr) about neutral: out = Y + s (in - Y), the saturation of ASC CDL 1.2 alone.',
  version: 1,
  params,
  refs: ['ITU-R BT.709-6 item 3.2', 'ASC CDL 1.2, saturation'],
  edge: 'Linear: negatives and values above 1 scale like any other; NaN and infinity spread to all three channels.',
  migrations: [],
  /** Block: nine matrix entries, row major. */
  prepare({ amountPct }) {
    const s = amountPct / 100;
    return Float32Array.from(onChroma(s, 0, 0, s));
  },
  kernel: applyMatrix,
  isNoOp: (p) => p.amountPct === 100,
  say: (p) => [`saturation ${formatNumber(p.amountPct, 0)} %`],
  brief: (p) => `${formatNumber(p.amountPct, 0)} %`,
});
