/** Twin of src/core/track/lucasKanade.ts and of `warped` in src/core/track/image.ts, to the bit: see there for how. */

const R: i32 = 10;
const SIDE: i32 = 2 * R + 1;
const N: i32 = SIDE * SIDE;
const WIDE: i32 = SIDE + 2;
const BEYOND: i32 = R + 4;
const PAD: i32 = BEYOND + R + 3;
const CLOSE: f64 = 1e-5;
const ROUGH: f64 = 1e-3;
const STEPS: i32 = 12;
const ROUGH_STEPS: i32 = 8;

/** A window in doubles, with one to spare: they are read by twos. */
const ROOM: usize = (<usize>(WIDE * WIDE + 1)) << 3;
// Scratch: a wide window, the one that is compared, and two looks.
let WINDOW: usize = 0;
let CURRENT: usize = 0;
let THERE: usize = 0;
let BACK: usize = 0;
// A look: the window, its two gradients, then what is summed over them; blank where nothing tells where it is.
const GX: usize = ROOM;
const GY: usize = 2 * ROOM;
const A: usize = 3 * ROOM;
const B: usize = A + 8;
const C: usize = A + 16;
const TU: usize = A + 24;
const TV: usize = A + 32;
const POWER: usize = A + 40;
const BLANK: usize = A + 48;
const LOOK: usize = A + 64;
// What was found last.
let foundX: f64 = 0;
let foundY: f64 = 0;

// A pyramid: its levels by address, width and height, three integers each.
// @ts-ignore: decorator
@inline function level(pyramid: usize, l: i32): usize {
  return pyramid + <usize>(l * 12);
}
// @ts-ignore: decorator
@inline function pair(at: usize): v128 {
  return f64x2.promote_low_f32x4(v128.load64_zero(at));
}
// @ts-ignore: decorator
@inline function bounded(v: f64, n: i32): f64 {
  return max(<f64>-BEYOND, min(<f64>(n - 1 + BEYOND), v));
}

function sample(g: usize, px: f64, py: f64, r: i32, out: usize): void {
  const side = 2 * r + 1;
  const x = bounded(px, load<i32>(g, 4));
  const y = bounded(py, load<i32>(g, 8));
  const fx = x - Math.floor(x);
  const fy = y - Math.floor(y);
  const wide = load<i32>(g, 4) + 2 * PAD;
  const from = (<i32>Math.floor(y) - r + PAD) * wide + <i32>Math.floor(x) - r + PAD;
  const s00 = (1 - fx) * (1 - fy);
  const s10 = fx * (1 - fy);
  const s01 = (1 - fx) * fy;
  const s11 = fx * fy;
  const w00 = f64x2.splat(s00);
  const w10 = f64x2.splat(s10);
  const w01 = f64x2.splat(s01);
  const w11 = f64x2.splat(s11);
  const line = (<usize>wide) << 2;
  let row = load<usize>(g) + ((<usize>from) << 2);
  for (let j = 0; j < side; j++, row += line) {
    let i = row;
    for (let n = 0; n < side - 1; n += 2, i += 8, out += 16)
      v128.store(
        out,
        f64x2.add(
          f64x2.add(f64x2.add(f64x2.mul(w00, pair(i)), f64x2.mul(w10, pair(i + 4))), f64x2.mul(w01, pair(i + line))),
          f64x2.mul(w11, pair(i + line + 4)),
        ),
      );
    store<f64>(
      out,
      s00 * <f64>load<f32>(i) +
        s10 * <f64>load<f32>(i + 4) +
        s01 * <f64>load<f32>(i + line) +
        s11 * <f64>load<f32>(i + line + 4),
    );
    out += 8;
  }
}
// @ts-ignore: decorator
@inline function last(s: v128, v: f64): f64 {
  return f64x2.extract_lane(s, 0) + v + f64x2.extract_lane(s, 1);
}
const END: usize = (<usize>(N - 1)) << 3;
function dot(a: usize, b: usize): f64 {
  let s = f64x2.splat(0);
  for (let k: usize = 0; k < END; k += 16) s = f64x2.add(s, f64x2.mul(v128.load(a + k), v128.load(b + k)));
  return last(s, load<f64>(a + END) * load<f64>(b + END));
}
function centred(a: usize): void {
  let s = f64x2.splat(0);
  for (let k: usize = 0; k < END; k += 16) s = f64x2.add(s, v128.load(a + k));
  const mean = last(s, load<f64>(a + END)) / <f64>N;
  const m = f64x2.splat(mean);
  for (let k: usize = 0; k < END; k += 16) v128.store(a + k, f64x2.sub(v128.load(a + k), m));
  store<f64>(a + END, load<f64>(a + END) - mean);
}
function look(into: usize, g: usize, x: f64, y: f64): void {
  sample(g, x, y, R + 1, WINDOW);
  const half = f64x2.splat(0.5);
  const down: usize = (<usize>WIDE) << 3;
  let k: usize = 0;
  for (let j = 0; j < SIDE; j++) {
    let m = WINDOW + ((<usize>((j + 1) * WIDE + 1)) << 3);
    for (let i = 0; i < SIDE - 1; i += 2, k += 16, m += 16) {
      v128.store(into + k, v128.load(m));
      v128.store(into + GX + k, f64x2.mul(f64x2.sub(v128.load(m + 8), v128.load(m - 8)), half));
      v128.store(into + GY + k, f64x2.mul(f64x2.sub(v128.load(m + down), v128.load(m - down)), half));
    }
    store<f64>(into + k, load<f64>(m));
    store<f64>(into + GX + k, (load<f64>(m + 8) - load<f64>(m - 8)) * 0.5);
    store<f64>(into + GY + k, (load<f64>(m + down) - load<f64>(m - down)) * 0.5);
    k += 8;
  }
  centred(into);
  const a = dot(into + GX, into + GX);
  const b = dot(into + GX, into + GY);
  const c = dot(into + GY, into + GY);
  const power = dot(into, into);
  store<f64>(into + A, a);
  store<f64>(into + B, b);
  store<f64>(into + C, c);
  store<f64>(into + TU, dot(into, into + GX));
  store<f64>(into + TV, dot(into, into + GY));
  store<f64>(into + POWER, power);
  store<u8>(into + BLANK, !(a * c - b * b > 1e-12 * (a + c) * (a + c)) || !(power > 0) ? 1 : 0);
}
function search(l: usize, to: usize, qx: f64, qy: f64, steps: i32, close: f64): bool {
  if (load<u8>(l + BLANK)) return false;
  const a = load<f64>(l + A);
  const b = load<f64>(l + B);
  const c = load<f64>(l + C);
  const tu = load<f64>(l + TU);
  const tv = load<f64>(l + TV);
  const least = (a * c - b * b) / 16;
  const right = <f64>(load<i32>(to, 4) - 1 + R);
  const bottom = <f64>(load<i32>(to, 8) - 1 + R);
  let x = qx;
  let y = qy;
  let j00 = a;
  let j01 = b;
  let j10 = b;
  let j11 = c;
  let sx: f64 = 0;
  let sy: f64 = 0;
  let u0: f64 = 0;
  let v0: f64 = 0;
  for (let s = 0; s < steps; s++) {
    if (!(x >= <f64>-R && y >= <f64>-R && x <= right && y <= bottom)) return false;
    sample(to, x, y, R, CURRENT);
    centred(CURRENT);
    // All four sums in one round, each in the order that one alone has.
    let pp = f64x2.splat(0);
    let pt = f64x2.splat(0);
    let pu = f64x2.splat(0);
    let pv = f64x2.splat(0);
    for (let k: usize = 0; k < END; k += 16) {
      const d = v128.load(CURRENT + k);
      pp = f64x2.add(pp, f64x2.mul(d, d));
      pt = f64x2.add(pt, f64x2.mul(d, v128.load(l + k)));
      pu = f64x2.add(pu, f64x2.mul(d, v128.load(l + GX + k)));
      pv = f64x2.add(pv, f64x2.mul(d, v128.load(l + GY + k)));
    }
    const d = load<f64>(CURRENT + END);
    const p = last(pp, d * d);
    if (!(p > 0)) return false;
    const gain = max<f64>(0.25, min<f64>(4, last(pt, d * load<f64>(l + END)) / p));
    const u = tu - gain * last(pu, d * load<f64>(l + GX + END));
    const v = tv - gain * last(pv, d * load<f64>(l + GY + END));
    const far = sx * sx + sy * sy;
    if (far > 0) {
      const eu = (u0 - u - j00 * sx - j01 * sy) / far;
      const ev = (v0 - v - j10 * sx - j11 * sy) / far;
      j00 += eu * sx;
      j01 += eu * sy;
      j10 += ev * sx;
      j11 += ev * sy;
      if (!(j00 * j11 - j01 * j10 > least)) {
        j00 = a;
        j01 = b;
        j10 = b;
        j11 = c;
      }
    }
    const e = j00 * j11 - j01 * j10;
    const dx = (j11 * u - j01 * v) / e;
    const dy = (j00 * v - j10 * u) / e;
    sx = max<f64>(-4, min<f64>(4, dx));
    sy = max<f64>(-4, min<f64>(4, dy));
    u0 = u;
    v0 = v;
    x += sx;
    y += sy;
    if (dx * dx + dy * dy < close) break;
  }
  foundX = x;
  foundY = y;
  return true;
}
function likeness(l: usize, to: usize, x: f64, y: f64): f64 {
  sample(to, x, y, R, CURRENT);
  centred(CURRENT);
  const p = dot(CURRENT, CURRENT);
  const power = load<f64>(l + POWER);
  return power > 0 && p > 0 ? dot(CURRENT, l) / Math.sqrt(power * p) : 0;
}
function weight(l: usize, like: f64): f64 {
  const a = load<f64>(l + A);
  const b = load<f64>(l + B);
  const c = load<f64>(l + C);
  const half = (a - c) / 2;
  const least = (a + c) / 2 - Math.sqrt(half * half + b * b);
  return (<f64>N * least) / (load<f64>(l + POWER) * (1 - like * like + 1e-6));
}
/** @param levels of either pyramid that are looked at */
function descend(l: usize, from: usize, to: usize, levels: i32, px: f64, py: f64, gx: f64, gy: f64, fine: bool): bool {
  const top = levels - 1;
  let dx = (gx - px) / <f64>(1 << top);
  let dy = (gy - py) / <f64>(1 << top);
  for (let n = top; n >= 0; n--) {
    const k = <f64>(1 << n);
    const best = n == 0 && fine;
    look(l, level(from, n), px / k, py / k);
    if (search(l, level(to, n), px / k + dx, py / k + dy, best ? STEPS : ROUGH_STEPS, best ? CLOSE : ROUGH)) {
      dx = foundX - px / k;
      dy = foundY - py / k;
    } else if (n == 0) return false;
    if (n > 0) {
      dx = 2 * dx;
      dy = 2 * dy;
    }
  }
  foundX = px + dx;
  foundY = py + dy;
  return true;
}
/** Bytes of scratch. */
export function lk_spare(): usize {
  return 2 * ROOM + 2 * LOOK;
}
/**
 * @param from, to pyramids, of which `levels` are looked at
 * @param points x, y in doubles
 * @param within negative: one way only
 * @param out x, y, likeness and weight in doubles, not a number where a point is not found
 */
export function lk_find(
  from: usize,
  to: usize,
  levels: i32,
  points: usize,
  n: i32,
  fine: i32,
  within: f64,
  out: usize,
  spare: usize,
): void {
  WINDOW = spare;
  CURRENT = spare + ROOM;
  THERE = spare + 2 * ROOM;
  BACK = THERE + LOOK;
  for (let i = 0; i < n; i++, points += 16, out += 32) {
    const px = load<f64>(points);
    const py = load<f64>(points, 8);
    let found = descend(THERE, from, to, levels, px, py, px, py, fine != 0);
    const qx = foundX;
    const qy = foundY;
    if (found && within >= 0) {
      found = descend(BACK, to, from, levels, qx, qy, px, py, fine != 0);
      const ex = foundX - px;
      const ey = foundY - py;
      found = found && Math.sqrt(ex * ex + ey * ey) <= within;
    }
    store<f64>(out, found ? qx : NaN);
    store<f64>(out, found ? qy : NaN, 8);
    const like = found ? likeness(THERE, to, qx, qy) : NaN;
    store<f64>(out, like, 16);
    store<f64>(out, weight(THERE, like), 24);
  }
}

// @ts-ignore: decorator
@inline function at(data: usize, i: i32): f64 {
  return <f64>load<f32>(data + ((<usize>i) << 2));
}
function linear(data: usize, w: i32, h: i32, x: f64, y: f64): f64 {
  const cx = max<f64>(0, min(<f64>w - 1.000001, x));
  const cy = max<f64>(0, min(<f64>h - 1.000001, y));
  const x0 = <i32>Math.floor(cx);
  const y0 = <i32>Math.floor(cy);
  const fx = cx - <f64>x0;
  const fy = cy - <f64>y0;
  const i = y0 * w + x0;
  const right = x0 + 1 < w ? 1 : 0;
  const down = y0 + 1 < h ? w : 0;
  const top = at(data, i) + fx * (at(data, i + right) - at(data, i));
  const low = at(data, i + down) + fx * (at(data, i + down + right) - at(data, i + down));
  return top + fy * (low - top);
}
/**
 * @param data the frame, w by h; @param map nine doubles
 * @param out, inside of the window at (wx, wy), ww by wh: values, and 1 where they lie in the frame
 */
export function lk_warp(
  data: usize,
  w: i32,
  h: i32,
  map: usize,
  wx: i32,
  wy: i32,
  ww: i32,
  wh: i32,
  out: usize,
  inside: usize,
): void {
  const m0 = load<f64>(map);
  const m1 = load<f64>(map, 8);
  const m2 = load<f64>(map, 16);
  const m3 = load<f64>(map, 24);
  const m4 = load<f64>(map, 32);
  const m5 = load<f64>(map, 40);
  const m6 = load<f64>(map, 48);
  const m7 = load<f64>(map, 56);
  const m8 = load<f64>(map, 64);
  const right = <f64>(w - 1);
  const bottom = <f64>(h - 1);
  for (let y = 0; y < wh; y++) {
    const py = <f64>(wy + y);
    for (let x = 0; x < ww; x++, out += 4, inside++) {
      const px = <f64>(wx + x);
      const depth = m6 * px + m7 * py + m8;
      const u = (m0 * px + m1 * py + m2) / depth;
      const v = (m3 * px + m4 * py + m5) / depth;
      const u0 = Math.floor(u);
      const v0 = Math.floor(v);
      let value: f64 = 0;
      if (u0 >= 1 && v0 >= 1 && u0 + 2 < <f64>w && v0 + 2 < <f64>h) {
        const f = u - u0;
        const f2 = f * f;
        const f3 = f2 * f;
        const a = -0.5 * f + f2 - 0.5 * f3;
        const b = 1 - 2.5 * f2 + 1.5 * f3;
        const c = 0.5 * f + 2 * f2 - 1.5 * f3;
        const d = -0.5 * f2 + 0.5 * f3;
        const e = v - v0;
        const e2 = e * e;
        const e3 = e2 * e;
        const i = (<i32>v0 - 1) * w + <i32>u0 - 1;
        const j = i + w;
        const k = j + w;
        const l = k + w;
        value =
          (-0.5 * e + e2 - 0.5 * e3) *
            (a * at(data, i) + b * at(data, i + 1) + c * at(data, i + 2) + d * at(data, i + 3)) +
          (1 - 2.5 * e2 + 1.5 * e3) *
            (a * at(data, j) + b * at(data, j + 1) + c * at(data, j + 2) + d * at(data, j + 3)) +
          (0.5 * e + 2 * e2 - 1.5 * e3) *
            (a * at(data, k) + b * at(data, k + 1) + c * at(data, k + 2) + d * at(data, k + 3)) +
          (-0.5 * e2 + 0.5 * e3) * (a * at(data, l) + b * at(data, l + 1) + c * at(data, l + 2) + d * at(data, l + 3));
      } else if (!(u == u && v == v)) value = NaN;
      else value = linear(data, w, h, u, v);
      store<f32>(out, <f32>value);
      store<u8>(inside, depth > 0 && u >= 0 && v >= 0 && u <= right && v <= bottom ? 1 : 0);
    }
  }
}
