/** The document with its history, saved as it changes; and the session: what is being looked at. */
import { LIMITS } from '../core/skin/limits';
import type { Limits } from '../core/skin/limits';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { bail, begin, change, emptyHistory, end, redo, undo } from '../document/history';
import type { Diff, HistoryState } from '../document/history';
import type { Records } from '../document/records';
import type { ScopeSelect } from '../core/scopes/select';
import type { FalseColour } from '../core/view/falseColour';
import { defaultDecode } from '../media/picture';
import type { DecodeOptions } from '../media/picture';
import type { CompareMode, Ground, ShotState, ViewMode } from '../protocol/messages';
import type { Look } from '../ui/scopes/draw';
import { defaultSlots } from './bench/scopeSlots';
import type { Hold } from './bench/hold';
import type { ScopeSlot } from './bench/scopeSlots';
import type { SaveState } from './keeper';

export type { SaveState } from './keeper';
/** `writer`: this tab writes; `follower`: another one does, this one shows what it writes; `none`: not known yet. */
export type Role = 'none' | 'writer' | 'follower';

interface DocState extends HistoryState {
  loaded: boolean;
  save: SaveState;
  saveFault: string | null;
  /** Files that are still being kept: leaving the page now would lose them. */
  keeping: number;
  role: Role;
  change(label: string, edit: (r: Records) => Records): void;
  begin(label: string): void;
  end(): void;
  bail(): void;
  undo(): void;
  redo(): void;
  /** Replaces everything, without a step to undo: loading. */
  load(records: Records, past?: readonly Diff[], ahead?: readonly Diff[]): void;
  /** What can be undone is forgotten. */
  forget(): void;
}

/** Told when a follower would change something: only one tab writes. */
export const followerTries = { tell: (): void => {} };

export const useDoc = create<DocState>((set, get) => {
  const guarded = (f: (h: HistoryState) => HistoryState): void => {
    if (get().role === 'follower') {
      followerTries.tell();
      return;
    }
    set((s) => f(s));
  };
  return {
    ...emptyHistory,
    loaded: false,
    save: 'saved',
    saveFault: null,
    keeping: 0,
    role: 'none',
    change: (label, edit) => guarded((s) => change(s, label, edit)),
    begin: (label) => guarded((s) => begin(s, label)),
    end: () => set((s) => end(s)),
    bail: () => set((s) => bail(s)),
    undo: () => guarded(undo),
    redo: () => guarded(redo),
    load: (records, past = [], ahead = []) => set({ records, past, ahead, mark: null, loaded: true }),
    forget: () => set({ past: [], ahead: [] }),
  };
});

export type StepName = 'isolate' | 'tidy' | 'correct' | 'check';
export type ToolName =
  | 'none'
  | 'key'
  | 'keepStroke'
  | 'leaveStroke'
  | 'skinPress'
  | `shape:${string}`
  | 'patch'
  | 'patchFree'
  | 'chart'
  | 'curvePoint'
  | 'hueBend'
  | 'pullColour'
  | 'bandDrag'
  | 'recolourPick';
/** A key is fitted again, or takes the sample in as well, or leaves it out. */
export type Sampling = 'again' | 'add' | 'take';
export type ThemeName = 'darker' | 'lighter';

/** A frame as it looked when it was held. */
export interface Reference {
  name: string;
  state: ShotState;
}
/** What a person looks at and how: nothing of it is in the project. */
interface BenchState {
  shot: string | null;
  /** Of the open shot, in frames of its media. */
  frame: number;
  correction: string | null;
  step: StepName;
  patch: string | null;
  /** Chosen term of the region, by the id of its operation. */
  term: string | null;
  tool: ToolName;
  /** What the next sample does to the chosen key. */
  sampling: Sampling;
  mode: ViewMode;
  /** What a cut-out lies on. */
  ground: Ground;
  /** The part of the chosen correction's region that is looked at by itself. */
  alone: string | null;
  /** `blink`: before and after in turn, at one place. */
  compare: CompareMode | 'blink';
  /** What is compared with: `converted`, `came`, `without`, `held`, or the id of a version or of another shot. */
  against: string;
  /** Where the wipe's edge stands, as shares of the picture's width and height; how far it is turned, clockwise. */
  wipe: number;
  wipeY: number;
  wipeDeg: number;
  /** Null: fit. */
  zoom: { scale: number; cx: number; cy: number } | null;
  /** What the view holds still while the picture moves, and the frame at which it stands where the view has it. */
  hold: Hold | null;
  bypass: boolean;
  slots: ScopeSlot[];
  look: Look;
  vectorTargets: 75 | 100;
  /** Adjustments whose controls are folded away (or, by choice, not), by the id of the operation. */
  folds: Record<string, boolean>;
  /** The adjustment that was added last and has not been brought into sight yet. */
  fresh: string | null;
  /** Handles are caught by the frame and by each other. */
  snap: boolean;
  /** What is marked in a scope, and in which. */
  select: { slot: number; when: 'after' | 'before'; what: ScopeSelect } | null;
  /** A frame held for comparing, as it looked then. */
  reference: Reference | null;
  /** The patch of which the picture shows what its reading leaves out. */
  usedOf: string | null;
  /** The tonal zones that their false colours are about. */
  zonesOf: { correction: string; use: string } | null;
  /** Everything, the picture with its scopes, or the picture alone. */
  room: 'all' | 'scopes' | 'picture';
  /** Of the columns, in pixels. */
  widths: { rail: number; scopes: number };
  shelf: boolean;
  shelfTab: 'readings' | 'plot' | 'chart' | 'keys' | 'time';
  /** The first steps are shown. */
  guide: boolean;
  theme: ThemeName;
  /** How pictures are read that come in next. */
  importing: DecodeOptions;
  falseColour: FalseColour;
  /** What the page shows of a picture for another display: its numbers, or the light that they mean there. */
  shown: 'numbers' | 'light';
  /** The conversion's controls are open instead of a correction's. */
  conversionOpen: boolean;
  /** The correction that is being carried to other shots. */
  carrying: string | null;
  /** Which curve a click on the picture gives a point to. */
  curveFor: { use: string; curve: string } | null;
  /** Of the file that readings and Bring to line are about, and that the Hand-off writes. */
  bits: 8 | 16;
  bandDeg: number;
  /** What a receiver allows, in percent of the signal. */
  limits: Limits;
  /** A clip's sound is played along. */
  sound: boolean;
  showLine: boolean;
  set(p: Partial<Omit<BenchState, 'set'>>): void;
}
export const useSession = create<BenchState>()(
  persist(
    (set) => ({
      shot: null,
      frame: 0,
      correction: null,
      step: 'isolate',
      patch: null,
      term: null,
      tool: 'none',
      sampling: 'again',
      mode: 'picture',
      ground: 'grey',
      alone: null,
      compare: 'off',
      against: 'converted',
      wipe: 0.5,
      wipeY: 0.5,
      wipeDeg: 0,
      zoom: null,
      hold: null,
      bypass: false,
      slots: defaultSlots,
      look: { strength: 1, colour: false, scale: 'pct' },
      vectorTargets: 75,
      folds: {},
      fresh: null,
      snap: false,
      select: null,
      reference: null,
      usedOf: null,
      zonesOf: null,
      room: 'all',
      widths: { rail: 280, scopes: 298 },
      shelf: true,
      shelfTab: 'readings',
      guide: true,
      theme: 'darker',
      importing: defaultDecode,
      bits: 16,
      bandDeg: 10,
      limits: LIMITS,
      sound: false,
      showLine: true,
      falseColour: 'off',
      shown: 'numbers',
      curveFor: null,
      carrying: null,
      conversionOpen: false,
      set: (p) => set(p),
    }),
    {
      name: 'rowanleaf-session',
      version: 2,
      migrate: (old) => old as BenchState,
      partialize: ({
        tool: _t,
        sampling: _p,
        bypass: _b,
        alone: _a,
        set: _s,
        select: _m,
        carrying: _c,
        usedOf: _u,
        ...rest
      }) => rest,
    },
  ),
);
