/** What stays in the browser: records, files, and what was chosen last. */
import Dexie from 'dexie';
import type { Table } from 'dexie';
import type { Diff } from '../document/history';
import { migrateFile } from '../document/migrate';
import type { AnyRecord } from '../document/records';

export interface FileRow {
  sha256: string;
  name: string;
  bytes: Blob;
}
export interface ThumbRow {
  shot: string;
  /** What the picture depends on; another one means that it is stale. */
  key: string;
  png: Blob;
}

export class Store extends Dexie {
  declare records: Table<AnyRecord, string>;
  declare files: Table<FileRow, string>;
  declare thumbs: Table<ThumbRow, string>;
  constructor(name = 'rowanleaf') {
    super(name);
    this.version(1).stores({ records: 'id, type', files: 'sha256', thumbs: 'shot' });
    // The same migrations as a project file's, over what the browser kept.
    this.version(2).stores({}).upgrade(async (tx) => {
      const list = await tx.table('records').toArray();
      await tx.table('records').bulkPut(migrateFile({ version: 1, records: list })['records'] as AnyRecord[]);
    });
  }

  /** Writes a diff whole or not at all. */
  async save(d: Diff): Promise<void> {
    await this.transaction('rw', this.records, async () => {
      await this.records.bulkPut([...d.added, ...d.updated.map(([, to]) => to)]);
      await this.records.bulkDelete(d.removed.map((r) => r.id));
    });
  }
  async replaceAll(list: AnyRecord[]): Promise<void> {
    await this.transaction('rw', this.records, async () => {
      await this.records.clear();
      await this.records.bulkPut(list);
    });
  }
}
export const db = new Store();

export async function sha256Hex(bytes: ArrayBuffer): Promise<string> {
  const d = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(d, (b) => b.toString(16).padStart(2, '0')).join('');
}
