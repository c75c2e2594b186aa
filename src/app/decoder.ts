/**
 * Files to pictures and tables and back, in threads of their own: one for what the Bench waits for, one for what comes
 * in, one for what goes out,
 * so that three hundred imports hold nobody up. A file that takes too long, or is cancelled, ends its thread; the
 * next one starts another.
 */
import type { Aspect, Codes, Halves } from '../media/picture';
import { limitSec, tookTooLong } from '../media/errors';
import type { DecodedPicture, DecodeOptions } from '../media/picture';
import type { DecodeReply, DecodeRequest, TableFile } from '../protocol/messages';
import { EngineError } from './engineError';

export class Cancelled extends Error {
  override name = 'Cancelled';
  constructor() {
    super('cancelled');
  }
}
type Task = DecodeRequest extends infer R ? (R extends DecodeRequest ? Omit<R, 'id'> : never) : never;
type Done = Extract<DecodeReply, { ok: true }>;

class Lane {
  private worker: Worker | null = null;
  private next = 1;
  private chain: Promise<unknown> = Promise.resolve();
  constructor(private readonly name: string) {}

  run(task: Task, signal?: AbortSignal): Promise<Done> {
    const run = this.chain.then(() => this.one(task, signal));
    this.chain = run.catch(() => {});
    return run;
  }
  private one(task: Task, signal?: AbortSignal): Promise<Done> {
    return new Promise((done, fail) => {
      if (signal?.aborted) {
        fail(new Cancelled());
        return;
      }
      const w = (this.worker ??= new Worker(new URL('../workers/decode.ts', import.meta.url), {
        type: 'module',
        name: this.name,
      }));
      const id = this.next++;
      const bytes = task.bytes.byteLength;
      const end = (): void => {
        clearTimeout(timer);
        signal?.removeEventListener('abort', stop);
        w.onmessage = w.onerror = w.onmessageerror = null;
      };
      const restart = (e: Error): void => {
        end();
        w.terminate();
        this.worker = null;
        fail(e);
      };
      const stop = (): void => restart(new Cancelled());
      const timer = setTimeout(() => restart(new EngineError(tookTooLong(bytes))), 1000 * limitSec(bytes));
      signal?.addEventListener('abort', stop);
      w.onmessage = ({ data }: MessageEvent<DecodeReply>) => {
        if (data.id !== id) return;
        end();
        if (data.ok) done(data);
        else fail(new EngineError(data.error));
      };
      w.onerror = w.onmessageerror = () =>
        restart(
          new EngineError({
            code: 'failed',
            message: 'the decoder stopped at it',
            remedy: 'Copy or export it again; if the page was open for long, reload it.',
          }),
        );
      w.postMessage({ ...task, id } as DecodeRequest, [task.bytes]);
    });
  }
}
const opening = new Lane('decode');
const importing = new Lane('import');
const writing = new Lane('write');

/** The bytes are given away. Rejects with EngineError or Cancelled. */
export async function decode(
  bytes: ArrayBuffer,
  options: DecodeOptions,
  from: 'open' | 'import',
  signal?: AbortSignal,
): Promise<DecodedPicture> {
  const r = await (from === 'open' ? opening : importing).run({ kind: 'still', bytes, options }, signal);
  if (!('picture' in r)) throw new Error('The decoder answered with something else');
  return r.picture;
}
/** To OpenEXR or PNG, which says the shape of its pixels; the numbers are given away. */
export async function encodeStill(
  { data, ...codes }: Codes | Halves,
  aspect: Aspect,
  signal?: AbortSignal,
): Promise<Uint8Array<ArrayBuffer>> {
  const r = await writing.run({ kind: 'encode', bytes: data.buffer, codes, aspect }, signal);
  if (!('file' in r)) throw new Error('The encoder answered with something else');
  return r.file;
}
export async function decodeTable(bytes: ArrayBuffer, name: string): Promise<TableFile> {
  const r = await opening.run({ kind: 'table', bytes, name });
  if (!('table' in r)) throw new Error('The decoder answered with something else');
  return r.table;
}
