/** Hand-off: what goes out of a shot, and what each format can and cannot carry. */
import { useEffect, useState } from 'react';
import { Download } from 'lucide-react';
import { useNavigate, useParams } from 'react-router';
import styled from 'styled-components';
import { hasRegion } from '../core/graph/region';
import { correctionsOf, mediaOf, projectOf, shotsOf } from '../document/records';
import type { MediaRecord, ShotRecord } from '../document/records';
import { formatProject } from '../document/projectFile';
import type { LutReply } from '../protocol/messages';
import { Button, Dim, Select, ToggleButton } from '../ui/controls';
import { shotState } from './actions';
import { bytesOf } from './opening';
import { encodeStill } from './decoder';
import { frameOf } from './renderJob';
import { engine } from './engine';
import { download, fileStem } from './files';
import { DITHER, MovingCard } from './MovingCard';
import { guard, sayNews } from './notices';
import { useDoc, useSession } from './store';
import { useMoment } from './values';
import { wordsOf } from './words';

const Page = styled.main`
  height: 100%;
  overflow: auto;
  padding: 18px 22px 28px;
  background: var(--bg);
  .head {
    display: flex;
    align-items: center;
    gap: 12px;
    margin-bottom: 14px;
  }
  h1 {
    font:
      italic 500 22px/1.2 'Source Serif 4 Variable',
      serif;
  }
  .grid {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(min(100%, 500px), 1fr));
    gap: 16px;
    max-width: 1280px;
  }
`;
const Card = styled.section`
  background: var(--rail);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 12px 16px 14px;
  display: flex;
  flex-direction: column;
  gap: 8px;
  h2 {
    font-size: 15px;
    font-weight: 600;
  }
  .row {
    display: flex;
    gap: 8px;
    align-items: center;
    flex-wrap: wrap;
    /* Right under its text: a button that waits at the bottom moves when the card beside it grows. */
    padding-top: 4px;
  }
  ul {
    margin: 0;
    padding-left: 18px;
  }
  li {
    margin: 2px 0;
  }
  .figures {
    display: flex;
    flex-direction: column;
    gap: 8px;
    &[aria-busy='true'] {
      opacity: 0.5;
    }
  }
  dl {
    display: grid;
    grid-template-columns: 1fr auto auto;
    gap: 2px 14px;
    margin: 0;
  }
  dt {
    color: var(--dim);
  }
  dd {
    margin: 0;
    text-align: right;
  }
`;
const base64 = (b: Uint8Array): string => {
  let s = '';
  for (let i = 0; i < b.length; i += 0x8000) s += String.fromCharCode(...b.subarray(i, i + 0x8000));
  return btoa(s);
};

export default function HandOff() {
  const { shot: id } = useParams();
  const go = useNavigate();
  const records = useDoc((s) => s.records);
  const last = useSession((s) => s.shot);
  const shots = shotsOf(records);
  const shot = shots.find((s) => s.id === id) ?? shots.find((s) => s.id === last) ?? shots[0];
  const media = shot && mediaOf(records, shot);
  if (!shot || !media)
    return (
      <Page>
        <Dim>There is no shot to hand off. Go to Shots and import a picture.</Dim>
      </Page>
    );
  return (
    <Page>
      <div className="head">
        <h1>Hand-off of</h1>
        <Select
          aria-label="Shot"
          value={shot.id}
          onChange={(e) => void go(`/hand-off/${e.target.value}`)}
          style={{ height: 30, fontSize: 15 }}
        >
          {shots.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </Select>
        <Dim>
          {media.width} {'\u00d7'} {media.height}, from {media.fileName}
        </Dim>
      </div>
      <div className="grid" key={shot.id}>
        {media.frames > 1 && (
          <Card aria-label="Moving picture">
            <MovingCard shot={shot} media={media} />
          </Card>
        )}
        <PictureCard shot={shot} media={media} />
        <MatteCard shot={shot} />
        <LutCard shot={shot} />
        <ProjectCard />
      </div>
    </Page>
  );
}

function useBusy(): [boolean, (what: string, f: () => Promise<void>) => void] {
  const [busy, setBusy] = useState(false);
  return [
    busy,
    (what, f) => {
      setBusy(true);
      void guard(what, f).finally(() => setBusy(false));
    },
  ];
}

function PictureCard({ shot, media }: { shot: ShotRecord; media: MediaRecord }) {
  const moment = useMoment(shot);
  const bits = useSession((s) => s.bits);
  const setBits = (b: 8 | 16): void => useSession.getState().set({ bits: b });
  const [dither, setDither] = useState(false);
  const [busy, work] = useBusy();
  return (
    <Card aria-label="Picture">
      <h2>Picture, PNG or OpenEXR</h2>
      <p>
        <Dim>
          The corrected picture{moment} at full size, lossless. Carries everything. Where no correction reaches, its
          code values equal{' '}
          {shot.conversion.on
            ? 'those of the converted picture'
            : media.yuv
              ? 'those of the frame with all corrections off'
              : "the original's"}
          {shot.conversion.on || media.yuv
            ? ''
            : media.bits === 8 && bits === 16
              ? ' (times 257, since 8 bits become 16)'
              : media.bits === 16 && bits === 8
                ? '; written as 8 bits they are rounded to the nearest'
                : ''}
          .{media.bits === 32 ? ' Light below 0 and above 100 % is cut off in PNG, which holds whole numbers.' : ''}
          {media.decode?.alpha === 'keep' ? ' Transparency goes through as it is.' : ''}
        </Dim>
      </p>
      <div className="row">
        <Select
          aria-label="Bits of the picture"
          value={bits}
          onChange={(e) => setBits(Number(e.target.value) as 8 | 16)}
        >
          <option value={16}>16 bit</option>
          <option value={8}>8 bit</option>
        </Select>
        <Button
          look="strong"
          isDisabled={busy}
          onPress={() =>
            work('The picture was not written', async () => {
              const now = shotState(useDoc.getState().records, shot);
              const bytes = await encodeStill(
                await frameOf(now, null, bits, undefined, bits === 8 && dither),
                media.pixelAspect,
              );
              download(`${fileStem(shot.name)}.corrected.png`, [bytes], 'image/png');
            })
          }
        >
          <Download />
          {busy ? 'Writing \u2026' : 'Save the picture'}
        </Button>
        {bits === 8 && (
          <ToggleButton isSelected={dither} onChange={setDither} tip={`${DITHER} Readings are of codes without it.`}>
            Dither
          </ToggleButton>
        )}
        <Button
          look="outline"
          isDisabled={busy}
          tip="Linear light in half floats, primaries said, nothing cut off above white; rounded by less than 0.05 %"
          onPress={() =>
            work('The picture was not written', async () => {
              const bytes = await encodeStill(
                await frameOf(shotState(useDoc.getState().records, shot), null, 'half'),
                media.pixelAspect,
              );
              download(`${fileStem(shot.name)}.corrected.exr`, [bytes], 'image/x-exr');
            })
          }
        >
          Save as OpenEXR
        </Button>
      </div>
    </Card>
  );
}

function MatteCard({ shot }: { shot: ShotRecord }) {
  const records = useDoc((s) => s.records);
  const list = correctionsOf(records, shot.id).filter(hasRegion);
  const chosen = useSession((s) => s.correction);
  const [id, setId] = useState<string | null>(null);
  const c = list.find((x) => x.id === (id ?? chosen)) ?? list.at(-1);
  const [busy, work] = useBusy();
  return (
    <Card aria-label="Matte">
      <h2>Matte, PNG 16 bit</h2>
      <p>
        <Dim>The tidied region of one correction as grey: black is out, white is in. Straight values, no curve.</Dim>
      </p>
      {c ? (
        <div className="row">
          <Select aria-label="Correction of the matte" value={c.id} onChange={(e) => setId(e.target.value)}>
            {list.map((x) => (
              <option key={x.id} value={x.id}>
                {x.name}
              </option>
            ))}
          </Select>
          <Button
            look="strong"
            isDisabled={busy}
            onPress={() =>
              work('The matte was not written', async () => {
                const codes = await engine().request('matteCodes', {
                  shot: shotState(useDoc.getState().records, shot),
                  correction: c.id,
                  bits: 16,
                });
                const bytes = await encodeStill(codes, mediaOf(records, shot)?.pixelAspect ?? [1, 1]);
                download(`${fileStem(shot.name)}.matte-${fileStem(c.name)}.png`, [bytes], 'image/png');
              })
            }
          >
            <Download />
            {busy ? 'Writing \u2026' : 'Save the matte'}
          </Button>
        </div>
      ) : (
        <p>No correction of this shot has a region.</p>
      )}
    </Card>
  );
}

const de = (v: number | null): string => (v === null ? 'nothing to compare' : v.toFixed(2));

function LutCard({ shot }: { shot: ShotRecord }) {
  const records = useDoc((s) => s.records);
  const [size, setSize] = useState(33);
  // The last figures stay, dimmed, while new ones are measured: nothing on the page moves meanwhile.
  const [reply, setReply] = useState<{ key: string; r: LutReply } | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [busy, work] = useBusy();
  const state = shotState(records, shot);
  const key = JSON.stringify([state, size]);
  useEffect(() => {
    let gone = false;
    setFault(null);
    engine()
      .request('lut', { shot: state, size, title: shot.name })
      .then(
        (x) => !gone && setReply({ key, r: x }),
        (e: unknown) => !gone && (setReply(null), setFault(wordsOf(e))),
      );
    return () => {
      gone = true;
    };
  }, [key]);
  const r = reply?.r;
  const fresh = reply?.key === key;
  return (
    <Card aria-label="Lookup table">
      <h2>Lookup table, .cube</h2>
      <p>
        <Dim>
          What depends on a pixel's colour alone: adjustments, keys, floor and ceiling. A table knows no places and no
          neighbours.
        </Dim>
      </p>
      {fault && <p role="alert">{fault}</p>}
      {r && (
        <div aria-busy={!fresh} className="figures">
          {r.leftOut.length ? (
            <ul aria-label="Left out">
              {r.leftOut.map((l) => (
                <li key={l}>{l}</li>
              ))}
            </ul>
          ) : (
            <p>Nothing of this shot is left out.</p>
          )}
          <dl aria-label="Error of the table">
            <dt>Against the real result, CIEDE2000</dt>
            <dd>
              <Dim>mean</Dim>
            </dd>
            <dd>
              <Dim>largest</Dim>
            </dd>
            <dt>where corrections act</dt>
            <dd>{de(r.regionMeanDe)}</dd>
            <dd>{de(r.regionMaxDe)}</dd>
            <dt>in the surround, which should not move</dt>
            <dd>{de(r.surroundMeanDe)}</dd>
            <dd>{de(r.surroundMaxDe)}</dd>
          </dl>
        </div>
      )}
      {!r && !fault && (
        <p>
          <Dim>Measuring {'\u2026'}</Dim>
        </p>
      )}
      <div className="row">
        <Select aria-label="Size of the table" value={size} onChange={(e) => setSize(Number(e.target.value))}>
          <option value={33}>33 points</option>
          <option value={65}>65 points</option>
        </Select>
        <Button
          look="strong"
          isDisabled={busy || !fresh}
          onPress={() =>
            work('The table was not written', async () =>
              download(`${fileStem(shot.name)}.${size}.cube`, [r!.text], 'text/plain'),
            )
          }
        >
          <Download />
          Save the table
        </Button>
        <Dim>tetrahedral lookup is meant</Dim>
      </div>
    </Card>
  );
}

function ProjectCard() {
  const records = useDoc((s) => s.records);
  const [embed, setEmbed] = useState(false);
  const [busy, work] = useBusy();
  const name = projectOf(records)?.name ?? 'project';
  return (
    <Card aria-label="Project file">
      <h2>Project file, .rowanleaf.json</h2>
      <p>
        <Dim>
          Shots, corrections, patches, everything that can be edited. Open it again in Shots; the command line reads it
          too. Without pictures it is small, and they are linked again by their checksums.
        </Dim>
      </p>
      <div className="row">
        <Select
          aria-label="Pictures in the project file"
          value={embed ? 'in' : 'out'}
          onChange={(e) => setEmbed(e.target.value === 'in')}
        >
          <option value="out">pictures linked</option>
          <option value="in">pictures inside</option>
        </Select>
        <Button
          look="strong"
          isDisabled={busy}
          onPress={() =>
            work('The project was not written', async () => {
              const inside: Record<string, string> = {};
              if (embed)
                for (const m of Object.values(records))
                  // Of a sequence there are too many: its files stay linked.
                  if (m.type === 'media' && !m.files) inside[m.id] = base64(new Uint8Array(await bytesOf(m)));
              // Pictures inside a file need no server: demo pictures become files too.
              const out = embed
                ? Object.fromEntries(
                    Object.entries(records).map(([k, m]) => [
                      k,
                      m.type === 'media' && !m.files ? { ...m, source: { from: 'file' as const } } : m,
                    ]),
                  )
                : records;
              download(
                `${fileStem(name)}.rowanleaf.json`,
                [formatProject(out, embed ? inside : undefined)],
                'application/json',
              );
              sayNews('The project file is written.');
            })
          }
        >
          <Download />
          {busy ? 'Writing \u2026' : 'Save the project'}
        </Button>
      </div>
    </Card>
  );
}
