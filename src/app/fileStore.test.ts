/** Files of pictures: whole or not there, counted, and collected when nothing needs them. */
import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { MemoryDir } from '../../testkit/opfs';
import { Store } from './db';
import { FileStore, NoRoom } from './fileStore';

const sha = (c: string): string => c.repeat(64);
const blob = (n: number, v = 7): Blob => new Blob([new Uint8Array(n).fill(v)]);
let n = 0;

describe('file store', () => {
  let dir: MemoryDir;
  let store: Store;
  let files: FileStore;
  beforeEach(() => {
    dir = new MemoryDir();
    store = new Store(`files-${n++}`);
    files = new FileStore(store.files, async () => dir as unknown as FileSystemDirectoryHandle, dir.storage);
  });
  it('keeps, opens, measures, lists and deletes', async () => {
    await files.put(sha('a'), 'a.png', blob(1000));
    await files.put(sha('b'), 'b.png', blob(500, 9));
    expect(await files.size(sha('a'))).toBe(1000);
    expect(new Uint8Array(await (await files.open(sha('b')))!.arrayBuffer())[3]).toBe(9);
    expect((await files.list()).sort((x, y) => x.bytes - y.bytes)).toEqual([
      { sha256: sha('b'), bytes: 500 },
      { sha256: sha('a'), bytes: 1000 },
    ]);
    await files.delete(sha('a'));
    expect(await files.open(sha('a'))).toBeNull();
    expect(await files.size(sha('a'))).toBe(0);
  });
  it('a file that does not fit says how much is missing, before anything is written', async () => {
    dir.quota = 20e6;
    const e = await files.put(sha('a'), 'a.png', blob(15e6)).catch((x: unknown) => x);
    expect(e).toBeInstanceOf(NoRoom);
    expect((e as Error).message).toMatch(/has 15 MB, 20 are free, 3\.0 are missing/);
    expect(dir.files.size).toBe(0);
    await files.put(sha('b'), 'b.png', blob(10e6));
  });
  it('a disk that is full in the middle leaves no half file behind', async () => {
    dir.failAfter = 1000;
    await expect(files.put(sha('a'), 'a.png', blob(200_000))).rejects.toBeInstanceOf(NoRoom);
    expect(dir.files.size).toBe(0);
    expect(await files.open(sha('a'))).toBeNull();
    dir.failAfter = Infinity;
    await files.put(sha('a'), 'a.png', blob(200_000));
    expect(await files.size(sha('a'))).toBe(200_000);
  });
  it('tells how far it is, and one that is stopped leaves nothing', async () => {
    const told: number[] = [];
    const size = 9 * 2 ** 20;
    const parts = blob(size);
    await files.put(sha('a'), 'a.webm', parts, { so: (n) => told.push(n) });
    expect(told.at(-1)).toBe(size);
    expect(told.length).toBeGreaterThan(1);
    expect([...told].sort((x, y) => x - y)).toEqual(told);
    const stop = new AbortController();
    const put = files.put(sha('b'), 'b.webm', parts, { so: () => stop.abort(), signal: stop.signal });
    await expect(put).rejects.toMatchObject({ name: 'AbortError' });
    expect([...dir.files.keys()]).toEqual([sha('a')]);
    // Nor does it hold what comes later.
    await files.put(sha('b'), 'b.webm', parts);
    expect(await files.size(sha('b'))).toBe(size);
  });
  it('a page that dies in the middle leaves nothing under the name of the file, and the rest is swept up', async () => {
    // As a killed browser leaves it: the entry of a write that was never closed.
    await dir.getFileHandle('part-0123', { create: true });
    expect(await files.list()).toEqual([]);
    expect(await files.open(sha('a'))).toBeNull();
    await files.put(sha('a'), 'a.png', blob(100));
    await files.collect(() => new Set([sha('a')]));
    expect([...dir.files.keys()]).toEqual([sha('a')]);
  });
  it('collects what nothing needs, but nothing that is being worked on', async () => {
    for (const c of ['a', 'b', 'c']) await files.put(sha(c), c, blob(100));
    let end: () => void = () => {};
    const held = files.during(sha('c'), () => new Promise<void>((r) => (end = r)));
    expect(await files.collect(() => new Set([sha('a')]))).toBe(100);
    expect((await files.list()).map((f) => f.sha256).sort()).toEqual([sha('a'), sha('c')]);
    end();
    await held;
    expect(await files.collect(() => new Set([sha('a')]))).toBe(100);
  });
  it('a file that comes in while others are listed stays: what is needed is asked when it would go', async () => {
    for (const c of ['a', 'b']) await files.put(sha(c), c, blob(100));
    const needed = new Set([sha('a')]);
    // As an import does it: kept, then a record speaks of it, then it is let go.
    const coming = files.during(sha('c'), async () => {
      await files.put(sha('c'), 'c', blob(100));
      needed.add(sha('c'));
    });
    const listed = files.list.bind(files);
    files.list = async () => {
      await coming;
      return listed();
    };
    expect(await files.collect(() => new Set(needed))).toBe(100);
    expect((await listed()).map((f) => f.sha256).sort()).toEqual([sha('a'), sha('c')]);
  });
  it('a file that is kept again while it is being removed is there afterwards', async () => {
    await files.put(sha('a'), 'a', blob(100));
    const remove = files.delete.bind(files);
    let again: Promise<void> = Promise.resolve();
    files.delete = async (s) => {
      // It is looked for while it is still there.
      await Promise.resolve();
      again = files.put(sha('a'), 'a', blob(100));
      await new Promise((r) => setTimeout(r, 5));
      await remove(s);
    };
    await files.collect(() => new Set());
    await again;
    expect(await files.size(sha('a'))).toBe(100);
  });
  it('files of an earlier version move over when they are opened', async () => {
    await store.files.put({ sha256: sha('d'), name: 'd.png', bytes: blob(64, 3) });
    // The stand-in for the database keeps no blobs: what comes out of it is looked at, not what is in it.
    expect(await files.open(sha('d'))).not.toBeNull();
  });
  it('without private file storage the database keeps them', async () => {
    const bare = new FileStore(store.files, () => Promise.reject(new Error('none')), dir.storage);
    await bare.put(sha('e'), 'e.png', blob(10));
    expect(await bare.open(sha('e'))).not.toBeNull();
    await bare.delete(sha('e'));
    expect(await bare.open(sha('e'))).toBeNull();
  });
});
