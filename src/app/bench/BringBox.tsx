/** Bring to line: how far the patch lies off, what would be pushed, what comes of it; then takes it. */
import { memo, useEffect, useRef, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import styled from 'styled-components';
import type { KeepChroma, PushKind } from '../../core/skin/bringToLine';
import { DEG } from '../../core/math/angle';
import { skinWarnings } from '../../core/skin/warnings';
import { seamsSaid } from '../../core/matte/health';
import { mediaOf, patchesOf, projectOf } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import type { SolveReply } from '../../protocol/messages';
import { Button, Dim, Select } from '../../ui/controls';
import { formatNumber } from '../../ui/NumberBox';
import { ParamSlider } from '../../ui/ParamSlider';
import { editCorrection, shotState } from '../actions';
import { engine } from '../engine';
import { useLive } from '../live';
import { sayError, sayNews } from '../notices';
import { useDoc, useSession } from '../store';
import { patchSpec } from './scopeSlots';
import { useMoment } from '../values';
import { wordsOf } from '../words';
import { useHealth } from './HealthPanel';
import { HELP_STRENGTH } from './helpers';

const Box = styled.section`
  background: var(--well);
  border: 1px solid var(--line);
  border-radius: 5px;
  padding: 8px 10px;
  margin-bottom: 8px;
  .big {
    font-size: 19px;
    line-height: 1.25;
  }
  .row {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-top: 6px;
    flex-wrap: wrap;
  }
  .plan {
    margin-top: 4px;
    min-height: 36px;
  }
`;
const STRENGTH = { ...HELP_STRENGTH, doc: 'How much of the way to the line is gone.' };
const d1 = (v: number): string => `${formatNumber(v, 1, true)}\u00b0`;

/** The command of the box, so that a key can give it too. */
export const bringCommand: { run: (() => void) | null } = { run: null };

/** What the person must know before taking it. */
function Warnings({ r }: { r: SolveReply }) {
  const left = Math.abs(r.residualDeg);
  const said = [
    r.clippedShare > 0.005 &&
      `${pct(r.clippedShare)} of the patch clips on the display with it` +
        (r.clippedBefore > 0.005 ? ` (${pct(r.clippedBefore)} without)` : '') +
        `: what is cut off does not follow the push.`,
    left >= 0.1 &&
      r.why === 'rounding' &&
      `The codes of ${r.bits} bits are too coarse to come nearer than ${left.toFixed(1)}\u00b0.`,
    left > 0.5 && r.why === 'reach' && 'It cannot go all the way: the push is at its limit, or the matte is weak here.',
    left > 0.5 && r.why === 'clipping' && 'It cannot go all the way within the range of the display.',
    r.chromaKept < 0.88 && r.kind === 'balance' && `Colour is lost: ${pct(r.chromaKept)} of the chroma is left.`,
    r.samePixelsOffLineDeg !== null &&
      `Other pixels count as outliers afterwards: those that counted before read ${d1(r.samePixelsOffLineDeg)}.`,
  ].filter(Boolean);
  return said.length ? <span data-warnings> {said.join(' ')}</span> : null;
}
const pct = (v: number): string => `${(100 * v).toFixed(v < 0.1 ? 1 : 0)} %`;

/** Where the push would show its seams. It comes a little later: under all that is pressed. */
function Seams({ corr, shot, pushPct }: { corr: CorrectionRecord; shot: ShotRecord; pushPct: number }) {
  const h = useHealth(shot, corr);
  const bits = useDoc((s) => mediaOf(s.records, shot)?.bits ?? 16);
  const said = h ? seamsSaid(h, pushPct, bits) : [];
  return said.length ? (
    <p data-seams>
      <Dim>{said.join(' ')}</Dim>
    </p>
  ) : null;
}

function BringBoxView({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const moment = useMoment(shot);
  const patches = useDoc(useShallow((s) => patchesOf(s.records, shot.id).filter((p) => p.kind === 'skin')));
  const line = useDoc((s) => projectOf(s.records)?.skinLineDeg ?? 123);
  const { patch: chosen, set, bits } = useSession();
  const finals = useLive((s) => s.finals);
  const [kind, setKind] = useState<PushKind>('balance');
  const [keep, setKeep] = useState<KeepChroma>('within10');
  const [strength, setStrength] = useState(100);
  const [plan, setPlan] = useState<{ reply: SolveReply | null; fault: string | null }>({ reply: null, fault: null });
  const patch = patches.find((p) => p.id === chosen) ?? patches[0];
  const now = useLive((s) => (patch ? (s.readings[patch.id]?.after ?? null) : null));
  const came = useLive((s) => (patch ? (s.readings[patch.id]?.before ?? null) : null));
  const turn = useRef(0);

  useEffect(() => {
    if (!patch) return;
    const me = ++turn.current;
    engine()
      .request('solve', {
        shot: shotState(useDoc.getState().records, shot),
        correction: corr.id,
        patch: patchSpec(patch),
        kind,
        strength: strength / 100,
        keep,
        skinLineDeg: line,
        bits,
      })
      .then(
        (reply) => me === turn.current && setPlan({ reply, fault: null }),
        (e: unknown) => me === turn.current && setPlan({ reply: null, fault: wordsOf(e) }),
      );
  }, [finals, kind, keep, strength, patch, corr.id, shot, line, bits]);

  const take = (): void => {
    const r = plan.reply;
    if (!r || !patch) {
      sayError(
        `There is nothing to bring to the line: ${
          !patch ? 'measure skin first, by a patch (P)' : (plan.fault ?? 'it is still being solved, try it in a moment')
        }.`,
      );
      return;
    }
    if (Math.abs(r.before.offLineDeg ?? 0) < 0.05) {
      sayNews(`${patch.name} is on the line already.`);
      return;
    }
    editCorrection(corr.id, 'Bring to line', (c) => ({ ...c, adjustments: r.adjustments }));
    sayNews(
      `${patch.name}: ${d1(r.before.offLineDeg ?? 0)} before, ` +
        `${r.after.offLineDeg === null ? 'too neutral to read' : d1(r.after.offLineDeg)} after. The push ` +
        `is an ordinary ${kind === 'turn' ? 'hue turn' : 'balance'} now.`,
    );
  };
  bringCommand.run = take;
  useEffect(() => () => void (bringCommand.run = null), []);

  if (!patch)
    return (
      <Box aria-label="Bring to line">
        <p>To bring skin to the line, measure it first: drag a patch over clean skin.</p>
        <div className="row">
          <Button look="strong" onPress={() => set({ tool: 'patch' })}>
            Draw a patch (P)
          </Button>
          <Button
            onPress={() => set({ tool: 'skinPress' })}
            tip="Finds the region, the patch and the push by one press, as a correction of its own (Shift T)"
          >
            Press on skin
          </Button>
        </div>
      </Box>
    );
  // Of the patch as it came: what is lost there does not come back.
  const doubts = came ? skinWarnings(came) : [];
  const r = plan.reply;
  const side = (v: number): string => (v > 0 ? 'towards yellow' : 'towards red');
  const pushed = r
    ? kind === 'turn'
      ? `a hue turn of ${d1(r.push[0]!)}`
      : `a balance push of ${Math.hypot(r.push[0]!, r.push[1]!).toFixed(1)} %`
    : '';
  const left = r?.after.offLineDeg ?? null;
  // A turn moves colour by its chord.
  const pushPct = !r
    ? 0
    : kind === 'turn'
      ? 2 * r.before.chromaPct * Math.abs(Math.sin(r.push[0]! / 2 / DEG))
      : Math.hypot(r.push[0]!, r.push[1]!);
  return (
    <Box aria-label="Bring to line">
      <p>
        <span className="big">
          {now ? (now.offLineDeg === null ? 'Too neutral to read' : `${d1(now.offLineDeg)} off-line`) : '\u2026'}
        </span>
        {now?.offLineDeg != null && Math.abs(now.offLineDeg) >= 0.05 ? `, ${side(now.offLineDeg)}` : ''}{' '}
        <Dim>{patch.name}</Dim>
      </p>
      <p className="plan">
        {plan.fault ??
          (r ? (
            Math.abs(r.before.offLineDeg ?? 0) < 0.05 ? (
              'It is on the line already.'
            ) : (
              <>
                With {pushed}
                {moment} it comes to <b>{left === null ? 'neutral' : d1(left)}</b>, chroma{' '}
                {r.before.chromaPct.toFixed(1)} {'\u2192'} {r.after.chromaPct.toFixed(1)} %, luma{' '}
                {formatNumber(100 * (r.after.luma - r.before.luma), 1, true)} %.
                <Warnings r={r} />
              </>
            )
          ) : (
            'Solving \u2026'
          ))}
      </p>
      <div className="row">
        <Button look="strong" isDisabled={!r} onPress={take} tip="Takes the push as an ordinary adjustment (T)">
          Bring to line
        </Button>
        <Select aria-label="Kind of push" value={kind} onChange={(e) => setKind(e.target.value as PushKind)}>
          <option value="balance">balance</option>
          <option value="turn">hue turn</option>
        </Select>
        <Select
          aria-label="Bits of the file that is measured"
          value={bits}
          onChange={(e) => set({ bits: Number(e.target.value) as 8 | 16 })}
        >
          <option value={16}>16-bit file</option>
          <option value={8}>8-bit file</option>
        </Select>
        {kind === 'balance' && (
          <Select aria-label="Chroma kept" value={keep} onChange={(e) => setKeep(e.target.value as KeepChroma)}>
            <option value="within10">chroma within 10 %</option>
            <option value="exact">chroma kept</option>
            <option value="free">shortest push</option>
          </Select>
        )}
      </div>
      <ParamSlider
        spec={STRENGTH}
        value={strength}
        onChange={setStrength}
        onBegin={() => {}}
        onEnd={() => {}}
        onBail={() => {}}
      />
      {doubts.length > 0 && <p data-doubts>{doubts.join(' ')}</p>}
      <Seams corr={corr} shot={shot} pushPct={pushPct} />
    </Box>
  );
}

/** Of the correction only its id counts here: what it does is asked of the engine when a final stands. */
export const BringBox = memo(BringBoxView, (a, b) => a.corr.id === b.corr.id && a.shot === b.shot);
