/** Distance fields: negative inside. Smooth unions are the polynomial ones; all are common practice in graphics. */

const hyp = (x: number, y: number): number => Math.sqrt(x * x + y * y);

export const sphere = (x: number, y: number, z: number, r: number): number => Math.sqrt(x * x + y * y + z * z) - r;

/** Approximate distance to an axis-aligned ellipsoid. */
export function ellipsoid(x: number, y: number, z: number, a: number, b: number, c: number): number {
  // Products rather than powers here and below: these run billions of times.
  const u = x / a;
  const v = y / b;
  const w = z / c;
  const p = u / a;
  const q = v / b;
  const r = w / c;
  const k0 = Math.sqrt(u * u + v * v + w * w);
  const k1 = Math.sqrt(p * p + q * q + r * r);
  return k1 < 1e-9 ? -Math.min(a, b, c) : (k0 * (k0 - 1)) / k1;
}

/** Cone-like capsule between two points with radii ra, rb. */
export function capsule(
  x: number,
  y: number,
  z: number,
  a: readonly number[],
  b: readonly number[],
  ra: number,
  rb: number,
): number {
  const bx = b[0]! - a[0]!;
  const by = b[1]! - a[1]!;
  const bz = b[2]! - a[2]!;
  const px = x - a[0]!;
  const py = y - a[1]!;
  const pz = z - a[2]!;
  const h = Math.min(1, Math.max(0, (px * bx + py * by + pz * bz) / (bx * bx + by * by + bz * bz)));
  const ex = px - bx * h;
  const ey = py - by * h;
  const ez = pz - bz * h;
  return Math.sqrt(ex * ex + ey * ey + ez * ez) - (ra + (rb - ra) * h);
}

/** Box with half sizes and rounded edges. */
export function box(x: number, y: number, z: number, a: number, b: number, c: number, round: number): number {
  const qx = Math.abs(x) - a + round;
  const qy = Math.abs(y) - b + round;
  const qz = Math.abs(z) - c + round;
  const ox = Math.max(qx, 0);
  const oy = Math.max(qy, 0);
  const oz = Math.max(qz, 0);
  return Math.sqrt(ox * ox + oy * oy + oz * oz) + Math.min(Math.max(qx, qy, qz), 0) - round;
}

/** Cylinder about y. */
export function cylinder(x: number, y: number, z: number, r: number, half: number, round: number): number {
  const dx = Math.sqrt(x * x + z * z) - r + round;
  const dy = Math.abs(y) - half + round;
  return Math.min(Math.max(dx, dy), 0) + hyp(Math.max(dx, 0), Math.max(dy, 0)) - round;
}

/** Ring about z. */
export const torus = (x: number, y: number, z: number, R: number, r: number): number => hyp(hyp(x, y) - R, z) - r;

/** Union, rounded over k. */
export function smin(a: number, b: number, k: number): number {
  const h = Math.max(k - Math.abs(a - b), 0) / k;
  return Math.min(a, b) - h * h * k * 0.25;
}
/** Intersection, rounded over k. */
export const smax = (a: number, b: number, k: number): number => -smin(-a, -b, k);

export const mix = (a: number, b: number, t: number): number => a + (b - a) * t;
export function step01(a: number, b: number, x: number): number {
  const t = Math.min(1, Math.max(0, (x - a) / (b - a)));
  return t * t * (3 - 2 * t);
}
