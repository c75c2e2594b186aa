/** The work rail: corrections as cards, and the four steps of the chosen one. */
import { memo, useCallback, useEffect, useRef, useState } from 'react';
import type { ReactNode } from 'react';
import { useSortable } from '@dnd-kit/react/sortable';
import { Ellipsis, Plus } from 'lucide-react';
import { Menu, MenuItem, MenuTrigger, Button as AriaButton } from 'react-aria-components';
import styled from 'styled-components';
import { opById } from '../../core/graph/plan';
import type { AnyOp } from '../../core/op/contract';
import { allTerms, hasRegion, isGroup, isLink, isLive, isMatte, isOp } from '../../core/graph/region';
import { correctionsOf, isBeside, ownCorrectionsOf, sceneOf } from '../../document/records';
import type { CorrectionRecord, MediaRecord, Records, ShotId, ShotRecord, Term } from '../../document/records';
import { Button, IconButton, SmallHead, Switch } from '../../ui/controls';
import {
  addBase,
  addCorrection,
  copyCorrection,
  addCompanion,
  duplicateCorrection,
  editCorrection,
  moveCorrection,
  pasteCorrection,
  removeCorrection,
  resetCorrection,
  setSide,
  setStart,
  shotState,
  useClipboard,
} from '../actions';
import { engine } from '../engine';
import { asideFailed } from '../notices';
import { useLive } from '../live';
import { setOwner } from '../scenes';
import { keepRecipe } from '../recipes';
import { Reorder } from '../Reorder';
import { useDoc, useSession } from '../store';
import type { StepName } from '../store';
import { useFrame } from '../values';
import { valueAt } from '../../core/op/params';
import { CheckStep } from './CheckStep';
import { ConversionCard, ConversionPanel } from './ConversionPart';
import { CorrectStep } from './CorrectStep';
import { RecipeMenu } from './RecipeMenu';
import { IsolateStep } from './IsolateStep';
import { MenuBox } from '../../ui/MenuBox';
import { plain, sentence } from './sentence';
import { TidyStep } from './TidyStep';

const Column = styled.nav`
  height: 100%;
  display: flex;
  flex-direction: column;
  min-height: 0;
  background: var(--rail);
  border-right: 1px solid var(--line);
  contain: strict;
`;
const Cards = styled.div`
  max-height: 34%;
  overflow-y: auto;
  flex: none;
`;
const CardBox = styled.div`
  display: grid;
  grid-template-columns: 46px 1fr auto auto;
  gap: 9px;
  align-items: center;
  min-height: 44px;
  padding: 4px 6px 4px 14px;
  border-top: 1px solid var(--line);
  cursor: default;
  touch-action: none;
  position: relative;
  /* Beside the one before: drawn in, and hung on the same stem. */
  &[data-beside='true'] {
    padding-left: 34px;
    border-top-color: transparent;
  }
  &[data-beside='true']::before {
    content: '';
    position: absolute;
    left: 20px;
    top: -12px;
    height: calc(50% + 12px);
    width: 9px;
    border: solid var(--dim);
    border-width: 0 0 1.5px 1.5px;
    pointer-events: none;
  }
  &[data-chosen='true'] {
    background: var(--chosen);
    box-shadow: inset 3px 0 var(--bright);
  }
  &[data-off='true'] .what b {
    font-weight: 400;
    color: var(--dim);
    text-decoration: line-through;
  }
  canvas {
    width: 46px;
    height: 26px;
    background: #000;
    border-radius: 2px;
    display: block;
  }
`;
const Name = styled.div`
  min-width: 0;
  b {
    display: block;
    font-weight: 600;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  small {
    display: block;
    font-size: 12px;
    color: var(--dim);
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  input {
    width: 100%;
    height: 22px;
    background: var(--well);
    border: 1px solid var(--line);
    border-radius: 3px;
    padding: 0 4px;
  }
`;
const Steps = styled.div`
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  border-top: 1px solid var(--line);
  background: var(--rail);
`;
const StepHead = styled(AriaButton)`
  display: flex;
  align-items: center;
  gap: 10px;
  width: 100%;
  height: 32px;
  flex: none;
  padding: 0 14px;
  border: none;
  border-bottom: 1px solid var(--line);
  background: none;
  text-align: left;
  color: var(--dim);
  b {
    width: 19px;
    height: 19px;
    border-radius: 50%;
    border: 1px solid var(--dim);
    display: grid;
    place-items: center;
    font-size: 12px;
    font-weight: 600;
    flex: none;
  }
  em {
    margin-left: auto;
    font-style: normal;
    font-size: 12px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  &[data-hovered] {
    background: var(--hover);
  }
  &[aria-expanded='true'] {
    color: var(--bright);
    background: var(--bg);
  }
  &[aria-expanded='true'] b {
    background: var(--bright);
    color: var(--on-bright);
    border-color: var(--bright);
  }
`;
const Body = styled.div`
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  padding: 8px 14px 12px;
  background: var(--bg);
  border-bottom: 1px solid var(--line);
`;
const Empty = styled.div`
  padding: 18px 16px;
  color: var(--dim);
  line-height: 1.5;
  kbd {
    font: inherit;
    color: var(--text);
    border: 1px solid var(--line);
    border-radius: 3px;
    padding: 0 5px;
  }
`;
function Thumb({ grey, w, h }: { grey: Uint8Array | undefined; w: number; h: number }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const el = ref.current!;
    if (!grey) return;
    el.width = w;
    el.height = h;
    const img = new ImageData(w, h);
    for (let i = 0; i < grey.length; i++) img.data.set([grey[i]!, grey[i]!, grey[i]!, 255], 4 * i);
    el.getContext('2d')!.putImageData(img, 0, 0);
  }, [grey, w, h]);
  return <canvas ref={ref} width={46} height={26} role="img" aria-label="Matte" />;
}

/** The switch and the menu of a card, drawn again only when they change. */
const CardTools = memo(function CardTools({
  id,
  name,
  on,
  place,
  last,
  side,
  beside,
  canBeside,
  shot,
  scene,
  inTab,
  onRename,
}: {
  id: string;
  name: string;
  on: boolean;
  /** Among those of its owner. */
  place: number;
  last: boolean;
  side: 'camera' | 'display';
  beside: boolean;
  canBeside: boolean;
  shot: ShotId;
  /** Of a scene: its own, or the shot's where it belongs to one. */
  scene: 'own' | 'shot' | null;
  inTab: boolean;
  onRename: () => void;
}) {
  return (
    <>
      <Switch
        aria-label={`${name} on or off`}
        excludeFromTabOrder={!inTab}
        isSelected={on}
        onChange={(x) =>
          editCorrection(id, x ? 'Switch a correction on' : 'Switch a correction off', (c) => ({ ...c, on: x }))
        }
      />
      <MenuTrigger>
        <IconButton aria-label={`More for ${name}`} excludeFromTabOrder={!inTab}>
          <Ellipsis />
        </IconButton>
        <MenuBox placement="bottom end">
          <Menu
            onAction={(k) =>
              ({
                rename: () => onRename(),
                copy: () => copyCorrection(id),
                twice: () => duplicateCorrection(id),
                outside: () => addCompanion(id),
                carry: () => useSession.getState().set({ carrying: id }),
                keep: () => void keepRecipe(id),
                reset: () => resetCorrection(id),
                side: () => setSide(id, side === 'camera' ? 'display' : 'camera'),
                up: () => moveCorrection(id, place - 1),
                down: () => moveCorrection(id, place + 1),
                start: () => setStart(id, beside ? 'after' : 'beside'),
                owner: () => setOwner(id, shot, scene === 'own' ? 'shot' : 'scene'),
                remove: () => removeCorrection(id),
              })[k as 'rename']?.()
            }
          >
            <MenuItem id="rename">Rename (F2)</MenuItem>
            <MenuItem id="copy">Copy (Ctrl C)</MenuItem>
            <MenuItem id="twice">Duplicate</MenuItem>
            <MenuItem id="outside">Correct its outside too</MenuItem>
            <MenuItem id="carry">Carry to other shots {'\u2026'}</MenuItem>
            <MenuItem id="keep">Keep as a recipe</MenuItem>
            <MenuItem id="reset">Reset its values</MenuItem>
            {place > 0 ? <MenuItem id="up">Move up (Alt {'\u2191'})</MenuItem> : null}
            {last ? null : <MenuItem id="down">Move down (Alt {'\u2193'})</MenuItem>}
            {beside ? (
              <MenuItem id="start">After the one before (Alt {'\u2190'})</MenuItem>
            ) : canBeside ? (
              <MenuItem id="start">Beside the one before (Alt {'\u2192'})</MenuItem>
            ) : null}
            {scene === 'own' ? (
              <MenuItem id="owner">Act on this shot alone</MenuItem>
            ) : scene === 'shot' ? (
              <MenuItem id="owner">Act on the whole scene</MenuItem>
            ) : null}
            <MenuItem id="side">{side === 'camera' ? 'To the display side' : 'To the camera side'}</MenuItem>
            <MenuItem id="remove">Remove</MenuItem>
          </Menu>
        </MenuBox>
      </MenuTrigger>
    </>
  );
});

/** To the card before or after, whatever stands between them. */
function focusCard(from: HTMLElement, by: number): void {
  const list = [...document.querySelectorAll<HTMLElement>('[data-correction]')];
  list[list.indexOf(from) + by]?.focus();
}
const Card = memo(function Card({
  c,
  index,
  place,
  last,
  beside,
  canBeside,
  shot,
  scene,
  region,
  told,
  chosen,
  inTab,
  thumb,
}: {
  c: CorrectionRecord;
  /** Among all that act on the shot. */
  index: number;
  /** Among those of its owner. */
  place: number;
  last: boolean;
  beside: boolean;
  canBeside: boolean;
  shot: ShotId;
  /** Of the shot's scene. */
  scene: string | null;
  /** Its region in a few words, and all of it: they name other corrections, and follow when those are renamed. */
  region: string;
  told: string;
  chosen: boolean;
  /** The list is one tab stop: arrows go from card to card. */
  inTab: boolean;
  thumb: { grey: Uint8Array; w: number; h: number } | undefined;
}) {
  const { ref } = useSortable({ id: c.id, index });
  const set = useSession((s) => s.set);
  const [naming, setNaming] = useState(false);
  const rename0 = useCallback(() => setNaming(true), []);
  const ofScene = c.owner.startsWith('scene');
  const what = `${beside ? 'beside, ' : ''}${ofScene ? `${scene}, ` : ''}${region}`;
  const mix = valueAt(c.mixPct, useFrame());
  const rename = (name: string): void => {
    if (naming && name.trim() && name !== c.name)
      editCorrection(c.id, 'Rename a correction', (x) => ({ ...x, name: name.trim() }));
    setNaming(false);
  };
  return (
    <CardBox
      ref={ref}
      data-chosen={chosen}
      data-off={!c.on}
      data-correction={c.name}
      tabIndex={inTab ? 0 : -1}
      role="group"
      data-beside={beside}
      aria-label={`${c.name}: Enter chooses it, Alt and arrows move it, F2 renames, Ctrl C copies`}
      aria-description={beside ? 'Starts from the same picture as the one before' : undefined}
      onClick={() => set({ correction: c.id, term: null, conversionOpen: false })}
      onDoubleClick={() => setNaming(true)}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget) return;
        const mod = e.ctrlKey || e.metaKey;
        const does =
          {
            Enter: () => set({ correction: c.id, term: null, conversionOpen: false }),
            F2: () => setNaming(true),
            Delete: () => removeCorrection(c.id),
            ...(e.altKey
              ? {}
              : { ArrowUp: () => focusCard(e.currentTarget, -1), ArrowDown: () => focusCard(e.currentTarget, 1) }),
          }[e.key] ??
          (e.altKey
            ? {
                ArrowUp: () => moveCorrection(c.id, place - 1),
                ArrowDown: () => moveCorrection(c.id, place + 1),
                ArrowRight: () => setStart(c.id, 'beside'),
                ArrowLeft: () => setStart(c.id, 'after'),
              }[e.key]
            : mod
              ? { c: () => copyCorrection(c.id), v: () => pasteCorrection(shot) }[e.key]
              : null);
        if (!does) return;
        e.preventDefault();
        e.stopPropagation();
        does();
      }}
    >
      <Thumb grey={thumb?.grey} w={thumb?.w ?? 46} h={thumb?.h ?? 26} />
      <Name className="what">
        {naming ? (
          <input
            autoFocus
            aria-label="Name of the correction"
            defaultValue={c.name}
            maxLength={80}
            onFocus={(e) => e.currentTarget.select()}
            onBlur={(e) => rename(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') rename(e.currentTarget.value);
              if (e.key === 'Escape') setNaming(false);
            }}
          />
        ) : (
          <b>{c.name}</b>
        )}
        <small title={told}>
          {what}
          {mix !== 100 ? ` \u00b7 ${Math.round(mix)} %` : ''}
        </small>
      </Name>
      <CardTools
        id={c.id}
        name={c.name}
        on={c.on}
        place={place}
        last={last}
        side={c.side ?? 'display'}
        beside={beside}
        canBeside={canBeside}
        shot={shot}
        scene={ofScene ? 'own' : scene === null ? null : 'shot'}
        inTab={inTab}
        onRename={rename0}
      />
    </CardBox>
  );
});

/** Small mattes of all corrections, renewed when a final stands. */
function useThumbs(shot: ShotRecord): Map<string, { grey: Uint8Array; w: number; h: number }> {
  const finals = useLive((s) => s.finals);
  const [list, setList] = useState(new Map<string, { grey: Uint8Array; w: number; h: number }>());
  useEffect(() => {
    let gone = false;
    const records = useDoc.getState().records;
    if (finals === 0 || correctionsOf(records, shot.id).length === 0) return;
    engine()
      .request('matteThumbs', { shot: shotState(records, shot), width: 92 })
      .then(
        (r) => !gone && setList(new Map(r.map((x) => [x.id, x]))),
        asideFailed('The small mattes were not renewed'),
      );
    return () => {
      gone = true;
    };
  }, [finals, shot]);
  return list;
}

export function Rail({ shot, media, corr }: { shot: ShotRecord; media: MediaRecord; corr: CorrectionRecord | null }) {
  const records = useDoc((s) => s.records);
  const step = useSession((s) => s.step);
  const list = correctionsOf(records, shot.id);
  const thumbs = useThumbs(shot);
  const conversionOpen = useSession((s) => s.conversionOpen);
  const frame = useFrame();
  const camera = list.filter((c) => c.side === 'camera').length;
  const scene = sceneOf(records, shot)?.name ?? null;
  const card = (c: CorrectionRecord, i: number): ReactNode => {
    const own = ownCorrectionsOf(records, c.owner);
    const place = own.indexOf(c);
    return (
      <Card
        key={c.id}
        c={c}
        index={i}
        place={place}
        last={place === own.length - 1}
        beside={isBeside(c, list[i - 1])}
        canBeside={isBeside({ ...c, start: 'beside' }, list[i - 1])}
        shot={shot.id}
        scene={scene}
        region={briefly(c.terms, records)}
        told={plain(sentence(c, records, frame))}
        chosen={!conversionOpen && c.id === corr?.id}
        inTab={c.id === (corr ?? list[0])?.id}
        thumb={thumbs.get(c.id)}
      />
    );
  };
  /** Dropped at a place among all; drawn to the right it stands beside what is before it there, to the left after. */
  const move = (id: string, to: number, drawn: 'left' | 'right' | null): void => {
    const c = list.find((x) => x.id === id);
    if (!c) return;
    const rest = list.filter((x) => x !== c);
    const place = rest.slice(0, to).filter((x) => x.owner === c.owner).length;
    moveCorrection(id, place, drawn === 'right' ? 'beside' : drawn === 'left' ? 'after' : undefined);
  };
  const steps: {
    id: StepName;
    title: string;
    said: (c: CorrectionRecord) => string;
    body: (c: CorrectionRecord) => ReactNode;
  }[] = [
    {
      id: 'isolate',
      title: 'Isolate',
      said: (c) => regionSaid(c),
      body: (c) => <IsolateStep corr={c} shot={shot} media={media} />,
    },
    {
      id: 'tidy',
      title: 'Tidy',
      said: (c) => plain(sentence(c, records, frame)).match(/tidied by ([^;]*);/)?.[1] ?? 'as it is',
      body: (c) => <TidyStep corr={c} shot={shot} />,
    },
    {
      id: 'correct',
      title: 'Correct',
      said: (c) => plain(sentence(c, records, frame)).match(/corrected by (.*), mix/)?.[1] ?? 'nothing yet',
      body: (c) => <CorrectStep corr={c} shot={shot} />,
    },
    { id: 'check', title: 'Check', said: () => '', body: (c) => <CheckStep corr={c} shot={shot} /> },
  ];
  return (
    <Column aria-label="Corrections">
      <RailHead shot={shot.id} />
      <Cards>
        <Reorder onMove={move}>
          {list.slice(0, camera).map((c, i) => card(c, i))}
          <ConversionCard shot={shot} />
          {list.slice(camera).map((c, i) => card(c, camera + i))}
        </Reorder>
      </Cards>
      {conversionOpen ? (
        <Steps>
          <Body>
            <ConversionPanel shot={shot} />
          </Body>
        </Steps>
      ) : corr ? (
        <Steps>
          {steps.map((s, i) => (
            <StepPart key={s.id}>
              <Head id={s.id} n={i + 1} title={s.title} said={s.said(corr)} open={step === s.id} />
              {step === s.id && (
                <Body id={`step-${s.id}`} key={corr.id}>
                  {s.body(corr)}
                </Body>
              )}
            </StepPart>
          ))}
        </Steps>
      ) : (
        <Empty>
          Nothing is corrected in this shot.
          <br />
          <br />
          First make the picture normal: <kbd>M</kbd> adds a base correction. Then press <kbd>C</kbd> and drag across
          the thing to isolate, or <kbd>N</kbd> for another correction of the whole picture. <kbd>P</kbd> and a drag
          over clean skin measures it.
        </Empty>
      )}
    </Column>
  );
}
const RailHead = memo(function RailHead({ shot }: { shot: ShotId }) {
  const held = useClipboard((s) => s.correction);
  return (
    <SmallHead>
      Corrections
      <span style={{ display: 'flex' }}>
        {held && (
          <Button onPress={() => pasteCorrection(shot)} tip={`Pastes the correction ${held.name} (Ctrl V on a card)`}>
            Paste
          </Button>
        )}
        <Button
          onPress={() => addBase(shot)}
          tip={
            'Adds a correction of the whole picture with what makes it normal: exposure, temperature, ' +
            'black and white point, contrast, wheels, saturation (M)'
          }
        >
          <Plus />
          Base
        </Button>
        <Button
          onPress={() => addCorrection(shot)}
          tip="Adds a correction that acts on the whole picture until you isolate something (N)"
        >
          <Plus />
          Add
        </Button>
        <RecipeMenu shot={shot} />
      </span>
    </SmallHead>
  );
});
const Head = memo(function Head({
  id,
  n,
  title,
  said,
  open,
}: {
  id: StepName;
  n: number;
  title: string;
  said: string;
  open: boolean;
}) {
  return (
    <StepHead aria-expanded={open} aria-controls={`step-${id}`} onPress={() => useSession.getState().set({ step: id })}>
      <b>{n}</b>
      {title}
      <em>{said}</em>
    </StepHead>
  );
});
const StepPart = ({ children }: { children: ReactNode }) => <>{children}</>;

/** A region in a few words, brackets as signs. */
function briefly(terms: readonly Term[], records: Records): string {
  const live = terms.filter(isLive);
  const one = (t: Term): string => {
    if (isGroup(t)) return `${t.not ? 'not ' : ''}(${briefly(t.group, records)})`;
    if (!isLink(t)) return `${t.not ? 'not ' : ''}${t.name}`;
    const to = records[t.of];
    return `${t.not === t.outside ? 'inside' : 'outside'} ${to?.type === 'correction' ? to.name : '?'}`;
  };
  return live.length === 0 ? 'whole picture' : live.map((t, i) => `${i ? `${t.join} ` : ''}${one(t)}`).join(' ');
}
function regionSaid(c: CorrectionRecord): string {
  const live = allTerms(c.terms).filter((t) => !isGroup(t) && isLive(t));
  const links = live.filter(isLink).length;
  const mattes = live.filter(isMatte).length;
  const of = (f: (op: AnyOp) => boolean): number => live.filter((t) => isOp(t) && f(opById(t.use.op))).length;
  const keys = of((o) => o.kind === 'key' && !o.area);
  const grown = (id: string): number => of((o) => o.id === id);
  const shapes = of((o) => o.kind === 'shape');
  const count = (n: number, w: string, many = `${w}s`): string => (n === 0 ? '' : `${n} ${n > 1 ? many : w}`);
  return hasRegion(c)
    ? [
        count(keys, 'key'),
        count(grown('spread'), 'spread'),
        count(grown('skin'), 'skin', 'skins'),
        count(shapes, 'shape'),
        count(mattes, 'matte'),
        count(links, 'link'),
      ]
        .filter(Boolean)
        .join(', ')
    : 'whole picture';
}
