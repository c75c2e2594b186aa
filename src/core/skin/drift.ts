/**
 * Skin that drifts: of pushes solved at some frames the fewest that need a keyframe, so that what a smooth curve gives
 * between them is as good as solved.
 */
import { valueAt } from '../op/params';
import type { Ease, Keyframed } from '../op/params';
import { DEG } from '../math/angle';
import { medianOf } from '../math/stats';
import type { Reading } from './reading';

export interface Solved {
  frame: number;
  /** Values of the operation that bring the patch to the line here: [angleDeg], or [cbPct, crPct]. */
  values: readonly number[];
  /** Of the patch as it lies then. */
  reading: Pick<Reading, 'cb' | 'cr' | 'luma'>;
}
/** Off the line by so much is seen by nobody; chroma may be off by such a share. */
const ENOUGH_DEG = 0.5;
const ENOUGH_CHROMA = 0.06;

/**
 * How far other values than those that were solved leave the patch off, 1 being the most that is let pass.
 *
 * @param gain colour difference (signal) for a push of 1 %
 */
export function missOf(s: Solved, values: readonly number[], gain: number): number {
  const by = s.values.map((v, i) => values[i]! - v);
  if (by.length === 1) return Math.abs(by[0]!) / ENOUGH_DEG;
  const { cb, cr } = s.reading;
  const c = Math.hypot(cb, cr);
  if (c === 0) return 0;
  const across = (gain * (-cr * by[0]! + cb * by[1]!)) / (c * c);
  const along = (gain * (cb * by[0]! + cr * by[1]!)) / (c * c);
  return Math.max((Math.abs(across) * DEG) / ENOUGH_DEG, Math.abs(along) / ENOUGH_CHROMA);
}
const EASE: Ease = 'smooth';
/** Each number of the values with keys at these frames. */
export const keyed = (keys: readonly Pick<Solved, 'frame' | 'values'>[]): (number | Keyframed)[] =>
  keys[0]!.values.map((_, i) =>
    keys.length === 1
      ? keys[0]!.values[i]!
      : { keys: keys.map((k) => ({ frame: k.frame, value: k.values[i]!, ease: EASE })) },
  );

/**
 * The frames that need a key: one where a single push holds all over, else the ends and, one by one, where what lies
 * between misses most.
 *
 * @param list at least one, frames rising
 * @param gain of each, see `missOf`
 * @param most keys
 */
export function keysFor(list: readonly Solved[], gain: (s: Solved) => number, most = 16): Solved[] {
  const worst = (keys: readonly Solved[]): { at: number; miss: number } => {
    const curves = keyed(keys);
    let found = { at: 0, miss: 0 };
    for (const [at, s] of list.entries()) {
      const miss = missOf(
        s,
        curves.map((c) => valueAt(c, s.frame)),
        gain(s),
      );
      if (miss > found.miss) found = { at, miss };
    }
    return found;
  };
  // The one in the middle of all: noise of a single frame is not held over the clip.
  const middle = list[0]!.values.map((_, i) => medianOf(list.map((s) => s.values[i]!)));
  const one = { ...list[list.length >> 1]!, values: middle };
  if (list.length === 1 || worst([one]).miss <= 1) return [one];
  const chosen = new Set([0, list.length - 1]);
  for (;;) {
    const keys = [...chosen].sort((a, b) => a - b).map((i) => list[i]!);
    const { at, miss } = worst(keys);
    if (miss <= 1 || keys.length >= Math.min(most, list.length) || chosen.has(at)) return keys;
    chosen.add(at);
  }
}
