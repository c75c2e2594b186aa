/** Version 1 told a range by centre, whole width and one softness for both sides. */
import { isKeyframed, valueAt } from '../../op/params';
import type { Keyframed, StoredValue, StoredValues } from '../../op/params';

/** Defaults of version 1. */
const OLD = {
  hue: { unit: 'Deg', centre: 123, width: 30, soft: 10 },
  sat: { unit: 'Pct', centre: 25, width: 30, soft: 5 },
  luma: { unit: 'Pct', centre: 50, width: 60, soft: 10 },
} as const;
type Num = number | Keyframed;

/** f of two values: exact where the keys of both stand on the same frames with the same ease, or one has none. */
function combine(a: Num, b: Num, f: (x: number, y: number) => number): Num {
  if (!isKeyframed(a) && !isKeyframed(b)) return f(a, b);
  const keys = [...(isKeyframed(a) ? a.keys : []), ...(isKeyframed(b) ? b.keys : [])];
  const frames = [...new Set(keys.map((k) => k.frame))].sort((x, y) => x - y);
  return {
    keys: frames.map((frame) => ({
      frame,
      value: f(valueAt(a, frame), valueAt(b, frame)),
      ease: keys.find((k) => k.frame === frame)!.ease,
    })),
  };
}

export function rangesFromCentres(stored: StoredValues): StoredValues {
  const out: Record<string, StoredValue> = {};
  for (const [k, v] of Object.entries(stored)) if (!/(Centre|Width|Soft)(Deg|Pct)$/.test(k)) out[k] = v;
  for (const [name, { unit, ...def }] of Object.entries(OLD)) {
    const has = (p: string): boolean => `${name}${p}${unit}` in stored;
    const of = (p: 'Centre' | 'Width' | 'Soft'): Num =>
      (stored[`${name}${p}${unit}`] ?? def[p.toLowerCase() as 'centre']) as Num;
    if (has('Centre') || has('Width')) {
      const [c, w] = [of('Centre'), of('Width')];
      out[`${name}From${unit}`] = combine(c, w, (x, y) => x - y / 2);
      out[`${name}To${unit}`] = combine(c, w, (x, y) => x + y / 2);
    }
    if (has('Soft')) out[`${name}FadeFrom${unit}`] = out[`${name}FadeTo${unit}`] = of('Soft');
  }
  return out;
}
