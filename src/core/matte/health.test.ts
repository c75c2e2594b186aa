import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { health, healthSaid, seamsSaid, tidyFor } from './health';

const [w, h] = [200, 140];
/** A disc of radius 40 with a soft edge of `soft` px, and whatever is put in. */
function disc(soft: number, put: (m: Float32Array) => void = () => {}): Float32Array {
  const m = Float32Array.from({ length: w * h }, (_, i) => {
    const d = Math.hypot((i % w) + 0.5 - 100, Math.floor(i / w) + 0.5 - 70) - 40;
    return Math.min(1, Math.max(0, 0.5 - d / soft));
  });
  put(m);
  return m;
}
const block = (m: Float32Array, x: number, y: number, bw: number, bh: number, v: number): void => {
  for (let j = y; j < y + bh; j++) m.fill(v, j * w + x, j * w + x + bw);
};

describe('health of a matte', () => {
  it('of a clean one says nothing', () => {
    const f = health(disc(6), w, h, null);
    expect(f.coverage).toBeCloseTo((Math.PI * 1600) / (w * h), 2);
    expect([f.specks.count, f.holes.count, f.apart.count, f.half]).toEqual([0, 0, 0, 0]);
    expect(f.noise!).toBeLessThan(1e-6);
    expect(healthSaid(f)).toEqual([]);
    expect(tidyFor(f)).toEqual([]);
    expect(health(new Float32Array(w * h), w, h, null)).toMatchObject({ coverage: 0, edgePx: null, meant: null });
    expect(healthSaid(health(new Float32Array(w * h), w, h, null))[0]).toMatch(/empty/);
  });
  it.each([2, 6, 12, 20])('tells an edge of %s px', (soft) => {
    expect(Math.abs(health(disc(soft), w, h, null).edgePx! / soft - 1)).toBeLessThan(0.1);
  });
  it('counts specks, holes and pieces apart, largest first, with a place inside each', () => {
    const m = disc(4, (p) => {
      block(p, 10, 10, 3, 3, 1);
      block(p, 20, 120, 1, 1, 0.5);
      block(p, 90, 60, 4, 4, 0);
      block(p, 110, 80, 2, 2, 0.3);
      block(p, 160, 20, 20, 10, 0.9);
    });
    const f = health(m, w, h, null);
    expect([f.specks.count, f.specks.area, f.holes.count, f.holes.area]).toEqual([2, 10, 2, 20]);
    expect(f.specks.list[0]).toMatchObject({ area: 9, weight: 9, box: { x: 10, y: 10, w: 3, h: 3 }, x: 11, y: 11 });
    expect(f.holes.list.map((x) => x.area)).toEqual([16, 4]);
    expect(f.apart.count).toBe(1);
    const [leak] = f.apart.list;
    expect(leak!.weight).toBeCloseTo(180, 3);
    expect(m[leak!.y * w + leak!.x]).toBeGreaterThan(0.5);
    expect(healthSaid(f).join(' ')).toMatch(/1 smaller piece stands beside/);
    expect(tidyFor(f)).toEqual([
      { op: 'specks', params: { sizePx: 5 } },
      { op: 'holes', params: { sizePx: 6 } },
    ]);
  });
  it('with strokes: a large piece without one lies apart, a hole that was painted out is none', () => {
    const m = disc(4, (p) => {
      block(p, 5, 5, 50, 60, 1);
      block(p, 90, 60, 4, 4, 0);
    });
    const painted = { marks: new Uint8Array(w * h), about: new Uint8Array(w * h) };
    painted.marks[70 * w + 110] = 1;
    painted.marks[62 * w + 92] = 2;
    for (let i = 0; i < 20; i++) painted.about[70 * w + 130 + i] = 1;
    const f = health(m, w, h, painted);
    expect([f.apart.count, f.apart.list[0]!.area, f.holes.count]).toEqual([1, 3000, 0]);
    // Twenty pixels to the right from the middle of column 130: the edge stands at 140.
    expect(f.meant).toBeCloseTo(0.4, 5);
    expect(healthSaid(f).join(' ')).toMatch(/Around your strokes 40 % is full.*1 piece lies away/);
    // Both large pieces are meant where nobody painted.
    expect(health(m, w, h, null).apart.count).toBe(0);
  });
  it('measures noise of flat parts alone, and what is only half in', () => {
    const r = rng(3);
    const noisy = disc(4, (p) => p.forEach((v, i) => (p[i] = Math.min(1, Math.max(0, v + 0.1 * (r() - 0.5))))));
    const f = health(noisy, w, h, null);
    // Uniform over 0.1, one side cut off: near 0.1 / sqrt 12 halved.
    expect(f.noise!).toBeGreaterThan(0.01);
    expect(f.noise!).toBeLessThan(0.03);
    expect(tidyFor(f).map((s) => s.op)).toContain('floorCeiling');
    const thin = disc(4, (p) => block(p, 80, 60, 40, 20, 0.6));
    const half = health(thin, w, h, null);
    expect(half.half).toBeGreaterThan(0.2);
    expect(healthSaid(half)[0]).toMatch(/only half in/);
  });
  it('can be ended at any tick', () => {
    let n = 0;
    expect(() =>
      health(disc(4), w, h, null, () => {
        if (++n === 5) throw new Error('stale');
      }),
    ).toThrow('stale');
  });
  it('says before a push where its seams will show, and nothing of a gentle one', () => {
    const hard = { edgePx: 1, half: 0.1 };
    expect(seamsSaid(hard, 1, 8)).toEqual([]);
    expect(seamsSaid(hard, 3, 16).join(' ')).toMatch(/^10 % of the region is only half in/);
    expect(seamsSaid(hard, 12, 8).map((s) => s.slice(0, 9))).toEqual(['A push of', '10 % of t', 'The sourc']);
    expect(seamsSaid({ edgePx: 6, half: 0 }, 12, 16)).toEqual([]);
  });
});
