/** Which scopes stand in the column, what each looks at, and the requests that follow. */
import { create } from 'zustand';
import type { ScopeKind } from '../../core/scopes/reduce';
import type { PatchRecord } from '../../document/records';
import type { PatchSpec, ScopeOver, ScopeReply, ScopeRequest } from '../../protocol/messages';

export const kindNames: Record<ScopeKind, string> = {
  vector: 'Vectorscope',
  strip: 'Skin strip',
  luma: 'Waveform, luma',
  overlay: 'Waveform, RGB',
  parade: 'Parade, RGB',
  ycbcr: 'Parade, YCbCr',
  histogram: 'Histogram',
};
export interface ScopeSlot {
  kind: ScopeKind;
  /** `whole`, `region`, `outside`, or the id of a patch. */
  over: string;
  when: 'after' | 'before';
  /** `none`, `before`, `reference`, or the id of another shot. */
  ghost: string;
  zoom: number;
}
export const slotOf = (kind: ScopeKind): ScopeSlot => ({ kind, over: 'whole', when: 'after', ghost: 'none', zoom: 1 });
export const defaultSlots: ScopeSlot[] = [slotOf('vector'), slotOf('strip'), slotOf('luma')];

/** Screen pixels of each slot's field. */
export const useScopePx = create<{ px: Record<number, readonly [number, number]> }>()(() => ({ px: {} }));

export const patchSpec = ({ id, box, points, track }: PatchRecord): PatchSpec => ({
  id,
  box,
  ...(points ? { points } : {}),
  ...(track ? { track } : {}),
});
const overOf = (s: ScopeSlot, patches: readonly PatchRecord[]): ScopeOver => {
  if (s.over === 'whole' || s.over === 'region' || s.over === 'outside') return s.over;
  const p = patches.find((x) => x.id === s.over);
  return p ? patchSpec(p) : 'whole';
};
/** Keys name the slot, and its ghost of before. */
export function scopeRequests(
  slots: readonly ScopeSlot[],
  px: Record<number, readonly [number, number]>,
  patches: readonly PatchRecord[],
): { keys: string[]; list: ScopeRequest[] } {
  const keys: string[] = [];
  const list: ScopeRequest[] = [];
  slots.forEach((s, i) => {
    const size = px[i];
    if (!size) return;
    const r: ScopeRequest = {
      kind: s.kind,
      over: overOf(s, patches),
      when: s.when,
      zoom: s.kind === 'vector' ? s.zoom : 1,
      px: size,
    };
    keys.push(String(i));
    list.push(r);
    if (s.ghost === 'before' && s.when === 'after') {
      keys.push(`${i}ghost`);
      list.push({ ...r, when: 'before' });
    }
  });
  return { keys, list };
}
export const byKey = (keys: readonly string[], replies: readonly ScopeReply[]): Record<string, ScopeReply> =>
  Object.fromEntries(keys.map((k, i) => [k, replies[i]!]));
