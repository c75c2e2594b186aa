/** Truths that need no light: coverage of tiles, eyes and lips, by tracing classes only. */
import { GRID, Tracer } from './render';
import type { Scene } from './render';

type Name = '' | 'tiles' | 'eyes' | 'lips';

/** Coverage 0..1 of each, row by row; what is nowhere in the frame is left out. */
export function classTruths(s: Scene, W: number, H: number): [string, Float32Array][] {
  const t = new Tracer(s);
  const nameAt = (x: number, y: number): Name => {
    const { thing, part } = t.classAt((x * 2 - W) / H, 1 - (2 * y) / H);
    return part === 'lips' ? 'lips' : thing?.cls === 'eye' ? 'eyes' : thing?.tag === 'tiles' ? 'tiles' : '';
  };
  const names: Name[] = [];
  for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) names.push(nameAt(x + 0.5, y + 0.5));
  const truth = { tiles: new Float32Array(W * H), eyes: new Float32Array(W * H), lips: new Float32Array(W * H) };
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = y * W + x;
      const here = names[i]!;
      const edge =
        (x > 0 && names[i - 1] !== here) ||
        (x + 1 < W && names[i + 1] !== here) ||
        (y > 0 && names[i - W] !== here) ||
        (y + 1 < H && names[i + W] !== here);
      for (const n of edge ? GRID.map(([ox, oy]) => nameAt(x + ox, y + oy)) : [here, here, here, here])
        if (n !== '') truth[n][i]! += 0.25;
    }
  return Object.entries(truth).filter(([, m]) => m.some((v) => v > 0));
}
