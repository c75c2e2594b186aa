/** Files to pictures in a thread of its own; a cancelled one ends the thread, and the next file starts another. */
import type { DecodedPicture, DecodeOptions } from '../media/picture';
import type { DecodeReply, DecodeRequest } from '../protocol/messages';
import { EngineError } from './engineClient';

export class Cancelled extends Error {
  override name = 'Cancelled';
  constructor() {
    super('cancelled');
  }
}
let worker: Worker | null = null;
let next = 1;
let chain: Promise<unknown> = Promise.resolve();

function one(bytes: ArrayBuffer, options: DecodeOptions, signal?: AbortSignal): Promise<DecodedPicture> {
  return new Promise((done, fail) => {
    if (signal?.aborted) {
      fail(new Cancelled());
      return;
    }
    const w = (worker ??= new Worker(new URL('../workers/decode.ts', import.meta.url), { type: 'module', name: 'decode' }));
    const id = next++;
    const end = (): void => {
      signal?.removeEventListener('abort', stop);
      w.onmessage = w.onerror = null;
    };
    const restart = (): void => {
      end();
      w.terminate();
      worker = null;
    };
    const stop = (): void => {
      restart();
      fail(new Cancelled());
    };
    signal?.addEventListener('abort', stop);
    w.onmessage = ({ data }: MessageEvent<DecodeReply>) => {
      if (data.id !== id) return;
      end();
      if (data.ok) done(data.picture);
      else fail(new EngineError(data.error));
    };
    w.onerror = (e) => {
      restart();
      fail(new EngineError({ code: 'failed', message: `the decoder stopped (${e.message || 'its script could not be loaded'})`, remedy: 'Reload the page and try again.' }));
    };
    w.postMessage({ id, bytes, options } satisfies DecodeRequest, [bytes]);
  });
}
/** The bytes are given away. Rejects with EngineError or Cancelled. */
export function decode(bytes: ArrayBuffer, options: DecodeOptions, signal?: AbortSignal): Promise<DecodedPicture> {
  const run = chain.then(() => one(bytes, options, signal));
  chain = run.catch(() => {});
  return run;
}
