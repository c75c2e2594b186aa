/** Gamut care: what lay beyond the range before it, and what still does. */
import type { OpUse } from '../../core/graph/plan';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import type { Requests } from '../../protocol/messages';
import { Dim } from '../../ui/controls';
import { beyondOf } from '../regionMean';
import { useMoment } from '../values';
import { useRead } from './read';

/** A share that is not nothing is never told as 0. */
const percent = (v: number): string => (v > 0 && v < 0.0005 ? 'under 0.1 %' : `${(100 * v).toFixed(1)} %`);
function told({ given, gives }: Requests['beyond']['out']): string {
  if (given.share === 0) return 'Nothing of the region lies beyond the range.';
  const still =
    gives.share === 0 ? 'none after it' : `${percent(gives.share)} after it, by up to ${percent(gives.furthest)}`;
  return `${percent(given.share)} of the region lay beyond the range, by up to ${percent(given.furthest)}; ${still}.`;
}
export function GamutRead({ corr, use, shot }: { corr: CorrectionRecord; use: OpUse; shot: ShotRecord }) {
  const { is, fault } = useRead(shot, corr.id, use.id, beyondOf);
  const moment = useMoment(shot);
  return (
    <p
      style={{ margin: '4px 0', minHeight: '3.9em' }}
      title="Of full scale, over the region: what this adjustment is given, and what it gives"
    >
      <Dim aria-label="Beyond the range">
        {is ? told(is) : fault}
        {is ? moment : ''}
      </Dim>
    </p>
  );
}
