/** A freeform on the picture: its points are dragged, added on the line, and removed. */
import { useRef } from 'react';
import { flatten } from '../../../core/ops/freeform/index';
import { resolve } from '../../../core/op/params';
import { opById } from '../../../core/graph/plan';
import { setParams } from '../../actions';
import { useSession } from '../../store';
import { useFrame } from '../../values';
import { Handle } from '../Handle';
import type { ShapeHandlesProps } from './index';

export default function FreeformHandles({ corr, term, place, chosen }: ShapeHandlesProps) {
  const v = resolve(opById('freeform').params, term.use.params, useFrame()) as unknown as {
    points: readonly number[];
    roundPct: number;
    softPx: number;
  };
  const start = useRef(v.points);
  const s = place.scale;
  const n = v.points.length >> 1;
  const S = (x: number, y: number): [number, number] => [(x - place.offX) * s, (y - place.offY) * s];
  const put = (points: readonly number[], label = 'Change the freeform'): void =>
    setParams(corr.id, term.use.id, { points: points.map((x) => Math.round(x * 10) / 10) }, label);
  const begin = (first: boolean): void => {
    if (first) start.current = v.points;
  };
  const pick = (): void => useSession.getState().set({ correction: corr.id, term: term.id });
  const flat = flatten(v.points, v.roundPct / 100);
  const line = Array.from({ length: flat.length >> 1 }, (_, i) => S(flat[2 * i]!, flat[2 * i + 1]!).join(',')).join(
    ' ',
  );
  const mean = (c: 0 | 1): number => v.points.reduce((a, x, i) => a + (i % 2 === c ? x : 0), 0) / n;
  const [cx, cy] = S(mean(0), mean(1));
  const remove = (i: number): void => {
    if (n > 3) put([...v.points.slice(0, 2 * i), ...v.points.slice(2 * i + 2)], 'Remove a point');
  };
  return (
    <g opacity={chosen ? 1 : 0.55}>
      <polygon className="under" points={line} />
      <polygon className="line" points={line} strokeDasharray="7 5" />
      {chosen && v.softPx * s > 4 && (
        <polygon
          className="line"
          points={line}
          strokeOpacity={0.16}
          strokeWidth={v.softPx * s}
          strokeLinejoin="round"
        />
      )}
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
          put(start.current.map((x, i) => x + (i % 2 ? dy : dx)));
        }}
      />
      {chosen &&
        Array.from({ length: n }, (_, i) => {
          const [x, y] = S(v.points[2 * i]!, v.points[2 * i + 1]!);
          const j = (i + 1) % n;
          const mid = [
            (v.points[2 * i]! + v.points[2 * j]!) / 2,
            (v.points[2 * i + 1]! + v.points[2 * j + 1]!) / 2,
          ] as const;
          const [mx, my] = S(...mid);
          return (
            <g
              key={i}
              onDoubleClick={() => remove(i)}
              onKeyDown={(e) => {
                if (e.key !== 'Delete' && e.key !== 'Backspace') return;
                e.preventDefault();
                e.stopPropagation();
                remove(i);
              }}
            >
              <Handle
                x={x}
                y={y}
                name={`${term.name}, point ${i + 1}: Delete removes it`}
                shape="square"
                label="Move a point"
                scale={s}
                onPick={pick}
                onDrag={(dx, dy, first) => {
                  begin(first);
                  put(start.current.map((p, k) => (k === 2 * i ? p + dx : k === 2 * i + 1 ? p + dy : p)));
                }}
              />
              {n < 128 && Math.hypot(mx - x, my - y) > 14 && (
                <Handle
                  x={mx}
                  y={my}
                  name={`${term.name}, new point after ${i + 1}`}
                  shape="hollow"
                  label="Add a point"
                  scale={s}
                  onPick={pick}
                  onDrag={(dx, dy, first) => {
                    if (first) start.current = [...v.points.slice(0, 2 * i + 2), ...mid, ...v.points.slice(2 * i + 2)];
                    if (dx !== 0 || dy !== 0)
                      put(start.current.map((p, k) => (k === 2 * i + 2 ? p + dx : k === 2 * i + 3 ? p + dy : p)));
                  }}
                />
              )}
            </g>
          );
        })}
    </g>
  );
}
