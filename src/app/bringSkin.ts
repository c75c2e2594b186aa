/** Bring to line: one patch, several by one push, or each in a correction of its own; over the frames of a clip. */
import { isKnownAt } from '../core/graph/patch';
import { newUse } from '../core/graph/plan.defaults';
import { valueAt } from '../core/op/params';
import type { Keyframed } from '../core/op/params';
import type { KeepChroma, WantedLevel } from '../core/skin/bringToLine';
import { keyed, keysFor } from '../core/skin/drift';
import type { Solved } from '../core/skin/drift';
import { lineId, wayOf } from '../core/skin/pushes';
import type { PushKind } from '../core/skin/pushes';
import type { Reading } from '../core/skin/reading';
import { put } from '../document/history';
import { mediaOf, ownCorrectionsOf, projectOf, recordOf } from '../document/records';
import type { CorrectionRecord, OpUse, PatchRecord, Records, ShotRecord } from '../document/records';
import type { SolveReply } from '../protocol/messages';
import { formatNumber } from '../ui/NumberBox';
import { editCorrection, shotState } from './actions';
import { patchSpec } from './bench/scopeSlots';
import { freeName } from './edit';
import { engine } from './engine';
import { EngineError } from './engineError';
import { runJob } from './jobs';
import { mediaKey } from './mediaKey';
import { sayError, sayNews } from './notices';
import { pressedCorrection } from './press';
import { useDoc, useSession } from './store';
import { wordsOf } from './words';

/** For whom: the chosen patch, all of them by one push, each in the correction that reaches it. */
export type Whom = 'one' | 'all' | 'each';
export interface Bring {
  kind: PushKind;
  keep: KeepChroma;
  level: WantedLevel | null;
  /** 0..1. */
  strength: number;
}
export interface Brought {
  name: string;
  /** Of the correction that it stands in. */
  by: string;
  /** It is made for this person. */
  fresh: boolean;
  reply: SolveReply;
}
export interface BringPlan {
  list: Brought[];
  /** What would be set. */
  set: { id: string; was: CorrectionRecord; fresh: CorrectionRecord | null; adjustments: OpUse[] }[];
  /** Of the frame that it was solved on. */
  frame: number;
  /** In words, who is left out and why. */
  faults: string[];
}

export const degSaid = (v: number | null): string =>
  v === null ? 'too neutral to read' : `${formatNumber(v, 1, true)}\u00b0`;
const ask = (records: Records, shot: ShotRecord, b: Bring, correction: string, patches: readonly PatchRecord[]) => ({
  shot: shotState(records, shot),
  correction,
  patches: patches.map(patchSpec),
  ...b,
  skinLineDeg: projectOf(records)?.skinLineDeg ?? 123,
  bits: useSession.getState().bits,
});

/** One push in one correction, for one patch or for several as one colour. */
export async function planOne(
  shot: ShotRecord,
  corr: CorrectionRecord,
  patches: readonly PatchRecord[],
  b: Bring,
): Promise<BringPlan> {
  const { frame } = useSession.getState();
  const reply = await engine().request('solve', ask(useDoc.getState().records, shot, b, corr.id, patches));
  const name = patches.map((p) => p.name).join(', ');
  return {
    list: [{ name, by: corr.name, fresh: false, reply }],
    set: [{ id: corr.id, was: corr, fresh: null, adjustments: reply.adjustments }],
    frame,
    faults: [],
  };
}
/** So much of a matte must lie on a patch, for the correction to be that person's. */
const REACHES = 0.5;
/** New corrections of a plan, by patch: asked again they are the same, and found in what the engine holds. */
const fresh = new Map<string, CorrectionRecord>();
function freshFor(records: Records, shot: ShotRecord, p: PatchRecord, k: number): CorrectionRecord | null {
  const media = mediaOf(records, shot);
  if (!media) return null;
  const { frame } = useSession.getState();
  const key = JSON.stringify([p.id, p.box, frame]);
  const list = ownCorrectionsOf(records, shot.id);
  const names = list.map((c) => c.name);
  const at = { x: p.box.x + p.box.w / 2, y: p.box.y + p.box.h / 2 };
  const c = fresh.get(key) ?? pressedCorrection(shot, media, at, frame, freeName('Skin', names));
  if (fresh.size > 64) fresh.clear();
  fresh.set(key, c);
  return { ...c, order: (list.at(-1)?.order ?? 0) + 1 + k };
}

/** Each patch by the correction that reaches it best, or by a new one whose region is pressed out of the patch. */
export async function planEach(shot: ShotRecord, patches: readonly PatchRecord[], b: Bring): Promise<BringPlan> {
  let { records } = useDoc.getState();
  const { frame } = useSession.getState();
  const reach = await engine().request('reaches', { shot: shotState(records, shot), patches: patches.map(patchSpec) });
  const plan: BringPlan = { list: [], set: [], frame, faults: [] };
  for (const [i, p] of patches.entries()) {
    const best = [...reach[i]!].sort((x, y) => y.share - x.share)[0];
    const there = best && best.share >= REACHES ? recordOf(records, best.correction, 'correction') : undefined;
    const made = there ? null : freshFor(records, shot, p, i);
    const c = there ?? made;
    if (!c) continue;
    const taken = plan.set.find((s) => s.id === c.id);
    if (taken) {
      plan.faults.push(`${p.name} lies in ${c.name} as well, which another patch has brought already.`);
      continue;
    }
    try {
      const reply = await engine().request('solve', ask(put(c)(records), shot, b, c.id, [p]));
      plan.list.push({ name: p.name, by: c.name, fresh: made !== null, reply });
      plan.set.push({ id: c.id, was: c, fresh: made, adjustments: reply.adjustments });
      // The next is solved on what stands by then.
      records = put({ ...c, adjustments: reply.adjustments })(records);
    } catch (e) {
      plan.faults.push(`${p.name}: ${wordsOf(e)}.`);
    }
  }
  return plan;
}
const pairsOf = (r: SolveReply): { before: Reading; after: Reading }[] => (r.each.length > 0 ? r.each : [r]);
/** Whether taking it would change what is seen of a patch, in colour or in level. */
export const changes = (r: SolveReply): boolean =>
  pairsOf(r).some(
    ({ before: a, after: z }) =>
      200 * Math.hypot(z.cb - a.cb, z.cr - a.cr) > 0.05 || Math.abs(z.lumaPct - a.lumaPct) > 0.05,
  );
const isOnLine = (r: SolveReply): boolean => pairsOf(r).every((p) => Math.abs(p.before.offLineDeg ?? 90) < 0.05);

/** Whether a plan is of what stands now: of the frame looked at, of its corrections as they are. */
export const stands = (plan: BringPlan): boolean =>
  plan.frame === useSession.getState().frame &&
  plan.set.every((s) => s.fresh !== null || recordOf(useDoc.getState().records, s.id, 'correction') === s.was);

/** Takes what was planned, as one undo. */
export function takePlan(plan: BringPlan): void {
  if (plan.list.length === 0) {
    sayError(`There is nothing to bring to the line: ${plan.faults.join(' ')}`);
    return;
  }
  const todo = plan.set.filter((_, i) => changes(plan.list[i]!.reply));
  if (todo.length === 0) {
    const done = plan.list.every((l) => isOnLine(l.reply));
    sayNews(`${plan.list.map((l) => l.name).join(', ')}: ${done ? 'on the line already' : 'nothing would change'}.`);
    return;
  }
  const doc = useDoc.getState();
  doc.begin('Bring to line');
  for (const s of todo)
    if (s.fresh) doc.change('Add a correction', put({ ...s.fresh, adjustments: s.adjustments }));
    else editCorrection(s.id, 'Bring to line', (c) => ({ ...c, adjustments: s.adjustments }));
  doc.end();
  sayNews(
    plan.list
      .map(({ name, by, fresh: made, reply: r }) => {
        const way = (a: Reading, z: Reading): string =>
          `${degSaid(a.offLineDeg)} before, ${degSaid(z.offLineDeg)} after`;
        const all = r.each.length > 0 ? r.each.map((e) => way(e.before, e.after)).join('; ') : way(r.before, r.after);
        return `${name}: ${all}${made ? `, by the new ${by}` : ''}.`;
      })
      .join(' ') + ' It is an ordinary adjustment now; one undo takes it back.',
  );
}

/** Frames at which a drift is solved at most; every frame is read afterwards. */
const SAMPLES = 24;
const ROUNDS = 6;
/** Degrees that a frame may be left off before it gets a key of its own. */
const LEFT_DEG = 0.5;
/** The values a push is added to, as numbers at a frame. */
const flat = (list: readonly OpUse[], op: string, names: readonly string[], frame: number): OpUse[] =>
  list.map((u) =>
    u.op !== op
      ? u
      : {
          ...u,
          params: {
            ...u.params,
            ...Object.fromEntries(
              names.map((n) => [n, valueAt((u.params[n] ?? 0) as number | Keyframed, frame)] as const),
            ),
          },
        },
  );

/** Frames in words, those that lie no further apart than a step as one span. */
function spans(list: readonly number[], step: number): string {
  const runs: [number, number][] = [];
  for (const f of [...list].sort((a, b) => a - b)) {
    const at = runs.at(-1);
    if (at && f - at[1] <= step) at[1] = f;
    else runs.push([f, f]);
  }
  return `frame ${runs.map(([a, b]) => (a === b ? `${a}` : `${a} to ${b}`)).join(', ')}`;
}

/** Brings a patch to the line over all frames of its shot: solved at some, with the fewest keys that hold it. */
export async function holdToLine(
  shot: ShotRecord,
  corr: CorrectionRecord,
  patch: PatchRecord,
  b: Bring,
): Promise<void> {
  const { records } = useDoc.getState();
  const way = wayOf(b.kind);
  const spec = patchSpec(patch);
  const [first, last] = shot.range;
  const known = Array.from({ length: last - first + 1 }, (_, i) => first + i).filter((f) => isKnownAt(spec, f));
  const step = Math.max(1, Math.ceil(known.length / SAMPLES));
  const at = known.filter((_, i) => i % step === 0 || i === known.length - 1);
  const media = mediaKey(records, shot.media);
  const bring: Bring = { ...b, level: null, keep: way.dims === 1 ? 'within10' : b.keep };
  const title = `Holding ${patch.name} on the line`;
  const done = await runJob(title, at.length + known.length, async (run) => {
    let use: OpUse | null = null;
    const weak: number[] = [];
    const solve = async (frame: number): Promise<Solved | null> => {
      run.check();
      const adjustments = flat(corr.adjustments, way.op, way.names, frame);
      const q = ask(put({ ...corr, adjustments })(records), shot, bring, corr.id, [patch]);
      const r = await engine()
        .request('frameSolve', { ...q, shot: { ...q.shot, frame } }, run.signal)
        .catch((e: unknown) => {
          if (e instanceof EngineError && e.reply.code === 'cannot') return null;
          throw e;
        });
      // A push that makes up for a matte that is not there is no answer.
      if (!r || r.held < REACHES) {
        weak.push(frame);
        return null;
      }
      const got = r.adjustments.findLast((a) => a.op === way.op && a.on);
      use ??= got ?? null;
      return { frame, values: way.names.map((n) => (got?.params[n] as number | undefined) ?? 0), reading: r.after };
    };
    const solved: Solved[] = [];
    for (const [i, frame] of at.entries()) {
      if (at[i + 1] !== undefined) engine().prefetch({ media, frame: at[i + 1]! });
      const s = await solve(frame);
      if (s) solved.push(s);
      run.at(i + 1);
    }
    if (solved.length === 0)
      throw new Error(
        `${patch.name} is not in the region of ${corr.name} on any frame: mend the matte, or let it follow`,
      );
    const near = (f: number): boolean => weak.some((w) => Math.abs(w - f) < step);
    const gain = (s: Solved): number => way.gain(s.reading as Reading);
    const with_ = (keys: readonly Solved[]): OpUse[] => {
      const values = keyed(keys);
      const params = Object.fromEntries(way.names.map((n, i) => [n, values[i]!]));
      const now: OpUse = use ?? newUse(lineId(corr.id, way.op), way.op);
      const set = { ...now, params: { ...now.params, ...params } };
      return corr.adjustments.some((a) => a.id === set.id)
        ? corr.adjustments.map((a) => (a.id === set.id ? set : a))
        : [...corr.adjustments, set];
    };
    for (let round = 0; ; round++) {
      const keys = keysFor(solved, gain);
      const adjustments = with_(keys);
      const state = put({ ...corr, adjustments })(records);
      let [worst, off, sum, n] = [first, 0, 0, 0];
      for (const [i, frame] of known.entries()) {
        run.check();
        if (near(frame)) continue;
        if (known[i + 1] !== undefined) engine().prefetch({ media, frame: known[i + 1]! });
        const r = await engine().request(
          'moment',
          {
            shot: shotState(state, shot, false, frame),
            before: null,
            correction: null,
            patches: [spec],
            skinLineDeg: projectOf(records)?.skinLineDeg ?? 123,
            bits: useSession.getState().bits,
          },
          run.signal,
        );
        const deg = r.patches[0]?.after?.offLineDeg ?? null;
        // Nothing was read there.
        if (deg === null) continue;
        const left = Math.abs(deg);
        sum += left;
        n++;
        if (left > off) [worst, off] = [frame, left];
        run.at(at.length + i + 1);
      }
      const ends = round + 1 >= ROUNDS || solved.some((s) => s.frame === worst);
      if (off <= LEFT_DEG || ends || b.strength < 1) {
        return { adjustments, keys: keys.length, worst, off, mean: sum / n, weak, n };
      }
      const more = await solve(worst);
      if (more) solved.push(more);
      solved.sort((x, z) => x.frame - z.frame);
    }
  });
  if (!done) return;
  // What changed meanwhile stays: only this adjustment is set.
  editCorrection(corr.id, 'Hold to the line over the clip', (c) => {
    const set = done.adjustments.findLast((a) => a.op === way.op && a.on)!;
    return c.adjustments.some((a) => a.id === set.id)
      ? { ...c, adjustments: c.adjustments.map((a) => (a.id === set.id ? set : a)) }
      : { ...c, adjustments: [...c.adjustments, set] };
  });
  sayNews(
    `${patch.name}: ${done.keys === 1 ? 'one push holds it' : `${done.keys} keys hold it`} over ` +
      `${done.n} frames; ${done.off.toFixed(1)}\u00b0 off-line at most (frame ${done.worst}), ` +
      `${done.mean.toFixed(1)}\u00b0 in the mean.` +
      (known.length <= last - first ? ` On ${last - first + 1 - known.length} frames the patch is lost.` : '') +
      (done.weak.length > 0
        ? ` About ${spans(done.weak, step)} the patch is not in the region, or cannot be read: mend the matte there.`
        : '') +
      (spec.track ? '' : ' The patch stands still: where the skin moves, let it follow first.'),
  );
}
