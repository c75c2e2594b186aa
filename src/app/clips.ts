/**
 * Clips in a thread of their own, as sources of frames. A thread that says nothing for too long is ended, the next
 * frame starts another.
 */
import type { ClipInfo, DecodedPicture } from '../media/picture';
import type { YuvMeaning } from '../core/color/yuv';
import type { FrameSource } from '../media/source';
import { clampFrame } from '../media/source';
import type { ClipReply, ClipRequest } from '../protocol/messages';
import { EngineError } from './engineError';
import { Cancelled } from './decoder';

/** Seconds without a word: far more than the slowest seek. */
const SILENT_S = 30;
type Ask = ClipRequest extends infer R ? (R extends ClipRequest ? Omit<R, 'id'> : never) : never;
type Done = Extract<ClipReply, { ok: true }>;
interface Waiting {
  done(r: Done): void;
  fail(e: Error): void;
  so(n: number): void;
}

class ClipThread {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private next = 1;
  private heard = 0;
  private watch: ReturnType<typeof setInterval> | null = null;
  constructor(private readonly name: string) {}

  ask(q: Ask, so: (n: number) => void = () => {}, signal?: AbortSignal): Promise<Done> {
    return new Promise((done, fail) => {
      if (signal?.aborted) return fail(new Cancelled());
      const id = this.next++;
      const w = this.start();
      this.heard = performance.now();
      signal?.addEventListener('abort', () => {
        if (this.waiting.has(id)) this.end(new Cancelled());
      });
      this.waiting.set(id, { done, fail, so });
      w.postMessage({ ...q, id } as ClipRequest);
    });
  }
  private start(): Worker {
    if (this.worker) return this.worker;
    const w = new Worker(new URL('../workers/clip.ts', import.meta.url), { type: 'module', name: this.name });
    this.worker = w;
    w.onmessage = ({ data }: MessageEvent<ClipReply>) => {
      this.heard = performance.now();
      const x = this.waiting.get(data.id);
      if (!x) return;
      if ('so' in data) return x.so(data.so);
      this.waiting.delete(data.id);
      if (data.ok) x.done(data);
      else x.fail(new EngineError(data.error));
    };
    const stopped = (message: string): void =>
      this.end(new EngineError({ code: 'media', message, remedy: 'Copy or export it again.' }));
    w.onerror = w.onmessageerror = () => stopped('the decoder stopped at it');
    this.watch ??= setInterval(() => {
      if (this.waiting.size > 0 && performance.now() - this.heard > 1000 * SILENT_S)
        stopped(`the decoder said nothing for ${SILENT_S} s: its data lead it astray`);
    }, 1000);
    return w;
  }
  private end(e: Error): void {
    this.worker?.terminate();
    this.worker = null;
    if (this.watch) clearInterval(this.watch);
    this.watch = null;
    const lost = [...this.waiting.values()];
    this.waiting.clear();
    for (const x of lost) x.fail(e);
  }
}
/** Frames, and what comes in: the one never waits for the other. */
const looking = new ClipThread('clips');
const working = new ClipThread('clips, work');

/** Reads what a clip is. */
export async function openClip(file: Blob, counted: (n: number) => void, signal?: AbortSignal): Promise<ClipInfo> {
  const r = await working.ask({ kind: 'open', key: `new ${nextNew++}`, file }, counted, signal);
  if (!('info' in r)) throw new Error('The decoder answered with something else');
  return r.info;
}
let nextNew = 1;
/** SHA-256 of a file of any size, or of parts of it (`media/fingerprint.ts`), hex. */
export async function sumOf(
  file: Blob,
  what: 'whole' | 'parts',
  so: (share: number) => void,
  signal?: AbortSignal,
): Promise<string> {
  const r = await working.ask({ kind: 'sum', file, what }, (n) => so(n / Math.max(1, file.size)), signal);
  if (!('sum' in r)) throw new Error('The thread answered with something else');
  return r.sum;
}

/** Frames of a clip. `file` is asked for when the thread has not opened it (any more). */
export function clipSource(key: string, frames: number, meaning: YuvMeaning, file: () => Promise<Blob>): FrameSource {
  return {
    frames,
    frame: async (n, signal): Promise<DecodedPicture> => {
      const ask = async (): Promise<DecodedPicture> => {
        const r = await looking.ask({ kind: 'frame', key, frame: clampFrame(n, frames), meaning });
        if (!('picture' in r)) throw new Error('The decoder answered with something else');
        return r.picture;
      };
      if (signal?.aborted) throw new Cancelled();
      try {
        return await ask();
      } catch (e) {
        if (!(e instanceof EngineError && e.reply.message === 'closed')) throw e;
        const blob = await file();
        // The two in one breath: of other clips that are asked for meanwhile none comes in between and closes it again.
        const opened = looking.ask({ kind: 'open', key, file: blob });
        const picture = ask();
        picture.catch(() => {});
        await opened;
        return picture;
      }
    },
  };
}
