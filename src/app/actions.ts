/** What a person can do to the document, each a step with a name. */
import { newUse } from '../core/graph/plan.defaults';
import type { OpUse, Term } from '../core/graph/plan';
import { opById } from '../core/graph/plan';
import type { KeyFit } from '../core/skin/fitKey';
import type { Box } from '../core/skin/reading';
import type { StoredValue } from '../core/op/params';
import { create } from 'zustand';
import type { EncodingRef } from '../core/color/encodings';
import { put, remove } from '../document/history';
import { chartOf, correctionsOf, newId, patchesOf, toSpec } from '../document/records';
import type { ChartRecord, CorrectionRecord, PatchRecord, Records, ShotId, ShotRecord } from '../document/records';
import type { ShotState } from '../protocol/messages';
import { useDoc, useSession } from './store';

const doc = () => useDoc.getState();
const session = () => useSession.getState();

export function shotState(records: Records, shot: ShotRecord, bypass = false): ShotState {
  return { pictureId: shot.media, encoding: shot.encoding, conversion: shot.conversion, frame: shot.range[0], corrections: correctionsOf(records, shot.id).map((c) => (bypass ? { ...toSpec(c), on: false } : toSpec(c))) };
}

export function correction(id: string | null): CorrectionRecord | null {
  const c = id ? doc().records[id] : undefined;
  return c?.type === 'correction' ? c : null;
}
/** The chosen correction of a shot: the one the session names, else the last. */
export function chosenCorrection(records: Records, shot: ShotId, id: string | null): CorrectionRecord | null {
  const list = correctionsOf(records, shot);
  return list.find((c) => c.id === id) ?? list.at(-1) ?? null;
}

const freeName = (stem: string, taken: string[]): string => {
  for (let i = 1; ; i++) if (!taken.includes(`${stem} ${i}`)) return `${stem} ${i}`;
};
const useId = (): string => newId('patch').slice(6);

export function addCorrection(shot: ShotId): CorrectionRecord {
  const list = correctionsOf(doc().records, shot);
  const c: CorrectionRecord = {
    type: 'correction', id: newId('corr'), shot, name: freeName('Correction', list.map((x) => x.name)), on: true, mixPct: 100, order: (list.at(-1)?.order ?? 0) + 1,
    terms: [], tidy: [newUse(useId(), 'floorCeiling'), newUse(useId(), 'feather')], adjustments: ['hueTurn', 'saturation', 'wheels'].map((op) => newUse(useId(), op)),
  };
  doc().change('Add a correction', put(c));
  session().set({ correction: c.id, step: 'isolate', term: null, conversionOpen: false });
  return c;
}

export function editCorrection(id: string, label: string, edit: (c: CorrectionRecord) => CorrectionRecord): void {
  doc().change(label, (r) => {
    const c = r[id];
    return c?.type === 'correction' ? put(edit(c))(r) : r;
  });
}
export function removeCorrection(id: string): void {
  doc().change('Remove a correction', remove(id));
}
export function duplicateCorrection(id: string): void {
  const c = correction(id);
  if (!c) return;
  const list = correctionsOf(doc().records, c.shot);
  const fresh = (u: OpUse): OpUse => ({ ...u, id: useId() });
  const copy: CorrectionRecord = { ...c, id: newId('corr'), name: freeName(c.name, list.map((x) => x.name)), order: c.order + 0.5, terms: c.terms.map((t) => ({ ...t, use: fresh(t.use) })), tidy: c.tidy.map(fresh), adjustments: c.adjustments.map(fresh) };
  doc().change('Copy a correction', (r) => reorder(put(copy)(r), c.shot));
  session().set({ correction: copy.id });
}
function reorder(r: Records, shot: ShotId): Records {
  return put(...correctionsOf(r, shot).map((c, i) => (c.order === i + 1 ? c : { ...c, order: i + 1 })))(r);
}
/** Moves a correction to a place in the list. */
export function moveCorrection(id: string, to: number): void {
  const c = correction(id);
  if (!c) return;
  const list = correctionsOf(doc().records, c.shot).filter((x) => x.id !== id);
  list.splice(Math.max(0, Math.min(list.length, to)), 0, c);
  doc().change('Reorder corrections', put(...list.map((x, i) => ({ ...x, order: i + 1 }))));
}

/** Every operation of a correction, wherever it stands. */
const mapUses = (c: CorrectionRecord, f: (u: OpUse) => OpUse): CorrectionRecord => ({
  ...c, terms: c.terms.map((t) => { const use = f(t.use); return use === t.use ? t : { ...t, use }; }), tidy: c.tidy.map(f), adjustments: c.adjustments.map(f),
});
export function setParams(corr: string, use: string, params: Record<string, StoredValue>, label?: string): void {
  editCorrection(corr, label ?? 'Change a value', (c) => mapUses(c, (u) => (u.id === use ? { ...u, params: { ...u.params, ...params } } : u)));
}
export function setUseOn(corr: string, use: string, on: boolean): void {
  editCorrection(corr, on ? 'Switch on' : 'Switch off', (c) => mapUses(c, (u) => (u.id === use ? { ...u, on } : u)));
}
export function editTerm(corr: string, use: string, p: Partial<Omit<Term, 'use'>>): void {
  editCorrection(corr, 'Change the region', (c) => ({ ...c, terms: c.terms.map((t) => (t.use.id === use ? { ...t, ...p } : t)) }));
}
export function removeUse(corr: string, use: string): void {
  editCorrection(corr, 'Remove', (c) => ({ ...c, terms: c.terms.filter((t) => t.use.id !== use), adjustments: c.adjustments.filter((u) => u.id !== use) }));
}
export function addTerm(corr: string, op: 'key' | 'ellipse', params: Record<string, StoredValue>): string {
  const use = newUse(useId(), op, params);
  editCorrection(corr, `Add ${opById(op).title.toLowerCase()}`, (c) => ({ ...c, terms: [...c.terms, { join: 'and', not: false, name: freeName(opById(op).title, c.terms.map((t) => t.name)), use }] }));
  session().set({ term: use.id });
  return use.id;
}
/** Sets the chosen key to a fit, or adds one. */
export function applyKeyFit(corr: string, fit: KeyFit): void {
  const c = correction(corr);
  if (!c) return;
  const keys = c.terms.filter((t) => t.use.op === 'key');
  const key = keys.find((t) => t.use.id === session().term) ?? keys[0];
  if (key) {
    setParams(corr, key.use.id, { ...fit }, 'Set the key');
    session().set({ term: key.use.id });
  } else addTerm(corr, 'key', { ...fit });
}

export function placeChart(shot: ShotId, corners: ChartRecord['corners']): void {
  const old = chartOf(doc().records, shot);
  doc().change('Place a chart', put(old ? { ...old, corners } : { type: 'chart', id: newId('chart'), shot, kind: 'chart24', corners, steps: 5, greyStep: null }));
}
export function editChart(id: string, label: string, change: Partial<ChartRecord>): void {
  doc().change(label, (r) => {
    const c = r[id];
    return c?.type === 'chart' ? put({ ...c, ...change })(r) : r;
  });
}

export function addPatch(shot: ShotId, box: Box, points?: [number, number][]): PatchRecord {
  const list = patchesOf(doc().records, shot);
  const p: PatchRecord = { type: 'patch', id: newId('patch'), shot, name: freeName('Patch', list.map((x) => x.name)), kind: 'skin', box, ...(points ? { points } : {}), order: (list.at(-1)?.order ?? 0) + 1 };
  doc().change('Add a patch', put(p));
  session().set({ patch: p.id });
  return p;
}
export function editPatch(id: string, label: string, change: Partial<Pick<PatchRecord, 'name' | 'box' | 'kind' | 'points'>>): void {
  doc().change(label, (r) => {
    const p = r[id];
    return p?.type === 'patch' ? put({ ...p, ...change })(r) : r;
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
    const gone = Object.values(r).filter((x) => x.id === id || ('shot' in x && x.shot === id)).map((x) => x.id);
    return remove(...gone)(r);
  });
}
/** At the end, its controls open. */
export function addAdjustment(corr: string, op: string): void {
  const use = newUse(useId(), op);
  editCorrection(corr, 'Add an adjustment', (c) => ({ ...c, adjustments: [...c.adjustments, use] }));
  session().set({ folds: { ...session().folds, [use.id]: false } });
}
export function renameUse(corr: string, use: string, name: string): void {
  editCorrection(corr, 'Rename an adjustment', (c) => mapUses(c, (u) => (u.id === use ? { ...u, name } : u)));
}
/** Back to the defaults; what it is called and whether it is on stay. */
export function resetUse(corr: string, use: string): void {
  editCorrection(corr, 'Reset an adjustment', (c) => mapUses(c, (u) => (u.id === use ? { ...u, version: opById(u.op).version, params: {} } : u)));
}
export function moveAdjustmentTo(corr: string, use: string, to: number): void {
  editCorrection(corr, 'Reorder adjustments', (c) => {
    const u = c.adjustments.find((x) => x.id === use);
    if (!u) return c;
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
export const useClipboard = create<{ adjustment: OpUse | null; correction: CorrectionRecord | null }>()(() => ({ adjustment: null, correction: null }));
export function copyAdjustment(corr: string, use: string): void {
  const u = correction(corr)?.adjustments.find((x) => x.id === use);
  if (u) useClipboard.setState({ adjustment: u });
}
export function pasteAdjustment(corr: string, at: number): void {
  const u = useClipboard.getState().adjustment;
  if (!u) return;
  editCorrection(corr, 'Paste an adjustment', (c) => ({ ...c, adjustments: [...c.adjustments.slice(0, at), { ...u, id: useId() }, ...c.adjustments.slice(at)] }));
}
export function copyCorrection(id: string): void {
  useClipboard.setState({ correction: correction(id) });
}
/** Pastes into a shot, after what is there. Places are in pixels of the picture they were made on. */
export function pasteCorrection(shot: ShotId): void {
  const c = useClipboard.getState().correction;
  if (!c) return;
  const list = correctionsOf(doc().records, shot);
  const fresh = (u: OpUse): OpUse => ({ ...u, id: useId() });
  const names = list.map((x) => x.name);
  const copy: CorrectionRecord = { ...c, id: newId('corr'), shot, name: names.includes(c.name) ? freeName(c.name, names) : c.name, order: (list.at(-1)?.order ?? 0) + 1, terms: c.terms.map((t) => ({ ...t, use: fresh(t.use) })), tidy: c.tidy.map(fresh), adjustments: c.adjustments.map(fresh) };
  doc().change('Paste a correction', put(copy));
  session().set({ correction: copy.id });
}
export function resetCorrection(id: string): void {
  editCorrection(id, 'Reset a correction', (c) => ({ ...c, mixPct: 100, tidy: c.tidy.map((u) => ({ ...u, params: {} })), adjustments: c.adjustments.map((u) => ({ ...u, params: {} })) }));
}
export function setSide(id: string, side: 'camera' | 'display'): void {
  editCorrection(id, side === 'camera' ? 'Move to the camera side' : 'Move to the display side', (c) => ({ ...c, side }));
}
/** Exposure, balance, contrast and what else makes a normal picture, on all of it; not in the document yet. */
export function newBase(shot: ShotId): CorrectionRecord {
  const list = correctionsOf(doc().records, shot);
  const taken = list.map((x) => x.name);
  return {
    type: 'correction', id: newId('corr'), shot, name: taken.includes('Base') ? freeName('Base', taken) : 'Base', on: true, mixPct: 100, order: (list[0]?.order ?? 1) - 1,
    terms: [], tidy: [newUse(useId(), 'floorCeiling'), newUse(useId(), 'feather')],
    adjustments: ['exposure', 'temperature', 'points', 'contrast', 'wheels', 'saturation'].map((op) => newUse(useId(), op)),
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
/** Says how a shot is encoded; a conversion that is needed for it to look normal is switched on, one that is not off. */
export function setEncoding(id: string, encoding: EncodingRef): void {
  editShot(id, 'Change the encoding', (s) => ({ ...s, encoding, encodingGuessed: false, conversion: { ...s.conversion, on: needsConversion(encoding) } }));
}
export function setConversion(id: string, params: Record<string, StoredValue>): void {
  editShot(id, 'Change the conversion', (s) => ({ ...s, conversion: { ...s.conversion, params: { ...s.conversion.params, ...params } } }));
}
/** A display picture with BT.709 primaries is shown as it is; anything else is converted. */
export const needsConversion = (e: EncodingRef): boolean => e !== 'srgb' && e !== 'bt1886';

export const gesture = (label: string) => ({ onBegin: () => doc().begin(label), onEnd: () => doc().end(), onBail: () => doc().bail() });
