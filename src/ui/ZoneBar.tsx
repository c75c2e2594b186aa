/** Borders between tonal zones over the distribution of luma: drag or arrow keys; the names lie between them. */
import { lazy, memo, Suspense, useRef } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import styled from 'styled-components';
import type { Gesture } from './ParamSlider';

const Distribution = lazy(() => import('./Distribution'));

export interface ZoneBarProps extends Gesture {
  /** Rising, in % of luma. */
  borders: readonly number[];
  names: readonly string[];
  chosen: string;
  bins: readonly number[];
  onChoose(name: string): void;
  onChange(index: number, pct: number): void;
}
const Bar = styled.div`
  position: relative;
  height: 48px;
  background: var(--deep);
  border-radius: 3px;
  margin: 4px 0 6px;
  touch-action: none;
  .zone {
    position: absolute;
    top: 0;
    bottom: 0;
    border: none;
    background: none;
    color: #d8d8d8;
    font-size: 12px;
    padding: 0;
    overflow: hidden;
  }
  .zone[aria-pressed='true'] {
    background: rgb(255 255 255 / 16%);
    color: #fff;
  }
  .edge {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 13px;
    margin-left: -6px;
    cursor: ew-resize;
    outline: none;
  }
  .edge::after {
    content: '';
    position: absolute;
    left: 5.5px;
    top: 0;
    bottom: 0;
    width: 2px;
    background: #fff;
  }
  .edge:focus-visible::after {
    box-shadow: 0 0 0 3px #777;
  }
  .under {
    position: absolute;
    inset: 0;
    opacity: 0.4;
    overflow: hidden;
  }
`;

function ZoneBarView({ borders, names, chosen, bins, onChoose, onChange, onBegin, onEnd, onBail }: ZoneBarProps) {
  const bar = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; from: number } | null>(null);
  const limit = (i: number, v: number): number =>
    Math.round(10 * Math.min((borders[i + 1] ?? 101) - 1, Math.max((borders[i - 1] ?? -1) + 1, v))) / 10;
  const key =
    (i: number) =>
    (e: KeyboardEvent): void => {
      if (e.key === 'Escape' && drag.current) {
        drag.current = null;
        e.stopPropagation();
        onBail();
      }
      const dir = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
      if (dir === undefined) return;
      e.preventDefault();
      e.stopPropagation();
      onBegin();
      onChange(i, limit(i, borders[i]! + dir * (e.shiftKey ? 5 : e.altKey ? 0.1 : 1)));
      onEnd();
    };
  const move =
    (i: number) =>
    (e: PointerEvent): void => {
      if (drag.current)
        onChange(i, limit(i, drag.current.from + ((e.clientX - drag.current.x) / bar.current!.clientWidth) * 100));
    };
  const up = (): void => {
    if (drag.current) onEnd();
    drag.current = null;
  };
  const edges = [0, ...borders, 100];
  return (
    <Bar ref={bar}>
      <div className="under">
        <Suspense fallback={null}>
          <Distribution bins={bins} colours={null} />
        </Suspense>
      </div>
      {names.map((n, i) => (
        <button
          type="button"
          key={n}
          className="zone"
          aria-pressed={n === chosen}
          style={{ left: `${edges[i]}%`, width: `${edges[i + 1]! - edges[i]!}%` }}
          onClick={() => onChoose(n)}
          title={`${n}: ${edges[i]} to ${edges[i + 1]} % luma`}
        >
          {n}
        </button>
      ))}
      {borders.map((b, i) => (
        <div
          key={i}
          className="edge"
          role="slider"
          tabIndex={0}
          aria-label={`Border between ${names[i]} and ${names[i + 1]}`}
          aria-valuenow={b}
          aria-valuemin={0}
          aria-valuemax={100}
          style={{ left: `${b}%` }}
          onPointerDown={(e) => {
            if (e.button) return;
            e.currentTarget.setPointerCapture(e.pointerId);
            drag.current = { x: e.clientX, from: b };
            onBegin();
          }}
          onPointerMove={move(i)}
          onPointerUp={up}
          onPointerCancel={up}
          onKeyDown={key(i)}
        />
      ))}
    </Bar>
  );
}
export const ZoneBar = memo(
  ZoneBarView,
  (a, b) => a.chosen === b.chosen && a.bins === b.bins && a.borders.every((v, i) => v === b.borders[i]),
);
