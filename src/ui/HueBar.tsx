/** Borders between bands of hue over what there is of each hue: drag or arrow keys; bands are chosen between them. */
import { lazy, memo, Suspense, useRef } from 'react';
import styled from 'styled-components';
import { edgeCss, Edges } from './Edges';
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
  ${edgeCss}
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
  const n = borders.length;
  const limit = (i: number, v: number): number =>
    Math.round(Math.min((borders[i + 1] ?? 360) - APART, Math.max((borders[i - 1] ?? -APART) + APART, v)));
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
      <Edges
        bar={bar}
        borders={borders}
        span={360}
        steps={[1, 10, 1]}
        name={(i) => `Border between band ${i === 0 ? n : i} and band ${i + 1}`}
        limit={limit}
        onChange={p.onChange}
        onBegin={onBegin}
        onEnd={onEnd}
        onBail={onBail}
      />
    </Bar>
  );
}
export const HueBar = memo(HueBarView);
