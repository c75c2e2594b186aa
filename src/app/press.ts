/** A press on skin as it would be: found and shown, in no record until it is taken. */
import { create } from 'zustand';
import { newUse } from '../core/graph/plan.defaults';
import type { OpTerm } from '../core/graph/plan';
import { isOp } from '../core/graph/region';
import { PRESS } from '../core/matte/skin';
import { put } from '../document/history';
import { newId, ownCorrectionsOf, projectOf } from '../document/records';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../document/records';
import type { Requests } from '../protocol/messages';
import { formatNumber } from '../ui/NumberBox';
import { addPatch, editPatch, shotState } from './actions';
import { freeName, useId } from './edit';
import { engine } from './engine';
import { holdRegion } from './following';
import { useLive } from './live';
import { guard, sayNews } from './notices';
import { useDoc, useSession } from './store';

type Found = Requests['skinPress']['out'];
type Place = { x: number; y: number };
export interface Press {
  shot: ShotRecord;
  /** As it would be added, with the push. */
  correction: CorrectionRecord;
  found: Found;
  strengthPct: number;
  reachPct: number;
}
/** `asking`: what is shown is being found anew. */
export const usePress = create<{ press: Press | null; asking: boolean }>()(() => ({ press: null, asking: false }));

const d1 = (v: number | null | undefined): string =>
  v === null || v === undefined ? 'too neutral to read' : `${formatNumber(v, 1, true)}\u00b0`;
const shareOf = (name: string, f: Found): string => `${name}: ${(100 * f.coverage).toFixed(1)} % of the picture.`;
const pushOf = (f: Found): string =>
  f.solved
    ? ` The whole skin read ${d1(f.before?.offLineDeg)}, its clean patch ${d1(f.solved.before.offLineDeg)}; now ` +
      `${d1(f.after?.offLineDeg)} and ${d1(f.solved.after.offLineDeg)}.`
    : ` ${f.fault ?? 'Nothing was pushed'}.`;
/** In a sentence: what was found, where it lay, where it lies. */
export const foundSaid = (name: string, f: Found): string => [shareOf(name, f) + pushOf(f), ...f.said].join(' ');

/** The region of a press: grown over one person's skin. */
export function pressTerm(media: MediaRecord, at: Place, id: string, frame: number, reachPct = 100): OpTerm {
  const brushPx = Math.round(10 * Math.max(4, PRESS * Math.max(media.width, media.height))) / 10;
  return {
    id,
    join: 'and',
    not: false,
    name: 'Skin',
    use: newUse(useId(), 'skin', { brushPx, reachPct }),
    // What other corrections do to the picture does not shift it.
    reads: 'base',
    strokes: [{ keep: true, frame, points: [[Math.round(10 * at.x) / 10, Math.round(10 * at.y) / 10]] }],
  };
}
/** A correction whose region is pressed out of a place, without a push yet. */
export function pressedCorrection(
  shot: ShotRecord,
  media: MediaRecord,
  at: Place,
  frame: number,
  name: string,
): CorrectionRecord {
  const list = ownCorrectionsOf(useDoc.getState().records, shot.id);
  const brush = Math.max(2, Math.round(Math.max(media.width, media.height) / 200));
  return {
    type: 'correction',
    id: newId('corr'),
    owner: shot.id,
    name,
    on: true,
    mixPct: 100,
    order: (list.at(-1)?.order ?? 0) + 1,
    terms: [pressTerm(media, at, useId(), frame)],
    // The region ends between pixels of a small copy of the picture: the edge is laid onto the picture's own.
    tidy: [newUse(useId(), 'edgeFit', { radiusPx: brush })],
    adjustments: [],
  };
}
function questionOf(shot: ShotRecord, c: CorrectionRecord, strengthPct: number): Requests['skinPress']['in'] {
  const { records } = useDoc.getState();
  return {
    // Before what a scene does, as it will stand.
    shot: shotState(put(c)(records), shot),
    correction: c.id,
    kind: 'balance',
    strength: strengthPct / 100,
    skinLineDeg: projectOf(records)?.skinLineDeg ?? 123,
    bits: useSession.getState().bits,
  };
}
const saidNotFound = <T>(work: () => Promise<T>): Promise<T | null> => guard('The skin was not found', work);
const ask = (shot: ShotRecord, c: CorrectionRecord, strengthPct: number): Promise<Found | null> =>
  saidNotFound(() => engine().request('skinPress', questionOf(shot, c, strengthPct)));
function show(press: Press | null): void {
  usePress.setState({ press, asking: false });
  useLive.setState({ trial: press?.correction ?? null });
}

/** A press at a place as it would be made now. */
function pressAt(shot: ShotRecord, media: MediaRecord, at: Place): CorrectionRecord {
  const names = ownCorrectionsOf(useDoc.getState().records, shot.id).map((x) => x.name);
  return pressedCorrection(shot, media, at, useSession.getState().frame, freeName('Skin', names));
}
/** All that a press depends on, but for its place within the pixel. */
const about = (shot: ShotRecord, at: Place): unknown[] => {
  const { frame, bits } = useSession.getState();
  return [useDoc.getState().records, shot, Math.round(10 * at.x), Math.round(10 * at.y), frame, bits];
};
/** What is being looked for where the pointer rests, before anybody has pressed. */
let ahead: { about: unknown[]; correction: CorrectionRecord; found: Promise<Found>; stop: () => void } | null = null;
/**
 * The pointer rests with the tool in hand: what a press there would find is looked for, behind all that anybody waits
 * for.
 *
 * @returns to be called when it has gone
 */
export function lookAhead(shot: ShotRecord, media: MediaRecord, at: Place): () => void {
  ahead?.stop();
  const correction = pressAt(shot, media, at);
  const control = new AbortController();
  const found = engine().request('skinPress', questionOf(shot, correction, 100), control.signal, 'jobs');
  // Whoever presses there hears of it.
  found.catch(() => {});
  const mine = {
    about: about(shot, at),
    correction,
    found,
    stop: () => {
      if (ahead !== mine) return;
      ahead = null;
      control.abort();
    },
  };
  ahead = mine;
  return mine.stop;
}
/** What was looked for ahead at this very place, of this very document; it is used once. */
function lookedAhead(shot: ShotRecord, at: Place): typeof ahead {
  const there = ahead;
  const now = about(shot, at);
  if (!there?.about.every((x, i) => x === now[i])) return null;
  ahead = null;
  return there;
}

/** Counts presses: of two that are looked for at once the newer one is shown. */
let presses = 0;
/** Finds the skin at a place and shows it with its push; nothing is changed. */
export async function pressSkin(shot: ShotRecord, media: MediaRecord, at: Place): Promise<void> {
  leavePress();
  const mine = ++presses;
  const before = lookedAhead(shot, at);
  const c = before?.correction ?? pressAt(shot, media, at);
  usePress.setState({ asking: true });
  const found = await (before ? saidNotFound(() => before.found) : ask(shot, c, 100));
  // Another one was made meanwhile; or left, by Escape or for another shot.
  if (mine !== presses) return;
  if (!found || useSession.getState().tool !== 'skinPress' || useSession.getState().shot !== shot.id)
    return usePress.setState({ asking: false });
  useSession.getState().set({ tool: 'none' });
  const correction = { ...c, adjustments: found.solved?.adjustments ?? [] };
  show({ shot, correction, found, strengthPct: 100, reachPct: 100 });
}

let wanted: Pick<Press, 'strengthPct' | 'reachPct'> | null = null;
/** Another strength or reach: found anew, the newest last. */
export async function changePress(by: { strengthPct?: number; reachPct?: number }): Promise<void> {
  const now = usePress.getState().press;
  if (!now) return;
  const from = wanted ?? now;
  const next = {
    strengthPct: Math.min(100, Math.max(0, from.strengthPct + (by.strengthPct ?? 0))),
    reachPct: Math.min(400, Math.max(20, from.reachPct + (by.reachPct ?? 0))),
  };
  if (next.strengthPct === from.strengthPct && next.reachPct === from.reachPct) return;
  const busy = wanted !== null;
  wanted = next;
  if (busy) return;
  while (wanted) {
    const p = usePress.getState().press;
    const w: typeof next = wanted;
    if (!p) break;
    usePress.setState({ asking: true });
    const terms = p.correction.terms.map((t) =>
      'use' in t ? { ...t, use: { ...t.use, params: { ...t.use.params, reachPct: w.reachPct } } } : t,
    );
    const c = { ...p.correction, terms, adjustments: [] };
    const found = await ask(p.shot, c, w.strengthPct);
    const still = usePress.getState().press;
    if (found && still?.correction.id === c.id)
      show({ ...p, ...w, found, correction: { ...c, adjustments: found.solved?.adjustments ?? [] } });
    else usePress.setState({ asking: false });
    if (wanted === w) wanted = null;
  }
  wanted = null;
}
export function leavePress(): void {
  wanted = null;
  if (usePress.getState().press) show(null);
}
/** Of a longer shot a press is not held by itself: each frame takes about as long as the press did. */
const HELD_FRAMES = 240;
/** As one ordinary correction, and one undo; over a clip it is then held, which is another. */
export function takePress(): void {
  const { press } = usePress.getState();
  if (!press) return;
  const { shot, correction: c, found } = press;
  leavePress();
  const doc = useDoc.getState();
  doc.begin('Bring skin to the line by a press');
  doc.change('Add a correction', put(c));
  const patch = found.patch ? addPatch(shot.id, found.patch).id : undefined;
  if (patch !== undefined) editPatch(patch, 'Name the patch', { name: `${c.name}, clean` });
  doc.end();
  useSession.getState().set({
    correction: c.id,
    term: c.terms[0]!.id,
    step: found.solved ? 'correct' : 'isolate',
    conversionOpen: false,
    tool: 'none',
  });
  const frames = shot.range[1] - shot.range[0] + 1;
  const holds = frames > 1 && frames <= HELD_FRAMES;
  const then =
    frames === 1
      ? ''
      : holds
        ? ` It is now held over the ${frames} frames of the shot, its patch too: Jobs shows how far, and stops it.`
        : ' It does not follow yet: in step 2, "Follow", hold it over as many frames as you need.';
  sayNews(`${foundSaid(c.name, found)} One undo takes it back.${then}`);
  const term = c.terms[0]!;
  if (holds && isOp(term)) void guard('It was not held', () => holdRegion(shot, c, term, 'both', patch));
}
