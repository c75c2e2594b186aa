/** A range of a shot rendered to numbered pictures or to a clip, and handed to the person when it is whole. */
import { mediaOf } from '../document/records';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../document/records';
import type { Along, Codes, Halves, SoundCopied } from '../media/picture';
import type { ShotState, WriteFormat, WriteReply, WriteRequest } from '../protocol/messages';
import { shotState } from './actions';
import { engine } from './engine';
import { EngineError } from './engineError';
import { fileStem } from './files';
import { runJob } from './jobs';
import type { JobRun } from './jobs';
import { sayNews } from './notices';
import { fileOf } from './opening';
import { useDoc } from './store';

const DIR = 'out';
const root = async (): Promise<FileSystemDirectoryHandle> =>
  (await navigator.storage.getDirectory()).getDirectoryHandle(DIR, { create: true });
/** Younger than this a file may be another tab's that is still being saved. */
const STALE_MS = 10 * 60_000;
/** Removes what earlier jobs left because the page was closed in their middle. */
async function clearOut(): Promise<void> {
  try {
    const dir = await root();
    const entries = (dir as unknown as { entries(): AsyncIterable<[string, FileSystemFileHandle]> }).entries();
    for await (const [name, handle] of entries)
      if (Date.now() - (await handle.getFile()).lastModified > STALE_MS) await dir.removeEntry(name).catch(() => {});
  } catch (e) {
    console.warn('What old jobs left was not removed:', e);
  }
}

/** The writing thread, one a job. */
class Writing {
  private readonly worker = new Worker(new URL('../workers/write.ts', import.meta.url), {
    type: 'module',
    name: 'write',
  });
  private next = 1;
  private readonly waiting = new Map<number, { done: (sound: SoundCopied | null) => void; fail: (e: Error) => void }>();
  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<WriteReply>) => {
      const w = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if (data.ok) w?.done(data.sound);
      else w?.fail(new EngineError(data.error));
    };
    this.worker.onerror = this.worker.onmessageerror = () => this.end('the thread that writes it stopped');
  }
  ask(
    q: WriteRequest extends infer R ? (R extends WriteRequest ? Omit<R, 'id'> : never) : never,
    transfer: Transferable[] = [],
  ): Promise<SoundCopied | null> {
    return new Promise((done, fail) => {
      const id = this.next++;
      this.waiting.set(id, { done, fail });
      this.worker.postMessage({ ...q, id } as WriteRequest, transfer);
    });
  }
  end(why: string): void {
    this.worker.terminate();
    const lost = [...this.waiting.values()];
    this.waiting.clear();
    for (const w of lost) w.fail(new EngineError({ code: 'failed', message: why, remedy: 'Try it again.' }));
  }
}

export interface RenderPlan {
  shot: ShotRecord;
  /** First and last frame, as the media counts. */
  range: readonly [number, number];
  /** The corrected picture, or the matte of a correction. */
  what: 'picture' | CorrectionRecord;
  format: WriteFormat;
  /** The clip's sound goes along: in the file where it can hold it, else beside it. */
  sound: { media: MediaRecord; beside: string | null } | null;
}
export const endOf: Record<WriteFormat['kind'], string> = {
  png: 'zip',
  tiff: 'zip',
  exr: 'zip',
  webm: 'webm',
  mp4: 'mp4',
};

/** Renders, and gives the file to the person. */
export async function renderRange(plan: RenderPlan): Promise<void> {
  const { shot, range, what, format } = plan;
  const stem = `${fileStem(shot.name)}.${what === 'picture' ? 'corrected' : `matte-${fileStem(what.name)}`}`;
  const name = `${stem}.${endOf[format.kind]}`;
  const [a, b] = range;
  await clearOut();
  await runJob(name, b - a + 1, async (run) => {
    const part = `part-${crypto.randomUUID()}`;
    const besidePart = `${part}-sound`;
    const writing = new Writing();
    const stop = (): void => writing.end('cancelled');
    run.signal.addEventListener('abort', stop, { once: true });
    try {
      const fps = shot.rate[0] / shot.rate[1];
      const along = plan.sound && {
        file: await fileOf(plan.sound.media),
        from: a / fps,
        to: (b + 1) / fps,
        name: `${stem}.sound`,
      };
      const beside = plan.sound?.beside ?? null;
      let copied = await write(writing, part, run, { ...plan, stem, along: beside ? null : along });
      const file = await outFile(part);
      // What took long is handed over first: a fault of the sound alone must not cost it.
      save(file, name);
      if (along && beside) {
        copied = await writing.ask({ kind: 'sound', file: besidePart, part: along });
        if (copied && copied.packets > 0) save(await outFile(besidePart), `${stem}.sound.${beside}`);
      }
      const late = copied ? Math.round(1000 * copied.late) : 0;
      const sound = !plan.sound
        ? ''
        : !copied || copied.packets === 0
          ? ' There is no sound in this range.'
          : ` Its sound goes along as it is${late > 0 ? `; cut at whole packets, it begins ${late} ms late` : ''}.`;
      sayNews(`${name} is rendered: frames ${a} to ${b}, ${(file.size / 1e6).toFixed(1)} MB.${sound}`);
    } finally {
      run.signal.removeEventListener('abort', stop);
      writing.end('done');
      // The browser reads the file while it saves it: it goes later, or with the next start.
      const gone = (): void => void root().then((d) => [part, besidePart].map((f) => d.removeEntry(f).catch(() => {})));
      setTimeout(gone, run.signal.aborted ? 0 : 60_000);
    }
  });
}
const outFile = async (name: string): Promise<File> => (await (await root()).getFileHandle(name)).getFile();

async function write(
  writing: Writing,
  part: string,
  run: JobRun,
  { shot, range: [a, b], what, format, stem, along }: RenderPlan & { stem: string; along: Along | null },
): Promise<SoundCopied | null> {
  // What is rendered is what stood when it was asked for, whatever is changed meanwhile.
  const { records } = useDoc.getState();
  const aspect = mediaOf(records, shot)?.pixelAspect ?? [1, 1];
  await writing.ask({ kind: 'begin', file: part, format, rate: shot.rate, aspect, sound: along });
  const digits = Math.max(4, String(b).length);
  let written: Promise<unknown> = Promise.resolve();
  for (let f = a; f <= b; f++) {
    run.check();
    const state = shotState(records, shot, false, f);
    if (f < b) engine().prefetch({ media: state.media, frame: f + 1 });
    const codes = await frameOf(
      state,
      what === 'picture' ? null : what.id,
      bitsOf(format),
      run.signal,
      'dither' in format && format.dither,
    );
    // While this frame is written the next one is rendered; no more than that waits.
    await written;
    run.at(f - a);
    const frame = `${stem}.${String(f).padStart(digits, '0')}.${endOfFrame(format.kind)}`;
    written = writing.ask({ kind: 'frame', codes, name: frame }, [codes.data.buffer]);
    written.catch(() => {});
  }
  await written;
  return writing.ask({ kind: 'end' });
}
const bitsOf = (f: WriteFormat): 8 | 16 | 'half' => ('bits' in f ? f.bits : 16);
export const endOfFrame = (kind: WriteFormat['kind']): string =>
  kind === 'tiff' ? 'tif' : kind === 'exr' ? 'exr' : 'png';
/** The corrected picture of a shot, or the matte of a correction, as a file will hold it. */
export function frameOf(
  shot: ShotState,
  correction: string | null,
  bits: 8 | 16 | 'half',
  signal?: AbortSignal,
  /** Of codes of 8 bits, and of what a clip makes of those of 16. */
  dither = false,
): Promise<Codes | Halves> {
  if (bits === 'half') return engine().request('halves', { shot, correction }, signal);
  return correction === null
    ? engine().request('pictureCodes', { shot, bits, dither }, signal)
    : engine().request('matteCodes', { shot, correction, bits }, signal);
}

function save(file: File, name: string): void {
  const url = URL.createObjectURL(file);
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}
