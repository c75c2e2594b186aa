/** What makes a reading of skin doubtful, in words with their figures, before anything is pushed by it. */
import { NEUTRAL_CHROMA_PCT } from '../color/ycbcr';
import { wrap180 } from '../math/angle';
import { formatNumber } from '../op/words';
import type { Reading } from './reading';

/** Below this luma, with hue spread this wide, noise decides as much as skin: common practice. */
const DARK_PCT = 20;
const NOISY_DEG = 12;
/** Of a patch. A glint or two are skin's own. */
const BLOWN = 0.02;

const signed = (v: number): string => `${formatNumber(wrap180(v), 1, true)}\u00b0`;
const whole = (v: number): string => `${(100 * v).toFixed(0)} %`;

/** @param r of skin as it came: what is lost there does not come back */
export function skinWarnings(r: Reading): string[] {
  const out: string[] = [];
  if (r.offLineDeg === null)
    out.push(
      `Too neutral to read a hue: ${r.chromaPct.toFixed(1)} % chroma, at least ${NEUTRAL_CHROMA_PCT} % are needed.`,
    );
  if (r.lumaPct < DARK_PCT && r.hueSpreadDeg !== null && r.hueSpreadDeg > NOISY_DEG)
    out.push(
      `Too dark: at luma ${r.lumaPct.toFixed(0)} % its hue spreads by ${r.hueSpreadDeg.toFixed(0)}\u00b0, noise ` +
        'decides as much as skin. Measure a lighter part of it.',
    );
  if (r.topShare > BLOWN)
    out.push(
      `Too bright: ${whole(r.topShare)} of it lie at white in a channel. What is cut off has lost its hue and does ` +
        'not come back. Measure beside it.',
    );
  if (r.two && r.offLineDeg !== null)
    out.push(
      `Two hues: ${whole(r.two.share)} of it lie about ${signed(r.offLineDeg + r.two.low)}, the rest about ` +
        `${signed(r.offLineDeg + r.two.high)}. Under two lights a region for each of them is truer than their mean.`,
    );
  return out;
}
