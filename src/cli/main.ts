/** The engine from a terminal. Exit 0, or not 0 with one line on stderr that says what is wrong and what to do. */
import { framesAround } from '../core/graph/plan';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { deflateSync } from 'node:zlib';
import { newUse } from '../core/graph/plan.defaults';
import type { CorrectionSpec } from '../core/graph/plan';
import type { Box, Reading } from '../core/skin/reading';
import type { KeepChroma } from '../core/skin/bringToLine';
import { PUSH_KINDS } from '../core/skin/pushes';
import { skinWarnings } from '../core/skin/warnings';
import { opTerms } from '../core/graph/region';
import { healthSaid } from '../core/matte/health';
import { mapPoint, STILL } from '../core/graph/track';
import { curveOf } from '../core/ops/freeform/line';
import type { Line } from '../core/ops/freeform/line';
import { Follower } from '../core/track/follow';
import type { Followed } from '../core/track/follow';
import { OutlineFollower } from '../core/track/outlineFollower';
import type { FollowedOutline } from '../core/track/outlineFollower';
import type { Point } from '../core/track/points';
import type { Aspect } from '../media/picture';
import { separationSaid } from '../core/matte/separate';
import { packBy } from '../media/deflate';
import { encodeFrame } from '../media/encode';
import { encodePng } from '../media/pngWrite';
import type { YuvMeaning } from '../core/color/yuv';
import { mediaOf, projectOf, recordOf, shotsOf, specsOf } from '../document/records';
import type { MediaId, MediaRecord, ShotRecord, TableRecord } from '../document/records';
import { cubeOf } from '../document/tables';
import { parseProject } from '../document/projectFile';
import { soloSession } from '../engine/node';
import { startTwins } from '../engine/twins';
import { MissingPicture } from '../engine/session';
import type { Session } from '../engine/session';
import type { DecodedPicture } from '../media/decode';
import { coloursAt, greyOf } from './grey';
import { bitsOf, choice, need, number, numbers, options, polyline, Usage } from './args';
import type { Given } from './args';
import { decodeInThread, FileError } from './decode';
import { coverageOf, painted, pressed, shapeTerm, strokesOf } from './region';
import { matteFrame, NotRead, openFrames } from './frames';
import type { Frames } from './frames';
import type { ShotState, View } from '../protocol/messages';

// Node's own: a third of the time, and no larger (level 4; 6 takes four times as long for two hundredths).
packBy((bytes) => new Uint8Array(deflateSync(bytes, { level: 4 })));

const HELP = `Rowanleaf, command line

  measure PICTURE --box X,Y,W,H [--line DEG] [--json]
  skin PICTURE --box X,Y,W,H --ellipse CX,CY,RX,RY [--softness PX] [--feather PX] [--method METHOD]
       [--strength 0..100] [--chroma PCT] [--level FROM,TO] --out OUT.png [--matte MATTE.png] [--bits 8|16] [--json]
       (the box is brought to the line; METHOD: ${PUSH_KINDS.join(', ')}, balance by default;
       --chroma and --level are what the box comes to, else chroma stays within 10 % and level as it is; the region is
       a key from the box inside the ellipse, or with --keep what the strokes mean, with the options of matte; PX of
       --softness: the whole width of the ellipse's edge)
  skin PICTURE --at "X,Y X,Y ..." [--keep ...] [--leave ...] [--inside ...] [--method METHOD] [--strength 0..100]
       --out OUT.png [--matte MATTE.png] [--bits 8|16] [--json]
       (a press on a person's skin, or several: the region, a clean patch in it and the push are found)
  matte PICTURE --keep "X,Y X,Y ..." [--leave "X,Y ..."] [--inside "X,Y X,Y X,Y ..."] [--kind KIND]
       [--space scope|oklch] [--quiet 0..100] [--brush PX] [--apart] [--tidy auto|none] --out MATTE.png [--json]
       (KIND: spread, range, nearness or auto; --keep and --leave may stand several times; --space is what the ranges
       are measured in, --quiet the strength of the noise reduction of the copy that the key reads; --apart: pieces of
       the same colour that nothing joins belong too)
  render PROJECT --shot NAME --input PICTURE|FOLDER|CLIP --out DIR [--frames A-B] [--what picture,matte]
       [--bits 8|16|half] [--dither] [--mattes DIR]
       (a folder of numbered pictures; a clip where ffmpeg is installed; frames are counted from 0;
       half: OpenEXR with linear light; --dither: of 8 bits, where a correction reaches;
       DIR holds the files that regions take as mattes, under their names)
  follow FOLDER|CLIP --quad "X,Y X,Y X,Y X,Y" --at N [--kind position|similarity|perspective|outline]
       [--frames A-B] [--json]
       (where what lies inside the quad at frame N is at the others, forwards and backwards from there; outline: any
       number of points, a smooth curve through which is followed point by point)
  lut PROJECT --shot NAME [--size 33] --out FILE.cube [--input PICTURE]

Lengths are pixels of the picture, from its left top corner.`;

function kernelBytes(): Uint8Array<ArrayBuffer> | null {
  try {
    return new Uint8Array(readFileSync(join(import.meta.dirname, '../../build/kernels.wasm')));
  } catch {
    process.stderr.write(
      'rowanleaf: build/kernels.wasm is missing, the slower TypeScript kernels run (npm run kernels builds it)\n',
    );
    return null;
  }
}
const session = (): Promise<Session> => soloSession({ wasm: kernelBytes() });
async function open(s: Session, file: string): Promise<DecodedPicture> {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(file);
  } catch {
    throw new Usage(`${file} cannot be read: check the path`);
  }
  try {
    const p = await decodeInThread(bytes);
    s.open(file, p);
    return p;
  } catch (e) {
    if (e instanceof FileError) throw new Usage(`${basename(file)}: ${e.message}`);
    throw e;
  }
}
const NO_VIEW: View = { w: 1, h: 1, scale: 1, offX: 0, offY: 0, mode: 'picture', compare: 'off', wipeX: 0 };

async function read(
  s: Session,
  shot: ShotState,
  box: Box,
  line: number,
  bits: 8 | 16,
): Promise<{ before: Reading; after: Reading }> {
  const r = (
    await s.render({
      shot,
      focus: null,
      view: NO_VIEW,
      quality: 'final',
      scopes: [],
      patches: [{ id: 'p', box }],
      skinLineDeg: line,
      bits,
    })
  ).readings?.[0];
  if (!r?.before || !r.after) throw new Usage(`the box ${box.x},${box.y},${box.w},${box.h} lies outside the picture`);
  return { before: r.before, after: r.after };
}
const reading = (r: Reading) => ({
  offLineDeg: r.offLineDeg,
  hueDeg: r.hueDeg,
  chromaPct: r.chromaPct,
  lumaPct: r.lumaPct,
  hueSpreadDeg: r.hueSpreadDeg,
  outlierShare: r.outlierShare,
  pixels: r.pixels,
  second: r.second,
});
const say = (r: Reading): string =>
  r.offLineDeg === null
    ? `too neutral to read (${r.chromaPct.toFixed(1)} % chroma), luma ${r.lumaPct.toFixed(1)} %`
    : `${r.offLineDeg >= 0 ? '+' : ''}${r.offLineDeg.toFixed(2)} deg off-line, chroma ` +
      `${r.chromaPct.toFixed(1)} %, luma ${r.lumaPct.toFixed(1)} %, spread ${r.hueSpreadDeg!.toFixed(1)} ` +
      `deg, ${(100 * r.outlierShare).toFixed(1)} % left out`;

function boxOf(g: Given): Box {
  const [x, y, w, h] = numbers(g.box, 'box', 4) as [number, number, number, number];
  if (w <= 0 || h <= 0) throw new Usage('--box needs a width and a height above 0');
  return { x, y, w, h };
}

async function measure(file: string, g: Given): Promise<void> {
  const box = boxOf(g);
  const line = number(g.line, 'line', 123, 0, 360);
  const s = await session();
  await open(s, file);
  const { before } = await read(s, { media: file, encoding: 'srgb', frame: 0, corrections: [] }, box, line, 16);
  console.log(g.json ? JSON.stringify(reading(before)) : [say(before), ...skinWarnings(before)].join('\n'));
}

/** Skin from one press: the region, a clean patch in it, and its push to the line. */
async function skinAt(file: string, g: Given): Promise<void> {
  for (const o of ['box', 'ellipse', 'softness', 'kind', 'space', 'quiet', 'chroma', 'level'] as const)
    if (g[o] !== undefined)
      throw new Usage(`--${o} does not go with --at, which finds the region and a patch by itself`);
  const at = polyline(need(g.at, 'at'), 'at', 1);
  const kind = choice(g.method, 'method', 'balance', PUSH_KINDS);
  const strength = number(g.strength, 'strength', 100, 0, 100) / 100;
  const line = number(g.line, 'line', 123, 0, 360);
  const bits = bitsOf(g);
  const out = need(g.out, 'out');
  const s = await session();
  const p = await open(s, file);
  const c = pressed(p, at, g);
  const feather = number(g.feather, 'feather', 0, 0, 1000);
  if (feather > 0) c.tidy = [...c.tidy, newUse('feather', 'feather', { radiusPx: feather })];
  const shot: ShotState = { media: file, encoding: p.encoding, frame: 0, corrections: [c] };
  const found = await s.skinPress({ shot, correction: c.id, kind, strength, skinLineDeg: line, bits });
  if (found.solved) c.adjustments = found.solved.adjustments;
  const surround = await s.figures(shot, c.id);
  writeFileSync(out, encodePng(await s.pictureCodes(shot, bits), p.pixelAspect));
  const codes = await s.matteCodes(shot, c.id, bits);
  if (g.matte) writeFileSync(g.matte, encodePng(codes, p.pixelAspect));
  const reached = coverageOf(codes);
  const region = { before: found.before && reading(found.before), after: found.after && reading(found.after) };
  const patch = found.solved && {
    box: found.patch,
    before: reading(found.solved.before),
    after: reading(found.solved.after),
  };
  if (g.json) {
    console.log(
      JSON.stringify({
        at,
        region,
        patch,
        method: kind,
        push: found.solved?.push ?? null,
        fault: found.fault,
        said: found.said,
        surround,
        ...reached,
        health: await s.health(shot, c.id),
      }),
    );
    return;
  }
  const lines = [
    `region: ${(100 * reached.coverage).toFixed(1)} % of the picture is in, ${(100 * reached.full).toFixed(1)} % fully`,
    ...(found.before ? [`whole skin before: ${say(found.before)}`] : []),
    ...(found.after && found.solved ? [`whole skin after:  ${say(found.after)}`] : []),
    ...(patch
      ? [`patch ${Object.values(patch.box!).join(',')}: ${say(found.solved!.before)} -> ${say(found.solved!.after)}`]
      : []),
    ...(found.fault ? [found.fault] : []),
    ...found.said,
    `surround: ${(100 * surround.surroundShare).toFixed(1)} % of the picture, ${surround.surroundChanged} pixels ` +
      `with a changed bit`,
  ];
  console.log(lines.join('\n'));
}

async function skin(file: string, g: Given): Promise<void> {
  if (g.at !== undefined) return skinAt(file, g);
  const box = boxOf(g);
  const strokes = g.keep === undefined ? null : strokesOf(g);
  const ellipse = strokes && g.ellipse === undefined ? null : numbers(g.ellipse, 'ellipse', 4);
  const kind = choice(g.method, 'method', 'balance', PUSH_KINDS);
  const keep: KeepChroma = g.chroma === undefined ? 'within10' : { pct: number(g.chroma, 'chroma', 25, 6, 100) };
  const level = g.level === undefined ? null : (numbers(g.level, 'level', 2) as [number, number]);
  if (level && !(level[0] >= 0 && level[0] <= level[1] && level[1] <= 100))
    throw new Usage(`--level is FROM,TO in % of luma, 0 to 100 and rising, not "${g.level}"`);
  const strength = number(g.strength, 'strength', 100, 0, 100) / 100;
  const feather = number(g.feather, 'feather', 0, 0, 1000);
  const soft = g.softness === undefined ? null : number(g.softness, 'softness', 0, 0, 2000) / 2;
  if (soft !== null && !ellipse) throw new Usage('--softness is the width of an edge of --ellipse, which is missing');
  const line = number(g.line, 'line', 123, 0, 360);
  const bits = bitsOf(g);
  const out = need(g.out, 'out');
  const s = await session();
  const p = await open(s, file);
  const plain: ShotState = { media: file, encoding: 'srgb', frame: 0, corrections: [] };
  const edge = soft === null ? {} : { softInPx: soft, softOutPx: soft };
  const [cxPx, cyPx, rxPx, ryPx] = (ellipse ?? [0, 0, 1, 1]) as [number, number, number, number];
  const shapes = ellipse ? [shapeTerm('ellipse', 'ellipse', { cxPx, cyPx, rxPx, ryPx, ...edge })] : [];
  if (!strokes)
    for (const o of ['leave', 'inside', 'kind', 'brush', 'apart', 'tidy'] as const)
      if (g[o] !== undefined)
        throw new Usage(`--${o} goes with strokes: give --keep "x,y x,y ..." on the skin as well`);
  const c: CorrectionSpec = strokes
    ? (await painted(s, plain, p, strokes, shapes)).correction
    : {
        id: 'skin',
        name: 'Skin',
        on: true,
        mixPct: 100,
        // Nobody looks at it before it is written: it takes what the box holds, and no more.
        terms: [
          shapeTerm('key', 'key', { ...(await s.fitKey(plain, null, { box }, { narrow: true })).fit }),
          ...shapes,
        ],
        tidy: [],
        adjustments: [],
      };
  if (feather > 0) c.tidy = [...c.tidy, newUse('feather', 'feather', { radiusPx: feather })];
  const shot: ShotState = { media: file, encoding: 'srgb', frame: 0, corrections: [c] };
  const solved = await s.solve({
    shot,
    correction: c.id,
    patches: [{ box }],
    kind,
    strength,
    keep,
    level,
    skinLineDeg: line,
    bits,
  });
  c.adjustments = solved.adjustments;
  const { before, after } = await read(s, shot, box, line, bits);
  const surround = await s.figures(shot, c.id);
  writeFileSync(out, encodePng(await s.pictureCodes(shot, bits), p.pixelAspect));
  const codes = await s.matteCodes(shot, c.id, bits);
  if (g.matte) writeFileSync(g.matte, encodePng(codes, p.pixelAspect));
  const reached = coverageOf(codes);
  const health = await s.health(shot, c.id);
  if (g.json)
    console.log(
      JSON.stringify({
        before: reading(before),
        after: reading(after),
        surround,
        method: kind,
        push: solved.push,
        stops: solved.stops,
        chroma: solved.chroma,
        levelLeft: solved.levelLeft,
        residualDeg: solved.residualDeg,
        why: solved.why,
        clippedShare: solved.clippedShare,
        samePixelsOffLineDeg: solved.samePixelsOffLineDeg,
        key: opTerms(c.terms)[0]!.use.params,
        ...reached,
        health,
      }),
    );
  else
    console.log(
      `before: ${say(before)}\nafter:  ${say(after)}\nsurround: ` +
        `${(100 * surround.surroundShare).toFixed(1)} % of the picture, ${surround.surroundChanged} pixels with a ` +
        `changed bit, largest change ${surround.surroundMaxCodes} of 65535` +
        `\nregion: ${(100 * reached.coverage).toFixed(1)} % of the picture is in, ` +
        `${(100 * reached.full).toFixed(1)} % fully` +
        (health ? `; ${healthSaid(health).join('; ')}` : '') +
        (solved.clippedShare > 0.005 ? `\nclipped: ${(100 * solved.clippedShare).toFixed(1)} % of the patch` : '') +
        (Math.abs(solved.residualDeg) > 0.1 ? `\nleft: ${solved.residualDeg.toFixed(2)} deg (${solved.why})` : ''),
    );
}

async function matte(file: string, g: Given): Promise<void> {
  const strokes = strokesOf(g);
  const bits = bitsOf(g);
  const out = need(g.out, 'out');
  const s = await session();
  const p = await open(s, file);
  const shot: ShotState = { media: file, encoding: p.encoding, frame: 0, corrections: [] };
  const { correction: c, kind, key, tells } = await painted(s, shot, p, strokes);
  shot.corrections = [c];
  const codes = await s.matteCodes(shot, c.id, bits);
  writeFileSync(out, encodePng(codes, p.pixelAspect));
  const health = await s.health(shot, c.id);
  const report = {
    kind,
    fitted: key.use.params,
    tidy: c.tidy.map((u) => ({ [u.op]: u.params })),
    separates: tells,
    said: tells ? separationSaid(tells) : 'Nothing was left out: there is nothing to separate from.',
    ...coverageOf(codes),
    health,
  };
  if (g.json) console.log(JSON.stringify(report));
  else
    console.log(
      `${report.said}\n${(100 * report.coverage).toFixed(1)} % of the picture is in, ` +
        `${(100 * report.edge).toFixed(1)} % of it lies in soft edges` +
        (health ? `\n${healthSaid(health).join('\n')}` : ''),
    );
}

function project(
  file: string,
  g: Given,
): {
  shot: ShotRecord;
  tables: TableRecord[];
  corrections: CorrectionSpec[];
  line: number;
  /** How a clip is read. */
  yuv: YuvMeaning | undefined;
  aspect: Aspect | undefined;
  /** A media of the project. */
  media(id: string): MediaRecord | null;
} {
  let text: string;
  try {
    text = readFileSync(file, 'utf8');
  } catch {
    throw new Usage(`${file} cannot be read: check the path`);
  }
  const { records, said } = parseProject(text);
  for (const line of said) process.stderr.write(`rowanleaf: ${basename(file)}: ${line}\n`);
  const name = need(g.shot, 'shot');
  const shots = shotsOf(records);
  const shot = shots.find((x) => x.name === name);
  if (!shot)
    throw new Usage(
      `there is no shot "${name}" in ${basename(file)}; it has ${shots.map((x) => `"${x.name}"`).join(', ') || 'none'}`,
    );
  const tables = Object.values(records).filter((r): r is TableRecord => r.type === 'table');
  return {
    shot,
    tables,
    corrections: specsOf(records, shot),
    line: projectOf(records)?.skinLineDeg ?? 123,
    yuv: mediaOf(records, shot)?.yuv,
    aspect: mediaOf(records, shot)?.pixelAspect,
    media: (id) => recordOf(records, id as MediaId, 'media') ?? null,
  };
}

async function render(file: string, g: Given): Promise<void> {
  const { shot, corrections, tables, yuv, aspect, media } = project(file, g);
  const input = need(g.input, 'input');
  const dir = need(g.out, 'out');
  const what = (g.what ?? 'picture').split(',');
  for (const w of what)
    if (w !== 'picture' && w !== 'matte')
      throw new Usage(`--what must be picture, matte or both with a comma, not "${w}"`);
  const bits = g.bits === 'half' ? g.bits : bitsOf(g, ['half']);
  if (g.dither && bits !== 8) throw new Usage('--dither is of codes of 8 bits: leave it out, or say --bits 8');
  const s = await session();
  const frames = await framesOf(input, yuv);
  for (const line of frames.said) process.stderr.write(`rowanleaf: ${basename(input)}: ${line}\n`);
  for (const t of tables) s.putTable(t.id, cubeOf(t));
  mkdirSync(dir, { recursive: true });
  const moves = frames.count > 1;
  const [first, last] = rangeOf(g.frames, frames.count, moves ? shot.range : [0, 0]);
  const put = (name: string, bytes: Uint8Array): void => {
    writeFileSync(name, bytes);
    console.log(name);
  };
  /** Runs, and opens the mattes that it asks for. */
  const withMattes = async <T>(run: () => Promise<T>): Promise<T> => {
    for (;;)
      try {
        return await run();
      } catch (e) {
        const m = e instanceof MissingPicture ? media(e.ref.media) : null;
        if (!m) throw e;
        const { frame: n } = (e as MissingPicture).ref;
        s.open(m.id, await matteFrame(m, n, g.mattes).catch(usage), Math.min(n, m.frames - 1), m.frames);
      }
  };
  const end = bits === 'half' ? 'exr' : 'png';
  const picture = async (state: ShotState, correction: string | null): Promise<Uint8Array> =>
    encodeFrame(
      'png',
      bits === 'half'
        ? await s.halves(state, correction)
        : correction === null
          ? await s.pictureCodes(state, bits, g.dither && bits === 8)
          : await s.matteCodes(state, correction, bits),
      aspect,
    );
  const stateAt = (frame: number): ShotState => ({
    media: input,
    encoding: shot.encoding,
    conversion: shot.conversion,
    frame: moves ? frame : shot.range[0],
    corrections,
  });
  const one = async (frame: number): Promise<void> => {
    const state = stateAt(frame);
    // As the page names them.
    const number = moves ? `.${String(frame).padStart(Math.max(4, String(last).length), '0')}` : '';
    const stem = join(dir, frames.stem);
    if (what.includes('picture'))
      put(`${stem}.corrected${number}.${end}`, await withMattes(() => picture(state, null)));
    if (what.includes('matte'))
      for (const c of corrections)
        put(
          `${stem}.matte-${c.name.replace(/[^A-Za-z0-9]+/g, '-').toLowerCase()}${number}.${end}`,
          await withMattes(() => picture(state, c.id)),
        );
  };
  // A step may lean on frames around: those are read too, and a frame is made when the last of its own is there.
  let around = 0;
  if (moves) for (let f = first; f <= last; f++) around = Math.max(around, framesAround(s.steps(stateAt(f), 1)));
  const [from, to] = [Math.max(0, first - around), Math.min(frames.count - 1, last + around)];
  let [frame, read] = [first, from];
  for await (const p of frames.read(from, to)) {
    s.open(input, p, moves ? read : 0, frames.count);
    for (; frame <= last && read >= Math.min(frame + around, to); frame++) await one(frame);
    read++;
  }
  if (frame <= last) throw new Usage(`${basename(input)} ends at frame ${read - 1}: it is cut off or damaged there`);
}
const usage = (e: unknown): never => {
  throw e instanceof NotRead ? new Usage(e.message) : e;
};
async function framesOf(input: string, meaning?: YuvMeaning): Promise<Frames> {
  try {
    return await openFrames(input, meaning);
  } catch (e) {
    if (e instanceof NotRead) throw new Usage(e.message);
    throw e;
  }
}
/** "A-B" or "A", counted from 0; left out, the shot's own. */
function rangeOf(text: string | undefined, count: number, or: readonly [number, number]): [number, number] {
  if (text === undefined) return [Math.min(or[0], count - 1), Math.min(or[1], count - 1)];
  const m = /^(\d+)(?:-(\d+))?$/.exec(text);
  const [a, b] = [Number(m?.[1]), Number(m?.[2] ?? m?.[1])];
  if (!m || a > b) throw new Usage(`--frames needs two numbers as 0-47, not "${text}"`);
  if (b >= count) throw new Usage(`--frames ${text} lies outside: there are frames 0 to ${count - 1}`);
  return [a, b];
}

/** A frame that was followed; `outline`: where its points lie there, of what was followed point by point. */
interface FollowedFrame {
  frame: number;
  h: readonly number[];
  quality: number;
  lost: boolean;
  why?: string;
  outline?: readonly Point[];
}
/** What is followed point by point is a smooth curve through them. */
const smooth: Line = { points: [], round: 1 };
async function follow(input: string, g: Given): Promise<void> {
  const quad = polyline(need(g.quad, 'quad'), 'quad', 3);
  const kinds = ['position', 'similarity', 'perspective', 'outline'] as const;
  const kind = choice<(typeof kinds)[number]>(g.kind, 'kind', 'position', kinds);
  const frames = await framesOf(input);
  const wasm = kernelBytes();
  if (wasm) await startTwins(wasm);
  for (const line of frames.said) process.stderr.write(`rowanleaf: ${basename(input)}: ${line}\n`);
  const [first, last] = rangeOf(g.frames, frames.count, [0, frames.count - 1]);
  const at = number(g.at, 'at', first, first, last);
  const done = new Map<number, FollowedFrame>();
  done.set(at, { frame: at, h: STILL, quality: 1, lost: false, ...(kind === 'outline' ? { outline: quad } : {}) });
  const renewed: number[] = [];
  const held: number[] = [];
  const begin = (p: DecodedPicture): Follower | OutlineFollower => {
    try {
      return kind === 'outline'
        ? new OutlineFollower(greyOf(p), quad, curveOf(smooth), coloursAt(p))
        : new Follower(greyOf(p), quad, kind, coloursAt(p));
    } catch (e) {
      if (e instanceof RangeError) throw new Usage(e.message);
      throw e;
    }
  };
  const take = (n: number, r: Followed & Partial<FollowedOutline>): void => {
    if (r.renewed) renewed.push(n);
    if (r.held) held.push(n);
    const bent = r.own && quad.map(([x, y], i) => mapPoint(r.h, x + r.own![2 * i]!, y + r.own![2 * i + 1]!));
    const more = { ...(r.lost ? { why: r.why } : {}), ...(bent ? { outline: bent } : {}) };
    done.set(n, { frame: n, h: r.h, quality: r.quality, lost: r.lost, ...more });
  };
  let start: DecodedPicture | null = null;
  let forwards: ReturnType<typeof begin> | null = null;
  let n = at;
  for await (const p of frames.read(at, last)) {
    start ??= p;
    if (forwards) take(n, forwards.step(greyOf(p), coloursAt(p)));
    else forwards = begin(p);
    n++;
  }
  if (!start || n <= last) throw new Usage(`${basename(input)} ends at frame ${n - 1}`);
  // Backwards piece by piece: a whole clip would not fit into memory.
  const PIECE = 24;
  const backwards = at > first ? begin(start) : null;
  for (let end = at - 1; backwards && end >= first; end -= PIECE) {
    const from = Math.max(first, end - PIECE + 1);
    const piece: DecodedPicture[] = [];
    for await (const p of frames.read(from, end)) piece.push(p);
    piece.reverse().forEach((p, i) => take(end - i, backwards.step(greyOf(p), coloursAt(p))));
  }
  const list = [...done.values()].sort((a, b) => a.frame - b.frame);
  if (g.json) {
    console.log(JSON.stringify({ frames: list, renewed, held }));
    return;
  }
  for (const x of list) {
    const corners = x.outline ?? quad.map(([u, v]) => mapPoint(x.h, u, v));
    const places = corners.map((p) => p.map((c) => c.toFixed(2)).join(',')).join(' ');
    const by = held.includes(x.frame) ? ', held by its colours' : '';
    const said = x.lost ? `lost: ${x.why}` : `${Math.round(100 * x.quality)} % agree${by}`;
    console.log(`${x.frame}: ${places}  ${said}`);
  }
}

const de = (v: number | null): string => (v === null ? 'nothing to compare' : v.toFixed(2));
async function lut(file: string, g: Given): Promise<void> {
  const { shot, corrections, tables } = project(file, g);
  const size = number(g.size, 'size', 33, 2, 129);
  const out = need(g.out, 'out');
  const s = await session();
  // Without a picture there is nothing to measure the table's error on; a grey pixel stands in and no error is said.
  if (g.input) await open(s, g.input);
  else
    s.open('none', {
      width: 1,
      height: 1,
      bits: 8,
      format: 'png',
      rgb: Uint8Array.of(118, 118, 118),
      notes: [],
      encoding: 'srgb',
      alpha: false,
    });
  for (const t of tables) s.putTable(t.id, cubeOf(t));
  const r = await s.lut(
    {
      media: g.input ?? 'none',
      encoding: shot.encoding,
      conversion: shot.conversion,
      frame: shot.range[0],
      corrections,
    },
    size,
    shot.name,
  );
  mkdirSync(dirname(out), { recursive: true });
  writeFileSync(out, r.text);
  for (const l of r.leftOut) console.log(`left out: ${l}`);
  if (g.input)
    console.log(
      `against the real result, CIEDE2000: region mean ${de(r.regionMeanDe)}, largest ${de(r.regionMaxDe)}; ` +
        `surround mean ${de(r.surroundMeanDe)}, largest ${de(r.surroundMaxDe)}`,
    );
  console.log(out);
}

export async function main(argv: string[]): Promise<number> {
  try {
    let parsed;
    try {
      parsed = parseArgs({ args: argv, options, allowPositionals: true });
    } catch (e) {
      throw new Usage((e as Error).message.split('\n')[0]!);
    }
    const g: Given = parsed.values;
    const [verb, file, ...rest] = parsed.positionals;
    if (g.help || !verb) {
      console.log(HELP);
      return verb || g.help ? 0 : 2;
    }
    const verbs = { measure, skin, matte, render, follow, lut } as const;
    if (!(verb in verbs)) throw new Usage(`"${verb}" is not a command; there are ${Object.keys(verbs).join(', ')}`);
    if (!file) throw new Usage(`${verb} needs a file: see --help`);
    if (rest.length) throw new Usage(`"${rest[0]}" is one file too many`);
    await verbs[verb as keyof typeof verbs](file, g);
    return 0;
  } catch (e) {
    process.stderr.write(`rowanleaf: ${(e as Error).message.replace(/\s*\n\s*/g, ' ')}\n`);
    return e instanceof Usage ? 2 : 1;
  }
}
