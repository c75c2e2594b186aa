/**
 * Keeps the document of this page: opens what was left, writes what changes, and sees to it that one tab writes while
 * the others follow it live. Who writes holds a lock of the browser; news goes over a channel.
 */
import { mattesOf } from '../core/graph/region';
import { applyDiff } from '../document/history';
import type { Diff } from '../document/history';
import type { AnyRecord, MediaRecord, Records } from '../document/records';
import { stepRows } from './db';
import type { Stored } from './db';
import { fetchDemo } from './opening';
import { db, files } from './kept';
import { Keeper, movesOf, withAside } from './keeper';
import type { Aside } from './keeper';
import { sayError, sayNews } from './notices';
import { followerTries, useDoc } from './store';

const LOCK = 'rowanleaf-writer';
const ASIDE = 'rowanleaf-unsaved';
/** A writer that does not answer this long is taken to be frozen: its lock is taken from it. */
const PATIENCE_MS = 2500;

type News =
  | { kind: 'written'; before: number; revision: number; diff: Diff }
  /** Somebody wants to write: the writer ends its work and says that it is ready to lose the lock. */
  | { kind: 'wanted' }
  | { kind: 'ready' }
  | { kind: 'reload' };

const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('rowanleaf-document');
const tell = (n: News): void => channel?.postMessage(n);
const locks = globalThis.navigator?.locks as LockManager | undefined;

/** Of a follower: the revision it shows. */
let followed = 0;
/** What is shown was changed here and could not be written: nobody's news may take its place. */
let orphan = false;

export const keeper = new Keeper(db, {
  now: () => useDoc.getState(),
  onState: (save, fault) => {
    const s = useDoc.getState();
    if (s.save !== save || (fault && s.saveFault !== fault.message))
      useDoc.setState({ save, saveFault: save === 'failed' ? (fault?.message ?? s.saveFault) : null });
  },
  onWritten: (revision, before, diff) => {
    tell({ kind: 'written', before, revision, diff });
    dropAside();
    collectSoon();
  },
  onConflict: left,
  onRestored: () =>
    sayNews("The browser's storage was cleared while this page was open: the whole project is written again."),
});

/** Another tab writes now, and something here is not written. */
function left(): void {
  orphan = true;
  sayError(
    'Another tab has taken over and written since. What was changed here and not saved is still shown: save the ' +
      'project file under Hand-off, then reload this page.',
  );
  useDoc.setState({ role: 'follower', save: 'failed', saveFault: 'Another tab writes this project now.' });
}

useDoc.subscribe((s, prev) => {
  if (!s.loaded || s.role !== 'writer') return;
  if (s.records === prev.records && s.past === prev.past && s.ahead === prev.ahead && s.mark === prev.mark) return;
  // The end of a gesture is written at once: a reload right after it must lose nothing.
  keeper.changed(s.mark !== null && prev.mark !== null);
});

/** Writes what is not written yet; ends when it is, or could not be. */
export const flushNow = (): Promise<void> => keeper.flush();

// --- Leaving the page ---

function dropAside(): void {
  if (keeper.clean) localStorage.removeItem(ASIDE);
}
function readAside(): Aside | null {
  try {
    return JSON.parse(localStorage.getItem(ASIDE) ?? 'null') as Aside | null;
  } catch {
    return null;
  }
}
if (typeof window !== 'undefined') {
  // A write that has only begun may not end: what is not known to be written is set aside where it needs no waiting.
  window.addEventListener('pagehide', () => {
    useDoc.getState().end();
    const a = useDoc.getState().role === 'writer' ? keeper.aside() : null;
    if (!a) return;
    try {
      localStorage.setItem(ASIDE, JSON.stringify(a));
    } catch (e) {
      console.warn('The last change may not be kept:', e);
    }
    void keeper.flush();
  });
  // Files, tables and writes that fail need time that a page which is left does not have: the person is asked.
  window.addEventListener('beforeunload', (e) => {
    const s = useDoc.getState();
    const large = s.role === 'writer' && keeper.aside()?.whole === false;
    if (s.keeping > 0 || s.save === 'failed' || large) e.preventDefault();
  });
  document.addEventListener('visibilitychange', () => {
    if (document.visibilityState === 'hidden') void keeper.flush();
    else void keeper.checkBase(baseThere);
  });
}
const baseThere = async (): Promise<boolean> => {
  if (!db.isOpen()) await db.open();
  return (await db.meta.get('document')) !== undefined;
};
// Cleared from outside, the database is closed under the page.
db.on('close', () => void keeper.checkBase(baseThere));
db.on('versionchange', () => {
  db.close();
  setTimeout(() => void keeper.checkBase(baseThere), 300);
});

// --- Opening ---

const show = (s: Stored): void => useDoc.getState().load(s.records, s.past, s.ahead);

/** What is kept, with what was set aside; the demo on the first start. This tab holds the lock. */
async function openAsWriter(): Promise<void> {
  let s = await db.load();
  if (!s) {
    const records = await fetchDemo();
    const revision = await db.replaceAll(records, [], 0, '');
    s = { records, revision, past: [], ahead: [], numbers: [], commit: '', said: [], rewrite: false };
  }
  if (s.rewrite)
    // Rows of an older form, or of records that were mended, must not stay beside those of today.
    s.revision = await db.replaceAll(
      s.records,
      stepRows(s),
      s.past.length ? s.numbers[s.past.length - 1]! : 0,
      s.commit,
    );
  const aside = readAside();
  const more = aside ? withAside(s, aside) : null;
  useDoc.setState({ role: 'writer' });
  show(s);
  keeper.start(s);
  if (more) {
    // One write onto the revision it was made from; only then is it let go (dropAside).
    const moves = movesOf(s, aside!, more.records);
    const { undo, redo, change } = useDoc.getState();
    if (moves === null) change('What was changed last', () => more.records);
    else for (let i = 0; i < Math.abs(moves); i++) (moves < 0 ? undo : redo)();
    s.said.push(...more.said);
    await keeper.flush();
    dropAside();
  } else if (aside) localStorage.removeItem(ASIDE);
  if (s.said.length)
    sayError(
      `The project was mended as it was opened. ${s.said.slice(0, 4).join('. ')}${s.said.length > 4 ? ' \u2026' : '.'}`,
    );
  tell({ kind: 'reload' });
  collectSoon();
}
async function openAsFollower(): Promise<void> {
  const s = await db.load();
  if (!s) return;
  followed = s.revision;
  useDoc.setState({ role: 'follower', save: 'saved', saveFault: null });
  show({ ...s, past: [], ahead: [] });
}

/** Holds the lock for as long as the page lives; the promise ends when it is held (or, `ifAvailable`, not). */
function hold(options: LockOptions): Promise<boolean> {
  return new Promise((done) => {
    locks!
      .request(LOCK, options, (lock) => {
        done(lock !== null);
        return lock ? new Promise<void>(() => {}) : undefined;
      })
      .catch(() => {
        // Taken by another tab: nothing is written from here any more.
        const open = !keeper.running || keeper.clean;
        keeper.stop();
        if (!open) left();
        else void openAsFollower().then(goOnLater);
      });
  });
}
/** When the writer's tab is closed, a follower goes on by itself. */
function goOnLater(): void {
  void hold({}).then(async (got) => {
    if (got && !orphan) await openAsWriter();
  });
}

/** Opens what was left, or the demo on the first start; as the writer where nobody else is. */
export async function openLast(): Promise<void> {
  // A page that is reloaded may find its own lock still held for a moment.
  let mine = !locks;
  for (let i = 0; i < 5 && !mine; i++) {
    if (i > 0) await new Promise((r) => setTimeout(r, 80));
    mine = await hold({ ifAvailable: true });
  }
  if (mine) await openAsWriter();
  else {
    await openAsFollower();
    goOnLater();
  }
}
let ready: (() => void) | null = null;
/**
 * A follower's wish: the writer writes what it has; one that does not answer is frozen and loses the lock all the
 * same.
 */
export async function takeOver(): Promise<void> {
  if (useDoc.getState().role !== 'follower' || !locks || orphan) return;
  await new Promise<void>((done) => {
    ready = done;
    setTimeout(done, PATIENCE_MS);
    tell({ kind: 'wanted' });
  });
  ready = null;
  if (await hold({ steal: true })) await openAsWriter();
}
async function handOver(): Promise<void> {
  useDoc.getState().end();
  await keeper.flush();
  if (!keeper.clean) {
    sayError('Another tab asks to write, but the last change here could not be saved yet: see to that first.');
    return;
  }
  // From here on nothing changes: the lock is taken from outside in a moment.
  keeper.stop();
  useDoc.setState({ role: 'follower' });
  tell({ kind: 'ready' });
}

channel?.addEventListener('message', ({ data }: MessageEvent<News>) => {
  const role = useDoc.getState().role;
  if (data.kind === 'wanted') {
    if (role === 'writer') void handOver();
    return;
  }
  if (data.kind === 'ready') {
    ready?.();
    return;
  }
  if (role !== 'follower' || orphan) return;
  if (data.kind === 'written' && data.before === followed) {
    followed = data.revision;
    useDoc.setState((s) => ({ records: applyDiff(s.records, data.diff) }));
  } else void openAsFollower();
});
let told = 0;
followerTries.tell = () => {
  if (Date.now() - told < 4000) return;
  told = Date.now();
  sayNews('Another tab works on this project, this one follows it. Press "Work here" at the top to change that.');
};

// --- Files of removed shots ---

/** Of the files of a media: one, or one a frame. */
export const sumsOf = (m: MediaRecord): string[] => m.files?.map((f) => f.sha256) ?? [m.sha256];

/** Checksums of own files that shots show or regions rest on, and of those that undo or redo can bring back. */
export function neededFiles(s: { records: Records; past: readonly Diff[]; ahead: readonly Diff[] }): {
  now: Set<string>;
  undo: Set<string>;
} {
  const media = new Map<string, MediaRecord>();
  const seen = (list: Iterable<AnyRecord>): Set<string> => {
    const shown = new Set<string>();
    for (const r of list) {
      if (r.type === 'media') media.set(r.id, r);
      if (r.type === 'shot') shown.add(r.media);
      if (r.type === 'correction') for (const id of mattesOf(r)) shown.add(id);
    }
    return shown;
  };
  const now = seen(Object.values(s.records));
  const undo = new Set<string>();
  for (const d of [...s.past, ...s.ahead])
    for (const id of seen([...d.added, ...d.removed, ...d.updated.flat()])) undo.add(id);
  const sums = (ids: Set<string>): Set<string> =>
    new Set(
      [...ids].flatMap((id) => {
        const m = media.get(id);
        return m && m.source.from === 'file' ? sumsOf(m) : [];
      }),
    );
  return { now: sums(now), undo: sums(undo) };
}
let collecting: ReturnType<typeof setTimeout> | null = null;
/** When no step can bring a removed shot back, its file goes. */
function collectSoon(): void {
  collecting ??= setTimeout(() => {
    collecting = null;
    if (useDoc.getState().role !== 'writer' || !keeper.clean) return;
    const needed = (): Set<string> => {
      const { now, undo } = neededFiles(useDoc.getState());
      return new Set([...now, ...undo]);
    };
    void files.collect(needed).catch((e: unknown) => console.warn('Files were not collected:', e));
  }, 3000);
}
