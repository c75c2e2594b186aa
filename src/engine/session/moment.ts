/** What one frame of a clip tells: its patches, its matte, and how that changed from the frame before. */
import { patchAt } from '../../core/graph/patch';
import { health } from '../../core/matte/health';
import { flickerOf } from '../../core/matte/still';
import type { MatteFrame } from '../../core/matte/still';
import type { Requests } from '../../protocol/messages';
import type { Matte, Planes } from '../pictures';
import { matteOf, rgbOf } from '../samples';
import { painted } from './health';
import type { Held } from './held';

/**
 * Change is judged on a copy of at most so many pixels a side: what only noise moves averages out there as for an eye.
 */
const SIDE = 640;

async function small(h: Held, planes: Planes, matte: Matte): Promise<MatteFrame & { w: number; h: number }> {
  let [p, m] = [planes, matte];
  while (Math.max(p.w, p.h) > SIDE) {
    m = await h.ev.halveMatte(m, p.w, p.h);
    p = await h.ev.halvePlanes(p);
  }
  return h.ev.arena.look((v) => {
    const { r, g, b } = rgbOf(v, p);
    const copy = matteOf(v, p, m)!.slice();
    return { w: p.w, h: p.h, matte: copy, picture: [r.slice(), g.slice(), b.slice()] as const };
  });
}

export async function moment(
  h: Held,
  { shot, before, correction, patches, skinLineDeg, bits }: Requests['moment']['in'],
): Promise<Requests['moment']['out']> {
  const matteAt = async (frame: number): Promise<(MatteFrame & { w: number; h: number }) | null> => {
    if (correction === null) return null;
    const step = (await h.run({ ...shot, frame }, correction)).steps.get(correction);
    return step?.matte ? small(h, step.input, step.matte) : null;
  };
  const earlier = before === null ? null : await matteAt(before);
  const now = await matteAt(shot.frame);
  // Run again: what was computed for the matte is found.
  const res = await h.run(shot, correction ?? undefined);
  const base = await h.base(shot, res.source);
  const readings = patches
    .map((drawn) => patchAt(drawn, shot.frame))
    .map((p) => ({
      id: p.id,
      before: h.read(base, p.box, skinLineDeg, p.points),
      after: h.read(res.out, p.box, skinLineDeg, p.points, bits),
    }));
  let coverage: number | null = null;
  let leaks: number | null = null;
  const c = shot.corrections.find((x) => x.id === correction);
  if (now && c) {
    coverage = now.matte.reduce((a, v) => a + v, 0) / now.matte.length;
    h.slow(10 * now.w * now.h);
    const marks = painted(c, shot.frame, now.w, now.h, now.w / res.source.w);
    const { apart, specks } = health(now.matte, now.w, now.h, marks);
    leaks = (apart.area + specks.area) / now.matte.length;
  }
  const same = earlier && now && earlier.w === now.w && earlier.h === now.h;
  h.slow(now ? 25 * now.w * now.h : 0);
  const flicker = same ? flickerOf(earlier, now, now.w, now.h) : null;
  h.slow(res.out.w * res.out.h);
  const levelPct = h.ev.arena.look((v) => {
    const { r, g, b } = rgbOf(v, res.out);
    let [sum, n] = [0, 0];
    // Every so many pixels: a mean over some hundred thousand is the mean.
    const step = Math.max(1, Math.floor(r.length / 250_000));
    for (let i = 0; i < r.length; i += step) {
      const y = 0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
      if (!Number.isFinite(y)) continue;
      sum += y;
      n++;
    }
    return n > 0 ? (100 * sum) / n : 0;
  });
  return { coverage, leaks, flicker, levelPct, patches: readings };
}
