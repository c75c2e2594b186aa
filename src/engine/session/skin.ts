/** Skin from one press: the region is there; a clean patch in it, the push, and what can be said of the whole. */
import { displayEncoding } from '../../core/graph/plan';
import { patchAt } from '../../core/graph/patch';
import { wrap180, wrap360 } from '../../core/math/angle';
import { labOf, lightBlock } from '../../core/matte/light';
import { likenessOf, skinSaid } from '../../core/matte/skin';
import { shrink, sizeOf } from '../../core/matte/small';
import { reachOf } from '../../core/matte/twoThings';
import { cleanPatch, readPixels, readRegion, regionPixels } from '../../core/skin/clean';
import { CannotBring } from '../../core/skin/bringToLine';
import { usedPixels } from '../../core/skin/reading';
import type { Box, Reading } from '../../core/skin/reading';
import type { Requests } from '../../protocol/messages';
import type { StepResult } from '../evaluator';
import type { Planes } from '../pictures';
import { matteOf, rgbOf } from '../samples';
import type { Views } from '../memory';
import type { Held } from './held';
import { solve } from './solve';

type Ask = Requests['skinPress']['in'];
type Reply = Requests['skinPress']['out'];

/** Small pixels beside a border that say whether it is one. */
const BESIDE = 3;
/** Shares of the matte in the picture and on its rim, and how much its border looks like one. */
function seen(v: Views, s: StepResult, q: Ask): { coverage: number; rim: number; likeness: number } {
  const { w, h } = s.input;
  const m = matteOf(v, s.input, s.matte);
  if (!m) return { coverage: 1, rim: 1, likeness: 0 };
  const to = sizeOf(w, h);
  const n = to.w * to.h;
  const small = shrink(m, w, h, to);
  const mask = new Uint8Array(n);
  for (let i = 0; i < n; i++) mask[i] = small[i]! >= 0.5 ? 1 : 0;
  // Its border is looked at, and a pixel on either side of it.
  const { x0, y0, x1, y1 } = reachOf(mask, to.w);
  const about = {
    x0: Math.max(0, x0 - BESIDE),
    y0: Math.max(0, y0 - BESIDE),
    x1: Math.min(to.w, x1 + BESIDE),
    y1: Math.min(to.h, y1 + BESIDE),
  };
  const { r, g, b } = rgbOf(v, s.input);
  const [R, G, B] = [r, g, b].map((p) => shrink(p, w, h, to, about)) as [Float32Array, Float32Array, Float32Array];
  const way = Float32Array.from(lightBlock(displayEncoding(q.shot)));
  const lab = [new Float32Array(n), new Float32Array(n), new Float32Array(n)] as const;
  for (let y = about.y0; y < about.y1; y++)
    for (let x = about.x0, i = y * to.w + x; x < about.x1; x++, i++) {
      const at = labOf(way, 0, R[i]!, G[i]!, B[i]!);
      for (let k = 0; k < 3; k++) lab[k]![i] = at[k]!;
    }
  let [inside, rim, edge] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const x = i % to.w;
    const border = x === 0 || x === to.w - 1 || i < to.w || i >= n - to.w;
    inside += mask[i]!;
    if (border) edge++;
    if (border && mask[i]) rim++;
  }
  const p = { w: to.w, h: to.h, L: lab[0], a: lab[1], b: lab[2] };
  return { coverage: inside / n, rim: rim / edge, likeness: likenessOf(p, mask, null) };
}

/** Further past the line a patch is not brought for the sake of the whole: there is more than one colour then. */
const MOST_PAST = 6;
/** Degrees that the whole may lie off the line after so many rounds. */
const NEAR = 0.1;
const ROUNDS = 4;
/** A reading that was made against a line that stands so many degrees away, against the line itself. */
const against = (r: Reading, by: number): Reading =>
  by === 0 || r.offLineDeg === null ? r : { ...r, offLineDeg: wrap180(r.offLineDeg + by) };

/** What all that a region holds reads as the picture came, and as it leaves in a file of so many bits. */
export async function regionReads(h: Held, q: Requests['regionReads']['in']): Promise<Requests['regionReads']['out']> {
  const res = await h.run(q.shot, q.correction);
  const step = res.steps.get(q.correction);
  if (!step) throw new RangeError('There is no such correction in this shot');
  const base = await h.base(q.shot, res.source);
  h.slow(step.input.w * step.input.h);
  return h.ev.arena.look((v) => {
    const m = matteOf(v, step.input, step.matte);
    if (!m) return { before: null, after: null };
    const of = (p: Planes): Reading | null => readRegion(rgbOf(v, p), m, q.skinLineDeg, q.bits);
    return { before: of(base), after: of(res.out) };
  });
}

/** Which pixels of a patch its reading counts, at full size, as the file holds them. */
export async function usedOf(h: Held, q: Requests['usedPixels']['in']): Promise<Requests['usedPixels']['out']> {
  const { out } = await h.run(q.shot);
  const { box, points } = patchAt(q.patch, q.shot.frame);
  return h.ev.arena.look((v) => {
    const { r, g, b } = rgbOf(v, out);
    return usedPixels(r, g, b, out.w, box, points, q.bits);
  });
}

export async function skinPress(h: Held, q: Ask): Promise<Reply> {
  const look = async (shot: Ask['shot']): Promise<{ step: StepResult; out: Planes }> => {
    const res = await h.run(shot, q.correction);
    const step = res.steps.get(q.correction);
    if (!step) throw new RangeError('There is no such correction in this shot');
    return { step, out: res.out };
  };
  const { step, out } = await look(q.shot);
  const first = h.ev.arena.look((v) => {
    const m = matteOf(v, step.input, step.matte) ?? new Float32Array(step.input.w * step.input.h).fill(1);
    const planes = rgbOf(v, out);
    // A push moves no pixel of the region: which are read is looked up once.
    const at = regionPixels(m);
    const before = readPixels(planes, at, q.skinLineDeg, q.bits);
    return { ...seen(v, step, q), at, patch: before && cleanPatch(planes, m, out.w, out.h, before), before };
  });
  let solved: Reply['solved'] = null;
  let fault: string | null = first.patch ? null : 'No clean piece of skin lies inside: press on another part of it';
  let after = first.before;
  /** The patch is brought to a line that stands so many degrees away, and the whole is read. */
  const push = async (patch: Box, by: number): Promise<Reading | null> => {
    const r = await solve(h, {
      shot: q.shot,
      correction: q.correction,
      patches: [{ box: patch }],
      kind: q.kind,
      strength: q.strength,
      keep: 'within10',
      skinLineDeg: wrap360(q.skinLineDeg + by),
      bits: q.bits,
    });
    solved = { ...r, before: against(r.before, by), after: against(r.after, by) };
    const { adjustments } = solved;
    const shot = {
      ...q.shot,
      corrections: q.shot.corrections.map((c) => (c.id === q.correction ? { ...c, adjustments } : c)),
    };
    const pushed = await look(shot);
    return h.ev.arena.look((v) => readPixels(rgbOf(v, pushed.out), first.at, q.skinLineDeg, q.bits));
  };
  if (first.patch)
    try {
      after = await push(first.patch, 0);
      // The whole comes to the line, not the patch alone: what it misses by, the patch is brought past it; and since
      // both do not turn alike, in some rounds.
      let past = 0;
      for (let round = 0; round < ROUNDS && q.strength === 1; round++) {
        const left: number = after?.offLineDeg ?? 0;
        if (Math.abs(left) <= NEAR || Math.abs(past - left) > MOST_PAST) break;
        past -= left;
        after = await push(first.patch, past);
      }
    } catch (e) {
      if (!(e instanceof CannotBring)) throw e;
      fault = e.message;
    }
  const two = first.before?.second;
  const apart = two?.offLineDeg != null && first.before?.offLineDeg != null;
  return {
    patch: first.patch,
    solved,
    fault,
    before: first.before,
    after,
    coverage: first.coverage,
    said: skinSaid({
      ...first,
      second: apart ? { deg: Math.abs(wrap180(two.offLineDeg! - first.before!.offLineDeg!)), share: two.share } : null,
    }),
  };
}
