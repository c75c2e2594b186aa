/** The work rail: corrections as cards, and the four steps of the chosen one. */
import { memo, useCallback, useEffect, useRef, useState } from 'react';
import type { ReactNode } from 'react';
import { useSortable } from '@dnd-kit/react/sortable';
import { Ellipsis, Plus } from 'lucide-react';
import { Menu, MenuItem, MenuTrigger, Button as AriaButton } from 'react-aria-components';
import styled from 'styled-components';
import { correctionsOf } from '../../document/records';
import type { CorrectionRecord, MediaRecord, ShotId, ShotRecord } from '../../document/records';
import { Button, IconButton, SmallHead, Switch } from '../../ui/controls';
import { addBase, addCorrection, copyCorrection, duplicateCorrection, editCorrection, moveCorrection, pasteCorrection, removeCorrection, resetCorrection, setSide, shotState, useClipboard } from '../actions';
import { engine } from '../engine';
import { useLive } from '../live';
import { Reorder } from '../Reorder';
import { useDoc, useSession } from '../store';
import type { StepName } from '../store';
import { CheckStep } from './CheckStep';
import { ConversionCard, ConversionPanel } from './ConversionPart';
import { CorrectStep } from './CorrectStep';
import { IsolateStep } from './IsolateStep';
import { MenuBox } from '../../ui/MenuBox';
import { plain, sentence } from './sentence';
import { TidyStep } from './TidyStep';

const Column = styled.nav`
  height: 100%; display: flex; flex-direction: column; min-height: 0; background: var(--rail); border-right: 1px solid var(--line); contain: strict;
`;
const Cards = styled.div`
  max-height: 34%; overflow-y: auto; flex: none;
`;
const CardBox = styled.div`
  display: grid; grid-template-columns: 46px 1fr auto auto; gap: 9px; align-items: center; min-height: 44px; padding: 4px 6px 4px 14px; border-top: 1px solid var(--line); cursor: default; touch-action: none;
  &[data-chosen='true'] { background: var(--chosen); box-shadow: inset 3px 0 var(--bright); }
  &[data-off='true'] .what { opacity: 0.55; }
  canvas { width: 46px; height: 26px; background: #000; border-radius: 2px; display: block; }
`;
const Name = styled.div`
  min-width: 0;
  b { display: block; font-weight: 600; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
  small { display: block; font-size: 12px; color: var(--dim); white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
  input { width: 100%; height: 22px; background: var(--well); border: 1px solid var(--line); border-radius: 3px; padding: 0 4px; }
`;
const Steps = styled.div`
  flex: 1; min-height: 0; display: flex; flex-direction: column; border-top: 1px solid var(--line); background: var(--rail);
`;
const StepHead = styled(AriaButton)`
  display: flex; align-items: center; gap: 10px; width: 100%; height: 32px; flex: none; padding: 0 14px; border: none; border-bottom: 1px solid var(--line); background: none; text-align: left; color: var(--dim);
  b { width: 19px; height: 19px; border-radius: 50%; border: 1px solid var(--dim); display: grid; place-items: center; font-size: 12px; font-weight: 600; flex: none; }
  em { margin-left: auto; font-style: normal; font-size: 12px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
  &[data-hovered] { background: var(--hover); }
  &[aria-expanded='true'] { color: var(--bright); background: var(--bg); }
  &[aria-expanded='true'] b { background: var(--bright); color: var(--on-bright); border-color: var(--bright); }
`;
const Body = styled.div`
  flex: 1; min-height: 0; overflow-y: auto; padding: 8px 14px 12px; background: var(--bg); border-bottom: 1px solid var(--line);
`;
const Empty = styled.div`
  padding: 18px 16px; color: var(--dim); line-height: 1.5;
  kbd { font: inherit; color: var(--text); border: 1px solid var(--line); border-radius: 3px; padding: 0 5px; }
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
const CardTools = memo(function CardTools({ id, name, on, index, last, side, onRename }: { id: string; name: string; on: boolean; index: number; last: boolean; side: 'camera' | 'display'; onRename: () => void }) {
  return (
    <>
      <Switch aria-label={`${name} on or off`} isSelected={on} onChange={(x) => editCorrection(id, x ? 'Switch a correction on' : 'Switch a correction off', (c) => ({ ...c, on: x }))} />
      <MenuTrigger>
        <IconButton aria-label={`More for ${name}`}><Ellipsis /></IconButton>
        <MenuBox placement="bottom end">
          <Menu onAction={(k) => ({ rename: () => onRename(), copy: () => copyCorrection(id), twice: () => duplicateCorrection(id), reset: () => resetCorrection(id), side: () => setSide(id, side === 'camera' ? 'display' : 'camera'), up: () => moveCorrection(id, index - 1), down: () => moveCorrection(id, index + 1), remove: () => removeCorrection(id) })[k as 'rename']?.()}>
            <MenuItem id="rename">Rename (F2)</MenuItem>
            <MenuItem id="copy">Copy (Ctrl C)</MenuItem>
            <MenuItem id="twice">Duplicate</MenuItem>
            <MenuItem id="reset">Reset its values</MenuItem>
            {index > 0 ? <MenuItem id="up">Move up (Alt {'\u2191'})</MenuItem> : null}
            {last ? null : <MenuItem id="down">Move down (Alt {'\u2193'})</MenuItem>}
            <MenuItem id="side">{side === 'camera' ? 'To the display side' : 'To the camera side'}</MenuItem>
            <MenuItem id="remove">Remove</MenuItem>
          </Menu>
        </MenuBox>
      </MenuTrigger>
    </>
  );
});

const Card = memo(function Card({ c, index, last, chosen, thumb }: { c: CorrectionRecord; index: number; last: boolean; chosen: boolean; thumb: { grey: Uint8Array; w: number; h: number } | undefined }) {
  const { ref } = useSortable({ id: c.id, index });
  const set = useSession((s) => s.set);
  const [naming, setNaming] = useState(false);
  const rename0 = useCallback(() => setNaming(true), []);
  const live = c.terms.filter((t) => t.use.on);
  const what = live.length === 0 ? 'whole picture' : live.map((t, i) => `${i ? `${t.join} ` : ''}${t.not ? 'not ' : ''}${t.name}`).join(' ');
  const mix = typeof c.mixPct === 'number' ? c.mixPct : c.mixPct.keys[0]!.value;
  const rename = (name: string): void => {
    if (naming && name.trim() && name !== c.name) editCorrection(c.id, 'Rename a correction', (x) => ({ ...x, name: name.trim() }));
    setNaming(false);
  };
  return (
    <CardBox
      ref={ref} data-chosen={chosen} data-off={!c.on} data-correction={c.name} tabIndex={0} role="group" aria-label={`${c.name}: Enter chooses it, Alt and arrows move it, F2 renames, Ctrl C copies`}
      onClick={() => set({ correction: c.id, term: null, conversionOpen: false })} onDoubleClick={() => setNaming(true)}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget) return;
        const mod = e.ctrlKey || e.metaKey;
        const does = { Enter: () => set({ correction: c.id, term: null, conversionOpen: false }), F2: () => setNaming(true), Delete: () => removeCorrection(c.id) }[e.key]
          ?? (e.altKey && e.key === 'ArrowUp' ? () => moveCorrection(c.id, index - 1) : e.altKey && e.key === 'ArrowDown' ? () => moveCorrection(c.id, index + 1) : mod && e.key === 'c' ? () => copyCorrection(c.id) : mod && e.key === 'v' ? () => pasteCorrection(c.shot) : null);
        if (!does) return;
        e.preventDefault();
        e.stopPropagation();
        does();
      }}
    >
      <Thumb grey={thumb?.grey} w={thumb?.w ?? 46} h={thumb?.h ?? 26} />
      <Name className="what">
        {naming ? (
          <input autoFocus aria-label="Name of the correction" defaultValue={c.name} maxLength={80} onBlur={(e) => rename(e.target.value)} onKeyDown={(e) => { e.stopPropagation(); if (e.key === 'Enter') rename(e.currentTarget.value); if (e.key === 'Escape') setNaming(false); }} />
        ) : (
          <b>{c.name}</b>
        )}
        <small title={plain(sentence(c))}>{what}{mix !== 100 ? ` \u00b7 ${Math.round(mix)} %` : ''}</small>
      </Name>
      <CardTools id={c.id} name={c.name} on={c.on} index={index} last={last} side={c.side ?? 'display'} onRename={rename0} />
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
    engine().request('matteThumbs', { shot: shotState(records, shot), width: 92 }).then((r) => !gone && setList(new Map(r.map((x) => [x.id, x]))), () => {});
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
  const camera = list.filter((c) => c.side === 'camera').length;
  const card = (c: CorrectionRecord, i: number): ReactNode => <Card key={c.id} c={c} index={i} last={i === list.length - 1} chosen={!conversionOpen && c.id === corr?.id} thumb={thumbs.get(c.id)} />;
  const steps: { id: StepName; title: string; said: (c: CorrectionRecord) => string; body: (c: CorrectionRecord) => ReactNode }[] = [
    { id: 'isolate', title: 'Isolate', said: (c) => regionSaid(c), body: (c) => <IsolateStep corr={c} shot={shot} media={media} /> },
    { id: 'tidy', title: 'Tidy', said: (c) => plain(sentence(c)).match(/tidied by ([^;]*);/)?.[1] ?? 'as it is', body: (c) => <TidyStep corr={c} /> },
    { id: 'correct', title: 'Correct', said: (c) => plain(sentence(c)).match(/corrected by (.*), mix/)?.[1] ?? 'nothing yet', body: (c) => <CorrectStep corr={c} shot={shot} /> },
    { id: 'check', title: 'Check', said: () => '', body: (c) => <CheckStep corr={c} shot={shot} /> },
  ];
  return (
    <Column aria-label="Corrections">
      <RailHead shot={shot.id} />
      <Cards>
        <Reorder onMove={moveCorrection}>
          {list.slice(0, camera).map((c, i) => card(c, i))}
          <ConversionCard shot={shot} />
          {list.slice(camera).map((c, i) => card(c, camera + i))}
        </Reorder>
      </Cards>
      {conversionOpen ? (
        <Steps><Body><ConversionPanel shot={shot} /></Body></Steps>
      ) : corr ? (
        <Steps>
          {steps.map((s, i) => (
            <StepPart key={s.id}>
              <Head id={s.id} n={i + 1} title={s.title} said={s.said(corr)} open={step === s.id} />
              {step === s.id && <Body id={`step-${s.id}`} key={corr.id}>{s.body(corr)}</Body>}
            </StepPart>
          ))}
        </Steps>
      ) : (
        <Empty>
          Nothing is corrected in this shot.
          <br /><br />
          First make the picture normal: <kbd>M</kbd> adds a base correction. Then press <kbd>K</kbd> and drag across the thing to isolate, or <kbd>N</kbd> for another correction of the whole picture. <kbd>P</kbd> and a drag over clean skin measures it.
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
        {held && <Button onPress={() => pasteCorrection(shot)} tip={`Pastes the correction ${held.name} (Ctrl V on a card)`}>Paste</Button>}
        <Button onPress={() => addBase(shot)} tip="Adds a correction of the whole picture with what makes it normal: exposure, temperature, black and white point, contrast, wheels, saturation (M)"><Plus />Base</Button>
        <Button onPress={() => addCorrection(shot)} tip="Adds a correction that acts on the whole picture until you isolate something (N)"><Plus />Add</Button>
      </span>
    </SmallHead>
  );
});
const Head = memo(function Head({ id, n, title, said, open }: { id: StepName; n: number; title: string; said: string; open: boolean }) {
  return (
    <StepHead aria-expanded={open} aria-controls={`step-${id}`} onPress={() => useSession.getState().set({ step: id })}>
      <b>{n}</b>{title}<em>{said}</em>
    </StepHead>
  );
});
const StepPart = ({ children }: { children: ReactNode }) => <>{children}</>;

function regionSaid(c: CorrectionRecord): string {
  const live = c.terms.filter((t) => t.use.on);
  const keys = live.filter((t) => t.use.op === 'key').length;
  const shapes = live.length - keys;
  const count = (n: number, w: string): string => (n === 0 ? '' : `${n} ${w}${n > 1 ? 's' : ''}`);
  return live.length === 0 ? 'whole picture' : [count(keys, 'key'), count(shapes, 'shape')].filter(Boolean).join(', ');
}
