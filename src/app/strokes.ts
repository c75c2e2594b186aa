/** Strokes that say "this" and "not this": a spread grows from them, a key is set by them anew when they change. */
import { opById } from '../core/graph/plan';
import { newUse } from '../core/graph/plan.defaults';
import type { OpTerm } from '../core/graph/plan';
import { isOp, mapTerms, opTerms } from '../core/graph/region';
import { carriedTo } from '../core/graph/strokes';
import type { StoredValue } from '../core/op/params';
import type { CorrectionRecord } from '../document/records';
import { fitFor, mediaOf } from '../document/records';
import { madeIn, shotState, spaceOf } from './actions';
import { correction, editCorrection } from './edit';
import { engine } from './engine';
import { guard, sayError } from './notices';
import { useDoc, useSession } from './store';

export type Strokes = NonNullable<OpTerm['strokes']>;
export const MOST_STROKES = 200;
/** What strokes can mean. */
export const PAINTED = {
  spread: 'A spread: like colour, up to an edge',
  skin: 'Skin: one person\u2019s, in light and shade',
  key: 'A key: ranges that separate them',
  nearness: 'A nearness key: close to their colours',
} as const;
export type PaintedOp = keyof typeof PAINTED;
/** Grown from strokes over the picture itself: the strokes are all that it needs. */
export function grows(op: string): boolean {
  const o = opById(op);
  return o.kind === 'key' && o.area === 'frame';
}
const isPainted = (t: OpTerm): boolean => grows(t.use.op) || (t.strokes?.length ?? 0) > 0;

/** The part that strokes go to: the chosen one, else the first. */
export function chosenPainted(c: CorrectionRecord | null): OpTerm | null {
  const list = c ? opTerms(c.terms).filter(isPainted) : [];
  return list.find((t) => t.id === useSession.getState().term) ?? list[0] ?? null;
}
const termOf = (corr: string, term: string): OpTerm | null =>
  opTerms(correction(corr)?.terms ?? []).find((t) => t.id === term) ?? null;
/** The open shot, and how wide strokes are in it. */
function open(): { shot: ReturnType<typeof shotState>; brushPx: number } | null {
  const { records } = useDoc.getState();
  const shot = records[useSession.getState().shot ?? ''];
  if (shot?.type !== 'shot') return null;
  const media = mediaOf(records, shot);
  return {
    shot: shotState(records, shot),
    brushPx: Math.max(3, Math.max(media?.width ?? 0, media?.height ?? 0) / 200),
  };
}
/** What the strokes make of a key; null where it could not be told, which was said. */
async function fitted(
  corr: string,
  term: string,
  strokes: Strokes,
  op: PaintedOp,
): Promise<{ params: Record<string, StoredValue>; light: readonly number[] } | null> {
  const at = open();
  if (!at) return null;
  const r = await guard('The key was not set by the strokes', () =>
    engine().request('strokeFit', { ...at, correction: corr, term, strokes, space: spaceOf(termOf(corr, term)) }),
  );
  return r && { params: op === 'key' ? { ...r.fit } : { ...r.near }, light: r.light };
}
type Fitted = NonNullable<Awaited<ReturnType<typeof fitted>>>;
/** A key as strokes set it; one that is new on a moving shot is made in the light of the frame painted on. */
const setBy = (t: OpTerm, { params, light }: Fitted): Partial<OpTerm> => ({
  use: { ...t.use, params: { ...t.use.params, ...params } },
  ...(t.light === undefined ? madeIn(t, light) : {}),
});
/** One stroke more: on a frame that was not painted on yet, what counted there until now stays. */
function withOne(corr: string, t: OpTerm, strokes: Strokes, stroke: Strokes[number]): Strokes {
  const { records } = useDoc.getState();
  const shot = records[useSession.getState().shot ?? ''];
  const c = correction(corr);
  const fit = c && shot?.type === 'shot' ? fitFor(records, c, shot) : undefined;
  return [...carriedTo(strokes, stroke.frame, fit, t.track), stroke];
}
/** Of other strokes something else grows: how much it was with the old ones is not to be kept to. */
function grownFrom(t: OpTerm, strokes: Strokes): OpTerm {
  const { sharePct, ...params } = t.use.params;
  return { ...t, strokes, ...(sharePct === undefined ? {} : { use: { ...t.use, params } }) };
}
/** A part with one more stroke, as it would be; null where that cannot be told yet. Changes nothing. */
export async function withStroke(corr: string, t: OpTerm, stroke: Strokes[number]): Promise<OpTerm | null> {
  const strokes = withOne(corr, t, t.strokes ?? [], stroke);
  if (grows(t.use.op)) return grownFrom(t, strokes);
  const at = open();
  if (!at || !strokes.some((s) => s.keep)) return null;
  const r = await engine().request('strokeFit', {
    ...at,
    correction: corr,
    term: t.id,
    strokes,
    space: spaceOf(t),
  });
  return { ...t, strokes, use: { ...t.use, params: { ...t.use.params, ...(t.use.op === 'key' ? r.fit : r.near) } } };
}
function write(corr: string, term: string, label: string, change: (t: OpTerm) => OpTerm): void {
  editCorrection(corr, label, (c) => ({
    ...c,
    terms: mapTerms(c.terms, (t) => (t.id === term && isOp(t) ? change(t) : t)),
  }));
}
/** Strokes come one after the other: the second is fitted with the first in place. */
let last: Promise<void> = Promise.resolve();
/** Strokes and what follows from them in one go; what takes time is asked for first. */
function setStrokes(corr: string, term: string, label: string, f: (s: Strokes) => Strokes): Promise<void> {
  const t = termOf(corr, term);
  if (t && grows(t.use.op)) {
    write(corr, term, label, (x) => grownFrom(x, f(x.strokes ?? [])));
    return Promise.resolve();
  }
  last = last.then(async () => {
    const now = termOf(corr, term);
    if (!now) return;
    const strokes = f(now.strokes ?? []);
    const found = strokes.some((s) => s.keep) ? await fitted(corr, term, strokes, now.use.op as PaintedOp) : null;
    if (!found && strokes.some((s) => s.keep)) return;
    // What else was changed meanwhile stays; a part that is read in another way by now has no use for these values.
    write(corr, term, label, (x) => ({
      ...x,
      strokes: f(x.strokes ?? []),
      ...(found && x.use.op === now.use.op ? setBy(x, found) : {}),
    }));
  });
  return last;
}
export async function addStroke(corr: string, term: string, stroke: Strokes[number]): Promise<void> {
  const t = termOf(corr, term);
  if (t && withOne(corr, t, t.strokes ?? [], stroke).length > MOST_STROKES) {
    sayError(`A part holds at most ${MOST_STROKES} strokes: remove one first.`);
    return;
  }
  const label = stroke.keep ? 'Paint what is meant' : 'Paint what is not meant';
  await setStrokes(corr, term, label, (s) => {
    const now = termOf(corr, term);
    return now ? withOne(corr, now, s, stroke) : s;
  });
}
export const removeStroke = (corr: string, term: string, i: number): Promise<void> =>
  setStrokes(corr, term, 'Remove a stroke', (s) => s.filter((_, k) => k !== i));
/** What was meant is not meant, and the other way round. */
export const turnStroke = (corr: string, term: string, i: number): Promise<void> =>
  setStrokes(corr, term, 'Turn a stroke round', (s) => s.map((x, k) => (k === i ? { ...x, keep: !x.keep } : x)));

/** The same strokes, read in another way. */
export async function readStrokesAs(corr: string, term: string, op: PaintedOp): Promise<void> {
  const t = termOf(corr, term);
  if (!t?.strokes || t.use.op === op) return;
  const found = grows(op)
    ? { params: { brushPx: Math.round(10 * (open()?.brushPx ?? 8)) / 10 } }
    : await fitted(corr, term, t.strokes, op);
  if (!found || termOf(corr, term) !== t) return;
  write(corr, term, 'Read the strokes in another way', ({ light, ...x }) => {
    const next = { ...x, use: newUse(x.use.id, op, found.params) };
    // What grows does so on each frame by its own colours there.
    if (!('light' in found)) return next;
    return light === undefined ? { ...next, ...madeIn(next, found.light) } : { ...next, light };
  });
}
