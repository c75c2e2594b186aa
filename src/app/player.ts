/**
 * Plays a shot: frames are made ahead by the engine at the size of the view, kept, and shown when they are due. The
 * clock is never slowed down; what is not made in time is dropped, and counted.
 */
import { create } from 'zustand';
import type { MediaRecord } from '../document/records';
import type { RenderReply, RenderRequest } from '../protocol/messages';
import { engine } from './engine';
import { EngineError } from './engineError';
import { Replaced } from './lanes';
import { sayError } from './notices';
import { Made, nextToMake, passedBy, placeAt, roundOf, spans, Tally, upcoming } from './playing';
import type { Loop, Range } from './playing';
import { free } from '../media/free';
import { sound } from './sound';
import { useSession } from './store';
import { wordsOf } from './words';

interface Play {
  playing: boolean;
  /** 1 is the shot's rate; below 0 backwards. */
  speed: number;
  /** What is shown while it plays or is scrubbed; null: the session's frame. */
  frame: number | null;
  /** Of the round that runs, or of the last. */
  shown: number;
  dropped: number;
  /** Of the round before. */
  before: { shown: number; dropped: number } | null;
  loop: Loop;
  /** Frames that are made, in pieces that follow each other. */
  made: readonly (readonly [number, number])[];
  /** How many frames of the present view are kept. */
  fits: number;
}
export const usePlay = create<Play>()(() => ({
  playing: false,
  speed: 1,
  frame: null,
  shown: 0,
  dropped: 0,
  before: null,
  loop: 'loop',
  made: [],
  fits: 0,
}));

/** What the open picture gives the player. */
export interface PlayView {
  /** All that is looked at but the frame: the same object, the same picture. */
  base: object;
  request(frame: number): Omit<RenderRequest, 'quality'>;
  fps: number;
  range: Range;
  /** Whose sound is played along. */
  media: MediaRecord;
  /** Shows a made frame. */
  draw(r: RenderReply, frame: number): void;
}

/** Bytes of frames that are kept where the whole range fits into them: the next round is complete. */
const WHOLE_BYTES = 448 * 2 ** 20;
/** Of a longer range; whatever is kept of it, the next round finds the rest missing. */
const MADE_BYTES = 112 * 2 ** 20;
/** No more than so many are made in advance. */
const AHEAD = 24;
/** One is made, the next lies ready: on its way there and back the engine would have nothing to do. */
const AT_ONCE = 2;
/** Decoding runs beside rendering, so many frames before it. */
const DECODE_AHEAD = 4;
/** Where the picture rests so long, the frames after it are made: playing begins with them, and a step finds them. */
const REST_MS = 700;
const PREPARED = 12;
const SCOPES_MS = 150;
/** Between two looks of the strip at what is made. */
const TELL_MS = 200;

class Player {
  private view: PlayView | null = null;
  private owner: object | null = null;
  private readonly made = new Made<RenderReply>(
    MADE_BYTES,
    (r) => free(r.rgba.buffer),
    (r) => engine().recycle(r.rgba.buffer),
  );
  private base: object | null = null;
  private making: AbortController | null = null;
  private preparing: AbortController | null = null;
  private resting: ReturnType<typeof setTimeout> | undefined;
  private ticking = 0;
  private telling: ReturnType<typeof setTimeout> | undefined;
  private fits = 0;
  private startedAt = 0;
  private from = 0;
  private lastShown = -1;
  private tally = new Tally(0, Infinity, 1);
  private msPerFrame = 30;
  private madeAt = 0;
  /** The last frame that was asked of the decoder. */
  private front = -1;
  private scopesAt = 0;
  private scrubbing: { want: number | null; busy: boolean } = { want: null, busy: false };

  /** Told of every change of what is looked at; null: nothing any more. */
  attach(owner: object, view: PlayView | null): void {
    // Who has left says so late, when another one may be there.
    if (view === null && owner !== this.owner) return;
    this.owner = owner;
    this.view = view;
    if (view && view.base === this.base) return;
    this.base = view?.base ?? null;
    this.made.clear();
    this.making?.abort();
    this.tellMade();
    this.rest();
    if (!view) {
      this.stop();
      // A hand that was on the strip when the picture went: the next picture is drawn by itself again.
      usePlay.setState({ frame: null });
    } else if (usePlay.getState().playing) void this.produce();
  }
  /** While it plays the strip follows a few times a second: with every frame it would be laid out and painted twice. */
  private tellMade(): void {
    if (this.telling !== undefined) return;
    const tell = (): void => {
      this.telling = undefined;
      usePlay.setState({ made: spans(this.made.frames), fits: this.fits });
    };
    if (usePlay.getState().playing) this.telling = setTimeout(tell, TELL_MS);
    else tell();
  }

  play(speed = 1): void {
    const v = this.view;
    if (!v || v.range.last <= v.range.first) return;
    const at = usePlay.getState().frame ?? useSession.getState().frame;
    let from = Math.min(v.range.last, Math.max(v.range.first, at));
    // From the end it begins again, as one expects.
    if (speed > 0 && from >= v.range.last) from = v.range.first;
    if (speed < 0 && from <= v.range.first) from = v.range.last;
    this.from = from;
    this.lastShown = -1;
    this.front = -1;
    this.tally = this.tallyFrom(from - v.range.first, speed);
    this.startedAt = performance.now();
    usePlay.setState({ playing: true, speed, frame: from, shown: 0, dropped: 0, before: null });
    this.rest();
    useSession.getState().set({ tool: 'none' });
    cancelAnimationFrame(this.ticking);
    this.ticking = requestAnimationFrame(this.tick);
    this.soundFrom(from, this.startedAt);
    void this.produce();
  }
  private tallyFrom(index: number, speed: number): Tally {
    return new Tally(index, roundOf(this.view!.range, usePlay.getState().loop), speed < 0 ? -1 : 1);
  }
  /** Forwards at the shot's own rate there is sound; there and back it would be a riddle. */
  private soundFrom(place: number, shownAt: number): void {
    const v = this.view;
    const { playing, speed, loop } = usePlay.getState();
    if (!v || !playing || speed !== 1 || loop === 'backAndForth') return sound.stop();
    sound.start(v.media, place / v.fps, (v.range.last + 1) / v.fps, shownAt);
  }
  /** Switched on or off, or played otherwise from now on. */
  soundAnew(): void {
    const { playing, speed, loop } = usePlay.getState();
    const v = this.view;
    if (!v || !playing) return sound.stop();
    const now = performance.now();
    const place = placeAt(this.from, (now - this.startedAt) / 1000, v.fps, speed, v.range, loop);
    if (place !== null) this.soundFrom(place, now);
  }
  /** Stops; the frame that is shown becomes the one that is looked at, and gets its final. */
  stop(): void {
    const { playing, frame } = usePlay.getState();
    if (!playing) return;
    this.making?.abort();
    sound.stop();
    if (frame !== null) useSession.getState().set({ frame });
    usePlay.setState({ playing: false, frame: null });
    this.rest();
  }
  toggle(): void {
    if (usePlay.getState().playing) this.stop();
    else this.play(1);
  }
  /** To a frame, kept within the range. */
  go(frame: number): void {
    this.stop();
    const v = this.view;
    const f = v ? Math.min(v.range.last, Math.max(v.range.first, Math.round(frame))) : Math.round(frame);
    usePlay.setState({ frame: null });
    if (useSession.getState().frame !== f) useSession.getState().set({ frame: f });
    this.rest();
  }
  step(by: number): void {
    this.go((usePlay.getState().frame ?? useSession.getState().frame) + by);
  }
  /** While a hand moves along the strip: the nearest made frame at once, the frame itself as soon as it is made. */
  scrub(frame: number): void {
    const v = this.view;
    if (!v) return;
    this.stop();
    const f = Math.min(v.range.last, Math.max(v.range.first, Math.round(frame)));
    usePlay.setState({ frame: f });
    this.rest();
    const near = this.made.nearest(f);
    if (near !== null && Math.abs(near - f) < 48) v.draw(this.made.get(near)!, near);
    if (near === f) return;
    this.scrubbing.want = f;
    void this.follow();
  }
  private async follow(): Promise<void> {
    if (this.scrubbing.busy) return;
    this.scrubbing.busy = true;
    while (this.scrubbing.want !== null) {
      const f: number = this.scrubbing.want;
      this.scrubbing.want = null;
      const r = await this.make(f, new AbortController().signal, 'one');
      if (r && usePlay.getState().frame !== null && !usePlay.getState().playing && this.scrubbing.want === null)
        this.view?.draw(r, f);
    }
    this.scrubbing.busy = false;
  }

  private readonly tick = (): void => {
    const { playing, speed, loop, frame } = usePlay.getState();
    const v = this.view;
    if (!playing || !v) return;
    const seconds = (performance.now() - this.startedAt) / 1000;
    const place = placeAt(this.from, seconds, v.fps, speed, v.range, loop);
    if (place === null) {
      const end = speed > 0 ? v.range.last : v.range.first;
      usePlay.setState({ frame: end });
      this.stop();
      return;
    }
    const due = Math.min(v.range.last, Math.floor(place));
    if (due !== frame || this.lastShown !== due) {
      const index = Math.floor(this.from - v.range.first + seconds * v.fps * speed);
      // Another range or way to repeat, chosen while it plays.
      if (this.tally.length !== roundOf(v.range, loop)) this.tally = this.tallyFrom(index, speed);
      if (this.tally.due(index)) {
        this.lastShown = -1;
        this.soundFrom(v.range.first, performance.now() - (1000 * (place - v.range.first)) / v.fps);
      }
      const r = this.made.get(due);
      const draw = r && this.lastShown !== due;
      if (draw) {
        v.draw(r, due);
        this.lastShown = due;
        this.tally.drawn(index);
      }
      const { shown, dropped, before } = this.tally;
      if (draw || due !== frame) usePlay.setState({ frame: due, shown, dropped, before });
    }
    this.ticking = requestAnimationFrame(this.tick);
  };

  /** Makes frames as long as it plays. */
  private async produce(): Promise<void> {
    this.making?.abort();
    const making = (this.making = new AbortController());
    const asked = new Map<number, Promise<unknown>>();
    while (!making.signal.aborted && usePlay.getState().playing && this.view) {
      const v = this.view;
      const { speed, loop } = usePlay.getState();
      const seconds = (performance.now() - this.startedAt) / 1000;
      const place = placeAt(this.from, seconds, v.fps, speed, v.range, loop) ?? v.range.last;
      const rate = v.fps * Math.abs(speed);
      // What fits is made whole, the pieces that an earlier round left out too.
      const frames = v.range.last - v.range.first + 1;
      const ahead = this.fits >= frames ? frames : AHEAD;
      const { media } = v.request(v.range.first).shot;
      const held = { has: (f: number) => this.made.has(f) || engine().holds({ media, frame: f }) };
      // Further on the decoder is in another round.
      const within = Math.min(2 * AHEAD, frames >> 1);
      const passed = passedBy(held, this.front, place, speed, v.range, loop, within);
      const taken = { has: (f: number) => this.made.has(f) || passed.has(f) || asked.has(f) };
      // It comes after what is asked for already.
      const need = (this.msPerFrame / 1000) * rate * (1 + asked.size);
      const next = nextToMake(taken, place, speed, need, ahead, v.range, loop);
      if (next === null) {
        await new Promise((r) => setTimeout(r, 8));
        continue;
      }
      asked.set(
        next,
        this.make(next, making.signal, 'playing').then(async () => {
          // A failure must not spin.
          if (!this.made.has(next)) await new Promise((r) => setTimeout(r, 30));
          asked.delete(next);
        }),
      );
      if (asked.size >= AT_ONCE) await Promise.race(asked.values());
    }
  }
  /** Something changed: what was prepared for rest ends, and begins again once nothing changes any more. */
  private rest(): void {
    clearTimeout(this.resting);
    this.preparing?.abort();
    this.preparing = null;
    if (this.view && !usePlay.getState().playing) this.resting = setTimeout(() => void this.prepare(), REST_MS);
  }
  private async prepare(): Promise<void> {
    const v = this.view;
    if (!v || v.range.last <= v.range.first) return;
    const { signal } = (this.preparing = new AbortController());
    const { loop, frame } = usePlay.getState();
    let left = PREPARED;
    for (const f of upcoming(frame ?? useSession.getState().frame, 1, v.range, loop)) {
      if (left-- < 0 || signal.aborted) return;
      // What cannot be made is said when somebody asks for it.
      if (!(await this.make(f, signal, 'rest'))) return;
    }
  }
  /** For whom: the round that is played, one frame that a hand is on, or nobody yet. */
  private async make(
    frame: number,
    signal: AbortSignal,
    whom: 'playing' | 'one' | 'rest',
  ): Promise<RenderReply | null> {
    const v = this.view;
    if (!v || signal.aborted) return null;
    const there = this.made.get(frame);
    if (there) return there;
    const { base } = this;
    const t0 = performance.now();
    const scopes = whom !== 'rest' && t0 - this.scopesAt > SCOPES_MS;
    if (scopes) this.scopesAt = t0;
    const q = v.request(frame);
    const { speed, loop } = usePlay.getState();
    if (whom === 'playing') {
      // In the order that they are due, this one first: a frame that is asked for after its successors makes the
      // decoder go back to a key frame, for longer than all of them take.
      let k = 0;
      for (const i of upcoming(frame, speed, v.range, loop)) {
        engine().prefetch({ media: q.shot.media, frame: i });
        this.front = i;
        if (++k > DECODE_AHEAD) break;
      }
    }
    try {
      const request: RenderRequest = { ...q, quality: 'draft', scopes: scopes ? q.scopes : [] };
      const r = await (whom === 'rest' ? engine().prepare(request, signal) : engine().play(request, signal));
      if (base !== this.base) return null;
      const { first, last } = v.range;
      const whole = (last - first + 1) * r.rgba.byteLength;
      this.made.most = whole <= WHOLE_BYTES ? WHOLE_BYTES : MADE_BYTES;
      this.made.put(frame, r, r.rgba.byteLength, usePlay.getState().frame ?? frame);
      // From where it could begin: behind another it waited. At rest everything goes first.
      const now = performance.now();
      if (whom !== 'rest') this.msPerFrame += 0.2 * (now - Math.max(t0, this.madeAt) - this.msPerFrame);
      this.madeAt = now;
      this.fits = this.made.room(r.rgba.byteLength);
      this.tellMade();
      return r;
    } catch (e) {
      const gone = signal.aborted || e instanceof Replaced || (e instanceof EngineError && e.reply.code === 'stale');
      if (!gone && whom !== 'rest') {
        this.stop();
        sayError(`Frame ${frame} could not be shown: ${wordsOf(e)}`);
      }
      return null;
    }
  }
}
export const player = new Player();
