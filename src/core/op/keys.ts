/** Keyframes of a stored value: set, take away, move. Pure; what a value is at a frame: params.ts. */
import { isKeyframed, isKeyframedList, listAt, valueAt } from './params';
import type { Ease, Keyframed, KeyframedList, StoredValue } from './params';

type Key = { frame: number; value: number | readonly number[]; ease: Ease };
const stored = (keys: readonly Key[]): StoredValue => ({ keys }) as StoredValue;

/** Keys of a value, none where it stands still. */
export const keysOf = (v: StoredValue | undefined): readonly Key[] =>
  isKeyframed(v) || isKeyframedList(v) ? (v as { keys: Key[] }).keys : [];
/** What can have keys: numbers and lists of them. */
export const canKey = (v: StoredValue | undefined): v is number | readonly number[] | Keyframed | KeyframedList =>
  typeof v === 'number' || Array.isArray(v) || keysOf(v).length > 0;
const at = (v: StoredValue, frame: number): number | readonly number[] =>
  typeof v === 'number' || isKeyframed(v) ? valueAt(v, frame) : listAt(v as readonly number[] | KeyframedList, frame);

/** The same value with a key at a frame that changes nothing; one that is there stays. */
export function addKey(v: StoredValue, frame: number, ease: Ease = 'smooth'): StoredValue {
  if (!canKey(v)) return v;
  const keys = keysOf(v);
  if (keys.some((k) => k.frame === frame)) return v;
  const before = [...keys].reverse().find((k) => k.frame < frame);
  const key: Key = { frame, value: at(v, frame), ease: before?.ease ?? keys[0]?.ease ?? ease };
  return stored([...keys, key].sort((a, b) => a.frame - b.frame));
}
/** Without the keys at these frames; without its last key it stands still at what that one held. */
export function dropKeys(v: StoredValue, frames: ReadonlySet<number>): StoredValue {
  const keys = keysOf(v);
  const left = keys.filter((k) => !frames.has(k.frame));
  if (left.length === keys.length) return v;
  return left.length > 0 ? stored(left) : (keys[0]!.value as StoredValue);
}
/**
 * The keys at these frames moved by some frames; one that lands on another takes its place, none goes before frame 0.
 */
export function moveKeys(v: StoredValue, frames: ReadonlySet<number>, by: number): StoredValue {
  const keys = keysOf(v);
  const moving = keys.filter((k) => frames.has(k.frame));
  if (moving.length === 0 || by === 0) return v;
  const d = Math.max(by, -moving[0]!.frame);
  const moved = moving.map((k) => ({ ...k, frame: k.frame + d }));
  const taken = new Set(moved.map((k) => k.frame));
  const rest = keys.filter((k) => !frames.has(k.frame) && !taken.has(k.frame));
  return stored([...rest, ...moved].sort((a, b) => a.frame - b.frame));
}
/** Copies of the keys at these frames, so many frames later. */
export function copyKeys(v: StoredValue, frames: ReadonlySet<number>, by: number): StoredValue {
  const keys = keysOf(v);
  const copies = keys.filter((k) => frames.has(k.frame)).map((k) => ({ ...k, frame: Math.max(0, k.frame + by) }));
  if (copies.length === 0) return v;
  const taken = new Set(copies.map((k) => k.frame));
  return stored([...keys.filter((k) => !taken.has(k.frame)), ...copies].sort((a, b) => a.frame - b.frame));
}
/** How the value goes on from the keys at these frames. */
export function easeKeys(v: StoredValue, frames: ReadonlySet<number>, ease: Ease): StoredValue {
  const keys = keysOf(v);
  return keys.length === 0 ? v : stored(keys.map((k) => (frames.has(k.frame) ? { ...k, ease } : k)));
}
