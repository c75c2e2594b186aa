/** First start: the demo project; and the bytes of any picture by its media id. */
import type { Cube } from '../core/formats/cube';
import { cubeOf } from '../document/tables';
import { parseProject } from '../document/projectFile';
import type { MediaRecord, Records } from '../document/records';
import { defaultDecode } from '../media/picture';
import type { DecodedPicture } from '../media/picture';
import { db } from './db';
import { decode } from './decoder';
import { setStored, takeAside, useDoc } from './store';

export async function fetchDemo(): Promise<Records> {
  const r = await fetch('/demo/small-hours.rowanleaf.json');
  if (!r.ok) throw new Error(`The demo project could not be read from the server (${r.status}). Start the application again with npm start.`);
  return parseProject(await r.text()).records;
}

/** Opens what was left, or the demo on the first start. */
export async function openLast(): Promise<void> {
  const aside = takeAside();
  if (aside) await db.save(aside);
  const list = await db.records.toArray();
  if (list.length > 0) {
    const records = Object.fromEntries(list.map((r) => [r.id, r]));
    setStored(records);
    useDoc.getState().load(records);
    return;
  }
  const records = await fetchDemo();
  await db.replaceAll(Object.values(records));
  setStored(records);
  useDoc.getState().load(records);
}

export class MissingFile extends Error {
  override name = 'MissingFile';
}

export async function bytesOf(m: MediaRecord): Promise<ArrayBuffer> {
  if (m.source.from === 'demo') {
    const r = await fetch(`/demo/${m.source.path}`);
    if (!r.ok) throw new MissingFile(`${m.fileName} is not on the server any more (${r.status}): install the application again`);
    return r.arrayBuffer();
  }
  const row = await db.files.get(m.sha256);
  if (!row) throw new MissingFile(`The picture ${m.fileName} is not in this browser: relink it in Shots with its file`);
  return row.bytes.arrayBuffer();
}

export function loadTable(id: string): Cube {
  const t = useDoc.getState().records[id];
  if (t?.type !== 'table') throw new MissingFile('A lookup table of this shot is not in the project any more: choose another one');
  return cubeOf(t);
}

export async function loadPicture(pictureId: string): Promise<DecodedPicture> {
  const m = useDoc.getState().records[pictureId];
  if (m?.type !== 'media') throw new MissingFile('The shot has no picture');
  return decode(await bytesOf(m), m.decode ?? defaultDecode);
}
