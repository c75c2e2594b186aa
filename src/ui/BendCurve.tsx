/**
 * A curve of what is gained or lost over a measure: closed over hue, open over level or saturation; how much of the
 * picture has each value lies beneath. Double click on the field adds a point, on a point
 * removes it; a focused point moves by arrow keys (Shift coarse, Alt fine), Delete removes it, Enter adds one behind.
 */
import { memo, useRef, useState } from 'react';
import styled from 'styled-components';
import type { KeyboardEvent } from 'react';
import { CurveField, curvePoints, PointMark, stepOf, usePointDrag } from './CurveField';
import type { CurvePoint, CurvePoint as P } from './CurveField';
import { NumberBox } from './NumberBox';
import type { Gesture } from './ParamSlider';

/** The measure that a curve stands over. */
export interface BendAxis {
  /** As it is told: "hue". */
  name: string;
  /** Its end; it begins at 0. Of a closed one its period. */
  most: number;
  closed: boolean;
  unit: string;
  /** Through points, in order of nothing. */
  through(points: readonly CurvePoint[]): (x: number) => number;
  /** What its values look like, along the lower edge. */
  colours: readonly string[];
  tick?: { at: number; says: string };
  /** How far Enter sets the next point from one. */
  step: number;
}
export interface BendCurveProps extends Gesture {
  label: string;
  axis: BendAxis;
  /** Of the values. */
  unit: string;
  /** Largest value either way that is drawn. */
  range: number;
  /** Place, value, place, value ... */
  points: readonly number[];
  /** How much of the picture has each value of the measure, in even steps, the most being 1. */
  bins: readonly number[];
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

function BendCurveView({ label, axis, unit, range, points, bins, onChange, onBegin, onEnd, onBail }: BendCurveProps) {
  const field = useRef<HTMLDivElement>(null);
  const list = curvePoints(points);
  const [chosen, setChosen] = useState(0);
  const at = Math.min(chosen, list.length - 1);
  const { most, closed: round, colours } = axis;
  const into = (x: number): number => (round ? ((x % most) + most) % most : Math.min(most, Math.max(0, x)));
  const far = (a: number, b: number): number =>
    round ? Math.abs(((a - b + 1.5 * most) % most) - most / 2) : Math.abs(a - b);
  const put = (next: P[]): void => onChange(next.flatMap(([x, y]) => [tenth(into(x)), tenth(y)]));
  const once = (next: P[]): void => {
    onBegin();
    put(next);
    onEnd();
  };
  const moved = (from: P[], i: number, x: number, y: number): P[] =>
    from.map((p, k) => {
      if (k !== i) return p;
      // It does not come upon a neighbour: two points at one place would be one.
      const free = from.every((q, j) => j === i || far(into(x), q[0]) >= NEAR);
      return [free ? x : p[0], Math.min(range, Math.max(-range, y))];
    });
  const f = axis.through(list);
  const add = (x: number): void => {
    if (list.length < 24 && list.every((p) => far(into(x), p[0]) >= NEAR)) once([...list, [into(x), f(into(x))]]);
  };
  const without = (i: number): void => {
    if (list.length > (round ? 1 : 2)) once(list.filter((_, k) => k !== i));
  };
  const X = (x: number): number => (into(x) / most) * W;
  const Y = (v: number): number => (H - RIM) * (0.5 - Math.min(1, Math.max(-1, v / range)) / 2);
  const hand = usePointDrag(
    field,
    list,
    (from, i, across, up) => {
      const [x, y] = from[i]!;
      put(moved(from, i, x + most * across, y + (2 * range * up * H) / (H - RIM)));
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
            ? () => add(x + axis.step)
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
    (_, i) => `${i ? 'L' : 'M'}${((i / 120) * W).toFixed(1)},${Y(f((i / 120) * most)).toFixed(1)}`,
  ).join('');
  const said = (v: number): string => `${v > 0 ? '+' : v < 0 ? '\u2212' : ''}${Math.abs(v)}${unit}`;
  return (
    <>
      <CurveField
        ref={field}
        style={{ height: H }}
        onDoubleClick={(e) => {
          const r = field.current!.getBoundingClientRect();
          add((most * (e.clientX - r.left)) / r.width);
        }}
      >
        <svg viewBox={`0 0 ${W} ${H}`} preserveAspectRatio="none" aria-label={`${label} over ${axis.name}`}>
          {bins.map((v, i) => (
            <rect
              key={i}
              x={(i * W) / bins.length}
              width={W / bins.length + 0.5}
              y={(H - RIM) * (1 - v)}
              height={(H - RIM) * v}
              fill={colours[Math.floor((i * colours.length) / bins.length)]}
              fillOpacity={round ? 0.22 : 0.35}
            />
          ))}
          {colours.map((c, i) => (
            <rect
              key={i}
              x={(i * W) / colours.length}
              width={W / colours.length + 0.5}
              y={H - RIM + 2}
              height={RIM - 2}
              fill={c}
            />
          ))}
          <path d={`M0,${Y(0)}H${W}`} stroke="#8a8a8a" />
          {axis.tick && (
            <>
              <path d={`M${X(axis.tick.at)},0V${H - RIM}`} stroke="#8a8a8a" strokeDasharray="2 3" />
              <text x={X(axis.tick.at) + 3} y={11}>
                {axis.tick.says}
              </text>
            </>
          )}
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
              aria-valuetext={`${axis.name} ${Math.round(into(x))}${axis.unit}: ${said(y)}`}
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
        <span>{`Point ${at + 1} at`}</span>
        <NumberBox
          label={`${label} point ${at + 1}, ${axis.name}, typed`}
          value={tenth(into(list[at]![0]))}
          min={0}
          max={most}
          digits={0}
          suffix={axis.unit}
          onChange={(x) => once(moved(list, at, x, list[at]![1]))}
        />
        <span>{label.toLowerCase().replace(/ by .*/, '')}</span>
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
export const BendCurve = memo(
  BendCurveView,
  (a, b) =>
    a.label === b.label &&
    a.bins === b.bins &&
    a.points.length === b.points.length &&
    a.points.every((v, i) => v === b.points[i]),
);
