import { afterEach, describe, expect, it, vi } from 'vitest';
import { Lanes, Replaced, Waits } from './lanes';
import type { AskOptions, Lane } from './lanes';

class Ended extends Error {}
/** Work that is finished by hand, and ends when it is told to. */
function bench() {
  const log: string[] = [];
  const ends = new Set<() => void>();
  const lanes = new Lanes(
    () => ends.forEach((end) => end()),
    (e) => e instanceof Ended,
  );
  const finish = new Map<string, () => void>();
  const ask = (lane: Lane, what: string, o?: AskOptions): Promise<string> =>
    lanes.ask<string>(
      lane,
      () =>
        new Promise((done, fail) => {
          log.push(what);
          const end = (): void => {
            log.push(`${what} ends`);
            ends.delete(end);
            fail(new Ended());
          };
          ends.add(end);
          finish.set(what, () => {
            ends.delete(end);
            done(what);
          });
        }),
      o,
    );
  const turn = (): Promise<void> => new Promise((r) => setTimeout(r, 0));
  return { lanes, log, ask, turn, done: async (what: string) => (finish.get(what)!(), turn()) };
}

describe('lanes', () => {
  afterEach(() => void vi.useRealTimers());
  it('run one thing at a time, higher lanes first, each lane in its order', async () => {
    const { log, ask, done, turn } = bench();
    const all = [ask('jobs', 'a'), ask('jobs', 'b'), ask('figures', 'c')];
    await turn();
    // The job has given way to the figures; it is the first of its lane again.
    expect(log).toEqual(['a', 'a ends', 'c']);
    await done('c');
    await done('a');
    await done('b');
    expect(await Promise.all(all)).toEqual(['a', 'b', 'c']);
    expect(log).toEqual(['a', 'a ends', 'c', 'a', 'b']);
  });
  it('of frames that are played the next lies ready; a hand ends both, and they go on in their order', async () => {
    const { lanes, log, ask, done, turn } = bench();
    const all = ['1', '2', '3'].map((f) => ask('playing', f));
    const figures = ask('figures', 'f');
    await turn();
    expect(log).toEqual(['1', '2']);
    await done('1');
    expect(log).toEqual(['1', '2', '3']);
    const hand = ask('draft', 'hand');
    await turn();
    expect(log.slice(3)).toEqual(['2 ends', '3 ends', 'hand']);
    // Nothing lies ready behind what a hand waits for.
    await done('hand');
    expect(log.slice(6)).toEqual(['2', '3']);
    await done('2');
    await done('3');
    expect(log.slice(8)).toEqual(['f']);
    await done('f');
    expect(await Promise.all([...all, hand, figures])).toEqual(['1', '2', '3', 'hand', 'f']);
    expect(lanes.busy).toBe(0);
  });
  it('do not end what stands in the same lane or above', async () => {
    const { log, ask, done, turn } = bench();
    void ask('draft', 'hand');
    void ask('draft', 'next');
    void ask('final', 'eye');
    await turn();
    expect(log).toEqual(['hand']);
    await done('hand');
    await done('next');
    expect(log).toEqual(['hand', 'next', 'eye']);
  });
  it('keep only the newest of a name: what waits is replaced, what runs by choice or from above', async () => {
    const { log, ask, done, turn } = bench();
    const gone = (p: Promise<unknown>): Promise<unknown> => expect(p).rejects.toThrow(Replaced);
    const first = ask('final', 'final 1', { name: 'view', ends: true });
    const lost = gone(first);
    const over2 = gone(ask('final', 'final 2', { name: 'view', ends: true }));
    await lost;
    await turn();
    const over = [ask('draft', 'draft 1', { name: 'view' }), ask('draft', 'draft 2', { name: 'view' })];
    await gone(over[0]!);
    await turn();
    await over2;
    await done('draft 2');
    expect(await over[1]).toBe('draft 2');
    expect(log).toEqual(['final 1', 'final 1 ends', 'final 2', 'final 2 ends', 'draft 2']);
  });
  it('let others go on while something is fetched, and come back to it', async () => {
    const { lanes, log, ask, done, turn } = bench();
    let there!: () => void;
    const until = new Promise<void>((r) => (there = r));
    let n = 0;
    const slow = lanes.ask('final', () => {
      log.push('slow');
      return n++ === 0 ? Promise.reject(new Waits(until)) : Promise.resolve('slow');
    });
    await turn();
    void ask('jobs', 'job');
    await turn();
    await done('job');
    there();
    expect(await slow).toBe('slow');
    expect(log).toEqual(['slow', 'job', 'slow']);
    const fails = lanes.ask('final', () => Promise.reject(new Waits(Promise.reject(new Error('no such file')))));
    await expect(fails).rejects.toThrow('no such file');
  });
  it('what waited for one thing comes back in order: a draft, its final; of two drafts the newer', async () => {
    const { lanes, turn } = bench();
    const log: string[] = [];
    let there!: () => void;
    const until = new Promise<void>((r) => (there = r));
    let open = false;
    const draw = (lane: Lane, what: string): Promise<string> =>
      lanes.ask(
        lane,
        () => {
          if (!open) return Promise.reject(new Waits(until));
          log.push(what);
          return Promise.resolve(what);
        },
        { name: 'view', ends: lane === 'final' },
      );
    const old = expect(draw('draft', 'old')).rejects.toThrow(Replaced);
    await turn();
    const all = [draw('draft', 'draft')];
    await turn();
    all.push(draw('final', 'final'));
    await turn();
    open = true;
    there();
    await old;
    expect(await Promise.all(all)).toEqual(['draft', 'final']);
    expect(log).toEqual(['draft', 'final']);
  });
  it('can be cancelled while waiting and while running, with the reason', async () => {
    const { lanes, log, ask, done, turn } = bench();
    const [a, b] = [new AbortController(), new AbortController()];
    const one = expect(ask('jobs', 'one', { signal: a.signal })).rejects.toThrow('enough');
    const two = expect(ask('jobs', 'two', { signal: b.signal })).rejects.toThrow('cancelled');
    void ask('jobs', 'three');
    await turn();
    b.abort(new Error('cancelled'));
    a.abort(new Error('enough'));
    await Promise.all([one, two]);
    await turn();
    await done('three');
    expect(log).toEqual(['one', 'one ends', 'three']);
    expect(lanes.busy).toBe(0);
    await expect(ask('jobs', 'late', { signal: a.signal })).rejects.toThrow('enough');
  });
  it('figures and jobs begin when the hand rests, finals and picks of the eye do not wait for that', async () => {
    // The machine's own pauses would count as the hand's.
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] });
    const log: string[] = [];
    const lanes = new Lanes(
      () => {},
      () => false,
      60,
    );
    const work = (name: string) => () => {
      log.push(name);
      return Promise.resolve();
    };
    const drag = lanes.ask('draft', work('draft 1'));
    const figures = lanes.ask('figures', work('figures'));
    const job = lanes.ask('jobs', work('job'));
    await drag;
    await lanes.ask('final', work('final'));
    expect(log).toEqual(['draft 1', 'final']);
    await vi.advanceTimersByTimeAsync(30);
    // One more step of the hand: they wait anew.
    await lanes.ask('draft', work('draft 2'));
    await vi.advanceTimersByTimeAsync(59);
    expect(log).toEqual(['draft 1', 'final', 'draft 2']);
    await vi.advanceTimersByTimeAsync(1);
    await Promise.all([figures, job]);
    expect(log).toEqual(['draft 1', 'final', 'draft 2', 'figures', 'job']);
  });
  it('goes on after a failure', async () => {
    const { lanes, ask, done, turn } = bench();
    await expect(lanes.ask('final', () => Promise.reject(new Error('broken')))).rejects.toThrow('broken');
    const next = ask('final', 'next');
    await turn();
    await done('next');
    expect(await next).toBe('next');
  });
  it('what a cancelled one waited for may fail unheard', async () => {
    const unheard: unknown[] = [];
    const hear = (e: unknown): void => void unheard.push(e);
    process.on('unhandledRejection', hear);
    const { lanes, turn } = bench();
    const stop = new AbortController();
    let fail: (e: Error) => void = () => {};
    let begun: () => void = () => {};
    const started = new Promise<void>((r) => (begun = r));
    const one = lanes.ask(
      'jobs',
      async () => {
        begun();
        await turn();
        throw new Waits(new Promise((_, no) => (fail = no)));
      },
      { signal: stop.signal },
    );
    await started;
    stop.abort(new Error('enough'));
    await expect(one).rejects.toThrow('enough');
    await turn();
    fail(new Error('not there'));
    await turn();
    process.off('unhandledRejection', hear);
    expect(unheard).toEqual([]);
    expect(lanes.busy).toBe(0);
  });
});
