/** Runs commands: alone, or with helper threads that share the memory. One barrier per command. */
import type { Arena, Plane } from './memory';
import { taskNames, taskOf } from './tasks';
import type { Command, TaskContext } from './tasks';

/**
 * What runs commands over planes. This one is threads and SIMD kernels; the commands know nothing of that, and the
 * answer may come later.
 */
export interface Pool {
  readonly threads: number;
  /** Does what the command says, and is done when the promise is. */
  run(c: Command): Promise<void>;
  /**
   * to[i] += from[i] over `pieces` pieces of `size` numbers each, into the first; at `at` numbers from the beginning.
   */
  addUp(counts: Plane, size: number, pieces: number, at: number, n: number): void;
  /** Scratch for every thread, enough for planes (or a view) of so many bytes. */
  ensureScratch(bytes: number): void;
}
export type Ctx = Omit<TaskContext, 'scratch' | 'thread'>;

/** Where the coordinator's side of both pools lives: scratch, blocks for the length of a command. */
abstract class CpuPool implements Pool {
  abstract readonly threads: number;
  private size = 0;
  protected scratchAt: Plane[] = [];
  constructor(
    protected readonly ctx: Ctx,
    private readonly arena: Arena,
  ) {}
  abstract run(c: Command): Promise<void>;
  protected setScratch(_: readonly number[]): void {}
  ensureScratch(bytes: number): void {
    if (bytes <= this.size) return;
    this.scratchAt.forEach((a) => this.arena.release(a));
    this.scratchAt = Array.from({ length: this.threads }, () => this.arena.alloc(bytes));
    this.size = bytes;
    this.setScratch(this.scratchAt);
  }
  addUp(counts: Plane, size: number, pieces: number, at: number, n: number): void {
    for (let t = 1; t < pieces; t++) this.ctx.kernels['addCounts']!(counts + at * 4, counts + (t * size + at) * 4, n);
  }
  /** The command's numbers, with its blocks in memory for the length of `body`. */
  protected packed(c: Command, body: (args: readonly number[]) => void): void {
    const at: Plane[] = [];
    try {
      const args = taskOf(c.do).pack(c, (block) => {
        // Kernels read blocks by whole vectors.
        const p = this.arena.alloc(Math.max(256, block.byteLength));
        at.push(p);
        this.arena.look((v) => {
          if (block instanceof Uint32Array) v.u32(p, block.length).set(block);
          else v.f32(p, block.length).set(block);
        });
        return p;
      });
      body(args);
    } finally {
      at.forEach((a) => this.arena.release(a));
    }
  }
}

export class SoloPool extends CpuPool {
  readonly threads = 1;
  // A failure is the promise's, so that every back end fails alike.
  async run(c: Command): Promise<void> {
    const t = taskOf(c.do);
    this.packed(c, (args) => t.band({ ...this.ctx, thread: 0, scratch: this.scratchAt[0]! }, 0, t.rows(c), args));
  }
}

/**
 * Layout of the control block (Int32): 0 ticket, 1 bands done, 2 task, 3 rows, 4 bands, 5 failed, 6 stop, 7 next band
 * (ticket in the upper bits), 8 whether helpers may do idle work; then float64 arguments, then scratch addresses.
 */
export const CONTROL_INTS = 16;
const MAY_IDLE = 8;
export const CONTROL_ARGS = 256;
export const controlBytes = CONTROL_INTS * 4 + CONTROL_ARGS * 8 + 16 * 8;
/** Bands per thread. Bands are taken, not dealt: a helper that the system has not woken yet holds nobody up. */
const BANDS = 4;
/** Between two bands newer work is heard: none has more pixels, so that a hand waits for some milliseconds at most. */
const BAND_PIXELS = 400_000;
/**
 * Below this a stage takes a few milliseconds: waking a helper, and waiting for its band while the interface thread
 * has its core, costs more than it saves. Measured on two cores.
 */
const ALONE_PIXELS = 400_000;
const SHIFT = 12;
const TICKETS = (1 << (31 - SHIFT)) - 1;
const NEXT = (1 << SHIFT) - 1;

interface Control {
  i32: Int32Array;
  args: Float64Array;
  scratch: Float64Array;
}
export function controlViews(buffer: SharedArrayBuffer): Control {
  return {
    i32: new Int32Array(buffer, 0, CONTROL_INTS),
    args: new Float64Array(buffer, CONTROL_INTS * 4, CONTROL_ARGS),
    scratch: new Float64Array(buffer, CONTROL_INTS * 4 + CONTROL_ARGS * 8, 16),
  };
}

/**
 * Takes and does bands of a ticket until none is left. A band once taken keeps the arguments in place until it is
 * done. `beat` is called before each band and may throw.
 */
function work({ i32, args, scratch }: Control, ctx: Ctx, ticket: number, thread: number, beat = (): void => {}): void {
  for (;;) {
    const v = Atomics.load(i32, 7);
    const bands = Atomics.load(i32, 4);
    const k = v & NEXT;
    if (v >> SHIFT !== (ticket & TICKETS) || k >= bands) return;
    beat();
    if (Atomics.compareExchange(i32, 7, v, v + 1) !== v) continue;
    const rows = i32[3]!;
    try {
      taskOf(taskNames[i32[2]!]!).band(
        { ...ctx, thread, scratch: scratch[thread]! },
        Math.floor((rows * k) / bands),
        Math.floor((rows * (k + 1)) / bands),
        args,
      );
    } catch (e) {
      console.error(e);
      Atomics.store(i32, 5, 1);
    }
    Atomics.add(i32, 1, 1);
    Atomics.notify(i32, 1);
  }
}
/** No band of the ticket is taken any more; how many were. */
function halt({ i32 }: Control): number {
  for (;;) {
    const v = Atomics.load(i32, 7);
    const bands = Atomics.load(i32, 4);
    const k = v & NEXT;
    if (k >= bands) return bands;
    if (Atomics.compareExchange(i32, 7, v, (v & ~NEXT) | bands) === v) return k;
  }
}
/** Waits until so many bands are done. */
function settle({ i32 }: Control, bands: number): void {
  for (;;) {
    const done = Atomics.load(i32, 1);
    if (done >= bands) return;
    Atomics.wait(i32, 1, done, 1000);
  }
}

/** Coordinator's side. Must run in a thread that may wait. */
export class SharedPool extends CpuPool {
  private readonly c: Control;
  constructor(
    ctx: Ctx,
    arena: Arena,
    control: SharedArrayBuffer,
    readonly threads: number,
    /** Its `beat` is called between bands; what it throws ends the command, with nothing running any more. */
    private readonly pulse: { beat: () => void } = { beat: () => {} },
  ) {
    super(ctx, arena);
    this.c = controlViews(control);
  }
  protected override setScratch(s: readonly number[]): void {
    s.forEach((v, i) => (this.c.scratch[i] = v));
  }
  /** Whether helpers may do what nobody waits for. */
  mayIdle(on: boolean): void {
    Atomics.store(this.c.i32, MAY_IDLE, on ? 1 : 0);
  }
  async run(c: Command): Promise<void> {
    const t = taskOf(c.do);
    const rows = t.rows(c);
    const pixels = rows * t.width(c);
    this.packed(c, (args) => {
      if (args.length > CONTROL_ARGS)
        throw new RangeError(`A correction can hold at most ${Math.floor((CONTROL_ARGS - 14) / 2)} adjustments`);
      if (pixels < ALONE_PIXELS) {
        t.band({ ...this.ctx, thread: 0, scratch: this.c.scratch[0]! }, 0, rows, args);
        return;
      }
      const { i32 } = this.c;
      const wanted = Math.max(this.threads * BANDS, Math.ceil(pixels / BAND_PIXELS));
      const bands = Math.max(1, Math.min(rows, NEXT, wanted));
      this.c.args.set(args);
      i32[2] = taskNames.indexOf(c.do);
      i32[3] = rows;
      i32[5] = 0;
      const ticket = Atomics.load(i32, 0) + 1;
      Atomics.store(i32, 1, 0);
      Atomics.store(i32, 4, bands);
      Atomics.store(i32, 7, (ticket & TICKETS) << SHIFT);
      Atomics.store(i32, 0, ticket);
      Atomics.notify(i32, 0);
      try {
        work(this.c, this.ctx, ticket, 0, this.pulse.beat);
      } catch (e) {
        // Nothing may write to planes that are given back.
        settle(this.c, halt(this.c));
        throw e;
      }
      settle(this.c, bands);
      if (i32[5]) throw new Error(`A band of "${c.do}" failed`);
    });
  }
}

/**
 * Helper's side: waits for tickets and works until told to stop. Blocks the thread it runs on.
 *
 * @param idle what it does a step of while it may (`mayIdle`) and nobody has wanted it for so many ms; a ticket waits
 *   for no more than one
 */
export function serveBands(
  ctx: Ctx,
  control: SharedArrayBuffer,
  thread: number,
  idle?: { afterMs: number; work: Iterator<void> },
): void {
  const c = controlViews(control);
  let seen = 0;
  let left = idle?.work ?? null;
  let resting = false;
  while (!Atomics.load(c.i32, 6)) {
    const ticket = Atomics.load(c.i32, 0);
    if (ticket === seen) {
      if (resting && left && Atomics.load(c.i32, MAY_IDLE)) {
        if (left.next().done) left = null;
      } else resting = Atomics.wait(c.i32, 0, seen, left ? idle!.afterMs : 60_000) === 'timed-out';
      continue;
    }
    resting = false;
    seen = ticket;
    work(c, ctx, ticket, thread);
  }
}
