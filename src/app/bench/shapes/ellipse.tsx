/** An ellipse on the picture: centre, half axes, turn and softness are dragged. */
import { useRef } from 'react';
import { DEG } from '../../../core/math/angle';
import { setParams } from '../../actions';
import { useSession } from '../../store';
import { useFrame, valuesOf } from '../../values';
import { Handle } from '../Handle';
import type { ShapeHandlesProps } from './index';

export default function EllipseHandles({ corr, term, place, chosen }: ShapeHandlesProps) {
  const v = valuesOf(term.use, useFrame()) as {
    cxPx: number;
    cyPx: number;
    rxPx: number;
    ryPx: number;
    angleDeg: number;
    softPx: number;
  };
  const start = useRef(v);
  const s = place.scale;
  const X = (v.cxPx - place.offX) * s;
  const Y = (v.cyPx - place.offY) * s;
  const [ca, sa] = [Math.cos(v.angleDeg / DEG), Math.sin(v.angleDeg / DEG)];
  /** Stage position of a point given along the ellipse's own axes, in stage pixels. */
  const at = (a: number, b: number): [number, number] => [X + a * ca + b * sa, Y - a * sa + b * ca];
  const put = (p: Record<string, number>): void =>
    setParams(
      corr.id,
      term.use.id,
      Object.fromEntries(Object.entries(p).map(([k, n]) => [k, Math.round(n * 10) / 10])),
      'Change the ellipse',
    );
  const begin = (first: boolean): void => {
    if (first) start.current = v;
  };
  const pick = (): void => useSession.getState().set({ correction: corr.id, term: term.id });
  const ring = (grow: number) => ({
    cx: X,
    cy: Y,
    rx: Math.max(0.5, (v.rxPx + grow) * s),
    ry: Math.max(0.5, (v.ryPx + grow) * s),
    transform: `rotate(${-v.angleDeg} ${X} ${Y})`,
  });
  const half = v.softPx / 2;
  const along = (dx: number, dy: number): number => dx * ca - dy * sa;
  const across = (dx: number, dy: number): number => -(dx * sa + dy * ca);
  return (
    <g opacity={chosen ? 1 : 0.55}>
      <ellipse className="under" {...ring(0)} />
      <ellipse className="line" {...ring(0)} strokeDasharray="7 5" />
      {chosen && half > 1 && (
        <>
          <ellipse className="line" {...ring(half)} strokeOpacity={0.45} strokeWidth={1} />
          {Math.min(v.rxPx, v.ryPx) > half && (
            <ellipse className="line" {...ring(-half)} strokeOpacity={0.45} strokeWidth={1} />
          )}
        </>
      )}
      <Handle
        x={X}
        y={Y}
        name={`${term.name}, centre`}
        shape="round"
        label="Move the ellipse"
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
              {...xy(at(side * v.rxPx * s, 0))}
              name={`${term.name}, ${side > 0 ? 'right' : 'left'} side`}
              shape="square"
              label="Size the ellipse"
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
              {...xy(at(0, -side * v.ryPx * s))}
              name={`${term.name}, ${side > 0 ? 'top' : 'bottom'}`}
              shape="square"
              label="Size the ellipse"
              scale={s}
              onDrag={(dx, dy, first) => {
                begin(first);
                put({ ryPx: Math.max(2, start.current.ryPx + side * across(dx, dy)) });
              }}
            />
          ))}
          <line
            className="line"
            x1={at(0, -v.ryPx * s)[0]}
            y1={at(0, -v.ryPx * s)[1]}
            x2={at(0, -v.ryPx * s - 26)[0]}
            y2={at(0, -v.ryPx * s - 26)[1]}
            strokeOpacity={0.7}
          />
          <Handle
            {...xy(at(0, -v.ryPx * s - 26))}
            name={`${term.name}, turn`}
            shape="hollow"
            label="Turn the ellipse"
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
          <Handle
            {...xy(at((v.rxPx + half) * s * Math.SQRT1_2, (v.ryPx + half) * s * Math.SQRT1_2))}
            name={`${term.name}, softness`}
            shape="hollow"
            label="Soften the ellipse"
            scale={s}
            onDrag={(dx, dy, first) => {
              begin(first);
              put({ softPx: Math.max(0, start.current.softPx + 2 * Math.SQRT1_2 * (along(dx, dy) - across(dx, dy))) });
            }}
          />
        </>
      )}
    </g>
  );
}
const xy = ([x, y]: [number, number]): { x: number; y: number } => ({ x, y });
