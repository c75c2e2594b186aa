/**
 * `npm run demo:classes` writes the mattes of tiles, eyes and lips of the stills into demo/stills. Minutes where the
 * pictures take an hour.
 */
import { writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { encodePlanes } from '../src/media/encode';
import { classTruths } from './classTruths';
import { scenes } from './scenes';

const [W, H] = [1600, 900];
const out = join(dirname(fileURLToPath(import.meta.url)), 'stills');

for (const s of scenes()) {
  const t0 = Date.now();
  for (const [n, m] of classTruths(s, W, H))
    writeFileSync(join(out, `${s.name}.truth-${n}.png`), encodePlanes([m], W, H, 8));
  console.log(`${s.name}: ${((Date.now() - t0) / 1000).toFixed(0)} s`);
}
