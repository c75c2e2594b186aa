/** What is opened: the demo project as it was shipped, the bytes and frames of any picture, tables. */
import type { Cube } from '../core/formats/cube';
import { cubeOf } from '../document/tables';
import { parseProject } from '../document/projectFile';
import type { MediaRecord, Records } from '../document/records';
import { defaultDecode } from '../media/picture';
import { stillSource } from '../media/source';
import type { FrameSource } from '../media/source';
import { files } from './kept';
import { decode } from './decoder';
import { useDoc } from './store';

export async function fetchDemo(): Promise<Records> {
  const r = await fetch('/demo/small-hours.rowanleaf.json');
  if (!r.ok)
    throw new Error(
      `The demo project could not be read from the server (${r.status}). Start the application again with npm start.`,
    );
  return parseProject(await r.text()).records;
}

export class MissingFile extends Error {
  override name = 'MissingFile';
}

export async function bytesOf(m: MediaRecord): Promise<ArrayBuffer> {
  if (m.source.from === 'demo') {
    const r = await fetch(`/demo/${m.source.path}`);
    if (!r.ok)
      throw new MissingFile(`${m.fileName} is not on the server any more (${r.status}): install the application again`);
    return r.arrayBuffer();
  }
  const file = await files.open(m.sha256);
  if (!file)
    throw new MissingFile(`The picture ${m.fileName} is not in this browser: relink it in Shots with its file`);
  return file.arrayBuffer();
}

export function loadTable(id: string): Cube {
  const t = useDoc.getState().records[id];
  if (t?.type !== 'table')
    throw new MissingFile('A lookup table of this shot is not in the project any more: choose another one');
  return cubeOf(t);
}

/** Where the frames of a media come from. A file that is not here rejects with MissingFile. */
export function sourceOf(media: string): FrameSource {
  const m = useDoc.getState().records[media];
  if (m?.type !== 'media') throw new MissingFile('The shot has no picture');
  return stillSource(async (signal) => decode(await bytesOf(m), m.decode ?? defaultDecode, 'open', signal));
}
