/** The interface's end of the engine: requests as promises, renders where only the newest counts. */
import type { Cube } from '../core/formats/cube';
import { buffersOf } from '../media/picture';
import type { DecodedPicture } from '../media/picture';
import type { FrameSource } from '../media/source';
import type {
  FrameRef,
  IdleMessage,
  InitMessage,
  RenderReply,
  RenderRequest,
  ReplyMessage,
  RequestName,
  Requests,
} from '../protocol/messages';
import { whenGone } from '../protocol/alive';
import { EngineError } from './engineError';
import { Lanes, Replaced, Waits } from './lanes';
import type { Lane } from './lanes';
import wasmUrl from '../../build/kernels.wasm?url';
import wasmSharedUrl from '../../build/kernels.shared.wasm?url';

const nameOf = (ref: FrameRef): string => `${ref.media}#${ref.frame}`;
type Waiting = { done: (body: never) => void; fail: (e: Error) => void };

/**
 * A thread that ended is known by its lock (protocol/alive.ts). One that lives counts while it works, or says how long
 * it cannot: silent for longer it hangs. Between two counts lies a fraction of a second; what is left is for a machine
 * that many others use, where it must not be taken for hung. Without shared memory nobody sees it count.
 */
const SILENT_MS = 30_000;
const WATCH_MS = 500;
/** A hand that has not moved so long rests: figures and thumbnails begin. Longer than a final waits (useRender). */
const REST_MS = 220;
const restarted = (): EngineError =>
  new EngineError({ code: 'restarted', message: 'The engine stopped in the middle of this', remedy: 'Try it again.' });

/** Who waits for whom: app/lanes.ts. What a person asked for and looks at comes with the picture at rest. */
const LANE: Record<Exclude<RequestName, 'open' | 'table' | 'has'>, Lane> = {
  render: 'final',
  fitKey: 'final',
  solve: 'final',
  reaches: 'final',
  helper: 'final',
  pick: 'figures',
  colourAt: 'final',
  distributions: 'figures',
  held: 'figures',
  separates: 'figures',
  health: 'slow',
  strokeFit: 'final',
  keyIn: 'final',
  keyLight: 'final',
  skinPress: 'final',
  figures: 'figures',
  recolour: 'final',
  recoloured: 'figures',
  evenness: 'figures',
  regionReads: 'figures',
  usedPixels: 'figures',
  beyond: 'figures',
  levelsGiven: 'final',
  sides: 'figures',
  limits: 'figures',
  matteThumbs: 'figures',
  scopes: 'figures',
  chart: 'figures',
  card: 'jobs',
  about: 'figures',
  follow: 'jobs',
  holdRegion: 'jobs',
  frameFigures: 'jobs',
  frameSolve: 'jobs',
  moment: 'jobs',
  glimpse: 'jobs',
  pictureCodes: 'jobs',
  matteCodes: 'jobs',
  halves: 'jobs',
  lut: 'jobs',
};
/** Of these only the newest is of use to anybody. */
const NEWEST: ReadonlySet<RequestName> = new Set<RequestName>(['pick', 'figures', 'matteThumbs', 'separates']);
/** Buffers of frames that wait to be filled again; frames that pass are dropped one at a time. */
const SPARE = 4;
const isStale = (e: unknown): boolean => e instanceof EngineError && e.reply.code === 'stale';
const gaveWay = (): EngineError => new EngineError({ code: 'stale', message: 'Newer work was asked for' });

export class EngineClient {
  private worker!: Worker;
  private waiting = new Map<number, Waiting>();
  /** [0] newest request, [1] progress, [2] milliseconds of silence that were announced. */
  private shared: Int32Array | null = null;
  private readonly opening = new Map<string, Promise<unknown>>();
  /** Frames that the engine was given, and holds unless it says that it misses them. */
  private readonly given = new Set<string>();
  private readonly spare: ArrayBuffer[] = [];
  private nextId = 1;
  // Everything that was asked for before is older than the next request.
  private readonly lanes = new Lanes(
    () => {
      if (this.shared) Atomics.store(this.shared, 0, this.nextId);
    },
    isStale,
    REST_MS,
  );
  private seen = { progress: 0, at: 0 };
  private crashes: number[] = [];
  ready!: Promise<{ threads: number }>;
  /** It is ready: what is asked is sent at once, not after whatever else the event has to do. */
  private up = false;

  /** `source` gives frames that the engine does not hold (any more); `said` hears of a restart. */
  constructor(
    private readonly source: (media: string) => FrameSource,
    private readonly loadTable: (tableId: string) => Cube,
    private readonly said: (message: string) => void = () => {},
  ) {
    this.start();
    setInterval(() => this.watch(), WATCH_MS);
  }

  private start(): void {
    const worker = new Worker(new URL('../workers/engine.ts', import.meta.url), { type: 'module', name: 'engine' });
    this.worker = worker;
    const isolated = typeof SharedArrayBuffer !== 'undefined' && globalThis.crossOriginIsolated;
    const newest = isolated ? new SharedArrayBuffer(12) : null;
    this.shared = newest ? new Int32Array(newest) : null;
    this.seen = { progress: 0, at: performance.now() };
    worker.onmessage = ({ data }: MessageEvent<ReplyMessage>) => {
      this.seen.at = performance.now();
      const w = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if (!w) return;
      if (data.ok) w.done(data.body as never);
      else w.fail(new EngineError(data.error));
    };
    const died = (): void => {
      if (this.worker === worker) this.restart('stopped');
    };
    worker.onerror = (e) => {
      e.preventDefault();
      died();
    };
    worker.onmessageerror = died;
    this.ready = (async () => {
      const [wasm, wasmShared] = await Promise.all(
        [wasmUrl, wasmSharedUrl].map(async (u) => (await fetch(u)).arrayBuffer()),
      );
      const init: InitMessage = {
        id: 0,
        name: 'init',
        wasm: wasm!,
        wasmShared: isolated ? wasmShared! : null,
        newest,
        helpers: Math.max(0, Math.min(3, navigator.hardwareConcurrency - 1)),
      };
      const up = await new Promise<{ threads: number; lives: string[] }>((done, fail) => {
        this.seen.at = performance.now();
        this.waiting.set(0, { done: done as never, fail });
        worker.postMessage(init);
      });
      for (const life of up.lives) whenGone(life, died);
      return up;
    })();
    this.up = false;
    this.ready.then(
      () => {
        if (this.worker !== worker) return;
        this.up = true;
        this.mayIdle(this.idle);
      },
      () => {},
    );
  }

  /** A busy engine counts; one that hangs stands still although something waits for it. */
  private watch(): void {
    const now = performance.now();
    if (this.waiting.size === 0) {
      this.seen.at = now;
      return;
    }
    if (this.shared) {
      const p = Atomics.load(this.shared, 1);
      if (p !== this.seen.progress) this.seen = { progress: p, at: now };
    }
    const announced = this.shared ? Atomics.load(this.shared, 2) : 0;
    if (now - this.seen.at > Math.max(SILENT_MS, announced)) this.restart('did not answer any more');
  }
  /** Ends the thread with its helpers and starts another; pictures and tables are given to it again when it asks. */
  private restart(how: string): void {
    const now = performance.now();
    this.crashes = [...this.crashes.filter((t) => now - t < 60_000), now];
    this.worker.onmessage = this.worker.onerror = this.worker.onmessageerror = null;
    this.worker.terminate();
    const lost = [...this.waiting.values()];
    this.waiting = new Map();
    this.opening.clear();
    this.given.clear();
    if (this.crashes.length > 3) {
      this.up = false;
      this.ready = Promise.reject(
        new EngineError({
          code: 'failed',
          message: 'The engine stops again and again',
          remedy:
            'Save the project file under Hand-off and reload the page; use a smaller picture if that does not help.',
        }),
      );
      this.ready.catch(() => {});
      this.said(
        'The engine stops again and again. Nothing of the work is lost: save the project file under Hand-off and ' +
          'reload the page.',
      );
    } else {
      this.start();
      this.said(`The engine ${how} and was started again. Nothing is lost.`);
    }
    for (const w of lost) w.fail(restarted());
  }

  private idle = false;
  /** Whether it may do what nobody waits for: not while something plays, which needs the machine and asks nothing. */
  mayIdle(on: boolean): void {
    this.idle = on;
    if (this.up) this.worker.postMessage({ id: 0, name: 'idle', on } satisfies IdleMessage);
  }

  private async send<K extends RequestName>(
    name: K,
    body: Requests[K]['in'],
    transfer: Transferable[] = [],
  ): Promise<Requests[K]['out']> {
    if (!this.up) await this.ready;
    const id = this.nextId++;
    // What it is handed must arrive; everything else can be asked for again.
    const abortable = name !== 'open' && name !== 'table';
    return new Promise((done, fail) => {
      if (this.waiting.size === 0) this.seen.at = performance.now();
      this.waiting.set(id, { done: done as never, fail });
      this.worker.postMessage({ id, name, body, abortable }, transfer);
    });
  }

  /**
   * Asks the engine. Figures, thumbnails and jobs give way to the picture and go on afterwards; what has been
   * replaced by a newer question of its kind rejects as stale.
   *
   * @param lane in another one than questions of its kind: before anybody asked it is a job
   */
  async request<K extends keyof typeof LANE>(
    name: K,
    body: Requests[K]['in'],
    signal?: AbortSignal,
    lane: Lane = LANE[name],
  ): Promise<Requests[K]['out']> {
    try {
      return await this.lanes.ask<Requests[K]['out']>(lane, (stopped) => this.attempt(name, body, stopped), {
        ...(NEWEST.has(name) ? { name } : {}),
        ...(signal ? { signal } : {}),
      });
    } catch (e) {
      if (e instanceof Replaced) throw gaveWay();
      throw e;
    }
  }
  /**
   * Renders; of requests that pile up only the newest is done, the others answer null. A running final gives way to a
   * draft, and to a newer final.
   */
  async render(request: RenderRequest): Promise<RenderReply | null> {
    try {
      return await this.lanes.ask<RenderReply>(request.quality, (stopped) => this.attempt('render', request, stopped), {
        name: 'render',
        ends: request.quality === 'final',
      });
    } catch (e) {
      if (e instanceof Replaced) return null;
      throw e;
    }
  }

  /** A frame of what is being played: before finals and figures, behind a hand's drafts. */
  play(request: RenderRequest, signal: AbortSignal): Promise<RenderReply> {
    return this.lanes.ask<RenderReply>('playing', (stopped) => this.attempt('render', request, stopped), { signal });
  }
  /** A frame that may be played soon: behind everything that somebody waits for. */
  prepare(request: RenderRequest, signal: AbortSignal): Promise<RenderReply> {
    return this.lanes.ask<RenderReply>('jobs', (stopped) => this.attempt('render', request, stopped), { signal });
  }
  /** Pixels that nobody looks at any more: those of a next frame are written there. */
  recycle(pixels: ArrayBuffer): void {
    if (this.spare.length < SPARE) this.spare.push(pixels);
  }
  /** Whether a frame is decoded, or is being decoded. */
  holds(ref: FrameRef): boolean {
    return this.given.has(nameOf(ref)) || this.opening.has(nameOf(ref));
  }
  /** Decodes a frame that will be wanted soon; whatever goes wrong is said when it is asked for. */
  prefetch(ref: FrameRef): void {
    if (!this.given.has(nameOf(ref))) this.open(ref).catch(() => {});
  }

  /** Sends a request; what it misses is fetched while others run, and the request sent again. */
  private async attempt<K extends RequestName>(
    name: K,
    body: Requests[K]['in'],
    stopped: () => boolean,
  ): Promise<Requests[K]['out']> {
    for (let lives = 2; ;) {
      if (stopped()) throw gaveWay();
      try {
        const into = name === 'render' ? this.spare.pop() : undefined;
        return await (into ? this.send(name, { ...body, into }, [into]) : this.send(name, body));
      } catch (e) {
        if (!(e instanceof EngineError)) throw e;
        // What the engine died of once may have been chance; what it dies of twice is not asked a third time.
        if (e.reply.code === 'restarted' && --lives > 0) continue;
        if (e.reply.missing) {
          this.given.delete(nameOf(e.reply.missing));
          throw new Waits(this.open(e.reply.missing));
        }
        if (e.reply.code !== 'missing-table') throw e;
        await this.send('table', { id: e.reply.message, cube: this.loadTable(e.reply.message) });
      }
    }
  }
  /** Hands over a frame that is decoded already. */
  async give(ref: FrameRef, frames: number, picture: DecodedPicture): Promise<void> {
    const gone = await this.send('open', { ...ref, frames, picture }, buffersOf(picture));
    // Known at once: one that is asked for again only when it is missed makes the decoder go back.
    for (const g of gone) this.given.delete(nameOf(g));
    this.given.add(nameOf(ref));
  }
  /** Opens a frame once, however many requests miss it at the same time. */
  private open(ref: FrameRef): Promise<unknown> {
    const name = nameOf(ref);
    let running = this.opening.get(name);
    if (!running) {
      running = (async () => {
        const source = this.source(ref.media);
        for (let lives = 2; ;) {
          try {
            // What was handed over is gone: it is read once more for an engine that was started again.
            return await this.give(ref, source.frames, await source.frame(ref.frame));
          } catch (e) {
            if (!(e instanceof EngineError && e.reply.code === 'restarted' && --lives > 0)) throw e;
          }
        }
      })().finally(() => this.opening.delete(name));
      this.opening.set(name, running);
    }
    return running;
  }
}
