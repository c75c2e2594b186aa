/**
 * The thread that writes what a job renders into a file of the browser's private storage. Ending it is how a job is
 * cancelled.
 */
import { errorOf } from '../media/errors';
import { writeSound } from '../media/sound';
import type { SoundCopied } from '../media/picture';
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

async function open(name: string): Promise<void> {
  const root = await navigator.storage.getDirectory();
  const dir = await root.getDirectoryHandle('out', { create: true });
  const file = await dir.getFileHandle(name, { create: true });
  handle = await (file as unknown as { createSyncAccessHandle(): Promise<Handle> }).createSyncAccessHandle();
  bytes = 0;
}
function put(b: Uint8Array, at: number): void {
  handle!.write(b, { at });
  bytes = Math.max(bytes, at + b.byteLength);
}
function close(): void {
  handle!.flush();
  handle!.close();
}
const scope = self as unknown as { postMessage(m: WriteReply): void };
self.onmessage = async ({ data }: MessageEvent<WriteRequest>) => {
  const { id } = data;
  let sound: SoundCopied | null = null;
  try {
    if (data.kind === 'begin') {
      await open(data.file);
      writer = await writerOf(data.format, data.rate, put, data.sound, data.aspect);
    } else if (data.kind === 'sound') {
      await open(data.file);
      sound = await writeSound(data.part, put);
      close();
    } else if (data.kind === 'frame') await writer!.frame(data.codes, data.name);
    else {
      sound = await writer!.end();
      close();
    }
    scope.postMessage({ id, ok: true, bytes, sound });
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
