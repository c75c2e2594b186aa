/** Points of a freeform that come and go: in every key, and on every frame on which each moves by itself. */
import { opById } from '../core/graph/plan';
import type { OpTerm } from '../core/graph/plan';
import type { Track } from '../core/graph/track';
import { middleOf } from '../core/ops/freeform/line';
import type { Line } from '../core/ops/freeform/line';
import { pointInEveryKey, withoutPointInEveryKey } from '../core/ops/freeform/points';
import { resolve } from '../core/op/params';
import { setParams } from './actions';
import { lineOf } from './outline';
import { editTerm } from './region';
import { useDoc } from './store';

/** A path that one more point of a line follows, half-way along the side behind point i as it runs on each frame. */
export function withWay(t: Track, i: number, drawnAt: (frame: number) => Line): Track {
  return {
    ...t,
    path: t.path.map((p) => {
      const line = drawnAt(p.frame);
      if (p.own?.length !== line.points.length) return p;
      const there = middleOf({ ...line, points: line.points.map((v, k) => v + p.own![k]!) }, i);
      const drawn = middleOf(line, i);
      const way = [0, 1].map((c) => +(there[c]! - drawn[c]!).toFixed(2));
      return { ...p, own: [...p.own.slice(0, 2 * i + 2), ...way, ...p.own.slice(2 * i + 2)] };
    }),
  };
}
export const withoutWay = (t: Track, i: number): Track => ({
  ...t,
  path: t.path.map((p) => (p.own ? { ...p, own: p.own.filter((_, k) => k >> 1 !== i) } : p)),
});
const bends = (t: Track): boolean => t.path.some((p) => p.own);
/** The change of the points, and that of the path, as one step. */
function both(
  corr: string,
  t: OpTerm,
  label: string,
  params: Parameters<typeof setParams>[2],
  track: Track | null,
): void {
  const { begin, end } = useDoc.getState();
  // Within a drag there is a step already.
  const own = useDoc.getState().mark === null;
  if (own) begin(label);
  setParams(corr, t.use.id, params, label);
  if (track) editTerm(corr, t.id, { track }, label);
  if (own) end();
}
/** A new point half-way along the side behind point i, on the line as it runs there. */
export function addPoint(corr: string, t: OpTerm, frame: number, i: number): void {
  const { params } = opById(t.use.op);
  const drawnAt = (f: number): Line => lineOf(resolve(params, t.use.params, f));
  const track = t.track && bends(t.track) ? withWay(t.track, i, drawnAt) : null;
  both(corr, t, 'Add a point', pointInEveryKey(t.use.params, frame, i), track);
}
export function removePoint(corr: string, t: OpTerm, frame: number, i: number): void {
  // The last three stay.
  const points = resolve(opById(t.use.op).params, t.use.params, frame)['points'] as readonly number[];
  if (points.length <= 6) return;
  const track = t.track && bends(t.track) ? withoutWay(t.track, i) : null;
  both(corr, t, 'Remove a point', withoutPointInEveryKey(t.use.params, frame, i), track);
}
