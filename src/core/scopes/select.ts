/** What a person marks in a scope: which colours it means. */
import { STRIP_DEG, VECTOR_RANGE } from './reduce';
import type { WaveName } from './reduce';
import { polygonMask } from '../math/polygon';
import type { Corner } from '../math/polygon';
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT, rgbToYcbcr } from '../color/ycbcr';
import { wrap180 } from '../math/angle';

/**
 * `vector`: corners in (Cb, Cr); `strip`: corners in (off-line degrees, luma); `band`: a range of one signal (Cb and
 * Cr as they are).
 */
export type ScopeSelect =
  | { kind: 'vector'; points: readonly Corner[] }
  | { kind: 'strip'; points: readonly Corner[] }
  | { kind: 'band'; channel: WaveName; lo: number; hi: number };
export const MASK_CELLS = 512;
export const channels: readonly WaveName[] = ['y', 'r', 'g', 'b', 'cb', 'cr'];

/** A lasso as a grid of MASK_CELLS squared over the whole scope; null for a band. */
export function selectMask(s: ScopeSelect): Uint8Array | null {
  if (s.kind === 'band') return null;
  const at =
    s.kind === 'vector'
      ? ([cb, cr]: Corner): Corner => [gridOf(cb, -VECTOR_RANGE, VECTOR_RANGE), gridOf(cr, -VECTOR_RANGE, VECTOR_RANGE)]
      : ([d, y]: Corner): Corner => [gridOf(d, -STRIP_DEG, STRIP_DEG), gridOf(y, 0, 1)];
  return polygonMask(s.points.map(at), MASK_CELLS, MASK_CELLS);
}
const gridOf = (v: number, lo: number, hi: number): number => ((v - lo) / (hi - lo)) * MASK_CELLS;
const inMask = (mask: Uint8Array, x: number, y: number): boolean =>
  x >= 0 && y >= 0 && x < MASK_CELLS && y < MASK_CELLS && mask[Math.floor(y) * MASK_CELLS + Math.floor(x)] === 1;

/** Kinds as numbers, for arguments of a band task: 1 vector, 2 strip, 3.. channels; 0 none. */
export const selectCode = (s: ScopeSelect | null): number =>
  !s ? 0 : s.kind === 'vector' ? 1 : s.kind === 'strip' ? 2 : 3 + channels.indexOf(s.channel);
export function selects(
  code: number,
  mask: Uint8Array,
  lo: number,
  hi: number,
  skinLineDeg: number,
  r: number,
  g: number,
  b: number,
): boolean {
  if (code === 4) return r >= lo && r <= hi;
  if (code === 5) return g >= lo && g <= hi;
  if (code === 6) return b >= lo && b <= hi;
  const [y, cb, cr] = rgbToYcbcr(r, g, b);
  if (code === 1) return inMask(mask, gridOf(cb, -VECTOR_RANGE, VECTOR_RANGE), gridOf(cr, -VECTOR_RANGE, VECTOR_RANGE));
  if (code === 2)
    return (
      chromaPct(cb, cr) >= NEUTRAL_CHROMA_PCT &&
      inMask(mask, gridOf(wrap180(hueDeg(cb, cr) - skinLineDeg), -STRIP_DEG, STRIP_DEG), gridOf(y, 0, 1))
    );
  const v = code === 3 ? y : code === 7 ? cb : cr;
  return v >= lo && v <= hi;
}
