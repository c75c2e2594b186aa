/**
 * A view that holds still what follows: the picture is moved under it by the path, so that an edge is judged standing.
 * All of it is a shift of the view, told for every frame.
 */
import { opById } from '../../core/graph/plan';
import type { OpTerm } from '../../core/graph/plan';
import { isOp, opTerms } from '../../core/graph/region';
import { strokesAt } from '../../core/graph/strokes';
import { mapAt, mapPoint, stepAt } from '../../core/graph/track';
import type { Track } from '../../core/graph/track';
import { invertMap } from '../../core/track/fit';
import { correctionsOf } from '../../document/records';
import type { CorrectionRecord, Records, ShotId, ShotRecord } from '../../document/records';
import { keysOf } from '../../core/op/keys';
import { chosenCorrection } from '../actions';
import { sayNews } from '../notices';
import { outlineOf } from '../outline';
import { shapeValues } from '../shapeValues';
import { useDoc, useSession } from '../store';

export type Shift = readonly [dx: number, dy: number];
export type ShiftAt = (frame: number) => Shift;
/** What is held, and the frame at which it stands where the view has it. */
export interface Hold {
  term: string;
  frame: number;
}
export const unmoved: ShiftAt = () => [0, 0];

/** The part that is held still: the chosen one, else the first that follows. */
export function heldPart(c: CorrectionRecord | null, term: string | null): OpTerm | null {
  const list = c ? opTerms(c.terms).filter((t) => t.track && t.track.path.length > 0) : [];
  return list.find((t) => t.id === term) ?? list[0] ?? null;
}
/** Where a part lies at a frame, as places about it; none where it has no place of its own. */
export function placesAt(t: OpTerm, frame: number): (readonly [number, number])[] {
  if (t.strokes?.length) return strokesAt(t.strokes, frame, 1, undefined, t.track).flatMap((s) => [...s.points]);
  return opById(t.use.op).kind === 'shape' ? (outlineOf(t.use.op, shapeValues(t, frame), 1, 1) ?? []) : [];
}
function meanWay(track: Track, frame: number): Shift {
  const own = stepAt(track, frame)?.own ?? [];
  const mean = (axis: 0 | 1): number =>
    own.reduce((sum, way, i) => sum + (i % 2 === axis ? way : 0), 0) / Math.max(1, own.length / 2);
  return [mean(0), mean(1)];
}
/** How far the view goes with a part that follows, in picture pixels; nothing where it is not there any more. */
export function shiftOf(records: Records, shot: ShotId, hold: Hold | null): ShiftAt {
  const t =
    hold &&
    correctionsOf(records, shot)
      .flatMap((c) => opTerms(c.terms))
      .find((x) => x.id === hold.term);
  if (!hold || !t || !isOp(t) || !t.track) return unmoved;
  const { track } = t;
  const places = placesAt(t, hold.frame);
  const n = places.length || 1;
  const [cx, cy] = places.reduce(([a, b], [x, y]) => [a + x / n, b + y / n], [0, 0]);
  // Its middle, as it was drawn, goes with the path and by as much as its points go by themselves in the mean.
  const [u, v] = mapPoint(invertMap(mapAt(track, hold.frame)), cx, cy);
  const [goneX, goneY] = meanWay(track, hold.frame);
  return (frame) => {
    const [dx, dy] = meanWay(track, frame);
    const [x, y] = mapPoint(mapAt(track, frame), u + dx - goneX, v + dy - goneY);
    return [x - cx, y - cy];
  };
}
/** Frames of the keys of a shape about a frame: the one before, the one behind. */
export function keysAbout(t: OpTerm, frame: number): number[] {
  const all = [...new Set(Object.values(t.use.params).flatMap((v) => keysOf(v).map((k) => k.frame)))];
  const before = all.filter((f) => f < frame);
  const behind = all.filter((f) => f > frame);
  return [...(before.length ? [Math.max(...before)] : []), ...(behind.length ? [Math.min(...behind)] : [])];
}

const chosenPart = (r: Records, shot: ShotRecord): OpTerm | null => {
  const { correction, term } = useSession.getState();
  return heldPart(chosenCorrection(r, shot.id, correction), term);
};
/** The name of what could be held still; null where nothing follows. */
export function useHeldPart(shot: ShotRecord): string | null {
  useSession((s) => `${s.correction} ${s.term}`);
  return useDoc((s) => (shot.range[1] > shot.range[0] ? (chosenPart(s.records, shot)?.name ?? null) : null));
}
export function toggleHold(shot: ShotRecord): void {
  const { hold, frame, set } = useSession.getState();
  if (hold) return set({ hold: null });
  const t = chosenPart(useDoc.getState().records, shot);
  if (t) set({ hold: { term: t.id, frame } });
  else sayNews('Nothing follows in this correction: let a shape or a spread follow first (Follow, under Isolate).');
}
