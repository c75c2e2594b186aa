import { defaultsOf, isKeyframed, listAt, valueAt } from '../core/op/params';
import type { Keyframed, KeyframedList, StoredValue } from '../core/op/params';
import { opById } from '../core/graph/plan';
import type { OpUse } from '../core/graph/plan';
import type { ShotRecord } from '../document/records';
import { useSession } from './store';

/** The frame that is looked at; what is shown of keyframed values follows it. */
export const useFrame = (): number => useSession((s) => s.frame);
/** Values of an operation at a frame, defaults filled in. */
export function valuesOf(use: OpUse, frame: number): Record<string, number> {
  const out: Record<string, number> = {};
  for (const [k, d] of Object.entries(defaultsOf(opById(use.op).params))) {
    const v = use.params[k] ?? d;
    out[k] = isKeyframed(v as StoredValue) ? valueAt(v as Keyframed, frame) : Number(v);
  }
  return out;
}
/** A list of an operation at a frame, its default where it has none. */
export const listOf = (use: OpUse, name: string, frame: number): readonly number[] =>
  listAt((use.params[name] ?? opById(use.op).params[name]!.default) as readonly number[] | KeyframedList, frame);
/** At which frame something was read, in words; of a still nothing. */
export function useMoment(shot: ShotRecord): string {
  const at = useFrame();
  // Of a shot that is not open the first is read.
  const open = useSession((s) => s.shot === shot.id);
  const [first, last] = shot.range;
  const frame = open ? at : first;
  return last > first ? ` at frame ${Math.max(first, Math.min(last, frame))}` : '';
}
