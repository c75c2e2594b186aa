/** What lies beyond the display's range: how much of a region, and how far. */

export interface Beyond {
  /** Share of the region's pixels, each counted by how much it is in, 0..1. */
  share: number;
  /** How far the furthest channel lies below 0 or above 1, of full scale; 0 where none does. */
  furthest: number;
}
/** Half a step of a 16-bit file: less is in range once it is written. */
const LEAST = 0.5 / 65535;
/** So many pixels between two questions whether it shall end. */
const TICK = 65_536;
/**
 * @param matte 0..1 a pixel; null: the whole picture is in
 * @param tick told now and then, and may throw to end it
 * @returns with what is no number left out; all 0 where nothing is in
 */
export function beyondOf(
  { r, g, b }: { r: Float32Array; g: Float32Array; b: Float32Array },
  matte: Float32Array | null,
  tick: () => void,
): Beyond {
  let [over, all, furthest] = [0, 0, 0];
  for (let i = 0; i < r.length; i++) {
    if (i % TICK === 0) tick();
    const k = matte ? matte[i]! : 1;
    if (!(k > 0)) continue;
    const d = Math.max(-r[i]!, r[i]! - 1, -g[i]!, g[i]! - 1, -b[i]!, b[i]! - 1);
    if (!Number.isFinite(d)) continue;
    all += k;
    if (d <= LEAST) continue;
    over += k;
    if (d > furthest) furthest = d;
  }
  return { share: all > 0 ? over / all : 0, furthest };
}
