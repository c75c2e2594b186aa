import { newUse } from '../../../core/graph/plan.defaults';
import type { CorrectionRecord, ShotRecord } from '../../../document/records';
import { addCorrection, applyKeyFit, chosenCorrection, chosenKey, keyAfter, readAs, shotState } from '../../actions';
import { engine } from '../../engine';
import { asideFailed, guard } from '../../notices';
import { useDoc, useSession } from '../../store';
import type { Point, Tool } from './tool';

const SAYS = {
  again: 'Drag across what you want to isolate.',
  add: 'Drag across what the key should take as well.',
  take: 'Drag across what the key should leave out.',
} as const;

/** Points along a stroke at most `step` apart, so that a fast hand leaves no gaps. */
function spread(points: readonly Point[], step: number): Point[] {
  const out: Point[] = [points[0]!];
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1]!;
    const b = points[i]!;
    const n = Math.max(1, Math.ceil(Math.hypot(b.x - a.x, b.y - a.y) / step));
    for (let k = 1; k <= n; k++) out.push({ x: a.x + ((b.x - a.x) * k) / n, y: a.y + ((b.y - a.y) * k) / n });
  }
  return out.slice(0, 4000);
}

const sample = (shot: ShotRecord, corr: CorrectionRecord | null, points: readonly Point[], scale: number) =>
  engine().request('fitKey', {
    shot: shotState(useDoc.getState().records, shot),
    correction: corr?.id ?? null,
    ...readAs(chosenKey(corr), useSession.getState().sampling),
    area: { points: spread(points, 3 / scale), radiusPx: Math.max(2, 4 / scale) },
  });

export const key: Tool = {
  hint: () =>
    `${SAYS[useSession.getState().sampling]} Keys: Enter places the cross, arrows move it, Enter begins and ends the ` +
    'stroke, Escape leaves.',
  draws: 'stroke',
  during: async ({ shot, corr, points, scale }) => {
    const { sampling } = useSession.getState();
    const before = chosenKey(corr);
    try {
      const params = keyAfter(before, await sample(shot, corr, points, scale), sampling);
      if (before) return { ...before, use: { ...before.use, params: { ...before.use.params, ...params } } };
      return { id: 'preview', join: 'and', not: false, name: '', use: newUse('preview', 'key', params) };
    } catch (e) {
      // Too small a piece yet, or nothing that tells them apart: said when the hand is done.
      if (!(e instanceof RangeError)) asideFailed('The key could not be shown')(e);
      return null;
    }
  },
  finish: async ({ shot, corr, points, scale }) => {
    const doc = useDoc.getState;
    const sampled = await guard('The key was not set', () => sample(shot, corr, points, scale));
    if (!sampled) return;
    const { sampling, set, tool, correction } = useSession.getState();
    doc().begin('Set the key');
    // A quick hand has drawn a shape meanwhile: the key joins the correction that this made.
    const c = corr ?? chosenCorrection(doc().records, shot.id, correction) ?? addCorrection(shot.id);
    await guard('The key was not changed', () => Promise.resolve(applyKeyFit(c.id, sampled, sampling)));
    doc().end();
    // Another tool may be in the hand by now.
    set({ ...(tool === 'key' ? { tool: 'none' } : {}), step: 'isolate', sampling: 'again' });
  },
};
