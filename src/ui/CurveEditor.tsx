/**
 * A tone curve with its points over a distribution. Double click on the field adds a point, on a point removes it; a
 * focused
 * point moves by arrow keys (Shift coarse, Alt fine), Delete removes it, Enter adds one between it and the next.
 */
import { lazy, memo, Suspense, useRef } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import styled from 'styled-components';
import { monotone } from '../core/math/monotone';
import type { Gesture } from './ParamSlider';

const Distribution = lazy(() => import('./Distribution'));

export interface CurveEditorProps extends Gesture {
  label: string;
  /** x, y, x, y ... of the signal, x rising. */
  points: readonly number[];
  bins: readonly number[];
  onChange(points: number[]): void;
}
const W = 252;
const H = 168;
const GAP = 0.004;
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
  .under {
    position: absolute;
    inset: 0;
    opacity: 0.4;
    overflow: hidden;
    border-radius: 3px;
  }
`;
type P = [number, number];
const toPoints = (v: readonly number[]): P[] =>
  Array.from({ length: v.length >> 1 }, (_, i) => [v[2 * i]!, v[2 * i + 1]!]);
const r4 = (v: number): number => Math.round(v * 1e4) / 1e4;

function CurveEditorView({ label, points, bins, onChange, onBegin, onEnd, onBail }: CurveEditorProps) {
  const field = useRef<HTMLDivElement>(null);
  const drag = useRef<{ i: number; from: P[]; x: number; y: number } | null>(null);
  const list = toPoints(points);
  const put = (next: P[]): void => onChange(next.flatMap(([x, y]) => [r4(x), r4(y)]));
  const once = (next: P[]): void => {
    onBegin();
    put(next);
    onEnd();
  };
  /** A point between its neighbours, which it does not pass. */
  const moved = (from: P[], i: number, x: number, y: number): P[] =>
    from.map((p, k) =>
      k === i
        ? [
            Math.min((from[i + 1]?.[0] ?? 1 + GAP) - GAP, Math.max((from[i - 1]?.[0] ?? -GAP) + GAP, x)),
            Math.min(1.5, Math.max(-0.5, y)),
          ]
        : p,
    );
  const add = (x: number, y: number): void => {
    if (list.length < 64 && list.every((p) => Math.abs(p[0] - x) > GAP))
      once([...list, [x, y] as P].sort((a, b) => a[0] - b[0]));
  };
  const without = (i: number): void => {
    if (list.length > 2) once(list.filter((_, k) => k !== i));
  };
  const at = (e: { clientX: number; clientY: number }): P => {
    const r = field.current!.getBoundingClientRect();
    return [(e.clientX - r.left) / r.width, 1 - (e.clientY - r.top) / r.height];
  };
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
    put(
      moved(
        d.from,
        d.i,
        d.from[d.i]![0] + (k * (e.clientX - d.x)) / r.width,
        d.from[d.i]![1] - (k * (e.clientY - d.y)) / r.height,
      ),
    );
  };
  const up = (): void => {
    if (drag.current) onEnd();
    drag.current = null;
  };
  const key =
    (i: number) =>
    (e: KeyboardEvent): void => {
      if (e.key === 'Escape' && drag.current) {
        e.stopPropagation();
        drag.current = null;
        onBail();
      } else if (e.key === 'Delete' || e.key === 'Backspace') {
        e.preventDefault();
        e.stopPropagation();
        without(i);
      } else if (e.key === 'Enter') {
        e.preventDefault();
        const j = i + 1 < list.length ? i + 1 : i - 1;
        const x = (list[i]![0] + list[j]![0]) / 2;
        add(x, f.at(x));
      } else {
        const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
        if (!d) return;
        e.preventDefault();
        e.stopPropagation();
        const k = 0.005 * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1);
        once(moved(list, i, list[i]![0] + d[0]! * k, list[i]![1] + d[1]! * k));
      }
    };
  const f = monotone(
    list.map((p) => p[0]),
    list.map((p) => p[1]),
  );
  const path = Array.from(
    { length: 127 },
    (_, i) => `${i ? 'L' : 'M'}${((i / 126) * W).toFixed(1)},${((1 - f.at(i / 126)) * H).toFixed(1)}`,
  ).join('');
  return (
    <Field
      ref={field}
      onDoubleClick={(e) => {
        const p = at(e);
        add(p[0], p[1]);
      }}
    >
      <div className="under">
        <Suspense fallback={null}>
          <Distribution bins={bins} colours={null} />
        </Suspense>
      </div>
      <svg viewBox={`0 0 ${W} ${H}`} preserveAspectRatio="none" aria-label={`${label} curve`}>
        <path d={`M0,${H}L${W},0`} stroke="#666" vectorEffect="non-scaling-stroke" />
        <path
          d={[0.25, 0.5, 0.75].map((v) => `M${v * W},0V${H}M0,${v * H}H${W}`).join('')}
          stroke="#4a4a4a"
          vectorEffect="non-scaling-stroke"
        />
        <svg x={0} y={0} width={W} height={H} viewBox={`0 0 ${W} ${H}`} style={{ overflow: 'hidden' }}>
          <path d={path} fill="none" stroke="#fff" strokeWidth={1.75} vectorEffect="non-scaling-stroke" />
        </svg>
        {list.map(([x, y], i) => (
          <g
            key={i}
            className="point"
            tabIndex={0}
            role="slider"
            aria-label={`${label} point ${i + 1}`}
            aria-valuenow={Math.round(y * 100)}
            aria-valuetext={`${(x * 100).toFixed(1)} % to ${(y * 100).toFixed(1)} %`}
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
            <circle cx={x * W} cy={(1 - Math.min(1, Math.max(0, y))) * H} r={9} fill="transparent" />
            <circle
              cx={x * W}
              cy={(1 - Math.min(1, Math.max(0, y))) * H}
              r={4.5}
              fill="#fff"
              stroke="#000"
              strokeOpacity={0.6}
            />
          </g>
        ))}
      </svg>
    </Field>
  );
}
export const CurveEditor = memo(
  CurveEditorView,
  (a, b) =>
    a.label === b.label &&
    a.bins === b.bins &&
    a.points.length === b.points.length &&
    a.points.every((v, i) => v === b.points[i]),
);
