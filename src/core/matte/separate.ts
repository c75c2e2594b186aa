/**
 * What tells two sets of colours apart: how well hue, saturation or luma alone does, as the area under the curve of the
 * distance from the kept median (J. Hanley, B. McNeil, "The meaning and use of the area under a ROC curve", Radiology
 * 143,
 * 1982): 1 tells them apart, 0.5 says nothing.
 */
import { medianOf } from '../math/stats';
import { DEG, wrap180 } from '../math/angle';
import { rgbToYcbcr } from '../color/ycbcr';

export const AXES = ['hue', 'saturation', 'luma'] as const;
export type SeparateAxis = (typeof AXES)[number];
export type Separation = Record<SeparateAxis, number>;

/** Share of pairs in which the left one lies further out than the kept one; ties count half. */
export function areaUnderCurve(kept: readonly number[], left: readonly number[]): number {
  const all = [...kept.map((v) => [v, 0] as const), ...left.map((v) => [v, 1] as const)].sort((a, b) => a[0] - b[0]);
  let sum = 0;
  for (let i = 0; i < all.length;) {
    let j = i;
    let out = 0;
    while (j < all.length && all[j]![0] === all[i]![0]) out += all[j++]![1];
    // Ranks of equal values are their mean.
    sum += out * ((i + 1 + j) / 2);
    i = j;
  }
  return (sum - (left.length * (left.length + 1)) / 2) / (kept.length * left.length);
}

/** Of R'G'B' samples one after the other; null where one of the two has none. */
export function separation(keep: ArrayLike<number>, leave: ArrayLike<number>): Separation | null {
  if (keep.length === 0 || leave.length === 0) return null;
  const of = (s: ArrayLike<number>): { hue: number; saturation: number; luma: number }[] =>
    Array.from({ length: s.length / 3 }, (_, i) => {
      const [y, cb, cr] = rgbToYcbcr(s[3 * i]!, s[3 * i + 1]!, s[3 * i + 2]!);
      return { hue: Math.atan2(cr, cb) * DEG, saturation: Math.hypot(cb, cr), luma: y };
    });
  const [k, l] = [of(keep), of(leave)];
  const cb = k.reduce((a, v) => a + v.saturation * Math.cos(v.hue / DEG), 0);
  const cr = k.reduce((a, v) => a + v.saturation * Math.sin(v.hue / DEG), 0);
  const mid = {
    hue: Math.atan2(cr, cb) * DEG,
    saturation: medianOf(k.map((v) => v.saturation)),
    luma: medianOf(k.map((v) => v.luma)),
  };
  const off = (v: (typeof k)[number], axis: SeparateAxis): number =>
    Math.abs(axis === 'hue' ? wrap180(v.hue - mid.hue) : v[axis] - mid[axis]);
  const one = (axis: SeparateAxis): number => {
    const a = areaUnderCurve(
      k.map((v) => off(v, axis)),
      l.map((v) => off(v, axis)),
    );
    return Math.max(a, 1 - a);
  };
  return { hue: one('hue'), saturation: one('saturation'), luma: one('luma') };
}
/** From how much on, and how it is told of one and of several. */
const TOLD = [
  [0.97, 'separates your strokes', 'separate your strokes'],
  [0.85, 'mostly separates them', 'mostly separate them'],
  [0.65, 'helps a little', 'help a little'],
  [0, 'does not help', 'do not help'],
] as const;
/** The whole in one sentence, what does it best first. */
export function separationSaid(s: Separation): string {
  const best = [...AXES].sort((a, b) => s[b] - s[a]);
  if (s[best[0]!] < 0.65)
    return 'These two share hue, saturation and luma: only their edge and their place tell them apart.';
  const parts = TOLD.flatMap(([from, one, more], i) => {
    const here = best.filter((a) => s[a] >= from && (i === 0 || s[a] < TOLD[i - 1]![0]));
    const names = here.length > 1 ? `${here.slice(0, -1).join(', ')} and ${here.at(-1)}` : here[0];
    return names ? [`${names} ${here.length > 1 ? more : one}`] : [];
  });
  const text = parts.join(', ');
  return `${text[0]!.toUpperCase()}${text.slice(1)}.`;
}
