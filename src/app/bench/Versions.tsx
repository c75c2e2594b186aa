/** What the picture is compared with, and the versions of a shot: kept, looked at, gone back to. */
import { useState } from 'react';
import { Undo2, X } from 'lucide-react';
import { useShallow } from 'zustand/react/shallow';
import styled from 'styled-components';
import { shotsOf } from '../../document/records';
import type { ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Select, TextField } from '../../ui/controls';
import { mediaIdOf } from '../mediaKey';
import { guard } from '../notices';
import { HELD } from '../reference';
import { useDoc, useSession } from '../store';
import { goBack, keepVersion, removeVersion, versionsOf } from '../versions';

const TITLE =
  'The other side: before all corrections, the file as it came, without the chosen correction, a version, the frame ' +
  'that is held (Shift H), or another shot as it stands';
/** What stands on the other side of a wipe. */
export function AgainstSelect({ shot }: { shot: ShotRecord | null }) {
  const { against, reference, set } = useSession();
  const versions = useDoc(useShallow((s) => (shot ? versionsOf(s.records, shot.id) : [])));
  const others = useDoc(useShallow((s) => shotsOf(s.records).filter((x) => x.id !== shot?.id)));
  const there = useDoc((s) => reference !== null && mediaIdOf(reference.state.media) in s.records);
  const known =
    ['converted', 'came', 'without'].includes(against) ||
    (against === HELD && there) ||
    [...versions, ...others].some((v) => v.id === against);
  return (
    <Select
      aria-label="Compared with"
      title={TITLE}
      value={known ? against : 'converted'}
      onChange={(e) => set({ against: e.target.value })}
      style={{ maxWidth: 104, flex: 'none' }}
    >
      <option value="converted">before</option>
      <option value="came">as it came</option>
      <option value="without">without it</option>
      {versions.map((v) => (
        <option key={v.id} value={v.id}>
          {v.name}
        </option>
      ))}
      {there && <option value={HELD}>held: {reference!.name}</option>}
      {others.length > 0 && (
        <optgroup label="another shot">
          {others.map((o) => (
            <option key={o.id} value={o.id}>
              {o.name}
            </option>
          ))}
        </optgroup>
      )}
    </Select>
  );
}

const List = styled.ul`
  margin: 2px 0;
  padding: 0;
  list-style: none;
  li {
    display: flex;
    align-items: center;
    gap: 4px;
    min-height: 28px;
  }
  li > span {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
`;
export function Versions({ shot }: { shot: ShotRecord }) {
  const list = useDoc(useShallow((s) => versionsOf(s.records, shot.id)));
  const { against, compare, set } = useSession();
  const [name, setName] = useState('');
  const keep = (): void => {
    keepVersion(shot, name);
    setName('');
  };
  return (
    <section aria-label="Versions">
      <p style={{ margin: '12px 0 2px' }}>
        <b>Versions</b> <Dim>of this shot, kept with the project</Dim>
      </p>
      <List>
        {list.map((v) => (
          <li key={v.id}>
            <span title={`Kept ${v.at.slice(0, 16).replace('T', ' ')}`}>{v.name}</span>
            <Button
              onPress={() => set({ against: v.id, compare: compare === 'off' || against !== v.id ? 'wipe' : 'off' })}
              tip={`Wipes between "${v.name}" and what is set now`}
            >
              Compare
            </Button>
            <IconButton
              aria-label={`Back to ${v.name}`}
              tip="Sets the shot as it was then; one undo"
              onPress={() => void guard('It was not gone back to', () => Promise.resolve(goBack(v)))}
            >
              <Undo2 />
            </IconButton>
            <IconButton aria-label={`Remove the version ${v.name}`} tip="Remove" onPress={() => removeVersion(v.id)}>
              <X />
            </IconButton>
          </li>
        ))}
      </List>
      <div style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
        <TextField
          aria-label="Name of a version"
          placeholder={`Version ${list.length + 1}`}
          maxLength={80}
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter') keep();
          }}
        />
        <Button
          look="outline"
          onPress={keep}
          tip="Keeps encoding, conversion and the shot's own corrections as they are"
        >
          Keep
        </Button>
      </div>
    </section>
  );
}
