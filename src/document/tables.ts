/** Lookup tables as records. */
import { base64ToFloats, floatsToBase64 } from '../core/formats/base64';
import type { Cube } from '../core/formats/cube';
import { newId } from './records';
import type { TableRecord } from './records';

export const tableRecord = (name: string, c: Cube): TableRecord => ({
  type: 'table',
  id: newId('table'),
  name,
  kind: c.kind,
  size: c.size,
  domainMin: c.domainMin,
  domainMax: c.domainMax,
  data: floatsToBase64(c.data),
});

const cubes = new WeakMap<TableRecord, Cube>();
/**
 * The same object for the same record. Throws a RangeError when the record holds another count of numbers than its
 * size says.
 */
export function cubeOf(t: TableRecord): Cube {
  let c = cubes.get(t);
  if (!c) {
    const data = base64ToFloats(t.data);
    const want = 3 * (t.kind === '1d' ? t.size : t.size ** 3);
    if (data.length !== want)
      throw new RangeError(`The table ${t.name} holds ${data.length} numbers, its size asks for ${want}`);
    cubes.set(
      t,
      (c = { kind: t.kind, title: t.name, size: t.size, domainMin: t.domainMin, domainMax: t.domainMax, data }),
    );
  }
  return c;
}
