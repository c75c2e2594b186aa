/**
 * Noise taken out where the picture is smooth, edges kept: each pixel becomes the mean of those of its kind around it,
 * in two passes whose samples stand further apart in the second (H. Dammertz et al., "Edge-avoiding a-trous wavelet
 * transform for fast global illumination filtering", High Performance Graphics 2010). What counts as its kind falls to
 * exactly nothing at a difference (J. Tukey's biweight; A. Beaton, J. Tukey, Technometrics 16, 1974), so that nothing
 * comes over an edge. Keys read the same as a quieter copy of their picture.
 */
import { defineAreaOp } from '../../op/contract';
import type { FrameRun } from '../../op/contract';
import { formatNumber } from '../../op/words';
import { mirror } from '../../op/windows';
import { params } from './params';

/** Cubic B-spline at whole steps, times 16. */
const SPLINE = [1, 4, 6, 4, 1] as const;

function pass(from: readonly Float32Array[], to: readonly Float32Array[], run: FrameRun, step: number, inv: number) {
  const { w, h } = run;
  const [r, g, b] = from as [Float32Array, Float32Array, Float32Array];
  for (let y = run.y0; y < run.y1; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const [R, G, B] = [r[i]!, g[i]!, b[i]!];
      let [sum, sr, sg, sb] = [0, 0, 0, 0];
      for (let v = -2; v <= 2; v++) {
        const row = mirror(y + v * step, h) * w;
        for (let u = -2; u <= 2; u++) {
          const j = row + mirror(x + u * step, w);
          const [dr, dg, db] = [r[j]! - R, g[j]! - G, b[j]! - B];
          const t = 1 - (dr * dr + dg * dg + db * db) * inv;
          // Also where it is no number.
          if (!(t > 0)) continue;
          const k = SPLINE[v + 2]! * SPLINE[u + 2]! * t * t;
          sum += k;
          sr += k * dr;
          sg += k * dg;
          sb += k * db;
        }
      }
      // Differences are summed: what is flat stays to the bit.
      to[0]![i] = sum > 0 ? R + sr / sum : R;
      to[1]![i] = sum > 0 ? G + sg / sum : G;
      to[2]![i] = sum > 0 ? B + sb / sum : B;
    }
}
function near(k: Float32Array, run: FrameRun): void {
  pass(run.src, run.work, run, k[0]!, k[2]!);
}
function far(k: Float32Array, run: FrameRun): void {
  const { src, dst, w } = run;
  pass(run.work, dst, run, k[1]!, k[3]!);
  const keep = 1 - k[4]!;
  if (keep === 0) return;
  for (let i = run.y0 * w; i < run.y1 * w; i++) {
    const by =
      keep *
      (0.2126 * (src[0]![i]! - dst[0]![i]!) +
        0.7152 * (src[1]![i]! - dst[1]![i]!) +
        0.0722 * (src[2]![i]! - dst[2]![i]!));
    // What is no number was not changed.
    if (by === by) for (let c = 0; c < 3; c++) dst[c]![i] = dst[c]![i]! + by;
  }
}

export default defineAreaOp<typeof params>({
  id: 'denoise',
  title: 'Noise reduction',
  doc:
    'Takes noise out and keeps edges: a pixel becomes the mean of those around it that differ little from it. For ' +
    'underexposed skin, and as the quieter copy that a key may read.',
  version: 1,
  params,
  refs: [
    'H. Dammertz et al., "Edge-avoiding a-trous wavelet transform for fast global illumination filtering", HPG 2010',
    'A. Beaton, J. Tukey, "The fitting of power series", Technometrics 16, 1974 (biweight)',
  ],
  edge:
    'Beyond the border the picture stands mirrored. Values outside 0..1 live on; what is no number or infinite stays ' +
    'so and counts for nobody. A strength of 0 changes nothing.',
  migrations: [],
  /** Block: steps of both passes, 1 / square of the difference that is an edge for both, share of luma. */
  prepare: ({ strengthPct, sizePx, lightPct }) => {
    const step = Math.max(1, Math.round(sizePx / 6));
    // The first pass leaves about a third of the noise.
    const edge = Math.max(1e-4, strengthPct / 400);
    return Float32Array.of(step, 2 * step, 1 / edge ** 2, 4 / edge ** 2, lightPct / 100);
  },
  haloPx: ({ sizePx }) => 6 * Math.max(1, Math.round(sizePx / 6)),
  workPlanes: 3,
  passes: () => [{ name: 'near' }, { name: 'far' }],
  kernels: { near, far },
  isNoOp: (p) => p.strengthPct < 0.005,
  say: (p) => [`noise reduction ${formatNumber(p.strengthPct, 0)} %`],
  brief: (p) => `${formatNumber(p.strengthPct, 0)} %`,
});
