/** What curves of gain and loss stand over: hue, level, saturation; and how much of a picture has each. */
import { DEG } from '../../core/math/angle';
import { closed } from '../../core/math/closed';
import { open } from '../../core/math/open';
import type { BendAxis } from '../../ui/BendCurve';
import { colourAt } from '../../ui/keyColours';

const css = (c: readonly number[]): string => `rgb(${c.map((v) => Math.round(255 * v)).join(',')})`;
const SKIN_DEG = 123;
const polar = (deg: number, chroma: number): string =>
  css(colourAt('scope', (chroma / 2) * Math.cos(deg / DEG), (chroma / 2) * Math.sin(deg / DEG)));
export const axes = {
  hue: {
    name: 'hue',
    most: 360,
    closed: true,
    unit: '\u00b0',
    through: (p) => closed(p, 360),
    colours: Array.from({ length: 72 }, (_, i) => polar((i + 0.5) * 5, 0.4)),
    tick: { at: SKIN_DEG, says: 'skin' },
    step: 15,
  },
  level: {
    name: 'level',
    most: 100,
    closed: false,
    unit: ' %',
    through: open,
    colours: Array.from({ length: 50 }, (_, i) => css([0, 1, 2].map(() => (i + 0.5) / 50))),
    step: 8,
  },
  sat: {
    name: 'saturation',
    most: 100,
    closed: false,
    unit: ' %',
    through: open,
    // Of the skin's hue: any would do.
    colours: Array.from({ length: 50 }, (_, i) => polar(SKIN_DEG, (i + 0.5) / 50)),
    step: 8,
  },
} as const satisfies Record<string, BendAxis>;

/** Chroma in % below which a hue is not counted. */
const GREY = 3;
/**
 * How much of a picture has each hue (72 steps) or each saturation (50 steps), the most being 1.
 *
 * @param plane density over Cb and Cr, n rows of n (see Distributions)
 */
export function binsOf(plane: Uint8Array, n: number, over: 'hue' | 'sat'): number[] {
  const steps = over === 'hue' ? 72 : 50;
  const sums = new Array<number>(steps).fill(0);
  for (let i = 0; i < n * n; i++) {
    if (plane[i] === 0) continue;
    const [cb, cr] = [((i % n) + 0.5) / n - 0.5, 0.5 - (Math.floor(i / n) + 0.5) / n];
    const chroma = 200 * Math.sqrt(cb * cb + cr * cr);
    if (over === 'hue' && chroma < GREY) continue;
    const share = over === 'hue' ? (((Math.atan2(cr, cb) * DEG + 360) % 360) / 360) * steps : chroma / 2;
    sums[Math.min(steps - 1, Math.floor(share))]! += plane[i]! ** 2;
  }
  const most = Math.max(1e-9, ...sums);
  return sums.map((v) => Math.sqrt(v / most));
}
