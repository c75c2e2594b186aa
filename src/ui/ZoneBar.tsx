/** Borders between tonal zones over the distribution of luma: drag or arrow keys; the names lie between them. */
import { lazy, memo, Suspense, useRef } from 'react';
import styled from 'styled-components';
import { edgeCss, Edges } from './Edges';
import type { Gesture } from './ParamSlider';

const Distribution = lazy(() => import('./Distribution'));

export interface ZoneBarProps extends Gesture {
  /** Rising, in % of luma. */
  borders: readonly number[];
  names: readonly string[];
  chosen: string;
  bins: readonly number[];
  onChoose(name: string): void;
  onChange(index: number, pct: number): void;
}
const Bar = styled.div`
  position: relative;
  height: 48px;
  background: var(--deep);
  border-radius: 3px;
  margin: 4px 0 6px;
  touch-action: none;
  .zone {
    position: absolute;
    top: 0;
    bottom: 0;
    border: none;
    background: none;
    color: #d8d8d8;
    font-size: 12px;
    padding: 0;
    overflow: hidden;
  }
  .zone[aria-pressed='true'] {
    background: rgb(255 255 255 / 16%);
    color: #fff;
  }
  ${edgeCss}
  .under {
    position: absolute;
    inset: 0;
    opacity: 0.4;
    overflow: hidden;
  }
`;

function ZoneBarView({ borders, names, chosen, bins, onChoose, onChange, onBegin, onEnd, onBail }: ZoneBarProps) {
  const bar = useRef<HTMLDivElement>(null);
  const limit = (i: number, v: number): number =>
    Math.round(10 * Math.min((borders[i + 1] ?? 101) - 1, Math.max((borders[i - 1] ?? -1) + 1, v))) / 10;
  const edges = [0, ...borders, 100];
  return (
    <Bar ref={bar}>
      <div className="under">
        <Suspense fallback={null}>
          <Distribution bins={bins} colours={null} />
        </Suspense>
      </div>
      {names.map((n, i) => (
        <button
          type="button"
          key={n}
          className="zone"
          aria-pressed={n === chosen}
          style={{ left: `${edges[i]}%`, width: `${edges[i + 1]! - edges[i]!}%` }}
          onClick={() => onChoose(n)}
          title={`${n}: ${edges[i]} to ${edges[i + 1]} % luma`}
        >
          {n}
        </button>
      ))}
      <Edges
        bar={bar}
        borders={borders}
        span={100}
        steps={[1, 5, 0.1]}
        name={(i) => `Border between ${names[i]} and ${names[i + 1]}`}
        limit={limit}
        onChange={onChange}
        onBegin={onBegin}
        onEnd={onEnd}
        onBail={onBail}
      />
    </Bar>
  );
}
export const ZoneBar = memo(
  ZoneBarView,
  (a, b) => a.chosen === b.chosen && a.bins === b.bins && a.borders.every((v, i) => v === b.borders[i]),
);
