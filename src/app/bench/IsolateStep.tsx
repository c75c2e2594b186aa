/** Isolate: keys and shapes of the region, each open to its own controls. */
import { useState } from 'react';
import { useSortable } from '@dnd-kit/react/sortable';
import { Brush, Ellipsis, GripVertical, Magnet, Pipette, Plus } from 'lucide-react';
import { Menu, MenuItem, MenuTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { opById } from '../../core/graph/plan';
import { ops } from '../../core/ops/registry.gen';
import type { Term } from '../../core/graph/plan';
import { allTerms, isGroup, isLink, isMatte, isOp, OWN } from '../../core/graph/region';
import type { CorrectionRecord, MediaRecord, Records, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Select, Switch, TextField } from '../../ui/controls';
import { MenuBox } from '../../ui/MenuBox';
import { chosenKey } from '../actions';
import {
  addLink,
  addTerm,
  bracketTerm,
  editTerm,
  linkable,
  moveTerm,
  moveTermTo,
  removeTerm,
  renameTerm,
  setTermOn,
  unbracketTerm,
} from '../region';
import { copyPart, pastePart, usePart } from '../copyPart';
import { addOwnAlpha } from '../importMatte';
import { Reorder } from '../Reorder';
import { useDoc, useSession } from '../store';
import { shapes } from './tools';
import { useMatteFiles } from './MatteControls';
import { PartControls } from './PartControls';

const Tools = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  margin-bottom: 8px;
  > * {
    padding: 0 7px;
  }
`;
const Box = styled.section`
  border-top: 1px solid var(--line);
  padding: 2px 0 4px;
  margin: 0 -14px;
  padding-left: 14px;
  padding-right: 14px;
  &[data-chosen='true'] {
    background: color-mix(in srgb, var(--bg), #fff 3%);
  }
`;
const Head = styled.div`
  display: flex;
  align-items: center;
  gap: 6px;
  height: 30px;
  .grip {
    display: flex;
    cursor: grab;
    color: var(--dim);
    margin: 0 -4px 0 -8px;
    svg {
      width: 14px;
    }
  }
  button.name {
    border: none;
    background: none;
    padding: 0;
    font-weight: 600;
    flex: 1;
    min-width: 0;
    text-align: left;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  select {
    max-width: 78px;
    padding: 0 1px;
  }
`;

/** What stands in brackets: drawn in along a line. */
const Inner = styled.div`
  margin: 0 -14px 2px 2px;
  border-left: 2px solid var(--line);
  > section {
    margin: 0;
    padding-right: 14px;
  }
`;

/** What is done with a part as such. */
function PartMenu({
  corr,
  term,
  first,
  last,
  nested,
  onRename,
}: PartProps & { first: boolean; last: boolean; nested: boolean; onRename: () => void }) {
  const name = term.name;
  const { alone, set } = useSession();
  const does: Record<string, () => void> = {
    alone: () => set({ alone: alone === term.id ? null : term.id }),
    rename: onRename,
    copy: () => copyPart(corr.id, term.id),
    up: () => moveTerm(corr.id, term.id, -1),
    down: () => moveTerm(corr.id, term.id, 1),
    bracket: () => bracketTerm(corr.id, term.id),
    out: () => unbracketTerm(corr.id, term.id),
    remove: () => removeTerm(corr.id, term.id),
  };
  return (
    <MenuTrigger>
      <IconButton aria-label={`More for ${name}`}>
        <Ellipsis />
      </IconButton>
      <MenuBox placement="bottom end">
        <Menu onAction={(k) => does[String(k)]?.()}>
          {isLink(term) ? null : <MenuItem id="rename">Rename (F2)</MenuItem>}
          <MenuItem id="copy">Copy (Ctrl C)</MenuItem>
          <MenuItem id="alone">{alone === term.id ? 'Look at all parts' : 'Look at it alone'}</MenuItem>
          {first ? null : <MenuItem id="up">Move up</MenuItem>}
          {last ? null : <MenuItem id="down">Move down</MenuItem>}
          {first ? null : <MenuItem id="bracket">Into brackets with the one before</MenuItem>}
          {isGroup(term) ? (
            <MenuItem id="out">Take the brackets away</MenuItem>
          ) : nested ? (
            <MenuItem id="out">Out of the brackets</MenuItem>
          ) : null}
          <MenuItem id="remove">Remove</MenuItem>
        </Menu>
      </MenuBox>
    </MenuTrigger>
  );
}

interface PartProps {
  corr: CorrectionRecord;
  term: Term;
}
function Part({
  corr,
  term: t,
  i,
  count,
  depth,
  open,
  shot,
  media,
  records,
}: PartProps & {
  i: number;
  count: number;
  depth: number;
  open: string | undefined;
  shot: ShotRecord;
  media: MediaRecord;
  records: Records;
}) {
  const set = useSession((s) => s.set);
  const [naming, setNaming] = useState(false);
  const rename = (to: string): void => {
    if (naming && to.trim() && to.trim() !== t.name) renameTerm(corr.id, t.id, to.trim());
    setNaming(false);
  };
  const { ref, handleRef } = useSortable({ id: t.id, index: i });
  const chosen = t.id === open;
  const target = isLink(t) ? records[t.of] : undefined;
  const name = target?.type === 'correction' ? target.name : t.name;
  const words: [string, string] = isGroup(t)
    ? ['in', 'not in']
    : isLink(t)
      ? ['inside', 'outside']
      : isOp(t) && opById(t.use.op).kind === 'key'
        ? ['where', 'not where']
        : ['inside', 'not inside'];
  const negative = isLink(t) ? t.outside !== t.not : t.not;
  return (
    <Box
      ref={ref}
      data-chosen={chosen}
      data-part={t.id}
      aria-label={name}
      style={{ paddingLeft: 14 + 12 * depth }}
      data-depth={depth}
    >
      <Head>
        {count > 1 && (
          <span ref={handleRef} className="grip" aria-hidden title="Drag to another place (Alt and arrows)">
            <GripVertical />
          </span>
        )}
        {i > 0 && (
          <Select
            aria-label={`How ${name} joins`}
            value={t.join}
            onChange={(e) => editTerm(corr.id, t.id, { join: e.target.value as 'and' | 'or' })}
          >
            <option value="and">and</option>
            <option value="or">or</option>
          </Select>
        )}
        <Select
          aria-label={`${name}: inside or not`}
          value={negative ? 'not' : 'is'}
          onChange={(e) => {
            const not = e.target.value === 'not';
            editTerm(corr.id, t.id, isLink(t) ? { outside: not, not: false } : { not });
          }}
        >
          <option value="is">{words[0]}</option>
          <option value="not">{words[1]}</option>
        </Select>
        {naming ? (
          <TextField
            autoFocus
            aria-label="Name of the part"
            defaultValue={t.name}
            maxLength={80}
            style={{ flex: 1, minWidth: 0 }}
            onBlur={(e) => rename(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') rename(e.currentTarget.value);
              if (e.key === 'Escape') setNaming(false);
            }}
          />
        ) : (
          <button
            type="button"
            className="name"
            aria-expanded={chosen}
            onClick={() => set({ term: t.id })}
            onKeyDown={(e) => {
              const mod = e.ctrlKey || e.metaKey;
              const does =
                e.key === 'F2' && !isLink(t)
                  ? () => setNaming(true)
                  : mod && e.key.toLowerCase() === 'c'
                    ? () => copyPart(corr.id, t.id)
                    : mod && e.key.toLowerCase() === 'v'
                      ? () => pastePart(corr.id)
                      : e.altKey && e.key === 'ArrowUp' && i > 0
                        ? () => moveTerm(corr.id, t.id, -1)
                        : e.altKey && e.key === 'ArrowDown' && i < count - 1
                          ? () => moveTerm(corr.id, t.id, 1)
                          : null;
              if (!does) return;
              e.preventDefault();
              e.stopPropagation();
              does();
            }}
          >
            {name}
          </button>
        )}
        <Switch
          aria-label={`${name} on or off`}
          isSelected={isOp(t) ? t.use.on : t.on}
          onChange={(on) => setTermOn(corr.id, t.id, on)}
        />
        <PartMenu
          corr={corr}
          term={t}
          first={i === 0}
          last={i === count - 1}
          nested={depth > 0}
          onRename={() => setNaming(true)}
        />
      </Head>
      {isGroup(t) ? (
        <Inner>
          <Reorder onMove={(id, to) => moveTermTo(corr.id, id, to)}>
            {t.group.map((x, k) => (
              <Part
                key={x.id}
                corr={corr}
                term={x}
                i={k}
                count={t.group.length}
                depth={depth + 1}
                open={open}
                shot={shot}
                media={media}
                records={records}
              />
            ))}
          </Reorder>
        </Inner>
      ) : chosen ? (
        <PartControls corr={corr} term={t} shot={shot} media={media} />
      ) : null}
    </Box>
  );
}
const SHAPE_TIPS: Readonly<Record<string, string>> = {
  ellipse: 'drag a box round the thing (E)',
  box: 'drag a box round the thing (Shift E)',
  freeform: 'click round the thing, point by point (D)',
  ramp: 'drag from where it is full to where it ends (Y)',
  band: 'drag across it, from border to border (Shift Y)',
};
const keys = ops.filter((o) => o.kind === 'key');
/** Keys that a sample sets: one that is added asks for it at once. */
const SAMPLED_KEYS = new Set(['nearness']);
const SAMPLES = [
  ['again', 'Again', 'Drag across the thing on the picture: the key is fitted to what you touched (C)'],
  ['add', 'Add to it', 'Drag across more of the thing: the key takes it in as well (Shift C)'],
  ['take', 'Take away', 'Drag across what does not belong to it: the key is narrowed where that costs least (X)'],
] as const;
export function IsolateStep({ corr, shot, media }: { corr: CorrectionRecord; shot: ShotRecord; media: MediaRecord }) {
  const { term, tool, sampling, snap, set } = useSession();
  const records = useDoc((s) => s.records);
  const parts = allTerms(corr.terms);
  const open = (parts.find((t) => t.id === term) ?? parts.find((t) => !isGroup(t)))?.id;
  const hasKey = chosenKey(corr) !== null;
  const may = linkable(records, corr);
  const copied = usePart((p) => p.term);
  const [matteFiles, chooseMatte] = useMatteFiles(corr, shot);
  return (
    <>
      <Tools>
        {SAMPLES.filter(([how]) => hasKey || how === 'again').map(([how, label, tip]) => (
          <Button
            key={how}
            look="outline"
            aria-pressed={tool === 'key' && sampling === how}
            onPress={() => set(tool === 'key' && sampling === how ? { tool: 'none' } : { tool: 'key', sampling: how })}
            tip={tip}
          >
            {how === 'again' && <Pipette />}
            {how === 'again' && !hasKey ? 'Sample a key' : label}
          </Button>
        ))}
        <Button
          look="outline"
          aria-pressed={tool === 'keepStroke'}
          onPress={() => set({ tool: tool === 'keepStroke' ? 'none' : 'keepStroke' })}
          tip="Paint on what you mean and on what is not meant: it spreads over like colour up to an edge (G, Shift G)"
        >
          <Brush />
          Paint a spread
        </Button>
        <Button
          look="outline"
          aria-pressed={tool === 'skinPress'}
          onPress={() => set({ tool: tool === 'skinPress' ? 'none' : 'skinPress' })}
          tip="Press on a person\u2019s skin: region, clean patch and push to the line in one (Shift T)"
        >
          Press on skin
        </Button>
        {shapes.map((o) => (
          <Button
            key={o.id}
            look="outline"
            aria-pressed={tool === `shape:${o.id}`}
            onPress={() => set({ tool: tool === `shape:${o.id}` ? 'none' : `shape:${o.id}` })}
            tip={`${o.title}: ${SHAPE_TIPS[o.id] ?? 'drag a box round the thing'}`}
          >
            {o.title}
          </Button>
        ))}
        <Button
          look="outline"
          aria-pressed={snap}
          onPress={() => set({ snap: !snap })}
          tip="Handles are caught by the frame's edges and middle, and by each other; Alt lets them go"
        >
          <Magnet />
          Snap
        </Button>
        {matteFiles}
        <MenuTrigger>
          <Button tip="Another kind of key, a matte from a file, or the region of another correction">
            <Plus />
            Part
          </Button>
          <MenuBox placement="bottom end">
            <Menu
              onAction={(k) => {
                const [what, id] = String(k).split('|');
                if (what === 'paste') pastePart(corr.id);
                else if (what === 'file') chooseMatte();
                else if (what === 'alpha') addOwnAlpha(corr.id);
                else if (what === 'key') {
                  addTerm(corr.id, id!, {});
                  if (SAMPLED_KEYS.has(id!)) set({ tool: 'key', sampling: 'again' });
                } else addLink(corr.id, id!, what === 'out');
              }}
            >
              {copied ? <MenuItem id="paste|">{`Paste ${copied.name}`}</MenuItem> : null}
              {keys.map((o) => (
                <MenuItem key={o.id} id={`key|${o.id}`}>
                  {o.id === 'key' ? (hasKey ? 'Another key' : 'Key by ranges') : o.title}
                </MenuItem>
              ))}
              <MenuItem id="file|">A matte from a file</MenuItem>
              {media.decode?.alpha === 'keep' && !parts.some((t) => isMatte(t) && t.matte === OWN) ? (
                <MenuItem id="alpha|">{'The picture\u2019s transparency'}</MenuItem>
              ) : null}
              {may.flatMap((c) => [
                <MenuItem key={`in|${c.id}`} id={`in|${c.id}`}>{`Inside the region of ${c.name}`}</MenuItem>,
                <MenuItem key={`out|${c.id}`} id={`out|${c.id}`}>{`Outside the region of ${c.name}`}</MenuItem>,
              ])}
            </Menu>
          </MenuBox>
        </MenuTrigger>
      </Tools>
      {corr.terms.length === 0 && (
        <Dim>The correction acts on the whole picture. Sample a key, paint a spread or draw a shape to limit it.</Dim>
      )}
      <Reorder onMove={(id, to) => moveTermTo(corr.id, id, to)}>
        {corr.terms.map((t, i) => (
          <Part
            key={t.id}
            corr={corr}
            term={t}
            i={i}
            count={corr.terms.length}
            depth={0}
            open={open}
            shot={shot}
            media={media}
            records={records}
          />
        ))}
      </Reorder>
    </>
  );
}
