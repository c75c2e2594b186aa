/** Isolate: keys and shapes of the region, each open to its own controls. */
import { useState } from 'react';
import { useSortable } from '@dnd-kit/react/sortable';
import { Brush, Ellipsis, GripVertical, Magnet, Pipette, Plus } from 'lucide-react';
import { Menu, MenuItem, MenuTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { defaultsOf } from '../../core/op/params';
import type { ChoiceSpec, NumSpec } from '../../core/op/params';
import { encodingAt, opById } from '../../core/graph/plan';
import { ops } from '../../core/ops/registry.gen';
import { wrap360 } from '../../core/math/angle';
import { hueWidth } from '../../core/ops/key/index';
import type { LinkTerm, OpTerm, Term } from '../../core/graph/plan';
import { allTerms, hasRegion, isGroup, isLink, isMatte, isOp, mapTerms, OWN } from '../../core/graph/region';
import { ownCorrectionsOf } from '../../document/records';
import type { CorrectionRecord, MediaRecord, Records, ShotRecord } from '../../document/records';
import { Button, Dim, IconButton, Line, Select, Switch, TextField } from '../../ui/controls';
import { ParamSlider } from '../../ui/ParamSlider';
import { KeySector } from '../../ui/KeySector';
import type { Axis, Limit } from '../../ui/KeySector';
import { PLANE_CELLS } from '../../protocol/messages';
import { useLive } from '../live';
import { MenuBox } from '../../ui/MenuBox';
import type { KeySpace } from '../../core/matte/keySpace';
import { chosenKey, gesture, setParams, spaceOf } from '../actions';
import { tellKeyIn } from '../keySpaces';
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
import { grows } from '../strokes';
import { Reorder } from '../Reorder';
import { useDoc, useSession } from '../store';
import { useFrame, valuesOf } from '../values';
import { shapes } from './tools';
import { FollowBox } from './FollowBox';
import { FreeformControls } from './FreeformControls';
import { Params } from './Adjustment';
import { MatteControls, useMatteFiles } from './MatteControls';
import { NearnessControls } from './NearnessControls';
import { StrokeControls } from './StrokeControls';
import { useDistributions } from './useDistributions';

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

/** As the noise reduction's own strength, of the copy that a key reads. */
const QUIET: NumSpec = {
  ...(opById('denoise').params['strengthPct'] as NumSpec),
  label: 'Quieter copy',
  doc: 'The key reads the picture with its noise taken out by this strength; the result never shows that copy.',
};
function Reads({ corr, term }: { corr: CorrectionRecord; term: OpTerm }) {
  return (
    <>
      <Line>
        <span>Reads</span>
        <Select
          aria-label="What the key reads"
          value={term.reads ?? 'here'}
          onChange={(e) => editTerm(corr.id, term.id, { reads: e.target.value === 'base' ? 'base' : null })}
        >
          <option value="here">the picture as it stands here</option>
          <option value="base">the picture before any correction</option>
        </Select>
      </Line>
      <ParamSlider
        spec={QUIET}
        value={term.quietPct ?? 0}
        onChange={(x) => editTerm(corr.id, term.id, { quietPct: x })}
        {...gesture('Change the quieter copy')}
      />
    </>
  );
}

const NO_DOTS: number[] = [];
function limitsOf(v: Record<string, number | boolean>): Record<Axis, Limit> {
  const one = (p: Axis, u: 'Deg' | 'Pct'): Limit => ({
    on: Boolean(v[`${p}On`]),
    from: Number(v[`${p}From${u}`]),
    to: Number(v[`${p}To${u}`]),
    fadeFrom: Number(v[`${p}FadeFrom${u}`]),
    fadeTo: Number(v[`${p}FadeTo${u}`]),
  });
  const hue = one('hue', 'Deg');
  // Told as angles, whatever turn they were stored on.
  const width = hueWidth(hue.from, hue.to);
  hue.from = Math.round(10 * wrap360(hue.from)) / 10;
  hue.to = Math.round(10 * (width < 360 ? wrap360(hue.from + width) : hue.from + 360)) / 10;
  return { hue, sat: one('sat', 'Pct'), luma: one('luma', 'Pct') };
}
const keyDefaults = limitsOf(defaultsOf(opById('key').params) as Record<string, number | boolean>);
const SPACE = opById('key').params['space'] as ChoiceSpec;
function KeyControls({ corr, term, shot }: { corr: CorrectionRecord; term: OpTerm; shot: ShotRecord }) {
  const space = spaceOf(term);
  const d = useDistributions(shot, corr.id, term);
  const dots = useLive((s) => (s.sampled?.use === term.use.id ? s.sampled.dots : NO_DOTS));
  const v = valuesOf(term.use, useFrame());
  return (
    <>
      <Line title={SPACE.doc}>
        <span>{SPACE.label}</span>
        <Select
          aria-label={SPACE.label}
          value={space}
          onChange={(e) => void tellKeyIn(shot, corr.id, term, e.target.value as KeySpace)}
        >
          {Object.entries(SPACE.options).map(([id, label]) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </Select>
      </Line>
      <KeySector
        space={space}
        encoding={encodingAt(shot, corr.side)}
        value={limitsOf(v)}
        defaults={keyDefaults}
        plane={d.plane}
        cells={PLANE_CELLS}
        bins={d.luma}
        dots={dots}
        onChange={(axis, l) => {
          const u = axis === 'hue' ? 'Deg' : 'Pct';
          setParams(corr.id, term.use.id, {
            [`${axis}On`]: l.on,
            [`${axis}From${u}`]: l.from,
            [`${axis}To${u}`]: l.to,
            [`${axis}FadeFrom${u}`]: l.fadeFrom,
            [`${axis}FadeTo${u}`]: l.fadeTo,
          });
        }}
        {...gesture('Change the key')}
      />
      <ParamSlider
        spec={opById('key').params['neutralPct'] as NumSpec}
        value={v['neutralPct']!}
        onChange={(x) => setParams(corr.id, term.use.id, { neutralPct: x })}
        {...gesture('Change the key')}
      />
      <ParamSlider
        spec={opById('key').params['leanPct'] as NumSpec}
        value={v['leanPct']!}
        onChange={(x) => setParams(corr.id, term.use.id, { leanPct: x })}
        {...gesture('Change the key')}
      />
      <Reads corr={corr} term={term} />
    </>
  );
}

function ShapeControls({ corr, term, media }: { corr: CorrectionRecord; term: OpTerm; media: MediaRecord }) {
  const v = valuesOf(term.use, useFrame());
  const ui: Record<string, [number, number]> = {
    cxPx: [0, media.width],
    cyPx: [0, media.height],
    rxPx: [1, media.width / 2],
    ryPx: [1, media.height / 2],
    softInPx: [0, media.height / 4],
    softOutPx: [0, media.height / 4],
    widthPx: [0, media.height],
    fromXPx: [0, media.width],
    fromYPx: [0, media.height],
    toXPx: [0, media.width],
    toYPx: [0, media.height],
  };
  return (
    <>
      {Object.entries(opById(term.use.op).params).map(([name, spec]) =>
        spec.kind === 'num' ? (
          <ParamSlider
            key={name}
            spec={{ ...spec, ui: ui[name] ?? spec.ui }}
            value={v[name]!}
            onChange={(x) => setParams(corr.id, term.use.id, { [name]: x })}
            {...gesture(`Change ${spec.label.toLowerCase()}`)}
          />
        ) : null,
      )}
      {term.use.op === 'freeform' && <FreeformControls corr={corr} term={term} />}
    </>
  );
}

function LinkControls({ corr, term, records }: { corr: CorrectionRecord; term: LinkTerm; records: Records }) {
  const target = records[term.of];
  const may = linkable(records, { ...corr, terms: mapTerms(corr.terms, (t) => (t.id === term.id ? null : t)) });
  const after =
    correctionsOwner(records, corr).findIndex((c) => c.id === term.of) > correctionsOwner(records, corr).indexOf(corr);
  return (
    <>
      <Line>
        <span>Region of</span>
        <Select
          aria-label="Correction whose region counts"
          value={term.of}
          onChange={(e) => editTerm(corr.id, term.id, { of: e.target.value })}
        >
          {may.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </Select>
      </Line>
      <Dim>
        {after
          ? 'It stands after this one: its region is taken as it would be here, on this picture. '
          : 'Its tidied region counts, also while it is off. '}
        {target?.type === 'correction' && !hasRegion(target) ? 'It acts on the whole picture.' : ''}
      </Dim>
    </>
  );
}

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
  const frame = useFrame();
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
        isLink(t) ? (
          <LinkControls corr={corr} term={t} records={records} />
        ) : isMatte(t) ? (
          <MatteControls corr={corr} term={t} shot={shot} records={records} />
        ) : t.use.op === 'key' ? (
          <>
            <StrokeControls corr={corr} term={t} shot={shot} />
            <KeyControls corr={corr} term={t} shot={shot} />
          </>
        ) : t.use.op === 'nearness' ? (
          <>
            <StrokeControls corr={corr} term={t} shot={shot} />
            <NearnessControls corr={corr} term={t} />
            <Reads corr={corr} term={t} />
          </>
        ) : grows(t.use.op) ? (
          <>
            <StrokeControls corr={corr} term={t} shot={shot} />
            <Params
              op={t.use.op}
              values={valuesOf(t.use, frame)}
              stored={t.use.params}
              put={(p) => setParams(corr.id, t.use.id, p)}
            />
            <Reads corr={corr} term={t} />
          </>
        ) : (
          <>
            <ShapeControls corr={corr} term={t} media={media} />
            {/* A ramp has no inside to follow; a scene's shapes stand in many shots. */}
            {media.frames > 1 && corr.owner === shot.id && t.use.op !== 'ramp' && (
              <FollowBox shot={shot} corr={corr} term={t} />
            )}
          </>
        )
      ) : null}
    </Box>
  );
}
const correctionsOwner = (r: Records, c: CorrectionRecord): readonly CorrectionRecord[] => ownCorrectionsOf(r, c.owner);

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
