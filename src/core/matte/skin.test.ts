import { describe, expect, it } from 'vitest';
import { linearToOklab, oklabToLinear } from '../color/oklab';
import { rng } from '../math/rng';
import { migrateParams } from '../op/contract';
import skinOp from '../ops/skin';
import { atSizesBefore, pressedSkin } from './pressed';
import { growSkin, likenessOf, skinSaid } from './skin';
import type { SmallPicture } from './spread';

const [W, H] = [160, 110];
let r = rng(8);
const normal = (): number => Math.sqrt(-2 * Math.log(1 - r())) * Math.cos(2 * Math.PI * r());
/** An ellipse of skin lit from the left, in front of `wall`, with eyes and dark hair; colours in OKLab, with noise. */
function face(wall: readonly [number, number, number], noise = 0.006): { p: SmallPicture; truth: Uint8Array } {
  const n = W * H;
  const p: SmallPicture = { w: W, h: H, L: new Float32Array(n), a: new Float32Array(n), b: new Float32Array(n) };
  const truth = new Uint8Array(n);
  const at = (i: number, c: readonly number[]): void => {
    [p.L[i], p.a[i], p.b[i]] = c.map((v) => v + noise * normal()) as [number, number, number];
  };
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = y * W + x;
      const [u, v] = [(x - 80) / 34, (y - 58) / 42];
      if (u * u + v * v < 1) {
        // Light over the face: a half of it at the right. Chroma goes with light, as of any surface.
        const light = 1 - 0.5 * Math.max(0, u);
        const rgb = oklabToLinear(0.68, 0.055, 0.06).map((c) => c * light * light);
        const eye = Math.min(Math.hypot(x - 67, 1.6 * (y - 48)), Math.hypot(x - 93, 1.6 * (y - 48))) < 5;
        truth[i] = eye ? 0 : 1;
        at(i, eye ? [0.9, 0, 0] : linearToOklab(rgb[0]!, rgb[1]!, rgb[2]!));
      } else at(i, u * u + (v + 0.25) ** 2 < 1.15 && v < -0.3 ? [0.25, 0.01, 0.02] : wall);
    }
  return { p, truth };
}
const press = (x: number, y: number, v = 1, marks: Uint8Array = new Uint8Array(W * H)): Uint8Array => {
  for (let j = -2; j <= 2; j++) for (let i = -2; i <= 2; i++) marks[(y + j) * W + x + i] = v;
  return marks;
};
const iou = (a: Uint8Array, b: Uint8Array): number => {
  let [both, any] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    both += a[i]! & b[i]!;
    any += a[i]! | b[i]!;
  }
  return both / any;
};
/** The same picture twice side by side. */
function twice<T extends Uint8Array | Float32Array>(v: T): T {
  const out = (v instanceof Uint8Array ? new Uint8Array(2 * v.length) : new Float32Array(2 * v.length)) as T;
  for (let y = 0; y < H; y++) {
    const row = v.subarray(y * W, (y + 1) * W);
    out.set(row, 2 * y * W);
    out.set(row, (2 * y + 1) * W);
  }
  return out;
}
const GREEN = [0.6, -0.05, 0.03] as const;

type Find = (p: SmallPicture, marks: Uint8Array, inside: Uint8Array | null, share?: number) => Uint8Array | null;
const compared: Find = (p, marks, inside, share = 0) => pressedSkin({ p, marks, inside, reach: 1, share });
const asOne: Find = (p, marks, inside, share = 0) => pressedSkin({ p, marks, inside, reach: 1, share, asOne: true });
const before: Find = (p, marks, inside, share = 0) => atSizesBefore({ p, marks, inside, reach: 1, share });
const WAYS = {
  'as one thing': asOne,
  'at several sizes': before,
  'as it grew before': (...of: Parameters<typeof growSkin>) => growSkin(...of)?.mask ?? null,
  compared,
};
describe.each(Object.entries(WAYS))('skin from one press, %s', (way, find) => {
  it('holds the lit and the shaded side, leaves eyes and hair out, wherever it was pressed', () => {
    const { p, truth } = face(GREEN);
    for (const [x, y] of [
      [62, 62],
      [80, 75],
      [104, 62],
    ] as const) {
      const f = find(p, press(x, y), null)!;
      expect(iou(f, truth), `${x}, ${y}`).toBeGreaterThan(0.93);
      expect(f[48 * W + 67]).toBe(0);
      expect(f[12 * W + 80]).toBe(0);
    }
  });
  it('stops at an edge before a wall of its own hue, and goes by what is left out and by a shape', () => {
    // The same hue and nearly the same chroma, darker: only the edge between them tells.
    const { p, truth } = face([0.52, 0.045, 0.048], 0.003);
    const alone = find(p, press(66, 62), null)!;
    const leave = press(20, 60, 2, press(140, 60, 2, press(66, 62)));
    const left = find(p, leave, null)!;
    expect(iou(left, truth)).toBeGreaterThanOrEqual(iou(alone, truth));
    expect(left[60 * W + 20]).toBe(0);
    const inside = Uint8Array.from({ length: W * H }, (_, i) =>
      Math.hypot(((i % W) - 80) / 40, (Math.floor(i / W) - 58) / 48) < 1 ? 1 : 0,
    );
    const within = find(p, press(66, 62), inside)!;
    for (let i = 0; i < W * H; i++) if (inside[i] === 0) expect(within[i]).toBe(0);
    expect(iou(within, truth)).toBeGreaterThan(0.75);
  });
  it('says the same each time, and nothing without a press', () => {
    const { p } = face(GREEN);
    expect(find(p, press(80, 75), null)).toEqual(find(p, press(80, 75), null));
    expect(find(p, new Uint8Array(W * H), null)).toBeNull();
    expect(find(p, press(80, 75, 2), null)).toBeNull();
  });
  it('takes the one person who was pressed, and both where both were', () => {
    // A second face, the same again, cut off from the first by wall.
    const { p, truth } = face(GREEN);
    const two: SmallPicture = { w: 2 * W, h: H, L: twice(p.L), a: twice(p.a), b: twice(p.b) };
    const both = twice(truth);
    const marks = new Uint8Array(2 * W * H);
    const at = (x: number, y: number): void => {
      for (let j = -2; j <= 2; j++) for (let i = -2; i <= 2; i++) marks[(y + j) * 2 * W + x + i] = 1;
    };
    at(80, 75);
    const one = find(two, marks, null)!;
    expect(
      iou(
        one,
        both.map((v, i) => (i % (2 * W) < W ? v : 0)),
      ),
    ).toBeGreaterThan(0.9);
    at(80 + W, 75);
    expect(iou(find(two, marks, null)!, both), way).toBeGreaterThan(0.9);
  });
});
describe('a press before a wall of its own colour', () => {
  it('among strokes that say "not this", which hide it on a smaller copy, is found all the same', () => {
    // 66, 62 is in the block of four by four that begins at 64, 60, and in that of two by two at 66, 62.
    const { p } = face([0.62, 0.045, 0.05], 0.004);
    for (const [u, v] of [
      [64, 60],
      [67, 63],
    ] as const) {
      const marks = new Uint8Array(W * H);
      marks[62 * W + 66] = 1;
      marks[v * W + u] = 2;
      const found = asOne(p, marks, null)!;
      expect(found[62 * W + 66]).toBe(1);
      expect(found[v * W + u]).toBe(0);
    }
  });
  it('is held by the size of what looks like a thing, where growing alone runs over the wall', () => {
    // Between face and wall there is hardly more than the noise; at its right the face is as dark as the wall.
    const { p, truth } = face([0.62, 0.045, 0.05], 0.004);
    const at = press(66, 62);
    expect(iou(growSkin(p, at, null)!.mask, truth)).toBeLessThan(0.5);
    expect(iou(asOne(p, at, null)!, truth)).toBeGreaterThan(0.8);
  });
});

describe('a press of an older project', () => {
  const digest = (m: Uint8Array): number => m.reduce((sum, v, i) => (Math.imul(sum, 31) + v * (i % 97)) | 0, 7);
  it('has what it had, to the pixel', () => {
    // What the code of version 3 found of the same pictures.
    r = rng(8);
    const clear = face(GREEN);
    const alike = face([0.62, 0.045, 0.05], 0.004);
    const found = [clear.p, alike.p].map((p) => before(p, press(66, 62), null)!);
    expect(found.map(digest)).toEqual([1019550791, 2038641098]);
    // What the code of version 5 found, a hat of another hue within.
    r = rng(12);
    const hat = face([0.62, 0.045, 0.05], 0.004);
    for (let i = 0; i < W * 34; i++)
      if (Math.hypot((i % W) - 80, Math.floor(i / W) - 58) < 44)
        [hat.p.L[i], hat.p.a[i], hat.p.b[i]] = [0.5, 0.02, 0.07];
    const at = press(70, 66);
    const own = pressedSkin({ p: hat.p, marks: at, inside: null, reach: 1, share: 0, unparted: true })!;
    expect(digest(own)).toBe(-1658296482);
  });
  it('keeps its way; of a new one guesses are parted and compared', () => {
    for (const [version, stored, found] of [
      [1, {}, 'grown'],
      [2, {}, 'sizes'],
      [3, { sharePct: 4 }, 'sizes'],
      [3, { found: 'grown' }, 'grown'],
      [4, {}, 'one'],
      [4, { found: 'sizes' }, 'sizes'],
      [5, {}, 'compared'],
      [5, { found: 'one' }, 'one'],
      [6, {}, 'parted'],
    ] as const)
      expect({ found: 'parted', ...migrateParams(skinOp, version, stored) }['found']).toBe(found);
    expect(skinOp.params['found']?.default).toBe('parted');
  });
});

describe('a press on another frame than its own', () => {
  const share = (m: Uint8Array): number => m.reduce((a, b) => a + b, 0) / m.length;
  it('goes by how much was found where it was made, and has what it had where that is as much', () => {
    // A hood of hardly another colour: nothing but its size tells whether it belongs.
    r = rng(3);
    const { p, truth } = face(GREEN, 0.004);
    for (let i = 0; i < W * H; i++) {
      const [u, v] = [((i % W) - 80) / 34, (Math.floor(i / W) - 58) / 42];
      if (u * u + v * v < 1 || u * u + v * v >= 1.9) continue;
      const light = 1 - Math.max(0, u) / 6;
      [p.L[i], p.a[i], p.b[i]] = [0.55, 0.048, 0.052].map((c) => c * light + 0.004 * normal()) as [
        number,
        number,
        number,
      ];
    }
    const at = press(66, 62);
    expect(iou(compared(p, at, null)!, truth)).toBeLessThan(0.6);
    expect(iou(compared(p, at, null, share(truth))!, truth)).toBeGreaterThan(0.8);
    const clear = face(GREEN);
    const found = compared(clear.p, at, null)!;
    expect(compared(clear.p, at, null, share(found))).toEqual(found);
  });
  it('the same before version 5, where face and wall differ by hardly more than the noise', () => {
    r = rng(3);
    const { p, truth } = face([0.66, 0.053, 0.058], 0.003);
    const at = press(66, 62);
    expect(iou(asOne(p, at, null)!, truth)).toBeLessThan(0.6);
    expect(iou(asOne(p, at, null, share(truth))!, truth)).toBeGreaterThan(0.8);
    // Compared with each other, the same guesses tell it alone.
    expect(iou(compared(p, at, null)!, truth)).toBeGreaterThan(0.95);
  });
});

describe('a border', () => {
  it('tells a border that lies on an edge from one that cuts through a surface', () => {
    const { p, truth } = face(GREEN, 0);
    const half = truth.map((v, i) => (i % W < 80 ? v : 0));
    const nothing = new Uint8Array(W * H);
    expect(likenessOf(p, truth, null)).toBeGreaterThan(0.8);
    expect(likenessOf(p, half, null)).toBeLessThan(0.85 * likenessOf(p, truth, null));
    expect(likenessOf(p, nothing, null)).toBe(0);
  });
});

describe('what is said of it', () => {
  const good = { coverage: 0.05, rim: 0, likeness: 0.9, second: null };
  it('is nothing where there is nothing to say', () => {
    expect(skinSaid(good)).toEqual([]);
  });
  it.each([
    [{ coverage: 0.0004 }, /Hardly anything.*press on another part/],
    [{ coverage: 0.5 }, /Other things have this colour.*freeform/],
    [{ rim: 0.2 }, /Other things have this colour/],
    [{ likeness: 0.4 }, /hardly seen.*not meant/],
    [{ second: { deg: 20, share: 0.3 } }, /two colours.*20/],
  ] as const)('%o', (change, words) => {
    const said = skinSaid({ ...good, ...change });
    expect(said).toHaveLength(1);
    expect(said[0]).toMatch(words);
  });
  it('a second hue of little weight is none', () => {
    expect(skinSaid({ ...good, second: { deg: 20, share: 0.05 } })).toEqual([]);
    expect(skinSaid({ ...good, second: { deg: 5, share: 0.4 } })).toEqual([]);
  });
});
