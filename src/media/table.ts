/**
 * Lookup tables from files: .cube and CLF, by their first character; the same code in the decoding thread and in
 * tests.
 */
import { parseCube } from '../core/formats/cube';
import type { Cube } from '../core/formats/cube';
import { parseClf } from './clf';

export const MAX_TABLE_BYTES = 64 * 2 ** 20;

/** Throws a CubeError or an XmlError, with the line. */
export function readTable(bytes: Uint8Array, name: string): { cube: Cube; notes: string[] } {
  if (bytes.length > MAX_TABLE_BYTES)
    throw new RangeError(
      `it has ${Math.round(bytes.length / 2 ** 20)} MB, more than ${MAX_TABLE_BYTES / 2 ** 20}. Choose a smaller table`,
    );
  const text = new TextDecoder().decode(bytes);
  const { cube, notes } =
    /\.clf$/i.test(name) || /^\s*</.test(text.slice(0, 1000)) ? parseClf(text) : { cube: parseCube(text), notes: [] };
  return { cube: { ...cube, title: cube.title.slice(0, 200) }, notes };
}
