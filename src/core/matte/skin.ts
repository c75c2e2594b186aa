/**
 * A person's skin: colour that behaves as the pressed skin does in light and shade (saturation and hue as straight
 * lines over the logarithm of light), grown over from the press and learnt again from what was found. Which of several
 * guesses is taken: see pressed.ts. The constants are where measuring on faces ended (rendered ones in hard light,
 * whole and cut closer, and a photograph).
 */
import { median } from '../math/stats';
import { doubled } from './sizes';
import { differences, growOver, tidied } from './spread';
import type { Differences, Marks, SmallPicture } from './spread';
import { edgeOver, wrap } from './twoThings';

/** What skin of this person looks like: numbers over log L. */
export interface SkinModel {
  /** Logarithm of OKLab L in the middle of what was seen, and its deviation. */
  light: number;
  lightDev: number;
  /** Logarithms of the darkest and the lightest that belong. */
  from: number;
  to: number;
  /** Chroma over L: in the middle, by log L, deviation. */
  sat: readonly [number, number, number];
  /** Hue in radians, the same. */
  hue: readonly [number, number, number];
}
/** Deviations never count as smaller than these. */
const LEAST = { light: 0.06, sat: 0.018, hue: 0.055 };
/** In deviations: full to here, nothing from there. */
const FULL = 2;
const NONE = 3.4;
/** Light of what was pressed: what belongs is at most so many deviations away, and never beyond these shares of it. */
const LIGHT = { reach: 2.8, dark: 0.62, light: 1.55 };
/** Deviation of log L at which the seen slope weighs as much as none. */
const FLAT = 0.12;
/** A press alone shows too little of how its skin varies. */
const OPEN = 1.5;
const ROUNDS = 10;
/** What is found in so many times the press is hardly a face: tried again, so much less strictly. */
const HARDLY = 25;
const WIDER = 2;
/** What a round finds is taken at this share of the best likeness so far; at another where it is far larger. */
const TAKEN = 0.93;
const LEAP = 2.5;
const TAKEN_LEAPING = 0.97;
/** Below this share it has leaked: more rounds bring nothing back. */
const LEAKED = 0.7;
const CAP = 0.011;
const GATE = 0.05;
const SMALLEST = 0.0004;
/** The press, of the longer side. */
export const PRESS = 0.015;

/** A straight line through (x, y), x from its own middle; by weights that fall off where it does not fit. */
function line(x: readonly number[], y: readonly number[], least: number): [number, number, number] {
  let w = x.map(() => 1);
  let [m, k, dev] = [median(Float32Array.from(y)), 0, least];
  for (let round = 0; round < 4; round++) {
    const sum = w.reduce((a, b) => a + b, 0);
    const mx = x.reduce((a, v, i) => a + w[i]! * v, 0) / sum;
    const my = y.reduce((a, v, i) => a + w[i]! * v, 0) / sum;
    const xx = x.reduce((a, v, i) => a + w[i]! * (v - mx) ** 2, 0) / sum;
    const xy = x.reduce((a, v, i) => a + w[i]! * (v - mx) * (y[i]! - my), 0) / sum;
    k = xy / (xx + FLAT ** 2);
    m = my - k * mx;
    const off = Float32Array.from(x, (v, i) => Math.abs(y[i]! - m - k * v));
    dev = Math.max(least, 1.4826 * median(off));
    w = x.map((_, i) => Math.max(0, 1 - (off[i]! / (4 * dev)) ** 2) ** 2 + 1e-6);
  }
  return [m, k, dev];
}

/** Of each pixel: log L, chroma over L, hue in radians. */
interface Looks {
  light: Float32Array;
  sat: Float32Array;
  hue: Float32Array;
}
/** Darker than this nothing is told. */
const DARK = 0.02;
const looked = new WeakMap<SmallPicture, Looks>();
/** Asked once of each picture. */
export function looksOf(p: SmallPicture): Looks {
  const known = looked.get(p) ?? looksAt(p);
  looked.set(p, known);
  return known;
}
const looksAt = (p: SmallPicture): Looks => looksWhere(p, new Uint8Array(p.L.length).fill(1));
/** The same of a part of a picture (1); 0 elsewhere. */
function looksWhere({ L, a, b }: SmallPicture, mask: Uint8Array): Looks {
  const [light, sat, hue] = [new Float32Array(L.length), new Float32Array(L.length), new Float32Array(L.length)];
  for (let i = 0; i < mask.length; i++)
    if (mask[i] === 1) {
      light[i] = Math.log(Math.max(DARK, L[i]!));
      sat[i] = Math.sqrt(a[i]! * a[i]! + b[i]! * b[i]!) / Math.max(DARK, L[i]!);
      hue[i] = Math.atan2(b[i]!, a[i]!);
    }
  return { light, sat, hue };
}
/**
 * @param at pixels of the picture that are skin; at least one
 * @param floor how many times the least deviations count while little is known
 */
export function fitSkin(q: Looks, at: readonly number[], pressed: number, floor: number): SkinModel {
  const lit = at.filter((i) => q.light[i]! > Math.log(DARK));
  const list = lit.length > 0 ? lit : at;
  const l = list.map((i) => q.light[i]!);
  const light = median(Float32Array.from(l));
  const lightDev = Math.max(LEAST.light, 1.4826 * median(Float32Array.from(l, (v) => Math.abs(v - light))));
  const x = l.map((v) => v - light);
  const middle = (f: (hue: number) => number): number =>
    median(Float32Array.from(list, (i) => q.sat[i]! * f(q.hue[i]!)));
  const axis = Math.atan2(middle(Math.sin), middle(Math.cos));
  const sat = line(
    x,
    list.map((i) => q.sat[i]!),
    floor * LEAST.sat,
  );
  const hue = line(
    x,
    list.map((i) => wrap(q.hue[i]! - axis)),
    floor * LEAST.hue,
  );
  return {
    light,
    lightDev,
    from: Math.max(light - LIGHT.reach * lightDev - 0.1, pressed + Math.log(LIGHT.dark)),
    to: Math.min(light + LIGHT.reach * lightDev + 0.1, pressed + Math.log(LIGHT.light)),
    sat,
    hue: [axis + hue[0], hue[1], hue[2]],
  };
}
/** How well a colour belongs, 0..1. */
export function skinAt(m: SkinModel, l: number, sat: number, hue: number): number {
  if (!(l > Math.log(DARK))) return 0;
  const x = l - m.light;
  const z = Math.max(
    Math.abs(sat - m.sat[0] - m.sat[1] * x) / m.sat[2],
    Math.abs(wrap(hue - m.hue[0] - m.hue[1] * x)) / m.hue[2],
    NONE - (NONE - FULL) * Math.min(1, 1 + (l - m.from) / 0.12),
    NONE - (NONE - FULL) * Math.min(1, 1 + (m.to - l) / 0.12),
  );
  return z <= FULL ? 1 : z >= NONE ? 0 : (NONE - z) / (NONE - FULL);
}

export interface SkinFound {
  /** 1 inside, 0 outside. */
  mask: Uint8Array;
  model: SkinModel;
  rounds: number;
}
/** Pixels all of whose neighbours within r (by sides, step by step) are in as well. */
function inner(m: Uint8Array, w: number, r: number): Uint8Array {
  let a = m;
  for (let k = 0; k < r; k++) {
    const b = new Uint8Array(a.length);
    for (let i = 0; i < a.length; i++) {
      const x = i % w;
      if (a[i] && x > 0 && x + 1 < w && a[i - 1] && a[i + 1] && a[i - w] && a[i + w]) b[i] = 1;
    }
    a = b;
  }
  return a;
}
/** How much a mask looks like a thing: the share of its border over which the picture changes as at an edge. */
export function likenessOf(p: SmallPicture, m: Uint8Array, inside: Uint8Array | null): number {
  const { w, h } = p;
  let [all, edge] = [0, 0];
  const pair = (i: number, j: number, i2: number, j2: number): void => {
    if (m[i] === m[j] || (inside && (!inside[i] || !inside[j]))) return;
    all++;
    // One pixel further on either side: edges are a little soft.
    edge += edgeOver(p, i2, j2);
  };
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (x > 0 && x + 2 < w) pair(i, i + 1, i - 1, i + 2);
      if (y > 0 && y + 2 < h) pair(i, i + w, i - w, i + 2 * w);
    }
  return all > 0 ? edge / all : 0;
}
export function count(m: Uint8Array): number {
  let n = 0;
  for (let i = 0; i < m.length; i++) n += m[i]!;
  return n;
}
/** Of very many pixels some tell enough. */
export function some(list: readonly number[], most: number): number[] {
  const step = Math.max(1, Math.ceil(list.length / most));
  return list.filter((_, i) => i % step === 0);
}

interface Grown extends SkinFound {
  pixels: number;
  likeness: number;
}
function grow(
  p: SmallPicture,
  by: Differences,
  looks: Looks,
  marks: Marks,
  inside: Uint8Array | null,
  open: number,
  reach: number,
): Grown {
  const pressed: number[] = [];
  for (let i = 0; i < marks.length; i++) if (marks[i] === 1) pressed.push(i);
  const lit = median(Float32Array.from(pressed, (i) => looks.light[i]!));
  const belongs = new Float32Array(p.w * p.h);
  let at: Marks = marks;
  let model = fitSkin(looks, pressed, lit, open);
  let best: Grown | null = null;
  let most = 0;
  for (let round = 1, before = 0; round <= ROUNDS; round++) {
    for (let i = 0; i < belongs.length; i++) belongs[i] = skinAt(model, looks.light[i]!, looks.sat[i]!, looks.hue[i]!);
    const mask = growOver(p, belongs, at, inside, { cap: CAP * reach, smallest: SMALLEST }, by);
    const pixels = count(mask);
    const likeness = likenessOf(p, mask, inside);
    most = Math.max(most, likeness);
    if (!best || likeness >= (pixels > LEAP * best.pixels ? TAKEN_LEAPING : TAKEN) * most)
      best = { mask, model, pixels, likeness, rounds: round };
    if (likeness < LEAKED * most || Math.abs(pixels - before) <= 0.01 * pixels) break;
    before = pixels;
    const core = inner(mask, p.w, 2);
    at = marks.slice();
    const seeds = pressed.slice();
    for (let i = 0; i < core.length; i++)
      if (core[i]) {
        seeds.push(i);
        if (!at[i] && belongs[i]! > GATE) at[i] = 1;
      }
    if (seeds.length < pressed.length + 8) break;
    // What was pressed stays known, however much was found.
    model = fitSkin(looks, some(seeds, 3000), lit, 1);
  }
  return best!;
}
/**
 * As before version 2 of the operation: grown over the picture, round by round. Older projects keep what they had.
 *
 * @param marks 1 where somebody pressed or painted that it is skin, 2 that it is not; without a 1 nothing is found
 * @param inside 1 where it may be; null: everywhere
 * @param reach how far it grows, 1 as measured
 */
export function growSkin(p: SmallPicture, marks: Marks, inside: Uint8Array | null, reach = 1): SkinFound | null {
  if (!marks.includes(1)) return null;
  const [by, looks] = [differences(p), looksOf(p)];
  const found = grow(p, by, looks, marks, inside, OPEN, reach);
  const pressed = marks.reduce((n, v) => n + (v === 1 ? 1 : 0), 0);
  if (found.pixels > HARDLY * pressed) return found;
  // A press on a spot that differs from the skin around it: looked at once more, less strictly.
  const wider = grow(p, by, looks, marks, inside, WIDER * OPEN, WIDER * reach);
  return wider.likeness >= TAKEN * found.likeness ? wider : found;
}

/** What grew over the copy is found anew this near to its border, in pixels of the whole one. */
const RIM = 3;
/** Pixels that are in or have one that is within r (by sides, step by step). */
const outer = (m: Uint8Array, w: number, r: number): Uint8Array => {
  let a = m;
  for (let k = 0; k < r; k++) {
    const b = a.slice();
    for (let i = 0; i < a.length; i++) {
      const x = i % w;
      if ((x > 0 && a[i - 1]) || (x + 1 < w && a[i + 1]) || a[i - w] || a[i + w]) b[i] = 1;
    }
    a = b;
  }
  return a;
};
/** What was found on the copy half as wide, found anew near its border on the whole one. */
export function atRim(
  p: SmallPicture,
  half: SmallPicture,
  mask: Uint8Array,
  marks: Marks,
  inside: Uint8Array | null,
): Uint8Array {
  const [looks, halfLooks] = [looksOf(p), looksOf(half)];
  const up = doubled(mask, half.w, half.h, p.w, p.h);
  const core = inner(up, p.w, RIM);
  const about = outer(up, p.w, RIM);
  const pressed = indicesOf(marks);
  for (const i of pressed) about[i] = 1;
  if (inside) for (let i = 0; i < about.length; i++) if (inside[i] === 0) about[i] = 0;
  const lit = median(Float32Array.from(pressed, (i) => looks.light[i]!));
  const model = fitSkin(looks, some([...pressed, ...indicesOf(core)], 3000), lit, 1);
  // The copy has less noise, the whole one the finer border: what either says belongs does.
  const belongs = new Float32Array(p.w * p.h);
  const at = marks.slice();
  for (let y = 0, i = 0; y < p.h; y++)
    for (let x = 0; x < p.w; x++, i++) {
      if (about[i] === 0) continue;
      const j = Math.min(half.h - 1, y >> 1) * half.w + Math.min(half.w - 1, x >> 1);
      belongs[i] = Math.max(
        skinAt(model, looks.light[i]!, looks.sat[i]!, looks.hue[i]!),
        skinAt(model, halfLooks.light[j]!, halfLooks.sat[j]!, halfLooks.hue[j]!),
      );
      if (core[i] === 1 && at[i] === 0 && belongs[i]! > GATE) at[i] = 1;
    }
  return growOver(p, belongs, at, about, { cap: 1, smallest: SMALLEST }, differences(p));
}
/** In any light: logarithms from the middle. Half of a face may lie in shade, which no press on the other tells. */
const ANY_LIGHT = { dark: 1.2, light: 0.9 };
export const inAnyLight = (m: SkinModel): SkinModel => ({
  ...m,
  from: m.light - ANY_LIGHT.dark,
  to: m.light + ANY_LIGHT.light,
});
/** A cut is smooth: eyes and what else within it is nothing like its skin is taken out again. */
export function carved(p: SmallPicture, marks: Marks, mask: Uint8Array): Uint8Array {
  const core = indicesOf(inner(mask, p.w, 2));
  if (core.length < 8) return mask;
  const looks = looked.get(p) ?? looksWhere(p, mask);
  const model = fitSkin(looks, some(core, 3000), median(Float32Array.from(core, (i) => looks.light[i]!)), 1);
  const out = mask.map((v, i) =>
    v === 1 && (marks[i] === 1 || skinAt(model, looks.light[i]!, looks.sat[i]!, looks.hue[i]!) > GATE) ? 1 : 0,
  );
  tidied(p, out, marks, null, { cap: CAP, smallest: SMALLEST });
  return out;
}
export function indicesOf(marks: Marks): number[] {
  const out: number[] = [];
  for (let i = 0; i < marks.length; i++) if (marks[i] === 1) out.push(i);
  return out;
}
/** What can be seen of a region that was found by a press. */
export interface SkinSeen {
  /** Shares of the picture, and of the picture's rim. */
  coverage: number;
  rim: number;
  /** See likenessOf. */
  likeness: number;
  /** A second hue in it: how far away in degrees, and its share; null where there is none. */
  second: { deg: number; share: number } | null;
}
/** In words, what the person should know or do; empty where there is nothing to say. */
export function skinSaid({ coverage, rim, likeness, second }: SkinSeen): string[] {
  return [
    ...(coverage < 0.001 ? ['Hardly anything was found: press on another part of the skin, or paint over it.'] : []),
    ...(coverage > 0.35 || rim > 0.15
      ? ['Other things have this colour: draw a freeform round the person, or paint over them as not meant.']
      : likeness < 0.55 && coverage >= 0.001
        ? ['Its edge is hardly seen in places: paint as not meant what does not belong.']
        : []),
    ...(second && second.deg > 12 && second.share > 0.15
      ? [
          `Light of two colours falls on it (${Math.round(second.deg)}\u00b0 apart): ` +
            'one push cannot bring both to the line.',
        ]
      : []),
  ];
}
