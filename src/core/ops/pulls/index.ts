/**
 * Chroma pulls: colours are drawn where they should be on the vectorscope, the rest is held, and what lies between
 * goes along smoothly (field.ts). The shift is added to (Cb, Cr), luma stays but for the change of level.
 */
import { definePixelOp } from '../../op/contract';
import { CB_DIV, CR_DIV, G_CB, G_CR, KB, KG, KR } from '../../color/ycbcr';
import { fieldOf, holdsOf, pullsOf } from './field';
import { params } from './params';

const HEAD = 3;
const EACH = 5;
const count = (n: number, what: string): string => `${n} ${what}${n === 1 ? '' : 's'}`;

export default definePixelOp<typeof params>({
  id: 'pulls',
  title: 'Chroma pulls',
  doc:
    'Draws colours to where they should be on the vectorscope, each with a change of level, and holds others; what ' +
    'lies between goes along, beyond the reach of every pull nothing moves. Neutral stays neutral.',
  version: 1,
  params,
  refs: [
    'H. Wendland, "Piecewise polynomial, positive definite and compactly supported radial functions of minimal ' +
      'degree", Advances in Computational Mathematics 4, 1995, 389',
    'ITU-R BT.709-6 item 3.2',
  ],
  edge: 'Where a channel is NaN or infinite, and beyond every reach, the pixel keeps its bits.',
  migrations: [],
  /** Block: places, 1 / reach, its square; of each place Cb, Cr, its weights of Cb, Cr and level. */
  prepare: (p) => {
    const f = fieldOf(p);
    const block = new Float32Array(HEAD + EACH * f.centres.length);
    block.set([f.centres.length, 1 / f.reach, 1 / f.reach ** 2]);
    for (const [i, c] of f.centres.entries()) block.set([c.x, c.y, c.u, c.v, c.level], HEAD + EACH * i);
    return block;
  },
  kernel(k, { r, g, b, n }) {
    const [places, per, per2] = [k[0]!, k[1]!, k[2]!];
    for (let i = 0; i < n; i++) {
      const [R, G, B] = [r[i]!, g[i]!, b[i]!];
      const y = KR * R + KG * G + KB * B;
      const [cb, cr] = [(B - y) / CB_DIV, (R - y) / CR_DIV];
      let [u, v, level, some] = [0, 0, 0, false];
      for (let j = 0; j < places; j++) {
        const at = HEAD + EACH * j;
        const [dx, dy] = [cb - k[at]!, cr - k[at + 1]!];
        const far = (dx * dx + dy * dy) * per2;
        if (!(far < 1)) continue;
        some = true;
        const s = Math.sqrt(far > 0 ? dx * dx + dy * dy : 0) * per;
        const t = (1 - s) * (1 - s);
        const w = t * t * (4 * s + 1);
        u += k[at + 2]! * w;
        v += k[at + 3]! * w;
        level += k[at + 4]! * w;
      }
      if (!some) continue;
      const l = level * y;
      r[i] = R + CR_DIV * v + l;
      g[i] = G + G_CB * u + G_CR * v + l;
      b[i] = B + CB_DIV * u + l;
    }
  },
  isNoOp: (p) => pullsOf(p.pulls).every((q) => q.from[0] === q.to[0] && q.from[1] === q.to[1] && q.levelPct === 0),
  say: (p) => {
    const holds = holdsOf(p.holds).length;
    return [`${count(pullsOf(p.pulls).length, 'colour')} pulled${holds > 0 ? `, ${holds} held` : ''}`];
  },
  brief: (p) => count(pullsOf(p.pulls).length, 'pull'),
});
