/** A file to a picture in a thread of its own, which is ended when it takes too long: some damaged data never end. */
import { Worker } from 'node:worker_threads';
import { limitSec, tookTooLong } from '../media/errors';
import type { FileFault } from '../media/errors';
import { defaultDecode } from '../media/picture';
import type { DecodedPicture, DecodeOptions } from '../media/picture';

export class FileError extends Error {
  override name = 'FileError';
  constructor(readonly fault: FileFault) {
    super(`${fault.message}. ${fault.remedy}`);
  }
}
type Answer = { ok: true; picture: DecodedPicture } | { ok: false; error: FileFault };

/** Threads that have nothing to do; starting one takes longer than most pictures. They keep no process alive. */
const resting: Worker[] = [];
function takeThread(): Worker {
  const w = resting.pop() ?? new Worker(new URL('./decodeThread.mjs', import.meta.url));
  w.ref();
  return w;
}

/** Throws a FileError. `seconds`: left out, by the size of the file. */
export function decodeInThread(
  bytes: Uint8Array,
  seconds = limitSec(bytes.length),
  options: DecodeOptions = defaultDecode,
): Promise<DecodedPicture> {
  return new Promise((done, fail) => {
    // A copy of its own: slice() of a Buffer shares the memory of others, which would be given away with it.
    const data = new Uint8Array(bytes).buffer;
    const w = takeThread();
    const end = (whole: boolean): void => {
      clearTimeout(timer);
      w.off('message', answer).off('error', broke);
      if (!whole || resting.length > 0) return void w.terminate();
      w.unref();
      resting.push(w);
    };
    const timer = setTimeout(() => {
      end(false);
      fail(new FileError(tookTooLong(bytes.length)));
    }, 1000 * seconds);
    const answer = (a: Answer): void => {
      // What a damaged file left behind in a decoder must not meet the next one.
      end(a.ok);
      if (a.ok) done(a.picture);
      else fail(new FileError(a.error));
    };
    const broke = (e: Error & { code?: string }): void => {
      end(false);
      console.error(e);
      fail(
        new FileError({
          code: e.code === 'ERR_WORKER_OUT_OF_MEMORY' ? 'memory' : 'failed',
          message: 'the decoder stopped at it',
          remedy: 'Copy or export it again.',
        }),
      );
    };
    w.on('message', answer).on('error', broke);
    w.postMessage({ bytes: data, options }, [data]);
  });
}
