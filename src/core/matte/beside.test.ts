/** What lies beside skin: parted by an edge, of another colour, at its rim. Shade, halves, lips and cloth stay. */
import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { withoutBeside } from './beside';
import type { SmallPicture } from './spread';

const [W, H] = [100, 80];
/** Lightness, chroma over light, hue in degrees. */
type Colour = readonly [L: number, sat: number, hue: number];
type At = (x: number, y: number) => boolean;
const SKIN: Colour = [0.6, 0.14, 55];
/** As a collar in the chin's shadow: hardly darker, of another hue. */
const COLLAR: Colour = [0.5, 0.08, 95];
const head: At = (x, y) => Math.hypot(x - 50, y - 40) < 30;
const chin: At = (x, y) => head(x, y) && y > 62;
const maskOf = (of: At): Uint8Array =>
  Uint8Array.from({ length: W * H }, (_, i) => (of(i % W, Math.floor(i / W)) ? 1 : 0));
interface How {
  at?: At;
  own?: Colour;
  /** The colour of skin at a place, where it is not the same everywhere. */
  lit?: (x: number) => Colour;
  /** Rows over which the one goes over into the other. */
  soft?: number;
  painted?: boolean;
}
function picture(other: Colour, { at = chin, own = SKIN, lit = () => own, soft = 0, painted = false }: How) {
  const r = rng(4);
  const plane = (): Float32Array => new Float32Array(W * H);
  const p: SmallPicture = { w: W, h: H, L: plane(), a: plane(), b: plane() };
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const t = soft > 0 ? Math.min(1, Math.max(0, (y - 62) / soft + 0.5)) : at(x, y) ? 1 : 0;
    const skin = lit(x);
    const [L, sat, hue] = [0, 1, 2].map((k) => skin[k]! + t * (other[k]! - skin[k]!)) as [number, number, number];
    p.L[i] = head(x, y) ? L + 0.01 * (r() - 0.5) : 0.95;
    p.a[i] = head(x, y) ? L * sat * Math.cos((hue * Math.PI) / 180) : 0;
    p.b[i] = head(x, y) ? L * sat * Math.sin((hue * Math.PI) / 180) : 0;
  }
  const stroke = maskOf(
    (x, y) => (Math.abs(y - 40) < 2 && x > 35 && x < 60) || (painted && y === 65 && x > 44 && x < 56),
  );
  return { p, stroke };
}
/** Of the other thing, and of the rest, the share that stays. */
function left(other: Colour, how: How = {}): [its: number, rest: number] {
  const { p, stroke } = picture(other, how);
  const at = how.at ?? chin;
  const got = withoutBeside(p, maskOf(head), stroke);
  const share = (of: At): number => {
    const all = maskOf(of);
    return got.reduce((n, v, i) => n + (v & all[i]!), 0) / all.reduce((n, v) => n + v, 0);
  };
  return [share(at), share((x, y) => head(x, y) && !at(x, y))];
}

describe('withoutBeside', () => {
  it('a collar goes, and nothing else does', () => {
    // Of its eight rows the two at the edge, where colours mix.
    const [its, rest] = left(COLLAR);
    expect(its).toBeLessThan(0.25);
    expect(rest).toBeGreaterThan(0.985);
  });
  it('so does what is hardly another colour than the rest behind a whole edge, not behind half of one', () => {
    expect(left([0.45, 0.12, 70])[0]).toBeLessThan(0.25);
    expect(left([0.56, 0.12, 70])[0]).toBe(1);
  });
  it.each<[string, Colour, How]>([
    ['skin in shade has the same colour', [0.4, 0.14, 57], {}],
    ['without an edge there are not two things', COLLAR, { soft: 40 }],
    ['half of a head is no strip', COLLAR, { at: (x, y) => head(x, y) && y > 45 }],
    ['nor is a fleck', COLLAR, { at: (x, y) => head(x, y) && y > 68.5 }],
    ['lips lie within', COLLAR, { at: (x, y) => Math.hypot((x - 50) / 2, y - 56) < 5 }],
    ['what was painted as meant stays', COLLAR, { painted: true }],
    ['cloth has bands of its own', COLLAR, { own: [0.6, 0.14, 250] }],
    [
      'an ear in cool light has the colour of the cheek beside it',
      [0.45, 0.09, 88],
      { at: (x, y) => head(x, y) && x > 74, lit: (x) => (x > 50 ? [0.6, 0.1, 88] : [0.6, 0.16, 50]) },
    ],
    [
      'so has what has the colour of most of it, beside a cheek in cool light',
      [0.4, 0.16, 50],
      { at: (x, y) => head(x, y) && x > 74, lit: (x) => (x > 62 ? [0.6, 0.1, 88] : [0.6, 0.16, 50]) },
    ],
  ])('%s', (_, other, how) => {
    expect(left(other, how)).toEqual([1, 1]);
  });
  it('a mask of nothing stays one, and a mask of which nothing goes is as it was', () => {
    const { p, stroke } = picture(SKIN, {});
    expect(withoutBeside(p, new Uint8Array(W * H), stroke)).toEqual(new Uint8Array(W * H));
    expect(withoutBeside(p, maskOf(head), stroke)).toEqual(maskOf(head));
  });
});
