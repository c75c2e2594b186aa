/** The contact sheet: every shot with its corrected picture and readings; import by button and by dropping. */
import { useEffect, useRef, useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import { FolderOpen, ImagePlus, SlidersHorizontal, Trash2 } from 'lucide-react';
import { Dialog, DialogTrigger, FileTrigger } from 'react-aria-components';
import { Link, useNavigate } from 'react-router';
import styled from 'styled-components';
import { correctionsOf, mediaOf, patchesOf, projectOf, sceneOf, scenesOf, shotsOf } from '../document/records';
import type { MediaRecord, SceneId, ShotRecord } from '../document/records';
import { Button, Dim, IconButton, Line, Select } from '../ui/controls';
import { MenuBox } from '../ui/MenuBox';
import { formatNumber } from '../ui/NumberBox';
import { removeShot, renameShot, shotState } from './actions';
import { fetchDemo } from './opening';
import { EncodingSelect } from './EncodingSelect';
import { cardKey, keepCard, keptCard } from './cards';
import type { Card } from './cards';
import { engine } from './engine';
import { Guide } from './Guide';
import { importFiles } from './importFiles';
import { guard, sayNews } from './notices';
import { renameScene, setScene } from './scenes';
import { SequenceImport } from './SequenceImport';
import { Storage } from './Storage';
import { patchSpec } from './bench/scopeSlots';
import { useDoc, useSession } from './store';
import { wordsOf } from './words';

const Page = styled.main`
  height: 100%;
  overflow: auto;
  padding: 18px 22px 28px;
  background: var(--bg);
  .head {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-bottom: 16px;
  }
  h1 {
    font:
      italic 500 22px/1.2 'Source Serif 4 Variable',
      serif;
    margin-right: auto;
  }
`;
const Sheet = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: 18px;
`;
const CardBox = styled.li`
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
const Drop = styled.div`
  position: fixed;
  inset: 40px 0 0;
  display: grid;
  place-items: center;
  background: rgb(20 20 20 / 78%);
  color: #fff;
  font-size: 20px;
  z-index: 20;
  pointer-events: none;
  &::after {
    content: '';
    position: absolute;
    inset: 14px;
    border: 2px dashed #ddd;
    border-radius: 10px;
  }
`;

/** Picture and readings of a card: one small render that reads the patches at full resolution. */
function useCard(shot: ShotRecord, media: MediaRecord | undefined, seen: boolean) {
  const records = useDoc((s) => s.records);
  const line = projectOf(records)?.skinLineDeg ?? 123;
  const patches = patchesOf(records, shot.id).map(patchSpec);
  const bits = useSession((s) => s.bits);
  const state = shotState(records, shot);
  return useQuery({
    queryKey: ['card', JSON.stringify([state, patches, line, bits])],
    enabled: !!media && seen,
    staleTime: Infinity,
    retry: false,
    queryFn: async (): Promise<Card> => {
      // The record of the picture tells its file: another one under the same name is another card.
      const key = await cardKey([media, state, patches, line, bits]);
      const kept = await keptCard(key);
      if (kept) return kept;
      const w = 480;
      const h = Math.max(1, Math.round((w * media!.height) / media!.width));
      const r = await engine().request('card', {
        shot: state,
        focus: null,
        view: { w, h, scale: w / media!.width, offX: 0, offY: 0, mode: 'picture', compare: 'off', wipeX: 0 },
        quality: 'final',
        scopes: [],
        patches,
        skinLineDeg: line,
        bits,
      });
      void keepCard(key, r);
      return { ...r, picture: new ImageData(r.rgba, r.w, r.h) };
    },
  });
}

/** True from when it first comes near the window: of three hundred cards only those that are looked at are rendered. */
function useSeen(el: React.RefObject<HTMLElement | null>): boolean {
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!el.current || seen) return;
    const o = new IntersectionObserver(
      (list) => {
        if (list.some((x) => x.isIntersecting)) setSeen(true);
      },
      { rootMargin: '300px' },
    );
    o.observe(el.current);
    return () => o.disconnect();
  }, [el, seen]);
  return seen;
}

const hasUse = (t: EventTarget): boolean => !!(t as Element).closest('a, button, input, select, label');
function ShotCard({ shot }: { shot: ShotRecord }) {
  const records = useDoc((s) => s.records);
  const media = mediaOf(records, shot);
  const card = useRef<HTMLLIElement>(null);
  const go = useNavigate();
  const pressed = useRef(false);
  const seen = useSeen(card);
  const { data, error } = useCard(shot, media, seen);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [name, setName] = useState<string | null>(null);
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
  const take = (): void => {
    if (name?.trim() && name !== shot.name) renameShot(shot.id, name.trim());
    setName(null);
  };
  return (
    <CardBox
      ref={card}
      data-shot={shot.name}
      onPointerDown={(e) => void (pressed.current = !hasUse(e.target))}
      onClick={(e) => {
        // The whole card opens the shot; what has a use of its own keeps it. A press that began elsewhere, as on the
        // button that removed the card which stood here, opens nothing.
        if (pressed.current && !hasUse(e.target)) void go(`/bench/${shot.id}`);
        pressed.current = false;
      }}
    >
      <Link className="pic" to={`/bench/${shot.id}`} aria-label={`Open ${shot.name} on the Bench`}>
        {error ? <p role="alert">{wordsOf(error)}</p> : <canvas ref={canvas} />}
      </Link>
      <div className="body">
        <input
          aria-label="Name of the shot"
          value={name ?? shot.name}
          maxLength={80}
          onChange={(e) => setName(e.target.value)}
          onBlur={take}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
            if (e.key === 'Escape') setName(null);
          }}
        />
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
  const [name, setName] = useState<string | null>(null);
  const take = (): void => {
    if (scene && name?.trim() && name !== scene.name) renameScene(scene.id, name.trim());
    setName(null);
  };
  return (
    <>
      {scene ? (
        <input
          aria-label={`Name of the scene of ${shot.name}`}
          style={{ fontWeight: 400, fontSize: 13 }}
          value={name ?? scene.name}
          maxLength={80}
          onChange={(e) => setName(e.target.value)}
          onBlur={take}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
            if (e.key === 'Escape') setName(null);
          }}
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

/** What is done with transparency and with profiles that cannot be applied exactly. */
function ImportOptions() {
  const { importing, set } = useSession();
  return (
    <DialogTrigger>
      <Button look="outline" tip="How transparency and colour profiles are read">
        <SlidersHorizontal />
        Options
      </Button>
      <MenuBox placement="bottom start">
        <Dialog
          aria-label="Options for pictures that come in"
          style={{ outline: 'none', padding: '6px 8px', width: 300 }}
        >
          <Line>
            <span>Transparency</span>
            <Select
              aria-label="Transparency"
              value={importing.alpha}
              onChange={(e) => set({ importing: { ...importing, alpha: e.target.value as 'keep' | 'flatten' } })}
            >
              <option value="flatten">laid over black</option>
              <option value="keep">kept</option>
            </Select>
          </Line>
          <Line>
            <span>Profiles that cannot be applied</span>
            <Select
              aria-label="Profiles that cannot be applied"
              value={importing.profile}
              onChange={(e) => set({ importing: { ...importing, profile: e.target.value as 'refuse' | 'assume' } })}
            >
              <option value="refuse">refused</option>
              <option value="assume">taken as sRGB</option>
            </Select>
          </Line>
          <Dim>Other profiles are always applied. These count for the pictures that come in next.</Dim>
        </Dialog>
      </MenuBox>
    </DialogTrigger>
  );
}

export default function Shots() {
  const records = useDoc((s) => s.records);
  const change = useDoc((s) => s.change);
  const go = useNavigate();
  const [over, setOver] = useState(false);
  const shots = shotsOf(records);
  const take = async (files: File[]): Promise<void> => {
    const last = await importFiles(files);
    if (last && files.length === 1) void go(`/bench/${last.id}`);
  };
  return (
    <Page
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget as Node)) setOver(false);
      }}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void take([...e.dataTransfer.files]);
      }}
    >
      <div className="head">
        <h1>{projectOf(records)?.name ?? 'No project'}</h1>
        <FileTrigger
          acceptedFileTypes={[
            'image/png',
            'image/jpeg',
            'image/tiff',
            'image/webp',
            'image/avif',
            '.tif',
            '.tiff',
            '.exr',
            'video/mp4',
            'video/webm',
            '.mov',
            '.mkv',
          ]}
          allowsMultiple
          onSelect={(l) => void take([...(l ?? [])])}
        >
          <Button look="strong">
            <ImagePlus />
            Import
          </Button>
        </FileTrigger>
        <SequenceImport done={(s) => void go(`/bench/${s.id}`)} />
        <ImportOptions />
        <FileTrigger acceptedFileTypes={['.json']} onSelect={(l) => void take([...(l ?? [])])}>
          <Button
            look="outline"
            tip="A *.rowanleaf.json file; it takes the place of what is open, and undo brings that back"
          >
            <FolderOpen />
            Open a project
          </Button>
        </FileTrigger>
        <Button
          look="outline"
          tip="Opens the demo film as it was shipped; undo brings the present project back"
          onPress={() =>
            void guard('The demo was not opened', async () => {
              const r = await fetchDemo();
              change('Open the demo', () => r);
              useSession.getState().set({ guide: true });
              sayNews('The demo is open as it was shipped.');
            })
          }
        >
          Demo
        </Button>
        <Storage />
      </div>
      <Guide />
      {shots.length === 0 ? (
        <p>
          <Dim>No shot yet. Import a picture, or drop one anywhere on this page.</Dim>
        </p>
      ) : (
        <Sheet>
          {shots.map((s) => (
            <ShotCard key={s.id} shot={s} />
          ))}
        </Sheet>
      )}
      {over && <Drop>Drop pictures (PNG, JPEG, TIFF, EXR, WebP, AVIF), clips (MP4, WebM) or a project here</Drop>}
    </Page>
  );
}
