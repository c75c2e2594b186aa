/**
 * How much of a picture leaves the limits that its receiver sets, on 16-bit codes of the signal, not yet held to what a
 * file can store: what a file would clip counts as well. Ready limits: EBU R 103 v3.0, 2020 (R'G'B' from -5 to 105 %;
 * from memory).
 */
import { TICK_PIXELS } from './surround';
import type { Rgb } from './surround';

/** Percent of the signal. */
export interface Limits {
  lowPct: number;
  highPct: number;
}
export const LIMITS: Limits = { lowPct: 0, highPct: 100 };
export const EBU_R103: Limits = { lowPct: -5, highPct: 105 };

/** Pixels of which a channel is below, or above; one can be both. */
export interface OutsideLimits {
  low: number;
  high: number;
  /** Either. */
  any: number;
  pixels: number;
}
const dark = (v: number): number => (Number.isNaN(v) ? 0 : v);
const code = (v: number): number => Math.floor(v * 65535 + 0.5);

/** What is no number is black in a file. `tick` may throw to end the work. */
export function outsideLimits(p: Rgb, { lowPct, highPct }: Limits, tick: () => void = () => {}): OutsideLimits {
  if (!(lowPct < highPct)) throw new RangeError('The lower limit must lie below the upper one');
  const n = p.r.length;
  const [least, most] = [code(lowPct / 100), code(highPct / 100)];
  const out = { low: 0, high: 0, any: 0, pixels: n };
  for (let i = 0; i < n; i++) {
    if (i % TICK_PIXELS === 0) tick();
    const [r, g, b] = [dark(p.r[i]!), dark(p.g[i]!), dark(p.b[i]!)];
    const low = code(Math.min(r, g, b)) < least;
    const high = code(Math.max(r, g, b)) > most;
    if (low) out.low++;
    if (high) out.high++;
    if (low || high) out.any++;
  }
  return out;
}
