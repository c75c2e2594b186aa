/** Health of a correction's matte: what it is measured against is laid out here, the measures are the core's. */
import { strokesAt } from '../../core/graph/strokes';
import type { CorrectionSpec } from '../../core/graph/plan';
import { isOp, opTerms } from '../../core/graph/region';
import { opById } from '../../core/graph/plan';
import { health as measure } from '../../core/matte/health';
import type { Painted } from '../../core/matte/health';
import { TICK_PIXELS } from '../../core/skin/surround';
import type { HealthReply, ShotState } from '../../protocol/messages';
import type { Result } from '../evaluator';
import { matteOf, rgbOf } from '../samples';
import type { Held } from './held';

/** The surroundings of a stroke reach so far, as a share of the long side, and twice its width at least. */
const ABOUT = 0.015;

/** The shapes that a region is joined with by *and*, as a correction of their own; null where there are none. */
function shapesOf(c: CorrectionSpec): CorrectionSpec | null {
  const terms = c.terms.filter(
    (t) => isOp(t) && t.use.on && !t.not && t.join === 'and' && opById(t.use.op).kind === 'shape',
  );
  return terms.length ? { ...c, terms, tidy: [], adjustments: [] } : null;
}
function discs(
  to: Uint8Array,
  w: number,
  h: number,
  points: readonly (readonly [number, number])[],
  R: number,
  v: number,
) {
  for (const [cx, cy] of points)
    for (let y = Math.max(0, Math.ceil(cy - 0.5 - R)); y <= Math.min(h - 1, cy - 0.5 + R); y++)
      for (let x = Math.max(0, Math.ceil(cx - 0.5 - R)); x <= Math.min(w - 1, cx - 0.5 + R); x++)
        if ((x + 0.5 - cx) ** 2 + (y + 0.5 - cy) ** 2 <= R * R) to[y * w + x] = v;
}
/** Points along a stroke so close that discs about them leave no gaps. */
function filled(points: readonly (readonly [number, number])[], step: number): (readonly [number, number])[] {
  const out: (readonly [number, number])[] = [points[0]!];
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1]!, points[i]!];
    const n = Math.max(1, Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1]) / step));
    for (let k = 1; k <= n; k++) out.push([a[0] + ((b[0] - a[0]) * k) / n, a[1] + ((b[1] - a[1]) * k) / n]);
  }
  return out;
}
/** `scale`: of planes of that size over the picture's. */
export function painted(c: CorrectionSpec, frame: number, w: number, h: number, scale = 1): Painted | null {
  const marks = new Uint8Array(w * h);
  const about = new Uint8Array(w * h);
  let any = false;
  for (const t of opTerms(c.terms)) {
    if (!t.strokes?.length || !t.use.on) continue;
    const R = Math.max(1, (scale * Number(t.use.params['brushPx'] ?? 8) * (c.fit?.s ?? 1)) / 2);
    const wide = Math.max(2 * R, ABOUT * Math.max(w, h));
    for (const s of strokesAt(t.strokes, frame, scale, c.fit, t.track)) {
      const points = filled(s.points, Math.max(1, R / 2));
      discs(marks, w, h, points, R, s.keep ? 1 : 2);
      if (s.keep) discs(about, w, h, filled(s.points, wide / 3), wide, 1);
      any ||= s.keep;
    }
  }
  return any ? { marks, about } : null;
}

/** `untidied`: of the region as keys and shapes give it. */
export async function health(
  h: Held,
  shot: ShotState,
  correction: string,
  untidied: boolean,
): Promise<HealthReply | null> {
  const c = shot.corrections.find((x) => x.id === correction);
  const res: Result = await h.run(shot, correction);
  const step = res.steps.get(correction);
  const matte = untidied ? step?.region : step?.matte;
  if (!c || !step || !matte) return null;
  const { w, h: rows } = step.input;
  const p = painted(c, shot.frame, w, rows);
  const only = p ? shapesOf(c) : null;
  if (p && only) {
    // Outside the shapes nothing is meant.
    const shapes = { ...shot, corrections: shot.corrections.map((x) => (x.id === correction ? only : x)) };
    const inside = (await h.run(shapes, correction)).steps.get(correction)?.region;
    if (inside)
      h.ev.arena.look((v) => {
        const m = matteOf(v, step.input, inside)!;
        for (let i = 0; i < m.length; i++) if (!(m[i]! > 0.5)) p.about[i] = 0;
      });
  }
  h.slow(4 * w * rows);
  return h.ev.arena.look((v) => {
    const m = matteOf(v, step.input, matte)!;
    const found = measure(m, w, rows, p, () => h.ev.check());
    const { r, g, b } = rgbOf(v, step.input);
    let [inside, blown, crushed] = [0, 0, 0];
    for (let i = 0; i < m.length; i++) {
      if (i % TICK_PIXELS === 0) h.ev.check();
      if (!(m[i]! > 0.5)) continue;
      inside++;
      if (r[i]! >= 1 || g[i]! >= 1 || b[i]! >= 1) blown++;
      if (r[i]! <= 0 && g[i]! <= 0 && b[i]! <= 0) crushed++;
    }
    const share = (n: number): number => (inside > 0 ? n / inside : 0);
    return { ...found, blown: share(blown), crushed: share(crushed) };
  });
}
