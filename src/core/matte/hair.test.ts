/** Hair beside skin: dark, of another colour, behind an edge, not found on a copy. Shade, cloth and halves are not. */
import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { hairBeside } from './hair';
import type { SmallPicture } from './spread';

const [W, H] = [100, 80];
/** Lightness, chroma over light, hue in degrees. */
type Colour = readonly [L: number, sat: number, hue: number];
type At = (x: number, y: number) => boolean;
const SKIN: Colour = [0.6, 0.14, 55];
const HAIR: Colour = [0.33, 0.08, 75];
const head: At = (x, y) => Math.hypot(x - 50, 1.1 * (y - 40)) < 30;
const maskOf = (of: At): Uint8Array =>
  Uint8Array.from({ length: W * H }, (_, i) => (of(i % W, Math.floor(i / W)) ? 1 : 0));
const plane = (): Float32Array => new Float32Array(W * H);
const whole = maskOf(head);
/** What is found where a copy stops just before `beside`, which has the colour `other`; the rest of the head `own`. */
function found(other: Colour, { own = SKIN, top = 24, soft = 0 } = {}): { hair: Uint8Array | null; beside: At } {
  const beside: At = (x, y) => head(x, y) && y < top;
  const r = rng(4);
  const p: SmallPicture = { w: W, h: H, L: plane(), a: plane(), b: plane() };
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    // 0 in the other, 1 in what is its own, in between over `soft` rows.
    const t = soft > 0 ? Math.min(1, Math.max(0, (y - top) / soft + 0.5)) : beside(x, y) ? 0 : 1;
    const [L, sat, hue] = [0, 1, 2].map((k) => other[k]! + t * (own[k]! - other[k]!)) as [number, number, number];
    p.L[i] = head(x, y) ? L + 0.01 * (r() - 0.5) : 0.9;
    p.a[i] = head(x, y) ? L * sat * Math.cos((hue * Math.PI) / 180) : 0;
    p.b[i] = head(x, y) ? L * sat * Math.sin((hue * Math.PI) / 180) : 0;
  }
  const stroke = maskOf((x, y) => Math.abs(y - 48) < 2 && x > 35 && x < 60);
  return {
    hair: hairBeside(
      p,
      whole,
      maskOf((x, y) => head(x, y) && y >= top + 2),
      stroke,
    ),
    beside,
  };
}

describe('hairBeside', () => {
  it('finds what is dark and of another colour where a copy found nothing, but for its rim', () => {
    const { hair, beside } = found(HAIR);
    const all = maskOf(beside);
    const [n, of] = [all, hair!].map((m) => m.reduce((sum, v) => sum + v, 0)) as [number, number];
    expect(of).toBeGreaterThan(0.4 * n);
    expect(hair!.every((v, i) => v === 0 || all[i] === 1)).toBe(true);
  });
  it.each<[string, Colour, Parameters<typeof found>[1]]>([
    ['skin in shade is as dark, but of the same colour', [0.33, 0.14, 58], {}],
    ['hair that is as light is not told from skin', [0.55, 0.08, 75], {}],
    ['half of a head is no hair', HAIR, { top: 40 }],
    ['a strip is none', HAIR, { top: 18 }],
    ['without an edge there are not two things', [0.22, 0.08, 95], { soft: 50 }],
    ['cloth has dark panels of its own', HAIR, { own: [0.6, 0.14, 250] }],
    ['so has what is more colourful than skin', HAIR, { own: [0.6, 0.4, 55] }],
  ])('%s', (_, other, how) => {
    expect(found(other, how).hair).toBeNull();
  });
  it('what the copy found as well stays', () => {
    const p = {
      w: W,
      h: H,
      L: new Float32Array(W * H).fill(0.6),
      a: new Float32Array(W * H),
      b: new Float32Array(W * H).fill(0.06),
    };
    expect(
      hairBeside(
        p,
        whole,
        whole,
        maskOf((x, y) => x === 50 && y === 40),
      ),
    ).toBeNull();
  });
});
