/** From a clip's planes to R'G'B'; twins of src/media/yuv.ts, to the bit. */

// @ts-ignore: decorator
@inline function code(p: usize, i: usize, bytes: i32): f32 {
  return bytes == 1 ? <f32>load<u8>(p + i) : <f32>load<u16>(p + (i << 1));
}
// @ts-ignore: decorator
@inline function codes4(p: usize, i: usize, bytes: i32): v128 {
  const words = bytes == 1 ? i16x8.extend_low_i8x16_u(v128.load32_zero(p + i)) : v128.load64_zero(p + (i << 1));
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(words));
}

/** Two rows of n chroma codes, less their middle, mixed. */
function mix(a: usize, b: usize, f: f32, middle: f32, n: i32, bytes: i32, to: usize): void {
  let i: usize = 0;
  const m = f32x4.splat(middle),
    k = f32x4.splat(f);
  for (const end = <usize>(n & ~3); i < end; i += 4) {
    const p = f32x4.sub(codes4(a, i, bytes), m);
    const q = f32x4.sub(codes4(b, i, bytes), m);
    v128.store(to + (i << 2), f32x4.add(p, f32x4.mul(k, f32x4.sub(q, p))));
  }
  for (const end = <usize>n; i < end; i++) {
    const p: f32 = code(a, i, bytes) - middle;
    const d: f32 = code(b, i, bytes) - middle - p;
    const e: f32 = f * d;
    store<f32>(to + (i << 2), p + e);
  }
}
/** One place of luma, from cw chroma values. */
function wide(from: usize, last: i32, centre: i32, x: i32): f32 {
  const k = x >> 1;
  const c = load<f32>(from + ((<usize>k) << 2));
  const odd = x & 1;
  const j = odd ? min(last, k + 1) : centre ? max(0, k - 1) : k;
  const d = load<f32>(from + ((<usize>j) << 2));
  if (centre) {
    const p: f32 = 0.75 * c;
    const q: f32 = 0.25 * d;
    return p + q;
  }
  if (!odd) return c;
  const s: f32 = c + d;
  return 0.5 * s;
}
/** cw chroma values to n places of luma. */
function widen(from: usize, cw: i32, centre: i32, n: i32, to: usize): void {
  const last = cw - 1;
  let x = 0;
  if (centre) for (const end = min(n, 2); x < end; x++) store<f32>(to + ((<usize>x) << 2), wide(from, last, 1, x));
  const half = f32x4.splat(0.5),
    quarter = f32x4.splat(0.25),
    most = f32x4.splat(0.75);
  // Four of them and their neighbours on either side, to eight places.
  for (; x + 8 <= n && (x >> 1) + 4 <= last; x += 8) {
    const p = from + ((<usize>(x >> 1)) << 2);
    const c = v128.load(p),
      next = v128.load(p + 4);
    let even = c,
      odd = f32x4.mul(half, f32x4.add(c, next));
    if (centre) {
      const own = f32x4.mul(most, c);
      even = f32x4.add(own, f32x4.mul(quarter, v128.load(p - 4)));
      odd = f32x4.add(own, f32x4.mul(quarter, next));
    }
    const o = to + ((<usize>x) << 2);
    v128.store(o, v128.shuffle<f32>(even, odd, 0, 4, 1, 5));
    v128.store(o + 16, v128.shuffle<f32>(even, odd, 2, 6, 3, 7));
  }
  for (; x < n; x++) store<f32>(to + ((<usize>x) << 2), wide(from, last, centre, x));
}

/**
 * A row of n pixels: luma codes `y`, chroma rows u0, u1 and v0, v1 with the weight f of the second, cw codes each.
 * `scratch` has room for four rows. how: bit 0 chroma has half the width, bit 1 it lies in the middle of two, bit 2 the
 * planes are G, B, R.
 */
export function yuvRow(
  block: usize,
  y: usize,
  u0: usize,
  u1: usize,
  v0: usize,
  v1: usize,
  f: f32,
  cw: i32,
  bytes: i32,
  how: i32,
  scratch: usize,
  r: usize,
  g: usize,
  b: usize,
  n: i32,
): void {
  const black = load<f32>(block),
    scale = load<f32>(block, 4),
    middle = load<f32>(block, 8),
    rv = load<f32>(block, 12),
    gu = load<f32>(block, 16),
    gv = load<f32>(block, 20),
    bu = load<f32>(block, 24);
  const pitch = (<usize>n + 8) << 2;
  let u = scratch,
    v = scratch + pitch;
  mix(u0, u1, f, middle, cw, bytes, u);
  mix(v0, v1, f, middle, cw, bytes, v);
  if (how & 1) {
    widen(u, cw, (how >> 1) & 1, n, scratch + 2 * pitch);
    widen(v, cw, (how >> 1) & 1, n, scratch + 3 * pitch);
    u = scratch + 2 * pitch;
    v = scratch + 3 * pitch;
  }
  const gbr = how & 4;
  let i: usize = 0;
  const B = f32x4.splat(black),
    S = f32x4.splat(scale),
    RV = f32x4.splat(rv),
    GU = f32x4.splat(gu),
    GV = f32x4.splat(gv),
    BU = f32x4.splat(bu);
  for (const end = <usize>(n & ~3); i < end; i += 4) {
    const o = i << 2;
    const l = f32x4.mul(f32x4.sub(codes4(y, i, bytes), B), S);
    const U = v128.load(u + o),
      V = v128.load(v + o);
    const vr = f32x4.mul(V, RV),
      ub = f32x4.mul(U, BU);
    if (gbr) {
      v128.store(g + o, l);
      v128.store(b + o, ub);
      v128.store(r + o, vr);
      continue;
    }
    v128.store(r + o, f32x4.add(l, vr));
    v128.store(g + o, f32x4.add(f32x4.add(l, f32x4.mul(U, GU)), f32x4.mul(V, GV)));
    v128.store(b + o, f32x4.add(l, ub));
  }
  for (const end = <usize>n; i < end; i++) {
    const o = i << 2;
    const c: f32 = code(y, i, bytes) - black;
    const l: f32 = c * scale;
    const U = load<f32>(u + o),
      V = load<f32>(v + o);
    const vr: f32 = V * rv,
      ub: f32 = U * bu;
    if (gbr) {
      store<f32>(g + o, l);
      store<f32>(b + o, ub);
      store<f32>(r + o, vr);
      continue;
    }
    const a: f32 = U * gu,
      d: f32 = V * gv;
    const e: f32 = l + a;
    store<f32>(r + o, l + vr);
    store<f32>(g + o, e + d);
    store<f32>(b + o, l + ub);
  }
}
