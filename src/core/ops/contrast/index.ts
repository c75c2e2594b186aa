import { greySignal } from '../../color/encodings';
import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { params } from './params';

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const [c, p, soft] = k as unknown as [number, number, number];
  for (const q of [r, g, b])
    for (let i = 0; i < n; i++) {
      const v = q[i]!;
      // The difference is added to the pivot, so that the pivot itself stays to the bit.
      if (!soft) q[i] = p + c * (v - p);
      else if (v > 0 && v < p) q[i] = p * (v / p) ** c;
      else if (v >= p && v < 1) q[i] = 1 - (1 - p) * ((1 - v) / (1 - p)) ** c;
    }
}

export default definePixelOp<typeof params>({
  id: 'contrast',
  title: 'Contrast',
  doc: 'Contrast of each channel about a pivot p that stays exactly still. Straight: p + c (v - p). Soft S: p (v/p)^c below, 1 - (1-p) ((1-v)/(1-p))^c above.',
  version: 1,
  params,
  refs: ['common practice: contrast about a pivot'],
  edge: 'Straight: nothing clamps. Soft S: values at or below 0 and at or above 1 stay as they are. NaN stays NaN.',
  migrations: [],
  /** Block: slope, pivot, 1 for the soft S. */
  prepare: (p, { encoding }) => Float32Array.from([p.amountPct / 100, p.greyPivot ? Math.min(0.99, Math.max(0.01, greySignal(encoding))) : p.pivotPct / 100, p.shape === 'soft' ? 1 : 0]),
  kernel,
  isNoOp: (p) => p.amountPct === 100,
});
