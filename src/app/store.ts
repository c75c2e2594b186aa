/** The document with its history, saved as it changes; and the session: what is being looked at. */
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { applyDiff, bail, begin, change, diffOf, emptyHistory, end, isEmpty, redo, undo } from '../document/history';
import type { Diff, HistoryState } from '../document/history';
import type { Records } from '../document/records';
import type { ScopeSelect } from '../core/scopes/select';
import type { FalseColour } from '../core/view/falseColour';
import { defaultDecode } from '../media/picture';
import type { DecodeOptions } from '../media/picture';
import type { CompareMode, ShotState, ViewMode } from '../protocol/messages';
import type { Look } from '../ui/scopes/draw';
import { defaultSlots } from './bench/scopeSlots';
import type { ScopeSlot } from './bench/scopeSlots';
import { db } from './db';

export type SaveState = 'saved' | 'saving' | 'failed';

interface DocState extends HistoryState {
  loaded: boolean;
  save: SaveState;
  change(label: string, edit: (r: Records) => Records): void;
  begin(label: string): void;
  end(): void;
  bail(): void;
  undo(): void;
  redo(): void;
  /** Replaces everything, without a step to undo: loading. */
  load(records: Records): void;
}

export const useDoc = create<DocState>((set) => {
  const move = (f: (h: HistoryState) => HistoryState) => (): void => set((s) => f(s));
  return {
    ...emptyHistory,
    loaded: false,
    save: 'saved',
    change: (label, edit) => set((s) => change(s, label, edit)),
    begin: (label) => set((s) => begin(s, label)),
    end: move(end),
    bail: move(bail),
    undo: move(undo),
    redo: move(redo),
    load: (records) => set({ ...emptyHistory, records, loaded: true }),
  };
});

// Autosave: what differs from what is stored is written, at once when idle and every half second during a drag.
let stored: Records = {};
/** What is known to be written: `stored` runs ahead of it while a write is on its way. */
let confirmed: Records = {};
let timer: ReturnType<typeof setTimeout> | null = null;
let writing: Promise<void> = Promise.resolve();

export function setStored(r: Records): void {
  stored = confirmed = r;
}
function flush(): Promise<void> {
  timer = null;
  const now = useDoc.getState().records;
  const d = diffOf('save', stored, now);
  if (isEmpty(d)) return writing;
  const before = stored;
  stored = applyDiff(stored, d);
  writing = writing.then(async () => {
    try {
      await db.save(d);
      confirmed = applyDiff(confirmed, d);
      if (!timer) useDoc.setState({ save: 'saved' });
    } catch (e) {
      console.error(e);
      stored = before;
      useDoc.setState({ save: 'failed' });
    }
  });
  return writing;
}
useDoc.subscribe((s, prev) => {
  // The end of a gesture is written at once: a reload right after it must lose nothing.
  if (prev.mark && !s.mark && timer) {
    clearTimeout(timer);
    void flush();
  }
  if (s.records === prev.records || !s.loaded || s.records === stored) return;
  if (s.save !== 'saving') useDoc.setState({ save: 'saving' });
  timer ??= setTimeout(() => void flush(), s.mark ? 500 : 30);
});
export const flushNow = flush;
/**
 * Leaving the page: a write that has only begun may not end. What is not known to be written is put aside at once, where it can be
 * without waiting, and taken up at the next start.
 */
const ASIDE = 'rowanleaf-unsaved';
if (typeof window !== 'undefined')
  window.addEventListener('pagehide', () => {
    const s = useDoc.getState();
    const d = diffOf('unsaved', confirmed, s.records);
    if (!s.loaded || isEmpty(d)) return;
    try {
      localStorage.setItem(ASIDE, JSON.stringify(d));
    } catch (e) {
      console.warn('The last change may not be kept:', e);
    }
    void flush();
  });
/** What was put aside when the page was left; it is there once. */
export function takeAside(): Diff | null {
  const text = localStorage.getItem(ASIDE);
  if (!text) return null;
  localStorage.removeItem(ASIDE);
  try {
    return JSON.parse(text) as Diff;
  } catch {
    return null;
  }
}

export type StepName = 'isolate' | 'tidy' | 'correct' | 'check';
export type ToolName = 'none' | 'key' | 'ellipse' | 'patch' | 'patchFree' | 'chart' | 'curvePoint';
export type ThemeName = 'darker' | 'lighter';

interface Session {
  shot: string | null;
  correction: string | null;
  step: StepName;
  patch: string | null;
  /** Chosen term of the region, by the id of its operation. */
  term: string | null;
  tool: ToolName;
  mode: ViewMode;
  compare: CompareMode;
  /** Share of the picture's width. */
  wipe: number;
  /** Null: fit. */
  zoom: { scale: number; cx: number; cy: number } | null;
  bypass: boolean;
  slots: ScopeSlot[];
  look: Look;
  vectorTargets: 75 | 100;
  /** Adjustments whose controls are folded away (or, by choice, not), by the id of the operation. */
  folds: Record<string, boolean>;
  /** What is marked in a scope, and in which. */
  select: { slot: number; when: 'after' | 'before'; what: ScopeSelect } | null;
  /** A frame held for comparing, as it looked then. */
  reference: { name: string; state: ShotState } | null;
  /** The tonal zones that their false colours are about. */
  zonesOf: { correction: string; use: string } | null;
  shelf: boolean;
  shelfTab: 'readings' | 'plot' | 'chart';
  /** The first steps are shown. */
  guide: boolean;
  theme: ThemeName;
  /** How pictures are read that come in next. */
  importing: DecodeOptions;
  falseColour: FalseColour;
  /** The conversion's controls are open instead of a correction's. */
  conversionOpen: boolean;
  /** Which curve a click on the picture gives a point to. */
  curveFor: { use: string; curve: string } | null;
  bandDeg: number;
  showLine: boolean;
  set(p: Partial<Omit<Session, 'set'>>): void;
}
export const useSession = create<Session>()(
  persist(
    (set) => ({
      shot: null, correction: null, step: 'isolate', patch: null, term: null, tool: 'none', mode: 'picture', compare: 'off', wipe: 0.5, zoom: null, bypass: false,
      slots: defaultSlots, look: { strength: 1, colour: false, scale: 'pct' }, vectorTargets: 75, folds: {}, select: null, reference: null, zonesOf: null, shelf: true, shelfTab: 'readings', guide: true, theme: 'darker', importing: defaultDecode, bandDeg: 10, showLine: true, falseColour: 'off', curveFor: null, conversionOpen: false,
      set: (p) => set(p),
    }),
    { name: 'rowanleaf-session', version: 2, migrate: (old) => old as Session, partialize: ({ tool: _t, bypass: _b, set: _s, select: _m, ...rest }) => rest },
  ),
);
