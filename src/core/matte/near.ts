/** Colours of a nearness key from samples, in OKLab, light not weighed. */
import { clusters, L_WEIGHT } from './model';

export interface NearColours {
  readonly near: readonly number[];
  readonly far: readonly number[];
}
/** So many colours a key keeps of what was sampled, and of what was taken away. */
export const MOST_COLOURS = 8;
const OF_A_SAMPLE = 6;
const OF_MORE = 3;

/** Middles of clusters of OKLab samples, one after the other. */
export const coloursOf = (lab: readonly number[], most = OF_A_SAMPLE): number[] =>
  Array.from(clusters(Float32Array.from(lab), most), (v, i) => (i % 3 === 0 ? v / L_WEIGHT : v)).map(
    (v) => Math.round(v * 1e4) / 1e4,
  );
/** Both, drawn together where they are more than a key holds. */
function joined(a: readonly number[], b: readonly number[]): number[] {
  const all = [...a, ...b];
  return all.length <= 3 * MOST_COLOURS ? all : coloursOf(all, MOST_COLOURS);
}
/** What a key holds after a sample: that alone, that as well, or that left out. */
export function nearColours(now: NearColours, lab: readonly number[], how: 'again' | 'add' | 'take'): NearColours {
  if (how === 'again') return { near: coloursOf(lab), far: [] };
  const more = coloursOf(lab, OF_MORE);
  return how === 'add' ? { ...now, near: joined(now.near, more) } : { ...now, far: joined(now.far, more) };
}
/** Of what was painted: the colours that are meant, and those that are not. */
export const nearOf = (keep: readonly number[], leave: readonly number[]): NearColours => ({
  near: coloursOf(keep),
  far: leave.length > 0 ? coloursOf(leave, MOST_COLOURS) : [],
});
