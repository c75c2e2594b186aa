/**
 * Twin of addScopes in src/core/scopes/reduce.ts (see there for the layout): cells of four pixels at a time by SIMD,
 * then one
 * increment each. Angles by polynomial within 2e-5 degrees: a count may fall into the neighbouring cell only on its
 * very border.
 */
import { atan2Deg } from './lib/math';

/** BORDER of src/core/scopes/reduce.ts: codes that lie on the border of a cell belong above it. */
const BORDER: f64 = 6e-7;
const VC: i32 = 560;
const WL: i32 = 600;
const SC: i32 = 240;
/**
 * Pixels of a strip; a multiple of 16, so that no cache line of the planes is read twice. Measured: narrower ones
 * lose more to paging.
 */
const STRIPE: i32 = 480;
/** Rows of a strip at a time: so few that their pages stay known to the processor. */
const ROWS: i32 = 16;
const SL: i32 = 128;
const STRIP: usize = 560 * 560 * 4;
const CLIP: usize = STRIP + 240 * 128 * 4;
const WAVES: usize = CLIP + 16;
const WAVE: usize = 280 * 600 * 4;

// @ts-ignore: decorator
@inline function bump(at: usize): void {
  store<u32>(at, load<u32>(at) + 1);
}
/** Increments the cells idx (byte offsets) of the lanes whose bit is set. */
// @ts-ignore: decorator
@inline function bump4(base: usize, idx: v128, bits: i32): void {
  if (bits == 15) {
    bump(base + i32x4.extract_lane(idx, 0));
    bump(base + i32x4.extract_lane(idx, 1));
    bump(base + i32x4.extract_lane(idx, 2));
    bump(base + i32x4.extract_lane(idx, 3));
    return;
  }
  if (bits & 1) bump(base + i32x4.extract_lane(idx, 0));
  if (bits & 2) bump(base + i32x4.extract_lane(idx, 1));
  if (bits & 4) bump(base + i32x4.extract_lane(idx, 2));
  if (bits & 8) bump(base + i32x4.extract_lane(idx, 3));
}
// @ts-ignore: decorator
@inline function all5(base: usize, r: usize, g: usize, b: usize, u: usize, v: usize): void {
  bump(base + WAVE + r);
  bump(base + 2 * WAVE + g);
  bump(base + 3 * WAVE + b);
  bump(base + 4 * WAVE + u);
  bump(base + 5 * WAVE + v);
}
// @ts-ignore: decorator
@inline function clampCell(v: v128, top: i32): v128 {
  return i32x4.min_s(i32x4.max_s(i32x4.trunc_sat_f32x4_s(v), i32x4.splat(0)), i32x4.splat(top));
}
// @ts-ignore: decorator
@inline function level(v: v128, cols: v128): v128 {
  const l = clampCell(
    f32x4.mul(f32x4.add(v, f32x4.splat(<f32>(0.1 + BORDER))), f32x4.splat(<f32>WL / <f32>1.2)),
    WL - 1,
  );
  return i32x4.add(cols, i32x4.shl(l, 2));
}
// @ts-ignore: decorator
@inline function four(p: usize, step: usize): v128 {
  let v = v128.load32_zero(p);
  v = v128.load_lane<f32>(p + step, v, 1);
  v = v128.load_lane<f32>(p + 2 * step, v, 2);
  return v128.load_lane<f32>(p + 3 * step, v, 3);
}

/**
 * `cols`: byte offset of the waveform's column for each of the x1 - x0 pixels. Reads up to three pixels behind x1
 * (padded planes).
 */
export function scope(
  r: usize,
  g: usize,
  b: usize,
  m: usize,
  mode: i32,
  w: i32,
  x0: i32,
  x1: i32,
  y0: i32,
  y1: i32,
  stride: i32,
  bits: i32,
  ca: f32,
  sa: f32,
  tanMax: f32,
  range: f32,
  cols: usize,
  counts: usize,
): void {
  const KR = f32x4.splat(0.2126),
    KG = f32x4.splat(0.7152),
    KB = f32x4.splat(0.0722);
  const icb = f32x4.splat(1 / 1.8556),
    icr = f32x4.splat(1 / 1.5748);
  const zero = f32x4.splat(0),
    one = f32x4.splat(1),
    half = f32x4.splat(0.5);
  const vk: f32 = <f32>VC / (2 * range);
  const vk4 = f32x4.splat(vk),
    range4 = f32x4.splat(<f32>(<f64>range + BORDER)),
    vc4 = f32x4.splat(<f32>VC);
  const ca4 = f32x4.splat(ca),
    sa4 = f32x4.splat(sa),
    tan4 = f32x4.splat(tanMax);
  const minChroma2 = f32x4.splat(0.03 * 0.03);
  const zoomed = (bits & 64) != 0;
  const step = (<usize>stride) << 2;
  let low: u32 = 0,
    high: u32 = 0,
    seen: u32 = 0;
  // In narrow strips from top to bottom: the few columns of the waveforms that a strip counts into stay in the
  // fastest cache.
  for (let b0 = ((y0 + stride - 1) / stride) * stride; b0 < y1; b0 += ROWS * stride)
    for (let s0 = x0; s0 < x1; s0 += STRIPE * stride)
      for (let y = b0, b1 = min(y1, b0 + ROWS * stride); y < b1; y += stride) {
        const row = (<usize>(y * w)) << 2;
        const s1 = min(x1, s0 + STRIPE * stride);
        for (let x = s0; x < s1; x += 4 * stride) {
          const o = row + ((<usize>x) << 2);
          const left = stride == 1 ? s1 - x : (s1 - x + stride - 1) / stride;
          let ok: i32 = left >= 4 ? 15 : (1 << left) - 1;
          // A short group never reads behind the row's last pixel by more than the planes' padding.
          const near = stride == 1 || left >= 4;
          const R = stride == 1 ? v128.load(r + o) : near ? four(r + o, step) : v128.load32_splat(r + o);
          const G = stride == 1 ? v128.load(g + o) : near ? four(g + o, step) : v128.load32_splat(g + o);
          const B = stride == 1 ? v128.load(b + o) : near ? four(b + o, step) : v128.load32_splat(b + o);
          if (!near) ok = 1;
          if (mode) {
            const M = stride == 1 ? v128.load(m + o) : near ? four(m + o, step) : v128.load32_splat(m + o);
            const inside = i32x4.bitmask(f32x4.gt(M, half));
            ok &= mode == 1 ? inside : ~inside;
          }
          if (ok) {
            if (bits & 4) {
              const l = i32x4.bitmask(f32x4.le(f32x4.pmin(f32x4.pmin(R, G), B), zero)) & ok;
              const h = i32x4.bitmask(f32x4.ge(f32x4.pmax(f32x4.pmax(R, G), B), one)) & ok;
              low += popcnt<u32>(l);
              high += popcnt<u32>(h);
              seen += popcnt<u32>(ok);
            }
            const Y = f32x4.add(f32x4.add(f32x4.mul(KR, R), f32x4.mul(KG, G)), f32x4.mul(KB, B));
            ok &= i32x4.bitmask(f32x4.eq(f32x4.sub(Y, Y), zero));
            const cb = f32x4.mul(f32x4.sub(B, Y), icb),
              cr = f32x4.mul(f32x4.sub(R, Y), icr);
            if (bits & 1) {
              const fx = f32x4.mul(f32x4.add(cb, range4), vk4),
                fy = f32x4.mul(f32x4.sub(range4, cr), vk4);
              let here = ok;
              if (zoomed)
                here &= i32x4.bitmask(
                  v128.and(
                    v128.and(f32x4.ge(fx, zero), f32x4.lt(fx, vc4)),
                    v128.and(f32x4.ge(fy, zero), f32x4.lt(fy, vc4)),
                  ),
                );
              bump4(
                counts,
                i32x4.shl(i32x4.add(i32x4.mul(clampCell(fy, VC - 1), i32x4.splat(VC)), clampCell(fx, VC - 1)), 2),
                here,
              );
            }
            if (bits & 2) {
              const u = f32x4.add(f32x4.mul(cb, ca4), f32x4.mul(cr, sa4));
              const v = f32x4.sub(f32x4.mul(cr, ca4), f32x4.mul(cb, sa4));
              const near4 = v128.and(
                v128.and(f32x4.gt(u, zero), f32x4.lt(f32x4.abs(v), f32x4.mul(u, tan4))),
                f32x4.ge(f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v)), minChroma2),
              );
              const sy = f32x4.mul(f32x4.sub(one, Y), f32x4.splat(<f32>SL));
              const here =
                ok & i32x4.bitmask(v128.and(near4, v128.and(f32x4.ge(sy, zero), f32x4.lt(sy, f32x4.splat(<f32>SL)))));
              if (here) {
                const sx = clampCell(f32x4.mul(f32x4.add(atan2Deg(v, u), f32x4.splat(60)), f32x4.splat(2)), SC - 1);
                bump4(
                  counts + STRIP,
                  i32x4.shl(i32x4.add(i32x4.mul(i32x4.trunc_sat_f32x4_s(sy), i32x4.splat(SC)), sx), 2),
                  here,
                );
              }
            }
            if (bits & 56) {
              const c = cols + ((<usize>(x - x0)) << 2);
              const C = stride == 1 ? v128.load(c) : near ? four(c, step) : v128.load32_splat(c);
              const base = counts + WAVES;
              if (bits & 8) bump4(base, level(Y, C), ok);
              const IR = level(R, C),
                IG = level(G, C),
                IB = level(B, C);
              const IU = level(f32x4.add(cb, half), C),
                IV = level(f32x4.add(cr, half), C);
              // Lane by lane through the waveforms: two increments of one cell in a row would wait for each other.
              if ((bits & 48) == 48 && ok == 15) {
                all5(
                  base,
                  i32x4.extract_lane(IR, 0),
                  i32x4.extract_lane(IG, 0),
                  i32x4.extract_lane(IB, 0),
                  i32x4.extract_lane(IU, 0),
                  i32x4.extract_lane(IV, 0),
                );
                all5(
                  base,
                  i32x4.extract_lane(IR, 1),
                  i32x4.extract_lane(IG, 1),
                  i32x4.extract_lane(IB, 1),
                  i32x4.extract_lane(IU, 1),
                  i32x4.extract_lane(IV, 1),
                );
                all5(
                  base,
                  i32x4.extract_lane(IR, 2),
                  i32x4.extract_lane(IG, 2),
                  i32x4.extract_lane(IB, 2),
                  i32x4.extract_lane(IU, 2),
                  i32x4.extract_lane(IV, 2),
                );
                all5(
                  base,
                  i32x4.extract_lane(IR, 3),
                  i32x4.extract_lane(IG, 3),
                  i32x4.extract_lane(IB, 3),
                  i32x4.extract_lane(IU, 3),
                  i32x4.extract_lane(IV, 3),
                );
              } else {
                if (bits & 16) {
                  bump4(base + WAVE, IR, ok);
                  bump4(base + 2 * WAVE, IG, ok);
                  bump4(base + 3 * WAVE, IB, ok);
                }
                if (bits & 32) {
                  bump4(base + 4 * WAVE, IU, ok);
                  bump4(base + 5 * WAVE, IV, ok);
                }
              }
            }
          }
          // Tails with gaps go one by one.
          if (!near) x -= 3 * stride;
        }
      }
  if (bits & 4) {
    store<u32>(counts + CLIP, load<u32>(counts + CLIP) + low);
    store<u32>(counts + CLIP, load<u32>(counts + CLIP, 4) + high, 4);
    store<u32>(counts + CLIP, load<u32>(counts + CLIP, 8) + seen, 8);
  }
}
