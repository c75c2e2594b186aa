/**
 * The one store for pictures' files, by checksum, in the browser's private file storage (OPFS). A file is there
 * whole or not at all: the browser puts what is written in its place when it is closed.
 */
import type { Table } from 'dexie';
import { pieces } from '../media/pieces';
import type { FileRow } from './db';

export interface Room {
  /** Bytes, as the browser estimates them. */
  used: number;
  free: number;
  persisted: boolean;
}
export interface KeptFile {
  sha256: string;
  bytes: number;
}
/** A file does not fit; the message says how much is missing. */
export class NoRoom extends Error {
  override name = 'NoRoom';
}
const mb = (n: number): string => (n < 10e6 ? (n / 1e6).toFixed(1) : Math.round(n / 1e6).toString());
/** Room that is left alone: records and steps need some too. */
const RESERVE = 8e6;

/** What a write that was cut off leaves behind begins so. */
const PART = 'part-';

type Movable = FileSystemFileHandle & { move(name: string): Promise<void> };
type Dir = FileSystemDirectoryHandle & { entries(): AsyncIterable<[string, FileSystemHandle]> };

export interface PutOptions {
  so?: (bytes: number) => void;
  signal?: AbortSignal;
}

export class FileStore {
  private readonly dir: Promise<Dir | null>;
  /** Files that something is being done with: they are not collected. */
  private readonly busy = new Map<string, number>();
  /** Files that are being removed in this moment: who wants to keep the same one waits for it. */
  private readonly going = new Map<string, Promise<void>>();

  constructor(
    /** Files of before, and where there is no private file storage. */
    private readonly rows: Table<FileRow, string>,
    root: () => Promise<FileSystemDirectoryHandle> = () => navigator.storage.getDirectory(),
    private readonly storage: Pick<StorageManager, 'estimate' | 'persisted' | 'persist'> | undefined = globalThis
      .navigator?.storage,
  ) {
    this.dir = (async () => {
      try {
        return (await (await root()).getDirectoryHandle('files', { create: true })) as Dir;
      } catch (e) {
        console.warn('There is no private file storage, files are kept in the database:', e);
        return null;
      }
    })();
  }
  private hold(sha256: string, by: 1 | -1): void {
    const n = (this.busy.get(sha256) ?? 0) + by;
    if (n > 0) this.busy.set(sha256, n);
    else this.busy.delete(sha256);
  }

  /**
   * Keeps a file under its checksum. Throws NoRoom, what the browser says, or an AbortError; nothing of it is left
   * then.
   *
   * @param so hears how many bytes are written
   */
  async put(sha256: string, name: string, file: Blob, { so, signal }: PutOptions = {}): Promise<void> {
    // Held before anything is awaited: what is there already must not be collected while it is being looked at.
    this.hold(sha256, 1);
    try {
      await this.going.get(sha256);
      if ((await this.size(sha256)) === file.size) return;
      await this.check(file.size);
      const dir = await this.dir;
      if (!dir) {
        await this.rows.put({ sha256, name, bytes: file });
        return;
      }
      // Under another name until it is whole: an entry is there from its first moment, and a page may die in between.
      const part = `${PART}${crypto.randomUUID()}`;
      this.hold(part, 1);
      try {
        const handle = (await dir.getFileHandle(part, { create: true })) as Movable;
        const writable = await handle.createWritable();
        try {
          let bytes = 0;
          for await (const piece of pieces(file)) {
            signal?.throwIfAborted();
            await writable.write(piece);
            bytes += piece.byteLength;
            so?.(bytes);
          }
          signal?.throwIfAborted();
          await writable.close();
        } catch (e) {
          await writable.abort().catch(() => {});
          throw e;
        }
        await handle.move(sha256);
      } catch (e) {
        await dir.removeEntry(part).catch(() => {});
        throw /Quota/.test((e as Error).name) ? await this.noRoom(file.size) : e;
      } finally {
        this.hold(part, -1);
      }
    } finally {
      this.hold(sha256, -1);
    }
  }
  /** Throws NoRoom where the browser's estimate says that it will not fit. */
  async check(bytes: number): Promise<void> {
    const { free } = await this.room();
    if (bytes + RESERVE > free) throw await this.noRoom(bytes);
  }
  private async noRoom(bytes: number): Promise<NoRoom> {
    const { free } = await this.room();
    const missing = Math.max(bytes + RESERVE - free, 0);
    return new NoRoom(
      `it does not fit into the browser's storage: it has ${mb(bytes)} MB, ${mb(Math.max(0, free))} are free` +
        (missing > 0 ? `, ${mb(missing)} are missing` : '') +
        '. Free some under Storage, or remove shots',
    );
  }

  async open(sha256: string): Promise<Blob | null> {
    const dir = await this.dir;
    if (dir) {
      try {
        const f = await (await dir.getFileHandle(sha256)).getFile();
        if (f.size > 0) return f;
      } catch (e) {
        if ((e as Error).name !== 'NotFoundError') throw e;
      }
    }
    const row = await this.rows.get(sha256);
    if (!row) return null;
    // Kept by an earlier version of the application: it moves over when it is used.
    if (dir)
      void this.put(sha256, row.name, row.bytes)
        .then(() => this.rows.delete(sha256))
        .catch((e: unknown) => console.warn(`${row.name} stays in the database:`, e));
    return row.bytes;
  }
  /** Bytes of a kept file; 0 where there is none. */
  async size(sha256: string): Promise<number> {
    const dir = await this.dir;
    if (dir) {
      try {
        const n = (await (await dir.getFileHandle(sha256)).getFile()).size;
        if (n > 0) return n;
      } catch {
        // Looked for below.
      }
    }
    return (await this.rows.get(sha256))?.bytes.size ?? 0;
  }
  async delete(sha256: string): Promise<void> {
    const dir = await this.dir;
    await dir?.removeEntry(sha256).catch(() => {});
    await this.rows.delete(sha256);
  }
  async list(): Promise<KeptFile[]> {
    const out = new Map<string, number>();
    const dir = await this.dir;
    if (dir)
      for await (const [name, handle] of dir.entries())
        if (handle.kind === 'file' && /^[0-9a-f]{64}$/.test(name))
          out.set(name, (await (handle as FileSystemFileHandle).getFile()).size);
    await this.rows.each((r) => void out.set(r.sha256, Math.max(out.get(r.sha256) ?? 0, r.bytes.size)));
    return [...out].map(([sha256, bytes]) => ({ sha256, bytes }));
  }
  /**
   * Removes what nobody needs any more; answers with the bytes that were freed. `needed` is asked anew for every file,
   * in the moment of its removal: while files are listed new ones come in, with records that speak of them.
   */
  async collect(needed: () => ReadonlySet<string>): Promise<number> {
    let freed = 0;
    const dir = await this.dir;
    if (dir)
      for await (const [name] of dir.entries())
        if (name.startsWith(PART) && !this.busy.has(name)) await dir.removeEntry(name).catch(() => {});
    for (const f of await this.list())
      if (!this.busy.has(f.sha256) && !needed().has(f.sha256)) {
        const going = this.delete(f.sha256);
        this.going.set(f.sha256, going);
        try {
          await going;
        } finally {
          this.going.delete(f.sha256);
        }
        freed += f.bytes;
      }
    return freed;
  }
  /** While `work` runs the files stay, also when no record speaks of them yet. */
  async during<T>(sums: string | readonly string[], work: () => Promise<T>): Promise<T> {
    const all = typeof sums === 'string' ? [sums] : sums;
    for (const s of all) this.hold(s, 1);
    try {
      return await work();
    } finally {
      for (const s of all) this.hold(s, -1);
    }
  }

  async room(): Promise<Room> {
    const e = (await this.storage?.estimate?.().catch(() => null)) ?? {};
    const used = e.usage ?? 0;
    return {
      used,
      free: e.quota === undefined ? Infinity : e.quota - used,
      persisted: (await this.storage?.persisted?.().catch(() => false)) ?? false,
    };
  }
  /** Asked at the first own file: what is kept is then not thrown out when the disk gets full. */
  async persist(): Promise<boolean> {
    return (await this.storage?.persist?.().catch(() => false)) ?? false;
  }
}
