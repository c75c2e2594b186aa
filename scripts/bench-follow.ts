/**
 * The courier's jacket followed over its clip, behind the post and out again, against the path that it was rendered
 * by: one run forwards, one backwards, both blended, and what is lost between bridged: `npm run bench:follow`. Fails
 * where the blended path lies further off than the bar. Needs ffmpeg, as clips from the terminal do.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { greyOf } from '../src/cli/grey';
import { openFrames } from '../src/cli/frames';
import type { Homography, Track } from '../src/core/graph/track';
import { mapPoint } from '../src/core/graph/track';
import { Follower } from '../src/core/track/follow';
import type { Grey } from '../src/core/track/image';
import { blendPath, bridgePath } from '../src/core/track/path';
import { startTwins } from '../src/engine/twins';
import { nodeCodecs } from '../src/media/node';

type Point = [number, number];
type Step = Track['path'][number];
/** Of the centre, in pixels: in the median. */
const BAR = 0.35;
const FRAMES = 72;
const demo = join(import.meta.dirname, '../demo');
nodeCodecs();
await startTwins(readFileSync(join(import.meta.dirname, '../build/kernels.wasm')));
const { quads } = JSON.parse(readFileSync(join(demo, 'clips/courier-crossing.path.json'), 'utf8')) as {
  quads: Point[][];
};
const frames = await openFrames(join(demo, 'stills/courier-crossing.webm'));
const greys: Grey[] = [];
for await (const p of frames.read(0, FRAMES - 1)) greys.push(greyOf(p));

const middle = (q: Point[]): Point => [q.reduce((a, [x]) => a + x, 0) / 4, q.reduce((a, [, y]) => a + y, 0) / 4];
const truth = quads.map(middle);
function run(from: number, to: number): Step[] {
  const f = new Follower(greys[from]!, quads[from]!, 'position');
  const way = Math.sign(to - from);
  const out: Step[] = [];
  for (let n = from + way; n !== to + way; n += way) {
    const { h, quality, lost } = f.step(greys[n]!);
    out.push({ frame: n, h, quality, ...(lost ? { lost } : {}) });
  }
  return out;
}
const median = (v: number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1]!;
console.log(
  'The centre off by, px: in the median and at worst, over the frames between.\n\n' +
    '| from, to | one run | from behind | both blended | and bridged | lost in both |\n|---|---:|---:|---:|---:|---:|',
);
let over = 0;
for (const [a, b] of [
  [10, 62],
  [5, 66],
  [20, 70],
  [0, 71],
] as const) {
  const [one, two] = [run(a, b), run(b, a)];
  // Set right by hand where the second one begins.
  const by: Homography = [1, 0, truth[b]![0] - truth[a]![0], 0, 1, truth[b]![1] - truth[a]![1], 0, 0, 1];
  const own = { at: a, path: [...one.filter((s) => s.frame !== b), { frame: b, h: by, quality: 1 }] };
  const both = blendPath(own, b, two, quads[a]!);
  const off = (path: readonly Step[], at: number): number[] =>
    path
      .filter((s) => s.frame > a && s.frame < b)
      .map(({ frame, h }) => {
        const [x, y] = mapPoint(h, ...truth[at]!);
        return Math.hypot(x - truth[frame]![0], y - truth[frame]![1]);
      });
  const said = (v: number[]): string => `${median(v).toFixed(2)}, ${Math.max(...v).toFixed(2)}`;
  const bridged = off(bridgePath(both, quads[a]!).path, a);
  const lost = both.path.filter((s) => s.lost).length;
  console.log(
    `| ${a}, ${b} | ${said(off(one, a))} | ${said(off(two, b))} | ${said(off(both.path, a))} | ` +
      `${said(bridged)} | ${lost} |`,
  );
  if (median(bridged) > BAR) over++;
}
if (over) console.log(`\nbelow the bar: ${over} of them lie more than ${BAR} px off in the median`);
process.exitCode = over ? 1 : 0;
