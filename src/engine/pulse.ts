/** What a page hears of a working engine: that it counts, and how long it means to be silent. */
import { Stale } from './stages';

/**
 * Over three shared integers: [0] the newest request, [1] a count that goes on while it works, [2] the milliseconds of
 * silence that were announced (0: the usual). A page takes an engine for dead that has not counted for so long.
 */
export class Pulse {
  /** The request that is worked on; 0 where nothing newer takes its place. */
  current = 0;
  constructor(private readonly shared: Int32Array | null) {}

  /** Inside a piece of work, between two bands of it: what was announced for the whole of it still holds. */
  readonly beat = (): void => {
    if (!this.shared) return;
    Atomics.add(this.shared, 1, 1);
    if (this.current && Atomics.load(this.shared, 0) > this.current) throw new Stale();
  };
  /** Between two pieces of work: nothing is announced any more. Throws Stale where newer work was asked for. */
  readonly check = (): void => {
    this.quiet(0);
    this.beat();
  };
  /** Before work that cannot count: how long it may be silent, in milliseconds. */
  readonly quiet = (ms: number): void => {
    if (!this.shared) return;
    Atomics.store(this.shared, 2, Math.min(2 ** 30, Math.ceil(ms)));
    Atomics.add(this.shared, 1, 1);
  };
}
