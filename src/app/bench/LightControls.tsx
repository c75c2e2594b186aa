/** Of a key on a moving shot: in which light it reads every frame, and what that is on the frame that is looked at. */
import { useEffect, useState } from 'react';
import type { OpTerm } from '../../core/graph/plan';
import type { LightGains } from '../../core/matte/keyLight';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Dim, Line, Select } from '../../ui/controls';
import { shotState } from '../actions';
import { asking } from '../asking';
import { engine } from '../engine';
import { useLive } from '../live';
import { asideFailed, guard } from '../notices';
import { editTerm } from '../region';
import { useDoc } from '../store';

const ask = (shot: ShotRecord, corr: string, term: string, signal?: AbortSignal) =>
  engine().request(
    'keyLight',
    { shot: shotState(useDoc.getState().records, shot), correction: corr, term },
    ...(signal ? [signal] : []),
  );
/** What the picture is multiplied by here; null: as it is. */
function useGains(shot: ShotRecord, corr: string, { id, light }: OpTerm): LightGains | null {
  const finals = useLive((s) => s.finals);
  const [gains, setGains] = useState<LightGains | null>(null);
  const on = Boolean(light?.length);
  useEffect(() => {
    if (!on) return setGains(null);
    return asking((signal) => ask(shot, corr, id, signal), setGains, asideFailed('How this frame is lit was not read'));
  }, [finals, shot, corr, id, on]);
  return gains;
}
const DOC =
  'Lamps that flicker or drift over the whole picture do not make the matte breathe then. Only the key reads it so: ' +
  'the picture stays as it is lit.';
const NAMES = ['red', 'green', 'blue'];
function said({ gains, told }: LightGains): string {
  if (told === 0) return 'This frame shows too much else for its light to be told: it is read as it is lit.';
  if (gains.every((g) => g === 1)) return 'This frame is lit as that one was.';
  const by = gains.map((g, c) => `${NAMES[c]} \u00d7 ${g.toFixed(3)}`).join(', ');
  return `This frame is read with ${by}${told < 1 ? ': in part, since it can hardly be told' : ''}.`;
}
export function LightControls({ shot, corr, term }: { shot: ShotRecord; corr: CorrectionRecord; term: OpTerm }) {
  const gains = useGains(shot, corr.id, term);
  const set = async (to: string): Promise<void> => {
    if (to === 'each') return editTerm(corr.id, term.id, { light: [] }, 'Read every frame as it is lit');
    const r = await guard('The light of this frame was not read', () => ask(shot, corr.id, term.id));
    if (r) editTerm(corr.id, term.id, { light: r.light }, 'Read every frame in one light');
  };
  return (
    <>
      <Line title={DOC}>
        <span>Light</span>
        <Select
          aria-label="The light in which the key reads"
          value={term.light?.length ? 'one' : 'each'}
          onChange={(e) => void set(e.target.value)}
        >
          <option value="each">as each frame is lit</option>
          {term.light?.length ? <option value="one">all in one light</option> : null}
          <option value="here">all as on this frame</option>
        </Select>
      </Line>
      {gains && <Dim role="status">{said(gains)}</Dim>}
    </>
  );
}
