import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { params } from './params';

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const s = k[0]!;
  const o = k[1]!;
  for (const p of [r, g, b]) for (let i = 0; i < n; i++) p[i] = o + s * p[i]!;
}

export default definePixelOp<typeof params>({
  id: 'points',
  title: 'Black and white point',
  doc:
    'A straight line through two points of the signal, the same for all channels: the black point ' +
    'goes to its target, the white point to its own.',
  version: 1,
  params,
  refs: ['common practice: blacks about 5-10 %, whites about 90-95 %'],
  edge: 'Nothing clamps; NaN stays NaN. Points closer than 1 % are kept 1 % apart.',
  migrations: [],
  /** Block: slope, offset. */
  prepare(p) {
    const s = (p.toWhitePct - p.toBlackPct) / Math.max(1, p.whitePct - p.blackPct);
    return Float32Array.from([s, (p.toBlackPct - s * p.blackPct) / 100]);
  },
  kernel,
  isNoOp: (p) => p.blackPct === p.toBlackPct && p.whitePct === p.toWhitePct,
});
