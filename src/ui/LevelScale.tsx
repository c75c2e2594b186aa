/**
 * A level as an upright scale, the levels of what it acts on drawn in it. Up is brighter; the middle changes nothing.
 */
import { memo, useRef } from 'react';
import styled from 'styled-components';
import type { Gesture } from './ParamSlider';

export interface LevelScaleProps extends Gesture {
  label: string;
  value: number;
  /** Of the control, either way. */
  range: number;
  min: number;
  max: number;
  /** Share of each level, 0..1, from 0 to 100 %. */
  bins: readonly number[];
  height: number;
  width: number;
  onChange(v: number): void;
}
const Box = styled.div`
  position: relative;
  touch-action: none;
  cursor: ns-resize;
  outline: none;
  border-radius: 3px;
  background: var(--deep);
  &:focus-visible {
    box-shadow: 0 0 0 2px var(--bright);
  }
  svg {
    display: block;
    border-radius: 3px;
  }
`;
function LevelScaleView(p: LevelScaleProps) {
  const drag = useRef<{ y: number; value: number } | null>(null);
  const put = (v: number): void => p.onChange(Math.round(Math.min(p.max, Math.max(p.min, v)) * 10) / 10);
  const once = (v: number): void => {
    p.onBegin();
    put(v);
    p.onEnd();
  };
  const n = p.bins.length;
  const y = p.height / 2 - (Math.min(p.range, Math.max(-p.range, p.value)) / p.range) * (p.height / 2 - 4);
  return (
    <Box
      role="slider"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={`${p.label} level`}
      aria-valuemin={p.min}
      aria-valuemax={p.max}
      aria-valuenow={p.value}
      style={{ width: p.width, height: p.height }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { y: e.clientY, value: p.value };
        p.onBegin();
      }}
      onPointerMove={(e) => {
        const d = drag.current;
        if (d) put(d.value + ((d.y - e.clientY) / (p.height / 2 - 4)) * p.range * (e.altKey ? 0.1 : 1));
      }}
      onPointerUp={() => {
        if (drag.current) p.onEnd();
        drag.current = null;
      }}
      onPointerCancel={() => {
        if (drag.current) p.onBail();
        drag.current = null;
      }}
      onDoubleClick={() => once(0)}
      onKeyDown={(e) => {
        const dir = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[e.key];
        if (dir) {
          e.preventDefault();
          e.stopPropagation();
          once(p.value + dir * (e.shiftKey ? 5 : e.altKey ? 0.1 : 0.5));
        } else if (e.key === 'Delete' || e.key === 'Backspace') {
          e.preventDefault();
          once(0);
        } else if (e.key === 'Escape' && drag.current) {
          e.stopPropagation();
          drag.current = null;
          p.onBail();
        }
      }}
    >
      <svg width={p.width} height={p.height} aria-hidden>
        {p.bins.map((b, i) => (
          <rect
            key={i}
            x={p.width - 2 - b * (p.width - 8)}
            width={b * (p.width - 8)}
            y={p.height - ((i + 1) / n) * p.height}
            height={p.height / n}
            fill="#8c8c8c"
          />
        ))}
        <line x1={0} x2={p.width} y1={p.height / 2} y2={p.height / 2} stroke="#777" strokeDasharray="2 3" />
        <rect x={2} width={p.width - 4} y={y - 3} height={6} rx={2} fill="#fff" stroke="#000" strokeOpacity={0.6} />
      </svg>
    </Box>
  );
}
export const LevelScale = memo(
  LevelScaleView,
  (a, b) => a.value === b.value && a.bins === b.bins && a.label === b.label && a.height === b.height,
);
