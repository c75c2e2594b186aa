/** Lets a shape follow what lies under it: how, which way, and away with the path again. */
import { useState } from 'react';
import { ArrowLeft, ArrowLeftRight, ArrowRight, X } from 'lucide-react';
import type { OpTerm } from '../../core/graph/plan';
import type { MotionKind } from '../../core/track/fit';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Line, Select } from '../../ui/controls';
import { followShape, stopFollowing } from '../following';
import type { Direction } from '../following';
import { useJobs } from '../jobs';
import { guard } from '../notices';

const KINDS: Record<MotionKind, string> = {
  position: 'position',
  similarity: 'position, turn, size',
  perspective: 'perspective',
};
export function FollowBox({ shot, corr, term }: { shot: ShotRecord; corr: CorrectionRecord; term: OpTerm }) {
  const [kind, setKind] = useState<MotionKind>('position');
  const running = useJobs((s) => s.jobs.some((j) => j.state === 'running'));
  const go = (d: Direction): void => void guard('It was not followed', () => followShape(shot, corr, term, kind, d));
  const { track } = term;
  const lost = track?.path.filter((p) => p.lost).length ?? 0;
  return (
    <section aria-label="Following">
      <Line title="From the frame that is shown, by what lies inside the shape there">
        <span>Follow</span>
        <Select
          aria-label="What of the motion is followed"
          value={kind}
          onChange={(e) => setKind(e.target.value as MotionKind)}
        >
          {Object.entries(KINDS).map(([id, title]) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </Select>
        <IconButton
          aria-label="Follow backwards"
          tip="Backwards, to the in point"
          isDisabled={running}
          onPress={() => go('backwards')}
        >
          <ArrowLeft />
        </IconButton>
        <IconButton
          aria-label="Follow both ways"
          tip="Backwards and forwards"
          isDisabled={running}
          onPress={() => go('both')}
        >
          <ArrowLeftRight />
        </IconButton>
        <IconButton
          aria-label="Follow forwards"
          tip="Forwards, to the out point"
          isDisabled={running}
          onPress={() => go('forwards')}
        >
          <ArrowRight />
        </IconButton>
      </Line>
      {track && (
        <Line>
          <Dim style={{ flex: 1 }} data-followed={track.path.length} data-lost={lost}>
            Follows over {track.path.length} frames, drawn at {track.at}
            {lost > 0 ? `; guessed in ${lost}` : ''}
          </Dim>
          <Button onPress={() => stopFollowing(corr.id, term.id)} tip="The shape stays where it was drawn">
            <X />
            Path
          </Button>
        </Line>
      )}
    </section>
  );
}
