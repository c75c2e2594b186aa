/** Lets a shape, or what grew from strokes, follow what lies under it: how, which way, and what becomes of the path. */
import { useState } from 'react';
import { ArrowLeft, ArrowLeftRight, ArrowRight, ChevronDown } from 'lucide-react';
import { Menu, MenuItem, MenuTrigger, Separator } from 'react-aria-components';
import { opById } from '../../core/graph/plan';
import type { OpTerm } from '../../core/graph/plan';
import { resolve } from '../../core/op/params';
import type { Track } from '../../core/graph/track';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Line, Select } from '../../ui/controls';
import { MenuBox } from '../../ui/MenuBox';
import { followShape, givePath, stopFollowing, takersOf, workOnPath } from '../following';
import type { Direction, FollowKind, PathWork } from '../following';
import { useJobs } from '../jobs';
import { grows } from '../strokes';
import { guard } from '../notices';
import { useDoc } from '../store';
import { useFrame } from '../values';

const KINDS: Record<FollowKind, string> = {
  region: 'what is found',
  position: 'position',
  similarity: 'position, turn, size',
  perspective: 'perspective',
  outline: 'point by point',
};
interface PathMenuProps {
  shot: ShotRecord;
  corr: CorrectionRecord;
  term: OpTerm;
  track: Track;
  /** How many frames of it are guesses. */
  lost: number;
  kind: FollowKind;
  /** Something is followed already. */
  running: boolean;
}
/** What can be done to a path: smoothed, bridged, blended with a second run, cut, given to another part, removed. */
function PathMenu({ shot, corr, term, track, lost, kind, running }: PathMenuProps) {
  const frame = useFrame();
  const [takers, setTakers] = useState<ReturnType<typeof takersOf>>([]);
  const work = (w: PathWork): void => workOnPath(shot, corr.id, term.id, w);
  const act = (key: string): void => {
    const smooth = /^smooth (\d+)$/.exec(key);
    if (smooth) work({ do: 'smooth', frames: Number(smooth[1]) });
    else if (key === 'bridge') work({ do: 'bridge' });
    else if (key === 'blend') void guard('It was not followed', () => followShape(shot, corr, term, kind, 'blend'));
    else if (key === 'before' || key === 'after') work({ do: key, frame });
    else if (key === 'remove') stopFollowing(corr.id, term.id);
    else {
      const to = takers.find((t) => t.id === key);
      if (to) givePath(shot, track, to);
    }
  };
  const rule = <Separator style={{ height: 1, background: 'var(--line)', margin: '4px 0' }} />;
  return (
    <MenuTrigger
      onOpenChange={(open) => open && setTakers(takersOf(useDoc.getState().records, shot, term.id).slice(0, 12))}
    >
      <Button tip="Smooth, bridge, blend, cut, copy or remove the path">
        Path
        <ChevronDown />
      </Button>
      <MenuBox placement="bottom end">
        <Menu aria-label="Path" onAction={(k) => act(String(k))}>
          <MenuItem id="smooth 6">Smooth over 6 frames</MenuItem>
          <MenuItem id="smooth 16">Smooth over 16 frames</MenuItem>
          {lost > 0 && <MenuItem id="bridge">Bridge where it was lost</MenuItem>}
          {frame !== track.at && !running && <MenuItem id="blend">Blend with a run from frame {frame}</MenuItem>}
          <MenuItem id="before">Cut before frame {frame}</MenuItem>
          <MenuItem id="after">Cut after frame {frame}</MenuItem>
          {rule}
          {takers.map((t) => (
            <MenuItem key={t.id} id={t.id} textValue={t.name}>
              Copy to {t.name}
            </MenuItem>
          ))}
          {takers.length > 0 && rule}
          <MenuItem id="remove">Remove the path</MenuItem>
        </Menu>
      </MenuBox>
    </MenuTrigger>
  );
}
/** Whether each point goes by itself; null: nothing says so, false: it is said of other points than there are. */
function useBent({ use, track }: OpTerm): boolean | null {
  const frame = useFrame();
  const many = track?.path.find((p) => p.own)?.own?.length;
  if (many === undefined) return null;
  const points = resolve(opById(use.op).params, use.params, frame)['points'];
  return Array.isArray(points) && points.length === many;
}
export function FollowBox({ shot, corr, term }: { shot: ShotRecord; corr: CorrectionRecord; term: OpTerm }) {
  const [asked, setKind] = useState<FollowKind>(term.use.op === 'skin' ? 'region' : 'position');
  const may = (id: string): boolean =>
    (id !== 'region' || grows(term.use.op)) && (id !== 'outline' || term.use.op === 'freeform');
  // Another part may have been chosen since.
  const kind = may(asked) ? asked : 'position';
  const running = useJobs((s) => s.jobs.some((j) => j.state === 'running'));
  const go = (d: Direction): void => void guard('It was not followed', () => followShape(shot, corr, term, kind, d));
  const { track } = term;
  const lost = track?.path.filter((p) => p.lost).length ?? 0;
  const bent = useBent(term);
  return (
    <section aria-label="Following">
      <Line title="From the frame that is shown, by what lies in it there">
        <span>Follow</span>
        <Select
          aria-label="What of the motion is followed"
          value={kind}
          onChange={(e) => setKind(e.target.value as FollowKind)}
        >
          {Object.entries(KINDS)
            .filter(([id]) => may(id))
            .map(([id, title]) => (
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
        <Line style={{ height: 'auto', minHeight: 28 }}>
          <Dim style={{ flex: 1 }} data-followed={track.path.length} data-lost={lost}>
            Follows over {track.path.length} frames, drawn at {track.at}
            {bent === null
              ? ''
              : bent
                ? ', point by point'
                : '. Its points are others by now, so it goes as one: follow it again'}
            {lost > 0 ? `; guessed in ${lost}` : ''}
          </Dim>
          <PathMenu shot={shot} corr={corr} term={term} track={track} lost={lost} kind={kind} running={running} />
        </Line>
      )}
    </section>
  );
}
