/** Colour contrast of a picture, read from the counts of its vectorscope. */
import { DEG, wrap180 } from '../math/angle';
import { NEUTRAL_CHROMA_PCT } from '../color/ycbcr';
import { VECTOR_CELLS, VECTOR_RANGE } from './reduce';

export interface ColourContrast {
  /** Half width in degrees of the smallest arc round the mean hue that holds 90 % of the chroma; null when all is neutral. */
  hueSpreadDeg: number | null;
  /** Along the skin line's axis, in % chroma: the 2nd (cool end) and the 98th percentile (warm end). */
  coolPct: number;
  warmPct: number;
  distancePct: number;
  /** How the trace lies about neutral: the mean of (Cb, Cr), as chroma in % and its hue. */
  leanPct: number;
  leanDeg: number | null;
}

/** `counts`: the unzoomed vectorscope of the whole picture. Null when nothing was counted. Resolution: 0.4 % chroma, 1 degree. */
export function colourContrast(counts: Uint32Array, skinLineDeg: number): ColourContrast | null {
  const step = (2 * VECTOR_RANGE) / VECTOR_CELLS;
  const [ca, sa] = [Math.cos(skinLineDeg / DEG), Math.sin(skinLineDeg / DEG)];
  const hue = new Float64Array(360);
  const along = new Float64Array(400);
  let n = 0;
  let scb = 0;
  let scr = 0;
  for (let i = 0; i < counts.length; i++) {
    const k = counts[i]!;
    if (!k) continue;
    const cb = ((i % VECTOR_CELLS) + 0.5) * step - VECTOR_RANGE;
    const cr = VECTOR_RANGE - (Math.floor(i / VECTOR_CELLS) + 0.5) * step;
    n += k;
    scb += k * cb;
    scr += k * cr;
    along[Math.min(399, Math.max(0, Math.round((cb * ca + cr * sa) * 250 + 200)))]! += k;
    const chroma = Math.hypot(cb, cr);
    if (chroma * 200 >= NEUTRAL_CHROMA_PCT) hue[Math.floor((((Math.atan2(cr, cb) * DEG) % 360) + 360) % 360)]! += k * chroma;
  }
  if (n === 0) return null;
  const percentile = (q: number): number => {
    let sum = 0;
    for (let i = 0; i < 400; i++) if ((sum += along[i]!) >= q * n) return ((i - 200) / 250) * 200;
    return 0;
  };
  let [hx, hy, all] = [0, 0, 0];
  hue.forEach((v, d) => {
    hx += v * Math.cos((d + 0.5) / DEG);
    hy += v * Math.sin((d + 0.5) / DEG);
    all += v;
  });
  let hueSpreadDeg: number | null = null;
  if (all > 0) {
    const mean = Math.atan2(hy, hx) * DEG;
    const by = new Float64Array(181);
    hue.forEach((v, d) => (by[Math.min(180, Math.round(Math.abs(wrap180(d + 0.5 - mean))))]! += v));
    let sum = 0;
    hueSpreadDeg = 180;
    for (let d = 0; d <= 180; d++) if ((sum += by[d]!) >= 0.9 * all) {
      hueSpreadDeg = d;
      break;
    }
  }
  const [coolPct, warmPct] = [percentile(0.02), percentile(0.98)];
  const leanPct = Math.hypot(scb / n, scr / n) * 200;
  return { hueSpreadDeg, coolPct, warmPct, distancePct: warmPct - coolPct, leanPct, leanDeg: leanPct < 1 ? null : (Math.atan2(scr, scb) * DEG + 360) % 360 };
}
