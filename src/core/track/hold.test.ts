import { describe, expect, it } from 'vitest';
import { Holder } from './hold';
import type { Mask } from './hold';
import type { Point } from './points';

const [W, H] = [120, 80];
const disc = (cx: number, cy: number, r: number): Mask => ({
  w: W,
  h: H,
  data: Uint8Array.from({ length: W * H }, (_, i) =>
    ((i % W) + 0.5 - cx) ** 2 + (Math.floor(i / W) + 0.5 - cy) ** 2 <= r * r ? 1 : 0,
  ),
});
const none: Mask = { w: W, h: H, data: new Uint8Array(W * H) };
const PRESS: Point = [40, 40];
/** What a press finds: the disc where it lies in it, a wall everywhere else. */
const finder =
  (thing: Mask) =>
  (by: Point): Promise<Mask> => {
    const [x, y] = [Math.floor(PRESS[0] + by[0]), Math.floor(PRESS[1] + by[1])];
    const wall = { w: W, h: H, data: thing.data.map((v) => 1 - v) };
    return Promise.resolve(thing.data[y * W + x] === 1 ? thing : wall);
  };

describe('a press held by what is found of it', () => {
  it('stays where it was made while the thing does not leave it', async () => {
    const h = new Holder(disc(45, 40, 20), [PRESS], 3);
    for (let f = 1; f <= 8; f++) {
      const r = await h.step(finder(disc(45 + f / 2, 40, 20)), () => null);
      expect(r.by).toEqual([0, 0]);
      expect(r.lost).toBe(false);
      expect(r.quality).toBeGreaterThan(0.9);
      expect(r.quality).toBeLessThanOrEqual(1);
    }
  });
  it('goes with a thing that would leave it behind, no further than it must', async () => {
    const h = new Holder(disc(45, 40, 14), [PRESS], 3);
    let by: Point = [0, 0];
    for (let f = 1; f <= 40; f++) {
      const thing = disc(45 + f, 40, 14);
      const r = await h.step(finder(thing), () => null);
      expect(r.lost).toBe(false);
      expect(r.by[0]).toBeGreaterThanOrEqual(by[0]);
      by = r.by;
      // Inside, with its whole width but for the frame's own step.
      expect(45 + f - (PRESS[0] + by[0])).toBeLessThanOrEqual(14 - 3);
      expect(r.share).toBeCloseTo((Math.PI * 14 ** 2) / (W * H), 2);
    }
    expect(by[0]).toBeGreaterThan(25);
    expect(by[0]).toBeLessThan(40);
    expect(Math.abs(by[1])).toBeLessThanOrEqual(2);
  });
  it('takes a large step where something else tells of it', async () => {
    const thing = disc(85, 50, 14);
    const without = await new Holder(disc(45, 40, 14), [PRESS], 3).step(finder(thing), () => null);
    expect(without.lost).toBe(true);
    expect(without.by).toEqual([0, 0]);
    const told = await new Holder(disc(45, 40, 14), [PRESS], 3).step(finder(thing), () => [40, 10]);
    expect(told.lost).toBe(false);
    expect(told.by).toEqual([40, 10]);
    expect(told.quality).toBe(1);
  });
  it('nearly the same by the press as it lies, the same deeper in the thing: it takes that', async () => {
    const first = disc(50, 40, 16);
    const neck = disc(50, 57, 5);
    const withNeck: Mask = { ...first, data: first.data.map((v, i) => v | neck.data[i]!) };
    const asked: Point[] = [];
    const r = await new Holder(first, [PRESS], 3).step(
      (by) => {
        asked.push(by);
        return Promise.resolve(by[0] > 5 ? first : withNeck);
      },
      () => null,
    );
    expect(r.quality).toBe(1);
    expect(r.by[0]).toBeGreaterThan(5);
    expect(asked).toHaveLength(2);
    // Where it is found deeper in as well, that is how it looks now, and no other place is asked.
    const now = await new Holder(first, [PRESS], 3).step(
      (by) => {
        asked.push(by);
        return Promise.resolve(withNeck);
      },
      () => null,
    );
    expect(now.lost).toBe(false);
    expect(now.by).toEqual([0, 0]);
    expect(now.quality).toBeGreaterThan(0.88);
    expect(now.quality).toBeLessThan(0.96);
    expect(asked).toHaveLength(4);
  });
  describe('what goes along with it, as a patch does', () => {
    const box = (x: number, y: number): Point[] =>
      Array.from({ length: 25 }, (_, i) => [x + (i % 5), y + Math.floor(i / 5)] as const);
    it('stays, where the press goes elsewhere to find the same', async () => {
      const first = disc(50, 40, 16);
      const h = new Holder(first, [PRESS], 3, box(50, 44));
      const r = await h.step(
        (by) => Promise.resolve(by[0] > 5 ? first : disc(90, 20, 15)),
        () => null,
      );
      expect(r.by[0]).toBeGreaterThan(5);
      expect(r.along).toEqual([0, 0]);
    });
    it('goes with the thing, as deep in it as it lay but for a quarter, over what is left out of it', async () => {
      // Two holes in it, one of them under a corner of the box.
      const thing = (x: number): Mask => {
        const holes = [disc(x - 6, 34, 2), disc(x + 6, 34, 2)];
        const m = disc(x, 40, 20);
        return { ...m, data: m.data.map((v, i) => (holes.some((o) => o.data[i]) ? 0 : v)) };
      };
      const h = new Holder(thing(45), [PRESS], 3, box(40, 35));
      for (let f = 1; f <= 40; f++) {
        const now = thing(45 + f);
        const r = await h.step(finder(now), () => null);
        expect(r.lost).toBe(false);
        const [x, y] = [42 + r.along[0], 37 + r.along[1]];
        const inside = Math.hypot(x - 45 - f, y - 40);
        expect(inside, `frame ${f}`).toBeLessThan(15);
        const full = box(40 + r.along[0], 35 + r.along[1]).filter(([u, v]) => now.data[v * W + u]);
        expect(full.length, `frame ${f}`).toBeGreaterThanOrEqual(22);
      }
    });
    it('goes the way that the thing went while it was lost', async () => {
      const h = new Holder(disc(20, 40, 8), [[20, 40]], 3, box(18, 38));
      const next = (m: Mask): ReturnType<Holder['step']> =>
        h.step(
          () => Promise.resolve(m),
          () => null,
        );
      let x = 20;
      for (; x < 44; x += 3) await next(disc(x, 40, 8));
      for (; x < 74; x += 3) expect((await next(none)).lost).toBe(true);
      const r = await next(disc(x, 40, 8));
      expect(r.lost).toBe(false);
      expect(Math.abs(20 + r.along[0] - x)).toBeLessThan(6);
      expect(Math.abs(r.along[1])).toBeLessThan(4);
    });
  });
  it('does not believe a find that is suddenly another thing: it presses deeper, and says what is lost', async () => {
    const first = disc(50, 40, 16);
    const h = new Holder(first, [PRESS], 3);
    const asked: Point[] = [];
    // Near the edge the press runs off into the wall; in the middle it does not.
    const r = await h.step(
      (by) => {
        asked.push(by);
        return Promise.resolve(by[0] > 5 ? first : disc(90, 20, 15));
      },
      () => null,
    );
    expect(r.lost).toBe(false);
    expect(r.quality).toBe(1);
    expect(asked).toHaveLength(2);
    expect(r.by[0]).toBeGreaterThan(5);
    const gone = await h.step(
      () => Promise.resolve(none),
      () => null,
    );
    expect(gone).toMatchObject({ lost: true, by: r.by, quality: 0 });
    // What was found last is what it is looked for by.
    const again = await h.step(
      () => Promise.resolve(first),
      () => null,
    );
    expect(again).toMatchObject({ lost: false, quality: 1 });
  });
  it('what passes in front and takes it away piece by piece is said, and behind it it is found again', async () => {
    const BAR = [70, 84] as const;
    const h = new Holder(disc(34, 40, 14), [PRESS], 3);
    const lost: number[] = [];
    let by: Point = [0, 0];
    for (let f = 1; f <= 24; f++) {
      const x0 = 34 + 3 * f;
      const whole = disc(x0, 40, 14);
      // What can be seen of it on the side of the bar on which the press lies; the bar itself where it lies on that.
      const seen = (by: Point): Mask => {
        const x = PRESS[0] + by[0];
        const on = (i: number): number => (x < BAR[0] === i < BAR[0] && x >= BAR[1] === i >= BAR[1] ? 1 : 0);
        const bar = x >= BAR[0] && x < BAR[1];
        return { w: W, h: H, data: whole.data.map((v, i) => (bar ? on(i % W) : v && on(i % W))) };
      };
      const r = await h.step(
        (b) => Promise.resolve(seen(b)),
        () => null,
      );
      if (r.lost) lost.push(f);
      // It goes on as it went, whether it is seen or not.
      expect(r.by[0]).toBeGreaterThanOrEqual(by[0]);
      by = r.by;
    }
    // Hidden by half and more from 66 to 88: frames 11 to 18.
    expect(lost.length).toBeGreaterThan(3);
    expect(lost.at(0)!).toBeGreaterThanOrEqual(9);
    expect(lost.at(-1)!).toBeLessThanOrEqual(21);
    // Inside the disc again, which lies at 106 now.
    expect(Math.abs(PRESS[0] + by[0] - 106)).toBeLessThan(14);
  });
  it('tries other places where neither the press nor the middle finds what was there', async () => {
    const first = disc(50, 40, 16);
    const h = new Holder(first, [PRESS], 3);
    const asked: Point[] = [];
    const r = await h.step(
      (by) => {
        asked.push(by);
        return Promise.resolve(by[1] > 6 ? first : disc(46, 36, 8));
      },
      () => null,
    );
    expect(r).toMatchObject({ lost: false, quality: 1 });
    expect(r.by[1]).toBeGreaterThan(6);
    // Inside of what was found on the frame before, and no place twice.
    expect(Math.hypot(PRESS[0] + r.by[0] - 50, PRESS[1] + r.by[1] - 40)).toBeLessThan(16 - 3);
    expect(new Set(asked.map(String)).size).toBe(asked.length);
    expect(asked.length).toBeLessThanOrEqual(5);
  });
});
