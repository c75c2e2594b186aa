/** Chroma pulls: the disc on which they are drawn, the numbers of the chosen one, and what would fold. */
import { useCallback, useMemo, useRef, useState } from 'react';
import { wrap180, DEG } from '../../core/math/angle';
import { folds, holdsOf, listOfPulls, pulledTo, pullsOf } from '../../core/ops/pulls/field';
import type { Pull, PullValues } from '../../core/ops/pulls/field';
import { MOST_HOLDS, MOST_PULLS, params } from '../../core/ops/pulls/params';
import { num } from '../../core/op/params';
import type { OpUse } from '../../core/graph/plan';
import { projectOf } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Button, Dim, Line, ToggleButton } from '../../ui/controls';
import { NumberBox } from '../../ui/NumberBox';
import { ParamSlider } from '../../ui/ParamSlider';
import { PullDisc } from '../../ui/PullDisc';
import type { Grip, Place } from '../../ui/PullDisc';
import { gesture, setParams } from '../actions';
import { correction } from '../edit';
import { sayNews } from '../notices';
import { useDoc, useSession } from '../store';
import { listOf, useFrame, valuesOf } from '../values';
import { useAround, useHeld } from './given';

const SIZE = 214;
const levelSpec = num({
  default: 0,
  min: -90,
  max: 100,
  ui: [-50, 50],
  step: 1,
  unit: 'pct',
  label: 'Level',
  doc: 'How much lighter or darker the pulled colour becomes.',
});
const polar = ([x, y]: Place): [deg: number, chroma: number] => [
  (((Math.atan2(y, x) * DEG) % 360) + 360) % 360,
  Math.hypot(x, y),
];
const placeAt = (deg: number, chroma: number): Place => [chroma * Math.cos(deg / DEG), chroma * Math.sin(deg / DEG)];

/** Hue and chroma of one end, typed. */
function Ends({ label, at, onChange }: { label: string; at: Place; onChange: (p: Place) => void }) {
  const [deg, chroma] = polar(at);
  const g = gesture('Move a pull');
  const put = (p: Place): void => {
    g.onBegin();
    onChange(p);
    g.onEnd();
  };
  return (
    <Line>
      <span style={{ width: 44 }}>{label}</span>
      <NumberBox
        label={`${label} hue, typed`}
        value={deg}
        min={0}
        max={360}
        digits={1}
        suffix={'\u00b0'}
        onChange={(d) => put(placeAt(d, chroma))}
      />
      <NumberBox
        label={`${label} chroma, typed`}
        value={chroma}
        min={0}
        max={115}
        digits={1}
        suffix=" %"
        onChange={(c) => put(placeAt(deg, c))}
      />
    </Line>
  );
}

interface PullControlsProps {
  corr: CorrectionRecord;
  use: OpUse;
  shot: ShotRecord;
}
export function PullControls({ corr, use, shot }: PullControlsProps) {
  const frame = useFrame();
  const skinLineDeg = useDoc((s) => projectOf(s.records)?.skinLineDeg ?? 123);
  const { tool, curveFor, set } = useSession();
  const [chosen, setChosen] = useState<Grip | null>(null);
  const values: PullValues = useMemo(
    () => ({
      pulls: listOf(use, 'pulls', frame),
      holds: listOf(use, 'holds', frame),
      reachPct: valuesOf(use, frame)['reachPct']!,
    }),
    [use, frame],
  );
  const pulls = pullsOf(values.pulls);
  const holds = holdsOf(values.holds);
  const held = useHeld(shot, corr.id);
  const { before, now } = useAround(corr, use.id, shot, held);
  // A drag changes what is there while it goes on: each step begins with what is there then.
  const latest = useCallback((): PullValues => {
    const u = correction(corr.id)?.adjustments.find((x) => x.id === use.id) ?? use;
    const { frame: f } = useSession.getState();
    return { pulls: listOf(u, 'pulls', f), holds: listOf(u, 'holds', f), reachPct: valuesOf(u, f)['reachPct']! };
  }, [corr.id, use]);
  const told = useRef(false);
  const putPulls = (list: readonly Pull[]): void => setParams(corr.id, use.id, { pulls: listOfPulls(list) });
  const putHolds = (list: readonly Place[]): void => setParams(corr.id, use.id, { holds: list.flatMap((h) => [...h]) });

  const onPull = (from: Place): Grip | null => {
    const list = pullsOf(latest().pulls);
    if (list.length >= MOST_PULLS) {
      sayNews(`There are ${MOST_PULLS} pulls, which is the most: remove one first.`);
      return null;
    }
    putPulls([...list, { from, to: from, levelPct: 0 }]);
    const grip: Grip = { kind: 'to', i: list.length };
    setChosen(grip);
    return grip;
  };
  const onHold = (at: Place): void => {
    const list = holdsOf(latest().holds);
    if (list.length >= MOST_HOLDS)
      return sayNews(`There are ${MOST_HOLDS} holds, which is the most: remove one first.`);
    const g = gesture('Hold a colour');
    g.onBegin();
    putHolds([...list, at]);
    g.onEnd();
    setChosen({ kind: 'hold', i: list.length });
  };
  const onMove = ({ kind, i }: Grip, to: Place): void => {
    const v = latest();
    if (kind === 'hold') return putHolds(holdsOf(v.holds).map((h, k) => (k === i ? to : h)));
    const list = pullsOf(v.pulls);
    const p = list[i];
    if (!p) return;
    if (kind === 'from') return putPulls(list.map((q, k) => (k === i ? { ...q, from: to } : q)));
    const [next, back] = pulledTo(v, i, to);
    if (back && !told.current) sayNews('Further would fold colours over one another: raise the reach to go on.');
    told.current = back;
    setParams(corr.id, use.id, { pulls: next.pulls });
  };
  const onRemove = ({ kind, i }: Grip): void => {
    const g = gesture(kind === 'hold' ? 'Remove a hold' : 'Remove a pull');
    g.onBegin();
    if (kind === 'hold') putHolds(holdsOf(latest().holds).filter((_, k) => k !== i));
    else putPulls(pullsOf(latest().pulls).filter((_, k) => k !== i));
    g.onEnd();
    setChosen(null);
  };
  /** Where the region's colours lie in the mean: where a new one begins that no hand has placed. */
  const mean = useMemo((): Place => {
    const n = Math.max(1, before.length >> 1);
    const sum = (c: 0 | 1): number => before.reduce((a, v, i) => (i % 2 === c ? a + v : a), 0);
    return [Math.round((2000 * sum(0)) / n) / 10, Math.round((2000 * sum(1)) / n) / 10];
  }, [before]);
  const k = chosen && chosen.kind !== 'hold' ? chosen.i : null;
  const p = k === null ? undefined : pulls[k];
  const off = p ? wrap180(polar(p.to)[0] - polar(p.from)[0]) : 0;
  return (
    <>
      <PullDisc
        pulls={pulls}
        holds={holds}
        reachPct={values.reachPct}
        chosen={chosen}
        before={before}
        now={now}
        skinLineDeg={skinLineDeg}
        size={SIZE}
        onPull={onPull}
        onHold={onHold}
        onMove={onMove}
        onChoose={setChosen}
        onRemove={onRemove}
        {...gesture('Pull a colour')}
      />
      <Line>
        <Button
          look="outline"
          onPress={() => {
            const g = gesture('Pull a colour');
            g.onBegin();
            onPull(mean);
            g.onEnd();
          }}
          tip="A pull at the region's mean; its numbers stand below"
        >
          + Pull
        </Button>
        <Button look="outline" onPress={() => onHold(mean)} tip="Holds the region's mean where it is">
          + Hold
        </Button>
        <ToggleButton
          isSelected={tool === 'pullColour' && curveFor?.use === use.id}
          onChange={(x) => set({ tool: x ? 'pullColour' : 'none', curveFor: { use: use.id, curve: 'pulls' } })}
          tip="Then drag on the picture: the colour there goes right for more Cb, up for more Cr; a press holds it"
        >
          From picture
        </ToggleButton>
      </Line>
      {p && k !== null ? (
        <>
          <Ends label="From" at={p.from} onChange={(to) => onMove({ kind: 'from', i: k }, to)} />
          <Ends label="To" at={p.to} onChange={(to) => onMove({ kind: 'to', i: k }, to)} />
          <ParamSlider
            spec={levelSpec}
            value={p.levelPct}
            onChange={(x) => putPulls(pullsOf(latest().pulls).map((q, i) => (i === k ? { ...q, levelPct: x } : q)))}
            {...gesture('Change the level of a pull')}
          />
          <Line>
            <Dim style={{ flex: 1 }}>
              Pull {k + 1} of {pulls.length}: {off >= 0 ? '+' : '\u2212'}
              {Math.abs(off).toFixed(1)}
              {'\u00b0'}
            </Dim>
            <Button onPress={() => onRemove({ kind: 'to', i: k })}>Remove</Button>
          </Line>
        </>
      ) : chosen?.kind === 'hold' && holds[chosen.i] ? (
        <Line>
          <Dim style={{ flex: 1 }}>
            Hold {chosen.i + 1} of {holds.length}
          </Dim>
          <Button onPress={() => onRemove(chosen)}>Remove</Button>
        </Line>
      ) : (
        <Dim>Drag a colour on the disc to where it should be; press one to hold it.</Dim>
      )}
      <ParamSlider
        spec={params.reachPct}
        value={values.reachPct}
        onChange={(x) => setParams(corr.id, use.id, { reachPct: x })}
        {...gesture('Change reach')}
      />
      {folds(values) && (
        <p role="status" style={{ margin: '4px 0' }}>
          Colours fold over one another here: raise the reach, or pull less far.
        </p>
      )}
    </>
  );
}
