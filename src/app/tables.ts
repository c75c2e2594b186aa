/** Lookup tables and decision lists: from files into the project, and out again. */
import type { OpUse } from '../core/graph/plan';
import { put } from '../document/history';
import { LIMITS } from '../document/schema';
import { tableRecord } from '../document/tables';
import type { Records, TableId, TableRecord } from '../document/records';
import { MAX_TABLE_BYTES } from '../media/table';
import { decodeTable } from './decoder';
import { formatCdl, parseCdl } from '../media/cdl';
import type { CdlKind } from '../media/cdl';
import { valuesOf } from './values';
import { download } from './files';
import { guard, sayNews } from './notices';
import { useDoc, useSession } from './store';

export const tablesOf = (r: Records): TableRecord[] =>
  Object.values(r)
    .filter((x): x is TableRecord => x.type === 'table')
    .sort((a, b) => a.name.localeCompare(b.name));

/** Reads a .cube or .clf file into the project; answers with its id, or null after a message. */
export async function importTable(file: File): Promise<TableId | null> {
  const id = await guard(`${file.name} was not read`, async () => {
    if (file.size > MAX_TABLE_BYTES)
      throw new Error(`it has ${Math.round(file.size / 2 ** 20)} MB, more than 64. Choose a smaller table`);
    const { cube, notes } = await decodeTable(await file.arrayBuffer(), file.name);
    const rec = tableRecord((cube.title || file.name.replace(/\.[^.]+$/, '')).slice(0, LIMITS.name), cube);
    useDoc.getState().change(`Read ${file.name}`, put(rec));
    if (notes.length) sayNews(`${file.name}: ${notes.join('; ')}.`);
    return rec.id;
  });
  return id ?? null;
}

/** Parameters of the operation `cdl` from a file; of several corrections the first is taken, and that is said. */
export async function openCdl(file: File): Promise<Record<string, number> | null> {
  const p = await guard(`${file.name} was not read`, async () => {
    // A decision list is a page of text; a large file is something else, and would hold up the page.
    if (file.size > 2 ** 20)
      throw new Error('it has more than 1 MB and is no decision list. Choose a .cc, .ccc or .cdl file');
    const list = parseCdl(await file.text());
    const c = list[0]!;
    if (list.length > 1) sayNews(`${file.name} holds ${list.length} corrections; the first, ${c.id}, is taken.`);
    return {
      slopeR: c.slope[0],
      slopeG: c.slope[1],
      slopeB: c.slope[2],
      offsetR: c.offset[0],
      offsetG: c.offset[1],
      offsetB: c.offset[2],
      powerR: c.power[0],
      powerG: c.power[1],
      powerB: c.power[2],
      saturation: c.saturation,
    };
  });
  return p ?? null;
}
export function saveCdl(use: OpUse, kind: CdlKind): void {
  const v = valuesOf(use, useSession.getState().frame);
  const three = (n: string): [number, number, number] => [v[`${n}R`]!, v[`${n}G`]!, v[`${n}B`]!];
  const id = use.name ?? 'Rowanleaf';
  const text = formatCdl(kind, {
    id,
    description: 'Made by Rowanleaf',
    slope: three('slope'),
    offset: three('offset'),
    power: three('power'),
    saturation: v['saturation']!,
  });
  download(`${id.replace(/[^\p{L}\p{N}._-]+/gu, '-').toLowerCase()}.${kind}`, [text], 'application/xml');
}
