/** Bringing pictures and projects in: each file on its own, so that a bad one disturbs nothing else. */
import { newUse } from '../core/graph/plan.defaults';
import { put } from '../document/history';
import { newId, shotsOf } from '../document/records';
import type { MediaRecord, Records, ShotRecord } from '../document/records';
import { parseProject } from '../document/projectFile';
import { MAX_FILE_BYTES } from '../media/decode';
import { db, sha256Hex } from './db';
import { engine } from './engine';
import { EngineError } from './engineClient';
import { sayError, sayNews } from './notices';
import { useDoc } from './store';

const remedyOf = (e: unknown): string => (e instanceof EngineError && e.reply.remedy ? ` ${e.reply.remedy}` : '');

async function importPicture(file: File): Promise<ShotRecord | null> {
  if (file.size > MAX_FILE_BYTES) throw new Error(`the file has ${Math.round(file.size / 2 ** 20)} MB, more than ${MAX_FILE_BYTES / 2 ** 20}. Save it smaller and import that.`);
  const bytes = await file.arrayBuffer();
  const sha256 = await sha256Hex(bytes);
  const doc = useDoc.getState();
  // A picture that a shot is waiting for is put back in its place.
  const missing = Object.values(doc.records).find((r): r is MediaRecord => r.type === 'media' && r.sha256 === sha256 && r.source.from === 'file');
  if (missing && !(await db.files.get(sha256))) {
    await db.files.put({ sha256, name: file.name, bytes: new Blob([bytes]) });
    sayNews(`${file.name} is linked again.`);
    return shotsOf(doc.records).find((s) => s.media === missing.id) ?? null;
  }
  const id = newId('media');
  const info = await engine().request('open', { pictureId: id, bytes: bytes.slice(0) });
  await db.files.put({ sha256, name: file.name, bytes: new Blob([bytes]) });
  const media: MediaRecord = { type: 'media', id, kind: 'still', fileName: file.name, format: info.format, bits: info.bits, width: info.width, height: info.height, frames: 1, sha256, source: { from: 'file' } };
  const list = shotsOf(doc.records);
  const stem = file.name.replace(/\.[^.]+$/, '') || file.name;
  const taken = new Set(list.map((s) => s.name));
  let name = stem;
  for (let i = 2; taken.has(name); i++) name = `${stem} ${i}`;
  const shot: ShotRecord = { type: 'shot', id: newId('shot'), name, media: id, encoding: 'srgb', encodingGuessed: true, conversion: newUse('conversion', 'convert', {}, false), range: [0, 0], fps: 24, order: (list.at(-1)?.order ?? 0) + 1 };
  doc.change(`Import ${file.name}`, put(media, shot));
  if (info.notes.length) sayNews(`${file.name} is imported; ${info.notes.join('; ')}.`);
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
  let last: ShotRecord | null = null;
  for (const f of files) {
    try {
      if (/\.json$/i.test(f.name)) await openProject(f);
      else last = (await importPicture(f)) ?? last;
    } catch (e) {
      sayError(`${f.name}: ${(e as Error).message}${/[.!?]$/.test((e as Error).message) ? '' : '.'}${remedyOf(e)}`);
    }
  }
  return last;
}
