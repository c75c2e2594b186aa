/** A freeform on the picture: its points are dragged, added on the line, made corners or smooth, and removed. */
import { useRef } from 'react';
import { middleOf, outline } from '../../../core/ops/freeform/line';
import { bendOf, withPoint, inStep, withPointValue } from '../../../core/ops/freeform/points';
import type { FreePoints } from '../../../core/ops/freeform/points';
import { resolve } from '../../../core/op/params';
import { opById } from '../../../core/graph/plan';
import { setParams } from '../../actions';
import { addPoint, removePoint } from '../../freeformPoints';
import { setShape, useShapeValues } from '../../shapeValues';
import { useFrame } from '../../values';
import { useLive } from '../../live';
import { useSession } from '../../store';
import { Handle } from '../Handle';
import type { ShapeHandlesProps } from './index';

const MOST = 128;
/** A double click that closes the line ends on the handle of its last point, in ms after that has come up. */
const CLOSING_MS = 600;
export default function FreeformHandles({ corr, term, place, chosen }: ShapeHandlesProps) {
  const v = useShapeValues(term) as unknown as FreePoints & {
    roundPct: number;
    softInPx: number;
    softOutPx: number;
  };
  /** As it was drawn, without the path that it follows. */
  const frame = useFrame();
  const own = resolve(opById('freeform').params, term.use.params, frame) as unknown as FreePoints;
  const start = useRef<FreePoints>(v);
  /** Whether the new point that is being drawn out is there. */
  const added = useRef(false);
  const since = useRef(performance.now());
  const marked = useLive((l) => (l.point?.use === term.use.id ? l.point.i : null));
  const s = place.scale;
  const n = v.points.length >> 1;
  const round = v.roundPct / 100;
  const S = (x: number, y: number): [number, number] => [(x - place.offX) * s, (y - place.offY) * s];
  const tenth = (list: readonly number[]): number[] => list.map((x) => Math.round(x * 10) / 10);
  const put = ({ points }: FreePoints, label = 'Change the freeform'): void =>
    setShape(corr.id, term, { points: tenth(points) }, label);
  const putValue = (i: number, bend: number, label: string): void =>
    setParams(corr.id, term.use.id, inStep(term.use.params, frame, withPointValue(own, i, { bend })), label);
  const begin = (first: boolean): void => {
    if (first) start.current = v;
  };
  const pick = (): void => useSession.getState().set({ correction: corr.id, term: term.id });
  const mark = (i: number | null): void => useLive.setState({ point: i === null ? null : { use: term.use.id, i } });
  const shape = { points: v.points, round, bends: v.bends, softs: v.softs, tangents: v.tangents };
  const flat = outline(shape);
  const corners = Array.from({ length: flat.length / 3 }, (_, i) => flat.slice(3 * i, 3 * i + 3));
  const line = corners.map(([x, y]) => S(x!, y!).join(',')).join(' ');
  const mean = (c: 0 | 1): number => v.points.reduce((a, x, i) => a + (i % 2 === c ? x : 0), 0) / n;
  const [cx, cy] = S(mean(0), mean(1));
  const remove = (i: number): void => {
    removePoint(corr.id, term, frame, i);
    mark(null);
  };
  const turn = (i: number): void => {
    const smooth = bendOf(v, i) < 0 ? round > 0 : bendOf(v, i) > 0;
    putValue(i, smooth ? 0 : 100, smooth ? 'Make a corner' : 'Make a point smooth');
  };
  return (
    <g opacity={chosen ? 1 : 0.55}>
      <polygon className="under" points={line} />
      <polygon className="line" points={line} strokeDasharray="7 5" />
      {chosen &&
        // How soft the edge is, side by side: half of a stroke lies on either side.
        corners.map(([x, y, soft], i) => {
          const [bx, by, other] = corners[(i + 1) % corners.length]!;
          const wide = (v.softInPx + v.softOutPx) * ((soft! + other!) / 2) * s;
          if (wide < 4) return null;
          const [from, to] = [S(x!, y!), S(bx!, by!)];
          return (
            <line
              key={i}
              className="line"
              x1={from[0]}
              y1={from[1]}
              x2={to[0]}
              y2={to[1]}
              strokeOpacity={0.14}
              strokeWidth={wide}
            />
          );
        })}
      <Handle
        x={cx}
        y={cy}
        name={`${term.name}, all of it`}
        shape="round"
        label="Move the freeform"
        scale={s}
        onPick={pick}
        onDrag={(dx, dy, first) => {
          begin(first);
          put({ ...start.current, points: start.current.points.map((x, i) => x + (i % 2 ? dy : dx)) });
        }}
      />
      {chosen &&
        Array.from({ length: n }, (_, i) => {
          const [x, y] = S(v.points[2 * i]!, v.points[2 * i + 1]!);
          const mid = middleOf(shape, i);
          const [mx, my] = S(...mid);
          return (
            <g
              key={i}
              onDoubleClick={(e) => {
                if (e.timeStamp - since.current > CLOSING_MS) remove(i);
              }}
              onKeyDown={(e) => {
                const does: Record<string, () => void> = {
                  Delete: () => remove(i),
                  Backspace: () => remove(i),
                  Enter: () => turn(i),
                };
                const f = does[e.key];
                if (!f) return;
                e.preventDefault();
                e.stopPropagation();
                f();
              }}
            >
              {marked === i && <circle className="line" cx={x} cy={y} r={9} />}
              <Handle
                x={x}
                y={y}
                name={`${term.name}, point ${i + 1}: Enter makes it a corner or smooth, Delete removes it`}
                shape="square"
                label="Move a point"
                scale={s}
                onPick={() => {
                  pick();
                  mark(i);
                }}
                onDrag={(dx, dy, first) => {
                  begin(first);
                  const move = (p: number, k: number): number => (k === 2 * i ? p + dx : k === 2 * i + 1 ? p + dy : p);
                  put({ ...start.current, points: start.current.points.map(move) });
                }}
              />
              {n < MOST && Math.hypot(mx - x, my - y) > 14 && (
                <Handle
                  x={mx}
                  y={my}
                  name={`${term.name}, new point after ${i + 1}`}
                  shape="hollow"
                  label="Add a point"
                  scale={s}
                  onPick={pick}
                  onDrag={(dx, dy, first) => {
                    if (first) {
                      start.current = withPoint(v, i, round);
                      added.current = false;
                    }
                    const move = (p: number, k: number): number =>
                      k === 2 * i + 2 ? p + dx : k === 2 * i + 3 ? p + dy : p;
                    if (dx === 0 && dy === 0) return;
                    // Every key gets the point, on its own line; only then is it drawn away here.
                    if (!added.current) addPoint(corr.id, term, frame, i);
                    added.current = true;
                    put({ ...start.current, points: start.current.points.map(move) }, 'Add a point');
                  }}
                />
              )}
            </g>
          );
        })}
    </g>
  );
}
