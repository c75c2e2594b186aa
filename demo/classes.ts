/**
 * Truths of the stills that need no light: `npm run demo:classes` traces classes only and writes the mattes of tiles,
 * eyes and lips into demo/stills. Minutes where the pictures take an hour.
 */
import { writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { encodePlanes } from '../src/media/encode';
import { GRID, Tracer } from './render';
import { scenes } from './scenes';

const [W, H] = [1600, 900];
const out = join(dirname(fileURLToPath(import.meta.url)), 'stills');
type Name = '' | 'tiles' | 'eyes' | 'lips';

for (const s of scenes()) {
  const t0 = Date.now();
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
  for (const [n, m] of Object.entries(truth))
    if (m.some((v) => v > 0)) writeFileSync(join(out, `${s.name}.truth-${n}.png`), encodePlanes([m], W, H, 8));
  console.log(`${s.name}: ${((Date.now() - t0) / 1000).toFixed(0)} s`);
}
