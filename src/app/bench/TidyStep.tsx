/** Tidy: the steps that the operations offer, in their order. Best judged in the Matte view. */
import { Ellipsis } from 'lucide-react';
import { Menu, MenuItem, MenuTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { opById } from '../../core/graph/plan';
import { ops } from '../../core/ops/registry.gen';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Select, Switch } from '../../ui/controls';
import { MenuBox } from '../../ui/MenuBox';
import { addTidy, moveTidy, removeUse, resetUse, setParams, setUseOn } from '../actions';
import { useSession } from '../store';
import { valuesOf } from '../values';
import { Params } from './Adjustment';
import { HealthPanel } from './HealthPanel';

const Part = styled.section`
  margin: 0 -14px;
  padding: 0 14px 3px;
  border-top: 1px solid var(--line);
  header {
    display: flex;
    align-items: center;
    gap: 6px;
    height: 30px;
    font-weight: 600;
  }
  header span {
    flex: 1;
  }
`;
/** Every tidy step there is, by title. */
const offered = ops.filter((o) => o.kind === 'tidy').sort((a, b) => a.title.localeCompare(b.title));

export function TidyStep({ corr, shot }: { corr: CorrectionRecord; shot: ShotRecord }) {
  const { mode, frame, set } = useSession();
  // Of a still there are no other frames to lean on.
  const moves = shot.range[1] > shot.range[0];
  if (corr.terms.length === 0)
    return <Dim>There is no matte to tidy: the correction acts on the whole picture. Isolate something first.</Dim>;
  return (
    <>
      <HealthPanel corr={corr} shot={shot} />
      {corr.tidy.map((u, i) => {
        const op = opById(u.op);
        const does: Record<string, () => void> = {
          up: () => moveTidy(corr.id, u.id, -1),
          down: () => moveTidy(corr.id, u.id, 1),
          reset: () => resetUse(corr.id, u.id),
          remove: () => removeUse(corr.id, u.id),
        };
        return (
          <Part key={u.id} aria-label={op.title}>
            <header>
              <span>{op.title}</span>
              <Switch
                aria-label={`${op.title} on or off`}
                isSelected={u.on}
                onChange={(on) => setUseOn(corr.id, u.id, on)}
              />
              <MenuTrigger>
                <IconButton aria-label={`More for ${op.title}`}>
                  <Ellipsis />
                </IconButton>
                <MenuBox placement="bottom end">
                  <Menu onAction={(k) => does[String(k)]?.()}>
                    {i > 0 ? <MenuItem id="up">Move up</MenuItem> : null}
                    {i < corr.tidy.length - 1 ? <MenuItem id="down">Move down</MenuItem> : null}
                    <MenuItem id="reset">Reset</MenuItem>
                    <MenuItem id="remove">Remove</MenuItem>
                  </Menu>
                </MenuBox>
              </MenuTrigger>
            </header>
            <Params op={u.op} values={valuesOf(u, frame)} stored={u.params} put={(p) => setParams(corr.id, u.id, p)} />
          </Part>
        );
      })}
      <Select
        aria-label="Add a tidy step"
        value=""
        onChange={(e) => addTidy(corr.id, e.target.value)}
        style={{ margin: '8px 0' }}
      >
        <option value="">+ Add a tidy step</option>
        {offered
          .filter((o) => moves || o.area !== 'frame' || !o.frames)
          .map((o) => (
            <option key={o.id} value={o.id}>
              {o.title}
            </option>
          ))}
      </Select>
      <p style={{ margin: '2px 0 6px' }}>
        <Dim>They act from top to bottom. Judge them on the matte.</Dim>
      </p>
      <Button look="outline" onPress={() => set({ mode: mode === 'matte' ? 'picture' : 'matte' })}>
        {mode === 'matte' ? 'Show the picture (1)' : 'Show the matte (3)'}
      </Button>
    </>
  );
}
