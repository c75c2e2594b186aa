/** Edge colour: where to look whether a fringe is left. */
import { useRef } from 'react';
import type { ShotRecord } from '../../document/records';
import { Button } from '../../ui/controls';
import { shotState } from '../actions';
import { engine } from '../engine';
import { guard, sayError } from '../notices';
import { useDoc, useSession } from '../store';

const SCALE = 4;
/** So many places round the region are looked at in turn. */
const PLACES = 8;

export function EdgeLook({ corr, shot }: { corr: string; shot: ShotRecord }) {
  const turn = useRef(0);
  const look = (): Promise<unknown> =>
    guard('The edge was not found', async () => {
      const outline = await engine().request('about', {
        shot: shotState(useDoc.getState().records, shot),
        correction: corr,
      });
      if (!outline) {
        sayError('The region is empty here: there is no edge to look at.');
        return;
      }
      const [x, y] = outline[Math.floor(((turn.current++ % PLACES) / PLACES) * outline.length)]!;
      useSession.getState().set({ zoom: { scale: SCALE, cx: x, cy: y }, hold: null });
    });
  return (
    <Button onPress={() => void look()} tip="Goes round the region, one place with each press; Fit (F) shows all again">
      Edge at 400 %
    </Button>
  );
}
