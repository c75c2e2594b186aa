import { definePixelOp } from '../../op/contract';
import { applyMatrix, onChroma } from '../../color/matrix3';
import { DEG } from '../../math/angle';
import { formatNumber } from '../../op/words';
import { params } from './params';

export default definePixelOp<typeof params>({
  id: 'hueTurn',
  title: 'Hue turn',
  doc: 'Turns (Cb, Cr) about neutral. Y and chroma stay exactly; one 3x3 matrix.',
  version: 1,
  params,
  refs: ['ITU-R BT.709-6 item 3.2, 3.3'],
  edge: 'Linear: negatives and values above 1 turn like any other; NaN and infinity spread to all three channels.',
  migrations: [],
  /** Block: nine matrix entries, row major. */
  prepare({ angleDeg }) {
    const c = Math.cos(angleDeg / DEG);
    const s = Math.sin(angleDeg / DEG);
    return Float32Array.from(onChroma(c, -s, s, c));
  },
  kernel: applyMatrix,
  isNoOp: (p) => p.angleDeg === 0,
  say: (p) => [`hue turned ${formatNumber(p.angleDeg, 1, true)}\u00b0`],
  brief: (p) => `${formatNumber(p.angleDeg, 1, true)}\u00b0`,
});
