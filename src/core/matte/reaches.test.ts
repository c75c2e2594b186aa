import { describe, expect, it } from 'vitest';
import { rng } from '../math/rng';
import { migrateParams, plainContext } from '../op/contract';
import type { FrameRun, KeyFrameOp } from '../op/contract';
import spreadOp from '../ops/spread';
import type { params } from '../ops/spread/params';
import { reachFor, REACHES, spreadToFit, worthOfReaches } from './reaches';
import { groundOf, spread, SPREAD, spreadOver } from './spread';
import type { SmallPicture } from './spread';
import { seen } from './worth';

const [w, h] = [240, 150];
const r = rng(17);
const noise = Float32Array.from({ length: w * h }, () => 0.02 * (r() - 0.5));
type At<T> = (x: number, y: number) => T;
const pictureOf = (colour: At<readonly number[]>): SmallPicture => {
  const plane = (c: number): Float32Array =>
    Float32Array.from(noise, (v, i) => colour(i % w, Math.floor(i / w))[c]! + v * (c === 0 ? 1 : 0.3));
  return { w, h, L: plane(0), a: plane(1), b: plane(2) };
};
const maskOf = (on: At<boolean>): Uint8Array =>
  Uint8Array.from({ length: w * h }, (_, i) => (on(i % w, Math.floor(i / w)) ? 1 : 0));
const stroke = (x0: number, y0: number, x1: number): Uint8Array =>
  maskOf((x, y) => x >= x0 && x <= x1 && Math.abs(y - y0) <= 1);
const iou = (m: Uint8Array, t: Uint8Array): number => {
  let [both, any] = [0, 0];
  m.forEach((v, i) => {
    if (v && t[i]) both++;
    if (v || t[i]) any++;
  });
  return both / any;
};
const disc: At<boolean> = (x, y) => Math.hypot(x - 120, y - 75) < 45;
const thing = maskOf(disc);
const about = maskOf((x, y) => Math.hypot(x - 120, y - 75) < 54);
/** A cloth in folds: its light goes up and down across it. */
const folded = pictureOf((x, y) =>
  disc(x, y) ? [0.5 + 0.2 * Math.sin(x / 5), 0.05 + 0.02 * Math.sin(x / 5), 0.05] : [0.55, -0.02, 0.03],
);
/** Before a ground of nearly its own colour. */
const hidden = pictureOf((x, y) => (disc(x, y) ? [0.6, 0.05, 0.05] : [0.585, 0.047, 0.052]));
const plain = pictureOf((x, y) => (disc(x, y) ? [0.6, 0.08, 0.05] : [0.4, -0.05, 0.03]));
const found = (p: SmallPicture, marks: Uint8Array, shape: Uint8Array | null, times: number): number =>
  iou(spread(p, marks, shape, { ...SPREAD, cap: SPREAD.cap * times }).mask, thing);

/** Folds as deep as these, of skin's colour, are strips beside it (beside.test.ts): here only reaches are asked. */
const ALL = { ...SPREAD, besideToo: true };

describe('how far a spread grows', () => {
  it('in a shape: as far as it takes to fill half of it, since that is what a shape is drawn about', () => {
    const one = stroke(116, 75, 122);
    expect(found(folded, one, about, 1)).toBeLessThan(0.3);
    expect(iou(spreadToFit(folded, one, about, SPREAD).mask, thing)).toBeGreaterThan(0.98);
  });
  it('in a shape far larger than the thing, or where it fills it at once: as far as is asked', () => {
    const one = stroke(116, 75, 122);
    const large = maskOf((x, y) => x > 8 && x < 232 && y > 8 && y < 142);
    const asIs = (p: SmallPicture, marks: Uint8Array, shape: Uint8Array): void =>
      expect(spreadToFit(p, marks, shape, ALL).mask).toEqual(spread(p, marks, shape, SPREAD).mask);
    // The whole thing would be a fifth of that shape.
    asIs(folded, one, large);
    asIs(plain, stroke(100, 75, 140), about);
    // Everything is more than a shape is drawn about: past a patch of light there is no border in it.
    const lit = pictureOf((x, y) => [Math.hypot(x - 118, y - 75) < 14 ? 0.63 : 0.6, 0.08, 0.05]);
    expect(iou(spread(lit, one, about, SPREAD).mask, about)).toBeLessThan(0.2);
    expect(iou(spread(lit, one, about, { ...SPREAD, cap: 2 * SPREAD.cap }).mask, about)).toBeGreaterThan(0.95);
    asIs(lit, one, about);
  });
  it('what an edge and another hue part from it goes in a loose shape, not where that outlines it', () => {
    const cap: At<boolean> = (x, y) => disc(x, y) && y < 58;
    const skin: At<boolean> = (x, y) => disc(x, y) && y >= 58;
    const capped = pictureOf((x, y) =>
      cap(x, y) ? [0.53, 0.04, 0.072] : skin(x, y) ? [0.6, 0.075, 0.05] : [0.3, -0.06, -0.04],
    );
    const marks = stroke(95, 85, 145);
    const loose = maskOf((x, y) => Math.hypot(x - 120, y - 75) < 70);
    const of = (shape: Uint8Array, apart = false): number[] => {
      const { mask } = spreadToFit(capped, marks, shape, { ...SPREAD, apart }, 3);
      return [cap, skin].map((on) => {
        const at = maskOf(on);
        return mask.reduce((n, v, i) => n + (v & at[i]!), 0) / at.reduce((n, v) => n + v, 0);
      });
    };
    for (const [covered, meant] of [
      [of(about), 1],
      [of(loose), 0],
      [of(loose, true), 1],
    ] as const) {
      expect(Math.abs(covered[0]! - meant)).toBeLessThan(0.05);
      expect(covered[1]).toBeGreaterThan(0.97);
    }
  });
  it('in a loose shape: what strokes alone find of it, where that ends at an edge as well', () => {
    const loose = maskOf((x, y) => Math.hypot(x - 120, y - 75) < 80);
    const marks = stroke(95, 75, 145);
    const beside: At<boolean> = (x, y) => !disc(x, y) && x > 100 && x < 200 && y > 35 && y < 105;
    const both = maskOf((x, y) => disc(x, y) || beside(x, y));
    const found = (colour: readonly number[]): [SmallPicture, ...Uint8Array[]] => {
      const p = pictureOf((x, y) => (disc(x, y) ? [0.6, 0.05, 0.05] : beside(x, y) ? colour : [0.3, -0.06, -0.04]));
      const [asked, alone, it] = [
        spread(p, marks, loose, SPREAD),
        spreadToFit(p, marks, null, SPREAD),
        spreadToFit(p, marks, loose, SPREAD),
      ];
      return [p, asked.mask, alone.mask, it.mask];
    };
    // A darker wall of nearly its hue, which the shape holds together with it.
    const [dark, withWall, , thingOnly] = found([0.53, 0.04, 0.05]);
    // As projects of version 4 have it.
    expect(spreadToFit(dark, marks, loose, { ...SPREAD, heldByShape: true }).mask).toEqual(withWall);
    expect(iou(withWall!, both)).toBeGreaterThan(0.97);
    expect(iou(thingOnly!, thing)).toBeGreaterThan(0.98);
    // As light as it is: there strokes alone end where hardly anything does.
    const [p, asked, alone, it] = found([0.6, 0.03, 0.05]);
    expect(iou(alone!, thing)).toBeGreaterThan(0.97);
    expect(seen(p, asked!).edge - seen(p, alone!).edge).toBeGreaterThan(0.03);
    expect(it).toEqual(asked);
  });
  it('from strokes alone: as far as it looks like one whole thing', () => {
    const marks = stroke(100, 75, 140);
    // Twice as far as is good it has run all over the picture, and so has whatever is further.
    expect(found(hidden, marks, null, 0.5)).toBeLessThan(0.2);
    expect(reachFor(hidden, marks, SPREAD)).toBe(0.25);
    expect(found(hidden, marks, null, 0.25)).toBeGreaterThan(0.98);
    expect(found(plain, marks, null, reachFor(plain, marks, SPREAD))).toBeGreaterThan(0.99);
    // It is told by what is there, not by where: the same picture turned round.
    const round = <T extends Uint8Array | Float32Array>(v: T): T => v.slice().reverse() as T;
    const turned = { w, h, L: round(hidden.L), a: round(hidden.a), b: round(hidden.b) };
    expect(reachFor(turned, round(marks), SPREAD)).toBe(0.25);
  });
  it('a person asks for a part of that, or for more, and gets it', () => {
    const marks = stroke(100, 75, 140);
    const by = (p: SmallPicture, m: Uint8Array, shape: Uint8Array | null, times: number): Uint8Array =>
      spread(p, m, shape, { ...SPREAD, cap: SPREAD.cap * times }).mask;
    // A quarter was found: four times that is the whole picture.
    expect(spreadToFit(hidden, marks, null, SPREAD, 4).mask).toEqual(by(hidden, marks, null, 1));
    expect(iou(spreadToFit(hidden, marks, null, SPREAD, 4).mask, thing)).toBeLessThan(0.2);
    // In a shape twice was found.
    const one = stroke(116, 75, 122);
    expect(spreadToFit(folded, one, about, ALL, 0.5).mask).toEqual(by(folded, one, about, 1));
    expect(spreadToFit(folded, one, about, ALL, 0.5).mask).not.toEqual(by(folded, one, about, 2));
  });
  it('what is empty is worth nothing, and what is one thing more than that with another', () => {
    const marks = stroke(100, 75, 140);
    const grown = REACHES.map((k) =>
      spreadOver(groundOf(plain, marks, null, SPREAD), { ...SPREAD, cap: SPREAD.cap * k }),
    );
    const none = { ...grown[0]!, mask: new Uint8Array(w * h) };
    const beside = maskOf((x, y) => disc(x, y) || (x > 120 && x < 232 && y > 50 && y < 100));
    const [empty, ...rest] = worthOfReaches(plain, [none, ...grown.slice(1)]);
    expect(empty).toBe(-Infinity);
    rest.forEach((v) => expect(Number.isFinite(v)).toBe(true));
    const [, , whole, , more] = worthOfReaches(plain, [
      ...grown.slice(0, 4),
      { ...grown[4]!, mask: beside, grown: beside },
    ]);
    expect(whole!).toBeGreaterThan(more! + 2);
  });
  it('a copy on which nothing kept is to be seen changes nothing', () => {
    const lost = stroke(100, 75, 100).map((v, i) => (v === 1 && Math.floor(i / w) === 75 ? 1 : 0));
    const ringed = lost.map((v, i) =>
      v || [1, -1, w, -w, w + 1, w - 1, 1 - w, -1 - w].every((k) => !lost[i + k]) ? v : 2,
    );
    expect(reachFor(plain, Uint8Array.from(ringed), SPREAD)).toBe(1);
  });
  it('older projects grow as far as they ask, to the pixel', () => {
    expect(migrateParams(spreadOp, 3, {})).toEqual({ fits: 'asked' });
    expect(migrateParams(spreadOp, 4, {})).toEqual({ fits: 'held' });
    expect(migrateParams(spreadOp, 4, { fits: 'asked' })).toEqual({ fits: 'asked' });
    expect(migrateParams(spreadOp, 5, {})).toEqual({ fits: 'filled' });
    expect(migrateParams(spreadOp, 5, { fits: 'held' })).toEqual({ fits: 'held' });
    expect(migrateParams(spreadOp, 6, {})).toEqual({ fits: 'found' });
    expect(migrateParams(spreadOp, 6, { fits: 'thing' })).toEqual({ fits: 'found' });
    expect(migrateParams(spreadOp, 6, { fits: 'filled' })).toEqual({ fits: 'filled' });
    expect(migrateParams(spreadOp, 7, {})).toEqual({ fits: 'whole' });
    expect(migrateParams(spreadOp, 7, { fits: 'found' })).toEqual({ fits: 'found' });
    expect(migrateParams(spreadOp, 8, {})).toEqual({});
    const op = spreadOp as unknown as KeyFrameOp<typeof params>;
    const fold = (x: number): number => Math.sin(x / 5);
    const rgb = [
      [0.55, 0.25, 0.3],
      [0.3, 0.12, 0.45],
      [0.3, 0.1, 0.5],
    ].map(([lit, folds, ground]) =>
      Float32Array.from(noise, (_, i) => (thing[i] === 1 ? lit! + folds! * fold(i % w) : ground!)),
    );
    const points: [number, number][] = [
      [116, 75],
      [122, 75],
    ];
    const covered = (fits: 'thing' | 'asked'): number => {
      const values = { reachPct: 100, brushPx: 3, apart: false, border: 'laid', taught: 'again', fits } as const;
      const dst = [new Float32Array(w * h)];
      const run = { src: [Float32Array.from(about)], dst, work: [], picture: rgb, scratch: new Int32Array(0), w, h };
      const block = op.prepare(values, { ...plainContext, strokes: [{ keep: true, points }] });
      op.kernels['grow']!(block, { ...run, y0: 0, y1: h } as unknown as FrameRun);
      return iou(
        Uint8Array.from(dst[0]!, (v) => (v > 0.5 ? 1 : 0)),
        thing,
      );
    };
    expect(covered('thing')).toBeGreaterThan(0.98);
    expect(covered('asked')).toBeLessThan(0.6);
    // What a spread in a shape gave before: a fifth of the folded cloth, as version 3 of the operation made it.
    const before = spread(folded, stroke(116, 75, 122), about, SPREAD).mask;
    expect(before.reduce((a, v, i) => (v ? (31 * a + i) % 2147483647 : a), 7)).toBe(1212627811);
  });
});
