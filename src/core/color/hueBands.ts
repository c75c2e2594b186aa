/** Bands that a picture's own hues fall into, and what they are called. */

/** Hues (BT.709 angle, degrees) of the primaries and secondaries by ITU-R BT.709-6, and of what lies between them. */
const NAMES: readonly (readonly [string, number])[] = [
  ['violet', 22],
  ['magenta', 49.68],
  ['rose', 76],
  ['red', 102.91],
  ['orange', 139],
  ['yellow', 174.76],
  ['lime', 202],
  ['green', 229.68],
  ['teal', 256],
  ['cyan', 282.91],
  ['azure', 319],
  ['blue', 354.76],
];
const apart = (a: number, b: number): number => Math.abs(((((a - b) % 360) + 540) % 360) - 180);
export const nameOfHue = (deg: number): string =>
  NAMES.reduce((a, b) => (apart(b[1], deg) < apart(a[1], deg) ? b : a))[0];

/** Spread of the smoothing, in degrees: narrower dips are chance. */
const SIGMA_DEG = 9;
/** Of the lower of the two tops beside it, a valley goes down to this share at least. */
const DIP = 0.75;

function smoothed(bins: readonly number[]): number[] {
  const n = bins.length;
  const step = 360 / n;
  const reach = Math.ceil((3 * SIGMA_DEG) / step);
  return bins.map((_, i) => {
    let sum = 0;
    for (let d = -reach; d <= reach; d++)
      sum += bins[(((i + d) % n) + n) % n]! * Math.exp(-((d * step) ** 2) / (2 * SIGMA_DEG ** 2));
    return sum;
  });
}
/** A band of at least so many degrees can be cut. */
const NARROW = 16;
const isIn = (deg: number, from: number, width: number): boolean => (((deg - from) % 360) + 360) % 360 < width;
const centreOf = (i: number, n: number): number => ((i + 0.5) * 360) / n;
const muchIn = (bins: readonly number[], from: number, width: number): number =>
  bins.reduce((a, v, i) => (isIn(centreOf(i, bins.length), from, width) ? a + v : a), 0);
/** Half of what a band holds lies on either side of it; no nearer to a border than a quarter of the band. */
function middleOf(bins: readonly number[], from: number, width: number): number {
  const [n, half] = [bins.length, muchIn(bins, from, width) / 2];
  let [sum, at] = [0, 0.5];
  for (let d = 0; d < width && half > 0; d++) {
    const step = bins[Math.floor((((from + d) % 360) * n) / 360)]! / (360 / n);
    sum += step;
    if (sum >= half) {
      at = (d + 0.5) / width;
      break;
    }
  }
  return from + width * Math.min(0.75, Math.max(0.25, at));
}
/**
 * Borders between the bands of a picture, rising, in whole degrees: at the valleys of how often each hue is there, the
 * deepest first. Where the picture has fewer, the band that holds most of it is cut through its middle, until there are
 * enough.
 *
 * @param bins how much there is of each hue, over the circle from 0 degrees on
 * @param count how many bands; null: as many as there are valleys, 3 to 8
 */
export function findBands(bins: readonly number[], count: number | null): number[] {
  const n = bins.length;
  const s = smoothed(bins);
  const at = (i: number): number => s[((i % n) + n) % n]!;
  // Valleys by the flat middle of each; a circle without light has none.
  let valleys: number[] = [];
  for (let i = 0; i < n; i++) {
    if (!(at(i) < at(i - 1))) continue;
    let end = i;
    while (at(end + 1) === at(i) && end - i < n) end++;
    if (at(end + 1) > at(i)) valleys.push(Math.round((i + end) / 2) % n);
  }
  valleys = [...new Set(valleys)].sort((a, b) => a - b);
  const top = (from: number, to: number): number => {
    let most = 0;
    for (let i = from; i !== to; i = (i + 1) % n) most = Math.max(most, s[i]!);
    return most;
  };
  /** How shallow a valley is: 1 where it is none. */
  const shallow = (k: number): number => {
    const v = valleys[k]!;
    const before = valleys[(k + valleys.length - 1) % valleys.length]!;
    const behind = valleys[(k + 1) % valleys.length]!;
    const low = valleys.length < 2 ? top(v, (v + n - 1) % n) : Math.min(top(before, v), top(v, behind));
    return low > 0 ? s[v]! / low : 1;
  };
  const most = count ?? 8;
  for (;;) {
    if (valleys.length <= 1) break;
    const worst = valleys.map((_, k) => shallow(k)).reduce((a, v, k, all) => (v > all[a]! ? k : a), 0);
    if (valleys.length <= most && (count !== null || shallow(worst) <= DIP)) break;
    valleys.splice(worst, 1);
  }
  const borders = valleys.map((v) => Math.round(((v + 0.5) * 360) / n) % 360);
  const fewest = count ?? 3;
  if (borders.length === 0) borders.push(0);
  while (borders.length < fewest) {
    const width = (i: number): number => {
      const d = borders[(i + 1) % borders.length]! - borders[i]!;
      return d > 0 ? d : d + 360;
    };
    const bands = borders.map((b, i) => ({ b, width: width(i), much: muchIn(bins, b, width(i)) }));
    // Where most of the picture is, a band is worth most; too narrow to be cut, or all alike: the widest.
    const wide = bands.filter((x) => x.width >= NARROW);
    const most = wide.reduce((a, x) => (x.much > a.much || (x.much === a.much && x.width > a.width) ? x : a), wide[0]!);
    borders.push(Math.round(middleOf(bins, most.b, most.width)) % 360);
    borders.sort((a, b) => a - b);
  }
  return borders.sort((a, b) => a - b);
}
/** What a band from one border to the next is called by what is in it, and its share of all that has a hue. */
export function bandFound(bins: readonly number[], from: number, to: number): { name: string; share: number } {
  const n = bins.length;
  const width = (((to - from) % 360) + 360) % 360 || 360;
  let [x, y, sum] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const deg = ((i + 0.5) * 360) / n;
    if ((((deg - from) % 360) + 360) % 360 >= width) continue;
    sum += bins[i]!;
    x += bins[i]! * Math.cos((deg * Math.PI) / 180);
    y += bins[i]! * Math.sin((deg * Math.PI) / 180);
  }
  const all = bins.reduce((a, b) => a + b, 0);
  const mean = sum > 0 ? (Math.atan2(y, x) * 180) / Math.PI : from + width / 2;
  return { name: nameOfHue(mean), share: all > 0 ? sum / all : 0 };
}
