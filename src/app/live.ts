/** What the engine last said of the open shot: read by scopes, tables and marks, never saved. */
import { create } from 'zustand';
import type { PatchReadings, PickReply } from '../protocol/messages';

interface Live {
  scopes: Uint32Array | null;
  readings: Record<string, PatchReadings>;
  quality: 'draft' | 'final' | null;
  ms: number;
  pick: (PickReply & { x: number; y: number }) | null;
  /** Counts renders of the final quality, so that slower figures know when to renew. */
  finals: number;
}
export const useLive = create<Live>()(() => ({ scopes: null, readings: {}, quality: null, ms: 0, pick: null, finals: 0 }));
