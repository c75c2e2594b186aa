/** How even the colour of a region is: its mean hue, its chroma over luma, and how far pixels lie about them. */
import { angleOf, DEG, wrap180 } from '../math/angle';
import { rgbToYcbcr } from '../color/ycbcr';
import type { Weighed } from '../match/recolour';

export interface Even {
  /** On the vectorscope, 0..360. */
  hueDeg: number;
  /** Mean chroma over mean luma, %. */
  perLumaPct: number;
  /** Standard deviation of hue about its mean, and of chroma over luma as a share of its mean, %. */
  hueSpreadDeg: number;
  chromaSpreadPct: number;
}
/** Hues further off than this are no blotch of the same skin. */
const NEAR_DEG = 40;
/** Darker than this chroma over luma is noise. */
const DARK = 0.04;

/**
 * Of R'G'B' samples with their weights. The mean is taken anew twice over what lies near it, so that lips and eyes have
 * no say. Null where there is hardly a colour.
 */
export function evenOf({ r, g, b, weight }: Weighed, about?: Pick<Even, 'hueDeg'>): Even | null {
  const n = r.length;
  const ycc = Array.from({ length: n }, (_, i) => rgbToYcbcr(r[i]!, g[i]!, b[i]!));
  let hue = about?.hueDeg ?? null;
  let per = 0;
  for (let round = 0; round < 3; round++) {
    let [y, u, v, all] = [0, 0, 0, 0];
    for (let i = 0; i < n; i++) {
      const [Y, cb, cr] = ycc[i]!;
      if (!(Y > DARK) || !Number.isFinite(cb + cr)) continue;
      if (hue !== null && Math.abs(wrap180(angleOf(cb, cr) - hue)) > NEAR_DEG) continue;
      const k = weight[i]!;
      y += k * Y;
      u += k * cb;
      v += k * cr;
      all += k;
    }
    if (!(all > 0) || Math.hypot(u, v) < 0.02 * y) return null;
    hue = angleOf(u, v);
    per = Math.hypot(u, v) / y;
  }
  const mean = hue!;
  const [cos, sin] = [Math.cos(mean / DEG), Math.sin(mean / DEG)];
  let [turn, spread, all] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const [Y, cb, cr] = ycc[i]!;
    const along = cb * cos + cr * sin;
    if (!(Y > DARK) || !(along > 0)) continue;
    const d = Math.atan2(cr * cos - cb * sin, along) * DEG;
    if (!(Math.abs(d) <= NEAR_DEG)) continue;
    const k = weight[i]!;
    turn += k * d * d;
    spread += k * (along / Y / per - 1) ** 2;
    all += k;
  }
  if (!(all > 0)) return null;
  return {
    hueDeg: mean,
    perLumaPct: 100 * per,
    hueSpreadDeg: Math.sqrt(turn / all),
    chromaSpreadPct: 100 * Math.sqrt(spread / all),
  };
}
