import { describe, expect, it } from 'vitest';
import { mapPoint, STILL } from '../graph/track';
import type { Homography } from '../graph/track';
import { rng } from '../math/rng';
import { invertMap, multiplyMaps } from './fit';
import { averaged, coloursOf, Inside, stepFor } from './inside';
import type { Colours } from './inside';
import { LaidOver, shiftBy } from './laidOver';
import type { Point } from './points';

const [W, H] = [320, 240];
const outline: Point[] = Array.from({ length: 24 }, (_, k) => {
  const t = (2 * Math.PI * k) / 24;
  return [160 + 50 * Math.cos(t), 120 + 65 * Math.sin(t)];
});
const noise = (seed: number): Float32Array => {
  const r = rng(seed);
  return Float32Array.from({ length: W * H }, () => 0.1 * (r() - 0.5));
};
/** A warm oval before a cold wall, moved by a map, its surface turned by so much; `over` lies in front. */
function frame(h: Homography, turned = 0, over: (x: number, y: number) => boolean = () => false): Colours {
  const back = invertMap(h);
  const grain = noise(7);
  const plane = (warm: number, cold: number): Float32Array =>
    Float32Array.from({ length: W * H }, (_, i) => {
      const [x, y] = [(i % W) + 0.5, Math.floor(i / W) + 0.5];
      if (over(x, y)) return 0.05;
      const [u, v] = mapPoint(back, x, y);
      const inside = ((u - 160) / 50) ** 2 + ((v - 120) / 65) ** 2 < 1;
      // Spots that go round: what features would go by.
      const spot = Math.sin((u + turned) / 6) * Math.sin(v / 7) > 0.6 ? 0.12 : 0;
      return (inside ? warm - spot : cold) + grain[i]!;
    });
  return coloursOf({ r: plane(0.7, 0.35), g: plane(0.5, 0.45), b: plane(0.4, 0.55) }, W, H, stepFor(outline));
}
const centre = (h: Homography): Point => mapPoint(h, 160, 120);

describe('what an outline holds, told by colours', () => {
  it.each([0, 20])('a thing that stands still asks for nothing, its surface turned by %d px', (turned) => {
    const back = new Inside(frame(STILL), outline, true).back(frame(STILL, turned), STILL, true)!;
    outline.forEach(([x, y]) => {
      const [u, v] = mapPoint(back, x, y);
      expect(Math.hypot(u - x, v - y)).toBeLessThan(1);
    });
  });
  it('an outline that slipped comes back to it, a share of the way on each frame', () => {
    const inside = new Inside(frame(STILL), outline, false);
    let h: Homography = shiftBy(9, -6);
    const off = (): number => Math.hypot(centre(h)[0] - 160, centre(h)[1] - 120);
    let before = off();
    for (let n = 1; n <= 12; n++) {
      const back = inside.back(frame(STILL, 3 * n), h)!;
      h = multiplyMaps(h, back);
      expect(off()).toBeLessThan(Math.max(0.6, 0.8 * before));
      // It glides: no frame takes it all.
      if (before > 1) expect(off()).toBeGreaterThan(0.5 * before);
      before = off();
    }
    expect(before).toBeLessThan(0.6);
  });
  it('its size and its turn are found as well, where it may have them', () => {
    const at = multiplyMaps(
      shiftBy(160 + 4, 120 + 3),
      multiplyMaps([1.05, -0.1, 0, 0.1, 1.05, 0, 0, 0, 1], shiftBy(-160, -120)),
    );
    const known = (turns: boolean): Inside => {
      const inside = new Inside(frame(STILL), outline, turns);
      inside.back(frame(STILL), STILL);
      return inside;
    };
    const back = known(true).back(frame(at, 15), STILL, true)!;
    outline.forEach(([x, y]) => {
      const [a, b] = [mapPoint(back, x, y), mapPoint(at, x, y)];
      expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(1.5);
    });
    const shift = known(false).back(frame(at, 15), STILL, true)!;
    expect([shift[0], shift[1], shift[3], shift[4]]).toEqual([1, 0, 0, 1]);
  });
  it('after it was lost it is found again further off than it slips', () => {
    const inside = new Inside(frame(STILL), outline, false);
    const moved = shiftBy(21, 12);
    const [u, v] = centre(inside.back(frame(moved, 40), STILL, true)!);
    expect(Math.hypot(u - 181, v - 132)).toBeLessThan(1);
  });
  it('what passes in front moves nothing, and hides it', () => {
    const inside = new Inside(frame(STILL), outline, false);
    expect(inside.back(frame(STILL), STILL)).not.toBeNull();
    const post = (x: number): boolean => x > 120 && x < 175;
    expect(inside.back(frame(STILL, 0, post), STILL)).toBeNull();
    expect(inside.back(frame(STILL, 0, post), STILL, true)).toBeNull();
    expect(inside.back(frame(STILL, 9), STILL)).not.toBeNull();
  });
  it('nothing is believed before it was once as it was drawn', () => {
    const inside = new Inside(frame(STILL), outline, false);
    // As alike as what is found again may be, but not as what was drawn: cloth before the same cloth, in other light.
    const half = frame(STILL, 0, (x, y) => y > 165 && x < 160);
    expect(inside.back(half, STILL, true)).toBeNull();
    expect(inside.back(half, STILL)).toBeNull();
    expect(inside.back(frame(STILL, 9), STILL)).not.toBeNull();
    expect(inside.back(half, STILL, true)).not.toBeNull();
  });
  it('what has left the frame by more than a little is not laid over anything', () => {
    const inside = new Inside(frame(STILL), outline, false);
    inside.back(frame(STILL), STILL);
    const [partly, gone] = [shiftBy(-125, 0), shiftBy(-140, 0)];
    expect(inside.back(frame(gone), gone, true)).toBeNull();
    expect(inside.back(frame(partly), partly)).toBeNull();
    const little = shiftBy(-115, 0);
    expect(inside.back(frame(little), little, true)).not.toBeNull();
  });
  it('where colours tell nothing they say nothing', () => {
    const all = averaged(noise(3), W, H, 2);
    const alike: Colours = { w: all.w, h: all.h, planes: [all.data, all.data, all.data], step: 2 };
    const inside = new Inside(alike, outline, true);
    expect(inside.tells).toBe(false);
    expect(inside.back(alike, STILL)).toBeNull();
    expect(new Inside(frame(STILL), outline, true).tells).toBe(true);
  });
});

describe('a small picture laid over another', () => {
  const [w, h] = [60, 50];
  const blob = (map: Homography, gain = 1, level = 0): Float32Array => {
    const back = invertMap(map);
    return Float32Array.from({ length: w * h }, (_, i) => {
      const [x, y] = mapPoint(back, i % w, Math.floor(i / w));
      return level + gain * Math.exp(-(((x - 30) / 12) ** 2) - ((y - 25) / 7) ** 2 - (x - 30) * (y - 25) * 0.004);
    });
  };
  const cells = Array.from({ length: w * h }, (_, i) => i);
  it.each([
    [[1.3, -0.7, 0, 0], false],
    [[-2.6, 1.9, 0, 0], false],
    [[0.8, 1.1, 0.06, 0.12], true],
    [[-1.2, 0.4, -0.05, -0.08], true],
  ] as const)('by %j, whatever its level and contrast', ([dx, dy, grow, turn], turns) => {
    const map = multiplyMaps(
      shiftBy(30 + dx, 25 + dy),
      multiplyMaps([1 + grow, -turn, 0, turn, 1 + grow, 0, 0, 0, 1], shiftBy(-30, -25)),
    );
    const first = new LaidOver(blob(STILL), w, h, cells, [30, 25], turns);
    const got = first.on(blob(map, 0.4, 0.3));
    expect(got.alike).toBeGreaterThan(0.999);
    for (const [x, y] of [
      [15, 15],
      [45, 35],
      [30, 25],
    ] as const) {
      const [a, b] = [mapPoint(got.map, x, y), mapPoint(map, x, y)];
      expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(0.06);
    }
  });
  it('one value everywhere lies nowhere', () => {
    const first = new LaidOver(blob(STILL), w, h, cells, [30, 25], false);
    expect(first.on(new Float32Array(w * h).fill(0.5)).alike).toBe(-1);
    const flat = new LaidOver(new Float32Array(w * h).fill(0.5), w, h, cells, [30, 25], false);
    expect(flat.on(blob(STILL)).alike).toBe(-1);
  });
});
