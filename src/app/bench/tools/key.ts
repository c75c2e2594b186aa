import { addCorrection, applyKeyFit, chosenKey, shotState } from '../../actions';
import { engine } from '../../engine';
import { guard } from '../../notices';
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

export const key: Tool = {
  hint: () =>
    `${SAYS[useSession.getState().sampling]} Keys: Enter places the cross, arrows move it, Enter begins and ends the ` +
    'stroke, Escape leaves.',
  draws: 'stroke',
  finish: async ({ shot, corr, points, scale }) => {
    const doc = useDoc.getState;
    const sampled = await guard('The key was not set', () =>
      engine().request('fitKey', {
        shot: shotState(doc().records, shot),
        correction: corr?.id ?? null,
        base: chosenKey(corr)?.reads === 'base',
        area: { points: spread(points, 3 / scale), radiusPx: Math.max(2, 4 / scale) },
      }),
    );
    if (!sampled) return;
    const { sampling, set } = useSession.getState();
    doc().begin('Set the key');
    const c = corr ?? addCorrection(shot.id);
    await guard('The key was not changed', () => Promise.resolve(applyKeyFit(c.id, sampled, sampling)));
    doc().end();
    set({ tool: 'none', step: 'isolate', sampling: 'again' });
  },
};
