/** What the engine last said of the open shot: read by scopes, tables and marks, never saved. */
import { create } from 'zustand';
import type { ColourContrast } from '../core/scopes/contrast';
import type { OpTerm } from '../core/graph/plan';
import type { CorrectionRecord } from '../document/records';
import type { KeyDots } from '../protocol/messages';
import type { Clipped, PatchReadings, PickReply, ScopeReply } from '../protocol/messages';

interface Live {
  /** By slot and ghost (see scopeSlots). */
  scopes: Record<string, ScopeReply>;
  clipped: Clipped | null;
  contrast: ColourContrast | null;
  readings: Record<string, PatchReadings>;
  quality: 'draft' | 'final' | null;
  ms: number;
  pick: (PickReply & { x: number; y: number }) | null;
  /** Pixels that the chosen key was last fitted to, by the id of its operation. */
  sampled: { use: string; dots: KeyDots } | null;
  /** A part as it would be if the hand were done now: shown, and in no record. Of a correction, or of a new one. */
  preview: { correction: string | null; term: OpTerm } | null;
  /** A correction as it would be if it were taken: shown on top, and in no record. */
  trial: CorrectionRecord | null;
  /** The point of a freeform that is chosen, by the id of its operation. */
  point: { use: string; i: number } | null;
  /** The patch that is pointed at, on the picture or in the table. */
  over: string | null;
  /** Where the handle that is dragged is caught, in pixels of the stage: each way by itself. */
  caughtAt: { x: number | null; y: number | null } | null;
  /** Counts renders of the final quality, so that slower figures know when to renew. */
  finals: number;
}
export const nothing = { scopes: {}, clipped: null, contrast: null, readings: {}, pick: null };
export const useLive = create<Live>()(() => ({
  ...nothing,
  quality: null,
  ms: 0,
  sampled: null,
  preview: null,
  trial: null,
  point: null,
  over: null,
  caughtAt: null,
  finals: 0,
}));
export const pointAt = (over: string | null): void => useLive.setState({ over });
