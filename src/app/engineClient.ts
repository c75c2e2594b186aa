/** The interface's end of the engine: requests as promises, renders where only the newest counts. */
import type { Cube } from '../core/formats/cube';
import type { DecodedPicture } from '../media/picture';
import type { ErrorReply, InitMessage, RenderReply, RenderRequest, ReplyMessage, RequestName, Requests } from '../protocol/messages';
import wasmUrl from '../../build/kernels.wasm?url';
import wasmSharedUrl from '../../build/kernels.shared.wasm?url';

export class EngineError extends Error {
  override name = 'EngineError';
  constructor(readonly reply: ErrorReply) {
    super(reply.message);
  }
}

const buffersOf = (p: DecodedPicture): ArrayBuffer[] => [p.rgb.buffer, ...(p.alphaPlane ? [p.alphaPlane.buffer] : [])] as ArrayBuffer[];
type Waiting = { done: (body: never) => void; fail: (e: Error) => void };

export class EngineClient {
  private readonly worker: Worker;
  private readonly waiting = new Map<number, Waiting>();
  private readonly newest: Int32Array | null;
  private readonly opening = new Map<string, Promise<unknown>>();
  private nextId = 1;
  private inFlight: { final: boolean } | null = null;
  private pending: { request: RenderRequest; done: (r: RenderReply | null) => void; fail: (e: Error) => void } | null = null;
  readonly ready: Promise<{ threads: number }>;

  /** `load` gives a picture that the engine does not hold (any more). */
  constructor(
    private readonly load: (pictureId: string) => Promise<DecodedPicture>,
    private readonly loadTable: (tableId: string) => Cube,
  ) {
    this.worker = new Worker(new URL('../workers/engine.ts', import.meta.url), { type: 'module', name: 'engine' });
    const shared = typeof SharedArrayBuffer !== 'undefined' && globalThis.crossOriginIsolated;
    const newest = shared ? new SharedArrayBuffer(4) : null;
    this.newest = newest ? new Int32Array(newest) : null;
    this.worker.onmessage = ({ data }: MessageEvent<ReplyMessage>) => {
      const w = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if (!w) return;
      if (data.ok) w.done(data.body as never);
      else w.fail(new EngineError(data.error));
    };
    this.worker.onerror = (e) => {
      for (const w of this.waiting.values()) w.fail(new EngineError({ code: 'failed', message: `The engine stopped (${e.message || 'its script could not be loaded'}). Reload the page; nothing is lost.` }));
      this.waiting.clear();
    };
    this.ready = (async () => {
      const [wasm, wasmShared] = await Promise.all([wasmUrl, wasmSharedUrl].map(async (u) => (await fetch(u)).arrayBuffer()));
      const init: InitMessage = { id: 0, name: 'init', wasm: wasm!, wasmShared: shared ? wasmShared! : null, newest, helpers: Math.max(0, Math.min(3, navigator.hardwareConcurrency - 1)) };
      return new Promise<{ threads: number }>((done, fail) => {
        this.waiting.set(0, { done: done as never, fail });
        this.worker.postMessage(init);
      });
    })();
  }

  private async send<K extends RequestName>(name: K, body: Requests[K]['in'], abortable = false, transfer: Transferable[] = []): Promise<Requests[K]['out']> {
    await this.ready;
    const id = this.nextId++;
    if (abortable && this.newest) Atomics.store(this.newest, 0, id);
    return new Promise((done, fail) => {
      this.waiting.set(id, { done: done as never, fail });
      this.worker.postMessage({ id, name, body, abortable }, transfer);
    });
  }

  /** Sends a request; a missing picture is opened and the request sent again. */
  async request<K extends RequestName>(name: K, body: Requests[K]['in'], abortable = false): Promise<Requests[K]['out']> {
    try {
      return await this.send(name, body, abortable);
    } catch (e) {
      if (!(e instanceof EngineError)) throw e;
      if (e.reply.code === 'missing-picture') await this.open(e.reply.message);
      else if (e.reply.code === 'missing-table') await this.send('table', { id: e.reply.message, cube: this.loadTable(e.reply.message) });
      else throw e;
      // Whatever else it misses is fetched as well.
      return this.request(name, body, abortable);
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
      // Tells a running final to stop: its id is older than this.
      if (this.inFlight?.final && this.newest) Atomics.store(this.newest, 0, this.nextId);
      if (!this.inFlight) void this.pump();
    });
  }
  private async pump(): Promise<void> {
    while (this.pending) {
      const p = this.pending;
      this.pending = null;
      this.inFlight = { final: p.request.quality === 'final' };
      try {
        p.done(await this.request('render', p.request, true));
      } catch (e) {
        if (e instanceof EngineError && e.reply.code === 'stale') p.done(null);
        else p.fail(e as Error);
      }
      this.inFlight = null;
    }
  }
}
