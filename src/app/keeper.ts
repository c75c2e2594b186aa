/**
 * Keeps the document in the browser's store as it changes. "Saved" stands only while the store holds what the screen
 * shows; a write that fails is said and tried again from what is known to be written, until it holds.
 */
import { diffOf, redo, undo } from '../document/history';
import type { Diff, HistoryState } from '../document/history';
import type { AnyRecord, Records } from '../document/records';
import { PROJECT_VERSION } from '../document/schema';
import { checkRecords, currentRecords } from '../document/check';
import { BaseGone, Conflict } from './db';
import { wordsOf } from './words';
import type { Commit, StepRow, Store, Stored } from './db';

export type SaveState = 'saved' | 'saving' | 'failed';
export interface SaveFault {
  /** What went wrong and what to do. */
  message: string;
}
type Document = Pick<HistoryState, 'records' | 'past' | 'ahead'>;

export interface KeeperHooks {
  now(): Document;
  /** Also called when nothing changed; `fault` with `failed`. */
  onState(state: SaveState, fault: SaveFault | null): void;
  /** After every write that arrived: the followers' news. */
  onWritten(revision: number, before: number, diff: Diff): void;
  /** Somebody else writes now: what is here and not written stays with its tab. */
  onConflict(): void;
  /** The store was empty although something had been written: it is written again whole. */
  onRestored(): void;
}
/** Waits between tries of a write that failed, ms: it may be a full disk that is being cleared. */
const AGAIN_MS = [500, 1000, 2000, 4000, 8000];
/** A running gesture is written this often; anything else at once. */
const GESTURE_MS = 500;

export const faultOf = (e: unknown): SaveFault => {
  const name = (e as { name?: string }).name ?? '';
  const inner = (e as { inner?: { name?: string } }).inner?.name ?? '';
  return {
    message: /Quota/.test(`${name}${inner}`)
      ? 'The browser has no more room for the project. Free some under Storage on Shots; it is tried again by itself.'
      : `The project could not be written: ${wordsOf(e)}. It is tried again by itself; ` +
        'save the project file under Hand-off to be safe.',
  };
};

export class Keeper {
  /** What is known to be in the store. */
  private confirmed: Document = { records: {}, past: [], ahead: [] };
  private numbers = new Map<Diff, number>();
  private nextNumber = 1;
  private revision = 0;
  private writing: Promise<void> | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private tries = 0;
  private active = false;
  /** Ids of the writes that were begun on top of the confirmed revision, in order. */
  private begun: string[] = [];
  /** What the write that runs will have put there. */
  private coming: Records | null = null;

  constructor(
    private readonly store: Pick<Store, 'commit' | 'replaceAll'>,
    private readonly hooks: KeeperHooks,
    private readonly newId: () => string = () => crypto.randomUUID(),
  ) {}

  /** From now on what `now()` gives is kept, on top of what was loaded. */
  start(s: Pick<Stored, 'records' | 'revision' | 'past' | 'ahead' | 'numbers'>): void {
    this.confirmed = { records: s.records, past: s.past, ahead: s.ahead };
    this.numbers = new Map([...s.past, ...[...s.ahead].reverse()].map((d, i) => [d, s.numbers[i]!]));
    this.nextNumber = Math.max(0, ...s.numbers) + 1;
    this.revision = s.revision;
    this.active = true;
    this.begun = [];
    this.coming = null;
    this.hooks.onState('saved', null);
  }
  /** Nothing is written any more: another tab does. */
  stop(): void {
    this.active = false;
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }
  get running(): boolean {
    return this.active;
  }
  get at(): number {
    return this.revision;
  }
  /** Whether the store holds what `now()` gives. */
  get clean(): boolean {
    const n = this.hooks.now();
    const c = this.confirmed;
    return n.records === c.records && n.past === c.past && n.ahead === c.ahead;
  }

  /** The document changed. `soon`: a gesture is running, its end will be told. */
  changed(soon: boolean): void {
    if (!this.active) return;
    if (this.clean && !this.writing) {
      this.hooks.onState('saved', null);
      return;
    }
    this.hooks.onState(this.tries > 0 ? 'failed' : 'saving', null);
    if (soon) this.timer ??= setTimeout(() => void this.flush(), GESTURE_MS);
    else void this.flush();
  }
  /** Ends when the store holds what there was when it was called, or the write failed. */
  flush(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    if (!this.active) return Promise.resolve();
    // One write at a time: what came meanwhile goes with the next round.
    this.writing ??= this.rounds().finally(() => {
      this.writing = null;
    });
    return this.writing;
  }

  private async rounds(): Promise<void> {
    // Several changes of one turn go together.
    await Promise.resolve();
    while (this.active && !this.clean) {
      const target = { ...this.hooks.now() };
      try {
        await this.write(target);
      } catch (e) {
        this.begun = [];
        this.coming = null;
        if (e instanceof Conflict) {
          this.stop();
          this.hooks.onConflict();
          return;
        }
        this.hooks.onState('failed', faultOf(e));
        const wait = AGAIN_MS[Math.min(this.tries++, AGAIN_MS.length - 1)]!;
        this.timer ??= setTimeout(() => void this.flush(), wait);
        return;
      }
      this.tries = 0;
      this.hooks.onState(this.clean ? 'saved' : 'saving', null);
    }
  }

  private stepsOf(target: Document): { rows: StepRow[]; done: number } {
    const all = [...target.past, ...[...target.ahead].reverse()];
    const rows = all.map((diff): StepRow => {
      let n = this.numbers.get(diff);
      if (n === undefined) this.numbers.set(diff, (n = this.nextNumber++));
      return { n, version: PROJECT_VERSION, diff };
    });
    return { rows, done: target.past.length ? rows[target.past.length - 1]!.n : 0 };
  }

  private async write(target: Document): Promise<void> {
    const diff = diffOf('save', this.confirmed.records, target.records);
    const { rows, done } = this.stepsOf(target);
    const now = new Set(rows.map((r) => r.diff));
    const before = [...this.confirmed.past, ...this.confirmed.ahead];
    const known = new Set(before);
    const commit: Commit = {
      id: this.newId(),
      diff,
      steps: {
        put: rows.filter((r) => !known.has(r.diff)),
        remove: before.filter((d) => !now.has(d)).map((d) => this.numbers.get(d)!),
        done,
      },
    };
    const from = this.revision;
    this.begun.push(commit.id);
    this.coming = target.records;
    try {
      this.revision = await this.store.commit(commit, from);
    } catch (e) {
      if (!(e instanceof BaseGone)) throw e;
      this.revision = await this.store.replaceAll(target.records, rows, done, commit.id);
      this.hooks.onRestored();
    }
    for (const n of commit.steps.remove) for (const [d, k] of this.numbers) if (k === n) this.numbers.delete(d);
    this.begun = this.begun.slice(this.begun.indexOf(commit.id) + 1);
    this.coming = null;
    this.confirmed = target;
    this.hooks.onWritten(this.revision, from, diff);
  }

  /** The store may have been cleared under the page: writes it whole again if so. */
  async checkBase(there: () => Promise<boolean>): Promise<void> {
    if (!this.active || this.writing || (await there().catch(() => false))) return;
    this.confirmed = { records: {}, past: [], ahead: [] };
    await this.flush();
  }

  private doneOf(target: Document): { done?: number } {
    if (![...target.past, ...target.ahead].every((d) => this.numbers.has(d))) return {};
    const last = target.past.at(-1);
    return { done: last ? this.numbers.get(last)! : 0 };
  }

  /** What is not known to be written, for a page that is left; null when nothing is. Tables are too large for it. */
  aside(): Aside | null {
    const target = this.hooks.now();
    // A write that runs may arrive or not. What was undone meanwhile differs from the one and not from the other.
    const put = new Map<string, AnyRecord>();
    const remove = new Set<string>();
    for (const there of [this.confirmed.records, this.coming ?? this.confirmed.records]) {
      const d = diffOf('unsaved', there, target.records);
      for (const r of [...d.added, ...d.updated.map(([, to]) => to)]) put.set(r.id, r);
      for (const r of d.removed) remove.add(r.id);
    }
    if (!this.active || put.size + remove.size === 0) return null;
    const all = [...put.values()];
    const small = (r: AnyRecord): boolean => r.type !== 'table';
    return {
      onto: this.revision,
      begun: this.begun,
      version: PROJECT_VERSION,
      put: all.filter(small),
      remove: [...remove],
      whole: all.every(small),
      ...this.doneOf(target),
    };
  }
}

/** What was set aside when a page was left: the newest state of what was not known to be written. */
export interface Aside {
  /** The revision that it was made on, and the writes on top of it that had begun: it holds all of their changes. */
  onto: number;
  begun: string[];
  version: number;
  put: AnyRecord[];
  remove: string[];
  whole: boolean;
  /** Where only undo or redo was not written: the number of the last step that is done, 0 for none. */
  done?: number;
}
/**
 * What was set aside as a move among the steps that are kept: how many to redo, or to undo (below 0). Null where it is
 * a change of its own, or those steps do not lead to it.
 */
export function movesOf(s: Stored, a: Aside, records: Records): number | null {
  if (a.done === undefined) return null;
  const to = a.done === 0 ? 0 : s.numbers.indexOf(a.done) + 1;
  if (a.done !== 0 && to === 0) return null;
  const moves = to - s.past.length;
  let h: HistoryState = { ...s, mark: null };
  for (let i = 0; i < Math.abs(moves); i++) h = moves < 0 ? undo(h) : redo(h);
  const same = (x?: AnyRecord, y?: AnyRecord): boolean => x === y || JSON.stringify(x) === JSON.stringify(y);
  const ids = new Set([...Object.keys(h.records), ...Object.keys(records)]);
  return [...ids].every((id) => same(h.records[id], records[id])) ? moves : null;
}
/**
 * The records with what was set aside. Null when it does not belong onto this revision: it was written after all, or
 * somebody else has written since.
 */
export function withAside(
  s: Pick<Stored, 'records' | 'revision' | 'commit'>,
  a: Aside,
): { records: Records; said: string[] } | null {
  const on = s.revision === a.onto || a.begun[s.revision - a.onto - 1] === s.commit;
  if (!on || !Array.isArray(a.put) || !Array.isArray(a.remove)) return null;
  const aside: string[] = [];
  let put: AnyRecord[] = [];
  try {
    put = currentRecords(a.version, a.put);
  } catch (e) {
    aside.push(`The last change before the page was left is lost: ${(e as Error).message}`);
  }
  const all: Record<string, AnyRecord> = { ...s.records };
  for (const r of put) all[r.id] = r;
  for (const id of a.remove) delete all[id];
  const { records, said: mended } = checkRecords(PROJECT_VERSION, Object.values(all), 'store');
  const said = [...aside, ...mended];
  return { records, said };
}
