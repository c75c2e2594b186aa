import { defineKeyOp } from '../../op/contract';
import type { MatteRun, PixelRun } from '../../op/contract';
import { CB_DIV, CR_DIV, KB, KG, KR } from '../../color/ycbcr';
import { DEG, wrap180, wrap360 } from '../../math/angle';
import { rangesFromCentres } from './migrate';
import { formatNumber } from '../../op/words';
import { params } from './params';

/** A softness of 0 is a hard edge: the fall is this steep, so that it happens within rounding. */
const HARD = 1e9;
const inv = (soft: number): number => (soft > 0 ? 1 / soft : HARD);

/** Full (1) where the distance from the centre is at most `half`, Hermite fall over the fade of that side outside. */
function fall(d: number, half: number, invBelow: number, invAbove: number): number {
  const t = 1 - (Math.abs(d) - half) * (d < 0 ? invBelow : invAbove);
  return t >= 1 ? 1 : t > 0 ? t * t * (3 - 2 * t) : 0;
}

/** Degrees from the beginning of a hue range to its end, counter-clockwise: 0..360. */
export function hueWidth(from: number, to: number): number {
  if (to - from >= 360) return 360;
  return to >= from ? to - from : wrap360(to - from);
}

/** Where a key that leans with light measures saturation, in % of luma. */
export const MID_LUMA = 50;

function kernel(k: Float32Array, { r, g, b, m, n }: PixelRun & MatteRun): void {
  const [
    hueOn,
    hueC,
    hueHalf,
    hueBelow,
    hueAbove,
    satOn,
    satC,
    satHalf,
    satBelow,
    satAbove,
    lumaOn,
    lumaC,
    lumaHalf,
    lumaBelow,
    lumaAbove,
    guardLo,
    guardInv,
    lean,
  ] = k as unknown as number[] & { length: 18 };
  for (let i = 0; i < n; i++) {
    const R = r[i]!;
    const B = b[i]!;
    const y = KR * R + KG * g[i]! + KB * B;
    const cb = (B - y) / CB_DIV;
    const cr = (R - y) / CR_DIV;
    const chroma = 200 * Math.sqrt(cb * cb + cr * cr);
    let v = 1;
    if (lumaOn) v = fall(100 * y - lumaC!, lumaHalf!, lumaBelow!, lumaAbove!);
    if (satOn) v = Math.min(v, fall(chroma - lean! * (100 * y - MID_LUMA) - satC!, satHalf!, satBelow!, satAbove!));
    if (hueOn) {
      let d = Math.atan2(cr, cb) * DEG - hueC!;
      if (d > 180) d -= 360;
      else if (d < -180) d += 360;
      v = Math.min(v, fall(d, hueHalf!, hueBelow!, hueAbove!), 1 - fall(chroma, guardLo!, guardInv!, guardInv!));
    }
    m[i] = v >= 0 && Number.isFinite(R) && Number.isFinite(g[i]!) && Number.isFinite(B) ? v : 0;
  }
}

export default defineKeyOp<typeof params>({
  id: 'key',
  title: 'Key',
  doc:
    'Full where hue, saturation (chroma) and luma all lie in their ranges; the three are joined by ' +
    'their minimum, so that two soft edges do not soften each other. Each range can be off.',
  version: 2,
  params,
  refs: ['ITU-R BT.709-6 item 3.2, 3.3', 'common practice: hue, saturation and luma limits'],
  edge:
    'NaN or infinity in any channel gives 0. Values below 0 and above 1 are measured as they are. A ' +
    'fade of 0 is a hard edge that belongs to the range. A ' +
    'hue range whose end is a whole turn or more behind its beginning is the whole circle.',
  migrations: [{ from: 1, up: rangesFromCentres }],
  /**
   * Block: on, centre, half width, 1 / fade below, 1 / fade above for hue, saturation, luma; then neutral guard start
   * and 1 / length, and lean.
   */
  prepare(p) {
    const width = hueWidth(p.hueFromDeg, p.hueToDeg);
    // The centre is kept in -180..180, as atan2 gives it, so that the kernel wraps only once.
    const hueC = wrap180(p.hueFromDeg + width / 2);
    return Float32Array.of(
      p.hueOn ? 1 : 0,
      hueC,
      width / 2,
      inv(p.hueFadeFromDeg),
      inv(p.hueFadeToDeg),
      p.satOn ? 1 : 0,
      (p.satFromPct + p.satToPct) / 2,
      // A range that ends before it begins holds nothing but its middle.
      Math.max(0, (p.satToPct - p.satFromPct) / 2),
      inv(p.satFadeFromPct),
      inv(p.satFadeToPct),
      p.lumaOn ? 1 : 0,
      (p.lumaFromPct + p.lumaToPct) / 2,
      Math.max(0, (p.lumaToPct - p.lumaFromPct) / 2),
      inv(p.lumaFadeFromPct),
      inv(p.lumaFadeToPct),
      p.neutralPct > 0 ? p.neutralPct / 2 : -1,
      p.neutralPct > 0 ? 1 / p.neutralPct : HARD,
      p.leanPct / 100,
    );
  },
  kernel,
  say: (p) => {
    const deg = (v: number): string => String(Math.round(wrap360(v)));
    const pct = (v: number): string => formatNumber(v, 0);
    return [
      ...(!p.hueOn
        ? []
        : hueWidth(p.hueFromDeg, p.hueToDeg) >= 360
          ? ['any hue']
          : [`hue is ${deg(p.hueFromDeg)}\u2013${deg(p.hueToDeg)}\u00b0`]),
      ...(p.satOn
        ? [
            `saturation ${pct(Math.max(0, p.satFromPct))}\u2013${pct(p.satToPct)} %` +
              (p.leanPct === 0 ? '' : `, ${formatNumber(p.leanPct, 0, true)} % with light`),
          ]
        : []),
      ...(p.lumaOn ? [`luma ${pct(p.lumaFromPct)}\u2013${pct(p.lumaToPct)} %`] : []),
    ];
  },
});
