/** A shape that follows what lies under it: a job that sets the path of a part of a region, as one step to undo. */
import { opById } from '../core/graph/plan';
import type { OpTerm } from '../core/graph/plan';
import { carriedTo, countingAt } from '../core/graph/strokes';
import { blendPath, bridgePath, fromDrawing, rebased, smoothPath, trimPath } from '../core/track/path';
import type { MotionKind } from '../core/track/fit';
import type { Followed } from '../core/track/follow';
import type { Line } from '../core/ops/freeform/line';
import type { ShotState } from '../protocol/messages';
import { cornersOf, patchAt } from '../core/graph/patch';
import type { Box } from '../core/skin/reading';
import { mapAt, mapPoint, stepAt } from '../core/graph/track';
import { shapeAt } from '../core/graph/shapeAt';
import type { Track } from '../core/graph/track';
import { isKeyframed, resolve, scalePx } from '../core/op/params';
import type { StoredValue } from '../core/op/params';
import { allTerms, isOp, mapTerms, opTerms } from '../core/graph/region';
import { fitFor, ownCorrectionsOf, patchesOf, recordOf } from '../document/records';
import type { CorrectionRecord, PatchRecord, Records, ShotRecord } from '../document/records';
import { lineOf, outlineOf } from './outline';
import { editPatch, frameOf, setParams, shotState } from './actions';
import { correction } from './edit';
import { engine } from './engine';
import { EngineError } from './engineError';
import { runJob } from './jobs';
import type { JobRun } from './jobs';
import { mediaKey } from './mediaKey';
import { sayError, sayNews } from './notices';
import { editTerm } from './region';
import { shapeValues } from './shapeValues';
import { grows } from './strokes';
import { useDoc } from './store';

export type Direction = 'forwards' | 'backwards' | 'both';
/**
 * A motion of the picture, what is found on each frame (for what grows from presses and strokes), or each point of a
 * freeform by itself.
 */
export type FollowKind = MotionKind | 'region' | 'outline';
/** Removes the path; the shape stays where it was drawn. */
export const stopFollowing = (corr: string, term: string): void =>
  editTerm(corr, term, { track: null }, 'Remove a path');

/**
 * Follows from the frame that is looked at. Frames that were followed before are replaced in that direction; what lies
 * the other way stays. `blend`: a second run towards the frame of drawing, which becomes one path with what is there.
 */
export async function followShape(
  shot: ShotRecord,
  c: CorrectionRecord,
  term: OpTerm,
  kind: FollowKind,
  direction: Direction | 'blend',
): Promise<void> {
  if (kind === 'region') return holdRegion(shot, c, term, direction);
  const { records } = useDoc.getState();
  const at = frameOf(shot);
  const op = opById(term.use.op);
  const fit = fitFor(records, c, shot);
  let outline: [number, number][] | null;
  let line: Line | undefined;
  if (grows(term.use.op)) {
    // Strokes are thin: what grows from them is what is followed.
    outline = await engine().request('about', { shot: shotState(records, shot), correction: c.id });
    if (!outline) {
      sayError('Nothing is in the region at this frame: paint on what you mean, and follow that.');
      return;
    }
  } else {
    // Drawn where it stands now: with the path that it has.
    const here = scalePx(op.params, resolve(op.params, term.use.params, at), 1, fit);
    // Points of a freeform may have gone by themselves as well.
    const free = term.use.op === 'freeform';
    const standing = free && term.track ? shapeAt(op.params, here, term.track, at) : here;
    const m = recordOf(records, shot.media, 'media');
    const drawn = outlineOf(term.use.op, standing, m?.width ?? 1, m?.height ?? 1);
    if (!drawn) {
      sayError('A ramp has no inside to follow: draw a shape round something, and follow that.');
      return;
    }
    const now = term.track && !free ? mapAt(term.track, at) : null;
    outline = now ? drawn.map(([x, y]) => mapPoint(now, x, y)) : drawn;
    if (kind === 'outline' && free) line = lineOf(standing);
  }
  await followed(
    shot,
    `Following ${term.name}`,
    term.name,
    byPicture(shot, outline, kind, line),
    at,
    towards(direction, at, term.track),
    (found, ways) => {
      const fresh = correction(c.id);
      const t = fresh && allTerms(fresh.terms).find((x) => x.id === term.id);
      if (!t || !isOp(t)) return false;
      editTerm(
        c.id,
        term.id,
        {
          // What it was when the run began is what the run is about.
          track: merged(shot, c, term, at, found, ways, direction),
        },
        direction === 'blend' ? 'Blend two runs' : 'Follow a shape',
      );
      return true;
    },
  );
}
/**
 * Holds what was pressed or painted by what is found of it on each frame, which a thing that turns does not carry out
 * of sight; how much of the picture it is stays with a press, so that later frames find as much.
 *
 * @param patch a patch that goes along with what is found
 */
export async function holdRegion(
  shot: ShotRecord,
  c: CorrectionRecord,
  term: OpTerm,
  direction: Direction | 'blend',
  patch?: string,
): Promise<void> {
  // Without a path it stands where it was painted: from there it is held, whatever frame is looked at by now.
  const here = frameOf(shot);
  const painted = term.track ? undefined : term.strokes?.[countingAt(term.strokes, here)[0] ?? -1]?.frame;
  const at = painted !== undefined && painted >= shot.range[0] && painted <= shot.range[1] ? painted : here;
  let share = 0;
  // As it was when the run began; what is changed meanwhile is not followed.
  const { records } = useDoc.getState();
  const now = shotState(records, shot);
  const drawn = recordOf(records, patch, 'patch');
  const there = drawn && patchAt(drawn, at);
  const goes = there ? spreadOver(there.box) : [];
  const along = new Map<number, readonly number[]>();
  const look: Looker = async (run, frame, begin, signal) => {
    const state = { ...withShare(now, c.id, term.id, share), frame };
    const ask = { run, shot: state, correction: c.id, term: term.id, begin, ...(begin ? { goes } : {}) };
    const r = await engine().request('holdRegion', ask, signal);
    if (begin) share ||= r.share;
    along.set(frame, r.along);
    return begin ? null : r;
  };
  const way = towards(direction, at, term.track);
  await followed(shot, `Holding ${term.name}`, term.name, look, at, way, (found, ways) => {
    const fresh = correction(c.id);
    const t = fresh && allTerms(fresh.terms).find((x) => x.id === term.id);
    if (!t || !isOp(t)) return false;
    const { begin, end, records } = useDoc.getState();
    begin('Hold over the clip');
    const use = t.use.op === 'skin' ? { use: { ...t.use, params: { ...t.use.params, ...shareParam(share) } } } : {};
    editTerm(c.id, term.id, { track: merged(shot, c, term, at, found, ways, direction), ...use }, 'Hold over the clip');
    const p = patch === undefined ? null : records[patch];
    // The press may have gone where skin is only near, to find the whole of it.
    const its = found.map((x) => ({ ...x, h: along.get(x.frame) ?? x.h }));
    if (p?.type === 'patch') editPatch(p.id, 'Hold over the clip', { track: joined(p.track, at, its, ways) });
    end();
    return true;
  });
}
/** Places spread evenly over a box: so many that an eye or a mouth under it hides only a few. */
const spreadOver = ({ x, y, w, h }: Box): [number, number][] =>
  Array.from({ length: 25 }, (_, i) => [x + (w * ((i % 5) + 0.5)) / 5, y + (h * (Math.floor(i / 5) + 0.5)) / 5]);
/** A second run goes to the frame of drawing and no further. */
const towards = (direction: Direction | 'blend', at: number, track: Track | undefined): Direction | { to: number } =>
  direction === 'blend' ? { to: track?.at ?? at } : direction;
/** A run that is done, with what was there of the path. */
function merged(
  shot: ShotRecord,
  c: CorrectionRecord,
  term: OpTerm,
  at: number,
  found: Track['path'],
  ways: readonly number[],
  direction: Direction | 'blend',
): Track {
  // As it was drawn at the frame of drawing: what its points go by themselves counts from there.
  const drawn = term.use.op === 'freeform' ? pointsOf(shot, c, term, term.track?.at ?? at) : [];
  return direction === 'blend' && term.track
    ? blendPath(term.track, at, found, placesOf(shot, c, term, term.track.at), drawn)
    : joined(term.track, at, found, ways, drawn);
}
/** Of a freeform, in pixels of the shot's picture, x and y in turn. */
function pointsOf(shot: ShotRecord, c: CorrectionRecord, term: OpTerm, frame: number): readonly number[] {
  const { params } = opById(term.use.op);
  const fit = fitFor(useDoc.getState().records, c, shot);
  return scalePx(params, resolve(params, term.use.params, frame), 1, fit)['points'] as readonly number[];
}
const shareParam = (share: number) => ({ sharePct: Math.round(1e5 * share) / 1e3 });
/** A shot whose press knows how much of the picture was found where it was made. */
function withShare(shot: ShotState, corr: string, term: string, share: number): ShotState {
  if (share === 0) return shot;
  const corrections = shot.corrections.map((c) => {
    if (c.id !== corr) return c;
    const terms = mapTerms(c.terms, (t) =>
      t.id === term && isOp(t) && t.use.op === 'skin'
        ? { ...t, use: { ...t.use, params: { ...t.use.params, ...shareParam(share) } } }
        : t,
    );
    return { ...c, terms };
  });
  return { ...shot, corrections };
}
/** Where a part lies at the frame it was drawn at, for what is done to its path. */
function placesOf(shot: ShotRecord, c: CorrectionRecord, term: OpTerm, at: number): [number, number][] {
  const { records } = useDoc.getState();
  const fit = fitFor(records, c, shot);
  const m = recordOf(records, shot.media, 'media');
  const [w, h] = [m?.width ?? 1, m?.height ?? 1];
  const painted = (term.strokes ?? []).flatMap((s) =>
    s.points.map(([x, y]): [number, number] => [x * fit.s + fit.dx, y * fit.s + fit.dy]),
  );
  if (painted.length > 0) return painted;
  const { params } = opById(term.use.op);
  return (
    outlineOf(term.use.op, scalePx(params, resolve(params, term.use.params, at), 1, fit), w, h) ?? [
      [0, 0],
      [w, h],
    ]
  );
}
/** What can be done to a path as a whole. */
export type PathWork = { do: 'smooth'; frames: number } | { do: 'bridge' } | { do: 'before' | 'after'; frame: number };
export function workOnPath(shot: ShotRecord, corr: string, term: string, work: PathWork): void {
  const c = correction(corr);
  const t = c && allTerms(c.terms).find((x) => x.id === term);
  if (!c || !t || !isOp(t) || !t.track) return;
  const about = placesOf(shot, c, t, t.track.at);
  const [track, label] =
    work.do === 'smooth'
      ? [smoothPath(t.track, work.frames / 2, about), `Smooth a path over ${work.frames} frames`]
      : work.do === 'bridge'
        ? [bridgePath(t.track, about), 'Bridge where it was lost']
        : work.do === 'before'
          ? [trimPath(t.track, work.frame, Infinity), 'Cut a path before this frame']
          : [trimPath(t.track, -Infinity, work.frame), 'Cut a path after this frame'];
  if (track.path.length === 0) {
    sayNews('Nothing of the path would be left: remove it instead.');
    return;
  }
  editTerm(corr, term, { track }, label);
}
/** What else in a shot can move by a path: other parts that have a place, and patches. */
export function takersOf(
  records: Records,
  shot: ShotRecord,
  but: string,
): { id: string; name: string; corr: string | null }[] {
  const own = ownCorrectionsOf(records, shot.id);
  const parts = own.flatMap((c) =>
    opTerms(c.terms)
      .filter((t) => t.id !== but && (opById(t.use.op).kind === 'shape' || grows(t.use.op)))
      .map((t) => ({ id: t.id, name: own.length > 1 ? `${t.name} in ${c.name}` : t.name, corr: c.id })),
  );
  const patches = patchesOf(records, shot.id).map((p) => ({ id: p.id, name: `patch ${p.name}`, corr: null }));
  return [...parts, ...patches];
}
/** A shape's own numbers as they stand at a frame, in place of those that its path moved there. */
function settleShape(corr: string, t: OpTerm, at: number): void {
  const own = resolve(opById(t.use.op).params, t.use.params, at) as Record<string, unknown>;
  const rounded = (v: number): number => Math.round(v * 1000) / 1000;
  const moved = Object.entries(shapeValues(t, at)).flatMap(([k, v]): [string, StoredValue][] => {
    if (JSON.stringify(v) === JSON.stringify(own[k])) return [];
    return [[k, typeof v === 'number' ? rounded(v) : Array.isArray(v) ? v.map(rounded) : v]];
  });
  setParams(corr, t.use.id, Object.fromEntries(moved), 'Copy a path');
}
/** The same for strokes: those that count at the frame, where they lie on it; they count over the whole shot. */
const settleStrokes = (corr: string, t: OpTerm, at: number): void =>
  editTerm(
    corr,
    t.id,
    { strokes: carriedTo(t.strokes!, at, undefined, t.track).filter((s) => s.frame === at) },
    'Copy a path',
  );
/** Gives the motion to another part or patch, which stays where it stands on the frame that is looked at. */
export function givePath(shot: ShotRecord, track: Track, to: ReturnType<typeof takersOf>[number]): void {
  const at = frameOf(shot);
  const given = rebased(track, at);
  if (to.corr === null) {
    const p = useDoc.getState().records[to.id];
    if (p?.type !== 'patch') return;
    // It may have moved already: it stays where it is here.
    const { box, points } = patchAt(p, at);
    editPatch(to.id, 'Copy a path', {
      box,
      ...(points ? { points: points.map(([x, y]) => [x, y]) } : {}),
      track: given,
    });
  } else {
    const c = correction(to.corr);
    const t = c && allTerms(c.terms).find((x) => x.id === to.id);
    if (!t || !isOp(t)) return;
    if (t.track && Object.values(t.use.params).some(isKeyframed)) {
      sayError(`${t.name} has keys on a path of its own: remove that path first, and copy again.`);
      return;
    }
    const { begin, end } = useDoc.getState();
    begin('Copy a path');
    // Where a path of its own has brought it by now is where it is drawn from here on.
    if (t.track && opById(t.use.op).kind === 'shape') settleShape(to.corr, t, at);
    else if (t.track && t.strokes) settleStrokes(to.corr, t, at);
    editTerm(to.corr, to.id, { track: given }, 'Copy a path');
    end();
  }
  const bends = track.path.some((p) => p.own);
  sayNews(
    `${to.name} follows the same path${bends ? ', as one: how single points moved stays with this outline' : ''}.`,
  );
}
/** How much larger than a patch what is followed for it is. */
const AROUND = 3.6;
export const stopFollowingPatch = (patch: string): void => editPatch(patch, 'Remove a path', { track: undefined });
/** Lets a patch follow, so that the same skin is read on every frame. */
export async function followPatch(
  shot: ShotRecord,
  patch: PatchRecord,
  kind: MotionKind,
  direction: Direction,
): Promise<void> {
  const at = frameOf(shot);
  const here = patchAt(patch, at);
  // Clean skin has little to hold on to: what lies round it moves with it.
  const [cx, cy] = [here.box.x + here.box.w / 2, here.box.y + here.box.h / 2];
  const wide = (v: number, c: number): number => c + AROUND * (v - c);
  const outline = (here.points ?? cornersOf(here.box)).map(([x, y]): [number, number] => [wide(x, cx), wide(y, cy)]);
  await followed(
    shot,
    `Following ${patch.name}`,
    patch.name,
    byPicture(shot, outline, kind),
    at,
    direction,
    (found, ways) => {
      const now = useDoc.getState().records[patch.id];
      if (now?.type !== 'patch') return false;
      editPatch(patch.id, 'Follow a patch', { track: joined(patch.track, at, found, ways) });
      return true;
    },
  );
}

/** One frame of a run; null for the first. */
type Looker = (
  run: string,
  frame: number,
  begin: boolean,
  signal: AbortSignal,
) => Promise<(Followed & { own?: readonly number[] }) | null>;
/** By what the picture inside an outline does. */
function byPicture(
  shot: ShotRecord,
  outline: [number, number][],
  kind: Exclude<FollowKind, 'region'>,
  line?: Line,
): Looker {
  const media = mediaKey(useDoc.getState().records, shot.media);
  const first = { outline, kind: kind === 'outline' ? 'position' : kind, ...(line ? { line } : {}) } as const;
  return (run, frame, begin, signal) =>
    engine().request('follow', { run, at: { media, frame }, ...(begin ? { begin: first } : {}) }, signal);
}
interface WayFollowed {
  found: { frame: number; h: readonly number[]; quality: number; lost: boolean; own?: readonly number[] }[];
  said: string[];
  /** How often what is looked for was taken anew; and over how many frames it went. */
  renewed: number;
  /** On how many it was held by its colours as well. */
  held: number;
  steps: number;
}
/** An engine that was started again in the middle of a run knows it no more: what was followed so far is done again. */
async function followedAnew<T>(once: () => Promise<T>): Promise<T> {
  for (let lives = 3; ;) {
    try {
      return await once();
    } catch (e) {
      if (!(e instanceof EngineError && e.reply.code === 'ended' && --lives > 0)) throw e;
    }
  }
}
/** From frame `at` to `end`; `before` frames were done by the same job. */
async function oneWay(
  shot: ShotRecord,
  title: string,
  look: Looker,
  at: number,
  { step, end }: { step: number; end: number },
  run: JobRun,
  before: number,
): Promise<WayFollowed> {
  const media = mediaKey(useDoc.getState().records, shot.media);
  const id = `${title} ${step} ${performance.now()}`;
  const r: WayFollowed = { found: [], said: [], renewed: 0, held: 0, steps: 0 };
  await look(id, at, true, run.signal);
  let lost = 0;
  let lostAt: number | null = null;
  for (let f = at + step; step > 0 ? f <= end : f >= end; f += step) {
    run.check();
    if (f !== end) engine().prefetch({ media, frame: f + step });
    const here = await look(id, f, false, run.signal);
    run.at(before + ++r.steps);
    if (!here) continue;
    if (here.renewed) r.renewed++;
    if (here.held) r.held++;
    const own = here.own ? { own: here.own } : {};
    r.found.push({ frame: f, h: here.h, quality: here.quality, lost: here.lost, ...own });
    if (!here.lost) {
      lost = 0;
      lostAt = null;
      continue;
    }
    lostAt ??= f;
    // For a while it may be hidden; after a second it is gone.
    if (++lost > shot.rate[0] / shot.rate[1]) {
      r.said.push(`It is lost from frame ${lostAt} on: ${here.why}. Move it there by hand and follow on.`);
      r.found.splice(r.found.length - lost);
      return r;
    }
  }
  if (lostAt !== null) r.said.push(`It is lost from frame ${lostAt} to the end of the run.`);
  return r;
}
/**
 * The run itself: from frame `at` over the frames of the shot; `take` is given what was found, and says whether there
 * was still something to give it to.
 */
async function followed(
  shot: ShotRecord,
  title: string,
  name: string,
  look: Looker,
  at: number,
  direction: Direction | { to: number },
  take: (found: Track['path'], ways: readonly number[]) => boolean,
): Promise<void> {
  const [first, last] = shot.range;
  const ways =
    typeof direction === 'object'
      ? [{ step: Math.sign(direction.to - at), end: direction.to }]
      : (direction === 'both' ? [1, -1] : [direction === 'forwards' ? 1 : -1]).map((step) => ({
          step,
          end: step > 0 ? last : first,
        }));
  const steps = ways.reduce((a, w) => a + Math.abs(w.end - at), 0);
  if (steps === 0) {
    sayNews('There is no frame in that direction.');
    return;
  }
  await runJob(title, steps, async (run) => {
    const runs: WayFollowed[] = [];
    for (const way of ways) {
      const before = runs.reduce((a, r) => a + r.steps, 0);
      runs.push(await followedAnew(() => oneWay(shot, title, look, at, way, run, before)));
    }
    const found = runs.flatMap((r) => r.found);
    const sum = (of: 'renewed' | 'held'): number => runs.reduce((a, r) => a + r[of], 0);
    const [renewed, held] = [sum('renewed'), sum('held')];
    const directions = ways.map((w) => w.step);
    if (!take(found, directions)) return;
    const hidden = found.filter((x) => x.lost).length;
    sayNews(
      `${name} follows over ${found.length} frames` +
        (hidden ? `, ${hidden} of them guessed while it was hidden` : '') +
        (renewed ? `; its look changed, so it was taken anew ${renewed === 1 ? 'once' : `${renewed} times`}` : '') +
        (held
          ? `, held by its colours on ${held === 1 ? 'one frame' : `${held} frames`}`
          : renewed
            ? ', which may drift a little'
            : '') +
        '.',
    );
    for (const s of runs.flatMap((r) => r.said)) sayError(s);
  });
}
/**
 * The path with new frames in place of all that it had in these directions; frames that were followed from another one
 * than that of drawing are brought to it.
 *
 * @param points of a freeform as it was drawn, x and y in turn
 */
export function joined(
  old: Track | undefined,
  at: number,
  found: Track['path'],
  directions: readonly number[] = [],
  points: readonly number[] = [],
): Track {
  const base = old ? stepAt(old, at) : null;
  const stays = (old?.path ?? []).filter((p) => !directions.some((d) => d * (p.frame - at) > 0));
  const path = new Map(stays.map((p) => [p.frame, p]));
  for (const p of found) path.set(p.frame, fromDrawing(base, p, points));
  return { at: old?.at ?? at, path: [...path.values()].sort((a, b) => a.frame - b.frame) };
}
