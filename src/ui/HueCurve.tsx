/**
 * A closed curve over hue, with the picture's own hues beneath. Double click on the field adds a point, on a point
 * removes it; a focused point moves by arrow keys (Shift coarse, Alt fine), Delete removes it, Enter adds one behind.
 */
import { memo, useMemo, useRef, useState } from 'react';
import styled from 'styled-components';
import type { KeyboardEvent } from 'react';
import { closed } from '../core/math/closed';
import { DEG } from '../core/math/angle';
import { CurveField, curvePoints, PointMark, stepOf, usePointDrag } from './CurveField';
import type { CurvePoint as P } from './CurveField';
import { colourAt } from './keyColours';
import { NumberBox } from './NumberBox';
import type { Gesture } from './ParamSlider';

export interface HueCurveProps extends Gesture {
  label: string;
  /** Of the values. */
  unit: string;
  /** Largest value either way that is drawn. */
  range: number;
  /** Hue, value, hue, value ... */
  points: readonly number[];
  /** Density over Cb and Cr (see Distributions). */
  plane: Uint8Array;
  cells: number;
  onChange(points: number[]): void;
}
const W = 252;
const H = 150;
const RIM = 8;
const NEAR = 2;
const Typed = styled.div`
  display: flex;
  align-items: center;
  gap: 6px;
  font-size: 12.5px;
  input {
    width: 58px;
  }
`;
const tenth = (v: number): number => Math.round(10 * v) / 10;
const turn = (v: number): number => ((v % 360) + 360) % 360;

/** How much of the picture has each hue, in 72 steps, the most being 1; what is nearly grey has none. */
function huesOf(plane: Uint8Array, n: number): number[] {
  const sums = new Array<number>(72).fill(0);
  for (let i = 0; i < n * n; i++) {
    if (plane[i] === 0) continue;
    const [cb, cr] = [((i % n) + 0.5) / n - 0.5, 0.5 - (Math.floor(i / n) + 0.5) / n];
    if (200 * Math.sqrt(cb * cb + cr * cr) < 3) continue;
    sums[Math.floor(turn(Math.atan2(cr, cb) * DEG) / 5) % 72]! += plane[i]! ** 2;
  }
  const most = Math.max(1e-9, ...sums);
  return sums.map((v) => Math.sqrt(v / most));
}
const RAINBOW = Array.from({ length: 72 }, (_, i) => {
  const a = ((i + 0.5) * 5) / DEG;
  return `rgb(${colourAt('scope', 0.2 * Math.cos(a), 0.2 * Math.sin(a))
    .map((v) => Math.round(255 * v))
    .join(',')})`;
});

function HueCurveView({ label, unit, range, points, plane, cells, onChange, onBegin, onEnd, onBail }: HueCurveProps) {
  const field = useRef<HTMLDivElement>(null);
  const list = curvePoints(points);
  const [chosen, setChosen] = useState(0);
  const at = Math.min(chosen, list.length - 1);
  const hues = useMemo(() => huesOf(plane, cells), [plane, cells]);
  const put = (next: P[]): void => onChange(next.flatMap(([x, y]) => [tenth(turn(x)), tenth(y)]));
  const once = (next: P[]): void => {
    onBegin();
    put(next);
    onEnd();
  };
  const moved = (from: P[], i: number, x: number, y: number): P[] =>
    from.map((p, k) => {
      if (k !== i) return p;
      // It does not pass a neighbour: two points on one hue would be one.
      const free = from.every((q, j) => j === i || Math.abs(((x - q[0] + 540) % 360) - 180) >= NEAR);
      return [free ? x : p[0], Math.min(range, Math.max(-range, y))];
    });
  const f = closed(list, 360);
  const add = (x: number): void => {
    if (list.length < 24 && list.every((p) => Math.abs(((x - p[0] + 540) % 360) - 180) >= NEAR))
      once([...list, [x, f(x)]]);
  };
  const without = (i: number): void => {
    if (list.length > 1) once(list.filter((_, k) => k !== i));
  };
  const X = (hue: number): number => (turn(hue) / 360) * W;
  const Y = (v: number): number => (H - RIM) * (0.5 - Math.min(1, Math.max(-1, v / range)) / 2);
  const hand = usePointDrag(
    field,
    list,
    (from, i, across, up) => {
      const [x, y] = from[i]!;
      put(moved(from, i, x + 360 * across, y + (2 * range * up * H) / (H - RIM)));
    },
    { onBegin, onEnd, onBail },
  );
  const key =
    (i: number) =>
    (e: KeyboardEvent): void => {
      if (hand.escape(e)) return;
      const [x, y] = list[i]!;
      const step = stepOf(e);
      const does =
        e.key === 'Delete' || e.key === 'Backspace'
          ? () => without(i)
          : e.key === 'Enter'
            ? () => add(x + 15)
            : step
              ? () => once(moved(list, i, x + step[0], y + step[1]))
              : null;
      if (!does) return;
      e.preventDefault();
      e.stopPropagation();
      does();
    };
  const path = Array.from(
    { length: 121 },
    (_, i) => `${i ? 'L' : 'M'}${((i / 120) * W).toFixed(1)},${Y(f(3 * i)).toFixed(1)}`,
  ).join('');
  const said = (v: number): string => `${v > 0 ? '+' : v < 0 ? '\u2212' : ''}${Math.abs(v)}${unit}`;
  return (
    <>
      <CurveField
        ref={field}
        style={{ height: H }}
        onDoubleClick={(e) => {
          const r = field.current!.getBoundingClientRect();
          add((360 * (e.clientX - r.left)) / r.width);
        }}
      >
        <svg viewBox={`0 0 ${W} ${H}`} preserveAspectRatio="none" aria-label={`${label} over hue`}>
          {hues.map((v, i) => (
            <rect
              key={i}
              x={(i * W) / 72}
              width={W / 72 + 0.5}
              y={(H - RIM) * (1 - v)}
              height={(H - RIM) * v}
              fill={RAINBOW[i]}
              fillOpacity={0.22}
            />
          ))}
          {RAINBOW.map((c, i) => (
            <rect key={i} x={(i * W) / 72} width={W / 72 + 0.5} y={H - RIM + 2} height={RIM - 2} fill={c} />
          ))}
          <path d={`M0,${Y(0)}H${W}`} stroke="#8a8a8a" />
          <path d={`M${X(123)},0V${H - RIM}`} stroke="#8a8a8a" strokeDasharray="2 3" />
          <text x={X(123) + 3} y={11}>
            skin
          </text>
          <text x={3} y={11}>{`+${range}${unit}`}</text>
          <text x={3} y={H - RIM - 4}>{`\u2212${range}${unit}`}</text>
          <path d={path} fill="none" stroke="#fff" strokeWidth={1.75} vectorEffect="non-scaling-stroke" />
          {list.map(([x, y], i) => (
            <g
              key={i}
              className="point"
              tabIndex={0}
              role="slider"
              aria-label={`${label} point ${i + 1}`}
              aria-valuenow={y}
              aria-valuemin={-range}
              aria-valuemax={range}
              aria-valuetext={`hue ${Math.round(turn(x))}\u00b0: ${said(y)}`}
              {...hand.of(i)}
              onKeyDown={key(i)}
              onFocus={() => setChosen(i)}
              onDoubleClick={(e) => {
                e.stopPropagation();
                without(i);
              }}
            >
              <PointMark x={X(x)} y={Y(y)} />
            </g>
          ))}
        </svg>
      </CurveField>
      <Typed>
        <span>{`Point ${at + 1}: hue`}</span>
        <NumberBox
          label={`${label} point ${at + 1}, hue, typed`}
          value={tenth(turn(list[at]![0]))}
          min={0}
          max={360}
          digits={0}
          suffix={'\u00b0'}
          onChange={(x) => once(moved(list, at, x, list[at]![1]))}
        />
        <span>{label.toLowerCase()}</span>
        <NumberBox
          label={`${label} point ${at + 1}, typed`}
          value={list[at]![1]}
          min={-range}
          max={range}
          digits={1}
          suffix={unit}
          onChange={(y) => once(moved(list, at, list[at]![0], y))}
        />
      </Typed>
    </>
  );
}
export const HueCurve = memo(
  HueCurveView,
  (a, b) =>
    a.label === b.label &&
    a.plane === b.plane &&
    a.points.length === b.points.length &&
    a.points.every((v, i) => v === b.points[i]),
);
