/**
 * Lays the border of a region inside a shape where it costs least: between what was learnt of either side's colours,
 * along edges of the picture. After Y. Boykov, M.-P. Jolly, "Interactive graph cuts for optimal boundary and region
 * segmentation of objects in N-D images", ICCV 2001; the prices come from core/matte/likeness.ts.
 */
import { cutter } from '../math/minimumCut';
import { distanceTo } from './likeness';
import type { Likeness } from './likeness';
import type { Differences, Marks, SmallPicture } from './spread';

/** What parting two alike neighbours costs, in units of the logarithm of odds. Beside it single pixels weigh little. */
const PART = 40;
/** Of this, what is left across the strongest edge: a border stays short there too. */
const LEAST_PART = 0.05;
/** A difference in OKLab beyond the texture at which parting costs 1/e. */
const EDGE = 0.02;
/** No colour alone is surer than this. */
const DOUBT = 0.02;
/** What a first growth says, beside colours; more where nobody drew a shape. */
const GROWN = 1;
const GROWN_ALONE = 2.5;
/** A shape is drawn about a thing: its middle is the thing by this much more than its rim. */
const MIDDLE = 1;
/** The middle begins at this share of the deepest point's distance from the rim. */
const DEEP = 0.5;
/** What lies this many times further than a growth may go is outside, whatever its colour. */
export const TOO_FAR = 3;
const NEVER = 20;
/** Painted is painted. */
const PAINTED = 1e6;

/** Of what a border may cost that lies along no edge at all: one that costs more was found nowhere in the picture. */
const NO_BORDER = 0.8;
/** A shape cuts through the thing where colours beyond it belong this well. */
const GOES_ON = 0.9;
/** And so near to where the region reached its border, in pixels: a border that is to be short rounds corners there. */
const REACHED_PX = 20;

/** Weights of colours beside the border's length: small and pale things need more, or only what was painted stays. */
const WEIGHTS = [1, 2, 4];
/** Less than this of what was grown is no result: the border was shortened, not found. */
const SHRUNK = 0.5;

export type Four = readonly [Float32Array, Float32Array, Float32Array, Float32Array];
/** Before edges count, along a step. */
const most = (k: number): number => (k > 1 ? PART / Math.SQRT2 : PART);
const costAt = (differ: number, texture: number, k: number): number => {
  const d = Math.max(0, differ - texture) / (EDGE + texture);
  return most(k) * (LEAST_PART + Math.exp(-d * d));
};
/** What parting each pixel from its neighbour along each step costs; 0 where there is none. */
export const partingCosts = ({ w, h }: SmallPicture, by: Differences, texture: number): Four =>
  STEPS.map(([dx, dy], k) => {
    const out = new Float32Array(w * h);
    for (let y = 0; y < h - dy; y++)
      for (let x = Math.max(0, -dx), i = y * w + x; x < w - Math.max(0, dx); x++, i++)
        out[i] = costAt(by[k]![i]!, texture, k);
    return out;
  }) as unknown as Four;

/** Divides what lies inside a shape by what was learnt of colours; edges are looked at once. */
export type Divider = (l: Likeness, mask: Uint8Array) => Uint8Array;
/** From what is kept to each pixel, and how long it may be. */
export interface Way {
  length: Float32Array;
  most: number;
}
export const STEPS = [
  [1, 0],
  [0, 1],
  [1, 1],
  [-1, 1],
] as const;

/**
 * A shape is drawn about a thing: what lies beyond it is outside, and parting from it costs as much as anywhere. Only
 * where that finds no border in the picture, or where the region reaches the shape's border all the same, a shape that
 * cuts through the thing is believed: there the thing goes on beyond it, and parting costs nothing.
 *
 * @param shape 1 where the region may be
 * @param by how pixels differ from their neighbours to the right, below, right below and left below
 * @param texture differences up to this are none
 * @param drawn by a hand, about the thing: only then its middle says something, and the thing may go on beyond it
 * @returns what gives 1 inside, 0 outside; its `mask` is what a growth took
 */
export function divider(
  { w: fullW, h: fullH }: SmallPicture,
  marks: Marks,
  shape: Uint8Array,
  by: Differences,
  texture: number,
  way: Way,
  drawn = true,
): Divider {
  // Only the shape and a pixel about it take part.
  const box = around(shape, fullW, fullH);
  const { w, h } = box;
  const n = w * h;
  const inside = cropped(shape, fullW, box);
  const painted = cropped(marks, fullW, box);
  const length = cropped(way.length, fullW, box);
  const part = STEPS.map(() => new Float32Array(n)) as [Float32Array, Float32Array, Float32Array, Float32Array];
  /** Pairs across the shape's border: the pixel inside, the one outside, what parting them costs. */
  const across: { i: number; j: number; cost: number; most: number }[] = [];
  for (let k = 0; k < 4; k++) {
    const [dx, dy] = STEPS[k]!;
    const differ = cropped(by[k]!, fullW, box);
    for (let y = 0; y < h - dy; y++)
      for (let x = Math.max(0, -dx), i = y * w + x; x < w - Math.max(0, dx); x++, i++) {
        const j = i + dy * w + dx;
        if (inside[i] === 0 && inside[j] === 0) continue;
        const cost = costAt(differ[i]!, texture, k);
        if (inside[i] === inside[j]) part[k]![i] = cost;
        else across.push({ i: inside[i] === 1 ? i : j, j: inside[i] === 1 ? j : i, cost, most: most(k) });
      }
  }
  const depth = distanceTo(inside, w, 0);
  let deepest = 0;
  for (let i = 0; i < n; i++) if (inside[i] === 1) deepest = Math.max(deepest, depth[i]!);
  // Without a rim there is no middle.
  const rim = drawn && deepest > 0 && deepest < w + h;

  /** What the border of a region costs, of what it would without any edge. */
  const costOf = (mask: Uint8Array): number => {
    let [paid, full] = [0, 0];
    STEPS.forEach(([dx, dy], k) => {
      for (let i = 0; i < n; i++) {
        // What costs nothing is no pair inside.
        if (part[k]![i] === 0 || mask[i] === mask[i + dy * w + dx]) continue;
        paid += part[k]![i]!;
        full += most(k);
      }
    });
    for (const a of across)
      if (mask[a.i] === 1) {
        paid += a.cost;
        full += a.most;
      }
    return full > 0 ? paid / full : 0;
  };
  // One for all: prices of the next are mostly those of the last.
  const cheapest = cutter(w, inside, part);
  return (l, mask) => {
    const belongs = cropped(l.belongs, fullW, box);
    const grown = cropped(mask, fullW, box);
    const price = new Float32Array(n);
    for (let i = 0; i < n; i++) {
      if (inside[i] === 0) continue;
      if (painted[i] !== 0) {
        price[i] = painted[i] === 1 ? PAINTED : -PAINTED;
        continue;
      }
      const b = Math.min(1 - DOUBT, Math.max(DOUBT, belongs[i]!));
      price[i] = Math.log(b / (1 - b)) + (grown[i] === 1 ? 1 : -1) * (drawn ? GROWN : GROWN_ALONE);
      if (rim) price[i]! += MIDDLE * (2 * Math.min(1, depth[i]! / (DEEP * deepest)) - 1);
      if (length[i]! > TOO_FAR * way.most) price[i]! -= NEVER;
    }
    const cut = (goesOn: (i: number, j: number) => boolean, weight: number): Uint8Array => {
      const p = price.map((v) => v * weight);
      for (const { i, j, cost } of across) if (length[j]! > way.most || !goesOn(i, j)) p[i]! -= cost;
      return cheapest(p);
    };
    const area = (m: Uint8Array): number => m.reduce((sum, v) => sum + v, 0);
    const held = SHRUNK * area(grown);
    let got = grown;
    for (const weight of WEIGHTS) {
      got = cut(() => false, weight);
      // Nothing goes on beyond a shape that nobody drew.
      if (drawn && costOf(got) > NO_BORDER) got = cut(() => true, weight);
      else if (drawn) {
        const reached = new Uint8Array(n);
        for (const { i, j } of across)
          if (got[i] === 1 && length[j]! <= way.most && belongs[j]! >= GOES_ON) reached[i] = 1;
        if (reached.includes(1)) {
          const near = distanceTo(reached, w, 1);
          got = cut((i, j) => near[i]! <= REACHED_PX && belongs[j]! >= GOES_ON, weight);
        }
      }
      if (area(got) >= held) break;
    }
    // Nothing held: what was grown stays.
    if (area(got) < held) got = grown;
    const out = new Uint8Array(shape.length);
    for (let y = 0; y < h; y++) out.set(got.subarray(y * w, (y + 1) * w), (y + box.y) * fullW + box.x);
    return out;
  };
}
export interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}
/** The box of what is 1, with a pixel about it where there is one. */
function around(on: Uint8Array, w: number, h: number): Box {
  let [x0, x1, y0, y1] = [w, 0, h, 0];
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++)
      if (on[i] === 1) {
        x0 = Math.min(x0, x);
        x1 = Math.max(x1, x);
        y0 = Math.min(y0, y);
        y1 = y;
      }
  if (x1 < x0) return { x: 0, y: 0, w: 0, h: 0 };
  [x0, y0] = [Math.max(0, x0 - 1), Math.max(0, y0 - 1)];
  return { x: x0, y: y0, w: Math.min(w, x1 + 2) - x0, h: Math.min(h, y1 + 2) - y0 };
}
export function cropped<T extends Uint8Array | Float32Array>(v: T, w: number, b: Box): T {
  const out = (v instanceof Uint8Array ? new Uint8Array(b.w * b.h) : new Float32Array(b.w * b.h)) as T;
  for (let y = 0; y < b.h; y++) out.set(v.subarray((y + b.y) * w + b.x, (y + b.y) * w + b.x + b.w), y * b.w);
  return out;
}
