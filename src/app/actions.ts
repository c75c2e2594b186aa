/** What a person can do to the document, each a step with a name. Regions: region.ts; scenes: scenes.ts. */
import { isAdjustment } from '../core/op/contract';
import { create } from 'zustand';
import { ycbcrToRgb } from '../core/color/ycbcr';
import type { EncodingRef } from '../core/color/encodings';
import { newUse } from '../core/graph/plan.defaults';
import type { CorrectionSpec, OpTerm, OpUse, Term } from '../core/graph/plan';
import { opById } from '../core/graph/plan';
import { ops } from '../core/ops/registry.gen';
import { isLink, isMatte, isOp, linksOf, mapTerms, mapTermUses, mattesOf, opTerms, OWN } from '../core/graph/region';
import { addKey, keysOf } from '../core/op/keys';
import { isKeyframedList, resolve, tryResolve, withKey } from '../core/op/params';
import type { StoredValue } from '../core/op/params';
import type { KeySpace } from '../core/matte/keySpace';
import { nearColours } from '../core/matte/near';
import type { NearColours } from '../core/matte/near';
import { addToKey, fitKey, takeFromKey } from '../core/skin/fitKey';
import type { KeyFit } from '../core/skin/fitKey';
import type { Box } from '../core/skin/reading';
import { migrateUse } from '../document/check';
import { put, remove } from '../document/history';
import { chartOf, correctionsOf, isBeside, newId, ownCorrectionsOf, patchesOf, specsOf } from '../document/records';
import type {
  ChartRecord,
  CorrectionRecord,
  MediaId,
  MediaRecord,
  OwnerId,
  PatchRecord,
  Records,
  ShotId,
  ShotRecord,
} from '../document/records';
import type { ReadAs, Sampled, ShotState } from '../protocol/messages';
import { useLive } from './live';
import { mediaKey } from './mediaKey';
import { sayError, sayNews } from './notices';
import { correction, editCorrection, freeName, tooDeep, useId } from './edit';
import { addTerm, freshTerms, withoutLinks } from './region';
import { useDoc, useSession } from './store';
import type { Sampling } from './store';

export { correction, editCorrection } from './edit';

const doc = () => useDoc.getState();
const session = () => useSession.getState();

/** The frame of a shot that is looked at: of the open one where the playhead stands, of others the first. */
export const frameOf = (shot: ShotRecord): number =>
  session().shot === shot.id ? Math.max(shot.range[0], Math.min(shot.range[1], session().frame)) : shot.range[0];
/** Mattes by the names that requests use for their media. */
function withMattes(records: Records, c: CorrectionSpec): CorrectionSpec {
  if (mattesOf(c).length === 0) return c;
  const terms = mapTerms(c.terms, (t) =>
    isMatte(t) && t.matte !== OWN ? { ...t, matte: mediaKey(records, t.matte as MediaId) } : t,
  );
  return { ...c, terms };
}
export function shotState(records: Records, shot: ShotRecord, bypass = false, frame = frameOf(shot)): ShotState {
  return {
    media: mediaKey(records, shot.media),
    encoding: shot.encoding,
    conversion: shot.conversion,
    frame,
    corrections: specsOf(records, shot).map((c) => withMattes(records, bypass ? { ...c, on: false } : c)),
  };
}

/** The chosen correction of a shot: the one the session names, else the last. */
export function chosenCorrection(records: Records, shot: ShotId, id: string | null): CorrectionRecord | null {
  const list = correctionsOf(records, shot);
  return list.find((c) => c.id === id) ?? list.at(-1) ?? null;
}

/** The tidy steps that a new correction has, as the operations say. */
export const standingTidy = (): OpUse[] =>
  ops
    .flatMap((o) => (o.kind === 'tidy' && o.standing ? [o] : []))
    .sort((a, b) => a.place - b.place)
    .map((o) => newUse(useId(), o.id));
const placeOf = (op: string): number => {
  const o = opById(op);
  return o.kind === 'tidy' ? o.place : 0;
};
/** It comes where such a step usually stands: before the first that usually follows it. */
export function addTidy(corr: string, op: string, params: Record<string, StoredValue> = {}): void {
  const o = opById(op);
  const begins = (o.kind === 'tidy' ? o.added : undefined) as Record<string, StoredValue> | undefined;
  const use = newUse(useId(), op, { ...begins, ...params });
  editCorrection(corr, 'Add a tidy step', (c) => {
    const i = c.tidy.findIndex((u) => placeOf(u.op) > placeOf(op));
    return { ...c, tidy: i < 0 ? [...c.tidy, use] : [...c.tidy.slice(0, i), use, ...c.tidy.slice(i)] };
  });
}
/** Sets steps to values, adding those that are not there; one undo. */
export function applyTidy(corr: string, steps: readonly { op: string; params: Record<string, StoredValue> }[]): void {
  doc().begin('Tidy the matte');
  for (const { op, params } of steps) {
    const there = correction(corr)?.tidy.find((u) => u.op === op);
    if (!there) addTidy(corr, op, params);
    else {
      setParams(corr, there.id, params);
      if (!there.on) setUseOn(corr, there.id, true);
    }
  }
  doc().end();
}
export function moveTidy(corr: string, use: string, by: number): void {
  editCorrection(corr, 'Reorder tidy steps', (c) => {
    const i = c.tidy.findIndex((u) => u.id === use);
    const to = Math.max(0, Math.min(c.tidy.length - 1, i + by));
    if (i < 0 || to === i) return c;
    const rest = c.tidy.filter((u) => u.id !== use);
    rest.splice(to, 0, c.tidy[i]!);
    return { ...c, tidy: rest };
  });
}

export function addCorrection(shot: ShotId): CorrectionRecord {
  const list = ownCorrectionsOf(doc().records, shot);
  const c: CorrectionRecord = {
    type: 'correction',
    id: newId('corr'),
    owner: shot,
    name: freeName(
      'Correction',
      list.map((x) => x.name),
    ),
    on: true,
    mixPct: 100,
    order: (list.at(-1)?.order ?? 0) + 1,
    terms: [],
    tidy: standingTidy(),
    adjustments: ['hueTurn', 'saturation', 'wheels'].map((op) => newUse(useId(), op)),
  };
  doc().change('Add a correction', put(c));
  session().set({ correction: c.id, step: 'isolate', term: null, conversionOpen: false });
  return c;
}

/** The correction whose outside this one is about: its region is that link and nothing else. */
export function companionOf(c: CorrectionRecord): string | null {
  const [t] = c.terms;
  return c.terms.length === 1 && t && isLink(t) && t.on && t.outside !== t.not ? t.of : null;
}
/** A correction of the outside of another one's region, behind it; of one that is there already, that one. */
export function addCompanion(
  id: string,
  adjustments = ['balance', 'saturation', 'exposure'].map((op) => newUse(useId(), op)),
): void {
  const c = correction(id);
  if (!c) return;
  const list = ownCorrectionsOf(doc().records, c.owner);
  const there = list.find((x) => companionOf(x) === id);
  if (!there) {
    const link: Term = { id: useId(), join: 'and', not: false, name: c.name, of: id, outside: true, on: true };
    const name = `${c.name.slice(0, 60)}, outside`;
    const made: CorrectionRecord = {
      type: 'correction',
      id: newId('corr'),
      owner: c.owner,
      name: list.some((x) => x.name === name)
        ? freeName(
            name,
            list.map((x) => x.name),
          )
        : name,
      on: true,
      mixPct: 100,
      order: c.order + 0.5,
      ...(c.side ? { side: c.side } : {}),
      terms: [link],
      tidy: standingTidy(),
      adjustments,
    };
    doc().change('Correct the outside too', (r) => reorder(put(made)(r), c.owner));
    session().set({ correction: made.id });
  } else session().set({ correction: there.id });
  session().set({ step: 'correct', term: null, conversionOpen: false });
}

/** The first on a side has nothing to stand beside. */
export function settle(r: Records, owner: OwnerId): Records {
  const list = ownCorrectionsOf(r, owner);
  const alone = list.filter((c, i) => c.start === 'beside' && !isBeside(c, list[i - 1]));
  return alone.length ? put(...alone.map(({ start: _, ...c }): CorrectionRecord => c))(r) : r;
}
export function removeCorrection(id: string): void {
  const c = correction(id);
  if (!c) return;
  const linked = ownCorrectionsOf(doc().records, c.owner).filter((x) => x.id !== id && linksOf(x).includes(id));
  // Regions that rest on it keep a copy of what it was.
  const kept = linked.map((x) => ({ ...x, terms: withoutLinks(x.terms, doc().records, (l) => l === id) }));
  if (kept.some((x) => tooDeep(x, x.terms))) return;
  doc().change('Remove a correction', (r) => settle(put(...kept)(remove(id)(r)), c.owner));
  if (linked.length)
    sayNews(
      `The ${linked.length > 1 ? 'regions' : 'region'} of ${linked.map((x) => `"${x.name}"`).join(', ')} rested on ` +
        `"${c.name}": its keys and shapes, not its tidying, are copied there. Ctrl Z brings it back.`,
    );
}
const fresh = (u: OpUse): OpUse => ({ ...u, id: useId() });
/** The same correction as another one, with ids of its own. */
export const copyOf = (c: CorrectionRecord, more: Partial<CorrectionRecord>): CorrectionRecord => ({
  ...c,
  ...more,
  id: newId('corr'),
  terms: freshTerms(more.terms ?? c.terms),
  tidy: c.tidy.map(fresh),
  adjustments: c.adjustments.map(fresh),
});
export function duplicateCorrection(id: string): void {
  const c = correction(id);
  if (!c) return;
  const list = ownCorrectionsOf(doc().records, c.owner);
  const copy = copyOf(c, {
    name: freeName(
      c.name,
      list.map((x) => x.name),
    ),
    order: c.order + 0.5,
  });
  doc().change('Copy a correction', (r) => reorder(put(copy)(r), c.owner));
  session().set({ correction: copy.id });
}
export function reorder(r: Records, owner: OwnerId): Records {
  return put(...ownCorrectionsOf(r, owner).map((c, i) => (c.order === i + 1 ? c : { ...c, order: i + 1 })))(r);
}
/**
 * Moves a correction to a place among those of its owner.
 * @param start how it stands there; left out: as it stood
 */
export function moveCorrection(id: string, to: number, start?: 'after' | 'beside'): void {
  const c = correction(id);
  if (!c) return;
  const list = ownCorrectionsOf(doc().records, c.owner).filter((x) => x.id !== id);
  list.splice(Math.max(0, Math.min(list.length, to)), 0, start && (c.start ?? 'after') !== start ? { ...c, start } : c);
  doc().change('Reorder corrections', (r) =>
    settle(put(...list.map((x, i) => (x.order === i + 1 ? x : { ...x, order: i + 1 })))(r), c.owner),
  );
}
/** Whether it starts from what the one before it makes, or from the same picture as that one. */
export function setStart(id: string, start: 'after' | 'beside'): void {
  const c = correction(id);
  if (!c || (c.start ?? 'after') === start) return;
  const list = ownCorrectionsOf(doc().records, c.owner);
  const i = list.indexOf(c);
  if (start === 'beside' && !isBeside({ ...c, start }, list[i - 1])) {
    sayError(
      `"${c.name}" has none before it on its side of the conversion, nothing to stand beside: move it down first.`,
    );
    return;
  }
  editCorrection(id, start === 'beside' ? 'Stand beside' : 'Stand after', (x) => ({ ...x, start }));
}

/** Every operation of a correction, wherever it stands. */
const mapUses = (c: CorrectionRecord, f: (u: OpUse) => OpUse): CorrectionRecord => ({
  ...c,
  terms: mapTermUses(c.terms, f),
  tidy: c.tidy.map(f),
  adjustments: c.adjustments.map(f),
});
/** Values of today belong onto parameters of today: an older operation is migrated first. */
/**
 * New values of an operation. A value that has keyframes gets a key at the frame that is looked at, and keeps the
 * others.
 */
function withParams(u: OpUse, params: Record<string, StoredValue>, frame = session().frame): OpUse {
  const now = migrateUse(u);
  const keyed = Object.entries(params).map(([k, v]) => {
    const plain = typeof v === 'number' || (Array.isArray(v) && isKeyframedList(now.params[k]));
    return [k, plain ? withKey(now.params[k], frame, v as number | readonly number[]) : v] as const;
  });
  const next = { ...now.params, ...Object.fromEntries(keyed) };
  // A shape's geometry is one lane: what of it has keys gets one here together.
  if (opById(now.op).kind === 'shape')
    for (const [k, v] of Object.entries(next))
      if (!(k in params) && keysOf(v).length > 0 && Object.keys(params).some((n) => keysOf(next[n]).length > 0))
        next[k] = addKey(v, frame);
  // A wrong value must not come into the document by any control: its file would not open again.
  const fault = tryResolve(opById(now.op).params, next).faults.find((f) => f.path in params);
  // What a hand has set is not what was solved.
  const { solved: _, ...own } = now;
  if (!fault) return { ...own, params: next };
  sayError(`The value was not taken: ${fault.path} ${fault.message}.`);
  return u;
}
export function setParams(corr: string, use: string, params: Record<string, StoredValue>, label?: string): void {
  editCorrection(corr, label ?? 'Change a value', (c) => mapUses(c, (u) => (u.id === use ? withParams(u, params) : u)));
}
/** Of a mix that moves, a key at the frame that is looked at. */
export function setMix(corr: string, mixPct: number): void {
  const { frame } = session();
  editCorrection(corr, 'Change the mix', (c) => ({
    ...c,
    mixPct: withKey(c.mixPct, frame, mixPct) as CorrectionRecord['mixPct'],
  }));
}
export function setUseOn(corr: string, use: string, on: boolean): void {
  editCorrection(corr, on ? 'Switch on' : 'Switch off', (c) => mapUses(c, (u) => (u.id === use ? { ...u, on } : u)));
}
export function removeUse(corr: string, use: string): void {
  editCorrection(corr, 'Remove', (c) => ({
    ...c,
    tidy: c.tidy.filter((u) => u.id !== use),
    adjustments: c.adjustments.filter((u) => u.id !== use),
  }));
}
/** The key that a sample goes to: the chosen one, else the first. */
export function chosenKey(c: CorrectionRecord | null): OpTerm | null {
  const keys = c ? opTerms(c.terms).filter((t) => t.use.op === 'key' || t.use.op === 'nearness') : [];
  return keys.find((t) => t.id === session().term) ?? keys[0] ?? null;
}
/** What the ranges of a key are measured in; of any other part, as scopes do. */
export const spaceOf = (key: OpTerm | null): KeySpace => (key?.use.params['space'] === 'oklch' ? 'oklch' : 'scope');
/**
 * How a part reads the picture; where there is none yet, the picture as it stands, as scopes measure it. A key that is
 * set anew is made in the light of the frame that is looked at.
 */
export const readAs = (key: OpTerm | null, how?: Sampling): ReadAs => ({
  base: key?.reads === 'base',
  quietPct: key?.quietPct ?? 0,
  space: spaceOf(key),
  ...(key?.light && how !== 'again' ? { light: key.light } : {}),
});
/** Whether the open shot moves. */
const moves = (): boolean => {
  const shot = doc().records[session().shot ?? ''];
  return shot?.type === 'shot' && shot.range[1] > shot.range[0];
};
/** The light that a key on a moving shot is made in, unless that was declined by hand. */
export const madeIn = (key: OpTerm | null, light: readonly number[]): Pick<OpTerm, 'light'> =>
  moves() && key?.light?.length !== 0 ? { light } : {};
const SAMPLED = { again: 'Set the key', add: 'Add to the key', take: 'Take away from the key' };
/** What a sample makes of a key, there or not yet. Throws a RangeError where nothing tells colours apart. */
export function keyAfter(
  key: OpTerm | null,
  { fit, neutralPct, lab, dots, held, encoding }: Sampled,
  how: Sampling,
): Record<string, StoredValue> {
  if (key?.use.op === 'nearness') {
    const now = resolve(opById('nearness').params, key.use.params, session().frame) as unknown as NearColours;
    return { ...nearColours(now, lab, how) };
  }
  if (!key || how === 'again') return { ...fit, neutralPct };
  const now = resolve(opById('key').params, key.use.params, session().frame) as unknown as KeyFit;
  const colours = Array.from({ length: dots.length / 3 }, (_, i) =>
    ycbcrToRgb(dots[3 * i + 2]!, dots[3 * i]!, dots[3 * i + 1]!),
  ).flat();
  // Saturation is measured as the key measures it, and only what was touched is added or goes.
  const touched = fitKey(colours, { space: now.space, encoding, leanPct: now.leanPct, narrow: true });
  return { ...(how === 'add' ? addToKey(now, touched) : takeFromKey(now, touched, held, colours, encoding)) };
}
/** Sets the chosen key to a sample, widens or narrows it by one, or adds one. Throws as `keyAfter` does. */
export function applyKeyFit(corr: string, sampled: Sampled, how: Sampling): void {
  const c = correction(corr);
  if (!c) return;
  const { dots } = sampled;
  const key = chosenKey(c);
  const params = keyAfter(key, sampled, how);
  if (!key) addTerm(corr, 'key', params);
  else {
    setParams(corr, key.use.id, params, SAMPLED[how]);
    session().set({ term: key.id });
  }
  const { term } = session();
  const lit = key && how !== 'again' ? {} : madeIn(key, sampled.light);
  if (term && lit.light)
    editCorrection(corr, SAMPLED[how], (x) => ({
      ...x,
      terms: mapTerms(x.terms, (t) => (t.id === term && isOp(t) ? { ...t, ...lit } : t)),
    }));
  const use = key?.use.id ?? session().term;
  // What was left out is not shown as sampled.
  if (use && how !== 'take')
    useLive.setState((l) => ({
      sampled: {
        use,
        dots: how === 'add' && l.sampled?.use === use ? [...l.sampled.dots, ...dots].slice(-1200) : dots,
      },
    }));
}

export function placeChart(shot: ShotId, corners: ChartRecord['corners']): void {
  const old = chartOf(doc().records, shot);
  doc().change(
    'Place a chart',
    put(
      old
        ? { ...old, corners }
        : { type: 'chart', id: newId('chart'), shot, kind: 'chart24', corners, steps: 5, greyStep: null },
    ),
  );
}
export function editChart(id: string, label: string, change: Partial<ChartRecord>): void {
  doc().change(label, (r) => {
    const c = r[id];
    return c?.type === 'chart' ? put({ ...c, ...change })(r) : r;
  });
}

export function addPatch(shot: ShotId, box: Box, points?: [number, number][]): PatchRecord {
  const list = patchesOf(doc().records, shot);
  const p: PatchRecord = {
    type: 'patch',
    id: newId('patch'),
    shot,
    name: freeName(
      'Patch',
      list.map((x) => x.name),
    ),
    kind: 'skin',
    box,
    ...(points ? { points } : {}),
    order: (list.at(-1)?.order ?? 0) + 1,
  };
  doc().change('Add a patch', put(p));
  session().set({ patch: p.id });
  return p;
}
export function editPatch(
  id: string,
  label: string,
  /** A path that is undefined goes. */
  change: Partial<Pick<PatchRecord, 'name' | 'box' | 'kind' | 'points'>> & { track?: PatchRecord['track'] | undefined },
): void {
  doc().change(label, (r) => {
    const p = r[id];
    if (p?.type !== 'patch') return r;
    const { track, ...rest } = { ...p, ...change };
    return put({ ...rest, ...(track ? { track } : {}) })(r);
  });
}
export function removePatch(id: string): void {
  doc().change('Remove a patch', remove(id));
}
export function renameShot(id: string, name: string): void {
  doc().change('Rename a shot', (r) => {
    const s = r[id];
    return s?.type === 'shot' ? put({ ...s, name })(r) : r;
  });
}
export function removeShot(id: ShotId): void {
  doc().change('Remove a shot', (r) => {
    const gone = Object.values(r)
      .filter((x) => x.id === id || ('shot' in x && x.shot === id) || ('owner' in x && x.owner === id))
      .map((x) => x.id);
    // Its picture and the mattes of its regions go with it, unless something else needs them.
    const shot = r[id];
    const media = shot?.type === 'shot' ? shot.media : null;
    const mattes = gone.flatMap((x) => (r[x]?.type === 'correction' ? mattesOf(r[x]) : []));
    const left = Object.values(r).filter((x) => !gone.includes(x.id));
    const used = new Set(
      left.flatMap((x): string[] => (x.type === 'shot' ? [x.media] : x.type === 'correction' ? mattesOf(x) : [])),
    );
    const alone = [...new Set([...(media ? [media] : []), ...mattes])].filter((m) => !used.has(m));
    return remove(...gone, ...alone)(r);
  });
}
/** What an operation begins with when it is added: where its defaults would change nothing, something. */
function addedOf(op: string): Record<string, StoredValue> {
  const o = opById(op);
  return (o.kind === 'tidy' || isAdjustment(o) ? { ...o.added } : {}) as Record<string, StoredValue>;
}
/** At the end, its controls open. */
export function addAdjustment(corr: string, op: string, params = addedOf(op)): void {
  const use = newUse(useId(), op, params);
  editCorrection(corr, 'Add an adjustment', (c) => ({ ...c, adjustments: [...c.adjustments, use] }));
  session().set({ folds: { ...session().folds, [use.id]: false }, fresh: use.id });
}
export function renameUse(corr: string, use: string, name: string): void {
  editCorrection(corr, 'Rename an adjustment', (c) => mapUses(c, (u) => (u.id === use ? { ...u, name } : u)));
}
/** Back to the defaults; what it is called and whether it is on stay. */
export function resetUse(corr: string, use: string): void {
  editCorrection(corr, 'Reset an adjustment', (c) =>
    mapUses(c, (u) => {
      if (u.id !== use) return u;
      const { solved: _, ...own } = u;
      return { ...own, version: opById(u.op).version, params: {} };
    }),
  );
}
export function moveAdjustmentTo(corr: string, use: string, to: number): void {
  editCorrection(corr, 'Reorder adjustments', (c) => {
    const u = c.adjustments.find((x) => x.id === use);
    if (!u || c.adjustments.indexOf(u) === to) return c;
    const rest = c.adjustments.filter((x) => x !== u);
    rest.splice(Math.max(0, Math.min(rest.length, to)), 0, u);
    return { ...c, adjustments: rest };
  });
}
export function moveAdjustment(corr: string, use: string, by: number): void {
  const i = correction(corr)?.adjustments.findIndex((u) => u.id === use) ?? -1;
  if (i >= 0) moveAdjustmentTo(corr, use, i + by);
}

/** What was copied last, of either kind; kept while the page is open. */
export const useClipboard = create<{
  adjustment: OpUse | null;
  correction: CorrectionRecord | null;
  /** The copied correction's region, without links. */
  alone: Term[];
}>()(() => ({ adjustment: null, correction: null, alone: [] }));
export function copyAdjustment(corr: string, use: string): void {
  const u = correction(corr)?.adjustments.find((x) => x.id === use);
  if (u) useClipboard.setState({ adjustment: u });
}
export function pasteAdjustment(corr: string, at: number): void {
  const u = useClipboard.getState().adjustment;
  if (!u) return;
  editCorrection(corr, 'Paste an adjustment', (c) => ({
    ...c,
    adjustments: [...c.adjustments.slice(0, at), { ...u, id: useId() }, ...c.adjustments.slice(at)],
  }));
}
export function copyCorrection(id: string): void {
  const c = correction(id);
  if (c) useClipboard.setState({ correction: c, alone: withoutLinks(c.terms, doc().records, () => true) });
}
/** Pastes into a shot, after what is there. Places are in pixels of the picture they were made on. */
export function pasteCorrection(shot: ShotId): void {
  const { correction: c, alone } = useClipboard.getState();
  if (!c) return;
  const list = ownCorrectionsOf(doc().records, shot);
  const names = list.map((x) => x.name);
  // Links lead to corrections of the same owner; elsewhere it takes along what they led to.
  const home = c.owner === shot && linksOf(c).every((id) => correction(id));
  if (!home && tooDeep(c, alone)) return;
  const copy = copyOf(c, {
    owner: shot,
    terms: home ? c.terms : alone,
    name: names.includes(c.name) ? freeName(c.name, names) : c.name,
    order: (list.at(-1)?.order ?? 0) + 1,
  });
  doc().change('Paste a correction', (r) => settle(put(copy)(r), shot));
  session().set({ correction: copy.id });
}
export function resetCorrection(id: string): void {
  editCorrection(id, 'Reset a correction', (c) => ({
    ...c,
    mixPct: 100,
    tidy: c.tidy.map((u) => ({ ...u, params: {} })),
    adjustments: c.adjustments.map((u) => ({ ...u, params: {} })),
  }));
}
export function setSide(id: string, side: 'camera' | 'display'): void {
  const c = correction(id);
  if (!c) return;
  const label = side === 'camera' ? 'Move to the camera side' : 'Move to the display side';
  doc().change(label, (r) => settle(put({ ...c, side })(r), c.owner));
}
/** Exposure, balance, contrast and what else makes a normal picture, on all of it; not in the document yet. */
export function newBase(shot: ShotId): CorrectionRecord {
  const list = ownCorrectionsOf(doc().records, shot);
  const taken = list.map((x) => x.name);
  return {
    type: 'correction',
    id: newId('corr'),
    owner: shot,
    name: taken.includes('Base') ? freeName('Base', taken) : 'Base',
    on: true,
    mixPct: 100,
    order: (list[0]?.order ?? 1) - 1,
    terms: [],
    tidy: standingTidy(),
    adjustments: ['exposure', 'temperature', 'points', 'contrast', 'wheels', 'saturation'].map((op) =>
      newUse(useId(), op),
    ),
  };
}
export function addBase(shot: ShotId): CorrectionRecord {
  const c = newBase(shot);
  doc().change('Add a base correction', put(c));
  session().set({ correction: c.id, step: 'correct', term: null, conversionOpen: false });
  return c;
}
export function editShot(id: string, label: string, edit: (s: ShotRecord) => ShotRecord): void {
  doc().change(label, (r) => {
    const s = r[id];
    return s?.type === 'shot' ? put(edit(s))(r) : r;
  });
}
export function editMedia(id: string, label: string, edit: (m: MediaRecord) => MediaRecord): void {
  doc().change(label, (r) => {
    const m = r[id];
    return m?.type === 'media' ? put(edit(m))(r) : r;
  });
}
/**
 * Says how a shot is encoded; a conversion that is needed for it to look normal is switched on, one that is not off.
 */
export function setEncoding(id: string, encoding: EncodingRef): void {
  editShot(id, 'Change the encoding', (s) => ({
    ...s,
    encoding,
    encodingGuessed: false,
    conversion: { ...s.conversion, on: needsConversion(encoding) },
  }));
}
export function setConversion(id: string, params: Record<string, StoredValue>): void {
  editShot(id, 'Change the conversion', (s) => ({
    ...s,
    conversion: withParams(s.conversion, params),
  }));
}
/** A display picture with BT.709 primaries is shown as it is; anything else is converted. */
export const needsConversion = (e: EncodingRef): boolean => e !== 'srgb' && e !== 'bt1886';

export const gesture = (label: string) => ({
  onBegin: () => doc().begin(label),
  onEnd: () => doc().end(),
  onBail: () => doc().bail(),
});
