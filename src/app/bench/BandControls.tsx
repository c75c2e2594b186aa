/** Bands of hue: where they lie over the picture's own hues, and what the chosen one does. */
import { useMemo, useState } from 'react';
import { bandFound } from '../../core/color/hueBands';
import type { OpUse } from '../../core/graph/plan';
import { num } from '../../core/op/params';
import { params } from '../../core/ops/bands/params';
import { valuesOfBand } from '../../core/ops/bands/weights';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Line, Select, ToggleButton } from '../../ui/controls';
import { HueBar } from '../../ui/HueBar';
import { ParamSlider } from '../../ui/ParamSlider';
import { gesture, setParams } from '../actions';
import { findBandsAgain, huesOf, WHAT, withBand } from '../hueBands';
import type { BandWhat } from '../hueBands';
import { useSession } from '../store';
import { listOf, useFrame, valuesOf } from '../values';
import { axes } from './bendAxes';
import { useDistributions } from './useDistributions';

const one = (label: string, unit: 'deg' | 'pct', doc: string, min: number, max: number) =>
  num({
    default: 0,
    min,
    max,
    ui: [unit === 'deg' ? -60 : -100, unit === 'deg' ? 60 : 100],
    step: 1,
    unit,
    label,
    doc,
  });
const specs = {
  turn: one('Turn', 'deg', 'Degrees that the band is turned, counter-clockwise; luma and chroma stay.', -180, 180),
  sat: one('Saturation', 'pct', 'Chroma of the band gained or lost; luma and hue stay.', -100, 200),
  level: one('Level', 'pct', 'Light of the band gained or lost; hue and saturation stay.', -100, 200),
};
const WORDS: Record<BandWhat, string> = { turn: 'turns', sat: 'saturates', level: 'lightens' };

interface BandControlsProps {
  corr: CorrectionRecord;
  use: OpUse;
  shot: ShotRecord;
}
export function BandControls({ corr, use, shot }: BandControlsProps) {
  const frame = useFrame();
  const d = useDistributions(shot, corr.id);
  const [chosen, setChosen] = useState(0);
  const [what, setWhat] = useState<BandWhat>('sat');
  const { tool, curveFor, set } = useSession();
  const borders = listOf(use, 'borders', frame);
  const values = listOf(use, 'values', frame);
  const bins = useMemo(() => huesOf(d.plane), [d.plane]);
  const roots = useMemo(() => bins.map(Math.sqrt), [bins]);
  const found = useMemo(
    () => borders.map((b, i) => bandFound(bins, b, borders[(i + 1) % borders.length]!)),
    [bins, borders],
  );
  // Two of one name are told by their order along the bar.
  const names = useMemo(() => {
    const n = borders.length;
    const middle = borders.map((b, i) => (b + ((borders[(i + 1) % n]! - b + 360) % 360 || 360) / 2) % 360);
    return found.map((f, i) => {
      const same = found.flatMap((g, k) => (g.name === f.name ? [k] : [])).sort((a, b) => middle[a]! - middle[b]!);
      return same.length > 1 ? `${f.name} ${same.indexOf(i) + 1}` : f.name;
    });
  }, [found, borders]);
  const band = Math.min(chosen, borders.length - 1);
  const v = valuesOfBand(values, band);
  const put = (params: Record<string, number | number[]>): void => setParams(corr.id, use.id, params);
  const on = tool === 'bandDrag' && curveFor?.use === use.id;
  return (
    <>
      <HueBar
        borders={borders}
        names={names}
        chosen={band}
        bins={roots}
        colours={axes.hue.colours}
        onChoose={setChosen}
        onChange={(i, deg) => put({ borders: borders.map((b, k) => (k === i ? deg : b)) })}
        {...gesture('Move a border')}
      />
      <Line>
        <Select
          aria-label="Band"
          value={String(band)}
          onChange={(e) => setChosen(Number(e.target.value))}
          style={{ flex: 1, minWidth: 0 }}
        >
          {found.map((f, i) => (
            <option key={i} value={i}>
              {names[i]}, {(100 * f.share).toFixed(0)} % of what has a hue
            </option>
          ))}
        </Select>
        <Select
          aria-label="Find bands"
          value=""
          onChange={(e) =>
            void findBandsAgain(shot, corr.id, use.id, e.target.value === 'all' ? null : Number(e.target.value))
          }
          style={{ maxWidth: 92 }}
        >
          <option value="" disabled>
            Find {'\u2026'}
          </option>
          <option value="all">as many as there are</option>
          {[3, 4, 5, 6, 7, 8].map((n) => (
            <option key={n} value={n}>
              {n} bands
            </option>
          ))}
        </Select>
      </Line>
      {(['turn', 'sat', 'level'] as const).map((w) => (
        <ParamSlider
          key={`${band} ${w}`}
          spec={specs[w]}
          value={v[WHAT[w]]}
          onChange={(x) => put({ values: withBand(values, borders.length, band, w, x) })}
          {...gesture(`Change ${specs[w].label.toLowerCase()} of a band`)}
        />
      ))}
      <ParamSlider
        spec={params.softDeg}
        value={valuesOf(use, frame)['softDeg']!}
        onChange={(x) => put({ softDeg: x })}
        {...gesture('Change soft borders')}
      />
      <Line>
        <Select
          aria-label="What a drag on the picture does"
          value={what}
          onChange={(e) => {
            setWhat(e.target.value as BandWhat);
            if (on) set({ curveFor: { use: use.id, curve: e.target.value } });
          }}
          style={{ flex: 1 }}
        >
          {(Object.keys(WORDS) as BandWhat[]).map((w) => (
            <option key={w} value={w}>
              A drag {WORDS[w]}
            </option>
          ))}
        </Select>
        <ToggleButton
          isSelected={on}
          onChange={(x) => set({ tool: x ? 'bandDrag' : 'none', curveFor: { use: use.id, curve: what } })}
          tip="Then press on a colour of the picture and drag up or down: the bands that it belongs to follow"
        >
          From picture
        </ToggleButton>
      </Line>
    </>
  );
}
