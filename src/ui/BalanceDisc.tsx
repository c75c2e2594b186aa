/**
 * A small vectorscope of the region on which its trace itself is dragged: it follows the hand. The skin line and the
 * measured patch, before and now, lie behind it. One push at a time; arrow keys step it, double click or Delete sets
 * it back.
 */
import { memo, useMemo, useRef, useState } from 'react';
import styled from 'styled-components';
import { DEG } from '../core/math/angle';
import { HueRim } from './HueRim';
import type { Gesture } from './ParamSlider';
import { useTrace } from './trace';

export type Spot = readonly [cb: number, cr: number];
export interface BalanceDiscProps extends Gesture {
  label: string;
  /** What is pushed, for the ear: "Cb 3.0 %, Cr 1.2 %". */
  said: string;
  /** The push in % of the largest colour difference. */
  push: number;
  /** The region's colours as they are given, and as they are now: Cb, Cr one after the other. */
  before: readonly number[];
  now: readonly number[];
  mean: Spot;
  skinLineDeg: number;
  patch: { before: Spot | null; now: Spot | null; name: string } | null;
  size: number;
  /** The region's mean is to stand here. */
  onDrag(to: Spot): void;
  onReset(): void;
}

const SCALES = [10, 15, 20, 30, 40, 60, 100, 150];
const Disc = styled.div`
  position: relative;
  touch-action: none;
  cursor: move;
  border-radius: 50%;
  outline: none;
  &:focus-visible {
    box-shadow: 0 0 0 2px var(--bright);
  }
  canvas,
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }
  text {
    fill: #c8c8c8;
    font-size: 10.5px;
  }
`;
/** Chroma in % that nearly all of the colours keep to. */
function reach(list: readonly number[]): number {
  const c = Array.from({ length: list.length >> 1 }, (_, i) => 200 * Math.hypot(list[2 * i]!, list[2 * i + 1]!)).sort(
    (a, b) => a - b,
  );
  return c[Math.floor(0.97 * (c.length - 1))] ?? 0;
}

function BalanceDiscView(p: BalanceDiscProps) {
  const R = p.size / 2;
  const inner = R - 7;
  const drag = useRef<{ x: number; y: number; mean: Spot } | null>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const marks = [p.mean, p.patch?.before, p.patch?.now].map((s) => (s ? 200 * Math.hypot(...s) * 1.1 : 0));
  const farBefore = useMemo(() => reach(p.before), [p.before]);
  const farNow = useMemo(() => reach(p.now), [p.now]);
  const most = Math.max(farBefore, farNow, ...marks, 8);
  const scale = held ?? SCALES.find((s) => s >= most) ?? 150;
  const k = (200 / scale) * inner;
  const at = ([cb, cr]: Spot): [number, number] => [R + cb * k, R - cr * k];

  useTrace(canvas, p.before, p.now, p.size, inner, k);

  const once = (f: () => void): void => {
    p.onBegin();
    f();
    p.onEnd();
  };
  const [mx, my] = at(p.mean);
  const line = p.skinLineDeg / DEG;
  return (
    <Disc
      role="slider"
      tabIndex={0}
      aria-label={`${p.label} colour`}
      aria-valuenow={Math.round(p.push * 10) / 10}
      aria-valuetext={p.said}
      style={{ width: p.size, height: p.size }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { x: e.clientX, y: e.clientY, mean: p.mean };
        setHeld(scale);
        p.onBegin();
      }}
      onPointerMove={(e) => {
        const d = drag.current;
        if (!d) return;
        const s = (e.altKey ? 0.1 : 1) / k;
        p.onDrag([d.mean[0] + (e.clientX - d.x) * s, d.mean[1] - (e.clientY - d.y) * s]);
      }}
      onPointerUp={() => {
        if (drag.current) p.onEnd();
        drag.current = null;
        setHeld(null);
      }}
      onPointerCancel={() => {
        if (drag.current) p.onBail();
        drag.current = null;
        setHeld(null);
      }}
      onDoubleClick={() => once(p.onReset)}
      onKeyDown={(e) => {
        // Half a percent of chroma.
        const step = 0.0025 * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1);
        const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
        if (d) {
          e.preventDefault();
          e.stopPropagation();
          once(() => p.onDrag([p.mean[0] + d[0]! * step, p.mean[1] + d[1]! * step]));
        } else if (e.key === 'Delete' || e.key === 'Backspace') {
          e.preventDefault();
          once(p.onReset);
        } else if (e.key === 'Escape' && drag.current) {
          e.stopPropagation();
          drag.current = null;
          setHeld(null);
          p.onBail();
        }
      }}
    >
      <svg aria-hidden viewBox={`0 0 ${p.size} ${p.size}`}>
        <circle cx={R} cy={R} r={inner} fill="var(--deep)" />
        <HueRim r={R} />
        <path d={`M${R},8V${p.size - 8}M8,${R}H${p.size - 8}`} stroke="#565656" />
        <line x1={R} y1={R} x2={R + Math.cos(line) * inner} y2={R - Math.sin(line) * inner} stroke="#eee" />
        <text x={R + 4} y={18}>{`${scale} %`}</text>
      </svg>
      <canvas ref={canvas} aria-hidden />
      <svg aria-hidden viewBox={`0 0 ${p.size} ${p.size}`}>
        {p.patch?.before && (
          <circle {...spot(at(p.patch.before))} r={5} fill="none" stroke="#000" strokeWidth={3.5} strokeOpacity={0.6} />
        )}
        {p.patch?.before && <circle {...spot(at(p.patch.before))} r={5} fill="none" stroke="#bbb" strokeWidth={1.4} />}
        {p.patch?.now && <circle {...spot(at(p.patch.now))} r={4} fill="#fff" stroke="#000" />}
        <path
          d={`M${mx - 7},${my}h14M${mx},${my - 7}v14`}
          stroke="#fff"
          strokeWidth={1.6}
          style={{ filter: 'drop-shadow(0 0 1.5px #000)' }}
        />
      </svg>
    </Disc>
  );
}
const spot = ([cx, cy]: [number, number]) => ({ cx, cy });

export const BalanceDisc = memo(BalanceDiscView);
