/** Runs band tasks: alone, or with helper threads that share the memory. One barrier per call. */
import { taskNames, tasks } from './tasks';
import type { TaskContext, TaskName } from './tasks';

export interface Pool {
  readonly threads: number;
  /** Runs the task over rows 0..rows-1 in bands and returns when all are done. */
  run(task: TaskName, rows: number, args: readonly number[]): void;
  /** Gives every thread scratch memory of its own. */
  setScratch(perThread: readonly number[]): void;
}

export class SoloPool implements Pool {
  readonly threads = 1;
  private scratch = 0;
  constructor(private readonly ctx: Omit<TaskContext, 'scratch'>) {}
  setScratch(s: readonly number[]): void {
    this.scratch = s[0]!;
  }
  run(task: TaskName, rows: number, args: readonly number[]): void {
    tasks[task]({ ...this.ctx, scratch: this.scratch }, 0, rows, args);
  }
}

/** Layout of the control block (Int32): 0 ticket, 1 done count, 2 task, 3 rows, 4 threads, 5 failed, 6 stop; then float64 arguments. */
export const CONTROL_INTS = 16;
export const CONTROL_ARGS = 256;
export const controlBytes = CONTROL_INTS * 4 + CONTROL_ARGS * 8 + 16 * 8;

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

const band = (rows: number, threads: number, t: number): [number, number] => [Math.floor((rows * t) / threads), Math.floor((rows * (t + 1)) / threads)];

/** Coordinator's side. Must run in a thread that may wait. */
export class SharedPool implements Pool {
  private readonly c: Control;
  constructor(
    private readonly ctx: Omit<TaskContext, 'scratch'>,
    control: SharedArrayBuffer,
    readonly threads: number,
  ) {
    this.c = controlViews(control);
  }
  setScratch(s: readonly number[]): void {
    s.forEach((v, i) => (this.c.scratch[i] = v));
  }
  run(task: TaskName, rows: number, args: readonly number[]): void {
    if (args.length > CONTROL_ARGS) throw new RangeError(`A correction can hold at most ${Math.floor((CONTROL_ARGS - 10) / 2)} adjustments`);
    const { i32, scratch } = this.c;
    this.c.args.set(args);
    i32[2] = taskNames.indexOf(task);
    i32[3] = rows;
    i32[4] = this.threads;
    i32[5] = 0;
    Atomics.store(i32, 1, 0);
    Atomics.add(i32, 0, 1);
    Atomics.notify(i32, 0);
    const [y0, y1] = band(rows, this.threads, 0);
    try {
      tasks[task]({ ...this.ctx, scratch: scratch[0]! }, y0, y1, this.c.args);
    } finally {
      for (;;) {
        const done = Atomics.load(i32, 1);
        if (done >= this.threads - 1) break;
        Atomics.wait(i32, 1, done, 1000);
      }
    }
    if (i32[5]) throw new Error(`A helper thread failed in "${task}"`);
  }
}

/** Helper's side: waits for tickets and works until told to stop. Blocks the thread it runs on. */
export function serveBands(ctx: Omit<TaskContext, 'scratch'>, control: SharedArrayBuffer, thread: number): void {
  const { i32, args, scratch } = controlViews(control);
  let seen = 0;
  while (!Atomics.load(i32, 6)) {
    if (Atomics.load(i32, 0) === seen) {
      Atomics.wait(i32, 0, seen, 60_000);
      continue;
    }
    seen = Atomics.load(i32, 0);
    try {
      const [y0, y1] = band(i32[3]!, i32[4]!, thread);
      tasks[taskNames[i32[2]!]!]({ ...ctx, scratch: scratch[thread]! }, y0, y1, args);
    } catch {
      Atomics.store(i32, 5, 1);
    }
    Atomics.add(i32, 1, 1);
    Atomics.notify(i32, 1);
  }
}
