/** CIE L*a*b* (CIE 15:2018) from display R'G'B' with BT.709 primaries and D65, and the CIEDE2000 difference. */
import type { TransferCurve } from './transfer';
import { DEG } from '../math/angle';

/** BT.709 primaries, D65 (x 0.3127, y 0.3290): rows of RGB -> XYZ. */
const M = [
  [0.4123907992659594, 0.35758433938387796, 0.1804807884018343],
  [0.21263900587151027, 0.7151686787677559, 0.07219231536073371],
  [0.01933081871559182, 0.11919477979462598, 0.9505321522496607],
] as const;
const WHITE = [0.9504559270516716, 1, 1.0890577507598784] as const;

const f = (t: number): number => (t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116);

export type Lab = readonly [number, number, number];

/** Linear BT.709 RGB -> L*a*b* relative to D65. */
export function linearToLab(r: number, g: number, b: number): Lab {
  const x = f((M[0][0] * r + M[0][1] * g + M[0][2] * b) / WHITE[0]);
  const y = f(M[1][0] * r + M[1][1] * g + M[1][2] * b);
  const z = f((M[2][0] * r + M[2][1] * g + M[2][2] * b) / WHITE[2]);
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

/** Display R'G'B' -> L*a*b* through the curve of the shot's encoding. */
export function displayToLab(curve: TransferCurve, r: number, g: number, b: number): Lab {
  return linearToLab(curve.decode(r), curve.decode(g), curve.decode(b));
}

/**
 * CIEDE2000 with kL = kC = kH = 1: Sharma, Wu, Dalal, "The CIEDE2000 color-difference formula", 2005,
 * equations 2-22. Symmetric; 0 for equal colours.
 */
export function ciede2000(p: Lab, q: Lab): number {
  const c1 = Math.hypot(p[1], p[2]);
  const c2 = Math.hypot(q[1], q[2]);
  const cm7 = ((c1 + c2) / 2) ** 7;
  const g = 0.5 * (1 - Math.sqrt(cm7 / (cm7 + 25 ** 7)));
  const a1 = (1 + g) * p[1];
  const a2 = (1 + g) * q[1];
  const C1 = Math.hypot(a1, p[2]);
  const C2 = Math.hypot(a2, q[2]);
  const hue = (a: number, b: number): number => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) * DEG + 360) % 360);
  const h1 = hue(a1, p[2]);
  const h2 = hue(a2, q[2]);
  const dL = q[0] - p[0];
  const dC = C2 - C1;
  let dh = C1 * C2 === 0 ? 0 : h2 - h1;
  if (dh > 180) dh -= 360;
  else if (dh < -180) dh += 360;
  const dH = 2 * Math.sqrt(C1 * C2) * Math.sin(dh / 2 / DEG);
  const Lm = (p[0] + q[0]) / 2;
  const Cm = (C1 + C2) / 2;
  let hm = h1 + h2;
  if (C1 * C2 !== 0) {
    if (Math.abs(h1 - h2) <= 180) hm /= 2;
    else hm = (hm + (hm < 360 ? 360 : -360)) / 2;
  }
  const cos = (deg: number): number => Math.cos(deg / DEG);
  const T = 1 - 0.17 * cos(hm - 30) + 0.24 * cos(2 * hm) + 0.32 * cos(3 * hm + 6) - 0.2 * cos(4 * hm - 63);
  const turn = 30 * Math.exp(-(((hm - 275) / 25) ** 2));
  const Cm7 = Cm ** 7;
  const RC = 2 * Math.sqrt(Cm7 / (Cm7 + 25 ** 7));
  const l50 = (Lm - 50) ** 2;
  const SL = 1 + (0.015 * l50) / Math.sqrt(20 + l50);
  const SC = 1 + 0.045 * Cm;
  const SH = 1 + 0.015 * Cm * T;
  const RT = -Math.sin((2 * turn) / DEG) * RC;
  const l = dL / SL;
  const c = dC / SC;
  const h = dH / SH;
  return Math.sqrt(Math.max(0, l * l + c * c + h * h + RT * c * h));
}
