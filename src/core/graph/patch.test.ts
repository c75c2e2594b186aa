import { describe, expect, it } from 'vitest';
import { isKnownAt, patchAt } from './patch';
import type { PatchPlace } from './patch';

const box = { x: 100, y: 50, w: 20, h: 10 };
const by = (x: number, y: number): number[] => [1, 0, x, 0, 1, y, 0, 0, 1];
const at = (frame: number, h: number[], lost = false) => ({ frame, h, ...(lost ? { lost } : {}) });

describe('a patch that follows', () => {
  it('lies where it was drawn without a path, and at the frame of drawing', () => {
    expect(patchAt({ box }, 7)).toEqual({ box });
    const p = { box, track: { at: 3, path: [at(4, by(5, 5))] } };
    expect(patchAt(p, 3).box).toEqual(box);
  });

  it('stays a box where it only slides, on whole pixels', () => {
    const p = { id: 'p', box, track: { at: 0, path: [at(1, by(5.4, -2.6)), at(2, by(11, 0))] } };
    expect(patchAt(p, 1)).toEqual({ id: 'p', box: { x: 105, y: 47, w: 20, h: 10 } });
    expect(patchAt(p, 2).box.x).toBe(111);
  });

  it('becomes a freeform where it turns, with bounds about it', () => {
    // A quarter turn about the origin: (x, y) -> (-y, x).
    const p: PatchPlace = { box, track: { at: 0, path: [at(1, [0, -1, 0, 1, 0, 0, 0, 0, 1])] } };
    const q = patchAt(p, 1);
    expect(q.points).toEqual([
      [-50, 100],
      [-50, 120],
      [-60, 120],
      [-60, 100],
    ]);
    expect(q.box.x).toBeLessThanOrEqual(-60);
    expect(q.box.w).toBeGreaterThanOrEqual(10);
    expect(q.track).toBeUndefined();
  });

  it('knows where it was followed, and where it was lost', () => {
    const p = { box, track: { at: 0, path: [at(1, by(1, 1)), at(2, by(2, 2), true)] } };
    expect([0, 1, 2, 3].map((f) => isKnownAt(p, f))).toEqual([true, true, false, false]);
    expect(isKnownAt({ box }, 9)).toBe(true);
  });
});
