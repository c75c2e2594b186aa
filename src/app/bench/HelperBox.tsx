/** Helpers of a correction of the whole picture: neutral patches, black and white points. They set ordinary values. */
import { useEffect, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import styled from 'styled-components';
import { patchesOf } from '../../document/records';
import type { CorrectionRecord, PatchRecord, ShotRecord } from '../../document/records';
import type { HelperReply, HelperTask } from '../../protocol/messages';
import { Button, Dim, Line, Select } from '../../ui/controls';
import { editCorrection, shotState } from '../actions';
import { engine } from '../engine';
import { useLive } from '../live';
import { sayNews } from '../notices';
import { useDoc, useSession } from '../store';
import { wordsOf } from '../words';
import { ParamSlider } from '../../ui/ParamSlider';
import { HELP_STRENGTH, noGesture } from './helpers';
import { patchSpec } from './scopeSlots';

const Box = styled.section`
  background: var(--well);
  border: 1px solid var(--line);
  border-radius: 5px;
  padding: 5px 10px 7px;
  margin-bottom: 6px;
`;
type Kind = 'neutral' | 'light' | 'points';
const UNDO: Record<Kind, string> = {
  neutral: 'Neutralise',
  light: 'Take out the light of the picture',
  points: 'Set black and white points',
};
const isNeutral = (p: PatchRecord): p is PatchRecord & { kind: 'black' | 'grey' | 'white' } =>
  p.kind === 'black' || p.kind === 'grey' || p.kind === 'white';

export function HelperBox({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const patches = useDoc(useShallow((s) => patchesOf(s.records, shot.id).filter(isNeutral)));
  const finals = useLive((s) => s.finals);
  const set = useSession((s) => s.set);
  const [kind, setKind] = useState<Kind>('neutral');
  const [strength, setStrength] = useState(100);
  const [cut, setCut] = useState(0.5);
  const [last, setLast] = useState<{ reply: HelperReply; kind: Kind; about: unknown[] } | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const wanted = JSON.stringify([corr.id, kind, strength, cut, patches]);
  // What was found for another question, or before another change, is shown while it is of the same kind, never set.
  const about = [wanted, corr.adjustments];
  const plan = last?.kind === kind ? last.reply : null;
  const ready = last?.about.every((x, i) => x === about[i]) ? last.reply : null;
  useEffect(() => {
    let gone = false;
    const task: HelperTask =
      kind === 'neutral'
        ? { kind, patches: patches.map((p) => ({ ...patchSpec(p), neutral: p.kind as 'black' | 'grey' | 'white' })) }
        : kind === 'light'
          ? { kind }
          : { kind, lowPct: cut, highPct: 100 - cut, blackPct: 5, whitePct: 95 };
    if (task.kind === 'neutral' && task.patches.length === 0) {
      setLast(null);
      setFault(null);
      return;
    }
    engine()
      .request('helper', {
        shot: shotState(useDoc.getState().records, shot),
        correction: corr.id,
        strength: strength / 100,
        task,
      })
      .then(
        (r) => {
          if (!gone) {
            setLast({ reply: r, kind, about });
            setFault(null);
          }
        },
        (e: unknown) => {
          if (!gone) {
            setLast(null);
            setFault(wordsOf(e));
          }
        },
      );
    return () => {
      gone = true;
    };
    // `wanted` stands for the correction, kind, strength, cut and patches.
  }, [wanted, finals, shot]);
  const take = (): void => {
    if (!ready) return;
    editCorrection(corr.id, UNDO[kind], (c) => ({
      ...c,
      adjustments: ready.adjustments,
    }));
    sayNews(
      `${ready.before.toFixed(1)} ${ready.unit} before, ${ready.after.toFixed(1)} after. The values are ` +
        `ordinary ones now.`,
    );
  };
  const no = kind === 'neutral' && patches.length === 0;
  return (
    <Box aria-label="Helpers">
      <Line>
        <Select
          aria-label="Helper"
          value={kind}
          onChange={(e) => setKind(e.target.value as Kind)}
          style={{ flex: 1, minWidth: 0 }}
        >
          <option value="neutral">Neutral patches together</option>
          <option value="light">Light of the picture</option>
          <option value="points">Black and white points</option>
        </Select>
        <Button look="strong" isDisabled={!ready} onPress={take}>
          Set
        </Button>
      </Line>
      {no ? (
        <p>
          <Dim>Draw a patch (P) on something black, grey or white and say its kind in the readings.</Dim>{' '}
          <Button look="outline" onPress={() => set({ tool: 'patch', shelf: true, shelfTab: 'readings' })}>
            Draw one
          </Button>
        </p>
      ) : (
        <>
          {kind === 'points' && (
            <Line title="Share of the picture that may lie beyond each point">
              <span>Beyond each</span>
              <Select aria-label="Share beyond each point" value={cut} onChange={(e) => setCut(Number(e.target.value))}>
                {[0, 0.1, 0.5, 1, 2, 5].map((v) => (
                  <option key={v} value={v}>
                    {v} %
                  </option>
                ))}
              </Select>
              <Dim>to 5 and 95 %</Dim>
            </Line>
          )}
          <ParamSlider spec={HELP_STRENGTH} value={strength} onChange={setStrength} {...noGesture} />
          <Dim>
            {fault ??
              (plan
                ? (kind === 'neutral' ? `${patches.map((p) => p.kind).join(', ')}: ` : '') +
                  `${plan.before.toFixed(1)} \u2192 ${plan.after.toFixed(1)} ${plan.unit}` +
                  (plan.sure ? `. ${plan.sure}` : '')
                : '\u2026')}
          </Dim>
        </>
      )}
    </Box>
  );
}
