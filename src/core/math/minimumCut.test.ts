/** The cheapest division of a grid, against trying all of them and against another way to the largest flow. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutter, minimumCut, WAYS } from './minimumCut';

interface Grid {
  w: number;
  h: number;
  inner: Uint8Array;
  price: Float32Array;
  part: [Float32Array, Float32Array, Float32Array, Float32Array];
}
function pairs({ w, h, inner, part }: Grid): [number, number, number][] {
  const out: [number, number, number][] = [];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let k = 0; k < 8; k += 2) {
        const [dx, dy] = WAYS[k]!;
        const [u, v] = [x + dx, y + dy];
        if (u < 0 || u >= w || v >= h) continue;
        const [i, j] = [y * w + x, v * w + u];
        if (inner[i] && inner[j]) out.push([i, j, part[k >> 1]![i]!]);
      }
  return out;
}
/** What a division costs: what is not gained by being inside or outside, and every pair that is parted. */
function cost(g: Grid, on: ArrayLike<number>): number {
  let sum = 0;
  g.price.forEach((v, i) => {
    if (g.inner[i] && v > 0 && !on[i]) sum += v;
    if (g.inner[i] && v < 0 && on[i]) sum -= v;
  });
  for (const [i, j, c] of pairs(g)) if (on[i] !== on[j]) sum += c;
  return sum;
}
/** The largest flow by shortest paths (J. Edmonds, R. Karp, 1972), over a full table of capacities. */
function largestFlow(g: Grid): number {
  const n = g.inner.length;
  const [S, T] = [n, n + 1];
  const cap = Array.from({ length: n + 2 }, () => new Float64Array(n + 2));
  g.price.forEach((v, i) => {
    if (!g.inner[i]) return;
    if (v > 0) cap[S]![i] = v;
    else cap[i]![T] = -v;
  });
  for (const [i, j, c] of pairs(g)) cap[i]![j] = cap[j]![i] = c;
  for (let flow = 0; ;) {
    const from = new Int32Array(n + 2).fill(-1);
    from[S] = S;
    const queue = [S];
    for (let at = 0; at < queue.length && from[T]! < 0; at++)
      for (let v = 0; v < n + 2; v++)
        if (from[v]! < 0 && cap[queue[at]!]![v]! > 0) {
          from[v] = queue[at]!;
          queue.push(v);
        }
    if (from[T]! < 0) return flow;
    let most = Infinity;
    for (let v = T; v !== S; v = from[v]!) most = Math.min(most, cap[from[v]!]![v]!);
    for (let v = T; v !== S; v = from[v]!) {
      cap[from[v]!]![v]! -= most;
      cap[v]![from[v]!]! += most;
    }
    flow += most;
  }
}
/** Whole numbers: sums of them are exact in any order. */
const grids = (most: number): fc.Arbitrary<Grid> =>
  fc.record({ w: fc.integer({ min: 1, max: most }), h: fc.integer({ min: 1, max: most }) }).chain(({ w, h }) => {
    const n = w * h;
    const list = (min: number, max: number) => fc.array(fc.integer({ min, max }), { minLength: n, maxLength: n });
    return fc
      .record({
        inner: fc.array(fc.integer({ min: 0, max: 5 }), { minLength: n, maxLength: n }),
        price: list(-12, 12),
        part: fc.tuple(list(0, 9), list(0, 9), list(0, 9), list(0, 9)),
      })
      .map(({ inner, price, part }) => ({
        w,
        h,
        inner: Uint8Array.from(inner, (v) => (v > 0 ? 1 : 0)),
        price: Float32Array.from(price),
        part: part.map((p) => Float32Array.from(p)) as Grid['part'],
      }));
  });

describe('the cheapest division of a grid', () => {
  it('is as cheap as the best of all divisions', () => {
    fc.assert(
      fc.property(grids(3), (g) => {
        const n = g.inner.length;
        let best = Infinity;
        for (let bits = 0; bits < 2 ** n; bits++)
          best = Math.min(
            best,
            cost(
              g,
              Array.from({ length: n }, (_, i) => (g.inner[i] ? (bits >> i) & 1 : 0)),
            ),
          );
        expect(cost(g, minimumCut(g.w, g.inner, g.price, g.part))).toBe(best);
      }),
      { numRuns: 60, seed: 5 },
    );
  });
  it('costs what the largest flow carries, on larger grids', () => {
    fc.assert(
      fc.property(grids(12), (g) => {
        const on = minimumCut(g.w, g.inner, g.price, g.part);
        expect(cost(g, on)).toBe(largestFlow(g));
        expect(on.every((v, i) => v === 0 || g.inner[i] === 1)).toBe(true);
      }),
      { numRuns: 120, seed: 6 },
    );
  });
  it('asked again with other prices, it is what it would be if asked first', () => {
    const further = fc.array(fc.array(fc.integer({ min: -12, max: 12 }), { minLength: 100, maxLength: 100 }), {
      minLength: 2,
      maxLength: 3,
    });
    fc.assert(
      fc.property(grids(10), further, (g, list) => {
        const cut = cutter(g.w, g.inner, g.part);
        for (const price of [g.price, ...list.map((v) => Float32Array.from(v.slice(0, g.price.length)))]) {
          const on = cut(price);
          expect(cost({ ...g, price }, on)).toBe(largestFlow({ ...g, price }));
          expect([...on]).toEqual([...minimumCut(g.w, g.inner, price, g.part)]);
        }
      }),
      { numRuns: 60, seed: 8 },
    );
  });
  it('follows a cheap line, and leaves what it was given as it was', () => {
    // Inside is wanted at the left, outside at the right; parting is cheap along one bent column alone.
    const [w, h] = [20, 12];
    const bend = (y: number): number => (y < 6 ? 7 : 12);
    const g: Grid = {
      w,
      h,
      inner: new Uint8Array(w * h).fill(1),
      price: Float32Array.from({ length: w * h }, (_, i) => (i % w === 0 ? 100 : i % w === w - 1 ? -100 : 0)),
      part: [0, 1, 2, 3].map(() => new Float32Array(w * h).fill(5)) as Grid['part'],
    };
    const side = (i: number): boolean => i % w <= bend(Math.floor(i / w));
    for (let i = 0; i < w * h; i++)
      for (let k = 0; k < 8; k += 2) {
        const [x, y] = [(i % w) + WAYS[k]![0], Math.floor(i / w) + WAYS[k]![1]];
        if (x < 0 || x >= w || y >= h) continue;
        if (side(i) !== side(y * w + x)) g.part[k >> 1]![i] = 1;
      }
    const price = g.price.slice();
    const on = minimumCut(w, g.inner, g.price, g.part);
    expect([...on]).toEqual(Array.from(on, (_, i) => (side(i) ? 1 : 0)));
    expect(g.price).toEqual(price);
  });
  it('where nothing is wanted, nothing is in', () => {
    const z = new Float32Array(9);
    expect([...minimumCut(3, new Uint8Array(9).fill(1), z, [z, z, z, z])]).toEqual(Array(9).fill(0));
  });
});
