import { describe, expect, it } from 'vitest';
import { opContract } from '../../../../testkit/opContract';
import { DEG } from '../../math/angle';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { TidyFrameOp } from '../../op/contract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 0, twinReason: 'the same float32 steps in both' });

const [w, h] = [80, 64];
function grown(src: Float32Array, byPx: number): Float32Array {
  const tidy = op as TidyFrameOp;
  const block = tidy.prepare({ byPx }, plainContext);
  const plane = (): Float32Array => new Float32Array(w * h);
  const run = { src: [src], dst: [plane()], work: [plane(), plane()], picture: [], scratch: new Int32Array(0), w, h };
  for (const { name } of tidy.passes(block)) tidy.kernels[name]!(block, { ...run, y0: 0, y1: h });
  return run.dst[0]!;
}
/** A straight edge through the middle, eight pixels soft, turned by an angle and moved by so much outwards. */
const edge = (deg: number, by: number): Float32Array =>
  Float32Array.from({ length: w * h }, (_, i) => {
    const d = ((i % w) + 0.5 - w / 2) * Math.cos(deg / DEG) + (Math.floor(i / w) + 0.5 - h / 2) * Math.sin(deg / DEG);
    return Math.min(1, Math.max(0, 0.5 - (d - by) / 8));
  });

describe('grow', () => {
  it.each([0.3, 0.5, 1, 1.7, 3.2, 8.4, -0.5, -2.6, -6])('moves straight edges of any slope by %s px', (by) => {
    for (let deg = 0; deg < 360; deg += 15) {
      const got = grown(edge(deg, 0), by);
      const want = edge(deg, by);
      let worst = 0;
      let seen = 0;
      // Where it slopes; the border holds its pixels, so it is left out.
      for (let y = 12; y < h - 12; y++)
        for (let x = 12; x < w - 12; x++) {
          const v = want[y * w + x]!;
          if (v < 0.15 || v > 0.85) continue;
          seen++;
          worst = Math.max(worst, 8 * Math.abs(got[y * w + x]! - v));
        }
      expect(seen).toBeGreaterThan(100);
      // In pixels.
      expect(worst, `${deg}`).toBeLessThan(0.08);
    }
  });
  it('a dot becomes a disc as large as it says', () => {
    const dot = new Float32Array(w * h);
    dot[32 * w + 40] = 1;
    const full = grown(dot, 6).reduce((a, v) => a + v, 0);
    expect(full).toBeGreaterThan(0.97 * Math.PI * 36);
    expect(full).toBeLessThan(1.2 * Math.PI * 36);
  });
  it('choking is growing what is not in, never adds, and growing never takes', () => {
    const r = rng(5);
    const m = Float32Array.from({ length: w * h }, () => (r() < 0.7 ? Math.round(r()) : r()));
    const other = m.map((v) => 1 - v);
    const [up, down] = [grown(m, 1.4), grown(m, -1.4)];
    grown(other, 1.4).forEach((v, i) => expect(Math.abs(1 - v - down[i]!)).toBeLessThan(1e-6));
    m.forEach((v, i) => expect(up[i]! >= v && down[i]! <= v).toBe(true));
  });
});
