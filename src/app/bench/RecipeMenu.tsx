/** Recipes beside Add: what comes ready, what was kept, and the list where kept ones are saved, opened, removed. */
import { useState } from 'react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown } from 'lucide-react';
import { Dialog, FileTrigger, Heading, Menu, MenuItem, MenuTrigger, Separator } from 'react-aria-components';
import styled from 'styled-components';
import type { ShotId } from '../../document/records';
import { Button, Dim, IconButton } from '../../ui/controls';
import { MenuBox } from '../../ui/MenuBox';
import { Sheet, Veil } from '../../ui/Sheet';
import {
  addReady,
  applyRecipe,
  keptRecipes,
  openRecipe,
  putBackRecipe,
  ready,
  removeRecipe,
  saveRecipe,
} from '../recipes';
import type { RecipeRow } from '../recipeStore';
import { wordsOf } from '../words';

const List = styled.ul`
  list-style: none;
  margin: 10px 0 14px;
  padding: 0;
  max-height: 50vh;
  overflow: auto;
  li {
    display: flex;
    align-items: center;
    gap: 6px;
    min-height: 32px;
    border-top: 1px solid var(--line);
  }
  li > b {
    flex: 1;
    font-weight: 600;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
`;
const KEY = ['recipes'];

export function RecipeMenu({ shot }: { shot: ShotId }) {
  const [listed, setListed] = useState(false);
  const client = useQueryClient();
  const { data: kept = [], error } = useQuery({ queryKey: KEY, queryFn: keptRecipes, staleTime: 0, retry: false });
  /** Removed while the list is open: each can be put back until it is closed. */
  const [gone, setGone] = useState<RecipeRow[]>([]);
  const anew = (): void => void client.invalidateQueries({ queryKey: KEY });
  const close = (): void => {
    setListed(false);
    setGone([]);
  };
  const add = (key: string): void => {
    if (key === 'list') setListed(true);
    else if (key.startsWith('ready ')) addReady(shot, key.slice(6));
    else {
      const row = kept.find((r) => `kept ${r.name}` === key);
      if (row) void applyRecipe(shot, row.text);
    }
  };
  return (
    <>
      <MenuTrigger onOpenChange={(open) => open && anew()}>
        <IconButton aria-label="Recipes" tip="Adds a correction that comes ready, or one that you kept">
          <ChevronDown />
        </IconButton>
        <MenuBox placement="bottom end">
          <Menu aria-label="Recipes" onAction={(k) => add(String(k))}>
            {ready.map((r) => (
              <MenuItem key={r.name} id={`ready ${r.name}`} textValue={r.name}>
                {r.name}
                <Dim style={{ display: 'block', maxWidth: 260, whiteSpace: 'normal' }}>{r.tip}</Dim>
              </MenuItem>
            ))}
            <Separator style={{ height: 1, background: 'var(--line)', margin: '4px 0' }} />
            {kept.map((r) => (
              <MenuItem key={`kept ${r.name}`} id={`kept ${r.name}`} textValue={r.name}>
                {r.name}
              </MenuItem>
            ))}
            <MenuItem id="list">Kept recipes {'\u2026'}</MenuItem>
          </Menu>
        </MenuBox>
      </MenuTrigger>
      <Veil isOpen={listed} onOpenChange={(open) => (open ? setListed(true) : close())} isDismissable>
        <Sheet style={{ width: 'min(520px, 94vw)' }}>
          <Dialog aria-label="Kept recipes" style={{ outline: 'none' }}>
            <Heading slot="title">Kept recipes</Heading>
            <p style={{ margin: '6px 0 0' }}>
              <Dim>
                {error
                  ? `They could not be read in this browser (${wordsOf(error)}). Reload the page and look again.`
                  : kept.length === 0
                    ? 'None yet: "Keep as a recipe" in a correction\'s menu keeps it; saved ones are opened here.'
                    : 'They stay in this browser, for every project. Save one as a file to take it elsewhere.'}
              </Dim>
            </p>
            <List>
              {kept.map((r) => (
                <li key={r.name} data-recipe={r.name}>
                  <b>{r.name}</b>
                  <Button
                    look="outline"
                    onPress={() => {
                      void applyRecipe(shot, r.text);
                      close();
                    }}
                  >
                    Add
                  </Button>
                  <Button onPress={() => saveRecipe(r)}>Save</Button>
                  <Button
                    onPress={() => {
                      setGone((list) => [...list, r]);
                      void removeRecipe(r.name).then(anew);
                    }}
                  >
                    Remove
                  </Button>
                </li>
              ))}
              {gone.map((r) => (
                <li key={`gone ${r.name}`}>
                  <b>
                    <Dim>{r.name} is removed</Dim>
                  </b>
                  <Button
                    look="outline"
                    onPress={() => {
                      setGone((list) => list.filter((x) => x !== r));
                      void putBackRecipe(r).then(anew);
                    }}
                  >
                    Put back
                  </Button>
                </li>
              ))}
            </List>
            <div style={{ display: 'flex', gap: 8 }}>
              <FileTrigger
                acceptedFileTypes={['.json']}
                onSelect={(l) => {
                  const f = l?.[0];
                  if (f) void openRecipe(f).then(anew);
                }}
              >
                <Button look="outline">Open a file</Button>
              </FileTrigger>
              <span style={{ flex: 1 }} />
              <Button look="strong" onPress={close}>
                Done
              </Button>
            </div>
          </Dialog>
        </Sheet>
      </Veil>
    </>
  );
}
