/** A key by ranges, measured as the scopes do or in OKLCh. */
import type { OpTerm } from '../core/graph/plan';
import type { KeySpace } from '../core/matte/keySpace';
import { keysOf } from '../core/op/keys';
import type { ShotRecord } from '../document/records';
import { setParams, shotState, spaceOf } from './actions';
import { engine } from './engine';
import { guard, sayError } from './notices';
import { useDoc } from './store';

/** Tells a key in another space: the limits go around what it holds of the picture. */
export async function tellKeyIn(shot: ShotRecord, corr: string, t: OpTerm, space: KeySpace): Promise<void> {
  if (spaceOf(t) === space) return;
  if (Object.values(t.use.params).some((v) => keysOf(v).length > 0)) {
    sayError('The key moves over time: remove its keyframes, then it can be measured in another way.');
    return;
  }
  const fit = await guard('The key was not measured in another way', () =>
    engine().request('keyIn', {
      shot: shotState(useDoc.getState().records, shot),
      correction: corr,
      term: t.id,
      space,
    }),
  );
  if (fit) setParams(corr, t.use.id, { ...fit }, 'Measure the key in another way');
}
