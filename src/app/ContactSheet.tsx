/** The cards of the contact sheet: of any number of shots only those near the window are there. */
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { Trash2 } from 'lucide-react';
import { Link, useNavigate } from 'react-router';
import styled from 'styled-components';
import { correctionsOf, mediaOf, patchesOf, projectOf, sceneOf, scenesOf } from '../document/records';
import type { MediaRecord, SceneId, ShotRecord } from '../document/records';
import { Dim, IconButton, Select } from '../ui/controls';
import { formatNumber } from '../ui/NumberBox';
import { removeShot, renameShot, shotState } from './actions';
import { EncodingSelect } from './EncodingSelect';
import { cardKey, keepCard, keptCard } from './cards';
import type { Card } from './cards';
import { cardRequest } from './cardRequest';
import { engine } from './engine';
import { renameScene, setScene } from './scenes';
import { patchSpec } from './bench/scopeSlots';
import { pointerOn, warmShot } from './warm';
import { aspectOf, cssAspect } from './pixelAspect';
import { useDoc, useSession } from './store';
import { wordsOf } from './words';

const Sheet = styled.div`
  position: relative;
`;
const Row = styled.div`
  position: absolute;
  inset: 0 0 auto;
  display: grid;
  gap: 18px;
  padding-bottom: 18px;
`;
const CardBox = styled.div`
  background: var(--rail);
  border: 1px solid var(--line);
  border-radius: 6px;
  overflow: hidden;
  display: flex;
  flex-direction: column;
  cursor: pointer;
  &:hover {
    border-color: var(--track);
  }
  a.pic {
    display: block;
    background: var(--deep);
    aspect-ratio: 16/9;
  }
  a.pic canvas,
  a.pic p {
    width: 100%;
    height: 100%;
    display: block;
    object-fit: contain;
  }
  a.pic p {
    display: grid;
    place-items: center;
    padding: 20px;
    color: #d0d0d0;
    text-align: center;
  }
  .body > button,
  .body > select {
    justify-self: end;
  }
  .body {
    padding: 8px 8px 10px 12px;
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 2px 8px;
    align-items: center;
  }
  .body input {
    font-weight: 600;
    font-size: 14.5px;
    background: none;
    border: 1px solid transparent;
    border-radius: 3px;
    padding: 1px 3px;
    margin-left: -4px;
    min-width: 0;
  }
  .body input:hover {
    border-color: var(--line);
  }
  .body input:focus {
    background: var(--well);
    border-color: var(--dim);
    outline: none;
  }
  table {
    grid-column: 1/-1;
    border-collapse: collapse;
    margin-top: 4px;
  }
  td {
    padding: 1px 0;
  }
  td + td {
    text-align: right;
    padding-left: 12px;
  }
`;
/** Picture and readings of a card: one small render that reads the patches at full resolution. */
function useCard(shot: ShotRecord, media: MediaRecord | undefined, stands: boolean) {
  const records = useDoc((s) => s.records);
  const line = projectOf(records)?.skinLineDeg ?? 123;
  const patches = patchesOf(records, shot.id).map(patchSpec);
  const bits = useSession((s) => s.bits);
  const state = shotState(records, shot);
  return useQuery({
    queryKey: ['card', JSON.stringify([state, patches, line, bits])],
    enabled: !!media && stands,
    staleTime: Infinity,
    retry: false,
    queryFn: async ({ signal }): Promise<Card> => {
      // The record of the picture tells its file: another one under the same name is another card.
      const key = await cardKey([media, state, patches, line, bits]);
      const kept = await keptCard(key);
      if (kept) return kept;
      const read = { patches, skinLineDeg: line, bits };
      const r = await engine().request('card', cardRequest(state, media!, 480, read), signal);
      void keepCard(key, r);
      return { ...r, readings: r.readings ?? [], picture: new ImageData(r.rgba, r.w, r.h) };
    },
  });
}

/** What is scrolled past is not rendered: a card counts as looked at when it has stood here for so long. */
const STANDS_MS = 120;
function useStands(): boolean {
  const [stands, setStands] = useState(false);
  useEffect(() => {
    const t = setTimeout(() => setStands(true), STANDS_MS);
    return () => clearTimeout(t);
  }, []);
  return stands;
}

/** A name that is changed in its place: Enter or leaving takes it, Escape does not; an empty one changes nothing. */
function NameField({
  label,
  name,
  rename,
  style,
}: {
  label: string;
  name: string;
  rename: (to: string) => void;
  style?: React.CSSProperties;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const take = (): void => {
    if (typed?.trim() && typed !== name) rename(typed.trim());
    setTyped(null);
  };
  return (
    <input
      aria-label={label}
      style={style}
      value={typed ?? name}
      maxLength={80}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') setTyped(null);
      }}
    />
  );
}

/** A picture whose pixels are not square is drawn as wide as they are, in the middle of its card (16:9). */
function drawnWide(m: MediaRecord | undefined): React.CSSProperties | undefined {
  if (!m || aspectOf(m) === 1) return undefined;
  const drawn = { aspectRatio: cssAspect(m), objectFit: 'fill', margin: '0 auto' } as const;
  return (m.width * aspectOf(m)) / m.height > 16 / 9
    ? { ...drawn, height: 'auto', position: 'relative', top: '50%', transform: 'translateY(-50%)' }
    : { ...drawn, width: 'auto' };
}
const hasUse = (t: EventTarget): boolean => !!(t as Element).closest('a, button, input, select, label');
function ShotCard({ shot, place, of }: { shot: ShotRecord; place: number; of: number }) {
  const records = useDoc((s) => s.records);
  const media = mediaOf(records, shot);
  const go = useNavigate();
  const pressed = useRef(false);
  const { data, error } = useCard(shot, media, useStands());
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const el = canvas.current;
    if (!el || !data) return;
    [el.width, el.height] = [data.w, data.h];
    const at = el.getContext('2d')!;
    if (data.picture instanceof ImageData) at.putImageData(data.picture, 0, 0);
    else at.drawImage(data.picture, 0, 0);
  }, [data]);
  const patches = patchesOf(records, shot.id);
  const n = correctionsOf(records, shot.id).length;
  const off = (v: number | null | undefined): string =>
    v === undefined ? '' : v === null ? 'too neutral' : `${formatNumber(v, 1, true)}\u00b0`;
  return (
    <CardBox
      role="listitem"
      aria-posinset={place + 1}
      aria-setsize={of}
      data-shot={shot.name}
      onPointerEnter={() => pointerOn(shot)}
      onPointerLeave={() => pointerOn(null)}
      onFocus={() => pointerOn(shot)}
      onClickCapture={(e) => {
        // The picture is decoded while the Bench is built.
        if (!hasUse(e.target) || (e.target as Element).closest('a')) warmShot(shot);
      }}
      onPointerDown={(e) => void (pressed.current = !hasUse(e.target))}
      onClick={(e) => {
        // The whole card opens the shot; what has a use of its own keeps it. A press that began elsewhere, as on the
        // button that removed the card which stood here, opens nothing.
        if (pressed.current && !hasUse(e.target)) void go(`/bench/${shot.id}`);
        pressed.current = false;
      }}
    >
      <Link className="pic" to={`/bench/${shot.id}`} aria-label={`Open ${shot.name} on the Bench`}>
        {error ? <p role="alert">{wordsOf(error)}</p> : <canvas ref={canvas} style={drawnWide(media)} />}
      </Link>
      <div className="body">
        <NameField label="Name of the shot" name={shot.name} rename={(to) => renameShot(shot.id, to)} />
        <IconButton
          aria-label={`Remove ${shot.name}`}
          tip="Removes the shot; undo brings it back"
          onPress={() => removeShot(shot.id)}
        >
          <Trash2 />
        </IconButton>
        <Dim>
          {media
            ? `${media.width} \u00d7 ${media.height}, ` +
              `${media.bits === 32 ? 'floating point' : `${media.bits} bit`} ${media.format.toUpperCase()}` +
              (media.frames > 1 ? `, ${shot.range[1] - shot.range[0] + 1} frames` : '')
            : 'no picture'}
          {n ? `, ${n} correction${n > 1 ? 's' : ''}` : ''}
        </Dim>
        <EncodingSelect shot={shot} style={{ width: 128 }} />
        <SceneOf shot={shot} />
        {patches.length > 0 && (
          <table>
            <tbody>
              {patches.slice(0, 3).map((p) => {
                const r = data?.readings.find((x) => x.id === p.id);
                return (
                  <tr key={p.id}>
                    <td>
                      <Dim>{p.name}</Dim>
                    </td>
                    <td>{r ? `${off(r.after?.offLineDeg)} off-line` : ''}</td>
                    <td>
                      <Dim>{r?.after ? `luma ${r.after.lumaPct.toFixed(0)} %` : ''}</Dim>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
      </div>
    </CardBox>
  );
}

/** The scene of a shot: chosen on the right, its name on the left. */
function SceneOf({ shot }: { shot: ShotRecord }) {
  const records = useDoc((s) => s.records);
  const scene = sceneOf(records, shot);
  return (
    <>
      {scene ? (
        <NameField
          label={`Name of the scene of ${shot.name}`}
          style={{ fontWeight: 400, fontSize: 13 }}
          name={scene.name}
          rename={(to) => renameScene(scene.id, to)}
        />
      ) : (
        <Dim>in no scene</Dim>
      )}
      <Select
        aria-label={`Scene of ${shot.name}`}
        style={{ width: 128 }}
        value={scene?.id ?? ''}
        onChange={(e) => setScene(shot.id, e.target.value === '' ? null : (e.target.value as SceneId | 'new'))}
      >
        <option value="">no scene</option>
        {scenesOf(records).map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
        <option value="new">a new scene</option>
      </Select>
    </>
  );
}

const GAP = 18;
const LEAST = 330;
/** Height of a row before it is measured: picture, name, three lines. */
const GUESS = 340;
/** Where the sheet stood when it was left. */
let left = 0;

/** `scroller` is what scrolls, which holds more than the sheet. */
export function ContactSheet({ shots, scroller }: { shots: readonly ShotRecord[]; scroller: HTMLElement }) {
  const sheet = useRef<HTMLDivElement>(null);
  const [{ columns, top }, setPlace] = useState({ columns: 3, top: 0 });
  const [held, setHeld] = useState<number | null>(null);
  useLayoutEffect(() => {
    const el = sheet.current!;
    const measure = (): void => {
      const columns = Math.max(1, Math.floor((el.clientWidth + GAP) / (LEAST + GAP)));
      const top = Math.round(
        el.getBoundingClientRect().top - scroller.getBoundingClientRect().top + scroller.scrollTop,
      );
      setPlace((p) => (p.columns === columns && p.top === top ? p : { columns, top }));
    };
    measure();
    // What stands above it changes too: the guide is closed, a notice comes.
    const o = new ResizeObserver(measure);
    o.observe(el);
    for (const c of scroller.children) o.observe(c);
    return () => o.disconnect();
  }, [scroller]);
  useLayoutEffect(() => {
    scroller.scrollTop = left;
    return () => void (left = scroller.scrollTop);
  }, [scroller]);
  const rows = useVirtualizer({
    count: Math.ceil(shots.length / columns),
    getScrollElement: () => scroller,
    estimateSize: () => GUESS,
    initialOffset: left,
    scrollMargin: top,
    overscan: 3,
    // The card that has the focus stays, wherever the sheet is scrolled to.
    rangeExtractor: (r) => {
      const all = defaultRangeExtractor(r);
      const keep = held === null ? -1 : Math.floor(held / columns);
      return keep < 0 || keep >= r.count || all.includes(keep) ? all : [...all, keep].sort((a, b) => a - b);
    },
  });
  return (
    <Sheet ref={sheet} role="list" aria-label="Shots" style={{ height: rows.getTotalSize() }}>
      {rows.getVirtualItems().map(({ index, key, start }) => (
        <Row
          key={key}
          ref={rows.measureElement}
          data-index={index}
          role="presentation"
          style={{
            transform: `translateY(${start - top}px)`,
            gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
          }}
          onFocus={() => setHeld(index * columns)}
          onBlur={() => setHeld(null)}
        >
          {shots.slice(index * columns, (index + 1) * columns).map((s, i) => (
            <ShotCard key={s.id} shot={s} place={index * columns + i} of={shots.length} />
          ))}
        </Row>
      ))}
    </Sheet>
  );
}
