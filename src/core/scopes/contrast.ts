/** Colour contrast of a picture, read from the counts of its vectorscope. */
import { DEG, wrap180 } from '../math/angle';
import { NEUTRAL_CHROMA_PCT } from '../color/ycbcr';
import { VECTOR_CELLS, VECTOR_RANGE } from './reduce';

export interface ColourContrast {
  /**
   * Half width in degrees of the smallest arc round the mean hue that holds 90 % of the chroma; null when all is
   * neutral.
   */
  hueSpreadDeg: number | null;
  /** Along the skin line's axis, in % chroma: the 2nd (cool end) and the 98th percentile (warm end). */
  coolPct: number;
  warmPct: number;
  distancePct: number;
  /** How the trace lies about neutral: the mean of (Cb, Cr), as chroma in % and its hue. */
  leanPct: number;
  leanDeg: number | null;
}

/** Hue in whole degrees and chroma of every cell of the unzoomed vectorscope, made once. */
let cells: { hue: Uint16Array; chroma: Float32Array } | null = null;
function cellsOf(): { hue: Uint16Array; chroma: Float32Array } {
  if (cells) return cells;
  const n = VECTOR_CELLS * VECTOR_CELLS;
  const step = (2 * VECTOR_RANGE) / VECTOR_CELLS;
  cells = { hue: new Uint16Array(n), chroma: new Float32Array(n) };
  for (let i = 0; i < n; i++) {
    const cb = ((i % VECTOR_CELLS) + 0.5) * step - VECTOR_RANGE;
    const cr = VECTOR_RANGE - (Math.floor(i / VECTOR_CELLS) + 0.5) * step;
    cells.hue[i] = Math.floor((Math.atan2(cr, cb) * DEG + 360) % 360);
    cells.chroma[i] = Math.hypot(cb, cr);
  }
  return cells;
}

/**
 * `counts`: the unzoomed vectorscope of the whole picture. Null when nothing was counted. Resolution: 0.4 % chroma, 1
 * degree.
 */
export function colourContrast(counts: Uint32Array, skinLineDeg: number): ColourContrast | null {
  const step = (2 * VECTOR_RANGE) / VECTOR_CELLS;
  const [ca, sa] = [Math.cos(skinLineDeg / DEG), Math.sin(skinLineDeg / DEG)];
  const hue = new Float64Array(360);
  const along = new Float64Array(400);
  let n = 0;
  let scb = 0;
  let scr = 0;
  const known = cellsOf();
  for (let y = 0, i = 0; y < VECTOR_CELLS; y++) {
    const cr = VECTOR_RANGE - (y + 0.5) * step;
    for (let x = 0; x < VECTOR_CELLS; x++, i++) {
      const k = counts[i]!;
      if (k === 0) continue;
      const cb = (x + 0.5) * step - VECTOR_RANGE;
      n += k;
      scb += k * cb;
      scr += k * cr;
      along[Math.min(399, Math.max(0, Math.round((cb * ca + cr * sa) * 250 + 200)))]! += k;
      const chroma = known.chroma[i]!;
      if (chroma * 200 >= NEUTRAL_CHROMA_PCT) hue[known.hue[i]!]! += k * chroma;
    }
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
    for (let d = 0; d <= 180; d++)
      if ((sum += by[d]!) >= 0.9 * all) {
        hueSpreadDeg = d;
        break;
      }
  }
  const [coolPct, warmPct] = [percentile(0.02), percentile(0.98)];
  const leanPct = Math.hypot(scb / n, scr / n) * 200;
  return {
    hueSpreadDeg,
    coolPct,
    warmPct,
    distancePct: warmPct - coolPct,
    leanPct,
    leanDeg: leanPct < 1 ? null : (Math.atan2(scr, scb) * DEG + 360) % 360,
  };
}
