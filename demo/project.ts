/** Writes demo/stills/small-hours.rowanleaf.json: the stills, patches on clean skin, and one finished example. */
import { createHash } from 'node:crypto';
import { existsSync, openAsBlob, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { newUse } from '../src/core/graph/plan.defaults';
import type { Keyframed } from '../src/core/op/params';
import type { Box } from '../src/core/skin/reading';
import { toSpec } from '../src/document/records';
import type { AnyRecord, CorrectionRecord, Id, PatchKind } from '../src/document/records';
import { formatProject } from '../src/document/projectFile';
import { soloSession } from '../src/engine/node';
import { openFrames } from '../src/cli/frames';
import { Clip } from '../src/media/clip';
import { decodeStill } from '../src/media/decode';

const dir = join(dirname(fileURLToPath(import.meta.url)), 'stills');
const box = (x: number, y: number, w: number, h: number): Box => ({ x, y, w, h });
const shots: { name: string; file: string; encoding?: 'acescct'; patches: [string, PatchKind, Box][] }[] = [
  {
    name: 'Proofing table',
    file: 'proofing-table',
    patches: [
      ['Left baker, cheek', 'skin', box(488, 375, 40, 32)],
      ['Right baker, cheek', 'skin', box(1196, 305, 36, 38)],
      ['Apron (grey)', 'other', box(1000, 725, 75, 60)],
    ],
  },
  {
    name: 'Oven mouth',
    file: 'oven-mouth',
    patches: [
      ['Baker, lit cheek', 'skin', box(600, 398, 42, 36)],
      ['Baker, other cheek', 'skin', box(437, 410, 38, 36)],
      ['Bread', 'other', box(1075, 675, 75, 50)],
    ],
  },
  {
    name: 'Courier',
    file: 'courier',
    patches: [
      ['Courier, cheek', 'skin', box(938, 262, 36, 30)],
      ['Jacket', 'other', box(930, 520, 75, 60)],
    ],
  },
  {
    name: 'Chart call',
    file: 'chart-call',
    encoding: 'acescct',
    patches: [
      ['Assistant, cheek', 'skin', box(1066, 352, 34, 30)],
      ['Strip, black', 'black', box(195, 675, 60, 46)],
      ['Strip, 18 % grey', 'grey', box(436, 676, 60, 46)],
      ['Strip, white', 'white', box(668, 672, 60, 46)],
    ],
  },
  {
    name: 'Night rack',
    file: 'night-rack',
    patches: [
      ['Night baker, cheek', 'skin', box(570, 362, 38, 32)],
      ['Cap (grey)', 'grey', box(560, 158, 60, 26)],
      ['Loaf', 'other', box(1210, 200, 60, 40)],
    ],
  },
  {
    name: 'Cold window',
    file: 'cold-window',
    patches: [
      ['Window baker, cheek', 'skin', box(954, 388, 38, 32)],
      ['Cap (white)', 'white', box(900, 160, 70, 26)],
      ['Loaf', 'other', box(150, 545, 60, 40)],
    ],
  },
];

interface Path {
  centres: [number, number][];
}
const openClip = async (path: string): Promise<Clip> => Clip.open(await openAsBlob(path), false);
const records: AnyRecord[] = [{ type: 'project', id: 'project:small-hours', name: 'Small Hours', skinLineDeg: 123 }];
const s = await soloSession({ wasm: new Uint8Array(readFileSync(join(dir, '../../build/kernels.wasm'))) });
for (const [i, shot] of shots.entries()) {
  const bytes = readFileSync(join(dir, `${shot.file}.png`));
  const p = await decodeStill(bytes);
  const media: Id<'media'> = `media:${shot.file}`;
  const id: Id<'shot'> = `shot:${shot.file}`;
  s.open(media, p);
  records.push(
    {
      type: 'media',
      id: media,
      kind: 'still',
      fileName: `${shot.file}.png`,
      format: 'png',
      bits: p.bits,
      width: p.width,
      height: p.height,
      frames: 1,
      pixelAspect: [1, 1],
      sha256: createHash('sha256').update(bytes).digest('hex'),
      source: { from: 'demo', path: `${shot.file}.png` },
    },
    {
      type: 'shot',
      id,
      name: shot.name,
      media,
      encoding: shot.encoding ?? 'srgb',
      encodingGuessed: false,
      conversion: newUse('conversion', 'convert', {}, shot.encoding !== undefined),
      range: [0, 0],
      rate: [24, 1],
      timecode: { start: 0, drop: false },
      order: i + 1,
    },
  );
  shot.patches.forEach(([name, kind, b], k) =>
    records.push({ type: 'patch', id: `patch:${shot.file}-${k + 1}`, shot: id, name, kind, box: b, order: k + 1 }),
  );
  if (shot.file !== 'oven-mouth') continue;
  const bare = { media: media, encoding: 'srgb' as const, frame: 0, corrections: [] };
  // A stroke from one cheek over the nose to the other, as a hand would draw it.
  const points = Array.from({ length: 90 }, (_, k) => ({
    x: 430 + k * 2.4,
    y: 425 - 34 * Math.sin((k / 89) * Math.PI),
  }));
  const { fit } = await s.fitKey(bare, null, { points, radiusPx: 9 });
  const c: CorrectionRecord = {
    type: 'correction',
    id: 'corr:bakers-face',
    owner: id,
    name: "Baker's face",
    on: true,
    mixPct: 100,
    order: 1,
    terms: [
      {
        id: 'face-key',
        join: 'and',
        not: false,
        name: 'Key 1',
        use: newUse('face-key', 'key', { ...fit, lumaOn: false }),
      },
      {
        id: 'face-ellipse',
        join: 'and',
        not: false,
        name: 'Ellipse 1',
        use: newUse('face-ellipse', 'ellipse', {
          cxPx: 536,
          cyPx: 378,
          rxPx: 208,
          ryPx: 262,
          softInPx: 45,
          softOutPx: 45,
          angleDeg: 0,
        }),
      },
    ],
    tidy: [
      newUse('face-floor', 'floorCeiling', { floorPct: 6, ceilingPct: 78 }),
      newUse('face-feather', 'feather', { radiusPx: 6 }),
    ],
    adjustments: [
      newUse('face-wheels', 'wheels'),
      newUse('face-turn', 'hueTurn'),
      newUse('face-saturation', 'saturation', { amountPct: 78 }),
    ],
  };
  const solved = await s.solve({
    shot: { ...bare, corrections: [toSpec(c)] },
    correction: c.id,
    patches: [{ box: shot.patches[0]![2] }],
    kind: 'balance',
    strength: 1,
    keep: 'within10',
    bits: 16,
    skinLineDeg: 123,
  });
  records.push({ ...c, adjustments: solved.adjustments });
  console.log(
    `example: ${solved.before.offLineDeg?.toFixed(2)} -> ${solved.after.offLineDeg?.toFixed(2)} degrees off-line`,
  );
}
/** Clips: what they are is read from the files; their frames come through ffmpeg, where the example is measured. */
const clips: { name: string; file: string; patches: [string, PatchKind, Box][] }[] = [
  {
    name: 'Crossing',
    file: 'courier-crossing',
    patches: [['Door', 'other', box(890, 30, 50, 40)]],
  },
  {
    name: 'Baker turning',
    file: 'baker-turning',
    patches: [['Turning baker, cheek', 'skin', box(386, 232, 26, 24)]],
  },
];
for (const [i, clip] of clips.entries()) {
  const path = join(dir, `${clip.file}.webm`);
  if (!existsSync(path)) continue;
  const opened = await openClip(path);
  const { info } = opened;
  opened.close();
  const media: Id<'media'> = `media:${clip.file}`;
  const id: Id<'shot'> = `shot:${clip.file}`;
  records.push(
    {
      type: 'media',
      id: media,
      kind: 'clip',
      fileName: `${clip.file}.webm`,
      format: info.format,
      bits: info.bits,
      width: info.width,
      height: info.height,
      frames: info.frames,
      pixelAspect: info.pixelAspect,
      sha256: createHash('sha256').update(readFileSync(path)).digest('hex'),
      yuv: { ...info.meaning, guessed: false },
      source: { from: 'demo', path: `${clip.file}.webm` },
    },
    {
      type: 'shot',
      id,
      name: clip.name,
      media,
      encoding: info.encoding,
      encodingGuessed: false,
      conversion: newUse('conversion', 'convert', {}, false),
      range: [0, info.frames - 1],
      rate: info.rate,
      timecode: { start: 86400 + 240 * i, drop: false },
      order: shots.length + i + 1,
    },
  );
  clip.patches.forEach(([name, kind, b], k) =>
    records.push({ type: 'patch', id: `patch:${clip.file}-${k + 1}`, shot: id, name, kind, box: b, order: k + 1 }),
  );
  if (clip.file !== 'courier-crossing') continue;
  // A jacket that is keyed, and a shape that goes along with it by three keys.
  const { centres } = JSON.parse(readFileSync(join(dir, '../clips/courier-crossing.path.json'), 'utf8')) as Path;
  // The middle of the whole jacket, from that of its front.
  const at = (f: number): [number, number] => [centres[f]![0] - 24.8, centres[f]![1] - 40.6];
  const frames = await openFrames(path);
  for await (const p of frames.read(0, 0)) s.open(media, p, 0, frames.count);
  const bare = { media, encoding: info.encoding, frame: 0, corrections: [] };
  const [x0, y0] = at(0);
  const stroke = Array.from({ length: 60 }, (_, k) => ({ x: x0 - 70 + 2 * k, y: y0 - 10 + 0.5 * k }));
  const { fit } = await s.fitKey(bare, null, { points: stroke, radiusPx: 7 });
  const keyed = (axis: 0 | 1): Keyframed => ({
    keys: [0, 24, 48, info.frames - 1].map((f) => ({ frame: f, value: Math.round(at(f)[axis]), ease: 'smooth' })),
  });
  const c: CorrectionRecord = {
    type: 'correction',
    id: 'corr:jacket',
    owner: id,
    name: 'Jacket',
    on: true,
    mixPct: 100,
    order: 1,
    terms: [
      { id: 'jacket-key', join: 'and', not: false, name: 'Key 1', use: newUse('jacket-key', 'key', { ...fit }) },
      {
        id: 'jacket-box',
        join: 'and',
        not: false,
        name: 'Box 1',
        use: newUse('jacket-box', 'box', {
          cxPx: keyed(0),
          cyPx: keyed(1),
          rxPx: 235,
          ryPx: 200,
          roundPct: 30,
          softInPx: 20,
          softOutPx: 30,
        }),
      },
    ],
    tidy: [newUse('jacket-feather', 'feather', { radiusPx: 2 })],
    adjustments: [newUse('jacket-turn', 'hueTurn', { angleDeg: -18 })],
  };
  records.push(c);
}
writeFileSync(
  join(dir, 'small-hours.rowanleaf.json'),
  formatProject(Object.fromEntries(records.map((r) => [r.id, r]))),
);
