/** A shape that follows what lies under it: a job that sets the path of a part of a region, as one step to undo. */
import { opById } from '../core/graph/plan';
import type { OpTerm } from '../core/graph/plan';
import { multiplyMaps } from '../core/track/fit';
import type { MotionKind } from '../core/track/fit';
import { cornersOf, patchAt } from '../core/graph/patch';
import { mapAt, mapPoint } from '../core/graph/track';
import type { Track } from '../core/graph/track';
import { resolve, scalePx } from '../core/op/params';
import { allTerms, isOp } from '../core/graph/region';
import { fitFor, recordOf } from '../document/records';
import type { CorrectionRecord, PatchRecord, ShotRecord } from '../document/records';
import { outlineOf } from './outline';
import { editPatch, frameOf } from './actions';
import { correction } from './edit';
import { engine } from './engine';
import { runJob } from './jobs';
import { mediaKey } from './mediaKey';
import { sayError, sayNews } from './notices';
import { editTerm } from './region';
import { useDoc } from './store';

export type Direction = 'forwards' | 'backwards' | 'both';
/** Removes the path; the shape stays where it was drawn. */
export const stopFollowing = (corr: string, term: string): void =>
  editTerm(corr, term, { track: null }, 'Remove a path');

/**
 * Follows from the frame that is looked at. Frames that were followed before are replaced in that direction; what lies
 * the other way stays.
 */
export async function followShape(
  shot: ShotRecord,
  c: CorrectionRecord,
  term: OpTerm,
  kind: MotionKind,
  direction: Direction,
): Promise<void> {
  const { records } = useDoc.getState();
  const at = frameOf(shot);
  const op = opById(term.use.op);
  const fit = fitFor(records, c, shot);
  // Drawn where it stands now: with the path that it has.
  const here = scalePx(op.params, resolve(op.params, term.use.params, at), 1, fit);
  const now = term.track ? mapAt(term.track, at) : null;
  const m = recordOf(records, shot.media, 'media');
  const drawn = outlineOf(term.use.op, here, m?.width ?? 1, m?.height ?? 1);
  if (!drawn) {
    sayError('A ramp has no inside to follow: draw a shape round something, and follow that.');
    return;
  }
  const outline = now ? drawn.map(([x, y]) => mapPoint(now, x, y)) : drawn;
  await followed(shot, `Following ${term.name}`, term.name, outline, kind, direction, (found, ways) => {
    const fresh = correction(c.id);
    const t = fresh && allTerms(fresh.terms).find((x) => x.id === term.id);
    if (!t || !isOp(t)) return;
    editTerm(
      c.id,
      term.id,
      {
        // What it was when the run began is what the run is about.
        track: joined(term.track, at, found, ways),
      },
      'Follow a shape',
    );
  });
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
  await followed(shot, `Following ${patch.name}`, patch.name, outline, kind, direction, (found, ways) => {
    const now = useDoc.getState().records[patch.id];
    if (now?.type !== 'patch') return;
    editPatch(patch.id, 'Follow a patch', { track: joined(patch.track, at, found, ways) });
  });
}

/** The run itself: from the frame that is looked at, over the frames of the shot; `take` is given what was found. */
async function followed(
  shot: ShotRecord,
  title: string,
  name: string,
  outline: [number, number][],
  kind: MotionKind,
  direction: Direction,
  take: (found: Track['path'], ways: readonly number[]) => void,
): Promise<void> {
  const at = frameOf(shot);
  const media = mediaKey(useDoc.getState().records, shot.media);
  const [first, last] = shot.range;
  const ways = (direction === 'both' ? [1, -1] : [direction === 'forwards' ? 1 : -1]).map((step) => ({
    step,
    end: step > 0 ? last : first,
  }));
  const steps = ways.reduce((a, w) => a + Math.abs(w.end - at), 0);
  if (steps === 0) {
    sayNews('There is no frame in that direction.');
    return;
  }
  const found: { frame: number; h: readonly number[]; quality: number; lost: boolean }[] = [];
  const said: string[] = [];
  let renewed = 0;
  await runJob(title, steps, async (run) => {
    let done = 0;
    for (const { step, end } of ways) {
      const id = `${title} ${step} ${performance.now()}`;
      await engine().request('follow', { run: id, at: { media, frame: at }, begin: { outline, kind } }, run.signal);
      let lost = 0;
      let gone = false;
      let lostAt: number | null = null;
      for (let f = at + step; step > 0 ? f <= end : f >= end; f += step) {
        run.check();
        if (f !== end) engine().prefetch({ media, frame: f + step });
        const r = await engine().request('follow', { run: id, at: { media, frame: f } }, run.signal);
        run.at(++done);
        if (!r) continue;
        if (r.renewed) renewed++;
        found.push({ frame: f, h: r.h, quality: r.quality, lost: r.lost });
        if (!r.lost) {
          lost = 0;
          lostAt = null;
          continue;
        }
        lostAt ??= f;
        // For a while it may be hidden; after a second it is gone.
        if (++lost > shot.rate[0] / shot.rate[1]) {
          said.push(`It is lost from frame ${lostAt} on: ${r.why}. Move it there by hand and follow on.`);
          found.splice(found.length - lost);
          gone = true;
          break;
        }
      }
      if (lostAt !== null && !gone) said.push(`It is lost from frame ${lostAt} to the end of the run.`);
    }
    take(
      found,
      ways.map((w) => w.step),
    );
    const hidden = found.filter((x) => x.lost).length;
    sayNews(
      `${name} follows over ${found.length} frames` +
        (hidden ? `, ${hidden} of them guessed while it was hidden` : '') +
        (renewed ? `; its look changed, so it was taken anew ${renewed} times, which may drift a little` : '') +
        '.',
    );
    for (const s of said) sayError(s);
  });
}
/**
 * The path with new frames in place of all that it had in these directions; frames that were followed from another one
 * than that of drawing are brought to it.
 */
export function joined(
  old: Track | undefined,
  at: number,
  found: Track['path'],
  directions: readonly number[] = [],
): Track {
  const base = old ? mapAt(old, at) : null;
  const stays = (old?.path ?? []).filter((p) => !directions.some((d) => d * (p.frame - at) > 0));
  const path = new Map(stays.map((p) => [p.frame, p]));
  for (const p of found) path.set(p.frame, base ? { ...p, h: multiplyMaps(p.h, base) } : p);
  return {
    at: old?.at ?? at,
    path: [...path.values()]
      .sort((a, b) => a.frame - b.frame)
      .map((p) => ({ ...p, h: p.h.map((v) => +v.toPrecision(9)) })),
  };
}
