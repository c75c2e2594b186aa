/**
 * Blotches evened out: hue, and chroma in proportion to luma, drawn towards a mean; luma stays. In the plane of (Cb,
 * Cr), turned so that the mean hue lies along the first axis, p is the part along it and q the part across. q shrinks
 * by the strength, p moves towards what the mean has at this pixel's luma. Both by a biweight of the angle (J. W.
 * Tukey, "Exploratory data analysis", 1977, chapter 14), which is exactly nothing from the reach on, and by another of
 * how far chroma lies off: what is grey, or another colour, keeps its bits.
 */
import { DEG } from '../../math/angle';
import { definePixelOp } from '../../op/contract';
import { formatNumber } from '../../op/words';
import { params } from './params';

const [KR, KG, KB] = [0.2126, 0.7152, 0.0722];
const [CB, CR] = [1.8556, 1.5748];
/** Chroma that differs from the mean's by this share of it is another thing. */
const FAR = 0.9;

export default definePixelOp<typeof params>({
  id: 'evenness',
  title: 'Evenness',
  doc:
    'Evens out blotches of skin: hue and chroma are drawn towards the mean of the region, colours further off than ' +
    'the reach stay as they are. Luma stays, and with it texture and modelling.',
  version: 1,
  params,
  refs: ['ITU-R BT.709-6 item 3.2', 'J. W. Tukey, "Exploratory data analysis", 1977, chapter 14'],
  edge:
    'Luma stays within 1e-6. Where luma is 0 or less, and where a channel is NaN or infinite, the pixel keeps its ' +
    'bits. Strength 0 changes nothing.',
  migrations: [],
  /** Block: cos and sin of the mean hue, 1 / tan of the reach, mean chroma over luma, strengths of hue and chroma. */
  prepare: ({ strengthPct, chromaPct, hueDeg, perLumaPct, reachDeg }) =>
    Float32Array.of(
      Math.cos(hueDeg / DEG),
      Math.sin(hueDeg / DEG),
      1 / Math.tan(reachDeg / DEG),
      perLumaPct / 100,
      strengthPct / 100,
      (strengthPct / 100) * (chromaPct / 100),
    ),
  kernel(k, { r, g, b, n }) {
    const [cos, sin, steep, per, hue, chroma] = [k[0]!, k[1]!, k[2]!, k[3]!, k[4]!, k[5]!];
    for (let i = 0; i < n; i++) {
      const [R, G, B] = [r[i]!, g[i]!, b[i]!];
      const y = KR * R + KG * G + KB * B;
      const [u, v] = [(B - y) / CB, (R - y) / CR];
      const p = u * cos + v * sin;
      if (!(y > 0) || !(p > 0) || y === Infinity) continue;
      const q = v * cos - u * sin;
      const across = (q * steep) / p;
      const off = p - per * y;
      const far = off / (FAR * per * y);
      const a = 1 - across * across;
      const c = 1 - far * far;
      if (!(a > 0) || !(c > 0)) continue;
      const weight = a * a * c * c;
      const dq = -q * hue * weight;
      const dp = -off * chroma * weight;
      const du = dp * cos - dq * sin;
      const dv = dp * sin + dq * cos;
      r[i] = R + CR * dv;
      b[i] = B + CB * du;
      g[i] = G - (KR * CR * dv + KB * CB * du) / KG;
    }
  },
  isNoOp: (p) => p.strengthPct === 0,
  say: (p) => [`evened by ${formatNumber(p.strengthPct, 0)} %`],
  brief: (p) => `${formatNumber(p.strengthPct, 0)} %`,
});
