/**
 * How well a colour belongs to what was painted: slanted ranges and nearness to clusters, in OKLab. Samples are (L,
 * a, b) one after the other. Measured on real photographs; the constants are where that ended.
 */

export type Samples = Float32Array;
/** One axis: from and to are one half, with a fade on either side. */
export interface Range {
  from: number;
  to: number;
  fade: number;
}
/**
 * Light and shade move a surface's colour along a line that rarely runs through exact black: a and b are measured from
 * that line.
 */
export interface SlantedRanges {
  /** Change of a and of b with L. */
  slopeA: number;
  slopeB: number;
  L: Range;
  a: Range;
  b: Range;
}
export interface Nearness {
  /** Middles of clusters, L weighted; three numbers each. */
  keep: Float32Array;
  leave: Float32Array;
}
export interface Model {
  /** One or more; a colour belongs that belongs to one of them. */
  ranges: readonly SlantedRanges[];
  near: Nearness;
}

/** What two surfaces' ranges of a or b may gain in width by being one: more, and they differ by more than light. */
const WIDER = 0.005;
const UNIT = { L: 0.04, a: 0.012, b: 0.012 };
/** Weight of L where distances are measured: light changes more than colour does. */
export const L_WEIGHT = 0.3;
const KEEP_CLUSTERS = 6;
const LEAVE_CLUSTERS = 8;
/** What is further than this from all that is kept is nothing like it, whatever is left out. */
const NEAR = 0.05;
/** So many times further nothing belongs, whatever rounding makes of it. */
const NOTHING = 1.5001;

const column = (s: Samples, c: number): Float32Array =>
  Float32Array.from({ length: s.length / 3 }, (_, i) => s[3 * i + c]!);
/** Of sorted numbers, by straight lines between them. */
export function percentile(sorted: Float32Array, share: number): number {
  const at = share * (sorted.length - 1);
  const i = Math.floor(at);
  return sorted[i]! + (at - i) * (sorted[Math.min(sorted.length - 1, i + 1)]! - sorted[i]!);
}
function rangeOf(v: Float32Array, unit: number): Range {
  const s = Float32Array.from(v).sort();
  const [lo, hi] = [percentile(s, 0.02), percentile(s, 0.98)];
  const span = hi - lo;
  const widen = unit + 0.1 * span;
  return { from: lo - widen, to: hi + widen, fade: 1.5 * (unit + 0.15 * span) };
}
export function fitRanges(keep: Samples): SlantedRanges {
  const L = column(keep, 0);
  const n = L.length;
  const mean = (v: Float32Array): number => v.reduce((a, x) => a + x, 0) / n;
  const mL = mean(L);
  const vL = L.reduce((a, x) => a + (x - mL) ** 2, 0) / n;
  /** Regression, drawn gently towards the line through black where light hardly varies. */
  const slope = (c: number): number => {
    const v = column(keep, c);
    const m = mean(v);
    const cov = v.reduce((s, x, i) => s + (x - m) * (L[i]! - mL), 0) / n;
    const through = mL > 0.05 ? m / mL : 0;
    const pull = 0.03 ** 2;
    return (cov + pull * through) / (vL + pull);
  };
  const [slopeA, slopeB] = [slope(1), slope(2)];
  const rest = (c: number, k: number): Float32Array => column(keep, c).map((x, i) => x - k * L[i]!);
  return {
    slopeA,
    slopeB,
    L: rangeOf(L, UNIT.L),
    a: rangeOf(rest(1, slopeA), UNIT.a),
    b: rangeOf(rest(2, slopeB), UNIT.b),
  };
}
const inRange = (r: Range, v: number): number => {
  const d = Math.min(v - r.from, r.to - v) / r.fade + 0.5;
  return d <= 0 ? 0 : d >= 1 ? 1 : d;
};
export const rangesAt = (r: SlantedRanges, L: number, a: number, b: number): number =>
  Math.min(inRange(r.L, L), inRange(r.a, a - r.slopeA * L), inRange(r.b, b - r.slopeB * L));

/** k-means with fixed beginnings: the sample furthest from all middles so far; few rounds, since few samples matter. */
export function clusters(s: Samples, k: number): Float32Array {
  const n = s.length / 3;
  if (n === 0) return new Float32Array(0);
  const p = Float32Array.from(s, (v, i) => (i % 3 === 0 ? v * L_WEIGHT : v));
  const middles: number[] = [];
  const far = new Float32Array(n).fill(Infinity);
  // The first is the sample nearest to the mean.
  const mean = [0, 1, 2].map((c) => column(p, c).reduce((a, x) => a + x, 0) / n);
  let pick = 0;
  let best = Infinity;
  for (let i = 0; i < n; i++) {
    const d = (p[3 * i]! - mean[0]!) ** 2 + (p[3 * i + 1]! - mean[1]!) ** 2 + (p[3 * i + 2]! - mean[2]!) ** 2;
    if (d < best) [best, pick] = [d, i];
  }
  for (let j = 0; j < Math.min(k, n); j++) {
    middles.push(p[3 * pick]!, p[3 * pick + 1]!, p[3 * pick + 2]!);
    let most = -1;
    for (let i = 0; i < n; i++) {
      const d =
        (p[3 * i]! - middles[3 * j]!) ** 2 +
        (p[3 * i + 1]! - middles[3 * j + 1]!) ** 2 +
        (p[3 * i + 2]! - middles[3 * j + 2]!) ** 2;
      if (d < far[i]!) far[i] = d;
      if (far[i]! > most) [most, pick] = [far[i]!, i];
    }
  }
  const m = Float32Array.from(middles);
  const count = m.length / 3;
  for (let round = 0; round < 8; round++) {
    const sum = new Float64Array(4 * count);
    for (let i = 0; i < n; i++) {
      const j = nearest(m, p[3 * i]!, p[3 * i + 1]!, p[3 * i + 2]!);
      for (let c = 0; c < 3; c++) sum[4 * j + c]! += p[3 * i + c]!;
      sum[4 * j + 3]!++;
    }
    for (let j = 0; j < count; j++)
      if (sum[4 * j + 3]! > 0) for (let c = 0; c < 3; c++) m[3 * j + c] = sum[4 * j + c]! / sum[4 * j + 3]!;
  }
  return m;
}
function nearest(m: Float32Array, L: number, a: number, b: number): number {
  let j = 0;
  let best = Infinity;
  for (let i = 0; i < m.length; i += 3) {
    const d = (m[i]! - L) ** 2 + (m[i + 1]! - a) ** 2 + (m[i + 2]! - b) ** 2;
    if (d < best) [best, j] = [d, i / 3];
  }
  return j;
}
function distance(m: Float32Array, L: number, a: number, b: number): number {
  let best = Infinity;
  for (let i = 0; i < m.length; i += 3) {
    const u = m[i]! - L;
    const v = m[i + 1]! - a;
    const w = m[i + 2]! - b;
    best = Math.min(best, u * u + v * v + w * w);
  }
  return Math.sqrt(best);
}
export const fitNearness = (keep: Samples, leave: Samples): Nearness => ({
  keep: clusters(keep, KEEP_CLUSTERS),
  leave: clusters(leave, LEAVE_CLUSTERS),
});
/** Full to nothing over a difference of NEAR between how far what is left and what is kept lie. */
export function nearnessAt(n: Nearness, L: number, a: number, b: number): number {
  const w = L * L_WEIGHT;
  const k = distance(n.keep, w, a, b);
  // How far what is left lies is not asked where it no longer matters.
  if (k >= NOTHING * NEAR) return 0;
  const l = n.leave.length ? Math.min(NEAR, distance(n.leave, w, a, b)) : NEAR;
  const d = (l - k) / NEAR + 0.5;
  return d <= 0 ? 0 : d >= 1 ? 1 : d;
}

const widthOf = (r: Range): number => r.to - r.from;
const oneSurface = (a: SlantedRanges, b: SlantedRanges, both: SlantedRanges): boolean =>
  (['a', 'b'] as const).every((c) => widthOf(both[c]) <= Math.max(widthOf(a[c]), widthOf(b[c])) + WIDER);
const joined = (all: readonly Samples[]): Samples => {
  const out = new Float32Array(all.reduce((n, s) => n + s.length, 0));
  let at = 0;
  for (const s of all) {
    out.set(s, at);
    at += s.length;
  }
  return out;
};
/**
 * Strokes that light alone tells apart are of one surface: one range holds them and what lies between. A stroke on
 * something else, as lips or a shadow of another hue, is a range of its own: one for both would take every colour
 * between them. The two that fit best are joined first.
 *
 * @param strokes the samples of each, at least one
 */
export function surfaces(strokes: readonly Samples[]): SlantedRanges[] {
  interface Group {
    samples: Samples;
    fit: SlantedRanges;
  }
  interface Pair {
    of: [Group, Group];
    both: Group;
    width: number;
  }
  const groupOf = (samples: Samples): Group => ({ samples, fit: fitRanges(samples) });
  let groups: Group[] = [];
  // Each pair is fitted once: there may be many strokes.
  let pairs: Pair[] = [];
  const add = (two: Group): void => {
    for (const one of groups) {
      const both = groupOf(joined([one.samples, two.samples]));
      const width = widthOf(both.fit.a) + widthOf(both.fit.b);
      if (oneSurface(one.fit, two.fit, both.fit)) pairs.push({ of: [one, two], both, width });
    }
    groups.push(two);
  };
  for (const samples of strokes) add(groupOf(samples));
  while (pairs.length > 0) {
    const { of, both } = pairs.reduce((best, pair) => (pair.width < best.width ? pair : best));
    groups = groups.filter((g) => !of.includes(g));
    pairs = pairs.filter((pair) => !pair.of.some((g) => of.includes(g)));
    add(both);
  }
  return groups.map((g) => g.fit);
}
/** @param keep the samples of each stroke; of all in one, where all are one surface */
export const fitModel = (keep: readonly Samples[], leave: Samples): Model => ({
  ranges: surfaces(keep),
  near: fitNearness(joined(keep), leave),
});
export const modelAt = (m: Model, L: number, a: number, b: number): number => {
  let most = 0;
  for (const r of m.ranges) most = Math.max(most, rangesAt(r, L, a, b));
  return 0.5 * (most + nearnessAt(m.near, L, a, b));
};

/**
 * `modelAt` of every colour of a picture, to the bit: asked of each pixel whenever strokes change.
 *
 * @param L,a,b OKLab, a plane each
 */
export type Modelled = (m: Model, L: Float32Array, a: Float32Array, b: Float32Array) => Float32Array;
let over: Modelled = modelled;
/** Another way to do the same to the bit, from now on in this thread: its twin in WebAssembly (engine/growing.ts). */
export function modelBy(other: Modelled): void {
  over = other;
}
export const modelOver: Modelled = (...of) => over(...of);
/** As defined; see Modelled. */
export function modelled(m: Model, L: Float32Array, a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(L.length);
  for (let i = 0; i < out.length; i++) out[i] = modelAt(m, L[i]!, a[i]!, b[i]!);
  return out;
}
