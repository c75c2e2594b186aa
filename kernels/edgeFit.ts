/** Twin of src/core/ops/edgeFit, to the bit: see there for the method and why the sums are exact. */
import { plane } from './lib/frame';
import { GROUP, clearFlat, flatAround, groupsOf, seeLines, seeMatte, summed, sumsStand } from './lib/flat';
import { FINE, guide, mirror, said } from './lib/windows';

// @ts-ignore: decorator
@inline function unit(at: usize): f64 {
  const v = load<f32>(at);
  return Math.floor(<f64>(v > 0 ? (v < 1 ? v : 1) : 0) * FINE + 0.5) / FINE;
}
/** columns[x * terms + t] += sign * value: the numbers of a column lie side by side. */
// @ts-ignore: decorator
@inline function add(at: usize, t: i32, v: f64): void {
  const p = at + ((<usize>t) << 3);
  store<f64>(p, load<f64>(p) + v);
}

function fitRow(t: usize, cols: usize, w: i32, y: i32, x0: i32, x1: i32, sign: f64): void {
  const o = (<usize>(y * w)) << 2;
  const p = plane(t, 0) + o,
    R = plane(t, 6) + o,
    G = plane(t, 7) + o,
    B = plane(t, 8) + o;
  for (let x = x0; x < x1; x++) {
    const i = (<usize>x) << 2;
    const at = cols + <usize>x * 104;
    const a = guide(R + i),
      b = guide(G + i),
      c = guide(B + i),
      m = unit(p + i);
    const sa = sign * a,
      sb = sign * b,
      sc = sign * c;
    add(at, 0, sa);
    add(at, 1, sb);
    add(at, 2, sc);
    add(at, 7, sa * a);
    add(at, 8, sa * b);
    add(at, 9, sa * c);
    add(at, 10, sb * b);
    add(at, 11, sb * c);
    add(at, 12, sc * c);
    if (m == 0) continue;
    add(at, 3, sign * m);
    add(at, 4, sa * m);
    add(at, 5, sb * m);
    add(at, 6, sc * m);
  }
}

/** Sums of the columns of a group over the rows about y: moved on by a row where they stand for the one before. */
function fitColumns(t: usize, cols: usize, states: usize, w: i32, h: i32, g: i32, y: i32, r: i32): void {
  const x0 = g * GROUP,
    x1 = min(w, x0 + GROUP);
  const stand = summed(states, g);
  if (stand == y) return;
  if (stand == y - 1) fitRow(t, cols, w, mirror(y - 1 - r, h), x0, x1, -1);
  else {
    for (let i = <usize>x0 * 104, end = <usize>x1 * 104; i < end; i += 8) store<f64>(cols + i, 0);
    for (let row = y - r; row < y + r; row++) fitRow(t, cols, w, mirror(row, h), x0, x1, 1);
  }
  fitRow(t, cols, w, mirror(y + r, h), x0, x1, 1);
  sumsStand(states, g, y);
}

export function frame_edgeFit_fit(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const r = <i32>load<f32>(k);
  const eps: f64 = <f64>load<f32>(k + 4);
  const n: f64 = <f64>((2 * r + 1) * (2 * r + 1));
  const sums = scratch,
    cols = scratch + 128,
    states = cols + <usize>w * 104;
  const m = plane(t, 0);
  clearFlat(states, w);
  for (let y = y0 - r; y < y0 + r; y++) seeMatte(states, m + ((<usize>(mirror(y, h) * w)) << 2), w);
  for (let y = y0; y < y1; y++) {
    seeMatte(states, m + ((<usize>(mirror(y + r, h) * w)) << 2), w);
    const o = (<usize>(y * w)) << 2;
    const ka = plane(t, 2) + o,
      kb = plane(t, 3) + o,
      kc = plane(t, 4) + o,
      kd = plane(t, 5) + o;
    for (let g = 0, groups = groupsOf(w); g < groups; g++) {
      const flat = flatAround(states, g, r, w);
      const from = g * GROUP;
      if (flat >= 0) {
        for (let x = from, end = min(w, from + GROUP); x < end; x++) {
          const i = (<usize>x) << 2;
          store<f32>(ka + i, 0);
          store<f32>(kb + i, 0);
          store<f32>(kc + i, 0);
          store<f32>(kd + i, flat);
        }
        continue;
      }
      let last = g + 1;
      while (last < groups && flatAround(states, last, r, w) < 0) last++;
      const to = min(w, last * GROUP);
      g = last - 1;
      for (let i = max(0, from - r) / GROUP; i <= min(w - 1, to - 1 + r) / GROUP; i++)
        fitColumns(t, cols, states, w, h, i, y, r);
      for (let q: usize = 0; q < 104; q += 8) store<f64>(sums + q, 0);
      for (let x = from - r; x < from + r; x++) {
        const c = cols + <usize>mirror(x, w) * 104;
        for (let q: usize = 0; q < 104; q += 8) store<f64>(sums + q, load<f64>(sums + q) + load<f64>(c + q));
      }
      for (let x = from; x < to; x++) {
        const add = cols + <usize>mirror(x + r, w) * 104;
        const sub = cols + <usize>mirror(x - r, w) * 104;
        // Twelve of the thirteen by twos; additions of exact numbers may stand in any order.
        for (let q: usize = 0; q < 96; q += 16)
          v128.store(sums + q, f64x2.add(v128.load(sums + q), v128.load(add + q)));
        store<f64>(sums + 96, load<f64>(sums + 96) + load<f64>(add + 96));
        const i = (<usize>x) << 2;
        const sm = load<f64>(sums + 24);
        if (sm == 0 || sm == n) {
          store<f32>(ka + i, 0);
          store<f32>(kb + i, 0);
          store<f32>(kc + i, 0);
          store<f32>(kd + i, sm == 0 ? 0 : 1);
        } else {
          const a = load<f64>(sums) / n,
            b = load<f64>(sums + 8) / n,
            c = load<f64>(sums + 16) / n,
            m = sm / n;
          const pa = load<f64>(sums + 32) / n - a * m,
            pb = load<f64>(sums + 40) / n - b * m,
            pc = load<f64>(sums + 48) / n - c * m;
          const aa = load<f64>(sums + 56) / n - a * a + eps,
            ab = load<f64>(sums + 64) / n - a * b,
            ac = load<f64>(sums + 72) / n - a * c,
            bb = load<f64>(sums + 80) / n - b * b + eps,
            bc = load<f64>(sums + 88) / n - b * c,
            cc = load<f64>(sums + 96) / n - c * c + eps;
          const i00 = bb * cc - bc * bc,
            i01 = ac * bc - ab * cc,
            i02 = ab * bc - ac * bb,
            i11 = aa * cc - ac * ac,
            i12 = ab * ac - aa * bc,
            i22 = aa * bb - ab * ab;
          const det = aa * i00 + ab * i01 + ac * i02;
          const fa = (i00 * pa + i01 * pb + i02 * pc) / det,
            fb = (i01 * pa + i11 * pb + i12 * pc) / det,
            fc = (i02 * pa + i12 * pb + i22 * pc) / det;
          store<f32>(ka + i, said(fa));
          store<f32>(kb + i, said(fb));
          store<f32>(kc + i, said(fc));
          store<f32>(kd + i, said(m - fa * a - fb * b - fc * c));
        }
        for (let q: usize = 0; q < 96; q += 16)
          v128.store(sums + q, f64x2.sub(v128.load(sums + q), v128.load(sub + q)));
        store<f64>(sums + 96, load<f64>(sums + 96) - load<f64>(sub + 96));
      }
    }
  }
}

function applyRow(t: usize, cols: usize, w: i32, y: i32, x0: i32, x1: i32, sign: f64): void {
  const o = (<usize>(y * w)) << 2;
  const a = plane(t, 2) + o,
    b = plane(t, 3) + o,
    c = plane(t, 4) + o,
    d = plane(t, 5) + o;
  for (let x = x0; x < x1; x++) {
    const i = (<usize>x) << 2;
    const at = cols + ((<usize>x) << 5);
    add(at, 0, sign * <f64>load<f32>(a + i));
    add(at, 1, sign * <f64>load<f32>(b + i));
    add(at, 2, sign * <f64>load<f32>(c + i));
    add(at, 3, sign * <f64>load<f32>(d + i));
  }
}
// @ts-ignore: decorator
@inline function seeRow(t: usize, states: usize, y: i32, w: i32): void {
  const o = (<usize>(y * w)) << 2;
  seeLines(states, plane(t, 2) + o, plane(t, 3) + o, plane(t, 4) + o, plane(t, 5) + o, w);
}
function applyColumns(t: usize, cols: usize, states: usize, w: i32, h: i32, g: i32, y: i32, r: i32): void {
  const x0 = g * GROUP,
    x1 = min(w, x0 + GROUP);
  const stand = summed(states, g);
  if (stand == y) return;
  if (stand == y - 1) applyRow(t, cols, w, mirror(y - 1 - r, h), x0, x1, -1);
  else {
    for (let i = (<usize>x0) << 5, end = (<usize>x1) << 5; i < end; i += 8) store<f64>(cols + i, 0);
    for (let row = y - r; row < y + r; row++) applyRow(t, cols, w, mirror(row, h), x0, x1, 1);
  }
  applyRow(t, cols, w, mirror(y + r, h), x0, x1, 1);
  sumsStand(states, g, y);
}
export function frame_edgeFit_apply(k: usize, t: usize, scratch: usize, w: i32, h: i32, y0: i32, y1: i32): void {
  const r = <i32>load<f32>(k);
  const hold: f64 = <f64>load<f32>(k + 8),
    gain: f64 = 1 / (1 - hold);
  const n: f64 = <f64>((2 * r + 1) * (2 * r + 1));
  const cols = scratch,
    states = cols + ((<usize>w) << 5);
  clearFlat(states, w);
  for (let y = y0 - r; y < y0 + r; y++) seeRow(t, states, mirror(y, h), w);
  for (let y = y0; y < y1; y++) {
    seeRow(t, states, mirror(y + r, h), w);
    const o = (<usize>(y * w)) << 2;
    const src = plane(t, 0) + o,
      dst = plane(t, 1) + o,
      R = plane(t, 6) + o,
      G = plane(t, 7) + o,
      B = plane(t, 8) + o;
    for (let g = 0, groups = groupsOf(w); g < groups; g++) {
      const flat = flatAround(states, g, r, w);
      const from = g * GROUP;
      if (flat >= 0) {
        for (let x = from, end = min(w, from + GROUP); x < end; x++) store<f32>(dst + ((<usize>x) << 2), flat);
        continue;
      }
      let last = g + 1;
      while (last < groups && flatAround(states, last, r, w) < 0) last++;
      const to = min(w, last * GROUP);
      g = last - 1;
      for (let i = max(0, from - r) / GROUP; i <= min(w - 1, to - 1 + r) / GROUP; i++)
        applyColumns(t, cols, states, w, h, i, y, r);
      let s0: f64 = 0,
        s1: f64 = 0,
        s2: f64 = 0,
        s3: f64 = 0;
      for (let x = from - r; x < from + r; x++) {
        const c = cols + ((<usize>mirror(x, w)) << 5);
        s0 += load<f64>(c);
        s1 += load<f64>(c + 8);
        s2 += load<f64>(c + 16);
        s3 += load<f64>(c + 24);
      }
      for (let x = from; x < to; x++) {
        const add = cols + ((<usize>mirror(x + r, w)) << 5),
          sub = cols + ((<usize>mirror(x - r, w)) << 5);
        s0 += load<f64>(add);
        s1 += load<f64>(add + 8);
        s2 += load<f64>(add + 16);
        s3 += load<f64>(add + 24);
        const i = (<usize>x) << 2;
        const fitted = (s0 * guide(R + i) + s1 * guide(G + i) + s2 * guide(B + i) + s3) / n;
        const own = load<f32>(src + i);
        const v = own >= 1 ? fitted * gain : own > 0 ? fitted : (fitted - hold) * gain;
        store<f32>(dst + i, <f32>(v > 0 ? (v < 1 ? v : 1) : 0));
        s0 -= load<f64>(sub);
        s1 -= load<f64>(sub + 8);
        s2 -= load<f64>(sub + 16);
        s3 -= load<f64>(sub + 24);
      }
    }
  }
}
