/** Bringing pictures and projects in: each file on its own, so that a bad one disturbs nothing else. */
import { newUse } from '../core/graph/plan.defaults';
import { put } from '../document/history';
import { newId, shotsOf } from '../document/records';
import type { MediaRecord, Records, ShotRecord } from '../document/records';
import { parseProject } from '../document/projectFile';
import { create } from 'zustand';
import { MAX_FILE_BYTES } from '../media/picture';
import { needsConversion } from './actions';
import { Cancelled, decode } from './decoder';
import { db, sha256Hex } from './db';
import { engine } from './engine';
import { EngineError } from './engineClient';
import { sayError, sayNews } from './notices';
import { useDoc, useSession } from './store';

const remedyOf = (e: unknown): string => (e instanceof EngineError && e.reply.remedy ? ` ${e.reply.remedy}` : '');
const sentence = (e: unknown): string => `${(e as Error).message}${/[.!?]$/.test((e as Error).message) ? '' : '.'}${remedyOf(e)}`;

/** Files on their way in, each at its stage; progress only rises. */
export interface ImportJob {
  id: number;
  name: string;
  stage: 'waiting' | 'reading' | 'decoding' | 'keeping' | 'done' | 'failed' | 'cancelled';
  message: string;
  abort: AbortController;
}
export const stageShare: Record<ImportJob['stage'], number> = { waiting: 0, reading: 0.15, decoding: 0.4, keeping: 0.85, done: 1, failed: 1, cancelled: 1 };
export const useImports = create<{ jobs: ImportJob[] }>()(() => ({ jobs: [] }));
let nextJob = 1;
const update = (id: number, p: Partial<ImportJob>): void => useImports.setState((s) => ({ jobs: s.jobs.map((j) => (j.id === id ? { ...j, ...p } : j)) }));
export const cancelImports = (): void => useImports.getState().jobs.forEach((j) => j.abort.abort());
export const clearImports = (): void => useImports.setState((s) => ({ jobs: s.jobs.filter((j) => stageShare[j.stage] < 1) }));

async function importPicture(file: File, job: ImportJob): Promise<ShotRecord | null> {
  const stop = (): void => {
    if (job.abort.signal.aborted) throw new Cancelled();
  };
  stop();
  if (file.size > MAX_FILE_BYTES) throw new Error(`the file has ${Math.round(file.size / 2 ** 20)} MB, more than ${MAX_FILE_BYTES / 2 ** 20}. Save it smaller and import that.`);
  update(job.id, { stage: 'reading' });
  const bytes = await file.arrayBuffer();
  stop();
  update(job.id, { stage: 'decoding' });
  const options = useSession.getState().importing;
  // The checksum takes its own copy at once, so the bytes can go to the decoder; the file itself is what is kept.
  const summing = sha256Hex(bytes);
  const decoding = decode(bytes, options, job.abort.signal);
  decoding.catch(() => {});
  const sha256 = await summing;
  const doc = useDoc.getState();
  // A picture that a shot is waiting for is put back in its place.
  const missing = Object.values(doc.records).find((r): r is MediaRecord => r.type === 'media' && r.sha256 === sha256 && r.source.from === 'file');
  const there = await db.files.get(sha256);
  const keep = there ? Promise.resolve(sha256) : db.files.put({ sha256, name: file.name, bytes: file });
  if (missing && !there) {
    await Promise.all([keep, decoding]);
    update(job.id, { stage: 'done' });
    // The shot is there already: nothing new to go to.
    sayNews(`${file.name} is linked again.`);
    return null;
  }
  let p;
  try {
    p = await decoding;
    stop();
    update(job.id, { stage: 'keeping' });
  } catch (e) {
    // What cannot be read, or was stopped, is not kept.
    if (!there) await keep.then(() => db.files.delete(sha256)).catch(() => {});
    throw e;
  }
  const now = useDoc.getState();
  const media: MediaRecord = { type: 'media', id: newId('media'), kind: 'still', fileName: file.name, format: p.format, bits: p.bits, width: p.width, height: p.height, frames: 1, sha256, source: { from: 'file' }, decode: options };
  const list = shotsOf(now.records);
  const stem = file.name.replace(/\.[^.]+$/, '') || file.name;
  const taken = new Set(list.map((s) => s.name));
  let name = stem;
  for (let i = 2; taken.has(name); i++) name = `${stem} ${i}`;
  const shot: ShotRecord = { type: 'shot', id: newId('shot'), name, media: media.id, encoding: p.encoding, encodingGuessed: true, conversion: newUse('conversion', 'convert', {}, needsConversion(p.encoding)), range: [0, 0], fps: 24, order: (list.at(-1)?.order ?? 0) + 1 };
  await engine().give(media.id, p);
  now.change(`Import ${file.name}`, put(media, shot));
  // It is shown while it is still being kept; a store that is full is said.
  void keep.then(() => update(job.id, { stage: 'done' }), (e: Error) => {
    update(job.id, { stage: 'failed', message: e.message });
    sayError(`${file.name} is open, but this browser could not keep it (${e.message}): it will be gone after a reload. Free some space and import it again.`);
  });
  if (p.notes.length) sayNews(`${file.name} is imported; ${p.notes.join('; ')}.`);
  return shot;
}

const bytesFromBase64 = (text: string): Uint8Array<ArrayBuffer> => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

/** Opens a project file in the place of the present one; undo brings that back. */
export async function openProject(file: File): Promise<boolean> {
  const { records, embedded } = parseProject(await file.text());
  for (const [id, text] of Object.entries(embedded)) {
    const m = records[id];
    if (m?.type !== 'media') continue;
    const bytes = bytesFromBase64(text);
    if ((await sha256Hex(bytes.buffer)) !== m.sha256) throw new Error(`the picture ${m.fileName} in it is damaged: its checksum differs. Use an older copy, or the project without pictures`);
    await db.files.put({ sha256: m.sha256, name: m.fileName, bytes: new Blob([bytes]) });
  }
  useDoc.getState().change(`Open ${file.name}`, (): Records => records);
  const gone: string[] = [];
  for (const r of Object.values(records)) if (r.type === 'media' && r.source.from === 'file' && !(await db.files.get(r.sha256))) gone.push(r.fileName);
  if (gone.length) sayError(`${file.name} is open. These pictures are not in this browser: ${gone.join(', ')}. Import the same files here and they are linked again.`);
  else sayNews(`${file.name} is open.`);
  return true;
}

/** Imports pictures and projects; answers with the last shot that came in. */
export async function importFiles(files: readonly File[]): Promise<ShotRecord | null> {
  const pictures = files.filter((f) => !/\.json$/i.test(f.name));
  const jobs = pictures.map((f): ImportJob => ({ id: nextJob++, name: f.name, stage: 'waiting', message: '', abort: new AbortController() }));
  useImports.setState((s) => ({ jobs: [...s.jobs.filter((j) => stageShare[j.stage] < 1), ...jobs] }));
  let last: ShotRecord | null = null;
  for (const f of files) {
    const job = jobs[pictures.indexOf(f)];
    try {
      if (!job) await openProject(f);
      else last = (await importPicture(f, job)) ?? last;
    } catch (e) {
      if (e instanceof Cancelled) {
        update(job!.id, { stage: 'cancelled', message: 'cancelled' });
        continue;
      }
      if (job) update(job.id, { stage: 'failed', message: sentence(e) });
      sayError(`${f.name}: ${sentence(e)}`);
    }
  }
  // What went well needs no list any more.
  setTimeout(() => useImports.getState().jobs.every((j) => stageShare[j.stage] >= 1) && clearImports(), 1500);
  return last;
}
