import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { decode, encode, resolveEncoding } from '../color/encodings';
import { linearToOklab, oklabToLinear } from '../color/oklab';
import { fitsIn, mostChroma } from '../color/gamut';
import { plainContext } from '../op/contract';
import type { PixelOp } from '../op/contract';
import recolourOp from '../ops/recolour/index';
import type { params } from '../ops/recolour/params';
import { hueApart, labApart, meanOklab, solveTrim } from './recolour';
import type { Lab3, Weighed } from './recolour';

const op = recolourOp as unknown as PixelOp<typeof params>;
const srgb = resolveEncoding('srgb');
/** Folded cloth: light from shade to a highlight that whitens, chroma that goes with light, fine grain. */
function cloth(hueDeg: number, chroma: number, lightness: number, spread: number, seed: number): Weighed {
  const r = rng(seed);
  const n = 4000;
  const w: Weighed = {
    r: new Float32Array(n),
    g: new Float32Array(n),
    b: new Float32Array(n),
    weight: new Float32Array(n).fill(1),
  };
  for (let i = 0; i < n; i++) {
    const fold = Math.sin(i / 90) * 0.5 + 0.5 * Math.sin(i / 37 + 1);
    const L = Math.min(0.97, Math.max(0.05, lightness + spread * fold + 0.01 * (r() - 0.5)));
    const glint = Math.max(0, (L - 0.85) / 0.15);
    const c = chroma * Math.min(1.2, L / lightness) * (1 - glint) * (1 + 0.05 * (r() - 0.5));
    const h = (hueDeg * Math.PI) / 180 + 0.05 * (r() - 0.5);
    const most = 0.98 * mostChroma(L, Math.cos(h), Math.sin(h), fitsIn(srgb));
    const k = Math.min(c, most);
    oklabToLinear(L, k * Math.cos(h), k * Math.sin(h)).forEach((v, j) => ([w.r, w.g, w.b][j]![i] = encode(srgb, v)));
  }
  return w;
}
const after = (w: Weighed, from: Lab3, to: Lab3, trim: Lab3): Weighed => {
  const out = { ...w, r: w.r.slice(), g: w.g.slice(), b: w.b.slice() };
  op.kernel(op.prepare({ from, to, trim }, plainContext), { ...out, n: out.r.length });
  return out;
};
const clipped = (w: Weighed): number =>
  w.r.reduce((n, _, i) => n + ([w.r, w.g, w.b].some((p) => p[i]! <= 0.5 / 255 || p[i]! >= 1 - 0.5 / 255) ? 1 : 0), 0) /
  w.r.length;
const luma = (w: Weighed): Float64Array =>
  Float64Array.from(w.r, (v, i) => 0.2126 * v + 0.7152 * w.g[i]! + 0.0722 * w.b[i]!);
/** Correlation of what varies from one place to the next. */
function detail(a: Float64Array, b: Float64Array): number {
  const diff = (v: Float64Array): Float64Array => v.slice(24).map((x, i) => x - v[i]!);
  const [p, q] = [diff(a), diff(b)];
  const mean = (v: Float64Array): number => v.reduce((s, x) => s + x, 0) / v.length;
  const [mp, mq] = [mean(p), mean(q)];
  let [pq, pp, qq] = [0, 0, 0];
  p.forEach((x, i) => {
    pq += (x - mp) * (q[i]! - mq);
    pp += (x - mp) ** 2;
    qq += (q[i]! - mq) ** 2;
  });
  return pq / Math.sqrt(pp * qq);
}

describe('recolouring solved', () => {
  const targets = ['#7a1f2b', '#2e5f8a', '#3f7a46', '#c9b458', '#8a8a8a', '#d8d2c8', '#262b33', '#b3456e'];
  const labOf = (hex: string): Lab3 =>
    linearToOklab(...([1, 3, 5].map((i) => decode(srgb, parseInt(hex.slice(i, i + 2), 16) / 255)) as Lab3));
  const cloths: [string, Weighed][] = [
    ['mustard', cloth(85, 0.12, 0.62, 0.14, 1)],
    ['burgundy', cloth(18, 0.1, 0.38, 0.12, 2)],
    ['grey wool', cloth(200, 0.008, 0.5, 0.15, 3)],
    ['blue in the shade', cloth(250, 0.08, 0.3, 0.1, 4)],
    ['a white apron', cloth(90, 0.02, 0.85, 0.1, 5)],
  ];
  it.each(cloths)('%s: the mean arrives, folds stay, nothing is flattened', (_, w) => {
    const from = meanOklab(w, srgb)!;
    let arrived = 0;
    for (const hex of targets) {
      const to = labOf(hex);
      const solved = solveTrim(to, (trim) => meanOklab(after(w, from, to, trim), srgb)!);
      const made = after(w, from, to, solved.trim);
      const is = meanOklab(made, srgb)!;
      is.forEach((v, c) => expect(v).toBeCloseTo(solved.mean[c]!, 9));
      const apart = labApart(is, to);
      if (apart <= 1) arrived++;
      // Where it falls short the hue is still right.
      else expect(hueApart(is, to) ?? 0, `${hex}: ${apart.toFixed(2)} short`).toBeLessThan(2);
      expect(apart, hex).toBeLessThan(8);
      expect(clipped(made) - clipped(w), hex).toBeLessThanOrEqual(0.005);
      expect(detail(luma(w), luma(made)), hex).toBeGreaterThan(0.95);
    }
    expect(arrived).toBeGreaterThanOrEqual(6);
  });
  it('a saturated colour that cannot be bright: folds win, and the hue is right', () => {
    const [, w] = cloths[4]!;
    const from = meanOklab(w, srgb)!;
    const to = labOf('#0000ff');
    const { trim } = solveTrim(to, (t) => meanOklab(after(w, from, to, t), srgb)!);
    const made = after(w, from, to, trim);
    expect(clipped(made) - clipped(w)).toBeLessThanOrEqual(0.005);
    expect(labApart(meanOklab(made, srgb)!, to)).toBeGreaterThan(1);
    expect(hueApart(meanOklab(made, srgb)!, to)!).toBeLessThan(4);
  });
  it('greys have no hue to differ in; nothing in is no mean', () => {
    expect(hueApart([0.5, 0.001, 0], [0.5, 0.1, 0])).toBeNull();
    expect(hueApart([0.5, 0.1, 0], [0.5, 0, 0.1])).toBeCloseTo(90, 9);
    const none = { ...cloths[0]![1], weight: new Float32Array(4000) };
    expect(meanOklab(none, srgb)).toBeNull();
  });
});
