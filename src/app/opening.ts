/** What is opened: the demo project as it was shipped, the bytes and frames of any picture, tables. */
import type { Cube } from '../core/formats/cube';
import { cubeOf } from '../document/tables';
import { parseProject } from '../document/projectFile';
import type { MediaRecord, Records } from '../document/records';
import { defaultDecode } from '../media/picture';
import { clampFrame, stillSource } from '../media/source';
import type { FrameSource } from '../media/source';
import { clipSource } from './clips';
import { files } from './kept';
import { mediaIdOf } from './mediaKey';
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

/** Files that are shown before they are kept, by checksum. */
export const arriving = new Map<string, Blob>();
/** The file of a still or a clip; of a sequence, that of one frame. */
export async function fileOf(m: MediaRecord, frame = 0): Promise<Blob> {
  if (m.source.from === 'demo') {
    const r = await fetch(`/demo/${m.source.path}`);
    if (!r.ok)
      throw new MissingFile(`${m.fileName} is not on the server any more (${r.status}): install the application again`);
    return r.blob();
  }
  const one = m.files?.[clampFrame(frame, m.frames)];
  const sum = one?.sha256 ?? m.sha256;
  const file = arriving.get(sum) ?? (await files.open(sum));
  if (file) return file;
  const what = m.kind === 'clip' ? 'clip' : 'picture';
  throw new MissingFile(
    `The ${what} ${one?.name ?? m.fileName} is not in this browser: relink it in Shots with its file`,
  );
}
export const bytesOf = async (m: MediaRecord, frame = 0): Promise<ArrayBuffer> =>
  (await fileOf(m, frame)).arrayBuffer();

export function loadTable(id: string): Cube {
  const t = useDoc.getState().records[id];
  if (t?.type !== 'table')
    throw new MissingFile('A lookup table of this shot is not in the project any more: choose another one');
  return cubeOf(t);
}

/**
 * Where the frames of a media come from, by the name that requests use (`mediaKey`). A file that is not here rejects
 * with MissingFile.
 */
export function sourceOf(key: string): FrameSource {
  const m = useDoc.getState().records[mediaIdOf(key)];
  if (m?.type !== 'media') throw new MissingFile('The shot has no picture');
  if (m.yuv) return clipSource(m.sha256, m.frames, m.yuv, () => fileOf(m));
  const options = m.decode ?? defaultDecode;
  if (m.files)
    return {
      frames: m.frames,
      frame: async (n, signal) => {
        const p = await decode(await bytesOf(m, n), options, 'open', signal);
        if (p.width === m.width && p.height === m.height) return p;
        throw new MissingFile(
          `${m.files![clampFrame(n, m.frames)]!.name} has ${p.width} x ${p.height} pixels, the sequence ` +
            `${m.width} x ${m.height}: write it again at that size and import the sequence anew`,
        );
      },
    };
  return stillSource(async (signal) => decode(await bytesOf(m), options, 'open', signal));
}
