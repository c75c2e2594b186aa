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

/** Throws a FileError. `seconds`: left out, by the size of the file. */
export function decodeInThread(
  bytes: Uint8Array,
  seconds = limitSec(bytes.length),
  options: DecodeOptions = defaultDecode,
): Promise<DecodedPicture> {
  return new Promise((done, fail) => {
    // A copy of its own: slice() of a Buffer shares the memory of others, which would be given away with it.
    const data = new Uint8Array(bytes).buffer;
    const w = new Worker(new URL('./decodeThread.mjs', import.meta.url), {
      workerData: { bytes: data, options },
      transferList: [data],
    });
    const end = (): void => {
      clearTimeout(timer);
      void w.terminate();
    };
    const timer = setTimeout(() => {
      end();
      fail(new FileError(tookTooLong(bytes.length)));
    }, 1000 * seconds);
    w.on('message', (a: Answer) => {
      end();
      if (a.ok) done(a.picture);
      else fail(new FileError(a.error));
    });
    w.on('error', (e: Error & { code?: string }) => {
      end();
      console.error(e);
      fail(
        new FileError({
          code: e.code === 'ERR_WORKER_OUT_OF_MEMORY' ? 'memory' : 'failed',
          message: 'the decoder stopped at it',
          remedy: 'Copy or export it again.',
        }),
      );
    });
  });
}
