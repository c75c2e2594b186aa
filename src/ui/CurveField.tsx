/** What editors of curves share: the field, its points, and how a hand drags one. */
import { useRef } from 'react';
import type { KeyboardEvent, PointerEvent, RefObject } from 'react';
import styled from 'styled-components';
import type { Gesture } from './ParamSlider';

export type CurvePoint = [number, number];
/** Points of a list x, y, x, y ... */
export const curvePoints = (v: readonly number[]): CurvePoint[] =>
  Array.from({ length: v.length >> 1 }, (_, i) => [v[2 * i]!, v[2 * i + 1]!]);

export const CurveField = styled.div`
  position: relative;
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
  .under {
    position: absolute;
    inset: 0;
    opacity: 0.4;
    overflow: hidden;
    border-radius: 3px;
  }
`;
/** Of a point that has the focus, one step of an arrow key; null for any other key. Shift coarse, Alt fine. */
export function stepOf(e: KeyboardEvent): CurvePoint | null {
  const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
  const by = e.shiftKey ? 10 : e.altKey ? 0.1 : 1;
  return d ? [d[0]! * by, d[1]! * by] : null;
}
/**
 * A point dragged by the hand, as one gesture; Alt moves it a tenth.
 *
 * @param move where it comes to: the points as they were, which one, and how far in shares of the field
 */
export function usePointDrag(
  field: RefObject<HTMLElement | null>,
  list: CurvePoint[],
  move: (from: CurvePoint[], i: number, across: number, up: number) => void,
  { onBegin, onEnd, onBail }: Gesture,
) {
  const drag = useRef<{ i: number; from: CurvePoint[]; x: number; y: number } | null>(null);
  const up = (): void => {
    if (drag.current) onEnd();
    drag.current = null;
  };
  /** What a point's element needs. */
  const of = (i: number) => ({
    onPointerDown: (e: PointerEvent<SVGGElement>): void => {
      if (e.button !== 0) return;
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      e.currentTarget.focus();
      drag.current = { i, from: list, x: e.clientX, y: e.clientY };
      onBegin();
    },
    onPointerMove: (e: PointerEvent): void => {
      const d = drag.current;
      if (!d) return;
      const r = field.current!.getBoundingClientRect();
      const k = e.altKey ? 0.1 : 1;
      move(d.from, d.i, (k * (e.clientX - d.x)) / r.width, (k * (d.y - e.clientY)) / r.height);
    },
    onPointerUp: up,
    onPointerCancel: up,
  });
  /** Escape ends a drag and leaves nothing of it; true when it did. */
  const escape = (e: KeyboardEvent): boolean => {
    if (e.key !== 'Escape' || !drag.current) return false;
    e.stopPropagation();
    drag.current = null;
    onBail();
    return true;
  };
  return { of, escape };
}
export const PointMark = ({ x, y }: { x: number; y: number }) => (
  <>
    <circle cx={x} cy={y} r={9} fill="transparent" />
    <circle cx={x} cy={y} r={4.5} fill="#fff" stroke="#000" strokeOpacity={0.6} />
  </>
);
