/**
 * Shapes that follow: where the picture has moved since the frame they were drawn at, and a shape's values there.
 * Points go by the whole map; lengths and turns by what it does about the shape's own place.
 */
import { DEG } from '../math/angle';
import type { NumSpec, ParamSpecs, Value, Values } from '../op/params';

/** Nine numbers row by row: a place in the picture at the frame of drawing -> at another one. */
export type Homography = readonly number[];
export interface Track {
  /** The frame at which the shape was drawn: nothing has moved there. */
  at: number;
  /** By rising frames. */
  path: readonly {
    frame: number;
    h: Homography;
    /** Share of the points that agreed, 0..1, and whether it was lost there: the map is a guess then. */
    quality?: number;
    lost?: boolean;
    /**
     * Of an outline that bends: how far each of its points goes by itself before the map, x and y in turn, in pixels at
     * the frame of drawing.
     */
    own?: readonly number[];
  }[];
}
export const STILL: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/**
 * What is known of a frame; between frames that are known, that of drawing among them, the nearest earlier one holds,
 * before the first that one. Null: it stands as it was drawn.
 */
export function stepAt(t: Track, frame: number): Track['path'][number] | null {
  const [first] = t.path;
  if (frame === t.at || !first) return null;
  let best: Track['path'][number] | null = null;
  for (const p of t.path) {
    if (p.frame > frame) break;
    best = p;
  }
  if (t.at < frame && t.at >= (best?.frame ?? 0)) return null;
  return best ?? (first.frame < t.at ? first : null);
}
export const mapAt = (t: Track, frame: number): Homography => stepAt(t, frame)?.h ?? STILL;
export function mapPoint(h: Homography, x: number, y: number): [number, number] {
  const w = h[6]! * x + h[7]! * y + h[8]!;
  return [(h[0]! * x + h[1]! * y + h[2]!) / w, (h[3]! * x + h[4]! * y + h[5]!) / w];
}
/** How much larger things are about a place, and how far they turn (radians, from x towards y). */
export function localOf(h: Homography, x: number, y: number): { scale: number; turn: number } {
  const w = h[6]! * x + h[7]! * y + h[8]!;
  const [u, v] = mapPoint(h, x, y);
  const a = (h[0]! - u * h[6]!) / w;
  const b = (h[1]! - u * h[7]!) / w;
  const c = (h[3]! - v * h[6]!) / w;
  const d = (h[4]! - v * h[7]!) / w;
  return { scale: Math.sqrt(Math.abs(a * d - b * c)), turn: Math.atan2(c - b, a + d) };
}

const isNum = (s: ParamSpecs[string] | undefined): s is NumSpec => s?.kind === 'num';
/** The name of the y that goes with an x. */
const partner = (name: string): string => name.replace(/X(?=Px$)/, 'Y').replace(/x(?=Px$)/, 'y');

export const isPlaces = (s: ParamSpecs[string]): boolean => s.kind === 'list' && s.unit === 'px' && s.axes?.[0] === 'x';
/** A shape's values, moved. Lengths of unit px, places by their axes, turns of unit deg (against the clock). */
export function moveShape<S extends ParamSpecs>(specs: S, values: Values<S>, h: Homography): Values<S> {
  if (h.every((v, i) => v === STILL[i])) return values;
  const out: Record<string, Value> = { ...values };
  const places: [number, number][] = [];
  for (const [name, s] of Object.entries(specs)) {
    if (isNum(s) && s.axis === 'x') {
      const y = partner(name);
      const at = [values[name], values[y]] as [number, number];
      places.push(at);
      const [nx, ny] = mapPoint(h, ...at);
      out[name] = nx;
      out[y] = ny;
    } else if (isPlaces(s)) {
      const l = values[name] as readonly number[];
      const moved: number[] = [];
      for (let i = 0; i + 1 < l.length; i += 2) {
        places.push([l[i]!, l[i + 1]!]);
        moved.push(...mapPoint(h, l[i]!, l[i + 1]!));
      }
      out[name] = moved;
    }
  }
  const n = Math.max(1, places.length);
  const mean = places.reduce((a, p) => [a[0] + p[0] / n, a[1] + p[1] / n], [0, 0]);
  const { scale, turn } = localOf(h, mean[0]!, mean[1]!);
  for (const [name, s] of Object.entries(specs)) {
    if (!isNum(s) || s.axis) continue;
    const v = values[name] as number;
    if (s.unit === 'px') out[name] = v * scale;
    else if (s.unit === 'deg') out[name] = v - turn * DEG;
  }
  return out as Values<S>;
}
