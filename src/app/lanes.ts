/**
 * Who is asked first where one thread does the work: what a hand waits for before what an eye waits for, and both
 * before figures and long jobs; of figures those that take long come after the quick ones. One piece of work runs at a
 * time, and of frames that are played the next lies ready where the work is done; it is ended when something in a
 * higher lane comes, and begins again afterwards (what it had finished is kept by whoever does it).
 */
export const LANES = ['draft', 'playing', 'final', 'figures', 'slow', 'jobs'] as const;
export type Lane = (typeof LANES)[number];

/** Newer work has taken the place of this. */
export class Replaced extends Error {
  override name = 'Replaced';
}
/** Thrown by work that cannot go on before something else is there: others run meanwhile. */
export class Waits extends Error {
  override name = 'Waits';
  constructor(readonly until: Promise<unknown>) {
    super('waits');
  }
}

export interface AskOptions {
  /** Of work of one name only the newest is of use: what waits is replaced. */
  name?: string;
  /** What runs under that name is replaced as well, where it is in this lane. */
  ends?: boolean;
  signal?: AbortSignal;
}
interface Work {
  /** Rises with every question. */
  id: number;
  lane: Lane;
  name: string | undefined;
  /** Gets a question: has it been told to stop? */
  run: (stopped: () => boolean) => Promise<unknown>;
  done: (x: never) => void;
  fail: (e: Error) => void;
  signal: AbortSignal | undefined;
  replaced: boolean;
  stopped: boolean;
}
const rank = (w: { lane: Lane }): number => LANES.indexOf(w.lane);
/** Each takes about as long as the way there and back while the interface draws: one lies ready behind the other. */
const READY: ReadonlySet<Lane> = new Set<Lane>(['playing']);
/** What nobody's hand or eye waits for. */
const patient = (w: { lane: Lane }): boolean => rank(w) >= LANES.indexOf('figures');

export class Lanes {
  private readonly waiting: Work[] = [];
  /** One, or one that is worked on and one that lies ready. */
  private readonly running: Work[] = [];
  private asked = 0;
  /** Of each name and lane, the newest question. */
  private readonly newest = new Map<string, number>();

  /**
   * @param stop tells the work that runs to end; it then fails with an error that `ended` knows
   * @param restMs figures and jobs begin when no draft has been asked for so long: begun between two steps of a drag
   *   they would only have to be ended again, and the hand would wait for that each time
   */
  constructor(
    private readonly stop: () => void,
    private readonly ended: (e: unknown) => boolean,
    private readonly restMs = 0,
  ) {}
  /** When the last draft was asked for or shown. */
  private moved = -Infinity;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** How long figures and jobs have still to wait. */
  private left(): number {
    return this.restMs > 0 ? this.moved + this.restMs - performance.now() : 0;
  }

  /** Rejects with Replaced, with the signal's reason, or as the work does. */
  ask<T>(lane: Lane, run: Work['run'], { name, ends = false, signal }: AskOptions = {}): Promise<T> {
    return new Promise<T>((done, fail) => {
      if (signal?.aborted) {
        fail(reasonOf(signal));
        return;
      }
      const id = ++this.asked;
      if (lane === 'draft') this.moved = performance.now();
      if (name !== undefined) this.newest.set(`${name} ${lane}`, id);
      const w: Work = { id, lane, name, run, done: done as never, fail, signal, replaced: false, stopped: false };
      if (name !== undefined)
        for (const old of this.waiting.filter((x) => x.name === name)) {
          this.waiting.splice(this.waiting.indexOf(old), 1);
          old.fail(new Replaced());
        }
      signal?.addEventListener('abort', () => this.cancel(w), { once: true });
      this.put(w);
      for (const r of this.running) {
        const same = name !== undefined && r.name === name;
        if (same && (rank(r) > rank(w) || (ends && r.lane === lane))) r.replaced = true;
        if (r.replaced || rank(r) > rank(w)) this.end(r);
      }
      this.pump();
    });
  }
  /** What waits or runs, for tests and for showing that something goes on. */
  get busy(): number {
    return this.waiting.length + this.running.length;
  }

  /** In the order that lanes have, and questions within one: what comes back stands before what was asked after it. */
  private put(w: Work): void {
    const i = this.waiting.findIndex((x) => rank(x) > rank(w) || (rank(x) === rank(w) && x.id > w.id));
    this.waiting.splice(i < 0 ? this.waiting.length : i, 0, w);
  }
  private end(w: Work): void {
    if (w.stopped) return;
    w.stopped = true;
    this.stop();
  }
  private cancel(w: Work): void {
    const i = this.waiting.indexOf(w);
    if (i >= 0) this.waiting.splice(i, 1);
    if (this.running.includes(w)) this.end(w);
    w.fail(reasonOf(w.signal!));
  }
  /** Whether it may begin beside what runs. */
  private fits(w: Work): boolean {
    const [r, second] = this.running;
    return !r || (!second && READY.has(w.lane) && r.lane === w.lane && !r.stopped);
  }
  private pump(): void {
    for (;;) {
      const w = this.waiting[0];
      if (!w || !this.fits(w)) return;
      const left = patient(w) ? this.left() : 0;
      if (left > 0) {
        clearTimeout(this.timer);
        this.timer = setTimeout(() => this.pump(), left);
        return;
      }
      this.waiting.shift();
      this.running.push(w);
      void this.begin(w);
    }
  }
  private async begin(w: Work): Promise<void> {
    w.stopped = false;
    try {
      w.done((await w.run(() => w.stopped)) as never);
    } catch (e) {
      this.after(w, e);
    }
    this.running.splice(this.running.indexOf(w), 1);
    if (w.lane === 'draft') this.moved = performance.now();
    this.pump();
  }
  private after(w: Work, e: unknown): void {
    // Who does not wait any more is not told either: what fails then is nobody's.
    if (e instanceof Waits) e.until.catch(() => {});
    if (w.signal?.aborted) return;
    if (w.replaced) w.fail(new Replaced());
    else if (e instanceof Waits)
      e.until.then(
        () => {
          if (w.signal?.aborted) return;
          // A newer one of its name may have come meanwhile; one in a lower lane comes after it, and replaces nothing.
          const newer = LANES.slice(0, rank(w) + 1).some((l) => (this.newest.get(`${w.name} ${l}`) ?? 0) > w.id);
          if (w.name !== undefined && newer) return w.fail(new Replaced());
          this.put(w);
          // Others may have waited for the same: the highest of them goes first, not the one that was told first.
          void Promise.resolve().then(() => this.pump());
        },
        (x: unknown) => w.fail(x as Error),
      );
    else if (this.ended(e)) this.put(w);
    else w.fail(e as Error);
  }
}
const reasonOf = (s: AbortSignal): Error => (s.reason instanceof Error ? s.reason : new Error('cancelled'));
