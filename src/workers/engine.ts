/** The engine's thread: sets up memory, kernels and helpers, then answers requests. */
import { createHost } from '../engine/host';
import type { HelperInit } from '../engine/host';
import type { InitMessage, RequestMessage } from '../protocol/messages';

const scope = self as unknown as { postMessage(m: unknown, t?: Transferable[]): void };

/** Starts a helper and waits until it listens; it then blocks in its band loop for good. */
const startHelper = (init: HelperInit): Promise<void> =>
  new Promise((done, fail) => {
    const w = new Worker(new URL('./band.ts', import.meta.url), { type: 'module', name: `band ${init.thread}` });
    w.onmessage = () => done();
    w.onerror = (e) => fail(new Error(e.message));
    w.postMessage(init);
  });

let host: ReturnType<typeof createHost> | null = null;
self.onmessage = ({ data }: MessageEvent<InitMessage | RequestMessage>) => {
  if (data.name === 'init') {
    host = createHost(data, startHelper);
    host.then(
      (h) => scope.postMessage({ id: 0, ok: true, body: { threads: h.threads } }),
      (e: Error) => scope.postMessage({ id: 0, ok: false, error: { code: 'failed', message: e.message } }),
    );
    return;
  }
  void host?.then(async (h) => {
    const { reply, transfer } = await h.answer(data);
    scope.postMessage(reply, transfer);
  });
};
