import { definePixelOp } from '../../op/contract';
import { applyMatrix } from '../../color/matrix3';
import { CB_DIV, CR_DIV, G_CB, G_CR, KB, KG, KR } from '../../color/ycbcr';
import { formatNumber } from '../../op/words';
import { params } from './params';

export default definePixelOp<typeof params>({
  id: 'balance',
  title: 'Balance',
  doc:
    'Adds a colour push that grows with luma: (Cb, Cr) += 2 Y (push / 200). Black stays black, luma ' +
    'stays exactly. A cast of light is a gain, so it is undone by a push that grows with level.',
  version: 1,
  params,
  refs: ['ITU-R BT.709-6 item 3.2, 3.3'],
  edge: 'Linear: negatives and values above 1 are pushed in proportion; NaN and infinity spread to all three channels.',
  migrations: [],
  /** Block: nine matrix entries, row major. */
  prepare({ cbPct, crPct }) {
    const cb = cbPct / 100;
    const cr = crPct / 100;
    const p = [CR_DIV * cr, G_CB * cb + G_CR * cr, CB_DIV * cb];
    const k = [KR, KG, KB];
    return Float32Array.from({ length: 9 }, (_, i) => p[Math.floor(i / 3)]! * k[i % 3]! + (i % 4 === 0 ? 1 : 0));
  },
  kernel: applyMatrix,
  isNoOp: (p) => p.cbPct === 0 && p.crPct === 0,
  say: (p) => [`balance ${formatNumber(Math.hypot(p.cbPct, p.crPct), 1)} %`],
});
