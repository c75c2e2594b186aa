/** The edge of a wipe: drawn where before ends, moved and turned by the mouse and by keys. */
import type { PointerEvent } from 'react';
import styled from 'styled-components';
import { useSession } from '../store';

/** Of the knob from the middle of the edge, in pixels of the page. */
const ARM_PX = 72;
/** Turned by hand, an edge is caught this near to a multiple of 45 degrees. */
const CATCH_DEG = 3;

const Line = styled.div`
  position: absolute;
  width: 13px;
  margin-left: -6px;
  cursor: move;
  outline: none;
  &::after {
    content: '';
    position: absolute;
    left: 6px;
    top: 0;
    bottom: 0;
    width: 1px;
    background: #fff;
    box-shadow: 0 0 0 1px rgb(0 0 0 / 40%);
  }
  &:focus-visible::after {
    width: 3px;
    left: 5px;
  }
`;
const Knob = styled.div`
  position: absolute;
  width: 15px;
  height: 15px;
  margin: -8px 0 0 -8px;
  border-radius: 50%;
  border: 1.5px solid #fff;
  background: rgb(0 0 0 / 45%);
  box-shadow: 0 0 0 1px rgb(0 0 0 / 40%);
  cursor: grab;
  &:focus-visible {
    outline: 2px solid #fff;
    outline-offset: 2px;
  }
`;
const share = (v: number): number => Math.min(1, Math.max(0, v));
/** Into -180 up to 180. */
const turned = (deg: number): number => ((((Math.round(deg) + 180) % 360) + 360) % 360) - 180;
const rad = (deg: number): number => (deg * Math.PI) / 180;

/**
 * @param at the middle of the edge on the stage, in pixels of the page
 * @param wide how much wider than high pixels of the picture are drawn
 * @param toPicture where in the picture an event is
 */
export function WipeLine({
  at,
  size,
  wide,
  picture,
  toPicture,
  other,
}: {
  at: [number, number];
  size: { w: number; h: number };
  wide: number;
  picture: { width: number; height: number };
  toPicture(e: PointerEvent): { x: number; y: number };
  /** What lies on the first side, where that is not the picture before. */
  other: string | null;
}) {
  const { wipe, wipeY, wipeDeg, set } = useSession();
  const [x, y] = at;
  // A turn of the picture looks like another one where its pixels are not square.
  const seen = Math.atan2(Math.sin(rad(wipeDeg)) * wide, Math.cos(rad(wipeDeg)));
  const long = 2 * (size.w * wide + size.h + Math.hypot(x, y));
  const held = (e: PointerEvent): void => {
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  const home = { wipe: 0.5, wipeY: 0.5, wipeDeg: 0 };
  const turnTo = (e: PointerEvent): void => {
    const box = e.currentTarget.parentElement!.getBoundingClientRect();
    const [u, v] = [e.clientX - box.x - x, e.clientY - box.y - y];
    const by = Math.atan2(u, -v);
    const deg = (Math.atan2(Math.sin(by) / wide, Math.cos(by)) * 180) / Math.PI;
    const near = 45 * Math.round(deg / 45);
    set({ wipeDeg: turned(Math.abs(deg - near) < CATCH_DEG ? near : deg) });
  };
  return (
    <>
      <Line
        role="slider"
        tabIndex={0}
        aria-label={`Wipe: ${other ?? 'before'} on one side of the edge, after on the other`}
        aria-valuenow={Math.round(wipe * 100)}
        aria-valuemin={0}
        aria-valuemax={100}
        title="Drag to move, the knob turns it; pressed twice, it stands in the middle again"
        style={{ left: x, top: y - long / 2, height: long, transform: `rotate(${seen}rad)` }}
        onPointerDown={held}
        onPointerMove={(e) => {
          if (!(e.buttons & 1)) return;
          e.stopPropagation();
          const p = toPicture(e);
          set({ wipe: share(p.x / picture.width), wipeY: share(p.y / picture.height) });
        }}
        onDoubleClick={() => set(home)}
        onKeyDown={(e) => {
          const step = e.shiftKey ? 0.1 : 0.01;
          const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
          if (!by && e.key !== 'Home') return;
          e.preventDefault();
          e.stopPropagation();
          set(by ? { wipe: share(wipe + by[0]! * step), wipeY: share(wipeY + by[1]! * step) } : home);
        }}
      />
      <Knob
        role="slider"
        tabIndex={0}
        aria-label="Wipe, turn in degrees"
        aria-valuenow={wipeDeg}
        aria-valuemin={-180}
        aria-valuemax={180}
        title={`Turned by ${wipeDeg}\u00b0: drag, or arrows`}
        style={{ left: x + ARM_PX * Math.sin(seen), top: y - ARM_PX * Math.cos(seen) }}
        onPointerDown={held}
        onPointerMove={(e) => {
          if (!(e.buttons & 1)) return;
          e.stopPropagation();
          turnTo(e);
        }}
        onDoubleClick={() => set({ wipeDeg: 0 })}
        onKeyDown={(e) => {
          const step = e.shiftKey ? 15 : 1;
          const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[e.key];
          if (!by && e.key !== 'Home') return;
          e.preventDefault();
          e.stopPropagation();
          set({ wipeDeg: by ? turned(wipeDeg + by * step) : 0 });
        }}
      />
    </>
  );
}
