import { defineKeyOp } from '../../op/contract';
import type { MatteRun, PixelRun } from '../../op/contract';
import { CB_DIV, CR_DIV, KB, KG, KR } from '../../color/ycbcr';
import { DEG } from '../../math/angle';
import { params } from './params';

/** A softness of 0 is a hard edge: the fall is this steep, so that it happens within rounding. */
const HARD = 1e9;
const inv = (soft: number): number => (soft > 0 ? 1 / soft : HARD);

/** Full (1) where the distance from the centre is at most `half`, Hermite fall over the softness outside. */
function fall(distance: number, half: number, invSoft: number): number {
  const t = 1 - (distance - half) * invSoft;
  return t >= 1 ? 1 : t > 0 ? t * t * (3 - 2 * t) : 0;
}

function kernel(k: Float32Array, { r, g, b, m, n }: PixelRun & MatteRun): void {
  const [hueOn, hueC, hueHalf, hueInv, satOn, satC, satHalf, satInv, lumaOn, lumaC, lumaHalf, lumaInv, guardLo, guardInv] = k as unknown as number[] & { length: 14 };
  for (let i = 0; i < n; i++) {
    const R = r[i]!;
    const B = b[i]!;
    const y = KR * R + KG * g[i]! + KB * B;
    const cb = (B - y) / CB_DIV;
    const cr = (R - y) / CR_DIV;
    const chroma = 200 * Math.sqrt(cb * cb + cr * cr);
    let v = 1;
    if (lumaOn) v = fall(Math.abs(100 * y - lumaC!), lumaHalf!, lumaInv!);
    if (satOn) v = Math.min(v, fall(Math.abs(chroma - satC!), satHalf!, satInv!));
    if (hueOn) {
      let d = Math.abs(Math.atan2(cr, cb) * DEG - hueC!);
      if (d > 360) d -= 360;
      d = Math.min(d, 360 - d);
      v = Math.min(v, fall(d, hueHalf!, hueInv!), 1 - fall(chroma, guardLo!, guardInv!));
    }
    m[i] = v >= 0 && Number.isFinite(R) && Number.isFinite(g[i]!) && Number.isFinite(B) ? v : 0;
  }
}

export default defineKeyOp<typeof params>({
  id: 'key',
  title: 'Key',
  doc: 'Full where hue, saturation (chroma) and luma all lie in their ranges; the three are joined by their minimum, so that two soft edges do not soften each other. Each range can be off.',
  version: 1,
  params,
  refs: ['ITU-R BT.709-6 item 3.2, 3.3', 'common practice: hue, saturation and luma limits'],
  edge: 'NaN or infinity in any channel gives 0. Values below 0 and above 1 are measured as they are. A softness of 0 is a hard edge that belongs to the range.',
  migrations: [],
  /** Block: on, centre, half width, 1 / softness for hue, saturation, luma; then neutral guard start and 1 / length. */
  prepare(p) {
    // Hue centre is kept in -180..180, as atan2 gives it, so that the kernel wraps only once.
    const hueC = p.hueCentreDeg > 180 ? p.hueCentreDeg - 360 : p.hueCentreDeg;
    return Float32Array.of(
      p.hueOn ? 1 : 0, hueC, p.hueWidthDeg / 2, inv(p.hueSoftDeg),
      p.satOn ? 1 : 0, p.satCentrePct, p.satWidthPct / 2, inv(p.satSoftPct),
      p.lumaOn ? 1 : 0, p.lumaCentrePct, p.lumaWidthPct / 2, inv(p.lumaSoftPct),
      p.neutralPct > 0 ? p.neutralPct / 2 : -1, p.neutralPct > 0 ? 1 / p.neutralPct : HARD,
    );
  },
  kernel,
});
