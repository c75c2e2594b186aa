/**
 * A colour push as a point on a disc laid out as the vectorscope: right is +Cb, up is +Cr. Drag moves it (Alt fine),
 * arrow keys step it, double click or Delete sets it back.
 */
import { memo, useRef } from 'react';
import styled from 'styled-components';
import { ycbcrToRgb } from '../core/color/ycbcr';
import type { Gesture } from './ParamSlider';

export interface WheelProps extends Gesture {
  label: string;
  cb: number;
  cr: number;
  /** Push at the rim, in %. */
  range: number;
  size: number;
  onChange(cb: number, cr: number): void;
}
const Disc = styled.div`
  position: relative;
  border-radius: 50%;
  margin: 0 auto;
  touch-action: none;
  cursor: crosshair;
  background: var(--deep);
  &:focus-visible {
    outline: 2px solid var(--bright);
    outline-offset: 2px;
  }
  svg {
    display: block;
  }
`;

/** Rim colours: what a push in each direction does to middle grey. */
const rim = Array.from({ length: 48 }, (_, i) => {
  const a = (i / 48) * 2 * Math.PI;
  const c = ycbcrToRgb(0.52, 0.2 * Math.cos(a), 0.2 * Math.sin(a)).map((v) =>
    Math.round(255 * Math.min(1, Math.max(0, v))),
  );
  return { a, colour: `rgb(${c.join(',')})` };
});

function WheelView({ label, cb, cr, range, size, onChange, onBegin, onEnd, onBail }: WheelProps) {
  const drag = useRef<{ x: number; y: number; cb: number; cr: number } | null>(null);
  const R = size / 2;
  const inner = R - 5;
  const put = (x: number, y: number): void => {
    const r = (v: number): number => Math.round(v * 100) / 100;
    onChange(r(x), r(y));
  };
  const once = (x: number, y: number): void => {
    onBegin();
    put(x, y);
    onEnd();
  };
  // Beyond the rim the point stays on it; the numbers go on.
  const len = Math.hypot(cb, cr) / range;
  const k = len > 1 ? 1 / len : 1;
  const px = R + (cb / range) * inner * k;
  const py = R - (cr / range) * inner * k;
  return (
    <Disc
      role="slider"
      tabIndex={0}
      aria-label={`${label} colour`}
      aria-valuenow={Math.round(Math.hypot(cb, cr) * 10) / 10}
      aria-valuetext={`Cb ${cb.toFixed(1)} %, Cr ${cr.toFixed(1)} %`}
      style={{ width: size, height: size }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { x: e.clientX, y: e.clientY, cb, cr };
        onBegin();
      }}
      onPointerMove={(e) => {
        const d = drag.current;
        if (!d) return;
        // Half speed: the disc is small and the eye wants small pushes.
        const s = (e.altKey ? 0.08 : 0.5) * (range / inner);
        put(d.cb + (e.clientX - d.x) * s, d.cr - (e.clientY - d.y) * s);
      }}
      onPointerUp={() => {
        if (drag.current) onEnd();
        drag.current = null;
      }}
      onPointerCancel={() => {
        if (drag.current) onBail();
        drag.current = null;
      }}
      onDoubleClick={() => once(0, 0)}
      onKeyDown={(e) => {
        const step = 0.5 * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1);
        const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
        if (d) {
          e.preventDefault();
          e.stopPropagation();
          once(cb + d[0]! * step, cr + d[1]! * step);
        } else if (e.key === 'Delete' || e.key === 'Backspace') {
          e.preventDefault();
          once(0, 0);
        } else if (e.key === 'Escape' && drag.current) {
          e.stopPropagation();
          drag.current = null;
          onBail();
        }
      }}
    >
      <svg width={size} height={size} aria-hidden>
        {rim.map(({ a, colour }, i) => (
          <line
            key={i}
            x1={R + Math.cos(a) * (R - 4)}
            y1={R - Math.sin(a) * (R - 4)}
            x2={R + Math.cos(a) * (R - 1)}
            y2={R - Math.sin(a) * (R - 1)}
            stroke={colour}
            strokeWidth={4}
          />
        ))}
        <path d={`M${R},8V${size - 8}M8,${R}H${size - 8}`} stroke="#555" />
        <line x1={R} y1={R} x2={px} y2={py} stroke="#bbb" />
        <circle cx={px} cy={py} r={4.5} fill="#fff" stroke="#000" strokeOpacity="0.6" />
      </svg>
    </Disc>
  );
}

/** As with sliders: drawn again only when the point moved. */
export const Wheel = memo(
  WheelView,
  (a, b) => a.cb === b.cb && a.cr === b.cr && a.label === b.label && a.size === b.size && a.range === b.range,
);
