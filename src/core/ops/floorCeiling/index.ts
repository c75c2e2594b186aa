import { defineTidyPointOp } from '../../op/contract';
import type { MatteRun } from '../../op/contract';
import { formatNumber } from '../../op/words';
import { params } from './params';

function kernel(k: Float32Array, { m, n }: MatteRun): void {
  const floor = k[0]!;
  const inv = k[1]!;
  for (let i = 0; i < n; i++) {
    const t = (m[i]! - floor) * inv;
    m[i] = t >= 1 ? 1 : t > 0 ? t : 0;
  }
}

export default defineTidyPointOp<typeof params>({
  id: 'floorCeiling',
  title: 'Floor and ceiling',
  doc: 'Stretches the matte between floor and ceiling to 0..1 in a straight line and cuts what lies outside.',
  version: 1,
  params,
  refs: ['common practice: clipping the low and high end of a matte'],
  edge: 'NaN becomes 0. A ceiling at or below the floor is a hard step at the floor.',
  migrations: [],
  /** Block: floor, 1 / (ceiling - floor). */
  prepare: (p) =>
    Float32Array.of(p.floorPct / 100, p.ceilingPct > p.floorPct ? 100 / (p.ceilingPct - p.floorPct) : 1e9),
  kernel,
  isNoOp: (p) => p.floorPct === 0 && p.ceilingPct === 100,
  place: 10,
  standing: true,
  say: (p) => [
    ...(p.floorPct > 0 ? [`floor ${formatNumber(p.floorPct, 0)} %`] : []),
    ...(p.ceilingPct < 100 ? [`ceiling ${formatNumber(p.ceilingPct, 0)} %`] : []),
  ],
});
