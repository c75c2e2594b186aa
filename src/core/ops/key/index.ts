import { defineKeyOp } from '../../op/contract';
import type { MatteRun, PixelRun } from '../../op/contract';
import { CB_DIV, CR_DIV, KB, KG, KR } from '../../color/ycbcr';
import { labOf, lightBlock } from '../../matte/light';
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

/** Where the way to OKLab stands in the block. */
const LIGHT = 19;
/** Chroma in % of 0.4, as CSS Color 4 tells it: OKLab's a and b in units of Cb and Cr. */
const CHROMA = 250;

/** Chroma in % of OKLCh below which the hue of a grey is nothing but rounding. */
const ROUNDING = 0.1;

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
    perceptual,
  ] = k as unknown as number[] & { length: 19 };
  for (let i = 0; i < n; i++) {
    const R = r[i]!;
    const B = b[i]!;
    const y = KR * R + KG * g[i]! + KB * B;
    const [light, across, up] = perceptual ? labOf(k, LIGHT, R, g[i]!, B) : [y, (B - y) / CB_DIV, (R - y) / CR_DIV];
    const luma = 100 * light;
    const chroma = (perceptual ? CHROMA : 200) * Math.sqrt(across * across + up * up);
    let v = 1;
    if (lumaOn) v = fall(luma - lumaC!, lumaHalf!, lumaBelow!, lumaAbove!);
    if (satOn) v = Math.min(v, fall(chroma - lean! * (luma - MID_LUMA) - satC!, satHalf!, satBelow!, satAbove!));
    if (hueOn) {
      let d = Math.atan2(up, across) * DEG - hueC!;
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
    'their minimum, so that two soft edges do not soften each other. Each range can be off. They are measured as the ' +
    'scopes do (BT.709), or in OKLCh, where equal steps look about equal: hue there is its angle, saturation its ' +
    'chroma in % of 0.4, luma its lightness.',
  version: 2,
  params,
  refs: [
    'ITU-R BT.709-6 item 3.2, 3.3',
    'OKLab: B. Ottosson, "A perceptual color space for image processing", 2020; percentages of W3C CSS Color 4',
    'common practice: hue, saturation and luma limits',
  ],
  edge:
    'NaN or infinity in any channel gives 0. Values below 0 and above 1 are measured as they are. A ' +
    'fade of 0 is a hard edge that belongs to the range. A ' +
    'hue range whose end is a whole turn or more behind its beginning is the whole circle. In OKLCh signal below 0 ' +
    'counts as 0, above 1 as 1, and the guard is at least 0.1 %.',
  migrations: [{ from: 1, up: rangesFromCentres }],
  /**
   * Block: on, centre, half width, 1 / fade below, 1 / fade above for hue, saturation, luma; then neutral guard start
   * and 1 / length, lean, whether in OKLab, and then the way there.
   */
  prepare(p, { encoding }) {
    const width = hueWidth(p.hueFromDeg, p.hueToDeg);
    const guard = p.space === 'oklch' ? Math.max(p.neutralPct, ROUNDING) : p.neutralPct;
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
      guard > 0 ? guard / 2 : -1,
      guard > 0 ? 1 / guard : HARD,
      p.leanPct / 100,
      p.space === 'oklch' ? 1 : 0,
      ...(p.space === 'oklch' ? lightBlock(encoding) : []),
    );
  },
  kernel,
  say: (p) => {
    const deg = (v: number): string => String(Math.round(wrap360(v)));
    const pct = (v: number): string => formatNumber(v, 0);
    const [hue, sat, luma] = p.space === 'oklch' ? ['OKLCh hue', 'chroma', 'lightness'] : ['hue', 'saturation', 'luma'];
    return [
      ...(!p.hueOn
        ? []
        : hueWidth(p.hueFromDeg, p.hueToDeg) >= 360
          ? [`any ${hue}`]
          : [`${hue} is ${deg(p.hueFromDeg)}\u2013${deg(p.hueToDeg)}\u00b0`]),
      ...(p.satOn
        ? [
            `${sat} ${pct(Math.max(0, p.satFromPct))}\u2013${pct(p.satToPct)} %` +
              (p.leanPct === 0 ? '' : `, ${formatNumber(p.leanPct, 0, true)} % with light`),
          ]
        : []),
      ...(p.lumaOn ? [`${luma} ${pct(p.lumaFromPct)}\u2013${pct(p.lumaToPct)} %`] : []),
    ];
  },
});
