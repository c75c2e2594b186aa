/**
 * Deterministic pseudo-random numbers (mulberry32, public domain by its author, Tommy Ettinger).
 * The same seed gives the same stream on every machine: the demo film and the tests depend on it.
 */
export function rng(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
