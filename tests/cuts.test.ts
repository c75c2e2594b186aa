/** Cuts in films whose cuts are known: cameras over open photographs and rendered stills, with all that is no cut. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { CutFinder, findCuts, unlike } from '../src/core/track/cuts';
import type { Glimpse } from '../src/core/track/cuts';
import { decodeStill } from '../src/media/decode';
import { nodeCodecs } from '../src/media/node';
import type { DecodedPicture } from '../src/media/picture';
import { film } from '../testkit/film';

const root = join(import.meta.dirname, '..');
const stills: DecodedPicture[] = [];
beforeAll(async () => {
  nodeCodecs();
  const of = (dir: string, end: RegExp): string[] =>
    readdirSync(join(root, dir))
      .filter((f) => end.test(f) && !f.includes('truth'))
      .map((f) => join(root, dir, f));
  const files = [
    ...of('demo/stills', /\.png$/),
    ...of('tests/data/scenes', /\.jpg$/),
    ...of('tests/data/photos', /(png|jpg)$/),
  ];
  for (const f of files) stills.push(await decodeStill(new Uint8Array(readFileSync(f))));
});
const flat = (v: number, w = 32, h = 18): Glimpse => {
  const p = new Float32Array(w * h).fill(v);
  return { w, h, rgb: [p, p, p] };
};
const mix = (a: Glimpse, b: Glimpse, k: number): Glimpse => ({
  ...a,
  rgb: [0, 1, 2].map((c) =>
    a.rgb[c as 0].map((v, i) => (1 - k) * v + k * b.rgb[c as 0][i]!),
  ) as unknown as Glimpse['rgb'],
});

describe('cuts', () => {
  it('are found among pans, whips, shake, flicker, flashes, noise and pillars; hardly anything else is', () => {
    let [found, wrong, all] = [0, 0, 0];
    for (let seed = 101; seed <= 104; seed++) {
      const { frames, cuts } = film(stills, seed);
      const got = findCuts(frames, 5).map((c) => c.frame - 5);
      all += cuts.length;
      found += cuts.filter((c) => got.includes(c)).length;
      wrong += got.filter((c) => !cuts.includes(c)).length;
    }
    expect(all).toBe(52);
    // What stands beside a flash or a pillar may be missed.
    expect(found).toBeGreaterThanOrEqual(49);
    expect(wrong).toBeLessThanOrEqual(1);
  });
  it('a dissolve over a second is none; nor is light that goes out slowly', () => {
    const { frames, cuts } = film(stills, 7, 2);
    const [a, b] = [frames[cuts[0]! - 1]!, frames[cuts[0]!]!];
    expect(unlike(a, b)).toBeGreaterThan(0.3);
    expect(findCuts([a, a, a, b, b, b]).map((c) => c.frame)).toEqual([3]);
    const soft = Array.from({ length: 25 }, (_, i) => mix(a, b, i / 24));
    expect(findCuts([a, a, ...soft, b, b])).toEqual([]);
    const out = Array.from({ length: 25 }, (_, i) => mix(a, flat(0, a.w, a.h), i / 24));
    expect(findCuts([a, a, ...out])).toEqual([]);
  });
  it('flat frames are told by their colour: black to white is a cut, black to black none', () => {
    expect(findCuts([flat(0), flat(0), flat(0.8), flat(0.8)]).map((c) => c.frame)).toEqual([2]);
    expect(findCuts([flat(0), flat(0.002), flat(0), flat(0.001)])).toEqual([]);
  });
  it('holds for nothing, for one frame, for numbers that are none, for another size', () => {
    expect(findCuts([])).toEqual([]);
    expect(findCuts([flat(0.5)])).toEqual([]);
    const bad = flat(NaN);
    expect(Number.isFinite(unlike(bad, flat(0.5)))).toBe(true);
    expect(unlike(flat(0.5), flat(0.5, 18, 32))).toBe(1);
    // Told with the frames as they come, and no later than some frames after: nothing piles up.
    const { frames, cuts } = film(stills, 9, 3);
    const finder = new CutFinder();
    const told: [number, number][] = [];
    frames.forEach((f, i) => finder.push(f).forEach((c) => told.push([c.frame, i])));
    finder.end().forEach((c) => told.push([c.frame, frames.length]));
    expect(told.map(([c]) => c)).toEqual(cuts);
    for (const [c, when] of told) expect(when - c).toBeLessThanOrEqual(10);
  });
});
