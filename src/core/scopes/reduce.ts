/**
 * The scopes as counts: how many pixels fall into each cell. Drawing is the interface's business.
 *   vectorscope: CELLS x CELLS over Cb (across) and Cr (up), each -VECTOR_RANGE..VECTOR_RANGE;
 *   waveform: WAVE_COLUMNS columns of the picture x WAVE_LEVELS luma levels WAVE_LOW..WAVE_HIGH;
 *   skin strip: STRIP_COLUMNS of off-line angle -STRIP_DEG..STRIP_DEG x STRIP_LEVELS of luma 0..1; only pixels of at
 *   least 6 % chroma, since below that a hue angle means nothing.
 * Row 0 is the top of the drawing. Pixels with NaN are not counted; values outside fall into the outermost cell
 * of waveform and vectorscope and are not counted in the strip.
 */
import { CB_DIV, CR_DIV, KB, KG, KR, NEUTRAL_CHROMA_PCT } from '../color/ycbcr';
import { DEG } from '../math/angle';

export const VECTOR_CELLS = 256;
export const VECTOR_RANGE = 0.56;
export const WAVE_COLUMNS = 280;
export const WAVE_LEVELS = 220;
export const WAVE_LOW = -0.05;
export const WAVE_HIGH = 1.05;
export const STRIP_COLUMNS = 240;
export const STRIP_LEVELS = 128;
export const STRIP_DEG = 60;

export const VECTOR_SIZE = VECTOR_CELLS * VECTOR_CELLS;
export const WAVE_SIZE = WAVE_COLUMNS * WAVE_LEVELS;
export const STRIP_SIZE = STRIP_COLUMNS * STRIP_LEVELS;
export const SCOPE_SIZE = VECTOR_SIZE + WAVE_SIZE + STRIP_SIZE;

/** Cells that (Cb, Cr), luma and column fall into; also used for the mark of a single colour. */
export const vectorCell = (v: number): number => ((v + VECTOR_RANGE) / (2 * VECTOR_RANGE)) * VECTOR_CELLS;
export const waveRow = (y: number): number => ((WAVE_HIGH - y) / (WAVE_HIGH - WAVE_LOW)) * WAVE_LEVELS;
export const stripColumn = (offDeg: number): number => ((offDeg + STRIP_DEG) / (2 * STRIP_DEG)) * STRIP_COLUMNS;
export const stripRow = (y: number): number => (1 - y) * STRIP_LEVELS;

export interface ScopePlanes {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  /** Pixels with matte above one half count; null counts all. */
  m: Float32Array | null;
  w: number;
}

/** Adds rows y0..y1-1 (every `stride`th pixel and row) into `counts`, laid out as vectorscope, waveform, strip. */
export function addScopes(p: ScopePlanes, y0: number, y1: number, stride: number, skinLineDeg: number, counts: Uint32Array): void {
  const { r, g, b, m, w } = p;
  const wave = counts.subarray(VECTOR_SIZE, VECTOR_SIZE + WAVE_SIZE);
  const strip = counts.subarray(VECTOR_SIZE + WAVE_SIZE, SCOPE_SIZE);
  const ca = Math.cos(skinLineDeg / DEG);
  const sa = Math.sin(skinLineDeg / DEG);
  const vk = VECTOR_CELLS / (2 * VECTOR_RANGE);
  const wk = WAVE_LEVELS / (WAVE_HIGH - WAVE_LOW);
  const minChroma2 = (NEUTRAL_CHROMA_PCT / 200) ** 2;
  const tanMax = Math.tan(STRIP_DEG / DEG);
  const start = Math.ceil(y0 / stride) * stride;
  for (let y = start; y < y1; y += stride) {
    for (let x = 0, i = y * w; x < w; x += stride, i += stride) {
      if (m && m[i]! <= 0.5) continue;
      const R = r[i]!;
      const B = b[i]!;
      const Y = KR * R + KG * g[i]! + KB * B;
      if (!(Y - Y === 0)) continue;
      const cb = (B - Y) / CB_DIV;
      const cr = (R - Y) / CR_DIV;
      let vx = ((cb + VECTOR_RANGE) * vk) | 0;
      let vy = ((VECTOR_RANGE - cr) * vk) | 0;
      vx = vx < 0 ? 0 : vx >= VECTOR_CELLS ? VECTOR_CELLS - 1 : vx;
      vy = vy < 0 ? 0 : vy >= VECTOR_CELLS ? VECTOR_CELLS - 1 : vy;
      counts[vy * VECTOR_CELLS + vx]!++;
      let wy = ((WAVE_HIGH - Y) * wk) | 0;
      wy = wy < 0 ? 0 : wy >= WAVE_LEVELS ? WAVE_LEVELS - 1 : wy;
      wave[wy * WAVE_COLUMNS + (((x * WAVE_COLUMNS) / w) | 0)]!++;
      // Along and across the skin line: only what lies within STRIP_DEG of it needs an angle.
      const u = cb * ca + cr * sa;
      const v = cr * ca - cb * sa;
      if (u > 0 && v < u * tanMax && -v < u * tanMax && u * u + v * v >= minChroma2) {
        const sx = stripColumn(Math.atan(v / u) * DEG) | 0;
        const sy = stripRow(Y) | 0;
        if (sy >= 0 && sy < STRIP_LEVELS) strip[sy * STRIP_COLUMNS + (sx < STRIP_COLUMNS ? sx : STRIP_COLUMNS - 1)]!++;
      }
    }
  }
}
