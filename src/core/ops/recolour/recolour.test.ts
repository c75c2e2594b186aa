import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rng } from '../../math/rng';
import { opContract } from '../../../../testkit/opContract';
import { decode, encode, resolveEncoding } from '../../color/encodings';
import { diamond, fitsIn, gamutTable, HUES, LIGHTS, mostChroma } from '../../color/gamut';
import { linearToOklab, oklabToLinear } from '../../color/oklab';
import { plainContext } from '../../op/contract';
import type { PixelOp } from '../../op/contract';
import { defaultsOf } from '../../op/params';
import recolour from './index';
import type { params as declared } from './params';
import { vectors } from './vectors';

opContract(recolour, vectors, {
  twinTolerance: 4e-3,
  twinReason: 'roots and powers of float32, and a place in the table that is off by one unit at its ridge',
  odd: { from: [0.5, 0.05, 0.02], to: [0.6, -0.05, 0.1], trim: [0, 0, 0] },
  infinityIsOdd: true,
  noOpTolerance: 2e-5,
});

const op = recolour as unknown as PixelOp<typeof declared>;
const srgb = resolveEncoding('srgb');
type V3 = [number, number, number];
function run(p: { from: V3; to: V3; trim?: V3 }, rgb: readonly number[]): V3 {
  const [r, g, b] = rgb.map((v) => Float32Array.of(v)) as [Float32Array, Float32Array, Float32Array];
  op.kernel(op.prepare({ ...defaultsOf(op.params), ...p }, plainContext), { r, g, b, n: 1 });
  return [r[0]!, g[0]!, b[0]!];
}
const lab = (rgb: readonly number[]): V3 => linearToOklab(...(rgb.map((v) => decode(srgb, v)) as V3));
/** Well within the border, as far as the table is drawn in at its sharpest corner. */
const within = ([L, a, b]: V3): boolean => Math.hypot(a, b) < 0.8 * mostChroma(L, a, b, fitsIn(srgb));
const code = fc.double({ min: 0.02, max: 0.98, noNaN: true });
const colour = fc.tuple(code, code, code);

describe('recolour', () => {
  it('keeps the order of lightness', () => {
    fc.assert(
      fc.property(colour, colour, colour, colour, (from, to, one, two) => {
        // What lies beyond the table's border, as some of the hollow towards blue does, may stay as far beyond.
        fc.pre([one, two].every((c) => within(lab(c))));
        const p = { from: lab(from), to: lab(to) };
        const [a, b] = [run(p, one), run(p, two)];
        const [la, lb] = [lab(one)[0], lab(two)[0]];
        if (la < lb - 1e-3) expect(lab(a)[0]).toBeLessThan(lab(b)[0] + 1e-4);
      }),
      { numRuns: 400, seed: 21 },
    );
  });
  it('of a colour of the range next to nothing leaves the range', () => {
    // In the hollow towards blue the table of what fits is a little off: four values of 170 000 lie beyond 0.004.
    const r = rng(9);
    const c = (): V3 => [0.02 + 0.96 * r(), 0.02 + 0.96 * r(), 0.02 + 0.96 * r()];
    let [all, beyond, most] = [0, 0, 0];
    for (let i = 0; i < 2000; i++) {
      const p = { ...defaultsOf(op.params), from: lab(c()), to: lab(c()) };
      const inside = Array.from({ length: 20 }, c).filter((x) => within(lab(x)));
      const [R, G, B] = [0, 1, 2].map((k) => Float32Array.from(inside, (x) => x[k]!)) as [
        Float32Array,
        Float32Array,
        Float32Array,
      ];
      op.kernel(op.prepare(p, plainContext), { r: R, g: G, b: B, n: inside.length });
      for (const v of [...R, ...G, ...B]) {
        all++;
        most = Math.max(most, v);
        if (v < -0.004 || v > 1.004) beyond++;
      }
    }
    expect(all).toBeGreaterThan(50_000);
    expect(beyond).toBeLessThanOrEqual(4);
    expect(most).toBeLessThan(1.004);
  });
  it('a colour that has one is turned to its own hue, whatever is drawn in', () => {
    fc.assert(
      fc.property(colour, colour, (from, to) => {
        const [f, t] = [lab(from), lab(to)];
        fc.pre(Math.hypot(f[1], f[2]) > 0.02 && Math.hypot(t[1], t[2]) > 0.02);
        const got = lab(run({ from: f, to: t }, from));
        // Its own mean: to the hue aimed at, at the lightness aimed at.
        expect(Math.abs(got[0] - Math.min(0.98, Math.max(0.02, t[0])))).toBeLessThan(2e-3);
        const off = Math.abs(Math.atan2(got[2], got[1]) - Math.atan2(t[2], t[1])) % (2 * Math.PI);
        expect(Math.min(off, 2 * Math.PI - off)).toBeLessThan(0.035);
      }),
      { numRuns: 300, seed: 22 },
    );
  });
  it('a change that is nearly none is nearly none everywhere, at the border of the range too', () => {
    fc.assert(
      fc.property(colour, colour, (from, at) => {
        const f = lab(from);
        const got = run({ from: f, to: [f[0] + 1e-5, f[1], f[2]] }, at);
        got.forEach((v, c) => expect(Math.abs(v - at[c]!)).toBeLessThan(2e-3));
      }),
      { numRuns: 200, seed: 23 },
    );
  });
});

describe('what fits', () => {
  it('the table holds what halving finds, drawn in by a fiftieth, and never more in between', () => {
    const t = gamutTable(srgb);
    const fits = fitsIn(srgb);
    for (let k = 0; k < 400; k++) {
      const h = (k * 2.39996) % (2 * Math.PI);
      const i = 1 + (k % (LIGHTS - 1));
      const [a, b] = [Math.cos(h), Math.sin(h)];
      const x = diamond(a, b) * (HUES / 4);
      const j = Math.floor(x);
      const at = i * (HUES + 1) + j;
      const room = t[at]! + (x - j) * (t[at + 1]! - t[at]!);
      const exact = mostChroma(i / LIGHTS, a, b, fits);
      expect(room).toBeLessThan(exact);
      expect(room).toBeGreaterThan(exact * 0.8);
    }
  });
  it('the primaries of the display lie on it', () => {
    for (const rgb of [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as V3[]) {
      const [L, a, b] = linearToOklab(...rgb);
      const c = mostChroma(L, a, b, fitsIn(srgb)) / Math.hypot(a, b);
      expect(c).toBeLessThan(1.001);
      // Towards blue the range is hollow: the way there leaves it and comes back, and halving stops where it leaves.
      expect(c).toBeGreaterThan(rgb[2] === 1 ? 0.8 : 0.998);
      oklabToLinear(L, a, b).forEach((v, i) => expect(encode(srgb, v)).toBeCloseTo(rgb[i]!, 3));
    }
  });
});
