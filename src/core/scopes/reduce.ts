/**
 * The scopes as counts: how many pixels fall into each cell. Drawing is the interface's business.
 * vectorscope: VECTOR_CELLS squared over Cb (across) and Cr (down from the top), each -range..range, row 0 at the
 * top; range is
 *     VECTOR_RANGE over the zoom. A cell is 0.2 % of the signal: its middle lies within 0.1 % of what it holds;
 * waveforms of Y', R', G', B', Cb, Cr: WAVE_COLUMNS columns over the width, each WAVE_LEVELS levels from WAVE_LOW up
 * to WAVE_HIGH
 *     in 0.2 % steps (Cb and Cr shifted by one half), column after column, level 0 at the bottom;
 * skin strip: STRIP_COLUMNS of off-line angle -STRIP_DEG..STRIP_DEG x STRIP_LEVELS of luma, row 0 at the top; only
 * pixels of at
 *     least 6 % chroma, since below that a hue angle means nothing;
 *   clip: pixels with a channel at or below 0, with one at or above 1, and all that were looked at.
 * Histograms are the sums of a waveform's columns. Pixels with NaN or infinity are not counted (clip counts
 * infinity); values
 * outside fall into the outermost cell of waveforms and of the unzoomed vectorscope, and are not counted elsewhere.
 */
import { CB_DIV, CR_DIV, KB, KG, KR, NEUTRAL_CHROMA_PCT } from '../color/ycbcr';
import { DEG } from '../math/angle';

export const VECTOR_CELLS = 560;
export const VECTOR_RANGE = 0.56;
export const WAVE_COLUMNS = 280;
export const WAVE_LEVELS = 600;
export const WAVE_LOW = -0.1;
export const WAVE_HIGH = 1.1;
export const STRIP_COLUMNS = 240;
export const STRIP_LEVELS = 128;
export const STRIP_DEG = 60;

const VECTOR_SIZE = VECTOR_CELLS * VECTOR_CELLS;
const WAVE_SIZE = WAVE_COLUMNS * WAVE_LEVELS;
const STRIP_SIZE = STRIP_COLUMNS * STRIP_LEVELS;
/** What is counted, as bits; and where each lies in the counts. */
export const GROUPS = {
  vector: { bit: 1, at: 0, size: VECTOR_SIZE },
  strip: { bit: 2, at: VECTOR_SIZE, size: STRIP_SIZE },
  clip: { bit: 4, at: VECTOR_SIZE + STRIP_SIZE, size: 4 },
  y: { bit: 8, at: VECTOR_SIZE + STRIP_SIZE + 4, size: WAVE_SIZE },
  r: { bit: 16, at: VECTOR_SIZE + STRIP_SIZE + 4 + WAVE_SIZE, size: WAVE_SIZE },
  g: { bit: 16, at: VECTOR_SIZE + STRIP_SIZE + 4 + 2 * WAVE_SIZE, size: WAVE_SIZE },
  b: { bit: 16, at: VECTOR_SIZE + STRIP_SIZE + 4 + 3 * WAVE_SIZE, size: WAVE_SIZE },
  cb: { bit: 32, at: VECTOR_SIZE + STRIP_SIZE + 4 + 4 * WAVE_SIZE, size: WAVE_SIZE },
  cr: { bit: 32, at: VECTOR_SIZE + STRIP_SIZE + 4 + 5 * WAVE_SIZE, size: WAVE_SIZE },
} as const;
export type Group = keyof typeof GROUPS;
export type WaveName = 'y' | 'r' | 'g' | 'b' | 'cb' | 'cr';
/** Bit of a zoomed vectorscope: what lies outside is not counted. */
export const ZOOMED = 64;
export const ALL_GROUPS = 1 | 2 | 4 | 8 | 16 | 32;
export const SCOPE_SIZE = GROUPS.cr.at + WAVE_SIZE;
export const groupOf = (counts: Uint32Array, g: Group): Uint32Array =>
  counts.subarray(GROUPS[g].at, GROUPS[g].at + GROUPS[g].size);
/** The scopes a person can choose, and what each is drawn from. */
export const SCOPE_KINDS = {
  vector: ['vector'],
  strip: ['strip'],
  luma: ['y'],
  overlay: ['r', 'g', 'b'],
  parade: ['r', 'g', 'b'],
  ycbcr: ['y', 'cb', 'cr'],
  histogram: ['y', 'r', 'g', 'b'],
} as const satisfies Record<string, readonly Group[]>;
export type ScopeKind = keyof typeof SCOPE_KINDS;

/** Positions in cells that a colour falls on; also used for the mark of a single one. */
export const vectorCell = (v: number, range = VECTOR_RANGE): number => ((v + range) / (2 * range)) * VECTOR_CELLS;
export const stripColumn = (offDeg: number): number => ((offDeg + STRIP_DEG) / (2 * STRIP_DEG)) * STRIP_COLUMNS;
export const stripRow = (y: number): number => (1 - y) * STRIP_LEVELS;

/** Which matte values count. */
export const MATTE_MODES = { all: 0, inside: 1, outside: 2 } as const;
export interface ScopePlanes {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  m: Float32Array | null;
  /** `inside`: matte above one half; `outside`: the rest. */
  matte: (typeof MATTE_MODES)[keyof typeof MATTE_MODES];
  w: number;
  /** Columns looked at; they fill the width of a waveform. */
  x0: number;
  x1: number;
}

/**
 * Whole codes often lie on the very border of a cell (every 51st of 255, a grey's Cb and Cr), and floats of them
 * fall to either side. What lies less than this below a border counts as on it. It is more than what float32
 * arithmetic loses (1.6e-4 of a cell) and less than the distance of any other code of 8 or 10 bits to a border
 * (1/1023 of a cell).
 */
export const BORDER = 6e-7;
const cell = (v: number, n: number): number => {
  const i = v | 0;
  return v < 0 ? 0 : i >= n ? n - 1 : i;
};

/**
 * Adds rows y0..y1-1 (every `stride`th pixel and row, counted from 0) into `counts`. The definition; kernels/scope.ts
 * is its fast twin.
 */
export function addScopes(
  p: ScopePlanes,
  y0: number,
  y1: number,
  stride: number,
  bits: number,
  skinLineDeg: number,
  range: number,
  counts: Uint32Array,
): void {
  const { r, g, b, m, w } = p;
  const [vector, strip, clip, wy, wr, wg, wb, wcb, wcr] = (
    ['vector', 'strip', 'clip', 'y', 'r', 'g', 'b', 'cb', 'cr'] as const
  ).map((k) => groupOf(counts, k)) as Uint32Array[];
  const ca = Math.cos(skinLineDeg / DEG);
  const sa = Math.sin(skinLineDeg / DEG);
  const vk = VECTOR_CELLS / (2 * range);
  const wk = WAVE_LEVELS / (WAVE_HIGH - WAVE_LOW);
  const minChroma2 = (NEUTRAL_CHROMA_PCT / 200) ** 2;
  const tanMax = Math.tan(STRIP_DEG / DEG);
  const columns = waveColumns(p.x0, p.x1);
  const level = (v: number): number => cell((v - WAVE_LOW + BORDER) * wk, WAVE_LEVELS);
  for (let y = Math.ceil(y0 / stride) * stride; y < y1; y += stride) {
    for (let x = p.x0, i = y * w + x; x < p.x1; x += stride, i += stride) {
      if (p.matte && m && m[i]! > 0.5 !== (p.matte === 1)) continue;
      const R = r[i]!;
      const G = g[i]!;
      const B = b[i]!;
      if (bits & GROUPS.clip.bit) {
        if (R <= 0 || G <= 0 || B <= 0) clip![0]!++;
        if (R >= 1 || G >= 1 || B >= 1) clip![1]!++;
        clip![2]!++;
      }
      const Y = KR * R + KG * G + KB * B;
      if (!(Y - Y === 0)) continue;
      const cb = (B - Y) / CB_DIV;
      const cr = (R - Y) / CR_DIV;
      if (bits & GROUPS.vector.bit) {
        const vx = (cb + range + BORDER) * vk;
        const vy = (range - cr + BORDER) * vk;
        if (!(bits & ZOOMED) || (vx >= 0 && vy >= 0 && vx < VECTOR_CELLS && vy < VECTOR_CELLS))
          vector![cell(vy, VECTOR_CELLS) * VECTOR_CELLS + cell(vx, VECTOR_CELLS)]!++;
      }
      if (bits & GROUPS.strip.bit) {
        // Along and across the skin line: only what lies within STRIP_DEG of it needs an angle.
        const u = cb * ca + cr * sa;
        const v = cr * ca - cb * sa;
        if (u > 0 && v < u * tanMax && -v < u * tanMax && u * u + v * v >= minChroma2) {
          const sx = cell(stripColumn(Math.atan(v / u) * DEG), STRIP_COLUMNS);
          const sy = stripRow(Y);
          if (sy >= 0 && sy < STRIP_LEVELS) strip![(sy | 0) * STRIP_COLUMNS + sx]!++;
        }
      }
      const c = columns[x - p.x0]!;
      if (bits & GROUPS.y.bit) wy![c + level(Y)]!++;
      if (bits & GROUPS.r.bit) {
        wr![c + level(R)]!++;
        wg![c + level(G)]!++;
        wb![c + level(B)]!++;
      }
      if (bits & GROUPS.cb.bit) {
        wcb![c + level(cb + 0.5)]!++;
        wcr![c + level(cr + 0.5)]!++;
      }
    }
  }
}

/** Where in a waveform the column of each pixel begins. */
export function waveColumns(x0: number, x1: number): Uint32Array {
  const n = x1 - x0;
  return Uint32Array.from(
    { length: n },
    (_, i) => Math.min(WAVE_COLUMNS - 1, Math.floor((i * WAVE_COLUMNS) / n)) * WAVE_LEVELS,
  );
}

/** Sums of a waveform's columns: how often each level occurs. */
export function histogramOf(wave: Uint32Array): Uint32Array {
  const out = new Uint32Array(WAVE_LEVELS);
  for (let c = 0; c < WAVE_COLUMNS; c++)
    for (let l = 0, o = c * WAVE_LEVELS; l < WAVE_LEVELS; l++) out[l]! += wave[o + l]!;
  return out;
}

/**
 * Where each of `from` cells falls among `to`: the first cell, and the share of it that lies there (the rest lies in
 * the next).
 */
function spread(from: number, to: number, flip: boolean): { at: Int32Array; share: Float64Array } {
  const at = new Int32Array(from);
  const share = new Float64Array(from);
  for (let i = 0; i < from; i++) {
    const k = flip ? from - 1 - i : i;
    const a = (k * to) / from;
    const b = ((k + 1) * to) / from;
    at[i] = Math.min(to - 1, Math.floor(a + 1e-9));
    share[i] = Math.min(1, (at[i]! + 1 - a) / (b - a));
  }
  return { at, share };
}

/**
 * Counts brought to w x h cells, row 0 at the top. A cell that falls across a border is shared out by area, in whole
 * numbers, so that
 * none is lost and no stripes appear where more cells meet. Never more cells than there are.
 */
export function resizeCounts(
  group: Group,
  counts: Uint32Array,
  w: number,
  h: number,
): { w: number; h: number; counts: Uint32Array } {
  const wave = group !== 'vector' && group !== 'strip';
  const [cw, ch] =
    group === 'vector'
      ? [VECTOR_CELLS, VECTOR_CELLS]
      : group === 'strip'
        ? [STRIP_COLUMNS, STRIP_LEVELS]
        : [WAVE_COLUMNS, WAVE_LEVELS];
  const W = Math.max(1, Math.min(w, cw));
  const H = Math.max(1, Math.min(h, ch));
  const out = new Uint32Array(W * H);
  const col = spread(cw, W, false);
  const row = spread(ch, H, wave);
  // Waveforms lie column after column, the others row after row: `slow` is the direction that changes last.
  const [slow, fast] = wave ? [col, row] : [row, col];
  const [slowStep, fastStep] = wave ? [1, W] : [W, 1];
  const [outer, inner] = wave ? [cw, ch] : [ch, cw];
  for (let a = 0, i = 0; a < outer; a++) {
    const base = slow.at[a]! * slowStep;
    const ss = slow.share[a]!;
    for (let b = 0; b < inner; b++, i++) {
      const v = counts[i]!;
      if (v === 0) continue;
      const o = base + fast.at[b]! * fastStep;
      const fs = fast.share[b]!;
      const near = ss === 1 ? v : (v * ss + 0.5) | 0;
      const here = fs === 1 ? near : (near * fs + 0.5) | 0;
      out[o]! += here;
      if (near > here) out[o + fastStep]! += near - here;
      if (v > near) {
        const far = v - near;
        const first = fs === 1 ? far : (far * fs + 0.5) | 0;
        out[o + slowStep]! += first;
        if (far > first) out[o + slowStep + fastStep]! += far - first;
      }
    }
  }
  return { w: W, h: H, counts: out };
}
