/** Twin of the numbers of src/core/op/windows.ts. */

export const FINE: f64 = 32768;
const SAID: f64 = 262144;

// @ts-ignore: decorator
@inline export function mirror(i: i32, n: i32): i32 {
  if (i >= 0 && i < n) return i;
  const m = ((i % (2 * n)) + 2 * n) % (2 * n);
  return m < n ? m : 2 * n - 1 - m;
}
// @ts-ignore: decorator
@inline export function guide(at: usize): f64 {
  const v = load<f32>(at);
  return Math.floor(<f64>(v > <f32>-0.5 ? (v < 2 ? v : 2) : <f32>-0.5) * FINE + 0.5) / FINE;
}
// @ts-ignore: decorator
@inline export function said(v: f64): f32 {
  return <f32>(Math.floor(v * SAID + 0.5) / SAID);
}
/** Of a number that is no plane's, in finer steps. */
// @ts-ignore: decorator
@inline export function guideOf(v: f64, fine: f64): f64 {
  return Math.floor((v > -0.5 ? (v < 2 ? v : 2) : -0.5) * fine + 0.5) / fine;
}
