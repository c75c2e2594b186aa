/** The chart of a shot: where it lies, measured against reference, and the solve that sets a base correction. */
import { useEffect, useState } from 'react';
import { Grid3x3, Trash2 } from 'lucide-react';
import styled from 'styled-components';
import { quadFault } from '../../core/match/chart';
import { remove } from '../../document/history';
import { chartOf } from '../../document/records';
import type { ChartRecord, ShotRecord } from '../../document/records';
import type { ChartFound, ChartReading, HelperReply } from '../../protocol/messages';
import { Button, Dim, IconButton, Line, Select } from '../../ui/controls';
import { editChart, shotState } from '../actions';
import { engine } from '../engine';
import { useLive } from '../live';
import { useDoc, useSession } from '../store';
import { wordsOf } from '../words';
import { ParamSlider } from '../../ui/ParamSlider';
import { baseFor, HELP_STRENGTH, noGesture, takeHelper } from './helpers';

const Two = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 236px;
  gap: 16px;
  padding-top: 4px;
  .patches {
    display: grid;
    grid-template-columns: repeat(6, 1fr);
    gap: 4px;
  }
  .patches[data-strip='true'] {
    grid-template-columns: repeat(auto-fit, minmax(50px, 1fr));
  }
  .patches > div {
    height: 34px;
    border-radius: 3px;
    position: relative;
    overflow: hidden;
    border: 1px solid var(--deep);
  }
  .patches i {
    position: absolute;
    inset: 0;
  }
  .patches i + i {
    inset: 0 0 0 50%;
  }
  .patches span {
    position: absolute;
    right: 3px;
    bottom: 2px;
    font-size: 12px;
    background: rgb(20 20 20 / 78%);
    color: #f4f4f4;
    border-radius: 2px;
    padding: 0 3px;
    line-height: 15px;
  }
`;
const css = (v: readonly number[]): string =>
  `rgb(${v.map((x) => Math.round(255 * Math.min(1, Math.max(0, x)))).join(' ')})`;

/** The slope of light in words, from 5 % on. */
function uneven({ across, down }: ChartFound): string | null {
  const part = (v: number, where: string): string | null =>
    Math.abs(v) < 0.05 ? null : `${(100 * Math.abs(v)).toFixed(0)} % ${v > 0 ? 'more' : 'less'} ${where}`;
  const parts = [part(across, 'to the right'), part(down, 'to the bottom')].filter(Boolean);
  return parts.length
    ? `The light is uneven: ${parts.join(', ')}. The solve takes that out; the picture keeps it.`
    : null;
}

export function ChartPanel({ shot }: { shot: ShotRecord }) {
  const chart = useDoc((s) => chartOf(s.records, shot.id));
  const { tool, set } = useSession();
  const place = (
    <Button
      look={chart ? 'plain' : 'strong'}
      onPress={() => set({ tool: tool === 'chart' ? 'none' : 'chart' })}
      tip="Drag a box from the left top to the right bottom patch, then pull the corners (H)"
    >
      <Grid3x3 />
      {chart ? 'Place again' : 'Place a chart'}
    </Button>
  );
  if (!chart)
    return (
      <p style={{ padding: '6px 4px' }}>
        <Dim>
          No chart in this shot yet. With a 24-patch chart or a grey strip in the picture, place a grid on it: its
          patches are compared with what they should be, and balance, levels and saturation are solved for it.
        </Dim>
        <br />
        <br />
        {place}
      </p>
    );
  return <Placed key={chart.id} shot={shot} chart={chart} place={place} />;
}

function Placed({ shot, chart, place }: { shot: ShotRecord; chart: ChartRecord; place: React.ReactNode }) {
  const finals = useLive((s) => s.finals);
  const [reading, setReading] = useState<ChartReading | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [strength, setStrength] = useState(100);
  const [parts, setParts] = useState({ balance: true, levels: true, saturation: true });
  const [last, setLast] = useState<{ reply: HelperReply; key: string } | null>(null);
  const wrong = quadFault(chart.corners);
  const key = JSON.stringify([chart, parts, strength]);
  // What was solved for other parts or another strength is not what would be taken.
  const plan = last?.key === key ? last.reply : null;
  useEffect(() => {
    if (wrong) return;
    let gone = false;
    const records = useDoc.getState().records;
    engine()
      .request('chart', { shot: shotState(records, shot), chart })
      .then(
        (r) => {
          if (!gone) {
            setReading(r);
            setFault(null);
          }
        },
        (e: unknown) => !gone && setFault(wordsOf(e)),
      );
    const { state, id } = baseFor(shot);
    engine()
      .request('helper', {
        shot: state,
        correction: id,
        strength: strength / 100,
        task: { kind: 'chart', chart, parts },
      })
      .then(
        (r) => !gone && setLast({ reply: r, key }),
        () => !gone && setLast(null),
      );
    return () => {
      gone = true;
    };
    // `key` stands for chart, parts and strength.
  }, [key, finals, shot, wrong]);
  const edit = (p: Partial<ChartRecord>): void => editChart(chart.id, 'Change the chart', p);
  return (
    <Two>
      <div>
        <div
          className="patches"
          data-strip={chart.kind === 'strip'}
          aria-label="Patches: measured on the left, reference on the right, CIEDE2000"
        >
          {reading?.patches.map((p) => (
            <div
              key={p.name}
              title={`${p.name}: CIEDE2000 ${p.deBefore.toFixed(1)} before, ${p.deAfter.toFixed(1)} after`}
            >
              <i style={{ background: css(p.after) }} />
              <i style={{ background: css(p.reference) }} />
              <span>{p.deAfter.toFixed(1)}</span>
            </div>
          ))}
        </div>
        <p style={{ marginTop: 5 }}>
          {wrong ? (
            `This cannot be read: ${wrong}.`
          ) : fault ? (
            fault
          ) : reading?.found.fault ? (
            reading.found.fault
          ) : reading ? (
            <>
              CIEDE2000: mean <b>{reading.meanBefore.toFixed(1)}</b> in the picture as it came,{' '}
              <b>{reading.meanAfter.toFixed(2)}</b> now, largest {reading.maxAfter.toFixed(1)}
              {reading.found.turned && `. The chart lies ${reading.found.turned} under the grid and is read so`}
              {uneven(reading.found) && (
                <>
                  <br />
                  {uneven(reading.found)}
                </>
              )}
            </>
          ) : (
            '\u2026'
          )}
        </p>
      </div>
      <div>
        <Line>
          <Select
            aria-label="Kind of chart"
            value={chart.kind}
            onChange={(e) => edit({ kind: e.target.value as ChartRecord['kind'] })}
            style={{ flex: 1 }}
          >
            <option value="chart24">24 patches</option>
            <option value="strip">grey strip</option>
          </Select>
          {place}
          <IconButton
            aria-label="Remove the chart"
            onPress={() => useDoc.getState().change('Remove the chart', remove(chart.id))}
          >
            <Trash2 />
          </IconButton>
        </Line>
        {chart.kind === 'strip' && (
          <Line>
            <span>Greys</span>
            <Select
              aria-label="Number of greys"
              value={chart.steps}
              onChange={(e) => edit({ steps: Number(e.target.value), greyStep: null })}
            >
              {[2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 16, 20, 21].map((n) => (
                <option key={n} value={n}>
                  {n}
                </option>
              ))}
            </Select>
            <Select
              aria-label="Which is the grey card"
              value={chart.greyStep ?? ''}
              onChange={(e) => edit({ greyStep: e.target.value === '' ? null : Number(e.target.value) })}
            >
              <option value="">18 %: unknown</option>
              {Array.from({ length: chart.steps }, (_, i) => (
                <option key={i} value={i}>
                  18 %: {i + 1}.
                </option>
              ))}
            </Select>
          </Line>
        )}
        <Line>
          {(['balance', 'levels', 'saturation'] as const).map((k) => (
            <label key={k} style={{ display: 'flex', gap: 3, alignItems: 'center', fontSize: 12.5 }}>
              <input
                type="checkbox"
                checked={parts[k]}
                onChange={(e) => setParts({ ...parts, [k]: e.target.checked })}
              />
              {k}
            </label>
          ))}
        </Line>
        <ParamSlider spec={HELP_STRENGTH} value={strength} onChange={setStrength} {...noGesture} />
        <Line>
          <Dim style={{ flex: 1 }}>{plan ? `${plan.before.toFixed(1)} \u2192 ${plan.after.toFixed(2)}` : ''}</Dim>
          <Button
            look="strong"
            isDisabled={!plan || !!wrong}
            onPress={() => plan && takeHelper(shot, plan, 'Solve the chart')}
            tip="Sets exposure, temperature, points and saturation of the base correction; ordinary values, one undo"
          >
            Solve
          </Button>
        </Line>
      </div>
    </Two>
  );
}
