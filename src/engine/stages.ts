/**
 * What was computed is kept by what it depends on: equal keys, equal bits. How much is kept, what is dropped for it,
 * and short names for long keys.
 */
import type { Arena, Plane } from './memory';
import type { Pool } from './pool';
import { scratchBytes } from './tasks';

/** Thrown between stages when newer work has been asked for. */
export class Stale extends Error {
  override name = 'Stale';
}

interface Entry {
  at: Plane[];
  bytes: number;
}
/**
 * Stages in the order of their last use. Small ones (drafts, thumbnails) and large ones are kept apart: a drag makes
 * hundreds of small ones, which must neither push out a final nor walk through fresh memory instead of reusing what is
 * warm.
 */
interface Shelf {
  entries: Map<string, Entry>;
  held: number;
  budget: number;
}
/**
 * What is kept of large stages follows what work touches: half as much again as the most of the last pieces of work.
 * Of a clip that plays, frames that have passed are not kept until there is no room.
 */
const LEAST_BUDGET = 128 * 2 ** 20;
const SPARE = 1.5;
const RECENT = 16;
const SMALL_BYTES = 8 * 2 ** 20;
const SMALL_BUDGET = 96 * 2 ** 20;
/** Letters of long keys that have short names: some thousands of stages. */
export const NAME_BYTES = 2 ** 20;

export class Stages {
  private readonly small: Shelf = { entries: new Map(), held: 0, budget: SMALL_BUDGET };
  private readonly large: Shelf;
  private names = new Map<string, string>();
  private named = 0;
  private nameBytes = 0;
  private pinned = new Set<string>();
  /** Bytes of large stages that each of the last pieces of work touched. */
  private touched: number[] = [];
  /** How many stages were computed rather than found; tests and the benchmark read it. */
  computed: string[] = [];

  constructor(
    readonly arena: Arena,
    readonly pool: Pool,
    /** Bytes of cached planes to keep, at most. */
    private readonly most: number,
    /** Throws Stale when the work is no longer wanted. */
    public check: () => void = () => {},
    /** Told before a stage: for how many milliseconds nothing may be heard. */
    protected readonly quiet: (ms: number) => void = () => {},
  ) {
    this.large = { entries: new Map(), held: 0, budget: most };
  }

  /** Short names for long keys: a key names its inputs' keys, and would double with every correction. */
  protected short(key: string): string {
    let s = this.names.get(key);
    if (s) {
      // Most recently used last.
      this.names.delete(key);
      this.names.set(key, s);
      return s;
    }
    this.names.set(key, (s = `#${this.named++}`));
    this.nameBytes += key.length;
    // A name that is forgotten comes back as another one: what was kept under it is computed again.
    for (const k of this.names.keys()) {
      if (this.nameBytes <= NAME_BYTES || k === key) break;
      this.names.delete(k);
      this.nameBytes -= k.length;
    }
    return s;
  }
  /** Letters and numbers of names and stages that are kept, for tests. */
  held(): { names: number; nameBytes: number; bytes: number } {
    return { names: this.names.size, nameBytes: this.nameBytes, bytes: this.small.held + this.large.held };
  }

  /** Scratch for every thread, enough for planes (or a view) of this size. */
  ensureScratch(w: number, h: number): void {
    this.pool.ensureScratch(scratchBytes(w, h));
  }
  /** Cached buffers for `key`, filled by `fill` when new. */
  protected async stage(
    key: string,
    sizes: number[],
    fill: (at: Plane[]) => Promise<unknown> | void,
  ): Promise<Plane[]> {
    const bytes = sizes.reduce((a, b) => a + b, 0);
    const shelf = bytes <= SMALL_BYTES ? this.small : this.large;
    this.pinned.add(key);
    const hit = shelf.entries.get(key);
    if (hit) {
      shelf.entries.delete(key);
      shelf.entries.set(key, hit);
      return hit.at;
    }
    this.check();
    this.makeRoom(shelf, bytes);
    const at: Plane[] = [];
    try {
      for (const s of sizes) at.push(this.arena.alloc(s));
      // A stage counts when it is done: twenty seconds for the largest picture, nothing to speak of for usual ones.
      this.quiet(bytes / 40_000);
      await fill(at);
    } catch (e) {
      at.forEach((a) => this.arena.release(a));
      throw e;
    }
    shelf.entries.set(key, { at, bytes });
    shelf.held += bytes;
    this.computed.push(key.slice(0, key.indexOf('|') < 0 ? undefined : key.indexOf('|')));
    return at;
  }

  /** Drops what was used longest ago; what the present work has touched stays. */
  private makeRoom(shelf: Shelf, bytes: number): void {
    for (const [key, e] of shelf.entries) {
      if (shelf.held + bytes <= shelf.budget) return;
      if (this.pinned.has(key)) continue;
      e.at.forEach((a) => this.arena.release(a));
      shelf.entries.delete(key);
      shelf.held -= e.bytes;
    }
  }

  /** Marks the beginning of a piece of work: what it touches is not thrown out before the next begins. */
  begin(): void {
    let touched = 0;
    for (const key of this.pinned) touched += this.large.entries.get(key)?.bytes ?? 0;
    this.touched = [...this.touched.slice(1 - RECENT), touched];
    this.large.budget = Math.min(this.most, Math.max(LEAST_BUDGET, SPARE * Math.max(...this.touched)));
    this.pinned.clear();
    this.computed = [];
  }
}
