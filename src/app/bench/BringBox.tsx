/** Bring to line: how far the patch lies off, what would be pushed, what comes of it; then takes it. */
import { memo, useEffect, useRef, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import styled from 'styled-components';
import type { KeepChroma, PushKind } from '../../core/skin/bringToLine';
import { patchesOf, projectOf } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import type { SolveReply } from '../../protocol/messages';
import { Button, Dim, Select } from '../../ui/controls';
import { formatNumber } from '../../ui/NumberBox';
import { ParamSlider } from '../../ui/ParamSlider';
import { editCorrection, shotState } from '../actions';
import { engine } from '../engine';
import { useLive } from '../live';
import { sayNews } from '../notices';
import { useDoc, useSession } from '../store';
import { HELP_STRENGTH } from './helpers';

const Box = styled.section`
  background: var(--well); border: 1px solid var(--line); border-radius: 5px; padding: 8px 10px; margin-bottom: 8px;
  .big { font-size: 19px; line-height: 1.25; }
  .row { display: flex; align-items: center; gap: 8px; margin-top: 6px; flex-wrap: wrap; }
  .plan { margin-top: 4px; min-height: 36px; }
`;
const STRENGTH = { ...HELP_STRENGTH, doc: 'How much of the way to the line is gone.' };
const d1 = (v: number): string => `${formatNumber(v, 1, true)}\u00b0`;

/** The command of the box, so that a key can give it too. */
export const bringCommand: { run: (() => void) | null } = { run: null };

function BringBoxView({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const patches = useDoc(useShallow((s) => patchesOf(s.records, shot.id).filter((p) => p.kind === 'skin')));
  const line = useDoc((s) => projectOf(s.records)?.skinLineDeg ?? 123);
  const { patch: chosen, set } = useSession();
  const finals = useLive((s) => s.finals);
  const [kind, setKind] = useState<PushKind>('balance');
  const [keep, setKeep] = useState<KeepChroma>('within10');
  const [strength, setStrength] = useState(100);
  const [plan, setPlan] = useState<{ reply: SolveReply | null; fault: string | null }>({ reply: null, fault: null });
  const patch = patches.find((p) => p.id === chosen) ?? patches[0];
  const now = useLive((s) => (patch ? (s.readings[patch.id]?.after ?? null) : null));
  const turn = useRef(0);

  useEffect(() => {
    if (!patch) return;
    const me = ++turn.current;
    engine()
      .request('solve', { shot: shotState(useDoc.getState().records, shot), correction: corr.id, patch: patch.box, ...(patch.points ? { points: patch.points } : {}), kind, strength: strength / 100, keep, skinLineDeg: line })
      .then(
        (reply) => me === turn.current && setPlan({ reply, fault: null }),
        (e: Error) => me === turn.current && setPlan({ reply: null, fault: e.message }),
      );
  }, [finals, kind, keep, strength, patch, corr.id, shot, line]);

  const take = (): void => {
    const r = plan.reply;
    if (!r || !patch) return;
    editCorrection(corr.id, 'Bring to line', (c) => ({ ...c, adjustments: r.adjustments }));
    sayNews(`${patch.name}: ${d1(r.before.offLineDeg ?? 0)} before, ${r.after.offLineDeg === null ? 'too neutral to read' : d1(r.after.offLineDeg)} after. The push is an ordinary ${kind === 'turn' ? 'hue turn' : 'balance'} now.`);
  };
  bringCommand.run = take;
  useEffect(() => () => void (bringCommand.run = null), []);

  if (!patch)
    return (
      <Box aria-label="Bring to line">
        <p>To bring skin to the line, measure it first: drag a patch over clean skin.</p>
        <div className="row"><Button look="strong" onPress={() => set({ tool: 'patch' })}>Draw a patch (P)</Button></div>
      </Box>
    );
  const r = plan.reply;
  const side = (v: number): string => (v > 0 ? 'towards yellow' : 'towards red');
  const pushed = r ? (kind === 'turn' ? `a hue turn of ${d1(r.push[0]!)}` : `a balance push of ${Math.hypot(r.push[0]!, r.push[1]!).toFixed(1)} %`) : '';
  const left = r?.after.offLineDeg ?? null;
  return (
    <Box aria-label="Bring to line">
      <p>
        <span className="big">{now ? (now.offLineDeg === null ? 'Too neutral to read' : `${d1(now.offLineDeg)} off-line`) : '\u2026'}</span>
        {now?.offLineDeg != null && Math.abs(now.offLineDeg) >= 0.05 ? `, ${side(now.offLineDeg)}` : ''} <Dim>{patch.name}</Dim>
      </p>
      <p className="plan">
        {plan.fault ?? (r ? (Math.abs(r.before.offLineDeg ?? 0) < 0.05 ? 'It is on the line already.' : <>With {pushed} it comes to <b>{left === null ? 'neutral' : d1(left)}</b>, chroma {r.before.chromaPct.toFixed(1)} {'\u2192'} {r.after.chromaPct.toFixed(1)} %, luma {formatNumber(100 * (r.after.luma - r.before.luma), 1, true)} %.{Math.abs(r.residualDeg) > 0.5 ? ' It cannot go all the way: the push is at its limit.' : ''}</>) : 'Solving \u2026')}
      </p>
      <div className="row">
        <Button look="strong" isDisabled={!r} onPress={take} tip="Takes the push as an ordinary adjustment (L)">Bring to line</Button>
        <Select aria-label="Kind of push" value={kind} onChange={(e) => setKind(e.target.value as PushKind)}>
          <option value="balance">balance</option>
          <option value="turn">hue turn</option>
        </Select>
        {kind === 'balance' && (
          <Select aria-label="Chroma kept" value={keep} onChange={(e) => setKeep(e.target.value as KeepChroma)}>
            <option value="within10">chroma within 10 %</option>
            <option value="exact">chroma kept</option>
            <option value="free">shortest push</option>
          </Select>
        )}
      </div>
      <ParamSlider spec={STRENGTH} value={strength} onChange={setStrength} onBegin={() => {}} onEnd={() => {}} onBail={() => {}} />
    </Box>
  );
}

/** Of the correction only its id counts here: what it does is asked of the engine when a final stands. */
export const BringBox = memo(BringBoxView, (a, b) => a.corr.id === b.corr.id && a.shot === b.shot);
