/** Cuts that were found in a shot, each with the frames on its two sides, to be taken or left; one undo. */
import { useEffect, useRef, useState } from 'react';
import { Dialog, Heading } from 'react-aria-components';
import styled from 'styled-components';
import { timecodeOf } from '../../core/math/timecode';
import type { Cut } from '../../core/track/cuts';
import type { MediaRecord, ShotId, ShotRecord } from '../../document/records';
import { Button, Dim } from '../../ui/controls';
import { Sheet, Veil } from '../../ui/Sheet';
import { shotState } from '../actions';
import { splitShot } from '../cut';
import { lookForCuts } from '../cuts';
import { cancelJob, useJobs } from '../jobs';
import { useDoc } from '../store';
import { SmallPicture } from './SmallPicture';

const List = styled.ul`
  list-style: none;
  margin: 10px 0;
  padding: 0;
  max-height: 52vh;
  overflow: auto;
  li {
    border-bottom: 1px solid var(--line);
  }
  label {
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 6px 2px;
  }
  canvas {
    width: 128px;
    background: var(--stage);
    border-radius: 3px;
    display: block;
  }
  .words {
    display: flex;
    flex-direction: column;
    min-width: 150px;
  }
`;
const WIDE = 256;
function Side({ shot, media, frame, says }: { shot: ShotRecord; media: MediaRecord; frame: number; says: string }) {
  const state = { ...shotState(useDoc.getState().records, shot, false, frame), corrections: [] };
  return <SmallPicture media={media} state={state} wide={WIDE} says={says} />;
}

function Found({ shot, media, done }: { shot: ShotRecord; media: MediaRecord; done: (first: ShotId | null) => void }) {
  const [cuts, setCuts] = useState<Cut[] | null | undefined>(undefined);
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const job = useRef<AbortSignal | null>(null);
  const running = useJobs((s) => s.jobs.find((j) => j.abort.signal === job.current));
  useEffect(() => {
    let gone = false;
    void lookForCuts(shot, (run) => (job.current = run.signal)).then((c) => !gone && setCuts(c));
    return () => {
      gone = true;
      const mine = useJobs.getState().jobs.find((j) => j.abort.signal === job.current);
      if (mine?.state === 'running') cancelJob(mine.id);
    };
    // Of the shot as it was when it was asked.
  }, []);
  const [first, last] = shot.range;
  if (cuts === undefined)
    return (
      <>
        <p role="status" style={{ margin: '12px 0' }}>
          {running ? `${running.done} of ${running.steps} frames looked at \u2026` : 'Beginning \u2026'}
        </p>
        <div style={{ display: 'flex', justifyContent: 'flex-end' }}>
          <Button onPress={() => done(null)}>Cancel</Button>
        </div>
      </>
    );
  const taken = (cuts ?? []).filter((c) => !left.has(c.frame));
  return (
    <>
      {cuts === null && <p role="alert">Not all frames could be looked at: the list of jobs below says why.</p>}
      {cuts?.length === 0 && (
        <p style={{ margin: '12px 0' }}>
          No cut was found from frame {first} to {last}. Dissolves and fades are not looked for: move the playhead there
          and cut by hand.
        </p>
      )}
      {!!cuts?.length && (
        <List aria-label="Cuts">
          {cuts.map((c) => (
            <li key={c.frame} data-cut={c.frame}>
              <label>
                <input
                  type="checkbox"
                  checked={!left.has(c.frame)}
                  onChange={(e) => {
                    const next = new Set(left);
                    if (e.target.checked) next.delete(c.frame);
                    else next.add(c.frame);
                    setLeft(next);
                  }}
                />
                <Side shot={shot} media={media} frame={c.frame - 1} says={`Frame ${c.frame - 1}, before the cut`} />
                <Side shot={shot} media={media} frame={c.frame} says={`Frame ${c.frame}, after the cut`} />
                <span className="words">
                  <span>before frame {c.frame}</span>
                  <Dim>{timecodeOf(shot.timecode.start + c.frame, shot.rate, shot.timecode.drop)}</Dim>
                  {c.unlike < 0.5 && <Dim>the two are somewhat alike: look</Dim>}
                </span>
              </label>
            </li>
          ))}
        </List>
      )}
      <div style={{ display: 'flex', gap: 8 }}>
        {!!cuts?.length && (
          <>
            <Button look="outline" onPress={() => setLeft(new Set())}>
              All
            </Button>
            <Button look="outline" onPress={() => setLeft(new Set(cuts.map((c) => c.frame)))}>
              None
            </Button>
          </>
        )}
        <span style={{ flex: 1 }} />
        <Button onPress={() => done(null)}>{cuts?.length ? 'Leave it' : 'Close'}</Button>
        {!!cuts?.length && (
          <Button
            look="strong"
            isDisabled={taken.length === 0}
            onPress={() =>
              done(
                splitShot(
                  shot,
                  taken.map((c) => c.frame),
                ),
              )
            }
          >
            {taken.length === 0 ? 'Make shots' : `Make ${taken.length + 1} shots`}
          </Button>
        )}
      </div>
    </>
  );
}

export default function CutsSheet({
  shot,
  media,
  close,
}: {
  shot: ShotRecord;
  media: MediaRecord;
  /** With a shot that was made, or null. */
  close: (made: ShotId | null) => void;
}) {
  return (
    <Veil isOpen onOpenChange={(open) => !open && close(null)} isDismissable>
      <Sheet style={{ width: 'min(620px, 94vw)' }}>
        <Dialog aria-label="Cuts" style={{ outline: 'none' }}>
          <Heading slot="title">{`Cuts in ${shot.name}`}</Heading>
          <Found shot={shot} media={media} done={close} />
        </Dialog>
      </Sheet>
    </Veil>
  );
}
