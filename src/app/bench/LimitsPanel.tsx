/** How much of the shot leaves the limits that its receiver sets, before and after: they are chosen or typed. */
import { useEffect, useState } from 'react';
import styled from 'styled-components';
import { EBU_R103, LIMITS } from '../../core/skin/limits';
import type { Limits } from '../../core/skin/limits';
import type { ShotRecord } from '../../document/records';
import type { LimitsReply } from '../../protocol/messages';
import { asking } from '../asking';
import { Select } from '../../ui/controls';
import { NumberBox } from '../../ui/NumberBox';
import { shotState } from '../actions';
import { engine } from '../engine';
import { limitsSaid } from '../limitsText';
import { useLive } from '../live';
import { asideFailed } from '../notices';
import { useDoc, useSession } from '../store';

const Row = styled.div`
  display: flex;
  align-items: center;
  gap: 6px;
  margin-top: 8px;
  input {
    width: 62px;
  }
`;
const READY: Record<string, { title: string; limits: Limits }> = {
  display: { title: '0 to 100 %', limits: LIMITS },
  ebu: { title: 'EBU R 103', limits: EBU_R103 },
};
/** Furthest that one can be told: what is more is a mistake. */
const LEAST_PCT = -100;
const MOST_PCT = 400;

export function LimitsPanel({ shot }: { shot: ShotRecord }) {
  const { limits, set } = useSession();
  const finals = useLive((s) => s.finals);
  const [r, setR] = useState<LimitsReply | null>(null);
  const { lowPct, highPct } = limits;
  useEffect(
    () =>
      asking(
        (signal) =>
          engine().request(
            'limits',
            { shot: shotState(useDoc.getState().records, shot), limits: { lowPct, highPct } },
            signal,
          ),
        setR,
        asideFailed('The limits were not checked'),
      ),
    [finals, shot, lowPct, highPct],
  );
  const ready = Object.keys(READY).find(
    (k) => READY[k]!.limits.lowPct === lowPct && READY[k]!.limits.highPct === highPct,
  );
  return (
    <section aria-label="Limits">
      <Row>
        <Select
          aria-label="Limits of the signal"
          title="What the receiver of the picture allows, of each channel's signal"
          value={ready ?? 'own'}
          onChange={(e) => READY[e.target.value] && set({ limits: READY[e.target.value]!.limits })}
        >
          {Object.entries(READY).map(([k, v]) => (
            <option key={k} value={k}>
              {v.title}
            </option>
          ))}
          {!ready && <option value="own">own limits</option>}
        </Select>
        <NumberBox
          label="Lower limit, typed"
          value={lowPct}
          min={LEAST_PCT}
          max={highPct - 1}
          digits={1}
          suffix=" %"
          onChange={(v) => set({ limits: { lowPct: v, highPct } })}
        />
        <NumberBox
          label="Upper limit, typed"
          value={highPct}
          min={lowPct + 1}
          max={MOST_PCT}
          digits={1}
          suffix=" %"
          onChange={(v) => set({ limits: { lowPct, highPct: v } })}
        />
      </Row>
      {r && (
        <p data-outside={r.after.any} style={{ margin: '4px 0 8px' }}>
          {limitsSaid(r)}
        </p>
      )}
    </section>
  );
}
