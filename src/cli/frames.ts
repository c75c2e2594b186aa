/** Frames for the terminal: a picture, a folder of numbered pictures, or a clip (by ffmpeg, where it is there). */
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { openAsBlob, readdirSync, readFileSync, statSync } from 'node:fs';
import { basename, join } from 'node:path';
import type { YuvMeaning, YuvPlanes } from '../core/color/yuv';
import { turnYuv } from '../core/color/yuv';
import { Clip } from '../media/clip';
import { defaultDecode, MediaError } from '../media/picture';
import type { DecodedPicture, DecodeOptions } from '../media/picture';
import type { MediaRecord } from '../document/records';
import { runOf } from '../media/sequence';
import { clampFrame } from '../media/source';
import { decodeInThread, FileError } from './decode';

/** What cannot be read; the message says what to do. */
export class NotRead extends Error {}

export interface Frames {
  count: number;
  stem: string;
  /** Frames a to b, one after another, counted from 0. */
  read(a: number, b: number): AsyncGenerator<DecodedPicture, void, unknown>;
  said: string[];
}

/** `options`: how transparency and profiles are read. */
export async function still(file: string, options: DecodeOptions = defaultDecode): Promise<DecodedPicture> {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(file);
  } catch {
    throw new NotRead(`${file} cannot be read: check the path`);
  }
  try {
    return await decodeInThread(bytes, undefined, options);
  } catch (e) {
    if (e instanceof FileError) throw new NotRead(`${basename(file)}: ${e.message}`);
    throw e;
  }
}
const stemOf = (name: string): string => name.replace(/\.[^.]+$/, '');

/** `meaning`: how a clip is read, where the project says it; left out, as its file does. */
export async function openFrames(input: string, meaning?: YuvMeaning): Promise<Frames> {
  let isDir: boolean;
  try {
    isDir = statSync(input).isDirectory();
  } catch {
    throw new NotRead(`${input} cannot be read: check the path`);
  }
  if (isDir) {
    const run = runOf(readdirSync(input).filter((n) => /\.(png|jpe?g|tiff?|exr|webp|avif)$/i.test(n)));
    if (!run) throw new NotRead(`${input} holds no pictures whose names end with a number, as scene_0001.png does`);
    return {
      count: run.names.length,
      stem: run.title.replace(/[-_. ]*\[.*$/, '') || 'sequence',
      said: [
        ...(run.gaps ? [`numbers ${run.gaps} are missing: what stands beside a gap follows at once`] : []),
        ...(run.odd.length ? [`left out: ${run.odd.slice(0, 4).join(', ')}`] : []),
      ],
      async *read(a, b) {
        for (let i = a; i <= b; i++) yield await still(join(input, run.names[i]!));
      },
    };
  }
  if (!/\.(mp4|m4v|mov|webm|mkv)$/i.test(input))
    return {
      count: 1,
      stem: stemOf(basename(input)),
      said: [],
      async *read() {
        yield await still(input);
      },
    };
  let clip: Clip;
  try {
    clip = await Clip.open(await openAsBlob(input), false);
  } catch (e) {
    if (e instanceof MediaError) throw new NotRead(`${basename(input)}: ${e.message}. ${e.remedy}`);
    throw e;
  }
  const { info, quarters } = clip;
  clip.close();
  return {
    count: info.frames,
    stem: stemOf(basename(input)),
    said: info.notes,
    async *read(a, b) {
      const turned = quarters % 2 === 1;
      const [w, h] = turned ? [info.height, info.width] : [info.width, info.height];
      const subs = await layoutOf(input);
      let n = 0;
      for await (const planes of raw(input, w, h, subs)) {
        if (n > b) return;
        if (n++ < a) continue;
        const t = turnYuv(planes, w, h, quarters);
        yield {
          width: t.w,
          height: t.h,
          bits: planes.bits,
          format: info.format,
          rgb: new Uint8Array(0),
          yuv: { planes: t.planes, meaning: meaning ?? info.meaning },
          notes: [],
          encoding: info.encoding,
          alpha: false,
        };
      }
    },
  };
}

/** A frame of a matte from outside, out of the folder that holds its files; each is known by its checksum. */
export async function matteFrame(m: MediaRecord, n: number, dir: string | undefined): Promise<DecodedPicture> {
  const at = clampFrame(n, m.frames);
  const one = m.files?.[at] ?? { name: m.fileName, sha256: m.sha256 };
  if (dir === undefined)
    throw new NotRead(`a region takes ${one.name} as its matte: give the folder that holds it as --mattes DIR`);
  const path = join(dir, basename(one.name));
  let sum: string;
  try {
    sum = createHash('sha256').update(readFileSync(path)).digest('hex');
  } catch {
    throw new NotRead(`${path} cannot be read, and a region takes it as its matte: check --mattes`);
  }
  if (sum !== one.sha256)
    throw new NotRead(`${path} is another file than the project's matte of that name: its checksum differs`);
  if (m.kind !== 'clip') return still(path, m.decode);
  for await (const p of (await openFrames(path, m.yuv)).read(at, at)) return p;
  throw new NotRead(`${path} has no frame ${at}: it is cut off or damaged`);
}

const missing = (): NotRead =>
  new NotRead(
    'a clip is decoded by ffmpeg here, and it is not installed: install it (apt-get install ffmpeg), or give a ' +
      'folder of numbered pictures',
  );
async function layoutOf(file: string): Promise<Pick<YuvPlanes, 'bits' | 'subX' | 'subY'> & { format: string }> {
  const out = await new Promise<string>((done, fail) => {
    const args = ['-v', 'error', '-select_streams', 'v:0', '-show_entries', 'stream=pix_fmt', '-of', 'csv=p=0', file];
    const p = spawn('ffprobe', args, { stdio: ['ignore', 'pipe', 'ignore'] });
    let text = '';
    p.stdout.on('data', (d: Buffer) => (text += d.toString()));
    p.on('error', () => fail(missing()));
    p.on('close', () => done(text.trim().split(/[\s,]/)[0] ?? ''));
  });
  const m = /^yuvj?(420|422|444)p(?:(10|12)le)?$/.exec(out);
  if (!m) throw new NotRead(`its frames are of the form ${out || 'nobody knows'}, which is not read: convert the clip`);
  return {
    format: out,
    bits: m[2] ? (Number(m[2]) as 10 | 12) : 8,
    subX: m[1] === '444' ? 1 : 2,
    subY: m[1] === '420' ? 2 : 1,
  };
}
/** Planes as ffmpeg's decoder gives them, nothing converted. */
async function* raw(
  file: string,
  w: number,
  h: number,
  l: Awaited<ReturnType<typeof layoutOf>>,
): AsyncGenerator<YuvPlanes, void, unknown> {
  const bytes = l.bits === 8 ? 1 : 2;
  const [cw, ch] = [Math.ceil(w / l.subX), Math.ceil(h / l.subY)];
  const size = (w * h + 2 * cw * ch) * bytes;
  const args = ['-v', 'error', '-noautorotate', '-i', file, '-map', '0:v:0', '-fps_mode', 'passthrough'];
  const p = spawn('ffmpeg', [...args, '-f', 'rawvideo', '-pix_fmt', l.format, '-'], {
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  let failed = false;
  p.on('error', () => (failed = true));
  const part = (b: Uint8Array, from: number, n: number): YuvPlanes['y'] => {
    const own = b.slice(from, from + n * bytes);
    return bytes === 1 ? own : new Uint16Array(own.buffer);
  };
  let held: Buffer[] = [];
  let have = 0;
  try {
    for await (const chunk of p.stdout as AsyncIterable<Buffer>) {
      held.push(chunk);
      have += chunk.length;
      while (have >= size) {
        const all = Buffer.concat(held);
        const frame = new Uint8Array(all.subarray(0, size));
        held = [all.subarray(size)];
        have -= size;
        const y = part(frame, 0, w * h);
        const u = part(frame, w * h * bytes, cw * ch);
        const v = part(frame, (w * h + cw * ch) * bytes, cw * ch);
        yield { y, u, v, bits: l.bits, subX: l.subX, subY: l.subY };
      }
    }
  } finally {
    p.kill();
  }
  if (failed) throw missing();
}
