import { describe, expect, it } from 'vitest';
import { Made, nextToMake, passedBy, placeAt, roundOf, spans, Tally, upcoming } from './playing';

const r = { first: 10, last: 19 };
describe('the frame that is due', () => {
  it('follows the clock at the rate, and stops, turns or begins again at the end', () => {
    expect(placeAt(10, 0.25, 24, 1, r, 'once')).toBeCloseTo(16, 9);
    expect(placeAt(10, 0.5, 24, 1, r, 'once')).toBeNull();
    expect(placeAt(19, 0.5, 24, -1, r, 'once')).toBeNull();
    expect(placeAt(10, 0.5, 24, 1, r, 'loop')).toBeCloseTo(12, 9);
    expect(placeAt(10, 0.25, 24, -2, r, 'loop')).toBeCloseTo(18, 9);
    expect(placeAt(10, 0.5, 24, 1, r, 'backAndForth')).toBeCloseTo(16, 9);
  });
  it('what comes next, in every way of repeating', () => {
    const some = (g: Iterable<number>, n: number): number[] => [...g].slice(0, n);
    expect(some(upcoming(17.4, 1, r, 'once'), 9)).toEqual([17, 18, 19]);
    expect(some(upcoming(18, 1, r, 'loop'), 4)).toEqual([18, 19, 10, 11]);
    expect(some(upcoming(18, 1, r, 'backAndForth'), 4)).toEqual([18, 19, 18, 17]);
    expect(some(upcoming(11, -1, r, 'loop'), 4)).toEqual([11, 10, 19, 18]);
  });
});
describe('the frame to make next', () => {
  it('is the first that is missing and can be in time', () => {
    const made = new Set([10, 11, 13]);
    expect(nextToMake(made, 10, 1, 0.5, 24, r, 'loop')).toBe(12);
    // While one is made three pass: those are left out.
    expect(nextToMake(made, 10, 1, 4.2, 24, r, 'loop')).toBe(14);
    expect(nextToMake(made, 10, 1, 0, 1, r, 'loop')).toBeNull();
    const all = new Set(Array.from({ length: 10 }, (_, i) => 10 + i));
    expect(nextToMake(all, 12, 1, 0, 24, r, 'loop')).toBeNull();
  });
  it('a second round that fits is complete: nothing is left to make, whatever one takes', () => {
    const made = new Set<number>();
    for (let k = 0; k < 10; k++) made.add(nextToMake(made, 10 + k, 1, 0, 24, r, 'loop')!);
    expect([...made].sort((a, b) => a - b)).toEqual([10, 11, 12, 13, 14, 15, 16, 17, 18, 19]);
  });
});
describe('what is shown and dropped', () => {
  it('is counted round by round, about the ends too', () => {
    const t = new Tally(2, 10, 1);
    t.drawn(3);
    t.drawn(6);
    expect([t.shown, t.dropped, t.before]).toEqual([2, 2, null]);
    // 7, 8 and 9 never came; of the next round 10 and 11 did not.
    expect(t.due(11)).toBe(true);
    expect([t.shown, t.dropped, t.before]).toEqual([0, 0, { shown: 2, dropped: 5 }]);
    expect(t.due(12)).toBe(false);
    t.drawn(12);
    t.drawn(12);
    expect([t.shown, t.dropped]).toEqual([2, 2]);
    // A whole round passes without a frame.
    expect(t.due(35)).toBe(true);
    expect(t.before).toEqual({ shown: 2, dropped: 19 });
  });
  it('backwards as well, and without an end', () => {
    const back = new Tally(3, 10, -1);
    back.drawn(1);
    expect(back.due(-2)).toBe(true);
    expect([back.before, back.shown, back.dropped]).toEqual([{ shown: 1, dropped: 2 }, 0, 0]);
    back.drawn(-3);
    expect(back.dropped).toBe(2);
    const once = new Tally(0, roundOf({ first: 0, last: 4 }, 'once'), 1);
    expect(once.due(1e6)).toBe(false);
    expect([roundOf({ first: 5, last: 9 }, 'loop'), roundOf({ first: 5, last: 9 }, 'backAndForth')]).toEqual([5, 8]);
    expect(roundOf({ first: 5, last: 5 }, 'backAndForth')).toBe(1);
  });
});

describe('frames that the decoder has passed', () => {
  const r = { first: 0, last: 99 };
  const held = new Set([12, 14]);
  it('and nobody holds are left out; not those of another round', () => {
    expect([...passedBy(held, 15, 10, 1, r, 'loop', 24)]).toEqual([10, 11, 13]);
    expect([...passedBy(held, 10, 10, 1, r, 'loop', 24)]).toEqual([]);
    // Through the end of the round.
    expect([...passedBy(new Set([0]), 2, 97, 1, r, 'loop', 24)]).toEqual([97, 98, 99, 1]);
    // It stands at the end of the round before.
    expect([...passedBy(held, 99, 10, 1, r, 'loop', 24)]).toEqual([]);
    expect([...passedBy(held, -1, 10, 1, r, 'loop', 24)]).toEqual([]);
    expect([...passedBy(held, 7, 10, -1, r, 'loop', 24)]).toEqual([10, 9, 8]);
  });
});

describe('frames that are made', () => {
  it('are bounded in bytes; what lies farthest from the playhead goes', () => {
    const m = new Made<string>(30);
    for (let f = 0; f < 5; f++) m.put(f, `${f}`, 10, 4);
    expect(m.frames).toEqual([2, 3, 4]);
    expect(m.bytes).toBe(30);
    m.put(3, 'again', 10, 4);
    expect(m.bytes).toBe(30);
    expect(m.get(3)).toBe('again');
    expect(m.nearest(0)).toBe(2);
    expect(m.room(10)).toBe(3);
    m.clear();
    expect([m.bytes, m.nearest(1)]).toEqual([0, null]);
  });
  it('that make room are told one by one, those that go together as such', () => {
    const told: string[] = [];
    const m = new Made<string>(
      20,
      (v) => told.push(`gone ${v}`),
      (v) => told.push(`passed ${v}`),
    );
    for (let f = 0; f < 4; f++) m.put(f, `${f}`, 10, f);
    expect(told).toEqual(['passed 0', 'passed 1']);
    // The same frame made again is no room that was needed.
    m.put(3, 'again', 10, 3);
    m.clear();
    expect(told.slice(2)).toEqual(['gone 2', 'gone again']);
  });
  it('are told in pieces', () => {
    expect(spans([1, 2, 3, 7, 9, 10])).toEqual([
      [1, 3],
      [7, 7],
      [9, 10],
    ]);
  });
});
