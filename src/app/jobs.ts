/**
 * Long work: a plan of so many steps, progress that only rises, time left, a way to stop. What a job writes lies in the
 * browser's private storage until it is whole; nothing half-written is ever handed out.
 */
import { create } from 'zustand';
import { wordsOf } from './words';

export interface Job {
  id: number;
  title: string;
  /** Steps that are done, of all. */
  done: number;
  steps: number;
  state: 'running' | 'done' | 'failed' | 'cancelled';
  message: string;
  /** Seconds that are left, as far as the pace so far tells; null at the beginning. */
  left: number | null;
  abort: AbortController;
}
export const useJobs = create<{ jobs: readonly Job[] }>()(() => ({ jobs: [] }));
let next = 1;
const update = (id: number, p: Partial<Job>): void =>
  useJobs.setState((s) => ({ jobs: s.jobs.map((j) => (j.id === id ? { ...j, ...p } : j)) }));

export class JobCancelled extends Error {
  override name = 'JobCancelled';
}
/** What work is given of its job. */
export interface JobRun {
  signal: AbortSignal;
  /** So many steps are done; less than before changes nothing. */
  at(done: number): void;
  /** Throws when the job was cancelled. */
  check(): void;
}

/**
 * Runs work as a job. Answers with what the work does, or null where it was cancelled or failed: the list says it then.
 */
export async function runJob<T>(title: string, steps: number, work: (run: JobRun) => Promise<T>): Promise<T | null> {
  const job: Job = {
    id: next++,
    title,
    done: 0,
    steps,
    state: 'running',
    message: '',
    left: null,
    abort: new AbortController(),
  };
  useJobs.setState((s) => ({ jobs: [...s.jobs.filter((j) => j.state === 'running' || j.state === 'failed'), job] }));
  const began = performance.now();
  let most = 0;
  const { signal } = job.abort;
  try {
    const result = await work({
      signal,
      at(done) {
        if (done <= most) return;
        most = Math.min(steps, done);
        const seconds = (performance.now() - began) / 1000;
        update(job.id, { done: most, left: most > 2 ? (seconds / most) * (steps - most) : null });
      },
      check() {
        if (signal.aborted) throw new JobCancelled();
      },
    });
    update(job.id, { state: 'done', done: steps, left: 0 });
    return result;
  } catch (e) {
    if (signal.aborted) update(job.id, { state: 'cancelled', message: 'cancelled, nothing is left of it' });
    else update(job.id, { state: 'failed', message: wordsOf(e) });
    return null;
  }
}
export const cancelJob = (id: number): void =>
  useJobs
    .getState()
    .jobs.find((j) => j.id === id)
    ?.abort.abort();
export const dismissJob = (id: number): void =>
  useJobs.setState((s) => ({ jobs: s.jobs.filter((j) => j.id !== id || j.state === 'running') }));
