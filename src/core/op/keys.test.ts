import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addKey, copyKeys, dropKeys, easeKeys, keysOf, moveKeys } from './keys';
import { listAt, valueAt } from './params';
import type { Keyframed, KeyframedList, StoredValue } from './params';

const k = (frame: number, value: number, ease: 'linear' | 'smooth' | 'hold' = 'smooth') => ({ frame, value, ease });
const curve = (...keys: ReturnType<typeof k>[]): Keyframed => ({ keys });
const frames = (v: StoredValue): number[] => keysOf(v).map((x) => x.frame);

describe('smooth keys', () => {
  /** Monotone between keys, through every key, flat at the ends and at turns (Fritsch and Butland 1984). */
  it('never overshoot, whatever the keys', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ gap: fc.integer({ min: 1, max: 40 }), value: fc.double({ min: -100, max: 100, noNaN: true }) }),
          {
            minLength: 2,
            maxLength: 8,
          },
        ),
        (list) => {
          let f = 0;
          const keys = list.map(({ gap, value }) => k((f += gap), value));
          const v = curve(...keys);
          for (let i = 0; i < keys.length; i++) {
            const [a, b] = [keys[i]!, keys[i + 1]];
            expect(valueAt(v, a.frame)).toBeCloseTo(a.value, 9);
            if (!b) continue;
            const [lo, hi] = [Math.min(a.value, b.value) - 1e-9, Math.max(a.value, b.value) + 1e-9];
            let last = a.value;
            for (let s = 1; s <= 16; s++) {
              const x = valueAt(v, a.frame + ((b.frame - a.frame) * s) / 16);
              expect(x).toBeGreaterThanOrEqual(lo);
              expect(x).toBeLessThanOrEqual(hi);
              expect((x - last) * (b.value - a.value)).toBeGreaterThanOrEqual(-1e-9);
              last = x;
            }
          }
        },
      ),
    );
  });
  it('pass a middle key without stopping', () => {
    const v = curve(k(0, 0), k(10, 10), k(20, 20));
    // Weighted harmonic mean of two slopes of 1 is 1: it goes through at full speed.
    expect(valueAt(v, 10.1) - valueAt(v, 9.9)).toBeCloseTo(0.2, 2);
    expect(valueAt(v, 0.1)).toBeLessThan(0.01);
  });
  it('two alone ease in and out, straight and held ones do as they say', () => {
    expect(valueAt(curve(k(0, 0), k(10, 1)), 2.5)).toBeCloseTo(0.15625, 9);
    expect(valueAt(curve(k(0, 0, 'linear'), k(10, 1)), 2.5)).toBeCloseTo(0.25, 9);
    expect(valueAt(curve(k(0, 0, 'hold'), k(10, 1)), 9.9)).toBe(0);
    expect(valueAt(curve(k(0, 0, 'hold'), k(10, 1)), 10)).toBe(1);
    expect(valueAt(curve(k(5, 3)), 0)).toBe(3);
    expect(valueAt(curve(k(5, 3)), 99)).toBe(3);
  });
  it('lists move number by number; of other lengths the nearer stands', () => {
    const v: KeyframedList = {
      keys: [
        { frame: 0, value: [0, 10], ease: 'linear' },
        { frame: 10, value: [10, 20], ease: 'linear' },
        { frame: 20, value: [1, 2, 3], ease: 'linear' },
      ],
    };
    expect(listAt(v, 5)).toEqual([5, 15]);
    expect(listAt(v, 14)).toEqual([10, 20]);
    expect(listAt(v, 16)).toEqual([1, 2, 3]);
    expect(listAt(v, 99)).toEqual([1, 2, 3]);
  });
});

describe('keys of a value', () => {
  it('a first key changes nothing; further ones neither', () => {
    const a = addKey(7, 12);
    expect(frames(a)).toEqual([12]);
    for (const f of [0, 12, 40]) expect(valueAt(a as Keyframed, f)).toBe(7);
    const v = curve(k(0, 0, 'linear'), k(10, 10));
    const b = addKey(v, 4) as Keyframed;
    expect(frames(b)).toEqual([0, 4, 10]);
    expect(valueAt(b, 4)).toBeCloseTo(4, 12);
    expect(addKey(b, 4)).toBe(b);
    expect(addKey('word', 3)).toBe('word');
  });
  it('without its last key it stands still where that was', () => {
    expect(dropKeys(curve(k(3, 5)), new Set([3]))).toBe(5);
    expect(frames(dropKeys(curve(k(0, 1), k(3, 5)), new Set([0])))).toEqual([3]);
    const same = curve(k(0, 1));
    expect(dropKeys(same, new Set([9]))).toBe(same);
  });
  it('moved ones take the place of what they land on, and none goes before the beginning', () => {
    const v = curve(k(2, 1), k(5, 2), k(9, 3));
    expect(frames(moveKeys(v, new Set([2, 5]), 3))).toEqual([5, 8, 9]);
    expect(keysOf(moveKeys(v, new Set([2]), 3)).map((x) => x.value)).toEqual([1, 3]);
    expect(frames(moveKeys(v, new Set([5, 9]), -8))).toEqual([0, 2, 4]);
    expect(moveKeys(v, new Set([7]), 1)).toBe(v);
  });
  it('are copied, and told how to go on', () => {
    const v = curve(k(0, 1), k(4, 2));
    expect(frames(copyKeys(v, new Set([0, 4]), 10))).toEqual([0, 4, 10, 14]);
    expect(keysOf(easeKeys(v, new Set([4]), 'hold')).map((x) => x.ease)).toEqual(['smooth', 'hold']);
  });
});
