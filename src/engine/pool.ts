/** Runs band tasks: alone, or with helper threads that share the memory. One barrier per call. */
import { taskNames, tasks } from './tasks';
import type { TaskContext, TaskName } from './tasks';

export interface Pool {
  readonly threads: number;
  /** Runs the task over rows 0..rows-1 in bands and returns when all are done. */
  run(task: TaskName, rows: number, args: readonly number[]): void;
  /** to[i] += from[i], whole numbers of 32 bits, by addresses. */
  add(to: number, from: number, n: number): void;
  /** Gives every thread scratch memory of its own. */
  setScratch(perThread: readonly number[]): void;
}

export class SoloPool implements Pool {
  readonly threads = 1;
  private scratch = 0;
  constructor(private readonly ctx: Omit<TaskContext, 'scratch' | 'thread'>) {}
  setScratch(s: readonly number[]): void {
    this.scratch = s[0]!;
  }
  add(to: number, from: number, n: number): void {
    this.ctx.kernels['addCounts']!(to, from, n);
  }
  run(task: TaskName, rows: number, args: readonly number[]): void {
    tasks[task]({ ...this.ctx, thread: 0, scratch: this.scratch }, 0, rows, args);
  }
}

/**
 * Layout of the control block (Int32): 0 ticket, 1 bands done, 2 task, 3 rows, 4 bands, 5 failed, 6 stop, 7 next band
 * (ticket in the upper bits); then float64 arguments, then scratch addresses.
 */
export const CONTROL_INTS = 16;
export const CONTROL_ARGS = 256;
export const controlBytes = CONTROL_INTS * 4 + CONTROL_ARGS * 8 + 16 * 8;
/** Bands per thread. Bands are taken, not dealt: a helper that the system has not woken yet holds nobody up. */
const BANDS = 4;
/**
 * Below this a stage takes a few milliseconds: waking a helper, and waiting for its band while the interface thread
 * has its core,
 * costs more than it saves. Measured on two cores.
 */
const ALONE_PIXELS = 400_000;
const SHIFT = 12;
const TICKETS = (1 << (31 - SHIFT)) - 1;

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
 * done.
 */
function work(
  { i32, args, scratch }: Control,
  ctx: Omit<TaskContext, 'scratch' | 'thread'>,
  ticket: number,
  thread: number,
): void {
  for (;;) {
    const v = Atomics.load(i32, 7);
    const bands = Atomics.load(i32, 4);
    const k = v & ((1 << SHIFT) - 1);
    if (v >> SHIFT !== (ticket & TICKETS) || k >= bands) return;
    if (Atomics.compareExchange(i32, 7, v, v + 1) !== v) continue;
    const rows = i32[3]!;
    try {
      tasks[taskNames[i32[2]!]!](
        { ...ctx, thread, scratch: scratch[thread]! },
        Math.floor((rows * k) / bands),
        Math.floor((rows * (k + 1)) / bands),
        args,
      );
    } catch (e) {
      console.error(e);
      Atomics.store(i32, 5, 1);
    }
    if (Atomics.add(i32, 1, 1) + 1 === bands) Atomics.notify(i32, 1);
  }
}

/** Coordinator's side. Must run in a thread that may wait. */
export class SharedPool implements Pool {
  private readonly c: Control;
  constructor(
    private readonly ctx: Omit<TaskContext, 'scratch' | 'thread'>,
    control: SharedArrayBuffer,
    readonly threads: number,
  ) {
    this.c = controlViews(control);
  }
  setScratch(s: readonly number[]): void {
    s.forEach((v, i) => (this.c.scratch[i] = v));
  }
  add(to: number, from: number, n: number): void {
    this.ctx.kernels['addCounts']!(to, from, n);
  }
  run(task: TaskName, rows: number, args: readonly number[]): void {
    if (args.length > CONTROL_ARGS)
      throw new RangeError(`A correction can hold at most ${Math.floor((CONTROL_ARGS - 10) / 2)} adjustments`);
    // Every task's first argument is its width.
    if (rows * args[0]! < ALONE_PIXELS) {
      tasks[task]({ ...this.ctx, thread: 0, scratch: this.c.scratch[0]! }, 0, rows, args);
      return;
    }
    const { i32 } = this.c;
    const bands = Math.max(1, Math.min(rows, this.threads * BANDS));
    this.c.args.set(args);
    i32[2] = taskNames.indexOf(task);
    i32[3] = rows;
    i32[5] = 0;
    const ticket = Atomics.load(i32, 0) + 1;
    Atomics.store(i32, 1, 0);
    Atomics.store(i32, 4, bands);
    Atomics.store(i32, 7, (ticket & TICKETS) << SHIFT);
    Atomics.store(i32, 0, ticket);
    Atomics.notify(i32, 0);
    work(this.c, this.ctx, ticket, 0);
    for (;;) {
      const done = Atomics.load(i32, 1);
      if (done >= bands) break;
      Atomics.wait(i32, 1, done, 1000);
    }
    if (i32[5]) throw new Error(`A band of "${task}" failed`);
  }
}

/** Helper's side: waits for tickets and works until told to stop. Blocks the thread it runs on. */
export function serveBands(
  ctx: Omit<TaskContext, 'scratch' | 'thread'>,
  control: SharedArrayBuffer,
  thread: number,
): void {
  const c = controlViews(control);
  let seen = 0;
  while (!Atomics.load(c.i32, 6)) {
    const ticket = Atomics.load(c.i32, 0);
    if (ticket === seen) {
      Atomics.wait(c.i32, 0, seen, 60_000);
      continue;
    }
    seen = ticket;
    work(c, ctx, ticket, thread);
  }
}
