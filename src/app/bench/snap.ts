/** Where a handle is caught: the frame's edges and middle, and the places of other handles. In pixels of the stage. */

export interface Targets {
  x: readonly number[];
  y: readonly number[];
}
/** So near, in pixels of the stage, a place catches. */
export const CATCH_PX = 7;

const nearest = (v: number, list: readonly number[]): number | null => {
  let best: number | null = null;
  for (const t of list)
    if (Math.abs(t - v) <= CATCH_PX && (best === null || Math.abs(t - v) < Math.abs(best - v))) best = t;
  return best;
};
/** The place that a position is caught at, each way by itself; null where nothing is near. */
export const caught = (x: number, y: number, t: Targets): { x: number | null; y: number | null } => ({
  x: nearest(x, t.x),
  y: nearest(y, t.y),
});

/** What a handle belongs to: what is drawn round it. */
const ownerOf = (g: Element): Element | null => g.closest('[data-owner]') ?? g.parentElement;
const numbers = (text: string | undefined): number[] => (text ? text.split(',').map(Number) : []);
/**
 * What may catch a handle: what its drawing says of the frame (`data-snap-x`, `-y`), and of others' places
 * (`data-at`).
 */
export function targetsOf(handle: SVGGElement, whole: boolean): Targets {
  const svg = handle.ownerSVGElement;
  const x = numbers(svg?.dataset['snapX']);
  const y = numbers(svg?.dataset['snapY']);
  for (const g of svg?.querySelectorAll<SVGGElement>('.grab[data-at]') ?? []) {
    // What moves as a whole takes its own handles along.
    if (g === handle || (whole && ownerOf(g) === ownerOf(handle))) continue;
    const [u, v] = numbers(g.dataset['at']);
    if (u !== undefined && v !== undefined) {
      x.push(u);
      y.push(v);
    }
  }
  return { x, y };
}
