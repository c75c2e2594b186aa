/**
 * A push that makes a colour follow the hand: given what a correction makes of a colour at any push, the push at which
 * it lands where the hand wants it.
 */
export type Pair = readonly [cb: number, cr: number];

/** Damping, as a share of a push that acts in full: a wheel that hardly reaches a colour must not run away. */
const DAMP = 0.03;
/**
 * @param shown colour difference (-0.5..0.5) of the colour at a push in %
 * @param from push at which the hand began
 * @param wanted colour difference to come to
 * @param limit largest push in %, either way
 * @returns the push, and how far (in colour difference) the colour then stands from what was wanted
 */
export function followPush(
  shown: (push: Pair) => Pair,
  from: Pair,
  wanted: Pair,
  limit: number,
): { push: [number, number]; miss: number } {
  const clip = (v: number): number => Math.min(limit, Math.max(-limit, v));
  const missOf = (p: Pair): [number, number] => {
    const [b, r] = shown(p);
    return [wanted[0] - b, wanted[1] - r];
  };
  let push: [number, number] = [from[0], from[1]];
  let miss = missOf(push);
  let left = Math.hypot(...miss);
  for (let i = 0; i < 8 && left > 2e-6; i++) {
    // One % of push; a push of 1 % that acts in full moves the colour difference by 0.005.
    const h = push.map((v) => (v + 0.5 > limit ? -0.5 : 0.5)) as [number, number];
    const [b0, r0] = [wanted[0] - miss[0], wanted[1] - miss[1]];
    const [bx, rx] = shown([push[0] + h[0], push[1]]);
    const [by, ry] = shown([push[0], push[1] + h[1]]);
    const [a, b, c, d] = [(bx - b0) / h[0], (by - b0) / h[1], (rx - r0) / h[0], (ry - r0) / h[1]];
    // Least squares with a little damping: (J'J + l) x = J' miss.
    const l = (DAMP * 0.005) ** 2;
    const [p, q, s] = [a * a + c * c + l, a * b + c * d, b * b + d * d + l];
    const det = p * s - q * q;
    if (!(Math.abs(det) > 0) || !Number.isFinite(det)) break;
    const [u, v] = [a * miss[0] + c * miss[1], b * miss[0] + d * miss[1]];
    const next: [number, number] = [clip(push[0] + (s * u - q * v) / det), clip(push[1] + (p * v - q * u) / det)];
    const m = missOf(next);
    const n = Math.hypot(...m);
    if (!Number.isFinite(n) || n >= left) break;
    [push, miss, left] = [next, m, n];
  }
  return { push, miss: left };
}
