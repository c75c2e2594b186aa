/** A band on the picture: its place, borders, turn and both sides of its soft edge are dragged. */
import { useRef } from 'react';
import { DEG } from '../../../core/math/angle';
import { setShape, useShapeValues } from '../../shapeValues';
import { useSession } from '../../store';
import { Handle } from '../Handle';
import { Across } from '../LineHandles';
import type { ShapeHandlesProps } from './index';

type Values = Record<'cxPx' | 'cyPx' | 'angleDeg' | 'widthPx' | 'softInPx' | 'softOutPx', number>;
/** Stage pixels along the band at which its turn is taken hold of, and its softness. */
const [TURN_AT, SOFT_AT] = [90, 45];
export default function BandHandles({ corr, term, place, chosen }: ShapeHandlesProps) {
  const v = useShapeValues(term) as unknown as Values;
  const start = useRef(v);
  const s = place.scale;
  const [X, Y] = [(v.cxPx - place.offX) * s, (v.cyPx - place.offY) * s];
  const [dx, dy] = [Math.cos(v.angleDeg / DEG), -Math.sin(v.angleDeg / DEG)];
  /** So far along the band, and so far across it, downwards of a level one. */
  const at = (a: number, b: number): { x: number; y: number } => ({ x: X + a * dx - b * dy, y: Y + a * dy + b * dx });
  const across = (x: number, y: number): number => -x * dy + y * dx;
  const half = (v.widthPx / 2) * s;
  const pick = (): void => useSession.getState().set({ correction: corr.id, term: term.id });
  const put = (p: Partial<Values>): void =>
    setShape(
      corr.id,
      term,
      Object.fromEntries(Object.entries(p).map(([k, n]) => [k, Math.round(10 * n) / 10])),
      'Change the band',
    );
  const begin = (first: boolean): void => {
    if (first) start.current = v;
  };
  const soft = (name: 'softInPx' | 'softOutPx', words: string, way: 1 | -1) => (
    <Handle
      {...at(way * SOFT_AT, half + way * v[name] * s)}
      name={`${term.name}, softness ${words}`}
      shape="hollow"
      label="Soften the band"
      scale={s}
      onDrag={(x, y, first) => {
        begin(first);
        put({ [name]: Math.max(0, start.current[name] + way * across(x, y)) });
      }}
    />
  );
  return (
    <g opacity={chosen ? 1 : 0.55}>
      {[1, -1].map((side) => (
        <g key={side}>
          <Across {...at(0, side * half)} dx={dx} dy={dy} className="under" />
          <Across {...at(0, side * half)} dx={dx} dy={dy} className="line" strokeDasharray="7 5" />
          {chosen &&
            [v.softOutPx, -v.softInPx].map((w, i) => (
              <Across
                key={i}
                {...at(0, side * (half + w * s))}
                dx={dx}
                dy={dy}
                className="line"
                strokeOpacity={0.45}
                strokeWidth={1}
              />
            ))}
        </g>
      ))}
      <Handle
        x={X}
        y={Y}
        name={`${term.name}, middle`}
        shape="round"
        label="Move the band"
        scale={s}
        onPick={pick}
        onDrag={(x, y, first) => {
          begin(first);
          put({ cxPx: start.current.cxPx + x, cyPx: start.current.cyPx + y });
        }}
      />
      {chosen && (
        <>
          {[1, -1].map((side) => (
            <Handle
              key={side}
              {...at(0, side * half)}
              name={`${term.name}, ${side > 0 ? 'lower' : 'upper'} border`}
              shape="square"
              label="Size the band"
              scale={s}
              onDrag={(x, y, first) => {
                begin(first);
                // The other border stays.
                const d = across(x, y);
                const width = Math.max(0, start.current.widthPx + side * d);
                const by = (side * (width - start.current.widthPx)) / 2;
                put({
                  widthPx: width,
                  cxPx: start.current.cxPx - by * dy,
                  cyPx: start.current.cyPx + by * dx,
                });
              }}
            />
          ))}
          <Handle
            {...at(TURN_AT, 0)}
            name={`${term.name}, turn`}
            shape="hollow"
            label="Turn the band"
            scale={s}
            onDrag={(x, y, first) => {
              begin(first);
              const st = start.current.angleDeg / DEG;
              put({
                angleDeg: Math.atan2(Math.sin(st) * TURN_AT - y * s, Math.cos(st) * TURN_AT + x * s) * DEG,
              });
            }}
          />
          {soft('softOutPx', 'outside', 1)}
          {soft('softInPx', 'inside', -1)}
        </>
      )}
    </g>
  );
}
