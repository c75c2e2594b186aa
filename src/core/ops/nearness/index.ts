/** A key for irregular colour: near to some of the colours that were sampled, and nearer to them than to others. */
import { defineKeyOp } from '../../op/contract';
import { formatNumber } from '../../op/words';
import { labOf, LIGHT_BLOCK, lightBlock } from '../../matte/light';
import { params } from './params';

/** Where in the block: reach, 1 / fade, weight of light, how many colours belong, how many do not, the way to OKLab. */
const LIGHT = 5;
const COLOURS = LIGHT + LIGHT_BLOCK;
/** A fade of 0 is a hard edge: so steep that it happens within rounding. */
const HARD = 1e6;

function nearest(k: Float32Array, from: number, count: number, L: number, a: number, b: number): number {
  let best = Infinity;
  for (let i = from; i < from + 3 * count; i += 3) {
    const [u, v, w] = [k[i]! - L, k[i + 1]! - a, k[i + 2]! - b];
    best = Math.min(best, u * u + v * v + w * w);
  }
  return Math.sqrt(best);
}

export default defineKeyOp<typeof params>({
  id: 'nearness',
  title: 'Nearness key',
  doc:
    'Full near to the sampled colours in three dimensions (OKLab, light weighing less), nothing where a colour that ' +
    'was left out is nearer. For colour that no range of hue, saturation and luma holds.',
  version: 1,
  params,
  refs: [
    'OKLab: B. Ottosson, "A perceptual color space for image processing", 2020',
    'nearest prototypes: T. Cover, P. Hart, "Nearest neighbor pattern classification", IEEE Trans. Inf. Theory 13, ' +
      '1967',
  ],
  edge: 'NaN or infinity in any channel gives 0. Signal below 0 counts as 0, above 1 as 1. A fade of 0 is a hard edge.',
  migrations: [],
  prepare({ near, far, reachPct, fadePct, lightPct }, { encoding }) {
    const whole = (v: readonly number[]): number[] => v.slice(0, 3 * Math.floor(v.length / 3));
    const weight = lightPct / 100;
    const weighed = (v: readonly number[]): number[] => whole(v).map((x, i) => (i % 3 === 0 ? x * weight : x));
    return Float32Array.of(
      reachPct / 100,
      fadePct > 0 ? 100 / fadePct : HARD,
      weight,
      whole(near).length / 3,
      whole(far).length / 3,
      ...lightBlock(encoding),
      ...weighed(near),
      ...weighed(far),
    );
  },
  kernel(k, { r, g, b, m, n }) {
    const [reach, inv, weight, near, far] = k as unknown as number[] & { length: 5 };
    for (let i = 0; i < n; i++) {
      const [R, G, B] = [r[i]!, g[i]!, b[i]!];
      if (!Number.isFinite(R) || !Number.isFinite(G) || !Number.isFinite(B)) {
        m[i] = 0;
        continue;
      }
      const [L, u, v] = labOf(k, LIGHT, R, G, B);
      const d = nearest(k, COLOURS, near!, L * weight!, u, v);
      const other = far! > 0 ? nearest(k, COLOURS + 3 * near!, far!, L * weight!, u, v) : Infinity;
      // At most its own reach away may what is left out stand, then it says nothing.
      const t = 0.5 + (Math.min(reach!, other) - d) * inv!;
      m[i] = t >= 1 ? 1 : t > 0 ? t * t * (3 - 2 * t) : 0;
    }
  },
  say: (p) => [
    `near ${p.near.length >= 6 ? `${Math.floor(p.near.length / 3)} colours` : 'one colour'}, ` +
      `reach ${formatNumber(p.reachPct, 1)} %`,
  ],
});
