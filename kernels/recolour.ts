/** Twin of src/core/ops/recolour: the same block. */
import { axisA, axisB, axisL, longOf, middleOf, rowOf, shortOf } from './lib/oklab';
import { decoded, encoded, known, LIGHT_BLOCK, lightOfSignal, oddCurve, signalOfLight } from './lib/light';
import { arg } from './lib/math';

/** After the light block, whose matrix leads to BT.709 light. */
const FROM_LIGHT: usize = LIGHT_BLOCK;
const MAP: usize = FROM_LIGHT + (9 << 2);
const TABLE: usize = MAP + (13 << 2);
const LIGHTS: f32 = 64;
const HUES: f32 = 256;
/** Of the table, whose places hold a lightness and the next one. */
const ROW: i32 = 257 << 3;

// @ts-ignore: decorator
@inline function cube(L: v128, ka: f32, a: v128, kb: f32, b: v128): v128 {
  const v = f32x4.add(f32x4.add(L, f32x4.mul(f32x4.splat(ka), a)), f32x4.mul(f32x4.splat(kb), b));
  return f32x4.mul(f32x4.mul(v, v), v);
}
// @ts-ignore: decorator
@inline function mix(ka: f32, a: v128, kb: f32, b: v128, kc: f32, c: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(f32x4.splat(ka), a), f32x4.mul(f32x4.splat(kb), b)),
    f32x4.mul(f32x4.splat(kc), c),
  );
}
// @ts-ignore: decorator
@inline function hypot(a: v128, b: v128): v128 {
  return f32x4.sqrt(f32x4.add(f32x4.mul(a, a), f32x4.mul(b, b)));
}
/** Largest chroma that fits: by straight lines between lightnesses and hues. */
function roomAt(t: usize, L: v128, a: v128, b: v128): v128 {
  const zero = f32x4.splat(0),
    four = f32x4.splat(4);
  const sum = f32x4.add(f32x4.abs(a), f32x4.abs(b));
  const q = v128.bitselect(f32x4.div(b, sum), zero, f32x4.gt(sum, zero));
  let d = v128.bitselect(f32x4.add(four, q), q, f32x4.lt(q, zero));
  d = v128.bitselect(f32x4.sub(f32x4.splat(2), q), d, f32x4.lt(a, zero));
  const x = f32x4.mul(d, f32x4.splat(HUES / 4));
  const y = f32x4.pmin(f32x4.pmax(zero, f32x4.mul(L, f32x4.splat(LIGHTS))), f32x4.splat(LIGHTS));
  const j = i32x4.trunc_sat_f32x4_s(f32x4.pmin(f32x4.pmax(zero, x), f32x4.splat(HUES - 0.5)));
  const i = i32x4.trunc_sat_f32x4_s(f32x4.pmin(y, f32x4.splat(LIGHTS - 0.5)));
  const fx = f32x4.sub(x, f32x4.convert_i32x4_s(j)),
    fy = f32x4.sub(y, f32x4.convert_i32x4_s(i));
  const at = i32x4.add(i32x4.mul(i, i32x4.splat(ROW)), i32x4.shl(j, 3));
  // Four corners by one load each: this hue at both lightnesses, then the next hue.
  const p = v128.load(t + i32x4.extract_lane(at, 0)),
    q4 = v128.load(t + i32x4.extract_lane(at, 1)),
    r = v128.load(t + i32x4.extract_lane(at, 2)),
    s = v128.load(t + i32x4.extract_lane(at, 3));
  const here01 = v128.shuffle<f32>(p, q4, 0, 1, 4, 5),
    next01 = v128.shuffle<f32>(p, q4, 2, 3, 6, 7);
  const here23 = v128.shuffle<f32>(r, s, 0, 1, 4, 5),
    next23 = v128.shuffle<f32>(r, s, 2, 3, 6, 7);
  const lowHere = v128.shuffle<f32>(here01, here23, 0, 2, 4, 6),
    highHere = v128.shuffle<f32>(here01, here23, 1, 3, 5, 7);
  const lowNext = v128.shuffle<f32>(next01, next23, 0, 2, 4, 6),
    highNext = v128.shuffle<f32>(next01, next23, 1, 3, 5, 7);
  const low = f32x4.add(lowHere, f32x4.mul(fx, f32x4.sub(lowNext, lowHere)));
  const high = f32x4.add(highHere, f32x4.mul(fx, f32x4.sub(highNext, highHere)));
  return f32x4.add(low, f32x4.mul(fy, f32x4.sub(high, low)));
}

export function px_recolour(k: usize, r: usize, g: usize, b: usize, n: i32): void {
  const m = k + MAP;
  const zero = f32x4.splat(0),
    one = f32x4.splat(1);
  const mean = arg(m, 0),
    to = arg(m, 1),
    slope = arg(m, 2),
    reach = arg(m, 3),
    bendUp = arg(m, 4),
    bendDown = arg(m, 5),
    white = arg(m, 6),
    beyond = arg(m, 7),
    below = arg(m, 8),
    turnC = arg(m, 9),
    turnS = arg(m, 10),
    addA = arg(m, 11),
    addB = arg(m, 12);
  const adds = load<f32>(m + 44) != 0 || load<f32>(m + 48) != 0;
  const from = k + FROM_LIGHT;
  const mirrored = oddCurve(k);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const r0 = v128.load(r + i),
      g0 = v128.load(g + i),
      b0 = v128.load(b + i);
    const odd = f32x4.mul(zero, f32x4.add(f32x4.add(r0, g0), b0));
    let x = lightOfSignal(k, r0, mirrored),
      y = lightOfSignal(k, g0, mirrored),
      z = lightOfSignal(k, b0, mirrored);
    if (!known(x, y, z)) {
      x = decoded(k, r0, x);
      y = decoded(k, g0, y);
      z = decoded(k, b0, z);
    }
    const R = rowOf(k, 0, x, y, z),
      G = rowOf(k, 1, x, y, z),
      B = rowOf(k, 2, x, y, z);
    const l = longOf(R, G, B),
      q = middleOf(R, G, B),
      s = shortOf(R, G, B);
    const L = axisL(l, q, s),
      A = axisA(l, q, s),
      C = axisB(l, q, s);
    const d = f32x4.sub(L, mean);
    const up = f32x4.pmax(zero, f32x4.sub(d, reach)),
      down = f32x4.pmax(zero, f32x4.sub(f32x4.neg(d), reach));
    const middle = f32x4.add(to, f32x4.mul(slope, d));
    const over = f32x4.add(reach, f32x4.div(up, f32x4.add(one, f32x4.mul(bendUp, up))));
    const under = f32x4.add(reach, f32x4.div(down, f32x4.add(one, f32x4.mul(bendDown, down))));
    let light = v128.bitselect(f32x4.add(to, f32x4.mul(slope, over)), middle, f32x4.gt(up, zero));
    light = v128.bitselect(f32x4.sub(to, f32x4.mul(slope, under)), light, f32x4.gt(down, zero));
    light = v128.bitselect(f32x4.mul(L, below), light, f32x4.le(L, zero));
    light = v128.bitselect(f32x4.add(white, f32x4.mul(f32x4.sub(L, one), beyond)), light, f32x4.ge(L, one));
    let a = f32x4.sub(f32x4.mul(turnC, A), f32x4.mul(turnS, C));
    let c = f32x4.add(f32x4.mul(turnS, A), f32x4.mul(turnC, C));
    if (adds) {
      const u = f32x4.div(light, to),
        v = f32x4.div(f32x4.sub(one, light), f32x4.sub(one, to));
      const both = v128.and(f32x4.gt(u, zero), f32x4.gt(v, zero));
      const share = v128.and(f32x4.div(f32x4.mul(f32x4.mul(f32x4.splat(2), u), v), f32x4.add(u, v)), both);
      a = f32x4.add(a, f32x4.mul(share, addA));
      c = f32x4.add(c, f32x4.mul(share, addB));
    }
    const chroma = hypot(a, c);
    const room = roomAt(k + TABLE, light, a, c);
    const least = f32x4.mul(f32x4.splat(0.75), room);
    // Most of a picture lies well within the range: what only its border needs is asked for there.
    if (v128.any_true(f32x4.gt(chroma, least))) {
      const had = f32x4.sub(hypot(A, C), f32x4.pmax(zero, f32x4.sub(roomAt(k + TABLE, L, A, C), room)));
      const knee = f32x4.max(least, had);
      const rest = f32x4.pmax(zero, f32x4.sub(room, knee)),
        more = f32x4.sub(chroma, knee);
      const drawn = f32x4.div(f32x4.add(knee, f32x4.div(f32x4.mul(rest, more), f32x4.add(more, rest))), chroma);
      const factor = v128.bitselect(drawn, one, f32x4.gt(more, zero));
      a = f32x4.mul(a, factor);
      c = f32x4.mul(c, factor);
    }
    const p3 = cube(light, 0.3963377774, a, 0.2158037573, c),
      q3 = cube(light, -0.1055613458, a, -0.0638541728, c),
      s3 = cube(light, -0.0894841775, a, -1.291485548, c);
    const p = mix(4.0767416621, p3, -3.3077115913, q3, 0.2309699292, s3),
      o = mix(-1.2684380046, p3, 2.6097574011, q3, -0.3413193965, s3),
      w = mix(-0.0041960863, p3, -0.7034186147, q3, 1.707614701, s3);
    const red = rowOf(from, 0, p, o, w),
      green = rowOf(from, 1, p, o, w),
      blue = rowOf(from, 2, p, o, w);
    let toR = signalOfLight(k, red, mirrored),
      toG = signalOfLight(k, green, mirrored),
      toB = signalOfLight(k, blue, mirrored);
    if (!known(toR, toG, toB)) {
      toR = encoded(k, red, toR);
      toG = encoded(k, green, toG);
      toB = encoded(k, blue, toB);
    }
    v128.store(r + i, f32x4.add(odd, toR));
    v128.store(g + i, f32x4.add(odd, toG));
    v128.store(b + i, f32x4.add(odd, toB));
  }
}
