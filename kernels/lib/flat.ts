/**
 * Where a window holds one value only, its answer is known without looking: mattes are flat nearly everywhere. A row is
 * looked at in groups of sixteen pixels; of each group is kept for how many rows it has been flat, and at what.
 */
export const GROUP: i32 = 16;
/** Bytes of a group's state: rows flat, the value, the row for which sums of its columns stand. */
export const STATE: usize = 12;
const NEVER: i32 = -0x40000000;
/** Half a step of what sums count in (lib/windows.ts: FINE): below it a value counts as 0. */
const LITTLE: f32 = 1.0 / 65536;

// @ts-ignore: decorator
@inline export function groupsOf(w: i32): i32 {
  return (w + GROUP - 1) / GROUP;
}
// @ts-ignore: decorator
@inline function stateOf(states: usize, g: i32): usize {
  return states + <usize>g * STATE;
}
export function clearFlat(states: usize, w: i32): void {
  for (let g = 0, n = groupsOf(w); g < n; g++) {
    const s = stateOf(states, g);
    store<i32>(s, 0);
    store<f32>(s + 4, -1);
    store<i32>(s + 8, NEVER);
  }
}
// @ts-ignore: decorator
@inline function seen(s: usize, value: f32): void {
  if (value < 0) store<i32>(s, 0);
  else store<i32>(s, value == load<f32>(s + 4) ? load<i32>(s) + 1 : 1);
  store<f32>(s + 4, value);
}
/** The next row of a matte: what is as good as 0, or as good as 1. */
export function seeMatte(states: usize, row: usize, w: i32): void {
  const zero = f32x4.splat(0),
    one = f32x4.splat(1);
  for (let g = 0, n = groupsOf(w); g < n; g++) {
    let x = g * GROUP;
    const end = min(w, x + GROUP);
    let lo = one,
      hi = zero;
    for (; x + 4 <= end; x += 4) {
      const v = f32x4.pmax(zero, v128.load(row + ((<usize>x) << 2)));
      lo = f32x4.min(lo, v);
      hi = f32x4.max(hi, v);
    }
    for (; x < end; x++) {
      const v = f32x4.pmax(zero, v128.load32_splat(row + ((<usize>x) << 2)));
      lo = f32x4.min(lo, v);
      hi = f32x4.max(hi, v);
    }
    const none = v128.any_true(f32x4.ge(hi, f32x4.splat(LITTLE))) == false;
    const all = v128.any_true(f32x4.lt(lo, f32x4.splat(1 - LITTLE))) == false;
    seen(stateOf(states, g), none ? 0 : all ? 1 : -1);
  }
}
/** The next row of four planes of a line over colours: no slope, and 0 or 1. */
export function seeLines(states: usize, a: usize, b: usize, c: usize, d: usize, w: i32): void {
  for (let g = 0, n = groupsOf(w); g < n; g++) {
    const end = min(w, (g + 1) * GROUP);
    const value = load<f32>(d + ((<usize>(g * GROUP)) << 2));
    let flat = value == 0 || value == 1;
    for (let x = g * GROUP; flat && x < end; x++) {
      const i = (<usize>x) << 2;
      flat = load<f32>(a + i) == 0 && load<f32>(b + i) == 0 && load<f32>(c + i) == 0 && load<f32>(d + i) == value;
    }
    seen(stateOf(states, g), flat ? value : -1);
  }
}
/** What all windows about pixels of group g hold: 0, 1, or -1 where one holds more than that. */
export function flatAround(states: usize, g: i32, r: i32, w: i32): f32 {
  const first = max(0, g * GROUP - r) / GROUP,
    last = min(w - 1, (g + 1) * GROUP - 1 + r) / GROUP;
  const value = load<f32>(stateOf(states, first) + 4);
  for (let i = first; i <= last; i++) {
    const s = stateOf(states, i);
    if (load<i32>(s) < 2 * r + 1 || load<f32>(s + 4) != value) return -1;
  }
  return value;
}
/** For which row sums of the columns of group g stand, and that they stand for another now. */
// @ts-ignore: decorator
@inline export function summed(states: usize, g: i32): i32 {
  return load<i32>(stateOf(states, g) + 8);
}
// @ts-ignore: decorator
@inline export function sumsStand(states: usize, g: i32, y: i32): void {
  store<i32>(stateOf(states, g) + 8, y);
}
