/** The twin of the largest flow: the same division, and the same left over, to the bit; of any grid. */
import fc from 'fast-check';
import { afterEach, describe, expect, it } from 'vitest';
import { cutter, flowBy, flowed, WAYS } from '../src/core/math/minimumCut';
import { rng } from '../src/core/math/rng';
import { wasmFlow } from '../src/engine/flow';
import { wasmBytes } from '../testkit/bench';

interface Given {
  inner: Uint8Array;
  w: number;
  cap: Float32Array;
  rest: Float32Array;
}
/** Of no round numbers, with holes in it, and what may flow only inside of it. */
function given(w: number, h: number, seed: number): Given {
  const r = rng(seed);
  const n = w * h;
  const inner = Uint8Array.from({ length: n }, () => (r() < 0.9 ? 1 : 0));
  const cap = new Float32Array(8 * n);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let k = 0; k < 8; k++) {
        const [u, v] = [x + WAYS[k]![0], y + WAYS[k]![1]];
        if (u < 0 || u >= w || v < 0 || v >= h || !inner[y * w + x] || !inner[v * w + u]) continue;
        cap[k * n + y * w + x] = r() < 0.2 ? 0 : 3 * r();
      }
  const rest = Float32Array.from(inner, (on) => (on && r() < 0.8 ? 8 * (r() - 0.5) : 0));
  return { inner, w, cap, rest };
}
const copied = (g: Given): Given => ({ ...g, cap: g.cap.slice(), rest: g.rest.slice() });
afterEach(() => flowBy(flowed));

describe('the flow in WebAssembly', () => {
  it('is the one in TypeScript, with what is left along every way and in every pixel', async () => {
    const twin = await wasmFlow(await WebAssembly.compile(wasmBytes()));
    const side = fc.integer({ min: 1, max: 40 });
    let parted = 0;
    fc.assert(
      fc.property(side, side, fc.integer({ min: 1, max: 1e6 }), (w, h, seed) => {
        const [a, b] = [given(w, h, seed), copied(given(w, h, seed))];
        const want = flowed(a.inner, w, a.cap, a.rest);
        const got = twin(b.inner, w, b.cap, b.rest);
        expect(Buffer.from(got).equals(want)).toBe(true);
        expect(b.cap).toEqual(a.cap);
        expect(b.rest).toEqual(a.rest);
        if (want.includes(1) && want.includes(0)) parted++;
      }),
      { numRuns: 150, seed: 12 },
    );
    // It was asked something.
    expect(parted).toBeGreaterThan(100);
  });
  it('grows its memory, and is what a cut is made by once it is set', async () => {
    const twin = await wasmFlow(await WebAssembly.compile(wasmBytes()));
    const [w, h] = [240, 160];
    const big = given(w, h, 3);
    const part = [0, 2, 4, 6].map((k) => big.cap.slice(k * w * h, (k + 1) * w * h)) as [
      Float32Array,
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    const before = cutter(w, big.inner, part)(big.rest);
    let asked = 0;
    flowBy((...q) => {
      asked++;
      return twin(...q);
    });
    const cut = cutter(w, big.inner, part);
    expect(Buffer.from(cut(big.rest)).equals(before)).toBe(true);
    // Asked again with other prices it goes on from there.
    const other = big.rest.map((v) => -v);
    const again = cut(other);
    flowBy(flowed);
    const plain = cutter(w, big.inner, part);
    plain(big.rest);
    expect(Buffer.from(again).equals(plain(other))).toBe(true);
    expect(asked).toBe(2);
    expect(before.reduce((n, v) => n + v, 0)).toBeGreaterThan(200);
  });
});
