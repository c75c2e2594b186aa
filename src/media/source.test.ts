import { describe, expect, it } from 'vitest';
import { clampFrame, FrameCache, stillSource } from './source';
import type { DecodedPicture } from './picture';

describe('frame sources', () => {
  it('a still is a source of one frame, whichever is asked for', async () => {
    const picture = { width: 1 } as DecodedPicture;
    const s = stillSource(() => Promise.resolve(picture));
    expect(s.frames).toBe(1);
    expect(await s.frame(0)).toBe(picture);
    expect(await s.frame(99)).toBe(picture);
    expect([-3, 0, 4.4, 12].map((n) => clampFrame(n, 8))).toEqual([0, 0, 4, 7]);
  });
  it('the cache is bounded in bytes, forgets what was used longest ago, and always holds the newest', () => {
    const c = new FrameCache<string>(100);
    expect(c.put('a', 'A', 40)).toEqual([]);
    c.put('b', 'B', 40);
    expect(c.get('a')).toBe('A');
    expect(c.put('c', 'C', 40)).toEqual(['B']);
    expect([c.get('a'), c.has('b'), c.get('c'), c.bytes]).toEqual(['A', false, 'C', 80]);
    c.put('a', 'A2', 10);
    expect([c.get('a'), c.bytes]).toEqual(['A2', 50]);
    expect(c.put('huge', 'H', 500)).toEqual(['C', 'A2']);
    expect([c.get('huge'), c.has('a'), c.has('c'), c.bytes]).toEqual(['H', false, false, 500]);
  });
});
