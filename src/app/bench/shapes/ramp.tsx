/** A ramp on the picture: where it is full, where it has fallen to nothing, and all of it, are dragged. */
import { useRef } from 'react';
import { setShape, useShapeValues } from '../../shapeValues';
import { useSession } from '../../store';
import { Handle } from '../Handle';
import { Across } from '../LineHandles';
import type { ShapeHandlesProps } from './index';

type Ends = { fromXPx: number; fromYPx: number; toXPx: number; toYPx: number };
export default function RampHandles({ corr, term, place, chosen }: ShapeHandlesProps) {
  const v = useShapeValues(term) as unknown as Ends;
  const start = useRef(v);
  const s = place.scale;
  const S = (x: number, y: number): { x: number; y: number } => ({ x: (x - place.offX) * s, y: (y - place.offY) * s });
  const [a, b] = [S(v.fromXPx, v.fromYPx), S(v.toXPx, v.toYPx)];
  const length = Math.hypot(b.x - a.x, b.y - a.y);
  const normal = length > 0 ? { dx: -(b.y - a.y) / length, dy: (b.x - a.x) / length } : { dx: 1, dy: 0 };
  const pick = (): void => useSession.getState().set({ correction: corr.id, term: term.id });
  const drag =
    (...ends: ('from' | 'to')[]) =>
    (dx: number, dy: number, first: boolean): void => {
      if (first) start.current = v;
      const next: Record<string, number> = {};
      for (const e of ends)
        for (const [axis, d] of [
          ['X', dx],
          ['Y', dy],
        ] as const) {
          const name = `${e}${axis}Px` as keyof Ends;
          next[name] = Math.round(10 * (start.current[name] + d)) / 10;
        }
      setShape(corr.id, term, next, 'Change the ramp');
    };
  return (
    <g opacity={chosen ? 1 : 0.55}>
      <Across {...a} {...normal} className="under" />
      <Across {...a} {...normal} className="line" />
      <Across {...b} {...normal} className="under" />
      <Across {...b} {...normal} className="line" strokeDasharray="2 6" />
      <line className="line" x1={a.x} y1={a.y} x2={b.x} y2={b.y} strokeOpacity={0.45} strokeWidth={1} />
      <Handle
        x={(a.x + b.x) / 2}
        y={(a.y + b.y) / 2}
        name={`${term.name}, all of it`}
        shape="round"
        label="Move the ramp"
        scale={s}
        onPick={pick}
        onDrag={drag('from', 'to')}
      />
      {chosen && (
        <>
          <Handle
            {...a}
            name={`${term.name}, full`}
            shape="square"
            label="Move where it is full"
            scale={s}
            onDrag={drag('from')}
          />
          <Handle
            {...b}
            name={`${term.name}, nothing`}
            shape="hollow"
            label="Move where it ends"
            scale={s}
            onDrag={drag('to')}
          />
        </>
      )}
    </g>
  );
}
