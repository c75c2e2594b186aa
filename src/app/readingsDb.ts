/** What jobs over the frames of a shot found, kept in this browser; each knows what it depended on. */
import Dexie from 'dexie';
import type { Table } from 'dexie';
import type { EveryFrame } from './everyFrame';
import type { OverTime } from './overTime';

class Readings extends Dexie {
  /** By shot. */
  declare readings: Table<OverTime, string>;
  /** Proofs over all frames, by correction. */
  declare proofs: Table<EveryFrame & { correction: string }, string>;
  constructor() {
    super('rowanleaf-readings');
    this.version(1).stores({ readings: 'shot' });
    this.version(2).stores({ readings: 'shot', proofs: 'correction' });
  }
}
let db: Readings | null = null;
export const readingsDb = (): Readings => (db ??= new Readings());
