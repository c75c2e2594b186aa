/** Which correction reaches a patch: how much of its matte lies there. */
import { patchAt } from '../../core/graph/patch';
import { hasRegion } from '../../core/graph/region';
import { polygonMask } from '../../core/math/polygon';
import type { Corner } from '../../core/math/polygon';
import { clipBox } from '../../core/skin/reading';
import type { Box } from '../../core/skin/reading';
import type { Requests } from '../../protocol/messages';
import { matteOf } from '../samples';
import type { Held } from './held';

/** Mean of a matte inside a patch, 1 where there is none: all of the picture is in. */
export function meanIn(
  m: Float32Array | null,
  { w, h }: { w: number; h: number },
  box: Box,
  points?: readonly Corner[],
): number {
  if (!m) return 1;
  const at = clipBox(box, w, h);
  if (!at) return 0;
  const mask =
    points &&
    polygonMask(
      points.map(([x, y]) => [x - at.x, y - at.y] as const),
      at.w,
      at.h,
    );
  let [n, sum] = [0, 0];
  for (let y = 0; y < at.h; y++)
    for (let x = 0; x < at.w; x++) {
      if (mask && mask[y * at.w + x] === 0) continue;
      n++;
      sum += m[(at.y + y) * w + at.x + x]!;
    }
  return n > 0 ? sum / n : 0;
}

/** Of each patch the corrections with a region, each with its mean matte (0..1) there; what is off is left out. */
export async function reaches(h: Held, q: Requests['reaches']['in']): Promise<Requests['reaches']['out']> {
  const asked = q.shot.corrections.filter((c) => c.on && hasRegion(c));
  const out: Requests['reaches']['out'] = q.patches.map(() => []);
  for (const c of asked) {
    // One after the other, each in focus: what nobody looks at has no plane of its own.
    const res = await h.run(q.shot, c.id);
    const step = res.steps.get(c.id);
    if (!step) continue;
    h.ev.arena.look((v) => {
      const m = matteOf(v, step.input, step.matte);
      for (const [i, patch] of q.patches.entries()) {
        const { box, points } = patchAt(patch, q.shot.frame);
        out[i]!.push({ correction: c.id, share: meanIn(m, step.input, box, points) });
      }
    });
  }
  return out;
}
