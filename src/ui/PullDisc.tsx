/**
 * A small vectorscope on which colours are pulled: a drag takes the colour under the hand to where it is let go, a
 * press holds the colour there. Targets, beginnings and holds can be moved, by arrow keys too; Delete removes them.
 */
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import styled from 'styled-components';
import { DEG } from '../core/math/angle';
import { HueRim } from './HueRim';
import type { Gesture } from './ParamSlider';
import { useTrace } from './trace';

/** Cb, Cr in % of the largest colour difference. */
export type Place = readonly [cb: number, cr: number];
/** What a hand has hold of. */
export type Grip = { kind: 'from' | 'to' | 'hold'; i: number };
export interface PullDiscProps extends Gesture {
  pulls: readonly { from: Place; to: Place }[];
  holds: readonly Place[];
  /** How far a pull reaches, in %. */
  reachPct: number;
  chosen: Grip | null;
  /** Colours of the region as they are given, and as they are now: Cb, Cr (-0.5..0.5) one after the other. */
  before: readonly number[];
  now: readonly number[];
  skinLineDeg: number;
  size: number;
  /** Answers with what the hand has hold of then; null where there can be no more. */
  onPull(from: Place): Grip | null;
  onHold(at: Place): void;
  onMove(grip: Grip, to: Place): void;
  onChoose(grip: Grip | null): void;
  onRemove(grip: Grip): void;
}
const SCALES = [15, 20, 30, 40, 60, 100, 150];
const Disc = styled.div`
  position: relative;
  margin: 6px auto;
  touch-action: none;
  cursor: crosshair;
  border-radius: 50%;
  canvas,
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
  canvas,
  svg.under {
    pointer-events: none;
  }
  text {
    fill: #c8c8c8;
    font-size: 10.5px;
  }
  .grip {
    cursor: move;
    outline: none;
  }
  .grip:focus-visible .dot {
    stroke: #fff;
    stroke-width: 3;
  }
`;
/** So far a hand may go before a press is a drag, in screen pixels. */
const STILL_PX = 3;
/** A tenth of a percent is finer than a hand. */
const fine = ([a, b]: Place): Place => [Math.round(10 * a) / 10, Math.round(10 * b) / 10];

function PullDiscView(p: PullDiscProps) {
  const R = p.size / 2;
  const inner = R - 7;
  const canvas = useRef<HTMLCanvasElement>(null);
  const disc = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; y: number; from: Place; grip: Grip | null; began: boolean } | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const far = useMemo(() => {
    const c = Array.from({ length: p.before.length >> 1 }, (_, i) =>
      Math.hypot(p.before[2 * i]!, p.before[2 * i + 1]!),
    ).sort((a, b) => a - b);
    return 200 * (c[Math.floor(0.97 * (c.length - 1))] ?? 0);
  }, [p.before]);
  const marks = [...p.pulls.flatMap((q) => [q.from, q.to]), ...p.holds].map((s) => 1.1 * Math.hypot(...s));
  const most = Math.max(far * 1.15, ...marks, 12);
  const scale = held ?? SCALES.find((s) => s >= most) ?? 150;
  const k = inner / scale;
  const at = ([cb, cr]: Place): [number, number] => [R + cb * k, R - cr * k];
  const placeOf = (e: { clientX: number; clientY: number }): Place => {
    const b = disc.current!.getBoundingClientRect();
    return [(e.clientX - b.left - R) / k, (R - (e.clientY - b.top)) / k];
  };
  useTrace(canvas, p.before, p.now, p.size, inner, 200 * k);

  const down = (e: PointerEvent, grip: Grip | null, from: Place): void => {
    if (e.button !== 0) return;
    e.stopPropagation();
    disc.current!.setPointerCapture(e.pointerId);
    setHeld(scale);
    drag.current = { x: e.clientX, y: e.clientY, from, grip, began: false };
    p.onChoose(grip);
  };
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (!d) return;
    const [dx, dy] = [e.clientX - d.x, e.clientY - d.y];
    if (!d.began) {
      if (Math.hypot(dx, dy) <= STILL_PX) return;
      d.began = true;
      p.onBegin();
      d.grip ??= p.onPull(fine(d.from));
    }
    const s = (e.altKey ? 0.1 : 1) / k;
    if (d.grip) p.onMove(d.grip, fine([d.from[0] + dx * s, d.from[1] - dy * s]));
  };
  const up = (): void => {
    const d = drag.current;
    drag.current = null;
    setHeld(null);
    if (!d) return;
    if (d.began) p.onEnd();
    else if (!d.grip) p.onHold(fine(d.from));
  };
  const bail = (): void => {
    if (drag.current?.began) p.onBail();
    drag.current = null;
    setHeld(null);
  };
  // A hand that began beside every grip has no focus here: Escape is heard wherever it is.
  const leave = useRef(bail);
  leave.current = bail;
  useEffect(() => {
    const escape = (e: globalThis.KeyboardEvent): void => {
      if (e.key !== 'Escape' || !drag.current) return;
      e.stopPropagation();
      leave.current();
    };
    window.addEventListener('keydown', escape, true);
    return () => window.removeEventListener('keydown', escape, true);
  }, []);
  const key = (e: KeyboardEvent, grip: Grip, from: Place): void => {
    const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (d) {
      const s = e.shiftKey ? 5 : e.altKey ? 0.1 : 0.5;
      p.onBegin();
      p.onMove(grip, fine([from[0] + d[0]! * s, from[1] + d[1]! * s]));
      p.onEnd();
    } else if (e.key === 'Delete' || e.key === 'Backspace') p.onRemove(grip);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const said = ([cb, cr]: Place): string => `Cb ${cb.toFixed(1)} %, Cr ${cr.toFixed(1)} %`;
  const isChosen = (g: Grip): boolean => p.chosen?.kind === g.kind && p.chosen.i === g.i;
  const grip = (g: Grip, where: Place, name: string) => {
    const [x, y] = at(where);
    const on = isChosen(g);
    return (
      <g
        key={`${g.kind} ${g.i}`}
        className="grip"
        role="button"
        tabIndex={0}
        aria-label={`${name}: ${said(where)}; arrow keys move it, Delete removes it`}
        data-grip={`${g.kind} ${g.i}`}
        onPointerDown={(e) => {
          down(e, g, where);
          e.currentTarget.focus();
        }}
        onFocus={() => p.onChoose(g)}
        onKeyDown={(e) => key(e, g, where)}
      >
        <circle cx={x} cy={y} r={11} fill="transparent" />
        {g.kind === 'hold' ? (
          <rect className="dot" x={x - 4} y={y - 4} width={8} height={8} fill={on ? '#fff' : '#222'} stroke="#fff" />
        ) : (
          <circle
            className="dot"
            cx={x}
            cy={y}
            r={g.kind === 'to' ? 5 : 3.5}
            fill={g.kind === 'to' || on ? '#fff' : '#222'}
            stroke={g.kind === 'to' ? '#000' : '#fff'}
            strokeWidth={1.4}
          />
        )}
      </g>
    );
  };
  const line = p.skinLineDeg / DEG;
  const shown = p.chosen && p.chosen.kind !== 'hold' ? p.pulls[p.chosen.i] : undefined;
  return (
    <Disc
      ref={disc}
      style={{ width: p.size, height: p.size }}
      onPointerDown={(e) => down(e, null, placeOf(e))}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={bail}
    >
      <svg className="under" aria-hidden viewBox={`0 0 ${p.size} ${p.size}`}>
        <circle cx={R} cy={R} r={inner} fill="var(--deep)" />
        <HueRim r={R} />
        <path d={`M${R},8V${p.size - 8}M8,${R}H${p.size - 8}`} stroke="#565656" />
        <line x1={R} y1={R} x2={R + Math.cos(line) * inner} y2={R - Math.sin(line) * inner} stroke="#eee" />
        <text x={R + 4} y={18}>{`${scale} %`}</text>
      </svg>
      <canvas ref={canvas} aria-hidden />
      <svg viewBox={`0 0 ${p.size} ${p.size}`}>
        {shown && (
          <circle
            cx={at(shown.from)[0]}
            cy={at(shown.from)[1]}
            r={p.reachPct * k}
            fill="none"
            stroke="#fff"
            strokeOpacity={0.35}
            strokeDasharray="3 4"
            pointerEvents="none"
          />
        )}
        {p.pulls.map((q, i) => (
          <line
            key={i}
            x1={at(q.from)[0]}
            y1={at(q.from)[1]}
            x2={at(q.to)[0]}
            y2={at(q.to)[1]}
            stroke="#fff"
            strokeWidth={1.6}
            pointerEvents="none"
            style={{ filter: 'drop-shadow(0 0 1.5px #000)' }}
          />
        ))}
        {p.holds.map((h, i) => grip({ kind: 'hold', i }, h, `Hold ${i + 1}`))}
        {p.pulls.map((q, i) => grip({ kind: 'from', i }, q.from, `Pull ${i + 1}, where it is`))}
        {p.pulls.map((q, i) => grip({ kind: 'to', i }, q.to, `Pull ${i + 1}, where it goes`))}
      </svg>
    </Disc>
  );
}
export const PullDisc = memo(PullDiscView);
