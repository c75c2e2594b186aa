/** The decoding thread of the terminal: one file, then it ends. */
import { parentPort, workerData } from 'node:worker_threads';
import { decodeStill } from '../media/decode';
import { errorOf } from '../media/errors';
import { nodeCodecs } from '../media/node';

nodeCodecs();
decodeStill(new Uint8Array(workerData as ArrayBuffer)).then(
  (picture) =>
    parentPort!.postMessage({ ok: true, picture }, [
      picture.rgb.buffer as ArrayBuffer,
      ...(picture.alphaPlane ? [picture.alphaPlane.buffer as ArrayBuffer] : []),
    ]),
  (e: unknown) => parentPort!.postMessage({ ok: false, error: errorOf(e) }),
);
