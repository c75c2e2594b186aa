/** The sound of the clip that plays: decoded a little ahead, and placed on the clock that shows the pictures. */
import { useQuery } from '@tanstack/react-query';
import type { MediaRecord } from '../document/records';
import type { Sound, SoundInfo } from '../media/sound';
import { sayError } from './notices';
import { fileOf } from './opening';
import { useSession } from './store';
import { wordsOf } from './words';

/** What a clip's file holds of sound, and whether this browser can play it. */
export interface Heard extends SoundInfo {
  plays: boolean;
  /** Which clips can hold it as it is, and what a file of it alone ends with. */
  held: { webm: boolean; mp4: boolean };
  end: string;
}

/** Two clips are listened to in turn at the most; an opened one holds little more than its table of packets. */
const OPEN = 2;
const opened = new Map<string, Promise<Sound | null>>();
function soundOf(media: MediaRecord): Promise<Sound | null> {
  const known = opened.get(media.sha256);
  if (known) return known;
  // Read when it is needed first: most of what is looked at is silent.
  const s = import('../media/sound').then(async ({ Sound: Reader }) => Reader.open(await fileOf(media)));
  opened.set(media.sha256, s);
  s.catch(() => opened.delete(media.sha256));
  for (const [k, x] of opened) {
    if (opened.size <= OPEN) break;
    opened.delete(k);
    void x.then((y) => y?.close()).catch(() => {});
  }
  return s;
}
/** Null: it is silent. Left out: not known yet. */
export function useHeard(media: MediaRecord): Heard | null | undefined {
  return useQuery({
    queryKey: ['sound', media.sha256],
    enabled: media.kind === 'clip',
    staleTime: Infinity,
    retry: false,
    queryFn: async (): Promise<Heard | null> => {
      const s = await soundOf(media);
      if (!s) return null;
      const { holds, endOfSound } = await import('../media/sound');
      const { codec } = s.info;
      const held = { webm: holds('webm', codec), mp4: holds('mp4', codec) };
      return { ...s.info, plays: await s.canDecode(), held, end: endOfSound(codec) };
    },
  }).data;
}

/** A piece of sound on the clock of the device: when it begins, from where in it, for how long; in seconds. */
export interface Placed {
  when: number;
  offset: number;
  length: number;
}
/** Two pieces that follow each other are joined without a gap; clocks drift apart by less than this in between. */
const JOIN = 0.03;
/**
 * Places a piece of `seconds` that belongs to the clip's second `at`.
 *
 * @param from the clip's second that is shown at `start`
 * @param to where the sound ends
 * @param start on the device's clock
 * @param now on the device's clock: what lies before it is too late and is cut off
 * @param joined where the piece before ends on the device's clock; null: none
 * @returns null where nothing of it is heard
 */
export function placePiece(
  { at, seconds }: { at: number; seconds: number },
  { from, to, start }: { from: number; to: number; start: number },
  now: number,
  joined: number | null,
): Placed | null {
  const cut = Math.max(0, from - at);
  let when = start + at + cut - from;
  let offset = cut;
  if (joined !== null && Math.abs(joined - when) < JOIN) when = joined;
  // Never two pieces at once.
  const late = Math.max(0, Math.max(now, joined ?? now) - when);
  when += late;
  offset += late;
  const length = Math.min(seconds - offset, to - at - offset);
  return length > 1e-4 ? { when, offset, length } : null;
}

/** Decoded so far ahead of what is heard. */
const AHEAD_S = 0.8;
/** So much is ready before the first of it is heard, so that a busy moment tears no hole into the beginning. */
const READY_S = 0.25;
/**
 * The page's clock told on the device's. The device's own figure stands still while its thread is held up, and then
 * catches up: of the latest readings, the one in which it had come farthest is right.
 */
export class Clock {
  private readings: number[] = [];
  /** What the device's clock shows where the page's shows 0; both in seconds. */
  read(device: number, page: number): number {
    this.readings = [...this.readings.slice(1 - KEPT_READINGS), device - page];
    return Math.max(...this.readings);
  }
}
const KEPT_READINGS = 24;

class SoundPlayer {
  private context: AudioContext | null = null;
  private run: AbortController | null = null;
  private readonly playing = new Set<AudioBufferSourceNode>();

  /**
   * Sound of a clip from second `from` to second `to`, of which the first is shown at `shownAt` on the page's clock
   * (ms). What was heard before ends.
   */
  start(media: MediaRecord, from: number, to: number, shownAt: number): void {
    this.stop();
    if (media.kind !== 'clip' || !useSession.getState().sound) return;
    const run = (this.run = new AbortController());
    void this.go(media, from, to, shownAt, run.signal).catch((e: unknown) => {
      if (run.signal.aborted) return;
      // Said once: the picture goes on.
      useSession.getState().set({ sound: false });
      sayError(`The sound of ${media.fileName} could not be played and is off now: ${wordsOf(e)}`);
    });
  }
  /** The device is woken when sound is wanted, not when it is due: on a busy machine that takes a second. */
  wake(): AudioContext {
    const c = (this.context ??= new AudioContext());
    // Where it may not run yet, `go` asks again.
    if (c.state === 'suspended') void c.resume().catch(() => {});
    return c;
  }
  stop(): void {
    this.run?.abort();
    this.run = null;
    for (const n of this.playing) n.stop();
    this.playing.clear();
  }
  private async go(media: MediaRecord, from: number, to: number, shownAt: number, signal: AbortSignal): Promise<void> {
    const sound = await soundOf(media);
    if (!sound || signal.aborted || !(await sound.canDecode())) return;
    const c = this.wake();
    if (c.state === 'suspended') await c.resume();
    const clock = new Clock();
    let joined: number | null = null;
    let ready: { at: number; buffer: AudioBuffer }[] = [];
    const place = (): void => {
      for (const { at, buffer } of ready) {
        // What is started now is heard a little later.
        const zero = clock.read(c.currentTime, performance.now() / 1000);
        const start = zero + shownAt / 1000 - (c.outputLatency || 0);
        const p = placePiece({ at, seconds: buffer.duration }, { from, to, start }, c.currentTime, joined);
        if (!p) continue;
        const node = new AudioBufferSourceNode(c, { buffer });
        node.connect(c.destination);
        node.onended = () => this.playing.delete(node);
        node.start(p.when, p.offset, p.length);
        this.playing.add(node);
        joined = p.when + p.length;
      }
      ready = [];
    };
    for await (const piece of sound.buffers(from, to)) {
      if (signal.aborted) return;
      ready.push(piece);
      const shown = from + (performance.now() - shownAt) / 1000;
      const torn = joined === null || joined < c.currentTime;
      if (torn && piece.at + piece.buffer.duration < shown + READY_S) continue;
      place();
      while (!signal.aborted && joined !== null && joined - c.currentTime > AHEAD_S)
        await new Promise((r) => setTimeout(r, 100));
    }
    if (!signal.aborted) place();
  }
}
export const sound = new SoundPlayer();
