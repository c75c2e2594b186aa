/** What the false colours of the picture mean, in values. */
import styled from 'styled-components';
import { chromaScale, clipColours, levelBands, offLineScale, zoneColours } from '../../core/view/falseColour';
import type { FalseColour, Rgb8, Scale } from '../../core/view/falseColour';
import { greySignal, resolveEncoding } from '../../core/color/encodings';
import { displayEncoding } from '../../core/graph/plan';
import { zoneNames } from '../../core/ops/zones/params';
import type { ShotRecord } from '../../document/records';
import { valuesOf } from '../values';

const Box = styled.div`
  position: absolute;
  left: 10px;
  bottom: 10px;
  right: 10px;
  display: flex;
  justify-content: center;
  pointer-events: none;
  > div {
    background: rgb(24 24 24 / 88%);
    color: #f0f0f0;
    border-radius: 5px;
    padding: 5px 10px;
    font-size: 12px;
    display: flex;
    flex-wrap: wrap;
    gap: 3px 12px;
    align-items: center;
    max-width: 100%;
  }
  i {
    display: inline-block;
    width: 13px;
    height: 13px;
    border-radius: 2px;
    margin-right: 5px;
    vertical-align: -2px;
  }
  em {
    font-style: normal;
    color: #bdbdbd;
  }
`;
const css = (c: Rgb8): string => `rgb(${c.map(Math.round).join(' ')})`;

/** Where the grey card lies on the display, in %. */
export function greyPctOf(shot: ShotRecord): number {
  const e = shot.encoding;
  const scene =
    shot.conversion.on && !(typeof e === 'object' && 'table' in e) && resolveEncoding(e).referred === 'scene';
  return scene ? valuesOf(shot.conversion, shot.range[0])['greyPct']! : 100 * greySignal(displayEncoding(shot));
}
function Bar({ scale, ticks }: { scale: Scale; ticks: number[] }) {
  const [lo, hi] = [scale.stops[0]![0], scale.stops.at(-1)![0]];
  const at = (v: number): number => ((v - lo) / (hi - lo)) * 100;
  return (
    <svg width={300} height={30} role="img" aria-label={`Scale from ${lo} to ${hi}${scale.unit}`}>
      <defs>
        <linearGradient id="false-scale">
          {scale.stops.map(([v, c]) => (
            <stop key={v} offset={`${at(v)}%`} stopColor={css(c)} />
          ))}
        </linearGradient>
      </defs>
      <rect x={10} y={1} width={280} height={11} rx={2} fill="url(#false-scale)" />
      {ticks.map((t) => (
        <text key={t} x={10 + 2.8 * at(t)} y={26} fill="#f0f0f0" fontSize={12} textAnchor="middle">
          {t < 0 ? '\u2212' : t > 0 && lo < 0 ? '+' : ''}
          {Math.abs(t)}
          {scale.unit}
        </text>
      ))}
    </svg>
  );
}
export function Legend({ kind, shot }: { kind: FalseColour; shot: ShotRecord }) {
  if (kind === 'off') return null;
  const sample = (c: Rgb8, name: string) => (
    <span key={name}>
      <i style={{ background: css(c) }} />
      {name}
    </span>
  );
  return (
    <Box role="note" aria-label="Legend of the false colours">
      <div>
        {kind === 'levels' && (
          <>
            {levelBands(greyPctOf(shot))
              .filter((b) => b.colour)
              .map((b) => sample(b.colour!, b.name))}
            <em>grey: between; bands common practice</em>
          </>
        )}
        {kind === 'offLine' && (
          <>
            <em>redder</em>
            <Bar scale={offLineScale} ticks={[-60, -20, 0, 20, 60]} />
            <em>yellower; grey: too neutral, or further off</em>
          </>
        )}
        {kind === 'chroma' && (
          <>
            <em>chroma</em>
            <Bar scale={chromaScale} ticks={[0, 25, 50, 75, 100]} />
          </>
        )}
        {kind === 'zones' && (
          <>
            {zoneNames.map((n, i) => sample(zoneColours[i]!, n))}
            <em>mixed where zones pass into each other</em>
          </>
        )}
        {kind === 'clipped' && (
          <>
            {sample(clipColours.low, 'a channel at or below 0')}
            {sample(clipColours.high, 'at or above 100 %')}
            {sample(clipColours.both, 'both')}
          </>
        )}
      </div>
    </Box>
  );
}
