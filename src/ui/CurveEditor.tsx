/**
 * A tone curve with its points over a distribution. Double click on the field adds a point, on a point removes it; a
 * focused
 * point moves by arrow keys (Shift coarse, Alt fine), Delete removes it, Enter adds one between it and the next.
 */
import { lazy, memo, Suspense, useRef } from 'react';
import type { KeyboardEvent } from 'react';
import { monotone } from '../core/math/monotone';
import { CurveField, curvePoints, PointMark, stepOf, usePointDrag } from './CurveField';
import type { CurvePoint as P } from './CurveField';
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
const r4 = (v: number): number => Math.round(v * 1e4) / 1e4;

function CurveEditorView({ label, points, bins, onChange, onBegin, onEnd, onBail }: CurveEditorProps) {
  const field = useRef<HTMLDivElement>(null);
  const list = curvePoints(points);
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
  const hand = usePointDrag(
    field,
    list,
    (from, i, across, up) => put(moved(from, i, from[i]![0] + across, from[i]![1] + up)),
    { onBegin, onEnd, onBail },
  );
  const key =
    (i: number) =>
    (e: KeyboardEvent): void => {
      if (hand.escape(e)) return;
      const step = stepOf(e);
      if (e.key === 'Delete' || e.key === 'Backspace') {
        e.preventDefault();
        e.stopPropagation();
        without(i);
      } else if (e.key === 'Enter') {
        e.preventDefault();
        const j = i + 1 < list.length ? i + 1 : i - 1;
        const x = (list[i]![0] + list[j]![0]) / 2;
        add(x, f.at(x));
      } else if (step) {
        e.preventDefault();
        e.stopPropagation();
        once(moved(list, i, list[i]![0] + 0.005 * step[0], list[i]![1] + 0.005 * step[1]));
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
    <CurveField
      ref={field}
      style={{ height: H }}
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
            {...hand.of(i)}
            onKeyDown={key(i)}
            onDoubleClick={(e) => {
              e.stopPropagation();
              without(i);
            }}
          >
            <PointMark x={x * W} y={(1 - Math.min(1, Math.max(0, y))) * H} />
          </g>
        ))}
      </svg>
    </CurveField>
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
