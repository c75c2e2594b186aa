/** The decoding thread of the terminal: one file after another. */
import { parentPort } from 'node:worker_threads';
import { decodeStill } from '../media/decode';
import { errorOf } from '../media/errors';
import type { DecodeOptions } from '../media/picture';
import { nodeCodecs } from '../media/node';

nodeCodecs();
parentPort!.on('message', ({ bytes, options }: { bytes: ArrayBuffer; options: DecodeOptions }) => {
  decodeStill(new Uint8Array(bytes), options).then(
    (picture) =>
      parentPort!.postMessage({ ok: true, picture }, [
        picture.rgb.buffer as ArrayBuffer,
        ...(picture.alphaPlane ? [picture.alphaPlane.buffer as ArrayBuffer] : []),
      ]),
    (e: unknown) => parentPort!.postMessage({ ok: false, error: errorOf(e) }),
  );
});
