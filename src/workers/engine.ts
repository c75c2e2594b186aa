/** The engine's thread: sets up memory, kernels and helpers, then answers requests. */
import { createHost } from '../engine/host';
import { QUIET_MS, warmUp } from '../engine/warmUp';
import type { HelperInit } from '../engine/host';
import type { BandInit } from './band';
import { holdLife } from '../protocol/alive';
import type { IdleMessage, InitMessage, RequestMessage } from '../protocol/messages';

const scope = self as unknown as { postMessage(m: unknown, t?: Transferable[]): void };

/** The locks of this thread and its helpers: one that is free tells that its thread has ended. */
const lives: string[] = [];
/** Starts a helper and waits until it listens; it then blocks in its band loop for good. */
const startHelper = (init: HelperInit): Promise<void> =>
  new Promise((done, fail) => {
    const w = new Worker(new URL('./band.ts', import.meta.url), { type: 'module', name: `band ${init.thread}` });
    const life = `band ${crypto.randomUUID()}`;
    w.onmessage = (e: MessageEvent<boolean>) => {
      if (e.data) lives.push(life);
      done();
    };
    w.onerror = (e) => fail(new Error(e.message));
    w.postMessage({ ...init, life } satisfies BandInit);
  });

/** Steps that are made while nothing is asked for, one after another; whatever comes lies between two of them. */
const idle = warmUp();
let resting: ReturnType<typeof setTimeout> | undefined;
let asked = 0;
let may = false;
function rest(ms: number): void {
  clearTimeout(resting);
  if (!may || asked > 0) return;
  resting = setTimeout(() => {
    if (!idle.next().done) rest(0);
  }, ms);
}

let host: ReturnType<typeof createHost> | null = null;
self.onmessage = ({ data }: MessageEvent<InitMessage | IdleMessage | RequestMessage>) => {
  if (data.name === 'init') {
    host = createHost(data, startHelper);
    const life = `engine ${crypto.randomUUID()}`;
    Promise.all([host, holdLife(life)]).then(
      ([h, held]) =>
        scope.postMessage({ id: 0, ok: true, body: { threads: h.threads, lives: held ? [life, ...lives] : lives } }),
      (e: Error) => scope.postMessage({ id: 0, ok: false, error: { code: 'failed', message: e.message } }),
    );
    return;
  }
  if (data.name === 'idle') {
    may = data.on;
    void host?.then((h) => h.mayIdle(may));
    rest(QUIET_MS);
    return;
  }
  clearTimeout(resting);
  asked++;
  void host?.then(async (h) => {
    const { reply, transfer } = await h.answer(data);
    scope.postMessage(reply, transfer);
    asked--;
    rest(QUIET_MS);
  });
};
