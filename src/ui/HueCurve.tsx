/**
 * A closed curve over hue, with the picture's own hues beneath. Double click on the field adds a point, on a point
 * removes it; a focused point moves by arrow keys (Shift coarse, Alt fine), Delete removes it, Enter adds one behind.
 */
import { memo, useMemo, useRef } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import styled from 'styled-components';
import { closed } from '../core/math/closed';
import { DEG } from '../core/math/angle';
import { colourAt } from './keyColours';
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
const Field = styled.div`
  position: relative;
  height: ${H}px;
  background: var(--deep);
  border-radius: 3px;
  touch-action: none;
  cursor: crosshair;
  margin: 4px 0;
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    overflow: visible;
  }
  .point {
    cursor: move;
    outline: none;
  }
  .point:focus-visible circle {
    stroke: #fff;
    stroke-width: 4;
  }
  text {
    fill: #c8c8c8;
    font-size: 10.5px;
  }
`;
type P = [number, number];
const pairs = (v: readonly number[]): P[] =>
  Array.from({ length: v.length >> 1 }, (_, i) => [v[2 * i]!, v[2 * i + 1]!]);
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
  const drag = useRef<{ i: number; from: P[]; x: number; y: number } | null>(null);
  const list = pairs(points);
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
  const down =
    (i: number) =>
    (e: PointerEvent<SVGGElement>): void => {
      if (e.button !== 0) return;
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      e.currentTarget.focus();
      drag.current = { i, from: list, x: e.clientX, y: e.clientY };
      onBegin();
    };
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (!d) return;
    const r = field.current!.getBoundingClientRect();
    const k = e.altKey ? 0.1 : 1;
    const [x, y] = d.from[d.i]!;
    const dy = (2 * range * k * (e.clientY - d.y)) / (r.height - RIM);
    put(moved(d.from, d.i, x + (360 * k * (e.clientX - d.x)) / r.width, y - dy));
  };
  const up = (): void => {
    if (drag.current) onEnd();
    drag.current = null;
  };
  const key =
    (i: number) =>
    (e: KeyboardEvent): void => {
      const [x, y] = list[i]!;
      if (e.key === 'Escape' && drag.current) {
        e.stopPropagation();
        drag.current = null;
        onBail();
        return;
      }
      const step = e.shiftKey ? 10 : e.altKey ? 0.1 : 1;
      const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
      const does =
        e.key === 'Delete' || e.key === 'Backspace'
          ? () => without(i)
          : e.key === 'Enter'
            ? () => add(x + 15)
            : d
              ? () => once(moved(list, i, x + d[0]! * step, y + d[1]! * step))
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
    <Field
      ref={field}
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
            onPointerDown={down(i)}
            onPointerMove={move}
            onPointerUp={up}
            onPointerCancel={up}
            onKeyDown={key(i)}
            onDoubleClick={(e) => {
              e.stopPropagation();
              without(i);
            }}
          >
            <circle cx={X(x)} cy={Y(y)} r={9} fill="transparent" />
            <circle cx={X(x)} cy={Y(y)} r={4.5} fill="#fff" stroke="#000" strokeOpacity={0.6} />
          </g>
        ))}
      </svg>
    </Field>
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
