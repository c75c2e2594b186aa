/** Handles of shapes with a centre, half sizes and a turn: all of it is dragged, both sides of its soft edge too. */
import { useRef } from 'react';
import type { ReactNode, SVGProps } from 'react';
import { DEG } from '../../core/math/angle';
import { opById } from '../../core/graph/plan';
import { setShape, useShapeValues } from '../shapeValues';
import { useSession } from '../store';
import { Handle } from './Handle';
import type { ShapeHandlesProps } from './shapes';

export interface Ring extends SVGProps<SVGElement> {
  x: number;
  y: number;
  rx: number;
  ry: number;
  transform: string;
}
interface Turned {
  cxPx: number;
  cyPx: number;
  rxPx: number;
  ryPx: number;
  angleDeg: number;
  softInPx: number;
  softOutPx: number;
}
export function TurnedHandles({
  corr,
  term,
  place,
  chosen,
  outline,
}: ShapeHandlesProps & { outline: (ring: Ring, values: Record<string, number>, grow: number) => ReactNode }) {
  const values = useShapeValues(term) as Record<string, number>;
  const v = values as unknown as Turned;
  const start = useRef(v);
  const what = opById(term.use.op).title.toLowerCase();
  const s = place.scale;
  const X = (v.cxPx - place.offX) * s;
  const Y = (v.cyPx - place.offY) * s;
  const [ca, sa] = [Math.cos(v.angleDeg / DEG), Math.sin(v.angleDeg / DEG)];
  /** Stage position of a point given along the shape's own axes, in stage pixels. */
  const at = (a: number, b: number): { x: number; y: number } => ({ x: X + a * ca + b * sa, y: Y - a * sa + b * ca });
  const put = (p: Partial<Turned>): void =>
    setShape(
      corr.id,
      term,
      Object.fromEntries(Object.entries(p).map(([k, n]) => [k, Math.round(n * 10) / 10])),
      `Change the ${what}`,
    );
  const begin = (first: boolean): void => {
    if (first) start.current = v;
  };
  const pick = (): void => useSession.getState().set({ correction: corr.id, term: term.id });
  const ring = (grow: number, look: SVGProps<SVGElement>) =>
    outline(
      {
        ...look,
        x: X,
        y: Y,
        rx: Math.max(0.5, (v.rxPx + grow) * s),
        ry: Math.max(0.5, (v.ryPx + grow) * s),
        transform: `rotate(${-v.angleDeg} ${X} ${Y})`,
      },
      values,
      grow * s,
    );
  const along = (dx: number, dy: number): number => dx * ca - dy * sa;
  const across = (dx: number, dy: number): number => -(dx * sa + dy * ca);
  const faint = { className: 'line', strokeOpacity: 0.45, strokeWidth: 1 };
  const stem = at(0, -v.ryPx * s - 26);
  /** A handle of one side of the soft edge, `way` 1 outside and -1 inside, on a diagonal of its own. */
  const soft = (way: 1 | -1) => {
    const [name, words] = way > 0 ? (['softOutPx', 'outside'] as const) : (['softInPx', 'inside'] as const);
    const reach = way * v[name];
    return (
      <Handle
        {...at((v.rxPx + reach) * s * Math.SQRT1_2, way * (v.ryPx + reach) * s * Math.SQRT1_2)}
        name={`${term.name}, softness ${words}`}
        shape="hollow"
        label={`Soften the ${what}`}
        scale={s}
        onDrag={(dx, dy, first) => {
          begin(first);
          const out = Math.SQRT1_2 * (along(dx, dy) - way * across(dx, dy));
          const most = way > 0 ? Infinity : Math.min(v.rxPx, v.ryPx);
          put({ [name]: Math.min(most, Math.max(0, start.current[name] + way * out)) });
        }}
      />
    );
  };
  return (
    <g opacity={chosen ? 1 : 0.55}>
      {ring(0, { className: 'under' })}
      {ring(0, { className: 'line', strokeDasharray: '7 5' })}
      {chosen && v.softOutPx > 1 && ring(v.softOutPx, faint)}
      {chosen && v.softInPx > 1 && Math.min(v.rxPx, v.ryPx) > v.softInPx && ring(-v.softInPx, faint)}
      <Handle
        x={X}
        y={Y}
        name={`${term.name}, centre`}
        shape="round"
        label={`Move the ${what}`}
        scale={s}
        onPick={pick}
        onDrag={(dx, dy, first) => {
          begin(first);
          put({ cxPx: start.current.cxPx + dx, cyPx: start.current.cyPx + dy });
        }}
      />
      {chosen && (
        <>
          {[1, -1].map((side) => (
            <Handle
              key={`x${side}`}
              {...at(side * v.rxPx * s, 0)}
              name={`${term.name}, ${side > 0 ? 'right' : 'left'} side`}
              shape="square"
              label={`Size the ${what}`}
              scale={s}
              onDrag={(dx, dy, first) => {
                begin(first);
                put({ rxPx: Math.max(2, start.current.rxPx + side * along(dx, dy)) });
              }}
            />
          ))}
          {[1, -1].map((side) => (
            <Handle
              key={`y${side}`}
              {...at(0, -side * v.ryPx * s)}
              name={`${term.name}, ${side > 0 ? 'top' : 'bottom'}`}
              shape="square"
              label={`Size the ${what}`}
              scale={s}
              onDrag={(dx, dy, first) => {
                begin(first);
                put({ ryPx: Math.max(2, start.current.ryPx + side * across(dx, dy)) });
              }}
            />
          ))}
          <line
            className="line"
            x1={at(0, -v.ryPx * s).x}
            y1={at(0, -v.ryPx * s).y}
            x2={stem.x}
            y2={stem.y}
            strokeOpacity={0.7}
          />
          <Handle
            {...stem}
            name={`${term.name}, turn`}
            shape="hollow"
            label={`Turn the ${what}`}
            scale={s}
            onDrag={(dx, dy, first) => {
              begin(first);
              const st = start.current;
              const r = st.ryPx + 26 / s;
              const hx = Math.sin(-st.angleDeg / DEG) * r + dx;
              const hy = -Math.cos(st.angleDeg / DEG) * r + dy;
              put({ angleDeg: Math.atan2(-hx, -hy) * DEG });
            }}
          />
          {soft(1)}
          {soft(-1)}
        </>
      )}
    </g>
  );
}
