/** Keeping the document: what is said to be saved is saved, whatever fails, and whoever else writes. */
import { asVersion2 } from '../../testkit/oldForms';
import 'fake-indexeddb/auto';
import Dexie from 'dexie';
import fc from 'fast-check';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { newUse } from '../core/graph/plan.defaults';
import { applyDiff, change, emptyHistory, put, redo, remove, undo } from '../document/history';
import type { HistoryState } from '../document/history';
import type { AnyRecord, CorrectionRecord, PatchRecord, Records } from '../document/records';
import { PROJECT_VERSION } from '../document/schema';
import { BaseGone, Conflict, Store } from './db';
import { Keeper, movesOf, withAside } from './keeper';
import type { SaveState } from './keeper';

/** Nothing waits so long but on a machine that stands still. */
const SLOW = { timeout: 20_000 };

const base: AnyRecord[] = [
  { type: 'project', id: 'project:1', name: 'Test', skinLineDeg: 123 },
  {
    type: 'media',
    id: 'media:a',
    kind: 'still',
    fileName: 'a.png',
    format: 'png',
    bits: 8,
    width: 10,
    height: 10,
    frames: 1,
    pixelAspect: [1, 1],
    sha256: 'a'.repeat(64),
    source: { from: 'file' },
  },
  {
    type: 'shot',
    id: 'shot:a',
    name: 'A',
    media: 'media:a',
    encoding: 'srgb',
    encodingGuessed: false,
    conversion: newUse('conversion', 'convert', {}, false),
    range: [0, 0],
    rate: [24, 1],
    timecode: { start: 0, drop: false },
    order: 1,
  },
];
const start: Records = Object.fromEntries(base.map((r) => [r.id, r]));
const patch = (n: number, name = `P${n}`): PatchRecord => ({
  type: 'patch',
  id: `patch:${n}`,
  shot: 'shot:a',
  name,
  kind: 'skin',
  box: { x: n, y: 0, w: 10, h: 10 },
  order: n,
});

let names = 0;
const open: Store[] = [];
async function setUp() {
  const store = new Store(`keeper-${names++}`);
  open.push(store);
  await store.replaceAll(start, [], 0, '');
  const seen: SaveState[] = [];
  const news: [number, number][] = [];
  const happened: string[] = [];
  let doc: HistoryState = emptyHistory;
  const keeper = new Keeper(store, {
    now: () => doc,
    onState: (s) => void (seen.at(-1) === s || seen.push(s)),
    onWritten: (revision, before) => void news.push([before, revision]),
    onConflict: () => void happened.push('conflict'),
    onRestored: () => void happened.push('restored'),
  });
  const loaded = (await store.load())!;
  doc = { records: loaded.records, past: loaded.past, ahead: loaded.ahead, mark: null };
  keeper.start(loaded);
  return {
    store,
    keeper,
    seen,
    news,
    happened,
    get doc() {
      return doc;
    },
    edit(f: (h: HistoryState) => HistoryState): void {
      doc = f(doc);
      keeper.changed(false);
    },
    put: (r: AnyRecord) => (h: HistoryState) => change(h, `Put ${r.id}`, put(r)),
    stored: async () => (await store.load())!,
  };
}
afterEach(async () => {
  vi.useRealTimers();
  for (const s of open.splice(0)) {
    s.close();
    await Dexie.delete(s.name);
  }
});

describe('keeper', () => {
  it('"saved" stands only when the store holds what is shown, under fast changes too', async () => {
    const t = await setUp();
    const commit = t.store.commit.bind(t.store);
    t.store.commit = async (...a) => {
      await new Promise((r) => setTimeout(r, 5));
      return commit(...a);
    };
    for (let i = 0; i < 40; i++) {
      t.edit(t.put(patch(i % 7, `N${i}`)));
      // Between two keys: whenever it says saved, the store must agree.
      if (i % 3 === 0) await new Promise((r) => setTimeout(r, 4));
      if (t.seen.at(-1) === 'saved') expect((await t.stored()).records).toEqual(t.doc.records);
    }
    await t.keeper.flush();
    expect(t.seen.at(-1)).toBe('saved');
    expect(t.keeper.clean).toBe(true);
    expect((await t.stored()).records).toEqual(t.doc.records);
    expect(t.seen.slice(0, 2)).toEqual(['saved', 'saving']);
  });

  it(
    'a write that fails is said and tried again until it holds; the next good one does not lose ' + 'the first',
    async () => {
      const t = await setUp();
      const commit = t.store.commit.bind(t.store);
      let fail = 2;
      t.store.commit = async (...a) => {
        if (fail-- > 0) throw Object.assign(new Error('full'), { name: 'QuotaExceededError' });
        return commit(...a);
      };
      t.edit(t.put(patch(1)));
      await t.keeper.flush();
      expect(t.seen.at(-1)).toBe('failed');
      t.edit(t.put(patch(2)));
      await t.keeper.flush();
      expect(t.seen.at(-1)).toBe('failed');
      // By itself, without another change.
      await vi.waitFor(() => expect(t.seen.at(-1)).toBe('saved'), SLOW);
      const s = await t.stored();
      expect(Object.keys(s.records).sort()).toEqual(Object.keys(t.doc.records).sort());
      expect(s.past.map((d) => d.label)).toEqual(['Put patch:1', 'Put patch:2']);
    },
  );

  it('nothing is written onto a revision that it was not made from', async () => {
    const t = await setUp();
    const other = await t.store.load();
    await t.store.commit(
      {
        id: 'x',
        diff: { added: [patch(9)], updated: [], removed: [] },
        steps: { put: [], remove: [], done: 0 },
      },
      other!.revision,
    );
    t.edit(t.put(patch(1)));
    await t.keeper.flush();
    expect(t.happened).toEqual(['conflict']);
    expect(t.keeper.running).toBe(false);
    const s = await t.stored();
    expect(Object.keys(s.records)).toContain('patch:9');
    expect(Object.keys(s.records)).not.toContain('patch:1');
    await expect(
      t.store.commit(
        { id: 'y', diff: { added: [], updated: [], removed: [] }, steps: { put: [], remove: [], done: 0 } },
        1,
      ),
    ).rejects.toBeInstanceOf(Conflict);
  });

  it('a store that was cleared under the page is written again whole, steps included', async () => {
    const t = await setUp();
    t.edit(t.put(patch(1)));
    await t.keeper.flush();
    await t.store.transaction('rw', [t.store.records, t.store.meta, t.store.steps], async () => {
      await t.store.records.clear();
      await t.store.meta.clear();
      await t.store.steps.clear();
    });
    await expect(
      t.store.commit(
        { id: 'y', diff: { added: [], updated: [], removed: [] }, steps: { put: [], remove: [], done: 0 } },
        1,
      ),
    ).rejects.toBeInstanceOf(BaseGone);
    t.edit(t.put(patch(2)));
    await t.keeper.flush();
    expect(t.happened).toEqual(['restored']);
    const s = await t.stored();
    expect(s.records).toEqual(t.doc.records);
    expect(s.past.map((d) => d.label)).toEqual(['Put patch:1', 'Put patch:2']);
    // Also without another change, when somebody looks.
    await t.store.meta.clear();
    await t.keeper.checkBase(async () => (await t.store.meta.get('document')) !== undefined);
    expect((await t.stored()).records).toEqual(t.doc.records);
  });

  it('undo and redo survive: any sequence of changes, undos and redos comes back as it was', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.oneof(
            fc.record({
              do: fc.constant('put' as const),
              n: fc.integer({ min: 1, max: 4 }),
              name: fc.string({ maxLength: 5 }),
            }),
            fc.record({ do: fc.constant('remove' as const), n: fc.integer({ min: 1, max: 4 }) }),
            fc.constantFrom({ do: 'undo' as const }, { do: 'redo' as const }, { do: 'flush' as const }),
          ),
          { maxLength: 25 },
        ),
        async (list) => {
          const t = await setUp();
          for (const x of list) {
            if (x.do === 'put') t.edit(t.put(patch(x.n, x.name)));
            else if (x.do === 'remove') t.edit((h) => change(h, 'Remove', remove(`patch:${x.n}`)));
            else if (x.do === 'undo') t.edit(undo);
            else if (x.do === 'redo') t.edit(redo);
            else await t.keeper.flush();
            // Some changes are written one by one, some together.
            if (x.do !== 'undo' && x.do !== 'redo') await Promise.resolve();
          }
          await t.keeper.flush();
          const s = await t.stored();
          expect(s.records).toEqual(t.doc.records);
          expect(s.past).toEqual(t.doc.past);
          expect(s.ahead).toEqual(t.doc.ahead);
          // What was loaded leads back all the way.
          let h: HistoryState = { records: s.records, past: s.past, ahead: s.ahead, mark: null };
          while (h.past.length) h = undo(h);
          expect(h.records).toEqual(start);
        },
      ),
      { numRuns: 40, seed: 12 },
    );
  });

  it('a step that was undone and replaced leaves the store', async () => {
    const t = await setUp();
    for (const n of [1, 2, 3]) {
      t.edit(t.put(patch(n)));
      await t.keeper.flush();
    }
    t.edit(undo);
    t.edit(undo);
    await t.keeper.flush();
    expect((await t.stored()).ahead.map((d) => d.label)).toEqual(['Put patch:3', 'Put patch:2']);
    t.edit(t.put(patch(9)));
    await t.keeper.flush();
    const s = await t.stored();
    expect(s.past.map((d) => d.label)).toEqual(['Put patch:1', 'Put patch:9']);
    expect(s.ahead).toEqual([]);
    expect(await t.store.steps.count()).toBe(2);
  });
  it('steps of an older version are migrated, or forgotten in words', async () => {
    const t = await setUp();
    const corr = {
      type: 'correction',
      id: 'corr:1',
      shot: 'shot:a',
      name: 'Face',
      on: true,
      mix: 0.5,
      order: 1,
      terms: [],
      tidy: [],
      adjustments: [],
    };
    await t.store.steps.put({
      n: 1,
      version: 0,
      diff: { label: 'Old', added: [corr as unknown as CorrectionRecord], updated: [], removed: [] },
    });
    await t.store.meta.update('document', { done: 1 });
    const s = await t.stored();
    expect(s.said).toEqual([]);
    expect((s.past[0]!.added[0] as CorrectionRecord).mixPct).toBe(50);
    const wrong = (await t.store.steps.get(1))!;
    wrong.diff.added = [{ ...corr, mix: 'all' } as unknown as CorrectionRecord];
    await t.store.steps.put(wrong);
    const bad = await t.stored();
    expect(bad.past).toEqual([]);
    expect(bad.said.join()).toMatch(/undone is forgotten.*mix must be number/);
    expect(bad.rewrite).toBe(true);
  });

  it('one record that cannot be read is left out, kept aside, and said', async () => {
    const t = await setUp();
    await t.store.records.put({ ...patch(3), box: 'everywhere' } as unknown as AnyRecord);
    const s = await t.stored();
    expect(s.records).toEqual(start);
    expect(s.said[0]).toMatch(/patch "P3".*box/);
    expect((await t.store.attic.toArray()).map((a) => (a.record as PatchRecord).id)).toEqual(['patch:3']);
  });

  it('a database of before is taken over with its records', async () => {
    const name = `keeper-old-${names++}`;
    const old = new Dexie(name);
    old.version(2).stores({ records: 'id, type', files: 'sha256', thumbs: 'shot' });
    await old.table('records').bulkPut(base.map(asVersion2));
    await old.table('files').put({ sha256: 'a'.repeat(64), name: 'a.png', bytes: new Blob(['x']) });
    old.close();
    const store = new Store(name);
    open.push(store);
    const s = (await store.load())!;
    expect(s.records).toEqual(start);
    expect([s.revision, s.said]).toEqual([1, []]);
    expect(await store.files.count()).toBe(1);
  });
});

describe('what is set aside when the page is left', () => {
  it('holds what is not known to be written, and belongs onto the revision that it was made from alone', async () => {
    const t = await setUp();
    t.edit(t.put(patch(1)));
    await t.keeper.flush();
    expect(t.keeper.aside()).toBeNull();
    const commit = t.store.commit.bind(t.store);
    let go: () => void = () => {};
    // The write of the first change is on its way when the second comes and the page is left.
    t.store.commit = async (...a) => {
      const r = await commit(...a);
      await new Promise<void>((done) => (go = done));
      return r;
    };
    const before = await t.stored();
    t.edit(t.put(patch(2)));
    await vi.waitFor(async () => expect((await t.stored()).revision).toBe(before.revision + 1), SLOW);
    t.edit(t.put(patch(3)));
    const a = t.keeper.aside()!;
    expect(a.put.map((r) => r.id).sort()).toEqual(['patch:2', 'patch:3']);
    expect(a.whole).toBe(true);
    // The write had arrived: what was set aside goes on top of it.
    const arrived = await t.stored();
    expect(Object.keys(withAside(arrived, a)!.records).sort()).toEqual(Object.keys(t.doc.records).sort());
    // It had not arrived: the same.
    expect(Object.keys(withAside(before, a)!.records).sort()).toEqual(Object.keys(t.doc.records).sort());
    // Somebody else has written since: it is not forced onto that.
    expect(withAside({ ...arrived, commit: 'another' }, a)).toBeNull();
    expect(withAside({ ...arrived, revision: arrived.revision + 5 }, a)).toBeNull();
    go();
  });
  it('holds what was undone while its write was on its way, whether that arrives or not', async () => {
    const t = await setUp();
    t.edit(t.put(patch(1)));
    await t.keeper.flush();
    const commit = t.store.commit.bind(t.store);
    let go: () => void = () => {};
    t.store.commit = async (...a) => {
      const r = await commit(...a);
      await new Promise<void>((done) => (go = done));
      return r;
    };
    const before = await t.stored();
    t.edit((h) => change(h, 'Two at once', (r) => put(patch(2))(put(patch(1, 'Other'))(r))));
    await vi.waitFor(async () => expect((await t.stored()).revision).toBe(before.revision + 1), SLOW);
    t.edit(undo);
    // Nothing differs from what is known to be written; the write on its way does.
    const a = t.keeper.aside()!;
    const arrived = await t.stored();
    expect(arrived.records['patch:2']).toBeDefined();
    expect(withAside(arrived, a)!.records).toEqual(before.records);
    expect(withAside(before, a)!.records).toEqual(before.records);
    // It comes back as that undo and not as a step of its own, so that redo is there.
    expect(movesOf(arrived, a, before.records)).toBe(-1);
    expect(movesOf(before, a, before.records)).toBe(0);
    // Once all of it has arrived there is nothing to set aside.
    t.store.commit = commit;
    go();
    await t.keeper.flush();
    expect(t.keeper.aside()).toBeNull();
    expect((await t.stored()).records).toEqual(before.records);
  });
  it('tells undo and redo that were not written from a change', async () => {
    const t = await setUp();
    t.edit(t.put(patch(1)));
    t.edit(t.put(patch(2)));
    await t.keeper.flush();
    t.store.commit = () => new Promise(() => {});
    const s = await t.stored();
    t.edit(undo);
    const one = t.keeper.aside()!;
    expect(movesOf(s, one, withAside(s, one)!.records)).toBe(-1);
    t.edit(undo);
    const two = t.keeper.aside()!;
    expect(movesOf(s, two, withAside(s, two)!.records)).toBe(-2);
    // Where all of that was written and a redo was not.
    const back = { ...s, records: t.doc.records, past: [], ahead: [...s.past].reverse() };
    t.edit(redo);
    const again = t.keeper.aside()!;
    expect(movesOf(back, again, t.doc.records)).toBe(1);
    // What those steps do not lead to is a change, and so is a step that nobody has kept.
    expect(movesOf(back, again, s.records)).toBeNull();
    t.edit(t.put(patch(3)));
    const changed = t.keeper.aside()!;
    expect(movesOf(s, changed, withAside(s, changed)!.records)).toBeNull();
  });
  it('leaves tables out, says so, and mends what then dangles', async () => {
    const t = await setUp();
    t.keeper.stop();
    expect(t.keeper.aside()).toBeNull();
    const s = await t.stored();
    const corr: CorrectionRecord = {
      type: 'correction',
      id: 'corr:1',
      owner: 'shot:a',
      name: 'Look',
      on: true,
      mixPct: 100,
      order: 1,
      terms: [],
      tidy: [],
      adjustments: [newUse('l', 'lut', { table: 'table:9' })],
    };
    const got = withAside(s, {
      onto: s.revision,
      begun: [],
      version: PROJECT_VERSION,
      put: [corr],
      remove: [],
      whole: false,
    })!;
    expect(got.said.join()).toMatch(/table of "Look" is not there/);
    expect(applyDiff(got.records, { label: '', added: [], updated: [], removed: [] })['corr:1']).toBeDefined();
    const bad = withAside(s, {
      onto: s.revision,
      begun: [],
      version: PROJECT_VERSION,
      put: [{ ...corr, on: 'yes' } as unknown as CorrectionRecord],
      remove: [],
      whole: true,
    })!;
    expect(bad.said.join()).toMatch(/last change.*is lost/);
    expect(bad.records).toEqual(start);
  });
});
