/** Bringing pictures and projects in: each file on its own, so that a bad one disturbs nothing else. */
import { put } from '../document/history';
import { newId } from '../document/records';
import type { MediaRecord, Rate, Records, ShotRecord } from '../document/records';
import { parseProject } from '../document/projectFile';
import { create } from 'zustand';
import { MAX_FILE_BYTES } from '../media/picture';
import { removeShot } from './actions';
import { sumOf } from './clips';
import { Cancelled, decode } from './decoder';
import { sha256Hex } from './db';
import { files as kept } from './kept';
import { engine } from './engine';
import { importClip, importSequence, isClip, shotOf } from './importClip';
import type { Progress, Sequence } from './importClip';
import { sayError, sayNews } from './notices';
import { neededFiles, sumsOf } from './persist';
import { useDoc, useSession } from './store';
import { wordsOf } from './words';

const sentence = (e: unknown): string => wordsOf(e).replace(/([^.!?])$/, '$1.');

/** Files on their way in, each at its stage; progress only rises. */
export interface ImportJob {
  id: number;
  name: string;
  stage: 'waiting' | 'reading' | 'decoding' | 'keeping' | 'done' | 'failed' | 'cancelled';
  message: string;
  abort: AbortController;
}
export const stageShare: Record<ImportJob['stage'], number> = {
  waiting: 0,
  reading: 0.15,
  decoding: 0.4,
  keeping: 0.85,
  done: 1,
  failed: 1,
  cancelled: 1,
};
export const useImports = create<{ jobs: ImportJob[] }>()(() => ({ jobs: [] }));
let nextJob = 1;
const update = (id: number, p: Partial<ImportJob>): void =>
  useImports.setState((s) => ({ jobs: s.jobs.map((j) => (j.id === id ? { ...j, ...p } : j)) }));
export const cancelImports = (): void => useImports.getState().jobs.forEach((j) => j.abort.abort());
export const clearImports = (): void =>
  useImports.setState((s) => ({ jobs: s.jobs.filter((j) => stageShare[j.stage] < 1) }));

/** Counts files that are on their way to the store; the page is not "saved" before they are there. */
export async function keeping<T>(work: () => Promise<T>): Promise<T> {
  useDoc.setState((s) => ({ keeping: s.keeping + 1 }));
  try {
    return await work();
  } finally {
    useDoc.setState((s) => ({ keeping: s.keeping - 1 }));
  }
}
const progressOf = (job: ImportJob): Progress => ({
  signal: job.abort.signal,
  stage: (stage, message = '') => update(job.id, { stage, message }),
});
/** Bytes up to which a file is kept before its shot is there. */
const KEPT_FIRST = 8e6;
let asked = false;
/** At the first own picture: what is kept is then not thrown out when the disk gets full. */
function askToPersist(): void {
  if (asked) return;
  asked = true;
  void kept.persist();
}

function notKept(job: ImportJob, e: unknown): void {
  update(job.id, {
    stage: 'failed',
    message:
      `it is open, but could not be kept (${wordsOf(e)}): it will be gone after a reload. Free some room and ` +
      'import it again.',
  });
}
async function importPicture(file: File, job: ImportJob, alone: boolean): Promise<ShotRecord | null> {
  const stop = (): void => {
    if (job.abort.signal.aborted) throw new Cancelled();
  };
  stop();
  const clip = await isClip(file);
  if (file.size > MAX_FILE_BYTES && !clip)
    throw new Error(
      `the file has ${Math.round(file.size / 2 ** 20)} MB, more than ${MAX_FILE_BYTES / 2 ** 20}. Save ` +
        `it smaller and import that.`,
    );
  if (clip) {
    const came = await keeping(() => importClip(file, progressOf(job)));
    if (!came) {
      update(job.id, { stage: 'done', message: '' });
      return null;
    }
    const keep = keeping(() => came.keep).then(
      () => {
        update(job.id, { stage: 'done', message: '' });
        askToPersist();
        tidyList();
      },
      (e: unknown) => {
        if (!(e instanceof Cancelled)) return notKept(job, e);
        removeShot(came.shot.id);
        update(job.id, { stage: 'cancelled', message: 'cancelled: its shot is removed again' });
        tidyList();
      },
    );
    if (!alone) await keep;
    return came.shot;
  }
  update(job.id, { stage: 'reading' });
  const bytes = await file.arrayBuffer();
  stop();
  update(job.id, { stage: 'decoding' });
  const options = useSession.getState().importing;
  // The checksum takes its own copy at once, so the bytes can go to the decoder; the file itself is what is kept.
  const summing = sha256Hex(bytes);
  const decoding = decode(bytes, options, 'import', job.abort.signal);
  decoding.catch(() => {});
  const sha256 = await summing;
  const doc = useDoc.getState();
  // A picture that a shot is waiting for is put back in its place.
  const missing = Object.values(doc.records).find(
    (r): r is MediaRecord => r.type === 'media' && r.sha256 === sha256 && r.source.from === 'file',
  );
  const there = (await kept.size(sha256)) > 0;
  if (!there) await kept.check(file.size);
  if (missing && !there) {
    await decoding;
    await keeping(() => kept.put(sha256, file.name, file));
    update(job.id, { stage: 'done' });
    // The shot is there already: nothing new to go to.
    sayNews(`${file.name} is linked again.`);
    return null;
  }
  // What cannot be read, or was stopped, is not kept.
  const p = await decoding;
  stop();
  update(job.id, { stage: 'keeping' });
  const media: MediaRecord = {
    type: 'media',
    id: newId('media'),
    kind: 'still',
    fileName: file.name,
    format: p.format,
    bits: p.bits,
    width: p.width,
    height: p.height,
    frames: 1,
    pixelAspect: p.pixelAspect ?? [1, 1],
    sha256,
    source: { from: 'file' },
    decode: options,
  };
  const shot = shotOf(media, file.name.replace(/\.[^.]+$/, '') || file.name, p.encoding);
  // Shown at once; of many at a time each is opened when it is looked at.
  if (alone) await engine().give({ media: media.id, frame: 0 }, 1, p);
  const record = (): void => useDoc.getState().change(`Import ${file.name}`, put(media, shot));
  const keep = keeping(() =>
    kept.during(sha256, async () => {
      // A small file is kept first, which nobody notices: a page that dies in between leaves no shot without a picture.
      // A large one is shown while it is still being kept: until then the page says so, and asks before it is left.
      const first = file.size <= KEPT_FIRST;
      if (!first) record();
      try {
        await kept.put(sha256, file.name, file);
      } finally {
        if (first) record();
      }
    }),
  ).then(
    () => {
      update(job.id, { stage: 'done' });
      askToPersist();
    },
    (e: unknown) => notKept(job, e),
  );
  // Many are kept one after another, so that none waits for a disk that is busy with a hundred.
  if (!alone || file.size <= KEPT_FIRST) await keep;
  if (p.notes.length) {
    if (alone) sayNews(`${file.name} is imported; ${p.notes.join('; ')}.`);
    else update(job.id, { message: `${p.notes.join('; ')}.` });
  }
  return shot;
}

const bytesFromBase64 = (text: string): Uint8Array<ArrayBuffer> => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

/** Opens a project file in the place of the present one; undo brings that back. */
export async function openProject(file: File): Promise<boolean> {
  const { records, embedded, said } = parseProject(await file.text());
  // Held until the records that speak of them are there.
  await kept.during(
    Object.values(records).flatMap((r) => (r.type === 'media' ? sumsOf(r) : [])),
    () => openAll(file, records, embedded),
  );
  await sayOpened(file, records, said);
  return true;
}
async function openAll(file: File, records: Records, embedded: Readonly<Record<string, string>>): Promise<void> {
  for (const [id, text] of Object.entries(embedded)) {
    const m = records[id];
    if (m?.type !== 'media') continue;
    const bytes = bytesFromBase64(text);
    const sum = m.ofParts ? await sumOf(new Blob([bytes]), 'parts', () => {}) : await sha256Hex(bytes.buffer);
    if (sum !== m.sha256)
      throw new Error(
        `the picture ${m.fileName} in it is damaged: its checksum differs. Use an older copy, or the ` +
          `project without pictures`,
      );
    await keeping(() => kept.put(m.sha256, m.fileName, new Blob([bytes])));
  }
  useDoc.getState().change(`Open ${file.name}`, (): Records => records);
}
async function sayOpened(file: File, records: Records, said: readonly string[]): Promise<void> {
  const gone: string[] = [];
  const needed = neededFiles({ records, past: [], ahead: [] }).now;
  for (const r of Object.values(records))
    if (r.type === 'media' && r.source.from === 'file')
      for (const sum of sumsOf(r).filter((s) => needed.has(s)))
        if ((await kept.size(sum)) === 0) {
          gone.push(r.fileName);
          break;
        }
  if (gone.length)
    sayError(
      `${file.name} is open. These pictures are not in this browser: ${gone.join(', ')}. Import the same ` +
        `files here and they are linked again.`,
    );
  else if (said.length === 0) sayNews(`${file.name} is open.`);
  if (said.length) sayError(`${file.name} was mended as it was opened. ${said.slice(0, 4).join('. ')}.`);
}

const newJob = (name: string): ImportJob => ({
  id: nextJob++,
  name,
  stage: 'waiting',
  message: '',
  abort: new AbortController(),
});
/** What failed before stays in the list: it is closed by the person. */
const list = (jobs: readonly ImportJob[]): void =>
  useImports.setState((s) => ({
    jobs: [...s.jobs.filter((j) => stageShare[j.stage] < 1 || j.stage === 'failed'), ...jobs],
  }));
/** What went well needs no list any more. */
const tidyList = (): void =>
  void setTimeout(() => {
    const { jobs: all } = useImports.getState();
    if (all.every((j) => stageShare[j.stage] >= 1))
      useImports.setState({ jobs: all.filter((j) => j.stage === 'failed' || (j.message && j.stage === 'done')) });
  }, 1500);
/** Imports numbered pictures as one shot. */
export async function importFrames(s: Sequence, rate: Rate): Promise<ShotRecord | null> {
  const job = newJob(s.title);
  list([job]);
  try {
    const shot = await keeping(() => importSequence(s, rate, progressOf(job)));
    update(job.id, { stage: 'done', message: '' });
    askToPersist();
    return shot;
  } catch (e) {
    if (e instanceof Cancelled) update(job.id, { stage: 'cancelled', message: 'cancelled' });
    else update(job.id, { stage: 'failed', message: sentence(e) });
    return null;
  } finally {
    tidyList();
  }
}

/** Imports pictures, clips and projects; answers with the last shot that came in. */
export async function importFiles(files: readonly File[]): Promise<ShotRecord | null> {
  const pictures = files.filter((f) => !/\.json$/i.test(f.name));
  const jobs = pictures.map((f) => newJob(f.name));
  list(jobs);
  let last: ShotRecord | null = null;
  for (const f of files) {
    const job = jobs[pictures.indexOf(f)];
    try {
      if (!job) await openProject(f);
      else last = (await importPicture(f, job, pictures.length === 1)) ?? last;
    } catch (e) {
      if (e instanceof Cancelled) {
        update(job!.id, { stage: 'cancelled', message: 'cancelled' });
        continue;
      }
      // A picture's fault stands in the list until the list is closed; there may be hundreds.
      if (job) update(job.id, { stage: 'failed', message: sentence(e) });
      else sayError(`${f.name}: ${sentence(e)}`);
    }
  }
  tidyList();
  return last;
}
