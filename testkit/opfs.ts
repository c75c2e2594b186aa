/**
 * The browser's private file storage, as far as the application uses it, in memory: whole files, a quota, and
 * faults.
 */
export class MemoryDir {
  files = new Map<string, Blob>();
  quota = Infinity;
  /** Bytes after which a write fails, as a full disk does in the middle. */
  failAfter = Infinity;

  async getDirectoryHandle(): Promise<MemoryDir> {
    return this;
  }
  used(): number {
    return [...this.files.values()].reduce((a, b) => a + b.size, 0);
  }
  async getFileHandle(name: string, o: { create?: boolean } = {}) {
    if (!this.files.has(name)) {
      if (!o.create) throw Object.assign(new Error('not there'), { name: 'NotFoundError' });
      this.files.set(name, new Blob([]));
    }
    return {
      kind: 'file' as const,
      getFile: async () => this.files.get(name)!,
      move: async (to: string) => {
        this.files.set(to, this.files.get(name)!);
        this.files.delete(name);
      },
      createWritable: async () => {
        const parts: Uint8Array<ArrayBuffer>[] = [];
        let size = 0;
        // Nothing is in its place before it is closed.
        return {
          write: async (c: Uint8Array<ArrayBuffer>) => {
            size += c.byteLength;
            if (size > this.failAfter) throw Object.assign(new Error('full'), { name: 'QuotaExceededError' });
            parts.push(c.slice());
          },
          close: async () => void this.files.set(name, new Blob(parts)),
          abort: async () => {},
        };
      },
    };
  }
  async removeEntry(name: string): Promise<void> {
    if (!this.files.delete(name)) throw Object.assign(new Error('not there'), { name: 'NotFoundError' });
  }
  async *entries() {
    for (const name of [...this.files.keys()]) yield [name, await this.getFileHandle(name)] as const;
  }
  storage = {
    estimate: async () => ({ usage: this.used(), quota: this.quota }),
    persisted: async () => false,
    persist: async () => true,
  };
}
