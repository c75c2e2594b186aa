/**
 * The thread that writes what a job renders into a file of the browser's private storage. Ending it is how a job is
 * cancelled.
 */
import { errorOf } from '../media/errors';
import { writerOf } from '../media/writeFrames';
import type { Writer } from '../media/writeFrames';
import type { WriteReply, WriteRequest } from '../protocol/messages';

interface Handle {
  write(data: Uint8Array, o: { at: number }): number;
  flush(): void;
  close(): void;
}
let handle: Handle | null = null;
let bytes = 0;
let writer: Writer | null = null;

const scope = self as unknown as { postMessage(m: WriteReply): void };
self.onmessage = async ({ data }: MessageEvent<WriteRequest>) => {
  const { id } = data;
  try {
    if (data.kind === 'begin') {
      const root = await navigator.storage.getDirectory();
      const dir = await root.getDirectoryHandle('out', { create: true });
      const file = await dir.getFileHandle(data.file, { create: true });
      handle = await (file as unknown as { createSyncAccessHandle(): Promise<Handle> }).createSyncAccessHandle();
      writer = await writerOf(data.format, data.rate, (b, at) => {
        handle!.write(b, { at });
        bytes = Math.max(bytes, at + b.byteLength);
      });
    } else if (data.kind === 'frame') await writer!.frame(data.codes, data.name);
    else {
      await writer!.end();
      handle!.flush();
      handle!.close();
    }
    scope.postMessage({ id, ok: true, bytes });
  } catch (e) {
    const full = /Quota|NoModification/.test((e as Error).name);
    scope.postMessage({
      id,
      ok: false,
      error: full
        ? {
            code: 'media',
            message: 'the browser has no room left for it',
            remedy: 'Free some under Storage, in Shots.',
          }
        : errorOf(e),
    });
  }
};
