/** What the picture on the Bench asks the engine for: a pure function of the document and of how it is looked at. */
import { allTerms, mapTerms } from '../../core/graph/region';
import type { CorrectionSpec, OpTerm, Term } from '../../core/graph/plan';
import { correctionsOf, patchesOf, projectOf, shotsOf } from '../../document/records';
import type { CorrectionRecord, Records, ShotId } from '../../document/records';
import { put } from '../../document/history';
import type { RenderRequest, ShotState, View } from '../../protocol/messages';
import { shotState } from '../actions';
import { otherOf } from '../reference';
import type { Reference } from '../store';
import { recordsWith } from '../versions';
import { shiftOf } from './hold';
import type { Hold, Shift, ShiftAt } from './hold';
import { patchSpec, scopeRequests } from './scopeSlots';
import type { ScopeSlot } from './scopeSlots';

/** A part as it would be, of a correction or of one that is not there yet. */
export interface Preview {
  correction: string | null;
  term: OpTerm;
}
/** How a shot is looked at: all that a render depends on beside the document and the frame. */
export interface Looking {
  shot: ShotId;
  correction: string | null;
  /** The part of its region that is looked at by itself. */
  alone: string | null;
  bypass: boolean;
  preview: Preview | null;
  /** A correction as it would be, on top of the others. */
  trial?: CorrectionRecord | null;
  view: View;
  slots: readonly ScopeSlot[];
  px: Record<number, readonly [number, number]>;
  bits: 8 | 16;
  /**
   * What a wipe or side by side shows beside it: `converted` (left out), `came`, `without`, `held`, or the id of a
   * version or of another shot.
   */
  against?: string;
  /** The frame that is held. */
  held?: Reference | null;
  /** What the view holds still while the picture moves. */
  hold?: Hold | null;
}
export interface Asked {
  /** At the shot's first frame: `atFrame` has it at another. */
  request: Omit<RenderRequest, 'quality'>;
  /** Of the scopes in it. */
  keys: readonly string[];
  /** How far the view goes with what it holds still. */
  shift: ShiftAt;
  /** What it is compared with stands, whatever frame is looked at. */
  stands: boolean;
}
/** Of a correction that is not there yet. */
const PREVIEW = 'preview';
/** Corrections with a part as it would be: for its old self, beside the others, or in a correction of its own. */
function previewed(list: readonly CorrectionSpec[], { correction, term }: Preview): CorrectionSpec[] {
  if (correction === null)
    return [...list, { id: PREVIEW, name: '', on: true, mixPct: 100, terms: [term], tidy: [], adjustments: [] }];
  return list.map((c) =>
    c.id !== correction
      ? c
      : {
          ...c,
          terms: allTerms(c.terms).some((t) => t.id === term.id)
            ? mapTerms(c.terms, (t) => (t.id === term.id ? term : t))
            : [...c.terms, term],
        },
  );
}

/** The part that is looked at by itself, if it is still there. */
export function partAlone(records: Records, shot: ShotId, { correction, alone }: Looking): Term | null {
  const c = alone ? correctionsOf(records, shot).find((x) => x.id === correction) : undefined;
  const t = c && allTerms(c.terms).find((x) => x.id === alone);
  return t ?? null;
}

/** The shot's corrections as they are looked at: with what is being taken, or a part by itself. */
export function stateOf(there: Records, look: Looking): ShotState | null {
  const records = look.trial ? put(look.trial)(there) : there;
  const shot = shotsOf(records).find((x) => x.id === look.shot);
  if (!shot) return null;
  const s = shotState(records, shot, look.bypass, shot.range[0]);
  if (look.preview) return { ...s, corrections: previewed(s.corrections, look.preview) };
  const part = partAlone(records, look.shot, look);
  // Nothing joined with it, nothing tidied.
  return part
    ? {
        ...s,
        corrections: s.corrections.map((c) =>
          c.id === look.correction ? { ...c, terms: [{ ...part }], tidy: [] } : c,
        ),
      }
    : s;
}

/** The same shot as it is compared with; undefined where that is the picture as converted. */
function againstOf(records: Records, look: Looking, state: ShotState): ShotState | undefined {
  const { against = 'converted', correction } = look;
  if (look.view.compare === 'off' || against === 'converted') return undefined;
  if (against === 'came') {
    const { conversion: _, ...rest } = state;
    return { ...rest, corrections: [] };
  }
  if (against === 'without')
    return { ...state, corrections: state.corrections.map((c) => (c.id === correction ? { ...c, on: false } : c)) };
  const v = records[against];
  if (v?.type !== 'version') return undefined;
  const then = recordsWith(records, v).records;
  const shot = then[look.shot];
  return shot?.type === 'shot' ? shotState(then, shot, false, shot.range[0]) : undefined;
}

/** Null where nothing can be drawn: no such shot, or a view without a size. */
export function requestOf(records: Records, look: Looking): Asked | null {
  const state = look.view.w < 2 || look.view.h < 2 ? null : stateOf(records, look);
  if (!state) return null;
  const patches = patchesOf(records, look.shot);
  const { keys, list } = scopeRequests(look.slots, look.px, patches);
  const shot = shotsOf(records).find((x) => x.id === look.shot)!;
  const compared = look.view.compare !== 'off';
  const other = compared ? otherOf(records, shot, look.against ?? '', look.held ?? null) : null;
  const against = other?.state ?? againstOf(records, look, state);
  return {
    request: {
      ...(against ? { against } : {}),
      ...(other ? { againstAspect: other.aspect } : {}),
      shot: state,
      focus: look.preview ? (look.preview.correction ?? PREVIEW) : (look.trial?.id ?? look.correction),
      view: look.view,
      scopes: list,
      patches: patches.map(patchSpec),
      skinLineDeg: projectOf(records)?.skinLineDeg ?? 123,
      bits: look.bits,
    },
    keys,
    shift: shiftOf(records, look.shot, look.hold ?? null),
    stands: other !== null,
  };
}
export const atFrame = ({ request, shift, stands }: Asked, frame: number): Asked['request'] => ({
  ...request,
  view: moved(request.view, shift(frame)),
  shot: { ...request.shot, frame },
  ...(request.against && !stands ? { against: { ...request.against, frame } } : {}),
});
/** The same view elsewhere on the picture. */
const moved = (v: View, [dx, dy]: Shift): View =>
  dx === 0 && dy === 0 ? v : { ...v, offX: v.offX + dx, offY: v.offY + dy };
