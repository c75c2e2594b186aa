/** Borders between bands of hue over what there is of each hue: drag or arrow keys; bands are chosen between them. */
import { lazy, memo, Suspense, useRef } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import styled from 'styled-components';
import type { Gesture } from './ParamSlider';

const Distribution = lazy(() => import('./Distribution'));

export interface HueBarProps extends Gesture {
  /** Rising, in degrees; the last band goes on over 360 degrees to the first border. */
  borders: readonly number[];
  /** Of each band, from the first border on. */
  names: readonly string[];
  chosen: number;
  bins: readonly number[];
  /** What hues look like, from 0 degrees on. */
  colours: readonly string[];
  onChoose(band: number): void;
  onChange(border: number, deg: number): void;
}
const Bar = styled.div`
  position: relative;
  height: 58px;
  background: var(--deep);
  border-radius: 3px;
  margin: 4px 0 6px;
  touch-action: none;
  .band {
    position: absolute;
    top: 0;
    bottom: 10px;
    border: none;
    background: none;
    color: #e2e2e2;
    font-size: 12px;
    padding: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    text-shadow: 0 0 3px #000;
  }
  .band[aria-pressed='true'] {
    background: rgb(255 255 255 / 18%);
    color: #fff;
    font-weight: 600;
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
  .hues {
    position: absolute;
    left: 0;
    right: 0;
    bottom: 0;
    height: 9px;
    border-radius: 0 0 3px 3px;
  }
  .under {
    position: absolute;
    inset: 0 0 9px;
    opacity: 0.4;
    overflow: hidden;
  }
`;
/** Borders keep so far apart, in degrees. */
const APART = 3;

function HueBarView(p: HueBarProps) {
  const { borders, names, chosen, onBegin, onEnd, onBail } = p;
  const bar = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; from: number } | null>(null);
  const n = borders.length;
  const limit = (i: number, v: number): number =>
    Math.round(Math.min((borders[i + 1] ?? 360) - APART, Math.max((borders[i - 1] ?? -APART) + APART, v)));
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
      p.onChange(i, limit(i, borders[i]! + dir * (e.shiftKey ? 10 : 1)));
      onEnd();
    };
  const move =
    (i: number) =>
    (e: PointerEvent): void => {
      if (drag.current)
        p.onChange(i, limit(i, drag.current.from + ((e.clientX - drag.current.x) / bar.current!.clientWidth) * 360));
    };
  const up = (): void => {
    if (drag.current) onEnd();
    drag.current = null;
  };
  /** A band as one piece, or as two at either end of the bar. */
  const pieces = (i: number): [from: number, to: number][] =>
    i < n - 1
      ? [[borders[i]!, borders[i + 1]!]]
      : ([
          [borders[i]!, 360],
          [0, borders[0]!],
        ] as [number, number][]);
  const pct = (deg: number): string => `${(100 * deg) / 360}%`;
  return (
    <Bar ref={bar}>
      <div className="under">
        <Suspense fallback={null}>
          <Distribution bins={p.bins} colours={null} />
        </Suspense>
      </div>
      <div className="hues" style={{ background: `linear-gradient(to right, ${p.colours.join(',')})` }} />
      {names.map((name, i) => {
        const wider = pieces(i).reduce((a, b, k, all) => (b[1] - b[0] > all[a]![1] - all[a]![0] ? k : a), 0);
        return pieces(i).map(([from, to], k) => (
          <button
            type="button"
            key={`${i} ${k}`}
            className="band"
            aria-pressed={i === chosen}
            aria-hidden={k !== wider}
            tabIndex={k === wider ? 0 : -1}
            aria-label={`Band ${i + 1}: ${name}`}
            style={{ left: pct(from), width: pct(to - from) }}
            onClick={() => p.onChoose(i)}
            title={`${name}: ${Math.round(borders[i]!)} to ${Math.round(borders[(i + 1) % n]!)}\u00b0`}
          >
            {k === wider ? name : ''}
          </button>
        ));
      })}
      {borders.map((b, i) => (
        <div
          key={i}
          className="edge"
          role="slider"
          tabIndex={0}
          aria-label={`Border between band ${i === 0 ? n : i} and band ${i + 1}`}
          aria-valuenow={b}
          aria-valuemin={0}
          aria-valuemax={360}
          style={{ left: pct(b) }}
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
export const HueBar = memo(HueBarView);
