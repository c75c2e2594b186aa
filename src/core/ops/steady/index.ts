/**
 * Holds a matte still where the picture stands still: the mean over neighbouring frames, each weighed at every pixel by
 * how well its picture agrees with this one there. Nothing trails, since where something moved the other frame has no
 * say.
 *
 * How it is told what stands still: core/matte/still.ts. The root of the mean square by which a window differs beyond
 * the noise, against "still up to", goes through a biweight (J. W. Tukey, "Exploratory data analysis", 1977, chapter
 * 14; (1 - u^2)^2), which is exactly nothing beyond the limit.
 */
import { defineTidyFrameOp } from '../../op/contract';
import type { FrameRun } from '../../op/contract';
import { differenceAt, lightRatio, noiseBetween } from '../../matte/still';
import type { ThreePlanes } from '../../matte/still';
import { params } from './params';

const pictureOf = ({ picture }: FrameRun, frame: number): ThreePlanes =>
  picture.slice(3 * frame, 3 * frame + 3) as unknown as ThreePlanes;

/**
 * Of each other frame by how much its channels are multiplied, and the noise: into the first numbers of the work plane.
 */
function light(_: Float32Array, run: FrameRun): void {
  const { src, picture, work, w, h } = run;
  const here = pictureOf(run, 0);
  for (let f = 1; f < src.length; f++) {
    for (let c = 0; c < 3; c++) work[0]![4 * (f - 1) + c] = lightRatio(picture[c]!, picture[3 * f + c]!, w, h);
    work[0]![4 * f - 1] = noiseBetween(here, pictureOf(run, f), gainOf(work[0]!, f), w, h);
  }
}
const gainOf = (work: Float32Array, f: number): [number, number, number] =>
  [...work.subarray(4 * (f - 1), 4 * f - 1)] as [number, number, number];

function steady(k: Float32Array, run: FrameRun): void {
  const { src, dst, work, w, h, y0, y1 } = run;
  const [strength, still, rare] = [k[0]!, k[1]!, k[2]!];
  const own = src[0]!;
  const pictures = src.map((_, f) => pictureOf(run, f));
  const gains = src.map((_, f) => (f > 0 ? gainOf(work[0]!, f) : ([1, 1, 1] as [number, number, number])));
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const m = own[i]!;
      dst[0]![i] = m;
      // What is nothing stays nothing: a steady matte never reaches further than that of its own frame.
      if (!(m > 0) || src.every((s) => s[i]! === m)) continue;
      let [sum, total, nothing] = [m, 1, 0];
      for (let f = 1; f < src.length; f++) {
        const beyond = differenceAt(pictures[0]!, pictures[f]!, gains[f]!, x, y, w, h) - work[0]![4 * f - 1]!;
        const u = beyond / (still * still);
        if (!(u < 1)) continue;
        const weight = (1 - Math.max(0, u)) ** 2;
        sum += weight * src[f]![i]!;
        total += weight;
        if (!(src[f]![i]! > 0)) nothing += weight;
      }
      // Empty frames cannot come up to the mean: it comes down to them where they are more, or what comes and goes
      // would flicker on. There the mean is under a half, so that where the matte is half stays.
      const fade = Math.min(1, 2 * (1 - nothing / total)) ** 4;
      const mean = (sum / total) * (1 - rare * (1 - fade));
      dst[0]![i] = m + strength * (mean - m);
    }
}

export default defineTidyFrameOp<typeof params>({
  id: 'steady',
  title: 'Steady',
  doc:
    'Averages the matte over the frames around this one, only where the picture itself stands still, so that nothing ' +
    'trails behind what moves. Light that flickers over the whole picture is no motion.',
  version: 2,
  params,
  refs: ['biweight: J. W. Tukey, "Exploratory data analysis", 1977, chapter 14', 'brute force in steady.test.ts'],
  edge:
    'Reach 0 and strength 0 change nothing. What is 0 on a frame stays 0 there. Beyond the ends of a shot the frame ' +
    'itself stands in; a still has no other frames and keeps its matte. NaN in a picture gives its frame no say.',
  migrations: [{ from: 1, up: (s) => ({ ...s, rarePct: 0 }) }],
  /** Block: strength, the limit of what is still, how far what is rare fades. */
  prepare: ({ strengthPct, stillPct, rarePct }) => Float32Array.of(strengthPct / 100, stillPct / 100, rarePct / 100),
  // The light of the whole picture counts.
  haloPx: () => 'all',
  workPlanes: 1,
  readsPicture: true,
  frames: ({ reachFrames }) => {
    const n = Math.round(reachFrames);
    return [...Array.from({ length: n }, (_, i) => i - n), ...Array.from({ length: n }, (_, i) => i + 1)];
  },
  passes: () => [{ name: 'light', whole: true }, { name: 'steady' }],
  kernels: { light, steady },
  isNoOp: (p) => Math.round(p.reachFrames) === 0 || p.strengthPct === 0,
  place: 80,
  added: { reachFrames: 4 },
  say: (p) => [`steady over ${2 * Math.round(p.reachFrames) + 1} frames`],
});
