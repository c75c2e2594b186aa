/** Check: on/off, wipe, change; the proof that the surround did not move; skin before and after. */
import { useEffect, useState } from 'react';
import styled from 'styled-components';
import { hasRegion } from '../../core/graph/region';
import type { SurroundFigures } from '../../core/skin/surround';
import { patchesOf } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Button, Dim, ToggleButton } from '../../ui/controls';
import { formatNumber } from '../../ui/NumberBox';
import { shotState } from '../actions';
import { engine } from '../engine';
import { checkEveryFrame, everyFrameSaid, loadEveryFrame, useEveryFrame } from '../everyFrame';
import { useJobs } from '../jobs';
import { useIsOld } from '../overTime';
import { player } from '../player';
import { useLive } from '../live';
import { guard, sayNews } from '../notices';
import { compareWithThis } from '../reference';
import { saveReport } from '../report';
import { summaryOf } from '../reportText';
import { useDoc, useSession } from '../store';
import { useMoment } from '../values';
import { wordsOf } from '../words';
import { LimitsPanel } from './LimitsPanel';
import { Versions } from './Versions';

const Rows = styled.dl`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 3px 10px;
  margin: 8px 0;
  dt {
    color: var(--dim);
  }
  dd {
    margin: 0;
    text-align: right;
  }
`;
const Proof = styled.p`
  background: var(--well);
  border: 1px solid var(--line);
  border-radius: 5px;
  padding: 8px 10px;
  margin: 8px 0;
  b {
    font-size: 17px;
    font-weight: 500;
    display: block;
  }
`;
const Bar = styled.div`
  display: flex;
  gap: 0;
  margin: 0 -6px;
  > * {
    padding: 0 5px;
  }
`;
const pct = (v: number): string => `${(100 * v).toFixed(v > 0 && v < 0.01 ? 2 : 1)} %`;

const percent = (v: number): string => (Number.isFinite(v) ? `${(100 * v).toPrecision(2)} %` : 'more than can be said');

/** Of a shot that moves: the proof on every frame. */
function EveryFrame({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const found = useEveryFrame((s) => s.of[corr.id]);
  const old = useIsOld(shot, corr.id, found?.of);
  const running = useJobs((s) => s.jobs.some((j) => j.state === 'running'));
  useEffect(() => loadEveryFrame(corr.id), [corr.id]);
  return (
    <section aria-label="Every frame" style={{ margin: '8px 0' }}>
      {found && <p>{everyFrameSaid(found)}</p>}
      {found && old && <Dim>Something changed since then.</Dim>}
      <Bar>
        <Button
          isDisabled={running}
          onPress={() => void guard('The frames were not checked', () => checkEveryFrame(shot, corr.id))}
          tip="The same figures on every frame of the shot, and the worst of them: a job that can be cancelled"
        >
          {found ? 'Check every frame again' : 'Check every frame'}
        </Button>
        {found && (
          <Button onPress={() => player.go(found.worst)} tip={`Go to frame ${found.worst}`}>
            Go there
          </Button>
        )}
      </Bar>
    </section>
  );
}

export function CheckStep({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const finals = useLive((s) => s.finals);
  const readings = useLive((s) => s.readings);
  const records = useDoc((s) => s.records);
  const moment = useMoment(shot);
  const { bypass, compare, mode, reference, set } = useSession();
  const [f, setF] = useState<SurroundFigures | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  useEffect(() => {
    let gone = false;
    engine()
      .request('figures', { shot: shotState(useDoc.getState().records, shot), correction: corr.id })
      .then(
        (r) => {
          if (gone) return;
          setF(r);
          setFault(null);
        },
        (e: unknown) => !gone && setFault(wordsOf(e)),
      );
    return () => {
      gone = true;
    };
  }, [finals, corr.id, shot]);
  const whole = !hasRegion(corr);
  const summary = summaryOf({
    shot: shot.name,
    moment: moment.trim(),
    corrections: [{ name: corr.name, on: corr.on, says: '', whole, matte: null, figures: f, fault: '' }],
    skin: patchesOf(records, shot.id).map((p) => ({
      name: p.name,
      kind: p.kind,
      before: readings[p.id]?.before ?? null,
      after: readings[p.id]?.after ?? null,
    })),
    clipped: { before: null, after: null },
  });
  const off = (v: number | null | undefined): string =>
    v === undefined ? '\u2013' : v === null ? 'too neutral' : `${formatNumber(v, 1, true)}\u00b0`;
  return (
    <>
      <Bar>
        <ToggleButton
          isSelected={bypass}
          onChange={(x) => set({ bypass: x })}
          tip="All corrections of the shot off or on (B)"
        >
          Before
        </ToggleButton>
        <ToggleButton
          isSelected={compare === 'wipe'}
          onChange={(x) => set({ compare: x ? 'wipe' : 'off' })}
          tip="Before on one side of the edge, after on the other; its knob turns it (W)"
        >
          Wipe
        </ToggleButton>
        <ToggleButton
          isSelected={compare === 'side'}
          onChange={(x) => set({ compare: x ? 'side' : 'off' })}
          tip="Before and after beside each other (S)"
        >
          Side by side
        </ToggleButton>
        <ToggleButton
          isSelected={compare === 'blink'}
          onChange={(x) => set({ compare: x ? 'blink' : 'off' })}
          tip="Before and after in turn, at one place (Shift W)"
        >
          Blink
        </ToggleButton>
        <ToggleButton
          isSelected={mode === 'change'}
          onChange={(x) => set({ mode: x ? 'change' : 'picture' })}
          tip="Black: nothing moved. One 16-bit code value shows already, each doubling is a step brighter (5)"
        >
          Change
        </ToggleButton>
      </Bar>
      <Bar style={{ alignItems: 'baseline', marginBottom: 4 }}>
        <Button
          onPress={() => compareWithThis(shot)}
          tip="Keeps this frame as it looks now, to compare others with it, of other shots too (Shift H)"
        >
          Hold this frame
        </Button>
        {reference && <Dim>held: {reference.name}</Dim>}
      </Bar>
      {fault && <p>{fault}</p>}
      {f && (
        <>
          <Proof data-surround={f.surroundShare === 0 ? 'none' : f.surroundChanged}>
            {whole ? (
              <b>No surround: it acts on the whole picture</b>
            ) : f.surroundShare === 0 ? (
              <>
                <b>No surround: the matte is above 0 everywhere</b>
                There is nothing to prove. Narrow the region, or raise the floor in Tidy.
              </>
            ) : f.surroundChanged === 0 ? (
              <>
                <b>The surround did not move</b>
                {`${(f.surroundShare * f.pixels).toFixed(0)} pixels with matte 0 equal their input bit for bit.`}
              </>
            ) : (
              <>
                <b>{`${f.surroundChanged} pixel${f.surroundChanged === 1 ? '' : 's'} of the surround moved`}</b>
                {`By up to ${percent(f.surroundMaxChange)} of the signal, ${f.surroundMaxCodes} codes of ` +
                  `65535 in a file.`}
              </>
            )}
          </Proof>
          <Rows>
            <dt>Surround, share of the picture</dt>
            <dd>{pct(f.surroundShare)}</dd>
            <dt>Pixels of it with a changed bit</dt>
            <dd>{f.surroundChanged}</dd>
            <dt>Largest change in it, 16-bit codes</dt>
            <dd>{f.surroundMaxCodes}</dd>
            <dt>Mean change in it, 16-bit codes</dt>
            <dd>{f.surroundMeanCodes.toFixed(f.surroundMeanCodes === 0 ? 0 : 3)}</dd>
            <dt>Fringe (matte between 0 and 1)</dt>
            <dd>{pct(f.fringeShare)}</dd>
            <dt>Full matte</dt>
            <dd>{pct(f.fullShare)}</dd>
            <dt>Largest change in the region, codes</dt>
            <dd>{f.regionMaxCodes}</dd>
            <dt>Mean change in the region, CIEDE2000</dt>
            <dd>{f.regionMeanDe.toFixed(2)}</dd>
          </Rows>
        </>
      )}
      <Rows>
        <dt>
          <b>Off-line</b>
        </dt>
        <dd>
          <Dim>before {'\u2192'} after</Dim>
        </dd>
        {patchesOf(records, shot.id).map((p) => {
          const r = readings[p.id];
          return [
            <dt key={`${p.id}t`}>{p.name}</dt>,
            <dd key={`${p.id}d`}>
              {off(r?.before?.offLineDeg)} {'\u2192'} {off(r?.after?.offLineDeg)}
            </dd>,
          ];
        })}
      </Rows>
      <LimitsPanel shot={shot} />
      {f && (
        <>
          <p aria-label="In a sentence" style={{ margin: '8px 0 4px' }}>
            {summary}
          </p>
          <Bar>
            <Button
              onPress={() =>
                void guard('It was not copied', async () => {
                  await navigator.clipboard.writeText(summary);
                  sayNews('The sentence is on the clipboard.');
                })
              }
              tip="Copies the sentence above"
            >
              Copy
            </Button>
            <Button
              onPress={() => void guard('The report was not made', () => saveReport(shot))}
              tip="One page of HTML: pictures, mattes, scopes, figures and readings of every correction of the shot"
            >
              Save a report
            </Button>
          </Bar>
        </>
      )}
      <Dim>The figures compare what this correction was given with what it gave, at full resolution{moment}.</Dim>
      {!whole && shot.range[1] > shot.range[0] && <EveryFrame corr={corr} shot={shot} />}
      <Versions shot={shot} />
    </>
  );
}
