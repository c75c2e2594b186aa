/**
 * What stays in the browser: records, steps to undo and a revision in one database, so that they are written whole
 * or not at all. Pictures' files lie in the browser's private file storage (fileStore.ts).
 */
import Dexie from 'dexie';
import type { Table } from 'dexie';
import type { Diff } from '../document/history';
import { checkRecords, currentRecords, RecordError } from '../document/check';
import type { AnyRecord, Records } from '../document/records';
import { PROJECT_VERSION } from '../document/schema';

/** A picture's file of before the private file storage; moved there when it is opened. */
export interface FileRow {
  sha256: string;
  name: string;
  bytes: Blob;
}
export interface MetaRow {
  key: 'document';
  /** Rises with every write. */
  revision: number;
  /** Of the format of the records. */
  version: number;
  /** Id of the last write, so that what was set aside knows which of its writes arrived. */
  commit: string;
  /** Number of the last step that is done; those after it have been undone. 0: none is done. */
  done: number;
}
export interface StepRow {
  n: number;
  version: number;
  diff: Diff;
}
/** Records that could not be read, as they were. */
export interface AtticRow {
  id?: number;
  at: string;
  record: unknown;
}
/** One write: what changed in the records and in the list of steps. */
export interface Commit {
  id: string;
  diff: Pick<Diff, 'added' | 'updated' | 'removed'>;
  steps: { put: StepRow[]; remove: number[]; done: number };
}
export interface Stored {
  records: Records;
  revision: number;
  past: Diff[];
  ahead: Diff[];
  /** Numbers of the steps, past first. */
  numbers: number[];
  commit: string;
  said: string[];
  /** The rows are not what was read: they must be written again whole. */
  rewrite: boolean;
}
/** Steps as rows, oldest first. */
export const stepRows = (s: Pick<Stored, 'past' | 'ahead' | 'numbers'>): StepRow[] =>
  [...s.past, ...[...s.ahead].reverse()].map((diff, i) => ({ n: s.numbers[i]!, version: PROJECT_VERSION, diff }));

/** Somebody else has written since: nothing of the commit was. */
export class Conflict extends Error {
  override name = 'Conflict';
}
/** What was there is gone: the browser's storage was cleared. */
export class BaseGone extends Error {
  override name = 'BaseGone';
}

export class Store extends Dexie {
  declare records: Table<AnyRecord, string>;
  declare files: Table<FileRow, string>;
  declare meta: Table<MetaRow, string>;
  declare steps: Table<StepRow, number>;
  declare attic: Table<AtticRow, number>;
  constructor(name = 'rowanleaf') {
    super(name);
    this.version(1).stores({ records: 'id, type', files: 'sha256', thumbs: 'shot' });
    // Records are migrated as they are read (document/check.ts), so that no road is without it.
    this.version(2).stores({});
    this.version(3)
      .stores({ meta: 'key', steps: 'n', attic: '++id', thumbs: null })
      .upgrade(async (tx) => {
        if ((await tx.table('records').count()) === 0) return;
        // Version 2 of the database held records of version 2, version 1 of version 1: the form tells.
        const shots = (await tx.table('records').toArray()).filter((r: AnyRecord) => r.type === 'shot');
        const version = shots.some((s) => !('conversion' in s)) ? 1 : 2;
        await tx.table('meta').put({ key: 'document', revision: 1, version, commit: '', done: 0 } satisfies MetaRow);
      });
  }

  /** Everything, checked and migrated; null where nothing was ever kept. */
  async load(): Promise<Stored | null> {
    const [meta, raw, rows] = await this.transaction(
      'r',
      [this.records, this.meta, this.steps],
      async () => [await this.meta.get('document'), await this.records.toArray(), await this.steps.toArray()] as const,
    );
    if (!meta) return null;
    const { records, said, unread } = checkRecords(meta.version, raw, 'store');
    if (unread.length) await this.attic.bulkAdd(unread.map((record) => ({ at: new Date().toISOString(), record })));
    rows.sort((a, b) => a.n - b.n);
    let steps: StepRow[] = [];
    try {
      steps = currentSteps(rows);
      // Steps lead from one state to the next: with records left out they would bring back what is not whole.
      if (said.length && rows.length) throw new RecordError('the records were mended');
    } catch (e) {
      steps = [];
      said.push(`What could be undone is forgotten: ${(e as Error).message}`);
    }
    return {
      records,
      revision: meta.revision,
      past: steps.filter((r) => r.n <= meta.done).map((r) => r.diff),
      ahead: steps
        .filter((r) => r.n > meta.done)
        .map((r) => r.diff)
        .reverse(),
      numbers: steps.map((r) => r.n),
      commit: meta.commit,
      said,
      rewrite: said.length > 0 || meta.version !== PROJECT_VERSION,
    };
  }

  /**
   * Writes a commit whole or not at all, onto the revision it was made from; answers with the new one. Throws a
   * Conflict or BaseGone.
   */
  async commit(c: Commit, onto: number): Promise<number> {
    return this.transaction('rw', [this.records, this.meta, this.steps], async () => {
      const meta = await this.meta.get('document');
      if (!meta) throw new BaseGone('What was kept in this browser is gone');
      if (meta.revision !== onto)
        throw new Conflict(`The project was written elsewhere (revision ${meta.revision}, not ${onto})`);
      await this.records.bulkPut([...c.diff.added, ...c.diff.updated.map(([, to]) => to)]);
      await this.records.bulkDelete(c.diff.removed.map((r) => r.id));
      await this.steps.bulkDelete(c.steps.remove);
      await this.steps.bulkPut(c.steps.put);
      await this.meta.put({
        key: 'document',
        revision: onto + 1,
        version: PROJECT_VERSION,
        commit: c.id,
        done: c.steps.done,
      });
      return onto + 1;
    });
  }
  /** The whole document, whatever was there; answers with the revision. */
  async replaceAll(records: Records, steps: readonly StepRow[], done: number, commit: string): Promise<number> {
    return this.transaction('rw', [this.records, this.meta, this.steps], async () => {
      const revision = ((await this.meta.get('document'))?.revision ?? 0) + 1;
      await this.records.clear();
      await this.steps.clear();
      await this.records.bulkPut(Object.values(records));
      await this.steps.bulkPut([...steps]);
      await this.meta.put({ key: 'document', revision, version: PROJECT_VERSION, commit, done });
      return revision;
    });
  }
}

/** Steps as they were written, at today's versions. Throws a RecordError. */
function currentSteps(rows: readonly StepRow[]): StepRow[] {
  // All records of a version at once: a check has its price.
  const flat = new Map<number, AnyRecord[]>();
  const of = (version: number): AnyRecord[] => {
    let list = flat.get(version);
    if (!list) flat.set(version, (list = []));
    return list;
  };
  for (const { version, diff } of rows) of(version).push(...diff.added, ...diff.removed, ...diff.updated.flat());
  const ready = new Map([...flat].map(([version, list]) => [version, currentRecords(version, list)] as const));
  const at = new Map<number, number>();
  return rows.map(({ n, version, diff }) => {
    const take = (count: number): AnyRecord[] => {
      const from = at.get(version) ?? 0;
      at.set(version, from + count);
      return ready.get(version)!.slice(from, from + count);
    };
    const added = take(diff.added.length);
    const removed = take(diff.removed.length);
    const flatPairs = take(2 * diff.updated.length);
    const updated = diff.updated.map((_, i): [AnyRecord, AnyRecord] => [flatPairs[2 * i]!, flatPairs[2 * i + 1]!]);
    return { n, version: PROJECT_VERSION, diff: { label: String(diff.label), added, removed, updated } };
  });
}

export async function sha256Hex(bytes: ArrayBuffer): Promise<string> {
  const d = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(d, (b) => b.toString(16).padStart(2, '0')).join('');
}
