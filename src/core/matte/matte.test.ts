import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { decode, encodings } from '../color/encodings';
import { linearToOklab, oklabToLinear } from '../color/oklab';
import { rng } from '../math/rng';
import { migrateParams } from '../op/contract';
import spreadOp from '../ops/spread';
import { clusters, fitModel, fitRanges, modelAt, rangesAt, surfaces } from './model';
import { areaUnderCurve, separation, separationSaid } from './separate';
import { distanceTo, likeness } from './likeness';
import { spread, SPREAD } from './spread';
import type { SmallPicture } from './spread';

describe('OKLab', () => {
  // Source: tests/data/rgb_conversions.json, computed with colorjs.io 0.7.1, worst difference to culori 4.0.2 given
  // there.
  const file = JSON.parse(
    readFileSync(new URL('../../../tests/data/rgb_conversions.json', import.meta.url), 'utf8'),
  ) as {
    colours: { hex: string; oklab: number[] }[];
  };
  it('agrees with two colour libraries, and comes back', () => {
    expect(file.colours.length).toBeGreaterThanOrEqual(10);
    for (const { hex, oklab } of file.colours) {
      const [r, g, b] = [1, 3, 5].map((i) => decode(encodings.srgb as never, parseInt(hex.slice(i, i + 2), 16) / 255));
      const got = linearToOklab(r!, g!, b!);
      got.forEach((v, i) => expect(Math.abs(v - oklab[i]!)).toBeLessThan(2e-6));
      oklabToLinear(...got).forEach((v, i) => expect(Math.abs(v - [r!, g!, b!][i]!)).toBeLessThan(1e-6));
    }
  });
});

describe('what belongs', () => {
  const r = rng(3);
  // A surface from shade to light: colour moves with L along a line that misses black.
  const surface = (n: number, a0: number, lean: number): Float32Array => {
    const out: number[] = [];
    for (let i = 0; i < n; i++) {
      const L = 0.3 + 0.5 * r();
      out.push(L, a0 + lean * L + 0.002 * (r() - 0.5), 0.04 + 0.03 * L + 0.002 * (r() - 0.5));
    }
    return Float32Array.from(out);
  };
  it('leans with light: the slope is found, and shade beyond the sample still belongs', () => {
    const s = surface(400, 0.02, 0.08);
    const f = fitRanges(s);
    expect(f.slopeA).toBeCloseTo(0.08, 2);
    expect(f.slopeB).toBeCloseTo(0.03, 2);
    expect(rangesAt(f, 0.25, 0.02 + 0.08 * 0.25, 0.04 + 0.03 * 0.25)).toBeGreaterThan(0.5);
    // The same colour at another light is another surface.
    expect(rangesAt(f, 0.7, 0.02 + 0.08 * 0.35, 0.05)).toBeLessThan(0.4);
  });
  it('clusters lie in their samples and do not depend on chance', () => {
    const s = surface(300, 0.02, 0.08);
    expect(clusters(s, 6)).toEqual(clusters(s.slice(), 6));
    expect(clusters(s, 6)).toHaveLength(18);
    expect(clusters(s.slice(0, 6), 6)).toHaveLength(6);
    expect(clusters(new Float32Array(0), 6)).toHaveLength(0);
  });
  it('what is left out pulls the border towards what is kept', () => {
    const kept = surface(200, 0.02, 0.08);
    const near = surface(200, 0.05, 0.08);
    const at = (m: ReturnType<typeof fitModel>): number => modelAt(m, 0.5, 0.05 + 0.04, 0.055);
    expect(at(fitModel([kept], near))).toBeLessThan(at(fitModel([kept], new Float32Array(0))) - 0.1);
  });
});

describe('strokes on more than one surface', () => {
  const r = rng(5);
  /** Samples of one colour in light from here to there, in OKLab. */
  const stroke = (from: number, to: number, a: number, b: number): Float32Array =>
    Float32Array.from(
      Array.from({ length: 60 }, () => {
        const L = from + (to - from) * r();
        return [L, a * L + 0.004 * (r() - 0.5), b * L + 0.004 * (r() - 0.5)];
      }).flat(),
    );
  const light = stroke(0.7, 0.85, 0.08, 0.09);
  const shade = stroke(0.3, 0.4, 0.08, 0.09);
  const lips = stroke(0.5, 0.55, 0.2, 0.05);
  it('light and shade of one thing are one, with what lies between; a patch of another hue is its own', () => {
    const holds = (strokes: Float32Array[]): boolean[][] =>
      surfaces(strokes).map((r) => [
        rangesAt(r, 0.78, 0.08 * 0.78, 0.09 * 0.78) === 1,
        rangesAt(r, 0.35, 0.08 * 0.35, 0.09 * 0.35) === 1,
        rangesAt(r, 0.52, 0.2 * 0.52, 0.05 * 0.52) === 1,
      ]);
    expect(holds([light])).toEqual([[true, false, false]]);
    expect(holds([light, shade])).toEqual([[true, true, false]]);
    expect(holds([light, lips, shade])).toEqual([
      [false, false, true],
      [true, true, false],
    ]);
    // Many strokes are many pairs, and still the same two.
    expect(surfaces(Array.from({ length: 24 }, (_, k) => [light, lips, shade][k % 3]!))).toHaveLength(2);
    const between = modelAt(fitModel([light, shade], new Float32Array(0)), 0.55, 0.08 * 0.55, 0.09 * 0.55);
    expect(between).toBeGreaterThan(0.6);
  });
  it('what lies between two hues belongs to neither, where one range for both takes it', () => {
    const at = (asOne: boolean): number =>
      rangesOf(
        fitModel(asOne ? [Float32Array.of(...light, ...shade, ...lips)] : [light, shade, lips], new Float32Array(0)),
        0.5,
        0.14 * 0.5,
        0.07 * 0.5,
      );
    const rangesOf = (m: ReturnType<typeof fitModel>, L: number, a: number, b: number): number =>
      Math.max(...m.ranges.map((s) => rangesAt(s, L, a, b)));
    expect(at(false)).toBeLessThan(0.3);
    expect(at(true)).toBeGreaterThan(0.7);
  });
});

describe('what separates', () => {
  it('the area under the curve is that of counting pairs', () => {
    const r = rng(8);
    const [k, l] = [40, 30].map((n) => Array.from({ length: n }, () => Math.round(10 * r())));
    let pairs = 0;
    for (const a of k!) for (const b of l!) pairs += b > a ? 1 : b === a ? 0.5 : 0;
    expect(areaUnderCurve(k!, l!)).toBeCloseTo(pairs / 1200, 12);
  });
  it('says which of hue, saturation and luma does it, and when none does', () => {
    const r = rng(9);
    const colours = (h: number, s: number, y: number): number[] =>
      Array.from({ length: 60 }, () => {
        const c = s + 0.01 * (r() - 0.5);
        const [cb, cr] = [c * Math.cos(h / 57.29578), c * Math.sin(h / 57.29578)];
        const Y = y + 0.02 * (r() - 0.5);
        return [Y + 1.5748 * cr, Y - 0.1873 * cb - 0.4681 * cr, Y + 1.8556 * cb];
      }).flat();
    expect(separationSaid(separation(colours(120, 0.1, 0.5), colours(200, 0.1, 0.5))!)).toMatch(/^Hue separates/);
    expect(separationSaid(separation(colours(120, 0.1, 0.5), colours(120, 0.1, 0.8))!)).toMatch(/^Luma separates/);
    expect(separationSaid({ hue: 0.9, saturation: 0.98, luma: 0.99 })).toBe(
      'Luma and saturation separate your strokes, hue mostly separates them.',
    );
    expect(separationSaid({ hue: 0.6, saturation: 0.6, luma: 0.6 })).toMatch(/^These two share/);
    const same = separation(colours(120, 0.1, 0.5), colours(120, 0.1, 0.5))!;
    expect(same.luma).toBeLessThan(0.65);
    expect(separation(colours(120, 0.1, 0.5), [])).toBeNull();
  });
});

describe('spread', () => {
  const [w, h] = [120, 80];
  const r = rng(4);
  /** Two discs of one colour with a dark line between them, on another colour. */
  const at = (x: number, y: number): 'a' | 'b' | 'line' | 'ground' =>
    Math.abs(x - 60) < 2
      ? 'line'
      : Math.hypot(x - 38, y - 40) < 22
        ? 'a'
        : Math.hypot(x - 82, y - 40) < 22
          ? 'b'
          : 'ground';
  const plane = (of: Record<string, number>): Float32Array =>
    Float32Array.from({ length: w * h }, (_, i) => of[at(i % w, Math.floor(i / w))]! + 0.002 * (r() - 0.5));
  const picture = {
    w,
    h,
    L: plane({ a: 0.6, b: 0.6, line: 0.2, ground: 0.55 }),
    a: plane({ a: 0.06, b: 0.06, line: 0, ground: -0.02 }),
    b: plane({ a: 0.05, b: 0.05, line: 0, ground: 0.02 }),
  };
  const marks = (keep: [number, number][], leave: [number, number][]): Uint8Array => {
    const m = new Uint8Array(w * h);
    for (const [list, v] of [
      [keep, 1],
      [leave, 2],
    ] as const)
      for (const [x, y] of list) for (let k = 0; k < 9; k++) m[(y + Math.floor(k / 3)) * w + x + (k % 3)] = v;
    return m;
  };
  const iou = (m: Uint8Array, what: string): number => {
    let [both, either] = [0, 0];
    m.forEach((v, i) => {
      const t = at(i % w, Math.floor(i / w)) === what;
      if (v && t) both++;
      if (v || t) either++;
    });
    return both / either;
  };
  it('fills the thing it was painted on and stops at its edge; its twin beyond the line is another thing', () => {
    expect(iou(spread(picture, marks([[38, 40]], []), null).mask, 'a')).toBeGreaterThan(0.95);
    expect(iou(spread(picture, marks([[82, 30]], [[38, 40]]), null).mask, 'b')).toBeGreaterThan(0.95);
  });
  it('takes what lies outside a shape as not meant, and nothing there is in', () => {
    const inside = Uint8Array.from({ length: w * h }, (_, i) => (Math.floor(i / w) < 40 ? 1 : 0));
    const { mask } = spread(picture, marks([[38, 26]], []), inside);
    mask.forEach((v, i) => v && expect(inside[i]).toBe(1));
    expect(mask.reduce((a, v) => a + v, 0)).toBeGreaterThan(500);
  });
  it('holds what was painted however small, and fills small holes that nobody painted', () => {
    const p = { ...picture, L: picture.L.slice(), a: picture.a.slice(), b: picture.b.slice() };
    for (const i of [40 * w + 30, 40 * w + 31]) [p.L[i], p.a[i], p.b[i]] = [0.9, 0, 0];
    const { mask } = spread(
      p,
      marks(
        [
          [38, 40],
          [10, 10],
        ],
        [],
      ),
      null,
    );
    expect(mask[40 * w + 30]).toBe(1);
    expect(mask[11 * w + 11]).toBe(1);
  });
  it('pieces apart: the twin beyond the line belongs when asked for, inside a shape and without one', () => {
    const both = (m: Uint8Array): number => {
      let [in_, any] = [0, 0];
      m.forEach((v, i) => {
        const t = at(i % w, Math.floor(i / w));
        if (v && (t === 'a' || t === 'b')) in_++;
        if (v || t === 'a' || t === 'b') any++;
      });
      return in_ / any;
    };
    const shape = Uint8Array.from({ length: w * h }, (_, i) =>
      Math.abs((i % w) - 60) < 52 && Math.abs(Math.floor(i / w) - 40) < 30 ? 1 : 0,
    );
    for (const inside of [shape, null]) {
      const one = spread(picture, marks([[38, 40]], []), inside, SPREAD).mask;
      expect(iou(one, 'a')).toBeGreaterThan(0.95);
      expect(both(one)).toBeLessThan(0.55);
      const all = spread(picture, marks([[38, 40]], []), inside, { ...SPREAD, apart: true }).mask;
      expect(both(all)).toBeGreaterThan(0.95);
      // What is left out stays out, although its colour is the same.
      const not = spread(picture, marks([[38, 40]], [[82, 40]]), inside, { ...SPREAD, apart: true }).mask;
      expect(not[41 * w + 83]).toBe(0);
    }
  });
  it('a shape that cuts through the thing takes its part whole', () => {
    const inside = Uint8Array.from({ length: w * h }, (_, i) => (i % w < 42 ? 1 : 0));
    const { mask } = spread(picture, marks([[30, 40]], []), inside);
    let [hit, any] = [0, 0];
    mask.forEach((v, i) => {
      const t = i % w < 42 && at(i % w, Math.floor(i / w)) === 'a';
      if (v && t) hit++;
      if (v || t) any++;
    });
    expect(hit / any).toBeGreaterThan(0.9);
  });
});
describe('the border of a spread inside a shape', () => {
  const [w, h] = [160, 100];
  const r = rng(9);
  const noise = Float32Array.from({ length: w * h }, () => 0.02 * (r() - 0.5));
  const pictureOf = (thing: (x: number, y: number) => boolean, from: number[], to: number[]): SmallPicture => {
    const plane = (c: number): Float32Array =>
      Float32Array.from({ length: w * h }, (_, i) => {
        const on = thing(i % w, Math.floor(i / w));
        // Noise in proportion: colour has less of it.
        return (on ? from : to)[c]! + noise[i]! * (c === 0 ? 1 : 0.3);
      });
    return { w, h, L: plane(0), a: plane(1), b: plane(2) };
  };
  const mark = (x0: number, y0: number, x1: number): Uint8Array =>
    Uint8Array.from({ length: w * h }, (_, i) =>
      i % w >= x0 && i % w <= x1 && Math.abs(Math.floor(i / w) - y0) <= 1 ? 1 : 0,
    );
  const iou = (m: Uint8Array, thing: (x: number, y: number) => boolean): number => {
    let [both, any] = [0, 0];
    m.forEach((v, i) => {
      const t = thing(i % w, Math.floor(i / w));
      if (v && t) both++;
      if (v || t) any++;
    });
    return both / any;
  };
  const disc = (x: number, y: number): boolean => Math.hypot(x - 80, y - 50) < 30;
  const about = Uint8Array.from({ length: w * h }, (_, i) =>
    Math.hypot((i % w) - 80, Math.floor(i / w) - 50) < 40 ? 1 : 0,
  );
  it('of strokes alone, too: what they grew to and what lies about it teach where it ends', () => {
    const p = pictureOf(disc, [0.6, 0.05, 0.05], [0.56, 0.043, 0.055]);
    const [again, once] = [false, true].map((o) => spread(p, mark(70, 50, 90), null, { ...SPREAD, once: o }).mask);
    expect(iou(again!, disc)).toBeGreaterThan(0.95);
    // Older projects keep what they had, and its mask is that of version 2 to the pixel.
    expect(iou(once!, disc)).toBeGreaterThan(0.4);
    expect(iou(once!, disc)).toBeLessThan(0.7);
    expect(once!.reduce((a, v, i) => (v ? (31 * a + i) % 2147483647 : a), 7)).toBe(193266104);
    const stored = { border: 'laid', taught: 'again', ...migrateParams(spreadOp, 2, {}) };
    expect(stored).toMatchObject({ border: 'laid', taught: 'once' });
    expect(migrateParams(spreadOp, 1, {})).toEqual({ border: 'grown', taught: 'once', fits: 'asked' });
  });
  it('lies on the edge although the ground has nearly its colour, where a growth alone runs out or stops short', () => {
    const p = pictureOf(disc, [0.6, 0.05, 0.05], [0.57, 0.046, 0.052]);
    const laid = spread(p, mark(70, 50, 90), about).mask;
    const grown = spread(p, mark(70, 50, 90), about, { ...SPREAD, asGrown: true }).mask;
    expect(iou(laid, disc)).toBeGreaterThan(0.97);
    expect(iou(grown, disc)).toBeLessThan(iou(laid, disc) - 0.02);
  });
  it('holds what is in shade where a touch of it was painted', () => {
    const shade = pictureOf(disc, [0.6, 0.05, 0.05], [0.55, -0.02, 0.02]);
    for (let i = 0; i < w * h; i++) if (disc(i % w, Math.floor(i / w)) && i % w > 95) shade.L[i]! -= 0.12;
    const touch = mark(99, 50, 102);
    const touched = mark(62, 50, 84).map((v, i) => Math.max(v, touch[i]!));
    expect(iou(spread(shade, touched, about).mask, disc)).toBeGreaterThan(0.97);
  });
  it('a box in the middle of a wall stays a box, corners and all', () => {
    const box = (x: number, y: number): boolean => x >= 40 && x < 120 && y >= 20 && y < 80;
    const inside = Uint8Array.from({ length: w * h }, (_, i) => (box(i % w, Math.floor(i / w)) ? 1 : 0));
    const wall = pictureOf(() => true, [0.6, 0.05, 0.05], []);
    expect(iou(spread(wall, mark(60, 50, 100), inside).mask, box)).toBeGreaterThan(0.995);
  });
  it('a box over half of a thing takes that half, to its corners', () => {
    const p = pictureOf(disc, [0.6, 0.05, 0.05], [0.5, -0.03, 0.02]);
    const half = (x: number, y: number): boolean => disc(x, y) && x < 80;
    const inside = Uint8Array.from({ length: w * h }, (_, i) => (i % w >= 30 && i % w < 80 ? 1 : 0));
    expect(iou(spread(p, mark(60, 50, 75), inside).mask, half)).toBeGreaterThan(0.97);
  });
});
describe('likeness', () => {
  it('distances are those of the nearest pixel, 8 % long at worst', () => {
    const [w, h] = [60, 40];
    const on = new Uint8Array(w * h);
    for (const [x, y] of [
      [7, 9],
      [50, 31],
      [29, 2],
    ] as const)
      on[y * w + x] = 1;
    const d = distanceTo(on, w, 1);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const exact = Math.min(Math.hypot(x - 7, y - 9), Math.hypot(x - 50, y - 31), Math.hypot(x - 29, y - 2));
        expect(d[y * w + x]!).toBeGreaterThanOrEqual(exact - 1e-4);
        expect(d[y * w + x]!).toBeLessThanOrEqual(1.09 * exact + 1e-4);
      }
  });
  it('what was found teaches; of colours that were not met the first model speaks', () => {
    // Columns: found, beyond, a colour of its own. The first model takes all of it for the thing, a little.
    const [w, h] = [60, 20];
    const of = (v: number[]): Float32Array =>
      Float32Array.from({ length: w * h }, (_, i) => v[Math.floor((i % w) / 20)]!);
    const p = { w, h, L: of([0.6, 0.55, 0.3]), a: of([0.06, 0.03, -0.1]), b: of([0.05, 0.06, -0.1]) };
    const mask = Uint8Array.from({ length: w * h }, (_, i) => (i % w < 20 ? 1 : 0));
    const l = likeness(
      p,
      mask,
      new Uint8Array(w * h),
      mask.map((_, i) => (i % w >= 20 && i % w < 40 ? 1 : 0)),
      new Float32Array(w * h).fill(0.7),
    )!;
    expect(l.belongs[5]).toBeGreaterThan(0.95);
    expect(l.belongs[30]).toBeLessThan(0.05);
    expect(l.belongs[50]).toBeCloseTo(0.7, 3);
    expect(l.density[5]).toBeGreaterThanOrEqual(l.usual);
    expect(l.density[30]).toBeLessThan(l.usual);
  });
  it('a region too small to teach teaches nothing', () => {
    const n = 400;
    const flat = new Float32Array(n).fill(0.1);
    const p = { w: 20, h: 20, L: flat, a: flat, b: flat };
    const mask = new Uint8Array(n);
    mask[210] = 1;
    expect(likeness(p, mask, new Uint8Array(n), new Uint8Array(n).fill(1), flat)).toBeNull();
  });
});
