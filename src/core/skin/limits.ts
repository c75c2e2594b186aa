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
const code = (v: number): number => Math.floor(v * 65535 + 0.5);

/** What is no number is black in a file. `tick` may throw to end the work. */
export function outsideLimits(p: Rgb, { lowPct, highPct }: Limits, tick: () => void = () => {}): OutsideLimits {
  if (!(lowPct < highPct)) throw new RangeError('The lower limit must lie below the upper one');
  const n = p.r.length;
  const [least, most] = [code(lowPct / 100), code(highPct / 100)];
  const out = { low: 0, high: 0, any: 0, pixels: n };
  for (let i = 0; i < n; i++) {
    if (i % TICK_PIXELS === 0) tick();
    let [low, high] = [false, false];
    for (const v of [p.r[i]!, p.g[i]!, p.b[i]!]) {
      const c = Number.isNaN(v) ? 0 : code(v);
      if (c < least) low = true;
      if (c > most) high = true;
    }
    if (low) out.low++;
    if (high) out.high++;
    if (low || high) out.any++;
  }
  return out;
}
