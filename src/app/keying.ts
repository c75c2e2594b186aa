/**
 * Keyframes of a correction as a person sees them: a lane for each value that moves; of a shape one lane for all of its
 * geometry.
 */
import { allTerms, mapTermUses } from '../core/graph/region';
import type { OpUse } from '../core/graph/plan';
import { opById } from '../core/graph/plan';
import { addKey, canKey, copyKeys, dropKeys, easeKeys, keysOf, moveKeys } from '../core/op/keys';
import type { Ease, StoredValue } from '../core/op/params';
import { migrateUse } from '../document/check';
import type { CorrectionRecord } from '../document/records';
import { correction, editCorrection } from './edit';
import { sayNews } from './notices';
import { useDoc, useSession } from './store';

export interface Lane {
  /** The operation and the parameter; of a shape the operation alone, of the mix `mix`. */
  id: string;
  title: string;
  /** Parameters that move in it; empty: the mix. */
  names: readonly string[];
  use: string | null;
  frames: readonly number[];
  /** How each goes on; of those that differ the first. */
  eases: Readonly<Record<number, Ease>>;
}
export const MIX = 'mix';

const usesOf = (c: CorrectionRecord): { use: OpUse; title: string }[] => [
  ...allTerms(c.terms).flatMap((t) => ('use' in t ? [{ use: t.use, title: t.name || opById(t.use.op).title }] : [])),
  ...[...c.tidy, ...c.adjustments].map((use) => ({ use, title: use.name ?? opById(use.op).title })),
];
/** Names of parameters that can move: numbers and lists. */
const movable = (use: OpUse): string[] =>
  Object.entries(opById(use.op).params).flatMap(([n, s]) => (s.kind === 'num' || s.kind === 'list' ? [n] : []));
const isShape = (use: OpUse): boolean => opById(use.op).kind === 'shape';

function lane(id: string, title: string, use: string | null, names: readonly string[], values: StoredValue[]): Lane {
  const eases: Record<number, Ease> = {};
  for (const v of values) for (const k of keysOf(v)) eases[k.frame] ??= k.ease;
  const frames = Object.keys(eases)
    .map(Number)
    .sort((a, b) => a - b);
  return { id, title, names, use, frames, eases };
}
/** Every lane there could be, those that move and those that stand still. */
export function allLanes(c: CorrectionRecord): Lane[] {
  return [
    lane(MIX, 'Mix', null, [], [c.mixPct]),
    ...usesOf(c).flatMap(({ use, title }) => {
      const names = movable(use);
      const of = (n: string): StoredValue => use.params[n] ?? 0;
      if (names.length === 0) return [];
      if (isShape(use)) return [lane(use.id, title, use.id, names, names.map(of))];
      return names.map((n) =>
        lane(`${use.id}/${n}`, `${title}: ${opById(use.op).params[n]!.label.toLowerCase()}`, use.id, [n], [of(n)]),
      );
    }),
  ];
}
export const lanesOf = (c: CorrectionRecord): Lane[] => allLanes(c).filter((l) => l.frames.length > 0);
/** Frames at which anything of a correction has a key. */
export const keyFrames = (c: CorrectionRecord | null): number[] =>
  c ? [...new Set(lanesOf(c).flatMap((l) => l.frames))].sort((a, b) => a - b) : [];

type Edit = (v: StoredValue) => StoredValue;
function editLanes(corr: string, lanes: readonly Lane[], label: string, edit: Edit): void {
  const of = new Map(lanes.filter((l) => l.use).map((l) => [l.use!, new Set<string>()]));
  for (const l of lanes) if (l.use) for (const n of l.names) of.get(l.use)!.add(n);
  const changed = (use: OpUse): OpUse => {
    const names = of.get(use.id);
    if (!names) return use;
    const now = migrateUse(use);
    const params = { ...now.params };
    for (const n of names) {
      const spec = opById(now.op).params[n]!;
      const v = params[n] ?? (spec.default as StoredValue);
      const next = edit(v);
      if (next !== v) params[n] = next;
    }
    return { ...now, params };
  };
  editCorrection(corr, label, (c) => ({
    ...c,
    ...(lanes.some((l) => l.use === null) ? { mixPct: edit(c.mixPct) as CorrectionRecord['mixPct'] } : {}),
    terms: mapTermUses(c.terms, changed),
    tidy: c.tidy.map(changed),
    adjustments: c.adjustments.map(changed),
  }));
}
/** Which keys: frames of lanes. */
export type Chosen = readonly { lane: Lane; frames: ReadonlySet<number> }[];
/** One step, whatever lanes and frames it is about. */
function each(
  corr: string,
  chosen: Chosen,
  label: string,
  edit: (v: StoredValue, frames: ReadonlySet<number>) => StoredValue,
): void {
  const doc = useDoc.getState();
  // Within a drag the step is made when the hand lets go.
  const own = doc.mark === null;
  if (own) doc.begin(label);
  for (const x of chosen) editLanes(corr, [x.lane], label, (v) => edit(v, x.frames));
  if (own) doc.end();
}
export const removeKeys = (corr: string, chosen: Chosen): void =>
  each(corr, chosen, 'Remove keys', (v, f) => dropKeys(v, f));
export const shiftKeys = (corr: string, chosen: Chosen, by: number): void =>
  each(corr, chosen, 'Move keys', (v, f) => moveKeys(v, f, by));
export const repeatKeys = (corr: string, chosen: Chosen, by: number): void =>
  each(corr, chosen, 'Copy keys', (v, f) => copyKeys(v, f, by));
export const setEase = (corr: string, chosen: Chosen, ease: Ease): void =>
  each(corr, chosen, 'Change how keys go on', (v, f) => easeKeys(v, f, ease));

/** A key of a lane at a frame, or none there any more. */
export function toggleKey(corr: string, id: string, frame = useSession.getState().frame): void {
  const c = correction(corr);
  const l = c && allLanes(c).find((x) => x.id === id);
  if (!l) return;
  if (l.frames.includes(frame)) editLanes(corr, [l], 'Remove a key', (v) => dropKeys(v, new Set([frame])));
  else editLanes(corr, [l], 'Set a key', (v) => (canKey(v) ? addKey(v, frame) : v));
}
/**
 * A key for what is at hand: the chosen part of the region when it is a shape, else all that moves already.
 */
export function keyHere(corr: string): void {
  const c = correction(corr);
  if (!c) return;
  const frame = useSession.getState().frame;
  const { term } = useSession.getState();
  const part = allTerms(c.terms).find((t) => t.id === term);
  const shape = part && 'use' in part && isShape(part.use) ? allLanes(c).find((l) => l.id === part.use.id) : undefined;
  const lanes = shape ? [shape] : lanesOf(c);
  if (lanes.length === 0) {
    sayNews('Choose a shape of the region first, or a value under Keys: it gets its first key there.');
    return;
  }
  const all = lanes.every((l) => l.frames.includes(frame));
  editLanes(corr, lanes, all ? 'Remove keys' : 'Set keys', (v) =>
    all ? dropKeys(v, new Set([frame])) : canKey(v) ? addKey(v, frame) : v,
  );
}
/** The next key after a frame, or the one before. */
export function nearKey(c: CorrectionRecord | null, frame: number, by: 1 | -1): number | null {
  const list = keyFrames(c);
  return (by > 0 ? list.find((f) => f > frame) : [...list].reverse().find((f) => f < frame)) ?? null;
}
