/** Borders on a bar between what lies beside each other: dragged, stepped by arrow keys, given up by Escape. */
import { useRef } from 'react';
import type { KeyboardEvent, PointerEvent, RefObject } from 'react';
import { css } from 'styled-components';
import type { Gesture } from './ParamSlider';

export const edgeCss = css`
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
`;
export interface EdgesProps extends Gesture {
  bar: RefObject<HTMLDivElement | null>;
  borders: readonly number[];
  /** What the bar's whole width stands for, from 0 on. */
  span: number;
  /** Of an arrow key, with Shift, with Alt. */
  steps: readonly [plain: number, coarse: number, fine: number];
  name(i: number): string;
  /** A border held where it may stand. */
  limit(i: number, v: number): number;
  onChange(i: number, v: number): void;
}
export function Edges({ bar, borders, span, steps, name, limit, onChange, onBegin, onEnd, onBail }: EdgesProps) {
  const drag = useRef<{ x: number; from: number } | null>(null);
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
      onChange(i, limit(i, borders[i]! + dir * steps[e.shiftKey ? 1 : e.altKey ? 2 : 0]));
      onEnd();
    };
  const move =
    (i: number) =>
    (e: PointerEvent): void => {
      if (drag.current)
        onChange(i, limit(i, drag.current.from + ((e.clientX - drag.current.x) / bar.current!.clientWidth) * span));
    };
  const up = (): void => {
    if (drag.current) onEnd();
    drag.current = null;
  };
  return borders.map((b, i) => (
    <div
      key={i}
      className="edge"
      role="slider"
      tabIndex={0}
      aria-label={name(i)}
      aria-valuenow={b}
      aria-valuemin={0}
      aria-valuemax={span}
      style={{ left: `${(100 * b) / span}%` }}
      onPointerDown={(e) => {
        if (e.button) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        e.currentTarget.focus();
        drag.current = { x: e.clientX, from: b };
        onBegin();
      }}
      onPointerMove={move(i)}
      onPointerUp={up}
      onPointerCancel={up}
      onKeyDown={key(i)}
    />
  ));
}
