/** Angles in degrees. */

export const DEG = 180 / Math.PI;

/** Wraps any angle to 0 <= a < 360. NaN stays NaN. */
export function wrap360(deg: number): number {
  const a = deg % 360;
  return a < 0 ? a + 360 : a;
}

/** Wraps a difference of angles to -180 < d <= 180. */
export function wrap180(deg: number): number {
  const a = wrap360(deg);
  return a > 180 ? a - 360 : a;
}

/** Direction of (x, y) in degrees, 0..360 counter-clockwise from +x; 0 for the origin. */
export function angleOf(x: number, y: number): number {
  return wrap360(Math.atan2(y, x) * DEG);
}
