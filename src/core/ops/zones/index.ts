import { luma, ycbcrToRgb } from '../../color/ycbcr';
import { definePixelOp } from '../../op/contract';
import type { PixelRun } from '../../op/contract';
import { params, zoneNames } from './params';

const step = (t: number): number => {
  const c = t > 0 ? (t < 1 ? t : 1) : 0;
  return c * c * (3 - 2 * c);
};
/** Share of each zone at a luma; the five add up to 1. Borders that cross are taken in rising order. */
export function zoneWeights(y: number, borders: readonly number[], soft: number): number[] {
  const s = [...borders].sort((a, b) => a - b).map((b) => step((y - b) / soft + 0.5));
  return [1 - s[0]!, s[0]! - s[1]!, s[1]! - s[2]!, s[2]! - s[3]!, s[3]!];
}

function kernel(k: Float32Array, { r, g, b, n }: PixelRun): void {
  const inv = k[4]!;
  for (let i = 0; i < n; i++) {
    const R = r[i]!;
    const G = g[i]!;
    const B = b[i]!;
    const y = luma(R, G, B);
    let ar = k[8]!;
    let ag = k[9]!;
    let ab = k[10]!;
    let s = k[11]!;
    for (let j = 0; j < 4; j++) {
      const w = step(y * inv + k[j]!);
      ar += w * k[12 + 4 * j]!;
      ag += w * k[13 + 4 * j]!;
      ab += w * k[14 + 4 * j]!;
      s += w * k[15 + 4 * j]!;
    }
    r[i] = R + ar + s * (R - y);
    g[i] = G + ag + s * (G - y);
    b[i] = B + ab + s * (B - y);
  }
}

export default definePixelOp<typeof params>({
  id: 'zones',
  title: 'Tonal zones',
  doc:
    'Five bands of luma from deep to top with movable borders, each with level, colour push and ' +
    'saturation. A pixel takes the mean of the zones, weighted by its share in each: smooth steps ' +
    'between neighbours, which add up to 1 everywhere.',
  version: 1,
  params,
  refs: ['ITU-R BT.709-6 items 3.2, 3.3: luma and colour differences', 'common practice: tonal ranges with overlaps'],
  edge:
    'Nothing clamps: below the first border all is deep, above the last all is top. NaN spreads to ' +
    'all three channels.',
  migrations: [],
  /**
   * Block: 4 offsets of the steps (0.5 - border / soft), 1 / soft, 3 unused; then R, G, B push and saturation - 1 of
   * the deep
   * zone, and the differences from zone to zone.
   */
  prepare(p) {
    const out = new Float32Array(28);
    const soft = p.softPct / 100;
    const borders = [p.border1Pct, p.border2Pct, p.border3Pct, p.border4Pct].sort((a, b) => a - b);
    borders.forEach((b, i) => (out[i] = 0.5 - b / 100 / soft));
    out[4] = 1 / soft;
    let last = [0, 0, 0, 0];
    zoneNames.forEach((z, i) => {
      const push = ycbcrToRgb(p[`${z}Level`] / 100, p[`${z}Cb`] / 200, p[`${z}Cr`] / 200);
      const v = [...push, p[`${z}Sat`] / 100 - 1];
      v.forEach((x, c) => (out[8 + 4 * i + c] = x - last[c]!));
      last = v;
    });
    return out;
  },
  kernel,
  isNoOp: (p) =>
    zoneNames.every((z) => p[`${z}Level`] === 0 && p[`${z}Cb`] === 0 && p[`${z}Cr`] === 0 && p[`${z}Sat`] === 100),
});
