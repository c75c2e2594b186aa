/**
 * A media as requests to the engine name it: with how its numbers are read, so that frames that were read otherwise are
 * never taken for it.
 */
import { recordOf } from '../document/records';
import type { MediaId, Records } from '../document/records';

export function mediaKey(records: Records, id: MediaId): string {
  const y = recordOf(records, id, 'media')?.yuv;
  return y ? `${id}~${y.matrix}~${y.full ? 'full' : 'narrow'}~${y.siting}` : id;
}
export const mediaIdOf = (key: string): string => key.split('~')[0]!;
