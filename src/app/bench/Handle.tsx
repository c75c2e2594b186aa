/** A handle on the picture: dragged, or moved by arrow keys when it has the focus. */
import { useRef } from 'react';
import type { KeyboardEvent, PointerEvent, ReactNode } from 'react';
import { useDoc } from '../store';

interface HandleProps {
  x: number;
  y: number;
  name: string;
  shape: 'square' | 'round' | 'hollow' | 'area';
  children?: ReactNode;
  /** Movement in picture pixels since the drag began. */
  onDrag(dx: number, dy: number, start: boolean): void;
  label: string;
  scale: number;
  onPick?: () => void;
  onPoint?: (over: boolean) => void;
}
export function Handle({ x, y, name, shape, children, onDrag, label, scale, onPick, onPoint }: HandleProps) {
  const from = useRef<{ x: number; y: number } | null>(null);
  const doc = useDoc.getState;
  const down = (e: PointerEvent<SVGGElement>): void => {
    if (e.button !== 0) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    e.currentTarget.focus();
    from.current = { x: e.clientX, y: e.clientY };
    onPick?.();
    doc().begin(label);
    onDrag(0, 0, true);
  };
  const move = (e: PointerEvent): void => {
    if (from.current) onDrag((e.clientX - from.current.x) / scale, (e.clientY - from.current.y) / scale, false);
  };
  const up = (): void => {
    if (from.current) doc().end();
    from.current = null;
  };
  const key = (e: KeyboardEvent): void => {
    if (e.key === 'Escape' && from.current) {
      e.stopPropagation();
      from.current = null;
      doc().bail();
      return;
    }
    const d = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (!d) return;
    e.preventDefault();
    e.stopPropagation();
    const k = (e.shiftKey ? 20 : e.altKey ? 0.2 : 2) / Math.min(1, scale);
    doc().begin(label);
    onDrag(0, 0, true);
    onDrag(d[0]! * k, d[1]! * k, false);
    doc().end();
  };
  return (
    <g
      className="grab"
      tabIndex={0}
      role="button"
      aria-label={`${name}: arrow keys move it`}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onKeyDown={key}
      onFocus={onPick}
      onPointerEnter={() => onPoint?.(true)}
      onPointerLeave={() => onPoint?.(false)}
    >
      {shape === 'area' ? (
        children
      ) : shape === 'square' ? (
        <rect
          className="dot"
          x={x - 4.5}
          y={y - 4.5}
          width={9}
          height={9}
          fill="#fff"
          stroke="#000"
          strokeOpacity={0.6}
        />
      ) : (
        <circle
          className="dot"
          cx={x}
          cy={y}
          r={5}
          fill={shape === 'round' ? '#fff' : '#3a3a3a'}
          stroke={shape === 'round' ? '#000' : '#fff'}
          strokeWidth={1.5}
        />
      )}
    </g>
  );
}
