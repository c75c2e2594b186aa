import { defineTidyPointOp } from '../../op/contract';
import type { MatteRun } from '../../op/contract';
import { formatNumber } from '../../op/words';
import { params } from './params';

function kernel(k: Float32Array, { m, n }: MatteRun): void {
  const floor = k[0]!;
  const inv = k[1]!;
  const soft = k[2]!;
  for (let i = 0; i < n; i++) {
    const t = (m[i]! - floor) * inv;
    const v = t >= 1 ? 1 : t > 0 ? t : 0;
    m[i] = v + soft * v * (1 - v) * (2 * v - 1);
  }
}

export default defineTidyPointOp<typeof params>({
  id: 'floorCeiling',
  title: 'Floor and ceiling',
  doc:
    'Stretches the matte between floor and ceiling to 0..1, in a straight line or with soft shoulders, and cuts what ' +
    'lies outside.',
  version: 1,
  params,
  refs: ['common practice: clipping the low and high end of a matte'],
  edge: 'NaN becomes 0. A ceiling at or below the floor is a hard step at the floor.',
  migrations: [],
  /** Block: floor, 1 / (ceiling - floor), share of the Hermite step: 3t^2 - 2t^3 = t + t (1 - t) (2t - 1). */
  prepare: (p) =>
    Float32Array.of(
      p.floorPct / 100,
      p.ceilingPct > p.floorPct ? 100 / (p.ceilingPct - p.floorPct) : 1e9,
      p.softPct / 100,
    ),
  kernel,
  isNoOp: (p) => p.floorPct === 0 && p.ceilingPct === 100 && p.softPct === 0,
  place: 10,
  standing: true,
  say: (p) => [
    ...(p.floorPct > 0 ? [`floor ${formatNumber(p.floorPct, 0)} %`] : []),
    ...(p.ceilingPct < 100 ? [`ceiling ${formatNumber(p.ceilingPct, 0)} %`] : []),
    ...(p.softPct > 0 ? ['soft shoulders'] : []),
  ],
});
