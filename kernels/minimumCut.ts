/** Twin of `flowed` in src/core/math/minimumCut.ts, to the bit: see there for the method and for what each step is. */

const FREE: u8 = 0;
const FROM: u8 = 1;
const TO: u8 = 2;
const ROOT: i32 = 8;
const ORPHAN: i32 = 9;
const NONE: i32 = 10;

// Where what lies, and what is asked of everywhere: set by each call before anything else.
let N: i32 = 0;
let W: i32 = 0;
let CAP: usize = 0;
let REST: usize = 0;
let INNER: usize = 0;
let TREE: usize = 0;
let PARENT: usize = 0;
let STAMP: usize = 0;
let FAR: usize = 0;
let ORPHANS: usize = 0;
let RING: usize = 0;
let QUEUED: usize = 0;
let orphans: i32 = 0;
let head: i32 = 0;
let tail: i32 = 0;
let time: i32 = 0;

/** The step of way k: right, left, down, up, and the diagonals, there and back. */
// @ts-ignore: decorator
@inline function off(k: i32): i32 {
  const a = k >> 1;
  const d = a == 0 ? 1 : a == 1 ? W : a == 2 ? W + 1 : W - 1;
  return k & 1 ? -d : d;
}
// @ts-ignore: decorator
@inline function capAt(k: i32, i: i32): usize {
  return CAP + ((<usize>(k * N + i)) << 2);
}
// @ts-ignore: decorator
@inline function cap(k: i32, i: i32): f32 {
  return load<f32>(capAt(k, i));
}
// @ts-ignore: decorator
@inline function add(at: usize, v: f32): void {
  store<f32>(at, load<f32>(at) + v);
}
// @ts-ignore: decorator
@inline function rest(i: i32): f32 {
  return load<f32>(REST + ((<usize>i) << 2));
}
// @ts-ignore: decorator
@inline function restAt(i: i32): usize {
  return REST + ((<usize>i) << 2);
}
// @ts-ignore: decorator
@inline function tree(i: i32): u8 {
  return load<u8>(TREE + <usize>i);
}
// @ts-ignore: decorator
@inline function parent(i: i32): i32 {
  return <i32>load<u8>(PARENT + <usize>i);
}
// @ts-ignore: decorator
@inline function parentIs(i: i32, k: i32): void {
  store<u8>(PARENT + <usize>i, <u8>k);
}
// @ts-ignore: decorator
@inline function int(at: usize, i: i32): i32 {
  return load<i32>(at + ((<usize>i) << 2));
}
// @ts-ignore: decorator
@inline function intIs(at: usize, i: i32, v: i32): void {
  store<i32>(at + ((<usize>i) << 2), v);
}

function activate(i: i32): void {
  if (load<u8>(QUEUED + <usize>i)) return;
  store<u8>(QUEUED + <usize>i, 1);
  intIs(RING, tail, i);
  tail = tail == N ? 0 : tail + 1;
}
function lose(i: i32): void {
  parentIs(i, ORPHAN);
  intIs(ORPHANS, orphans++, i);
}

function lines(k: i32): void {
  const to = off(k);
  const back = k ^ 1;
  const forth = to > 0;
  for (let q = 0; q < N; q++) {
    const i = forth ? q : N - 1 - q;
    const r = rest(i);
    if (!(r > 0)) continue;
    const c = cap(k, i);
    if (c <= 0) continue;
    const flow = min(c, r);
    store<f32>(restAt(i), r - flow);
    add(restAt(i + to), flow);
    store<f32>(capAt(k, i), c - flow);
    add(capAt(back, i + to), flow);
  }
}
function neighbours(): void {
  for (let i = 0; i < N; i++) {
    if (!load<u8>(INNER + <usize>i)) continue;
    for (let k = 0; k < 8 && rest(i) > 0; k++) {
      const c = cap(k, i);
      if (c <= 0) continue;
      const j = i + off(k);
      if (!(rest(j) < 0)) continue;
      const flow = min(min(c, rest(i)), -rest(j));
      add(restAt(i), -flow);
      add(restAt(j), flow);
      store<f32>(capAt(k, i), c - flow);
      add(capAt(k ^ 1, j), flow);
    }
  }
}
function augment(i: i32, k: i32): void {
  const met = i + off(k);
  let most = cap(k, i);
  for (let a = i; ;) {
    const p = parent(a);
    if (p == ROOT) {
      most = min(most, rest(a));
      break;
    }
    const b = a + off(p);
    most = min(most, cap(p ^ 1, b));
    a = b;
  }
  for (let a = met; ;) {
    const p = parent(a);
    if (p == ROOT) {
      most = min(most, -rest(a));
      break;
    }
    most = min(most, cap(p, a));
    a += off(p);
  }
  add(capAt(k, i), -most);
  add(capAt(k ^ 1, met), most);
  for (let a = i; ;) {
    const p = parent(a);
    if (p == ROOT) {
      const left = rest(a) - most;
      store<f32>(restAt(a), max(left, 0));
      if (left <= 0) lose(a);
      break;
    }
    const b = a + off(p);
    add(capAt(p, a), most);
    const left = cap(p ^ 1, b) - most;
    store<f32>(capAt(p ^ 1, b), max(left, 0));
    if (left <= 0) lose(a);
    a = b;
  }
  for (let a = met; ;) {
    const p = parent(a);
    if (p == ROOT) {
      const left = rest(a) + most;
      store<f32>(restAt(a), min(left, 0));
      if (left >= 0) lose(a);
      break;
    }
    const b = a + off(p);
    add(capAt(p ^ 1, b), most);
    const left = cap(p, a) - most;
    store<f32>(capAt(p, a), max(left, 0));
    if (left <= 0) lose(a);
    a = b;
  }
}
function toRoot(i: i32): i32 {
  let steps = 0;
  for (let a = i; ;) {
    if (int(STAMP, a) == time) {
      steps += int(FAR, a);
      break;
    }
    const p = parent(a);
    if (p == ROOT) {
      intIs(STAMP, a, time);
      intIs(FAR, a, 1);
      steps++;
      break;
    }
    if (p >= ORPHAN) return -1;
    steps++;
    a += off(p);
  }
  let left = steps;
  for (let b = i; int(STAMP, b) != time; b += off(parent(b))) {
    intIs(STAMP, b, time);
    intIs(FAR, b, left--);
  }
  return steps;
}
function adopt(): void {
  while (orphans) {
    const i = int(ORPHANS, --orphans);
    const t = tree(i);
    let best = NONE;
    let least = i32.MAX_VALUE;
    for (let k = 0; k < 8; k++) {
      const j = i + off(k);
      if (tree(j) != t || !((t == FROM ? cap(k ^ 1, j) : cap(k, i)) > 0)) continue;
      const d = toRoot(j);
      if (d >= 0 && d < least) {
        least = d;
        best = k;
      }
    }
    parentIs(i, best);
    if (best != NONE) {
      intIs(STAMP, i, time);
      intIs(FAR, i, least + 1);
      continue;
    }
    for (let k = 0; k < 8; k++) {
      const j = i + off(k);
      if (tree(j) != t) continue;
      const out = cap(k, i);
      const back = cap(k ^ 1, j);
      if (!(out > 0 || back > 0)) continue;
      if ((t == FROM ? back : out) > 0) activate(j);
      if (parent(j) == (k ^ 1)) lose(j);
    }
    store<u8>(TREE + <usize>i, FREE);
  }
}

/** Bytes of what a call needs beyond what it is given, for `n` pixels of a grid `w` wide. */
export function cut_spare(n: i32, w: i32): i32 {
  const padded = (n + 2 * (w + 1) + 63) & ~63;
  return 4 * padded + 16 * (n + 16);
}
/**
 * @param cap 8 n float32: what may still flow along each way from each pixel, way by way
 * @param rest n float32: what each pixel has left to give, below 0: to take
 * @param inner n bytes: 1 where a pixel takes part
 * @param out n bytes: 1 inside, 0 outside
 * @param spare `cut_spare` bytes, of any contents
 */
export function cut_flow(n: i32, w: i32, cap_: usize, rest_: usize, inner: usize, out: usize, spare: usize): void {
  N = n;
  W = w;
  CAP = cap_;
  REST = rest_;
  // What lies beyond the grid on either side belongs to nothing.
  const edge = w + 1;
  const padded = (n + 2 * edge + 63) & ~63;
  memory.fill(spare, 0, 4 * padded);
  INNER = spare + edge;
  TREE = INNER + padded;
  PARENT = TREE + padded;
  QUEUED = PARENT + padded;
  STAMP = spare + 4 * padded;
  FAR = STAMP + 4 * (n + 16);
  RING = FAR + 4 * (n + 16);
  ORPHANS = RING + 4 * (n + 16);
  memory.copy(INNER, inner, n);
  memory.fill(PARENT, <u8>NONE, n);
  memory.fill(STAMP, 0, 8 * (n + 16));
  orphans = 0;
  head = 0;
  tail = 0;
  time = 0;
  // Diagonals first.
  for (let k = 4; k < 12; k++) lines(k & 7);
  neighbours();
  for (let i = 0; i < n; i++) {
    const r = rest(i);
    if (!load<u8>(INNER + <usize>i) || r == 0) continue;
    store<u8>(TREE + <usize>i, r > 0 ? FROM : TO);
    parentIs(i, ROOT);
    intIs(FAR, i, 1);
    activate(i);
  }
  let current = -1;
  for (;;) {
    if (current < 0 || tree(current) == FREE) {
      current = -1;
      while (head != tail) {
        const i = int(RING, head);
        head = head == n ? 0 : head + 1;
        store<u8>(QUEUED + <usize>i, 0);
        if (tree(i) != FREE) {
          current = i;
          break;
        }
      }
      if (current < 0) break;
    }
    const i = current;
    const t = tree(i);
    const stamp = int(STAMP, i);
    const far = int(FAR, i);
    let met = NONE;
    for (let k = 0; k < 8; k++) {
      const j = i + off(k);
      if (!load<u8>(INNER + <usize>j) || !((t == FROM ? cap(k, i) : cap(k ^ 1, j)) > 0)) continue;
      const there = tree(j);
      if (there == FREE) {
        store<u8>(TREE + <usize>j, t);
        parentIs(j, k ^ 1);
        intIs(STAMP, j, stamp);
        intIs(FAR, j, far + 1);
        activate(j);
      } else if (there != t) {
        met = k;
        break;
      } else if (int(STAMP, j) <= stamp && int(FAR, j) > far + 1) {
        parentIs(j, k ^ 1);
        intIs(STAMP, j, stamp);
        intIs(FAR, j, far + 1);
      }
    }
    if (met == NONE) {
      current = -1;
      continue;
    }
    time++;
    if (t == FROM) augment(i, met);
    else augment(i + off(met), met ^ 1);
    adopt();
  }
  for (let i = 0; i < n; i++) store<u8>(out + <usize>i, tree(i) == FROM ? 1 : 0);
}
