/** Writes demo/stills/small-hours.rowanleaf.json: the stills, patches on clean skin, and one finished example. */
import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { newUse } from '../src/core/graph/plan.defaults';
import type { Box } from '../src/core/skin/reading';
import { toSpec } from '../src/document/records';
import type { AnyRecord, CorrectionRecord, Id, PatchKind } from '../src/document/records';
import { formatProject } from '../src/document/projectFile';
import { soloSession } from '../src/engine/node';
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
    patch: shot.patches[0]![2],
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
writeFileSync(
  join(dir, 'small-hours.rowanleaf.json'),
  formatProject(Object.fromEntries(records.map((r) => [r.id, r]))),
);
