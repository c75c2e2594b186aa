/** A handle on the picture: dragged, or moved by arrow keys when it has the focus. */
import { useRef } from 'react';
import type { KeyboardEvent, PointerEvent, ReactNode } from 'react';
import { useLive } from '../live';
import { useDoc, useSession } from '../store';
import { useWide } from '../pixelAspect';
import { caught, targetsOf } from './snap';
import type { Targets } from './snap';

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
  /** Its place is not what is dragged: nothing catches it, and it catches nothing. */
  loose?: boolean;
}
export function Handle({ x, y, name, shape, children, onDrag, label, scale, onPick, onPoint, loose }: HandleProps) {
  const from = useRef<{ x: number; y: number; at: [number, number]; targets: Targets | null } | null>(null);
  const doc = useDoc.getState;
  const wide = useWide();
  // Round handles stay round on a picture that is drawn wider.
  const even = wide === 1 ? undefined : `translate(${x} 0) scale(${1 / wide} 1) translate(${-x} 0)`;
  const down = (e: PointerEvent<SVGGElement>): void => {
    if (e.button !== 0) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    e.currentTarget.focus();
    const snaps = useSession.getState().snap && !loose && shape !== 'hollow';
    const targets = snaps ? targetsOf(e.currentTarget, shape === 'area' || shape === 'round') : null;
    from.current = { x: e.clientX, y: e.clientY, at: [x, y], targets };
    onPick?.();
    doc().begin(label);
    onDrag(0, 0, true);
  };
  const move = (e: PointerEvent): void => {
    const f = from.current;
    if (!f) return;
    let [dx, dy] = [(e.clientX - f.x) / wide, e.clientY - f.y];
    if (f.targets) {
      // Alt lets it go where the hand is.
      const at = e.altKey ? { x: null, y: null } : caught(f.at[0] + dx, f.at[1] + dy, f.targets);
      dx = at.x === null ? dx : at.x - f.at[0];
      dy = at.y === null ? dy : at.y - f.at[1];
      const { caughtAt } = useLive.getState();
      if (caughtAt?.x !== at.x || caughtAt.y !== at.y) useLive.setState({ caughtAt: at });
    }
    onDrag(dx / scale, dy / scale, false);
  };
  const up = (): void => {
    if (from.current) doc().end();
    from.current = null;
    letGo();
  };
  const letGo = (): void => {
    if (useLive.getState().caughtAt) useLive.setState({ caughtAt: null });
  };
  const key = (e: KeyboardEvent): void => {
    if (e.key === 'Escape' && from.current) {
      e.stopPropagation();
      from.current = null;
      letGo();
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
      data-at={loose || shape === 'hollow' ? undefined : `${x},${y}`}
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
          transform={even}
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
          transform={even}
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
