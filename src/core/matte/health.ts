/**
 * What is wrong with a matte, measured, each fault with a place to look at: specks, holes, pieces away from what was
 * painted, noise of its flat parts, width of its edge, and what is only half in.
 */
import { components, find } from '../op/components';

/** From here on a pixel belongs to a piece; up to here it belongs to a hole. */
const PIECE_FROM = 0.2;
const HOLE_BELOW = 0.8;
/** From here on it counts as full. */
export const FULL = 0.98;
/** Islands up to this share of the frame are specks, larger ones are pieces apart. */
const SPECK_SHARE = 0.0005;
/** Holes up to this share of the frame are faults; a larger one is what the thing goes round. */
const HOLE_SHARE = 0.002;
/** Without strokes every piece so large beside the largest is meant. */
const PIECE_SHARE = 0.25;
/** Pixels about the edge that are no flat part, and those that its own softness may take. */
const EDGE_PX = 4;
const SOFT_PX = 24;
/**
 * Up to this share of the frame a fault is no part of the thing: eyes and mouths, which a skin goes round, are larger.
 */
const SURELY_SHARE = 0.0001;
const SURELY_PX = 16;
/** So many of each kind are told by their places. */
const TOLD = 12;

export interface Fault {
  /** Pixels, and the sum of the matte over them (of a hole: of what is missing). */
  area: number;
  weight: number;
  /** A pixel of it, well inside, and the box about it. */
  x: number;
  y: number;
  box: { x: number; y: number; w: number; h: number };
}
export interface Health {
  /** Mean of the matte over the frame, 0..1, and the share that is full. */
  coverage: number;
  full: number;
  /** Of what surrounds strokes that say "this", inside the shapes: the share that is full; null without strokes. */
  meant: number | null;
  specks: Faults;
  holes: Faults;
  /** Pieces larger than a speck that no stroke touches (without strokes: that are small beside the largest). */
  apart: Faults;
  /** Deviation of the flat parts from their own surroundings, 0..1; null where there are none. */
  noise: number | null;
  /** Mean width of the edge from nothing to full, in pixels; null without an edge. */
  edgePx: number | null;
  /** Of what is in, away from the edge: the share that is only half in. */
  half: number;
  /** Levels that a floor and a ceiling would have to take in: the rest outside, and the thinnest of the inside. */
  outside: number;
  inside: number;
}
export interface Faults {
  count: number;
  area: number;
  /** Largest first. */
  list: Fault[];
  /** Area of the largest that is so small that it is surely a fault; 0 where none is. */
  surely: number;
}
/** What was painted, as a plane: 1 meant, 2 not meant, 0 nothing; and its surroundings. */
export interface Painted {
  marks: Uint8Array;
  /** 1 about strokes that say "this", inside the shapes. */
  about: Uint8Array;
}

/** Pixels within r of a marked one, by squares: two passes of running counts. */
function widened(marks: Uint8Array, w: number, h: number, r: number): Uint8Array {
  const pass = (from: Uint8Array, n: number, lines: number, step: number, line: number): Uint8Array => {
    const to = new Uint8Array(w * h);
    for (let l = 0; l < lines; l++) {
      const first = l * line;
      let last = -n - r;
      for (let i = 0, p = first; i < n; i++, p += step) {
        if (from[p]) last = i;
        if (i - last <= r) to[p] = 1;
      }
      last = 2 * n + r;
      for (let i = n - 1, p = first + (n - 1) * step; i >= 0; i--, p -= step) {
        if (from[p]) last = i;
        if (last - i <= r) to[p] = 1;
      }
    }
    return to;
  };
  return pass(pass(marks, w, h, 1, w), h, w, w, 1);
}
function faults(found: Map<number, Fault>, n: number): Faults {
  const list = [...found.values()].sort((a, b) => b.weight - a.weight);
  const surely = list.reduce((a, f) => (f.area <= Math.max(SURELY_PX, SURELY_SHARE * n) ? Math.max(a, f.area) : a), 0);
  return { count: list.length, area: list.reduce((s, f) => s + f.area, 0), list: list.slice(0, TOLD), surely };
}
type Found = Fault & { best: number };
/** Area, weight and box of every component by its root; places are filled in by `settle`. */
function gather(parent: Int32Array, w: number, weight: (i: number) => number, tick: () => void): Map<number, Found> {
  const out = new Map<number, Found>();
  // Rows hang together: what was found last is mostly wanted again.
  let last = -1;
  let f: Found | undefined;
  for (let y = 0, i = 0; i < parent.length; y++) {
    tick();
    for (let x = 0; x < w; x++, i++) {
      if (parent[i]! < 0) continue;
      const root = find(parent, i);
      if (root !== last) {
        f = out.get(root);
        if (!f) out.set(root, (f = { area: 0, weight: 0, x, y, box: { x, y, w: 1, h: 1 }, best: Infinity }));
        last = root;
      }
      const { box } = f!;
      f!.area++;
      f!.weight += weight(i);
      if (x < box.x) {
        box.w += box.x - x;
        box.x = x;
      } else if (x >= box.x + box.w) box.w = x + 1 - box.x;
      box.h = y + 1 - box.y;
    }
  }
  return out;
}
/** The pixel of each that lies nearest to the middle of its box, told only of those that are wanted. */
function settle(parent: Int32Array, w: number, all: Map<number, Found>, wanted: Iterable<number>): void {
  for (const root of wanted) {
    const f = all.get(root)!;
    const { box: b } = f;
    for (let y = b.y; y < b.y + b.h; y++)
      for (let x = b.x; x < b.x + b.w; x++) {
        const i = y * w + x;
        if (parent[i]! < 0 || find(parent, i) !== root) continue;
        const d = (x - b.x - b.w / 2 + 0.5) ** 2 + (y - b.y - b.h / 2 + 0.5) ** 2;
        if (d < f.best) [f.best, f.x, f.y] = [d, x, y];
      }
  }
}
const plain = ({ best: _, ...f }: Found): Fault => f;
/** Value under which the given share of a histogram of 0..1 lies. */
function quantile(bins: Uint32Array, share: number): number {
  const total = bins.reduce((a, n) => a + n, 0);
  let sum = 0;
  for (let i = 0; i < bins.length; i++) {
    sum += bins[i]!;
    if (sum >= share * total) return i / (bins.length - 1);
  }
  return 1;
}

/** `tick` is called often: it may throw to end the work. NaN counts as nothing. */
export function health(
  m: Float32Array,
  w: number,
  h: number,
  painted: Painted | null,
  tick: () => void = () => {},
): Health {
  const n = w * h;
  const v = (i: number): number => (m[i]! > 0 ? m[i]! : 0);
  let [sum, full] = [0, 0];
  for (let i = 0; i < n; i++) {
    sum += v(i);
    if (m[i]! >= FULL) full++;
  }
  // Pieces, and which of them are meant.
  const parent = new Int32Array(n);
  components(parent, w, h, (i) => m[i]! > PIECE_FROM, true);
  tick();
  const pieces = gather(parent, w, v, tick);
  const touched = new Set<number>();
  if (painted) for (let i = 0; i < n; i++) if (painted.marks[i] === 1 && parent[i]! >= 0) touched.add(find(parent, i));
  const largest = Math.max(0, ...[...pieces.values()].map((p) => p.weight));
  const isMeant = (root: number, p: Fault): boolean =>
    touched.size > 0 ? touched.has(root) : p.weight >= PIECE_SHARE * largest;
  const [specks, apart] = [new Map<number, Fault>(), new Map<number, Fault>()];
  const meantRoots = new Set<number>();
  for (const [root, p] of pieces) {
    if (isMeant(root, p)) meantRoots.add(root);
    else (p.area <= SPECK_SHARE * n ? specks : apart).set(root, p);
  }
  settle(parent, w, pieces, [...specks.keys(), ...apart.keys()]);
  for (const set of [specks, apart]) for (const root of set.keys()) set.set(root, plain(pieces.get(root)!));

  // Holes: what hangs together below, touches no border of the frame, and was not painted out.
  const open = new Int32Array(n);
  components(open, w, h, (i) => !(m[i]! >= HOLE_BELOW), false);
  tick();
  const gaps = gather(open, w, (i) => 1 - v(i), tick);
  const out = new Set<number>();
  if (painted) for (let i = 0; i < n; i++) if (painted.marks[i] === 2 && open[i]! >= 0) out.add(find(open, i));
  const holes = new Map<number, Fault>();
  for (const [root, g] of gaps) {
    const { box: b } = g;
    const atBorder = b.x === 0 || b.y === 0 || b.x + b.w === w || b.y + b.h === h;
    if (!atBorder && !out.has(root) && g.area <= HOLE_SHARE * n) holes.set(root, g);
  }
  settle(open, w, gaps, holes.keys());
  for (const root of holes.keys()) holes.set(root, plain(gaps.get(root)!));
  tick();

  // The edge: where the matte crosses one half between neighbours.
  const edge = new Uint8Array(n);
  let crossings = 0;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const here = m[i]! > 0.5;
      if (x + 1 < w && m[i + 1]! > 0.5 !== here) {
        crossings++;
        edge[i] = edge[i + 1] = 1;
      }
      if (y + 1 < h && m[i + w]! > 0.5 !== here) {
        crossings++;
        edge[i] = edge[i + w] = 1;
      }
    }
  const near = widened(edge, w, h, EDGE_PX);
  const soft = widened(edge, w, h, SOFT_PX);
  tick();
  let [softness, squares, flat, half, inner] = [0, 0, 0, 0, 0];
  const [below, above] = [new Uint32Array(513), new Uint32Array(513)];
  for (let y = 0; y < h; y++) {
    if (y % 64 === 0) tick();
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const a = v(i);
      if (soft[i]) softness += Math.min(a, 1 - a);
      const meant = parent[i]! >= 0 && meantRoots.has(find(parent, i));
      if (!soft[i] && meant) {
        inner++;
        if (a < 0.9) half++;
      }
      if (near[i]) continue;
      (meant ? above : below)[Math.round(512 * Math.min(1, a))]!++;
      if (x === 0 || y === 0 || x === w - 1 || y === h - 1) continue;
      const up = i - w;
      const low = i + w;
      const sum9 = v(up - 1) + v(up) + v(up + 1) + v(i - 1) + a + v(i + 1) + v(low - 1) + v(low) + v(low + 1);
      squares += (a - sum9 / 9) ** 2;
      flat++;
    }
  }
  let [about, covered] = [0, 0];
  if (painted)
    for (let i = 0; i < n; i++)
      if (painted.about[i]) {
        about++;
        if (m[i]! >= FULL) covered++;
      }
  return {
    coverage: sum / n,
    full: full / n,
    meant: about > 0 ? covered / about : null,
    specks: faults(specks, n),
    holes: faults(holes, n),
    apart: faults(apart, n),
    noise: flat > 0 ? Math.sqrt(squares / flat) : null,
    // A line crosses rows and columns 4 / pi times its length (Cauchy and Crofton); a straight fall of width W holds
    // W / 4 of the smaller of itself and its rest.
    edgePx: crossings > 0 ? (4 * softness) / (crossings * (Math.PI / 4)) : null,
    half: inner > 0 ? half / inner : 0,
    outside: quantile(below, 0.995),
    inside: above.some((c) => c > 0) ? quantile(above, 0.02) : 1,
  };
}

export interface TidyStep {
  op: string;
  params: Record<string, number>;
}
const diameter = (area: number): number => Math.ceil(2 * Math.sqrt(area / Math.PI)) + 1;
/** From so much noise a median helps, from the second on a larger one. */
const NOISE = [0.015, 0.05] as const;
/**
 * Steps that take away what was measured on an untidied matte, as ordinary values; none where nothing is wrong, and
 * larger holes and islands, which may belong to the thing, stay for a person to judge. Floor
 * and ceiling only take in what is flat: a thing that is half in as a whole is not made whole by them.
 */
export function tidyFor(h: Health): TidyStep[] {
  const steps: TidyStep[] = [];
  const floor = h.outside > 0.004 && h.outside < 0.4 ? Math.ceil(100 * h.outside) + 1 : 0;
  const ceiling = h.inside < 0.995 && h.inside > 0.6 ? Math.floor(100 * h.inside) - 1 : 100;
  if (floor > 0 || ceiling < 100) steps.push({ op: 'floorCeiling', params: { floorPct: floor, ceilingPct: ceiling } });
  for (const op of ['specks', 'holes'] as const)
    if (h[op].surely > 0) steps.push({ op, params: { sizePx: diameter(h[op].surely) } });
  if (h.noise !== null && h.noise > NOISE[0])
    steps.push({ op: 'noise', params: { radiusPx: h.noise > NOISE[1] ? 2 : 1 } });
  return steps;
}
const times = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
/** In a sentence or a few: nothing where nothing is wrong. */
export function healthSaid(h: Health): string[] {
  const pct = (v: number): string => `${(100 * v).toFixed(v < 0.1 ? 1 : 0)} %`;
  const out: string[] = [];
  if (h.full === 0 && h.coverage < 0.0005) return ['The matte is empty: nothing is in.'];
  if (h.half > 0.02) out.push(`${pct(h.half)} of what is in is only half in: a strong push will show its borders.`);
  if (h.meant !== null && h.meant < 0.9)
    out.push(`Around your strokes ${pct(h.meant)} is full: paint on what is missing, or widen the key.`);
  if (h.apart.count > 0)
    out.push(
      h.meant === null
        ? `${times(h.apart.count, 'smaller piece stands', 'smaller pieces stand')} beside the largest.`
        : `${times(h.apart.count, 'piece lies', 'pieces lie')} away from what is meant.`,
    );
  if (h.edgePx !== null && h.edgePx < 0.8) out.push('The edge is hard: it will look cut out after a strong push.');
  return out;
}

/** From so large a push (in % of chroma) on, an edge under so many pixels shows as a border; 8 bits show as steps. */
const STRONG = { pct: 4, edgePx: 2, stepsPct: 10 };
/** Where a push would show its seams, in words, before it is taken. */
export function seamsSaid(h: Pick<Health, 'edgePx' | 'half'>, pushPct: number, sourceBits: number): string[] {
  const out: string[] = [];
  const push = `${pushPct.toFixed(1)} %`;
  if (pushPct >= STRONG.pct && h.edgePx !== null && h.edgePx < STRONG.edgePx)
    out.push(`A push of ${push} over an edge ${h.edgePx.toFixed(1)} px wide will show as a border: feather the matte.`);
  if (pushPct >= STRONG.pct / 2 && h.half > 0.02)
    out.push(`${(100 * h.half).toFixed(0)} % of the region is only half in: the push differs within one surface.`);
  if (pushPct >= STRONG.stepsPct && sourceBits <= 8)
    out.push(`The source has 8 bits: a push of ${push} may show its steps in smooth parts.`);
  return out;
}
