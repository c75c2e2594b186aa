/** A region and its outside as two colours, before and now, and how far they are apart. */
import { useEffect, useState } from 'react';
import styled from 'styled-components';
import { sideFigures } from '../../core/skin/sides';
import type { SideMeans } from '../../core/skin/sides';
import { ownCorrectionsOf } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import type { SidesReply } from '../../protocol/messages';
import { formatNumber } from '../../ui/NumberBox';
import { companionOf, shotState } from '../actions';
import { asking } from '../asking';
import { engine } from '../engine';
import { useLive } from '../live';
import { asideFailed } from '../notices';
import { useDoc } from '../store';
import { useMoment } from '../values';

const Table = styled.table`
  width: 100%;
  margin: 6px 0;
  border-collapse: collapse;
  font-size: 12.5px;
  font-variant-numeric: tabular-nums;
  th {
    font-weight: 400;
    color: var(--dim);
    text-align: right;
  }
  th:first-child {
    text-align: left;
  }
  td {
    text-align: right;
    padding: 1px 0;
  }
  i {
    display: inline-block;
    width: 12px;
    height: 12px;
    border-radius: 2px;
    margin-right: 6px;
    vertical-align: -2px;
  }
`;
type Side = keyof SideMeans;
const css = (c: readonly number[]): string =>
  `rgb(${c.map((v) => Math.round(255 * Math.min(1, Math.max(0, v)))).join(',')})`;

/** The two corrections of a pair, whichever of them is open; null where there is no pair. */
export function pairOf(c: CorrectionRecord, all: readonly CorrectionRecord[]): string | null {
  const inner = companionOf(c);
  if (inner !== null) return all.some((x) => x.id === inner) ? inner : null;
  return all.some((x) => companionOf(x) === c.id) ? c.id : null;
}
export function Sides({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const records = useDoc((s) => s.records);
  const finals = useLive((s) => s.finals);
  const moment = useMoment(shot);
  const of = pairOf(corr, ownCorrectionsOf(records, corr.owner));
  const [r, setR] = useState<SidesReply | null>(null);
  useEffect(() => {
    if (of === null) return;
    return asking(
      (signal) =>
        engine().request('sides', { shot: shotState(useDoc.getState().records, shot), correction: of }, signal),
      setR,
      asideFailed('Inside and outside were not measured'),
    );
  }, [finals, shot, of]);
  if (of === null || !r) return null;
  const row = (side: Side, title: string) => {
    const now = r.after[side];
    if (!now)
      return (
        <tr key={side}>
          <th scope="row">{title}</th>
          <td colSpan={3}>nothing</td>
        </tr>
      );
    const f = sideFigures(now);
    return (
      <tr key={side}>
        <th scope="row">
          <i style={{ background: css(now) }} aria-hidden />
          {title}
        </th>
        <td>{formatNumber(f.lumaPct, 1)} %</td>
        <td>{formatNumber(f.chromaPct, 1)} %</td>
        <td>{f.hueDeg === null ? 'grey' : `${formatNumber(f.hueDeg, 0)}\u00b0`}</td>
      </tr>
    );
  };
  const [was, is] = r.apart;
  return (
    <Table aria-label={`The region and its outside${moment}`}>
      <thead>
        <tr>
          <th scope="col">mean{moment}</th>
          <th scope="col">luma</th>
          <th scope="col">chroma</th>
          <th scope="col">hue</th>
        </tr>
      </thead>
      <tbody>
        {row('inside', 'Inside')}
        {row('outside', 'Outside')}
        <tr>
          <th scope="row">Apart, CIEDE2000</th>
          <td colSpan={3}>
            {was === null || is === null
              ? 'one side is nothing'
              : `${formatNumber(is, 1)}, before ${formatNumber(was, 1)}`}
          </td>
        </tr>
      </tbody>
    </Table>
  );
}
