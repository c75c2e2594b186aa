import { greySignal } from '../../color/encodings';
import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { formatNumber } from '../../op/words';
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

/** Below a slope of 1 the S is vertical at its ends: no table follows it there. */
const SOFT_CELLS = 4096;
let last: Float32Array | null = null;
function softBlock(c: number, p: number): Float32Array {
  if (last && last[0] === Math.fround(c) && last[1] === Math.fround(p)) return last;
  const out = new Float32Array(4 + SOFT_CELLS + 4);
  const v = Float32Array.from({ length: SOFT_CELLS + 1 }, (_, i) => i / SOFT_CELLS);
  out.set([c, p, 1, 1]);
  kernel(out, { r: v, g: new Float32Array(0), b: new Float32Array(0), n: v.length });
  out.set(v, 4);
  return (last = out);
}

export default definePixelOp<typeof params>({
  id: 'contrast',
  title: 'Contrast',
  doc:
    'Contrast of each channel about a pivot p that stays exactly still. Straight: p + c (v - p). Soft ' +
    'S: p (v/p)^c below, 1 - (1-p) ((1-v)/(1-p))^c above.',
  version: 1,
  params,
  refs: ['common practice: contrast about a pivot'],
  edge: 'Straight: nothing clamps. Soft S: values at or below 0 and at or above 1 stay as they are. NaN stays NaN.',
  migrations: [],
  /**
   * Block: slope, pivot, 1 for the soft S, 1 where a table of it follows: SOFT_CELLS + 1 values over 0..1, for the
   * fast twin.
   */
  prepare: (p, { encoding }) => {
    const head = [
      p.amountPct / 100,
      p.greyPivot ? Math.min(0.99, Math.max(0.01, greySignal(encoding))) : p.pivotPct / 100,
      p.shape === 'soft' ? 1 : 0,
    ] as const;
    return head[2] && head[0] >= 1 ? softBlock(head[0], head[1]) : Float32Array.from([...head, 0]);
  },
  kernel,
  isNoOp: (p) => p.amountPct === 100,
  say: (p) => [`contrast ${formatNumber(p.amountPct, 0)} %`],
  brief: (p) => `${formatNumber(p.amountPct, 0)} %`,
});
