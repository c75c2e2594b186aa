/** Recolour: the region's own mean is brought to a colour, and what came of it is measured on the file's codes. */
import { resolveEncoding } from '../../core/color/encodings';
import type { Encoding } from '../../core/color/encodings';
import { displayEncoding, inputOfAdjustment } from '../../core/graph/plan';
import { hueApart, labApart, meanOklab, solveTrim } from '../../core/match/recolour';
import type { Lab3, Weighed } from '../../core/match/recolour';
import { resolve } from '../../core/op/params';
import type { Values } from '../../core/op/params';
import recolourOp from '../../core/ops/recolour/index';
import type { params as recolourParams } from '../../core/ops/recolour/params';
import { plainContext } from '../../core/op/contract';
import type { PixelOp } from '../../core/op/contract';
import { luma } from '../../core/color/ycbcr';
import { beyondOf } from '../../core/color/beyond';
import type { Beyond } from '../../core/color/beyond';
import { evenOf } from '../../core/skin/evenness';
import type { RecolourReply, RecolourRequest, Requests, ShotState } from '../../protocol/messages';
import { matteOf, rgbOf } from '../samples';
import type { Planes } from '../pictures';
import type { Held } from './held';

const recolour = recolourOp as unknown as PixelOp<typeof recolourParams>;
/** So many pixels are enough for a mean while it is being solved. */
const MOST_SAMPLES = 24_000;
/** What is less in than this says nothing of the thing. */
const LEAST_IN = 0.5;

/** Pixels of planes by how much they are in, every so many. */
function weighed(h: Held, p: Planes, places: Int32Array, weight: Float32Array): Weighed {
  return h.ev.arena.look((v) => {
    const all = rgbOf(v, p);
    const take = (plane: Float32Array): Float32Array => Float32Array.from(places, (i) => plane[i]!);
    return { r: take(all.r), g: take(all.g), b: take(all.b), weight };
  });
}
function places(matte: Float32Array | null, n: number): { at: Int32Array; weight: Float32Array } {
  let inside = n;
  if (matte) {
    inside = 0;
    for (let i = 0; i < n; i++) if (matte[i]! >= LEAST_IN) inside++;
  }
  const step = Math.max(1, Math.ceil(inside / MOST_SAMPLES));
  const at: number[] = [];
  for (let i = 0, k = 0; i < n; i++) if ((matte ? matte[i]! : 1) >= LEAST_IN && k++ % step === 0) at.push(i);
  return { at: Int32Array.from(at), weight: Float32Array.from(at, (i) => (matte ? matte[i]! : 1)) };
}
/** As the file holds them, and the share of the weight that has a channel at either end. */
function coded(w: Weighed, bits: 8 | 16): { codes: Weighed; clipped: number } {
  const most = 2 ** bits - 1;
  const code = (p: Float32Array): Float32Array =>
    p.map((v) => (v > 0 ? Math.min(most, Math.round(v * most)) / most : 0));
  const codes = { r: code(w.r), g: code(w.g), b: code(w.b), weight: w.weight };
  let [over, all] = [0, 0];
  for (let i = 0; i < w.r.length; i++) {
    const k = w.weight[i]!;
    all += k;
    if ([codes.r, codes.g, codes.b].some((p) => p[i] === 0 || p[i] === 1)) over += k;
  }
  return { codes, clipped: all > 0 ? over / all : 0 };
}

/** What an adjustment is given inside its region; one that is not there yet would be the last. */
async function givenTo(h: Held, q: { shot: ShotState; correction: string; use: string | null }) {
  const c = q.shot.corrections.find((x) => x.id === q.correction);
  if (!c) throw new RangeError('There is no such correction in this shot');
  const found = c.adjustments.findIndex((u) => u.id === q.use);
  const k = found < 0 ? c.adjustments.length : found;
  const encoding: Encoding = c.side === 'camera' ? resolveEncoding(q.shot.encoding) : displayEncoding(q.shot);
  const step = (await h.run(q.shot, q.correction)).steps.get(q.correction);
  if (!step) throw new RangeError('There is no such correction in this shot');
  const n = step.input.w * step.input.h;
  const { at, weight } = h.ev.arena.look((v) => places(matteOf(v, step.input, step.matte), n));
  if (at.length < 16) throw new RangeError('Almost nothing is in the region: look at its matte, then open its key');
  const given = await h.run({ ...q.shot, corrections: inputOfAdjustment(q.shot.corrections, c.id, k) });
  return { c, k, encoding, at, weight, samples: weighed(h, given.out, at, weight) };
}

/** Shares of a region that lie below its dark end and above its bright one: glints and holes are no range. */
const ENDS = 0.02;
/** Levels of what an adjustment is given in its region: the ends, and the mean, about which a face is modelled. */
export async function levelsGiven(h: Held, q: Requests['levelsGiven']['in']): Promise<Requests['levelsGiven']['out']> {
  const { samples } = await givenTo(h, q);
  let [sum, all] = [0, 0];
  const list: [y: number, weight: number][] = [];
  samples.weight.forEach((k, i) => {
    const y = luma(samples.r[i]!, samples.g[i]!, samples.b[i]!);
    if (!Number.isFinite(y) || !(k > 0)) return;
    sum += k * y;
    all += k;
    list.push([y, k]);
  });
  if (!(all > 0)) throw new RangeError('Nothing in the region is a number: there is no mean');
  list.sort((a, b) => a[0] - b[0]);
  const at = (share: number): number => {
    let seen = 0;
    for (const [y, k] of list) if ((seen += k) >= share * all) return y;
    return list.at(-1)![0];
  };
  return { mean: sum / all, low: at(ENDS), high: at(1 - ENDS) };
}

/** How even a region's colour is: what the adjustment is given, and what leaves. */
export async function evenness(h: Held, q: Requests['evenness']['in']): Promise<Requests['evenness']['out']> {
  const { at, weight, samples } = await givenTo(h, q);
  const given = evenOf(samples);
  if (!given) throw new RangeError('The region has hardly a colour: there is no hue to even');
  const { codes } = coded(weighed(h, (await h.run(q.shot)).out, at, weight), q.bits);
  return { given, leaves: evenOf(codes, given) };
}

/** What lies beyond the range in a region: of what an adjustment is given, and of what it gives. */
export async function beyond(h: Held, q: Requests['beyond']['in']): Promise<Requests['beyond']['out']> {
  const c = q.shot.corrections.find((x) => x.id === q.correction);
  const k = c?.adjustments.findIndex((u) => u.id === q.use) ?? -1;
  if (!c || k < 0) throw new RangeError('There is no such adjustment in this shot');
  const step = (await h.run(q.shot, q.correction)).steps.get(q.correction);
  if (!step) throw new RangeError('There is no such correction in this shot');
  // A copy: what is held may be given up while the next picture is made.
  const matte = h.ev.arena.look((v) => matteOf(v, step.input, step.matte)?.slice() ?? null);
  const at = async (n: number): Promise<Beyond> => {
    const { out } = await h.run({ ...q.shot, corrections: inputOfAdjustment(q.shot.corrections, c.id, n) });
    return h.ev.arena.look((v) => beyondOf(rgbOf(v, out), matte, () => h.ev.check()));
  };
  return { given: await at(k), gives: await at(k + 1) };
}

export async function recolourTo(h: Held, q: RecolourRequest): Promise<RecolourReply> {
  const { c, k, encoding, at, weight, samples } = await givenTo(h, q);
  if (k >= c.adjustments.length) throw new RangeError('There is no such adjustment in this shot');
  const display = displayEncoding(q.shot);
  const from = meanOklab(samples, encoding);
  if (!from) throw new RangeError('Nothing in the region is a number: there is no mean to begin with');
  const values = resolve(recolour.params, c.adjustments[k]!.params, q.shot.frame) as Values<typeof recolourParams>;
  const by = (p: { from: Lab3; to: Lab3; trim: Lab3 }): Lab3 => {
    h.ev.check();
    const made = { ...samples, r: samples.r.slice(), g: samples.g.slice(), b: samples.b.slice() };
    recolour.kernel(recolour.prepare(p, { ...plainContext, encoding }), { ...made, n: made.r.length });
    return meanOklab(made, encoding) ?? from;
  };
  const to = q.to ?? ([...values.to] as unknown as Lab3);
  const solved = q.to ? solveTrim(to, (trim) => by({ from, to, trim })) : null;
  const params = solved ? { from, to, trim: solved.trim } : null;
  // What the adjustment itself gives: what leaves may differ by the mix, the matte, and whatever comes after it.
  const gives = solved?.mean ?? by(values as unknown as Record<'from' | 'to' | 'trim', Lab3>);
  const leaves = async (shot: ShotState) => coded(weighed(h, (await h.run(shot)).out, at, weight), q.bits);
  const without = q.shot.corrections.map((x) =>
    x === c ? { ...c, adjustments: c.adjustments.map((u, i) => (i === k ? { ...u, on: false } : u)) } : x,
  );
  const taken = q.shot.corrections.map((x) =>
    x === c && params
      ? { ...c, adjustments: c.adjustments.map((u, i) => (i === k ? { ...u, on: true, params } : u)) }
      : x,
  );
  const before = await leaves({ ...q.shot, corrections: without });
  const after = await leaves({ ...q.shot, corrections: taken });
  const [was, is] = [meanOklab(before.codes, display)!, meanOklab(after.codes, display)!];
  return {
    params,
    from,
    was,
    is,
    apart: labApart(is, to),
    givesApart: labApart(gives, to),
    hueOffDeg: hueApart(is, to),
    clippedBefore: before.clipped,
    clippedAfter: after.clipped,
  };
}
