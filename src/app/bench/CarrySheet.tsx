/** To which other shots a correction is carried, and what it makes of each: seen before it is taken. */
import { useMemo, useState } from 'react';
import { Dialog, Heading } from 'react-aria-components';
import styled from 'styled-components';
import { mediaOf, shotsOf } from '../../document/records';
import type { CorrectionRecord, MediaRecord, Records, ShotRecord } from '../../document/records';
import type { ShotState } from '../../protocol/messages';
import { Button, Dim, Line, Select } from '../../ui/controls';
import { Sheet, Veil } from '../../ui/Sheet';
import { correction, shotState } from '../actions';
import { cannotCarry, carried, carryCorrection } from '../carry';
import type { CarryHow } from '../carry';
import { SmallPicture } from './SmallPicture';
import { useDoc, useSession } from '../store';
import { wordsOf } from '../words';

const Two = styled.div`
  display: grid;
  grid-template-columns: minmax(190px, 1fr) 400px;
  gap: 22px;
  margin: 10px 0 14px;
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    max-height: 46vh;
    overflow: auto;
  }
  li {
    border-radius: 4px;
    padding: 3px 6px;
  }
  li[data-seen='true'] {
    background: var(--chosen);
  }
  label {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  figure {
    margin: 0 0 8px;
  }
  canvas {
    display: block;
    width: 400px;
    background: var(--stage);
    border-radius: 4px;
  }
  figcaption {
    color: var(--dim);
    font-size: 12px;
    margin-top: 2px;
  }
`;
const WIDE = 400;
function Picture({ media, state, says }: { media: MediaRecord; state: ShotState; says: string }) {
  const [fault, setFault] = useState<Error | null>(null);
  return (
    <figure>
      <SmallPicture media={media} state={state} wide={WIDE} says={says} fault={setFault} />
      <figcaption>{fault ? `It could not be drawn: ${wordsOf(fault)}` : says}</figcaption>
    </figure>
  );
}

function Choice({ corr, records, close }: { corr: CorrectionRecord; records: Records; close: () => void }) {
  const shots = shotsOf(records).filter((s) => s.id !== corr.owner);
  const [how, setHow] = useState<CarryHow>('whole');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [seen, setSeen] = useState(shots[0]?.id);
  const shot = shots.find((s) => s.id === seen);
  const media = shot && mediaOf(records, shot);
  const why = (s: ShotRecord): string | null => cannotCarry(records, corr, s.id, how);
  const list = shots.filter((s) => chosen.has(s.id) && !why(s));
  const states = useMemo(
    () => shot && [records, carried(records, corr, shot.id, how)].map((r) => shotState(r, shot, false, shot.range[0])),
    [shot, records, corr, how],
  );
  return (
    <>
      <Heading slot="title">{`Carry ${corr.name} to other shots`}</Heading>
      <Line style={{ maxWidth: 420 }}>
        <span>What</span>
        <Select aria-label="What is carried" value={how} onChange={(e) => setHow(e.target.value as CarryHow)}>
          <option value="whole">the whole correction, as a further one</option>
          <option value="values">its adjustments, into the one of its name</option>
        </Select>
      </Line>
      <Two>
        <ul>
          {shots.map((s) => {
            const no = why(s);
            return (
              <li key={s.id} data-seen={s.id === seen} onPointerEnter={() => setSeen(s.id)}>
                <label>
                  <input
                    type="checkbox"
                    checked={chosen.has(s.id) && !no}
                    disabled={!!no}
                    onFocus={() => setSeen(s.id)}
                    onChange={(e) => {
                      const next = new Set(chosen);
                      if (e.target.checked) next.add(s.id);
                      else next.delete(s.id);
                      setChosen(next);
                      setSeen(s.id);
                    }}
                  />
                  <span>{s.name}</span>
                  {no && <Dim>{no}</Dim>}
                </label>
              </li>
            );
          })}
          {shots.length === 0 && <Dim>There is no other shot: import one in Shots first.</Dim>}
        </ul>
        <div>
          {shot && media && states && (
            <>
              <Picture media={media} state={states[0]!} says={`${shot.name} as it is`} />
              {why(shot) ? (
                <Dim>{`${shot.name} ${why(shot)}.`}</Dim>
              ) : (
                <Picture media={media} state={states[1]!} says={`${shot.name} with it`} />
              )}
            </>
          )}
        </div>
      </Two>
      <div style={{ display: 'flex', gap: 8 }}>
        <Button look="outline" onPress={() => setChosen(new Set(shots.map((s) => s.id)))}>
          All
        </Button>
        <Button look="outline" onPress={() => setChosen(new Set())}>
          None
        </Button>
        <span style={{ flex: 1 }} />
        <Button onPress={close}>Leave it</Button>
        <Button
          look="strong"
          isDisabled={list.length === 0}
          onPress={() => {
            carryCorrection(corr.id, list, how);
            close();
          }}
        >
          {list.length === 0
            ? 'Carry to \u2026'
            : list.length === 1
              ? `Carry to ${list[0]!.name}`
              : `Carry to ${list.length} shots`}
        </Button>
      </div>
    </>
  );
}

export default function CarrySheet() {
  const { carrying, set } = useSession();
  const records = useDoc((s) => s.records);
  const corr = correction(carrying);
  const close = (): void => set({ carrying: null });
  return (
    <Veil isOpen={corr !== null} onOpenChange={(open) => !open && close()} isDismissable>
      <Sheet>
        <Dialog aria-label="Carry to other shots" style={{ outline: 'none' }}>
          {corr && <Choice key={corr.id} corr={corr} records={records} close={close} />}
        </Dialog>
      </Sheet>
    </Veil>
  );
}
