/** Which frame is due, and which to make next: arithmetic without a clock of its own. */

export type Loop = 'once' | 'loop' | 'backAndForth';
export interface Range {
  first: number;
  last: number;
}

/**
 * The place that is due after some seconds, in frames, fractions included.
 *
 * @param speed 1 forwards at the shot's rate, -2 backwards at twice the rate
 * @returns null when the end is passed and nothing is repeated
 */
export function placeAt(
  from: number,
  seconds: number,
  fps: number,
  speed: number,
  r: Range,
  loop: Loop,
): number | null {
  const n = r.last - r.first + 1;
  const x = from - r.first + seconds * fps * speed;
  if (loop === 'once') return x < 0 || x >= n ? null : r.first + x;
  if (loop === 'loop') return r.first + (((x % n) + n) % n);
  // There and back again: the ends are shown once.
  const turn = Math.max(1, 2 * (n - 1));
  const y = ((x % turn) + turn) % turn;
  return r.first + (y <= n - 1 ? y : Math.max(0, turn - y));
}

/** How many frames a round has; infinite where nothing is repeated. */
export const roundOf = (r: Range, loop: Loop): number => {
  const n = r.last - r.first + 1;
  return loop === 'once' ? Infinity : loop === 'loop' ? n : Math.max(1, 2 * (n - 1));
};
/**
 * What was shown and what was dropped, round by round. Frames are counted on from the first of the range, through all
 * rounds, so that what is missed about the end of a round is counted where it belongs.
 */
export class Tally {
  shown = 0;
  dropped = 0;
  before: { shown: number; dropped: number } | null = null;
  private last: number;
  private round: number;

  /** @param start is shown already */
  constructor(
    start: number,
    readonly length: number,
    private readonly sign: 1 | -1,
  ) {
    this.last = start;
    this.round = this.of(start);
  }
  private of(i: number): number {
    return this.length === Infinity ? 0 : Math.floor(i / this.length);
  }
  /** The time of a frame has come; true where a round begins with it. */
  due(i: number): boolean {
    const round = this.of(i);
    if (round === this.round) return false;
    const first = this.sign > 0 ? round * this.length : (round + 1) * this.length - 1;
    this.before = { shown: this.shown, dropped: this.dropped + Math.max(0, Math.abs(first - this.last) - 1) };
    this.shown = 0;
    this.dropped = 0;
    this.last = first - this.sign;
    this.round = round;
    return true;
  }
  drawn(i: number): void {
    this.dropped += Math.max(0, Math.abs(i - this.last) - 1);
    this.shown++;
    this.last = i;
  }
}

/** The frames that follow, in the order that they will be due; without repeating those that stand twice. */
export function* upcoming(at: number, speed: number, r: Range, loop: Loop): Generator<number> {
  const n = r.last - r.first + 1;
  let i = Math.min(r.last, Math.max(r.first, Math.floor(at)));
  let step = speed < 0 ? -1 : 1;
  for (let k = 0; k < 2 * n; k++) {
    yield i;
    i += step;
    if (i >= r.first && i <= r.last) continue;
    if (loop === 'once') return;
    if (loop === 'loop') i = step > 0 ? r.first : r.last;
    else {
      step = -step;
      i = Math.min(r.last, Math.max(r.first, i + 2 * step));
    }
  }
}
/**
 * The frame to make next: the first that is not made and can still be in time.
 *
 * @param need how many frames pass while one is made
 * @param ahead no more than so many are made in advance
 */
export function nextToMake(
  made: { has(frame: number): boolean },
  at: number,
  speed: number,
  need: number,
  ahead: number,
  r: Range,
  loop: Loop,
): number | null {
  let k = 0;
  for (const i of upcoming(at, speed, r, loop)) {
    if (k > ahead) return null;
    // What is due sooner than it can be made is left out: the rate holds, frames are dropped.
    if (k >= Math.floor(need) && !made.has(i)) return i;
    k++;
  }
  return null;
}

/**
 * Frames that will be due before `front`, the last that the decoder was asked for, and that nobody holds: to give one
 * it would have to go back to a key frame, and come through all of them again.
 *
 * @param within `front` counts only where it is due within so many frames: later it is of another round
 */
export function passedBy(
  held: { has(frame: number): boolean },
  front: number,
  at: number,
  speed: number,
  r: Range,
  loop: Loop,
  within: number,
): Set<number> {
  const out = new Set<number>();
  let k = 0;
  for (const i of upcoming(at, speed, r, loop)) {
    if (i === front) return out;
    if (++k > within) break;
    if (!held.has(i)) out.add(i);
  }
  return new Set();
}

/** Frames that are made, as many bytes as may be kept; those that come last in the order of use go first. */
export class Made<T> {
  private readonly entries = new Map<number, { value: T; bytes: number }>();
  private held = 0;
  constructor(
    public most: number,
    /** Told of what goes when all of it goes: nobody looks at it any more. */
    private readonly gone: (value: T) => void = () => {},
    /** Told of what makes room for another. */
    private readonly passed: (value: T) => void = () => {},
  ) {}
  has(frame: number): boolean {
    return this.entries.has(frame);
  }
  get(frame: number): T | undefined {
    return this.entries.get(frame)?.value;
  }
  get bytes(): number {
    return this.held;
  }
  get frames(): number[] {
    return [...this.entries.keys()].sort((a, b) => a - b);
  }
  /** How many of such a size fit. */
  room(bytes: number): number {
    return Math.max(1, Math.floor(this.most / Math.max(1, bytes)));
  }
  put(frame: number, value: T, bytes: number, from: number): void {
    const old = this.entries.get(frame);
    if (old) this.held -= old.bytes;
    this.entries.delete(frame);
    this.entries.set(frame, { value, bytes });
    this.held += bytes;
    while (this.held > this.most && this.entries.size > 1) {
      // The one that lies furthest away from what is looked at.
      let far = -1;
      let d = -1;
      for (const k of this.entries.keys())
        if (k !== frame && Math.abs(k - from) > d) [far, d] = [k, Math.abs(k - from)];
      const { value: away, bytes: less } = this.entries.get(far)!;
      this.held -= less;
      this.entries.delete(far);
      this.passed(away);
    }
  }
  nearest(frame: number): number | null {
    let best: number | null = null;
    for (const k of this.entries.keys()) if (best === null || Math.abs(k - frame) < Math.abs(best - frame)) best = k;
    return best;
  }
  clear(): void {
    for (const e of this.entries.values()) this.gone(e.value);
    this.entries.clear();
    this.held = 0;
  }
}
/** Pieces of a list of frames that follow each other. */
export function spans(frames: readonly number[]): [number, number][] {
  const out: [number, number][] = [];
  for (const f of frames) {
    const last = out.at(-1);
    if (last && f === last[1] + 1) last[1] = f;
    else out.push([f, f]);
  }
  return out;
}
