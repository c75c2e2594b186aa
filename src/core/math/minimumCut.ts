/**
 * The cheapest way to divide the pixels of a grid in two: each pixel has a price on either side, each pair of
 * neighbours one for being parted. Exact, by the largest flow (Y. Boykov, V. Kolmogorov, "An experimental comparison of
 * min-cut/max-flow algorithms", IEEE PAMI 26(9), 2004): two trees of paths grow from either side until they meet.
 */

/** Steps to eight neighbours in pairs there and back: `k ^ 1` is the way back of `k`. */
export const WAYS = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
  [1, 1],
  [-1, -1],
  [-1, 1],
  [1, -1],
] as const;
/** Diagonals first: measured, it leaves the least. */
const LINES = [4, 5, 6, 7, 0, 1, 2, 3] as const;
const FREE = 0;
const FROM = 1;
const TO = 2;
/** Instead of a way to the parent. */
const ROOT = 8;
const ORPHAN = 9;
const NONE = 10;

/**
 * @param w width of the grid
 * @param inner 1 where a pixel is divided at all; the others, and what lies beyond the grid, take no part
 * @param price what a pixel gains by being inside; negative: what it gains by being outside
 * @param part four arrays: what parting a pixel from its neighbour to the right, below, right below, left below costs
 * @returns 1 inside, 0 outside; what is as cheap either way is outside
 */
export const minimumCut = (w: number, inner: Uint8Array, price: Float32Array, part: Parting): Uint8Array =>
  cutter(w, inner, part)(price);
const stepsOf = (w: number): Int32Array => Int32Array.from(WAYS, ([dx, dy]) => dy * w + dx);
export type Parting = readonly [Float32Array, Float32Array, Float32Array, Float32Array];

/**
 * The same for prices that are changed and asked again: what flowed before still flows, and only what the change adds
 * is new work (P. Kohli, P. Torr, "Dynamic graph cuts for efficient inference in Markov random fields", IEEE PAMI
 * 29(12), 2007).
 */
export function cutter(w: number, inner: Uint8Array, part: Parting): (price: Float32Array) => Uint8Array {
  const n = inner.length;
  const h = n / w;
  const off = stepsOf(w);
  // What may still flow along each of the eight ways from each pixel.
  // One array: way k of pixel i at k n + i.
  const cap = new Float32Array(WAYS.length * n);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (inner[i] === 0) continue;
      for (let k = 0; k < 8; k += 2) {
        const [dx, dy] = WAYS[k]!;
        if (x + dx < 0 || x + dx >= w || y + dy >= h) continue;
        const j = i + off[k]!;
        if (inner[j] === 0) continue;
        cap[k * n + i] = cap[(k + 1) * n + j] = part[k >> 1]![i]!;
      }
    }
  // What each pixel has left to give (or to take, below 0), and the prices that led to it.
  const rest = new Float32Array(n);
  const asked = new Float32Array(n);
  return (price) => {
    for (let i = 0; i < n; i++) rest[i]! += price[i]! - asked[i]!;
    asked.set(price);
    return flow(inner, w, cap, rest);
  };
}
/**
 * Lets flow what can.
 *
 * @param inner 1 where a pixel takes part
 * @param w width of the grid
 * @param cap what may still flow along each of WAYS from each pixel, way by way; changed
 * @param rest what each pixel has left to give, below 0: to take; changed
 * @returns 1 for what then still gives, or is reached from there; else 0
 */
export type Flow = (inner: Uint8Array, w: number, cap: Float32Array, rest: Float32Array) => Uint8Array;
let flow: Flow = flowed;
/** Another way to do the same to the bit, from now on in this thread: its twin in WebAssembly (engine/flow.ts). */
export function flowBy(other: Flow): void {
  flow = other;
}
/** As defined; see Flow. */
export function flowed(inner: Uint8Array, w: number, cap: Float32Array, rest: Float32Array): Uint8Array {
  const n = inner.length;
  const off = stepsOf(w);
  // What is given on along whole lines, as far as it may, is most of the flow and needs no trees. Whatever moves, the
  // same division stays the cheapest: it is what the pixels give and take afterwards that the trees go on from.
  for (const k of LINES) {
    const to = off[k]!;
    const forth = to > 0;
    for (let q = 0; q < n; q++) {
      const i = forth ? q : n - 1 - q;
      const c = cap[k * n + i]!;
      if (!(rest[i]! > 0) || c <= 0) continue;
      const flow = Math.min(c, rest[i]!);
      rest[i]! -= flow;
      rest[i + to]! += flow;
      cap[k * n + i]! -= flow;
      cap[(k ^ 1) * n + i + to]! += flow;
    }
  }
  // Then what neighbours give each other.
  for (let i = 0; i < n; i++) {
    if (inner[i] === 0) continue;
    for (let k = 0; k < 8 && rest[i]! > 0; k++) {
      const j = i + off[k]!;
      const c = cap[k * n + i]!;
      if (c <= 0 || !(rest[j]! < 0)) continue;
      const flow = Math.min(c, rest[i]!, -rest[j]!);
      rest[i]! -= flow;
      rest[j]! += flow;
      cap[k * n + i]! -= flow;
      cap[(k ^ 1) * n + j]! += flow;
    }
  }
  const tree = new Uint8Array(n);
  const parent = new Uint8Array(n).fill(NONE);
  const stamp = new Int32Array(n);
  const far = new Int32Array(n);
  let time = 0;

  // A ring of active pixels; one is in it once at most.
  const ring = new Int32Array(n + 1);
  const queued = new Uint8Array(n);
  let head = 0;
  let tail = 0;
  const activate = (i: number): void => {
    if (queued[i] === 1) return;
    queued[i] = 1;
    ring[tail] = i;
    tail = tail === n ? 0 : tail + 1;
  };
  const orphans: number[] = [];
  for (let i = 0; i < n; i++) {
    if (inner[i] === 0 || rest[i] === 0) continue;
    tree[i] = rest[i]! > 0 ? FROM : TO;
    parent[i] = ROOT;
    far[i] = 1;
    activate(i);
  }

  /** What may flow along the way k of i, in the tree's own direction: from the root outwards, or towards it. */
  const open = (t: number, i: number, k: number): boolean =>
    t === FROM ? cap[k * n + i]! > 0 : cap[(k ^ 1) * n + i + off[k]!]! > 0;

  /** Pushes the most through the path that meets between i (of FROM) and its neighbour along k (of TO). */
  const augment = (i: number, k: number): void => {
    let most = cap[k * n + i]!;
    for (let a = i; ;) {
      const p = parent[a]!;
      if (p === ROOT) {
        most = Math.min(most, rest[a]!);
        break;
      }
      const b = a + off[p]!;
      most = Math.min(most, cap[(p ^ 1) * n + b]!);
      a = b;
    }
    for (let a = i + off[k]!; ;) {
      const p = parent[a]!;
      if (p === ROOT) {
        most = Math.min(most, -rest[a]!);
        break;
      }
      most = Math.min(most, cap[p * n + a]!);
      a += off[p]!;
    }
    const lose = (a: number): void => {
      parent[a] = ORPHAN;
      orphans.push(a);
    };
    cap[k * n + i]! -= most;
    cap[(k ^ 1) * n + i + off[k]!]! += most;
    for (let a = i; ;) {
      const p = parent[a]!;
      if (p === ROOT) {
        rest[a]! -= most;
        if (rest[a]! <= 0) {
          rest[a] = 0;
          lose(a);
        }
        break;
      }
      const b = a + off[p]!;
      cap[p * n + a]! += most;
      cap[(p ^ 1) * n + b]! -= most;
      if (cap[(p ^ 1) * n + b]! <= 0) {
        cap[(p ^ 1) * n + b] = 0;
        lose(a);
      }
      a = b;
    }
    for (let a = i + off[k]!; ;) {
      const p = parent[a]!;
      if (p === ROOT) {
        rest[a]! += most;
        if (rest[a]! >= 0) {
          rest[a] = 0;
          lose(a);
        }
        break;
      }
      const b = a + off[p]!;
      cap[p * n + a]! -= most;
      cap[(p ^ 1) * n + b]! += most;
      if (cap[p * n + a]! <= 0) {
        cap[p * n + a] = 0;
        lose(a);
      }
      a = b;
    }
  };

  /** Steps from i to its root, or -1 where its path is broken; what was walked is remembered for this time. */
  const toRoot = (i: number): number => {
    let steps = 0;
    let a = i;
    for (;;) {
      if (stamp[a] === time) {
        steps += far[a]!;
        break;
      }
      const p = parent[a]!;
      if (p === ROOT) {
        stamp[a] = time;
        far[a] = 1;
        steps += 1;
        break;
      }
      if (p === ORPHAN || p === NONE) return -1;
      steps++;
      a += off[p]!;
    }
    let left = steps;
    for (let b = i; stamp[b] !== time; b += off[parent[b]!]!) {
      stamp[b] = time;
      far[b] = left--;
    }
    return steps;
  };

  const adopt = (): void => {
    while (orphans.length) {
      const i = orphans.pop()!;
      const t = tree[i]!;
      let best = NONE;
      let least = Infinity;
      for (let k = 0; k < 8; k++) {
        const j = i + off[k]!;
        // Ways out of the grid have no room: `cap` is 0 there.
        if ((t === FROM ? cap[(k ^ 1) * n + j] : cap[k * n + i])! > 0 && tree[j] === t) {
          const d = toRoot(j);
          if (d >= 0 && d < least) [least, best] = [d, k];
        }
      }
      parent[i] = best;
      if (best !== NONE) {
        stamp[i] = time;
        far[i] = least + 1;
        continue;
      }
      for (let k = 0; k < 8; k++) {
        const j = i + off[k]!;
        if (tree[j] !== t) continue;
        if (!(cap[k * n + i]! > 0 || cap[(k ^ 1) * n + j]! > 0)) continue;
        if ((t === FROM ? cap[(k ^ 1) * n + j]! : cap[k * n + i]!) > 0) activate(j);
        if (parent[j]! < 8 && parent[j]! === (k ^ 1)) {
          parent[j] = ORPHAN;
          orphans.push(j);
        }
      }
      tree[i] = FREE;
    }
  };

  let current = -1;
  for (;;) {
    if (current < 0 || tree[current] === FREE) {
      current = -1;
      while (head !== tail) {
        const i = ring[head]!;
        head = head === n ? 0 : head + 1;
        queued[i] = 0;
        if (tree[i] !== FREE) {
          current = i;
          break;
        }
      }
      if (current < 0) break;
    }
    const i = current;
    const t = tree[i]!;
    let met = NONE;
    for (let k = 0; k < 8; k++) {
      const j = i + off[k]!;
      if (j < 0 || j >= n || inner[j] === 0 || !open(t, i, k)) continue;
      if (tree[j] === FREE) {
        tree[j] = t;
        parent[j] = k ^ 1;
        stamp[j] = stamp[i]!;
        far[j] = far[i]! + 1;
        activate(j);
      } else if (tree[j] !== t) {
        met = k;
        break;
      } else if (stamp[j]! <= stamp[i]! && far[j]! > far[i]! + 1) {
        parent[j] = k ^ 1;
        stamp[j] = stamp[i]!;
        far[j] = far[i]! + 1;
      }
    }
    if (met === NONE) {
      current = -1;
      continue;
    }
    time++;
    if (t === FROM) augment(i, met);
    else augment(i + off[met]!, met ^ 1);
    adopt();
  }
  return tree.map((t) => (t === FROM ? 1 : 0));
}
