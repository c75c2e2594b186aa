/**
 * How far an outline has left what it was drawn about, told by colours: features of a thing that turns go out of sight
 * and take a shape along, while what it holds stays where it is. How much more often each colour stood inside than
 * about the outline where it was drawn (R. Collins, Y. Liu, M. Leordeanu, "Online selection of discriminative tracking
 * features", PAMI 27(10), 2005) makes a picture of every frame in which the thing is bright, whatever lies on it; it is
 * laid over the first one's.
 */
import { mapPoint, STILL } from '../graph/track';
import type { Homography } from '../graph/track';
import { polygonMask } from '../math/polygon';
import { distanceTo } from '../matte/likeness';
import { invertMap, multiplyMaps } from './fit';
import { between, LaidOver, shiftBy } from './laidOver';
import type { Point } from './points';

/** A frame's colours, in any three numbers that are linear in its codes, averaged over squares. */
export interface Colours {
  w: number;
  h: number;
  planes: readonly [Float32Array, Float32Array, Float32Array];
  /** Pixels of the frame along a square. */
  step: number;
}
/** Means over squares of so many pixels; what is left at the right and below is left out. */
export function averaged(
  plane: ArrayLike<number>,
  w: number,
  h: number,
  step: number,
): { w: number; h: number; data: Float32Array } {
  const [sw, sh] = [Math.max(1, Math.floor(w / step)), Math.max(1, Math.floor(h / step))];
  const data = new Float32Array(sw * sh);
  const [dx, dy] = [Math.min(step, w), Math.min(step, h)];
  for (let y = 0, k = 0; y < sh; y++)
    for (let x = 0; x < sw; x++, k++) {
      let sum = 0;
      for (let j = 0; j < dy; j++)
        for (let i = 0, at = (y * step + j) * w + x * step; i < dx; i++, at++) sum += plane[at]!;
      data[k] = sum / (dx * dy);
    }
  return { w: sw, h: sh, data };
}
/** Of R', G', B': luma and two differences from it (Rec. ITU-R BT.709-6, 3). */
export function coloursOf(
  { r, g, b }: Readonly<Record<'r' | 'g' | 'b', ArrayLike<number>>>,
  w: number,
  h: number,
  step: number,
): Colours {
  const [red, green, blue] = [r, g, b].map((v) => averaged(v, w, h, step));
  const luma = red!.data.map((v, i) => 0.2126 * v + 0.7152 * green!.data[i]! + 0.0722 * blue!.data[i]!);
  return {
    w: red!.w,
    h: red!.h,
    planes: [luma, blue!.data.map((v, i) => v - luma[i]!), red!.data.map((v, i) => v - luma[i]!)],
    step,
  };
}

/** The root of the outline's area in cells. */
const CELLS = 44;
/** Beyond the outline, in that root: what lies about it; and what is looked at. */
const ABOUT = 0.6;
const ROOM = 0.75;
/** Of colours, along each of the three numbers. */
const BINS = 14;
/** A colour that was rarer than this on both sides says little. */
const RARE = 1e-4;
/** What lies inside is told from what lies about it: by so much, of 1, it is brighter in the mean. */
const TOLD = 0.3;
/** So alike two of these pictures are where the thing is in sight: correlation, -1..1. */
const IN_SIGHT = 0.6;
/** So alike they must be once, before anything is believed: cloth before the same cloth leads wherever light does. */
const FIRST = 0.97;
/** What passes in front makes them less alike at once by more than turning does. */
const AT_ONCE = 0.05;
/** So alike it is found again after it was lost. */
const AGAIN = 0.8;
const SLOW = 0.3;
const SLOWER = 0.1;
/** Of what was measured so much is believed on each frame: a shape glides back, and single frames move it little. */
const BELIEVED = 0.3;
/** What left the frame by more leaves nothing to be laid over. */
const BEYOND = 0.1;
/** On one frame a thing goes no further, in the root of its area, nor grows or turns by more. */
const FAR = 0.25;
const MOST = 0.2;

/** A share of a turn, growth and shift about a place. */
function share(m: Homography, t: number, [cx, cy]: Point): Homography {
  const [size, angle] = [Math.hypot(m[0]!, m[3]!) ** t, Math.atan2(m[3]!, m[0]!) * t];
  const [u, v] = mapPoint(m, cx, cy);
  const [a, b] = [size * Math.cos(angle), size * Math.sin(angle)];
  const about = multiplyMaps([a, -b, 0, b, a, 0, 0, 0, 1], shiftBy(-cx, -cy));
  return multiplyMaps(shiftBy(cx + t * (u - cx), cy + t * (v - cy)), about);
}
/** 1 2 1 along both sides. */
function soft(v: Float32Array, w: number, h: number): Float32Array {
  const rows = new Float32Array(v.length);
  const out = new Float32Array(v.length);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) rows[i] = (v[x > 0 ? i - 1 : i]! + 2 * v[i]! + v[x + 1 < w ? i + 1 : i]!) / 4;
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++)
      out[i] = (rows[y > 0 ? i - w : i]! + 2 * rows[i]! + rows[y + 1 < h ? i + w : i]!) / 4;
  return out;
}
/** Pixels of a frame along a square, for the colours of an outline of corners in its pixels. */
export const stepFor = (outline: readonly Point[], across = CELLS): number =>
  Math.max(1, Math.floor(rootOf(outline) / across));
function rootOf(outline: readonly Point[]): number {
  const twice = outline.reduce((sum, [x, y], i) => {
    const [u, v] = outline[(i + 1) % outline.length]!;
    return sum + x * v - u * y;
  }, 0);
  return Math.sqrt(Math.abs(twice) / 2);
}

/** What an outline held where it was drawn. */
export class Inside {
  private readonly root: number;
  /** Pixels along a cell, and the left top corner of the first one. */
  readonly k: number;
  private readonly at: Point;
  private readonly w: number;
  private readonly h: number;
  private readonly centre: Point;
  /** Cells that are looked at: those inside and those about. */
  private readonly cells: number[];
  private readonly inner: number[];
  private readonly low: number[];
  private readonly span: number[];
  /** Of each colour, how well it belongs. */
  private readonly belongs: Float32Array;
  private readonly laid: LaidOver;
  /** By how much it is brighter inside. */
  private readonly told: number;
  private usual: number | null = null;

  /**
   * @param outline corners, in pixels from the left top corner of the frame
   * @param across cells along the root of its area
   * @param rim of that root: so near to the outline what lies inside says less of what is meant; a hand is hurried
   */
  constructor(colours: Colours, outline: readonly Point[], turns: boolean, across = CELLS, rim = 0) {
    this.root = Math.max(1, rootOf(outline));
    this.k = Math.max(1, this.root / across);
    const [xs, ys] = [outline.map((p) => p[0]), outline.map((p) => p[1])];
    const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    this.centre = [(x0 + x1) / 2, (y0 + y1) / 2];
    const room = ROOM * this.root;
    this.at = [x0 - room, y0 - room];
    this.w = Math.max(2, Math.ceil((x1 - x0 + 2 * room) / this.k));
    this.h = Math.max(2, Math.ceil((y1 - y0 + 2 * room) / this.k));
    const { w, h, k } = this;
    const inside = polygonMask(
      outline.map(([x, y]) => [(x - this.at[0]) / k, (y - this.at[1]) / k] as const),
      w,
      h,
    );
    const away = distanceTo(inside, w, 1);
    this.cells = [...inside.keys()].filter((i) => away[i]! <= (ABOUT * this.root) / k);
    this.inner = this.cells.filter((i) => inside[i] === 1);
    const seen = this.seen(colours, STILL);
    const range = seen.map((v) => {
      const s = Float32Array.from(this.cells, (i) => v[i]!).sort();
      return [s[Math.floor(0.01 * s.length)] ?? 0, s[Math.floor(0.99 * s.length)] ?? 0] as const;
    });
    this.low = range.map(([from]) => from);
    this.span = range.map(([from, to]) => Math.max(1e-4, to - from));
    const depth = distanceTo(inside, w, 0);
    const counts = [new Float32Array(BINS ** 3), new Float32Array(BINS ** 3)] as const;
    const n: [number, number] = [0, 0];
    for (const i of this.cells) {
      const side = inside[i] === 1 ? 0 : 1;
      const counted = side === 0 && rim > 0 ? Math.min(1, depth[i]! / (rim * across)) : 1;
      counts[side][this.bin(seen, i)]! += counted;
      n[side] += counted;
    }
    const [own, other] = counts.map((c, side) => spreadOut(c).map((v) => v / Math.max(1, n[side]!)));
    this.belongs = own!.map((v, i) => (v + RARE / 2) / (v + other![i]! + RARE));
    const first = this.picture(seen);
    let [is, isNot] = [0, 0];
    for (const i of this.cells) {
      if (inside[i] === 1) is += first[i]!;
      else isNot += first[i]!;
    }
    const others = this.cells.length - this.inner.length;
    this.told = this.inner.length > 0 && others > 0 ? is / this.inner.length - isNot / others : 0;
    const [cx, cy] = this.centre;
    const middle: Point = [(cx - this.at[0]) / k - 0.5, (cy - this.at[1]) / k - 0.5];
    this.laid = new LaidOver(first, w, h, this.cells, middle, turns);
  }
  /** Whether colours tell what it holds from what lies about it at all. */
  get tells(): boolean {
    return this.told >= TOLD;
  }
  /**
   * How well colours belong at a place, 0..1, on a frame where all of it has moved by a map; asked for in few places,
   * and worked out there.
   *
   * @returns of a place in pixels of the first frame
   */
  belonging(colours: Colours, h: Homography): (x: number, y: number) => number {
    const { at, k, w, h: rows } = this;
    const plain = new Float32Array(w * rows).fill(NaN);
    const soft = new Float32Array(w * rows).fill(NaN);
    const own = (x: number, y: number): number => {
      const i = Math.max(0, Math.min(rows - 1, y)) * w + Math.max(0, Math.min(w - 1, x));
      const known = plain[i]!;
      return known >= 0 ? known : (plain[i] = this.belongs[this.binOf(this.colour(colours, h, i))]!);
    };
    const value = (x: number, y: number): number => {
      const i = y * w + x;
      const known = soft[i]!;
      if (known >= 0) return known;
      const row = (v: number): number => (own(x - 1, v) + 2 * own(x, v) + own(x + 1, v)) / 4;
      return (soft[i] = (row(y - 1) + 2 * row(y) + row(y + 1)) / 4);
    };
    return (x, y) => {
      const u = Math.max(0, Math.min(w - 1, (x - at[0]) / k - 0.5));
      const v = Math.max(0, Math.min(rows - 1, (y - at[1]) / k - 0.5));
      const [x0, y0] = [Math.min(w - 2, Math.floor(u)), Math.min(rows - 2, Math.floor(v))];
      const [fx, fy] = [u - x0, v - y0];
      const top = value(x0, y0) + fx * (value(x0 + 1, y0) - value(x0, y0));
      return top + fy * (value(x0, y0 + 1) + fx * (value(x0 + 1, y0 + 1) - value(x0, y0 + 1)) - top);
    };
  }
  /** The middle of a cell, before it moves. */
  private place(i: number): Point {
    return [this.at[0] + ((i % this.w) + 0.5) * this.k, this.at[1] + (Math.floor(i / this.w) + 0.5) * this.k];
  }
  private seen(c: Colours, h: Homography): Float32Array[] {
    const out = c.planes.map(() => new Float32Array(this.w * this.h));
    for (let i = 0; i < this.w * this.h; i++) this.colour(c, h, i).forEach((v, n) => (out[n]![i] = v));
    return out;
  }
  private colour(c: Colours, h: Homography, i: number): number[] {
    const [x, y] = mapPoint(h, ...this.place(i));
    return c.planes.map((p) => between(p, c.w, c.h, x / c.step - 0.5, y / c.step - 0.5));
  }
  /** Of what the outline holds, the share that lies beyond the frame. */
  private beyond(c: Colours, h: Homography): number {
    const out = this.inner.filter((i) => {
      const [x, y] = mapPoint(h, ...this.place(i));
      return !(x >= 0 && y >= 0 && x < c.w * c.step && y < c.h * c.step);
    });
    return out.length / Math.max(1, this.inner.length);
  }
  private binOf(colour: readonly number[]): number {
    return colour.reduce((at, v, n) => {
      const b = Math.floor(((v - this.low[n]!) / this.span[n]!) * BINS);
      return at * BINS + Math.max(0, Math.min(BINS - 1, b));
    }, 0);
  }
  private bin(seen: readonly Float32Array[], i: number): number {
    return this.binOf(seen.map((v) => v[i]!));
  }
  private picture(seen: readonly Float32Array[]): Float32Array {
    const v = Float32Array.from({ length: this.w * this.h }, (_, i) => this.belongs[this.bin(seen, i)]!);
    return soft(v, this.w, this.h);
  }
  /**
   * What brings an outline that has moved by `h` back to what it was drawn about: the next map is h after this, both in
   * pixels from the left top corner. Null where colours do not say, or were not once as they were drawn.
   *
   * @param lost nothing else says where it is: all of what was measured counts
   */
  back(colours: Colours, h: Homography, lost = false): Homography | null {
    if (!this.tells || this.beyond(colours, h) > BEYOND) return null;
    const { map, alike } = this.laid.on(this.picture(this.seen(colours, h)));
    if (this.usual === null && alike < FIRST) return null;
    this.usual ??= alike;
    const as = alike >= this.usual - AT_ONCE;
    this.usual += (as ? SLOW : SLOWER) * (alike - this.usual);
    if (lost ? alike < AGAIN : alike < IN_SIGHT || !as) return null;
    const { k, at } = this;
    const toCells = multiplyMaps(shiftBy(-0.5, -0.5), [1 / k, 0, -at[0] / k, 0, 1 / k, -at[1] / k, 0, 0, 1]);
    const found = multiplyMaps(multiplyMaps(invertMap(toCells), map), toCells);
    const [u, v] = mapPoint(found, ...this.centre);
    const far = Math.hypot(u - this.centre[0], v - this.centre[1]) > FAR * this.root;
    if (far || Math.hypot(found[0]! - 1, found[3]!) > MOST) return null;
    return lost ? found : share(found, BELIEVED, this.centre);
  }
}
/** Each colour lends a quarter to either neighbour, along each of the three numbers. */
function spreadOut(counts: Float32Array): Float32Array {
  let v = counts;
  for (const by of [1, BINS, BINS * BINS])
    v = v.map((n, i) => {
      const at = Math.floor(i / by) % BINS;
      return n / 2 + (at > 0 ? v[i - by]! / 4 : 0) + (at + 1 < BINS ? v[i + by]! / 4 : 0);
    });
  return v;
}
