import type { OutsideLimits } from '../core/skin/limits';
import type { LimitsReply } from '../protocol/messages';

const share = (n: number, of: OutsideLimits): string => {
  const pct = of.pixels > 0 ? (100 * n) / of.pixels : 0;
  // A single pixel is not nothing.
  return n > 0 && pct < 0.01 ? 'under 0.01 %' : `${pct.toFixed(n > 0 && pct < 1 ? 2 : 1)} %`;
};
/** In words: what leaves the limits, on which side, and what it was before. */
export function limitsSaid({ before, after }: LimitsReply): string {
  if (after.any === 0)
    return before.any === 0
      ? 'All pixels lie within these limits, as before.'
      : `All pixels lie within these limits; before, ${share(before.any, before)} did not.`;
  const sides = [
    after.low > 0 ? `${share(after.low, after)} below` : '',
    after.high > 0 ? `${share(after.high, after)} above` : '',
  ].filter(Boolean);
  return `${share(after.any, after)} of the picture leaves these limits (${sides.join(', ')}); before, ${share(
    before.any,
    before,
  )}.`;
}
