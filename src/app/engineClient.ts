/** The interface's end of the engine: requests as promises, renders where only the newest counts. */
import type { Cube } from '../core/formats/cube';
import type { DecodedPicture } from '../media/picture';
import type {
  InitMessage,
  RenderReply,
  RenderRequest,
  ReplyMessage,
  RequestName,
  Requests,
} from '../protocol/messages';
import { EngineError } from './engineError';
import wasmUrl from '../../build/kernels.wasm?url';
import wasmSharedUrl from '../../build/kernels.shared.wasm?url';

const buffersOf = (p: DecodedPicture): ArrayBuffer[] =>
  [p.rgb.buffer, ...(p.alphaPlane ? [p.alphaPlane.buffer] : [])] as ArrayBuffer[];
type Waiting = { done: (body: never) => void; fail: (e: Error) => void; quiet: boolean };

/** The engine counts while it works; one that stands still so long is dead. */
const SILENT_MS = 2000;
/** Without shared memory nobody sees it count. */
const SILENT_ALONE_MS = 30_000;
const WATCH_MS = 500;
const restarted = (): EngineError =>
  new EngineError({ code: 'restarted', message: 'The engine stopped in the middle of this', remedy: 'Try it again.' });

/** What may wait: it gives way to the picture, and is asked again afterwards. */
const ASIDES: ReadonlySet<RequestName> = new Set<RequestName>([
  'pick',
  'distributions',
  'held',
  'figures',
  'matteThumbs',
  'scopes',
  'chart',
  'card',
]);
const NEWEST: ReadonlySet<RequestName> = new Set<RequestName>(['pick', 'figures', 'matteThumbs']);
const gaveWay = (): EngineError => new EngineError({ code: 'stale', message: 'Newer work was asked for' });

export class EngineClient {
  private worker!: Worker;
  private waiting = new Map<number, Waiting>();
  /** [0] newest request, [1] progress, [2] milliseconds of silence that were announced. */
  private shared: Int32Array | null = null;
  private readonly opening = new Map<string, Promise<unknown>>();
  private nextId = 1;
  private inFlight: { final: boolean } | null = null;
  private pending: { request: RenderRequest; done: (r: RenderReply | null) => void; fail: (e: Error) => void } | null =
    null;
  private readonly asides: { name: RequestName; body: unknown; done: (r: never) => void; fail: (e: Error) => void }[] =
    [];
  /** One of them is being asked, or waits for the picture. */
  private aside = false;
  private readonly idle: (() => void)[] = [];
  private seen = { progress: 0, at: 0 };
  private crashes: number[] = [];
  ready!: Promise<{ threads: number }>;

  /** `load` gives a picture that the engine does not hold (any more); `said` hears of a restart. */
  constructor(
    private readonly load: (pictureId: string) => Promise<DecodedPicture>,
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
      return new Promise<{ threads: number }>((done, fail) => {
        this.seen.at = performance.now();
        // Setting up does not count: it has the patience of an engine without shared memory.
        this.waiting.set(0, { done: done as never, fail, quiet: true });
        worker.postMessage(init);
      });
    })();
    this.ready.catch(() => {});
  }

  /** A busy engine counts; a dead one, or one whose helper died, stands still although something waits for it. */
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
    const starting = [...this.waiting.values()].some((w) => w.quiet);
    const limit = !this.shared || starting ? SILENT_ALONE_MS : Math.max(SILENT_MS, announced);
    if (now - this.seen.at > limit) this.restart('did not answer any more');
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
    if (this.crashes.length > 3) {
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

  private async send<K extends RequestName>(
    name: K,
    body: Requests[K]['in'],
    abortable = false,
    transfer: Transferable[] = [],
  ): Promise<Requests[K]['out']> {
    await this.ready;
    const id = this.nextId++;
    if (abortable && this.shared) Atomics.store(this.shared, 0, id);
    return new Promise((done, fail) => {
      if (this.waiting.size === 0) this.seen.at = performance.now();
      this.waiting.set(id, { done: done as never, fail, quiet: false });
      this.worker.postMessage({ id, name, body, abortable }, transfer);
    });
  }

  /**
   * Asks the engine. Asides (figures, thumbnails, what the pointer is over) wait while the picture is drawn, and give
   * way to it when they run; everything else is done in the order of asking.
   */
  request<K extends RequestName>(name: K, body: Requests[K]['in']): Promise<Requests[K]['out']> {
    if (!ASIDES.has(name)) {
      // What a person waits for is not held up by an aside either. (While a picture is drawn none runs.)
      if (this.aside && !this.inFlight && this.shared) Atomics.store(this.shared, 0, this.nextId);
      return this.ask(name, body);
    }
    return new Promise((done, fail) => {
      // Of some only the newest is of use to anybody.
      if (NEWEST.has(name)) {
        const old = this.asides.findIndex((a) => a.name === name);
        if (old >= (this.aside ? 1 : 0)) this.asides.splice(old, 1)[0]!.fail(gaveWay());
      }
      this.asides.push({ name, body, done: done as never, fail });
      void this.pumpAsides();
    });
  }
  private async pumpAsides(): Promise<void> {
    if (this.aside) return;
    this.aside = true;
    while (this.asides.length > 0) {
      if (this.inFlight || this.pending) await new Promise<void>((go) => this.idle.push(go));
      const a = this.asides[0]!;
      try {
        a.done((await this.ask(a.name, a.body as never, true)) as never);
        this.asides.shift();
      } catch (e) {
        // It gave way to the picture: once more when that is drawn.
        if (e instanceof EngineError && e.reply.code === 'stale') continue;
        this.asides.shift();
        a.fail(e as Error);
      }
    }
    this.aside = false;
  }

  /** Sends a request; a missing picture is opened and the request sent again. */
  private async ask<K extends RequestName>(
    name: K,
    body: Requests[K]['in'],
    abortable = false,
    again = true,
  ): Promise<Requests[K]['out']> {
    try {
      return await this.send(name, body, abortable);
    } catch (e) {
      if (!(e instanceof EngineError)) throw e;
      // What the engine died of once may have been chance; what it dies of twice is not asked a third time.
      if (e.reply.code === 'restarted' && again) return this.ask(name, body, abortable, false);
      if (e.reply.code === 'missing-picture') await this.open(e.reply.message);
      else if (e.reply.code === 'missing-table')
        await this.send('table', { id: e.reply.message, cube: this.loadTable(e.reply.message) });
      else throw e;
      // Whatever else it misses is fetched as well.
      return this.ask(name, body, abortable, again);
    }
  }
  /** Hands over a picture that is decoded already. */
  async give(pictureId: string, picture: DecodedPicture): Promise<void> {
    await this.send('open', { pictureId, picture }, false, buffersOf(picture));
  }
  /** Opens a picture once, however many requests miss it at the same time. */
  private open(pictureId: string): Promise<unknown> {
    let running = this.opening.get(pictureId);
    if (!running) {
      running = this.load(pictureId)
        .then((picture) => this.send('open', { pictureId, picture }, false, buffersOf(picture)))
        .finally(() => this.opening.delete(pictureId));
      this.opening.set(pictureId, running);
    }
    return running;
  }

  /**
   * Renders; of requests that pile up only the newest is done, the others answer null. A running final gives way to a
   * draft at its next stage.
   */
  render(request: RenderRequest): Promise<RenderReply | null> {
    return new Promise((done, fail) => {
      this.pending?.done(null);
      this.pending = { request, done, fail };
      // Tells a running final, or an aside, to stop: its id is older than this.
      if ((this.inFlight?.final || (this.aside && !this.inFlight)) && this.shared)
        Atomics.store(this.shared, 0, this.nextId);
      if (!this.inFlight) void this.pump();
    });
  }
  private async pump(): Promise<void> {
    while (this.pending) {
      const p = this.pending;
      this.pending = null;
      this.inFlight = { final: p.request.quality === 'final' };
      try {
        p.done(await this.ask('render', p.request, true));
      } catch (e) {
        if (e instanceof EngineError && e.reply.code === 'stale') p.done(null);
        else p.fail(e as Error);
      }
      this.inFlight = null;
    }
    this.idle.splice(0).forEach((go) => go());
  }
}
