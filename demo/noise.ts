/** Value noise in three dimensions, deterministic everywhere: whole-number hash, smooth interpolation. */

function hash(x: number, y: number, z: number): number {
  let h = Math.imul(x, 0x27d4eb2d) ^ Math.imul(y, 0x165667b1) ^ Math.imul(z, 0x9e3779b1);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296;
}

/** -1..1. */
export function noise(x: number, y: number, z: number): number {
  const xi = Math.floor(x);
  const yi = Math.floor(y);
  const zi = Math.floor(z);
  let fx = x - xi;
  let fy = y - yi;
  let fz = z - zi;
  fx = fx * fx * (3 - 2 * fx);
  fy = fy * fy * (3 - 2 * fy);
  fz = fz * fz * (3 - 2 * fz);
  const l = (a: number, b: number, t: number): number => a + (b - a) * t;
  const v = l(
    l(l(hash(xi, yi, zi), hash(xi + 1, yi, zi), fx), l(hash(xi, yi + 1, zi), hash(xi + 1, yi + 1, zi), fx), fy),
    l(
      l(hash(xi, yi, zi + 1), hash(xi + 1, yi, zi + 1), fx),
      l(hash(xi, yi + 1, zi + 1), hash(xi + 1, yi + 1, zi + 1), fx),
      fy,
    ),
    fz,
  );
  return v * 2 - 1;
}

/** Sum of octaves, about -1..1. */
export function fbm(x: number, y: number, z: number, octaves: number): number {
  let a = 0.5;
  let s = 0;
  for (let i = 0; i < octaves; i++) {
    s += a * noise(x, y, z);
    x = x * 2.03 + 17.1;
    y = y * 2.01 + 5.3;
    z = z * 1.99 + 9.7;
    a *= 0.5;
  }
  return s;
}

export const cell = hash;
