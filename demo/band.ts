/** Renders rows of a still: light and coverage of each class. Runs in a process of its own. */
import { GRID, Tracer } from './render';
import type { Thing } from './render';
import { hardScenes } from './hardScenes';
import { scenes } from './scenes';

export interface BandJob {
  /** Of the scenes for tests, not of the demo's. */
  hard: boolean;
  scene: number;
  width: number;
  height: number;
  samples: number;
}
export interface BandRow {
  y: number;
  /** Linear R, G, B interleaved. */
  light: Float32Array;
  /** Coverage 0..1 of skin (with lips), of each tag in `tags`. */
  tags: Record<string, Float32Array>;
}

/** Rows rendered at once; one more on either side is traced to find edges. */
export const BLOCK = 18;

/**
 * Rows y0..y1-1 as light and coverage. With 4 samples, pixels on an edge (another thing next to them, or a jump of
 * light) take four on a rotated grid; the rest keep the one in their middle.
 */
export function renderBlock(
  t: Tracer,
  width: number,
  height: number,
  y0: number,
  y1: number,
  samples: number,
): BandRow[] {
  const shot = (x: number, y: number) => t.trace((x * 2 - width) / height, 1 - (2 * y) / height);
  const limited = (rgb: readonly number[]): number[] => rgb.map((v) => Math.min(v, 6));
  const first = samples > 1 ? y0 - 1 : y0;
  const last = samples > 1 ? y1 + 1 : y1;
  const things: (Thing | null)[][] = [];
  const lights: Float32Array[] = [];
  for (let y = first; y < last; y++) {
    const light = new Float32Array(width * 3);
    const row: (Thing | null)[] = [];
    for (let x = 0; x < width; x++) {
      const { rgb, thing } = shot(x + 0.5, y + 0.5);
      light.set(limited(rgb), 3 * x);
      row.push(thing);
    }
    things.push(row);
    lights.push(light);
  }
  const out: BandRow[] = [];
  for (let y = y0; y < y1; y++) {
    const k = y - first;
    const light = lights[k]!.slice();
    const tags: Record<string, Float32Array> = {};
    const cover = (thing: Thing | null, x: number, share: number): void => {
      if (!thing) return;
      const names =
        thing.cls === 'skin'
          ? ['skin', `skin ${thing.tag}`]
          : thing.cls === 'garment'
            ? ['garment', thing.tag]
            : [thing.cls];
      for (const n of names) (tags[n] ??= new Float32Array(width))[x]! += share;
    };
    for (let x = 0; x < width; x++) {
      const here = things[k]![x]!;
      const g = lights[k]![3 * x + 1]!;
      const edge =
        samples > 1 &&
        [
          [-1, 0],
          [1, 0],
          [0, -1],
          [0, 1],
        ].some(([dx, dy]) => {
          const nx = x + dx!;
          if (nx < 0 || nx >= width) return false;
          const h = lights[k + dy!]![3 * nx + 1]!;
          return things[k + dy!]![nx] !== here || Math.abs(g - h) > 0.1 * (g + h) + 0.01;
        });
      if (!edge) {
        cover(here, x, 1);
        continue;
      }
      const sum = [0, 0, 0];
      for (const [ox, oy] of GRID) {
        const { rgb, thing } = shot(x + ox, y + oy);
        // Each sample is limited before the mean, so that one glint does not leave a jagged edge.
        limited(rgb).forEach((v, c) => (sum[c]! += v / 4));
        cover(thing, x, 0.25);
      }
      light.set(sum, 3 * x);
    }
    out.push({ y, light, tags });
  }
  return out;
}

if (process.send) {
  const job = JSON.parse(process.argv[2]!) as BandJob;
  const t = new Tracer((job.hard ? hardScenes() : scenes())[job.scene]!);
  process.on('message', (y: number) => {
    if (y < 0) process.exit(0);
    process.send!(renderBlock(t, job.width, job.height, y, Math.min(y + BLOCK, job.height), job.samples));
  });
}
