/** Turn, saturation and level of colours by tables over the circle of hues. */
import { CB_DIV, CR_DIV, G_CB, G_CR, KB, KG, KR } from './ycbcr';
import { DEG } from '../math/angle';

/** Cells of a table over the circle; one more value closes it. */
export const CELLS = 1024;
/** Numbers of a place: turn, saturation, level, nothing. */
const PLACE = 4;
/** Chroma in % below which a hue says nothing, and from which it says all: level follows it in between. */
const GREY = { from: 1, to: 6 };
/** Turns are held here, so that a curve through wild points cannot wind round. */
const MOST_TURN = 180;

/** In place; the block is that of `hueTables`. */
export function byHueTables(
  k: Float32Array,
  { r, g, b, n }: { r: Float32Array; g: Float32Array; b: Float32Array; n: number },
): void {
  for (let i = 0; i < n; i++) {
    const [R, G, B] = [r[i]!, g[i]!, b[i]!];
    const y = KR * R + KG * G + KB * B;
    const cb = (B - y) / CB_DIV;
    const cr = (R - y) / CR_DIV;
    const chroma = 200 * Math.sqrt(cb * cb + cr * cr);
    const deg = Math.atan2(cr, cb) * DEG;
    const at = (deg < 0 ? deg + 360 : deg) * (CELLS / 360);
    const cell = at > 0 ? Math.min(CELLS - 1, Math.floor(at)) : 0;
    const f = at - cell;
    const at0 = PLACE * cell;
    const look = (t: number): number => k[at0 + t]! + f * (k[at0 + PLACE + t]! - k[at0 + t]!);
    const turn = look(0) / DEG;
    const gain = 1 + look(1);
    const t = Math.min(1, Math.max(0, (chroma - GREY.from) / (GREY.to - GREY.from)));
    const level = 1 + look(2) * t * t * (3 - 2 * t);
    const [c, s] = [gain * Math.cos(turn) - 1, gain * Math.sin(turn)];
    // Differences: where nothing bends, not a bit moves.
    const db = c * cb - s * cr;
    const dr = s * cb + c * cr;
    r[i] = level * (R + CR_DIV * dr);
    g[i] = level * (G + G_CB * db + G_CR * dr);
    b[i] = level * (B + CB_DIV * db);
  }
}

/**
 * A table of 1025 places, four numbers each: turn in degrees, saturation and level as shares, and 0.
 *
 * @param curves of a hue in degrees: turn in degrees, saturation and level in %
 */
export function hueTables(curves: readonly [turn: Curve, sat: Curve, level: Curve]): Float32Array {
  const out = new Float32Array(PLACE * (CELLS + 1));
  curves.forEach((f, n) => {
    const [lo, hi] = n === 0 ? [-MOST_TURN, MOST_TURN] : [-100, 400];
    for (let i = 0; i <= CELLS; i++) {
      const v = Math.min(hi, Math.max(lo, f((i * 360) / CELLS)));
      out[PLACE * i + n] = n === 0 ? v : v / 100;
    }
  });
  return out;
}
type Curve = (deg: number) => number;
