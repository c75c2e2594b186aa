/**
 * Bring to line, each kind: on the chart's skin patches under twenty tints (tests/data/skin_swatches.json), and on the
 * faces whose truth is known. What is asked is read in the file that is written, by a decoder of its own.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decode } from 'fast-png';
import { ciede2000, displayToLab } from '../src/core/color/lab';
import { srgb } from '../src/core/color/transfer';
import { rng } from '../src/core/math/rng';
import { CannotBring } from '../src/core/skin/bringToLine';
import type { PushKind } from '../src/core/skin/pushes';
import { readPatch } from '../src/core/skin/reading';
import type { Reading } from '../src/core/skin/reading';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/picture';
import type { ShotState } from '../src/protocol/messages';

export const KINDS: readonly PushKind[] = ['balance', 'turn', 'byHue', 'pulls'];
/** Of each patch; what is asked of the share of patches. */
const BAR = { off: 0.2, chroma: 0.05, luma: 0.5, share: 0.99, mean: 1, border: 2 };
const SIDE = 32;
const TINTS = 20;

interface Swatch {
  name: string;
  group: string;
  srgb8: [number, number, number];
}
export interface Planar {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}
export const planesOf = (rgb: ArrayLike<number>, most: number): Planar => {
  const one = (c: number): Float32Array =>
    Float32Array.from({ length: rgb.length / 3 }, (_, i) => rgb[3 * i + c]! / most);
  return { r: one(0), g: one(1), b: one(2) };
};

/** A patch under a light of another colour, with the grain of a sensor; 16 bits. */
function tinted(s: Swatch, k: number): DecodedPicture {
  // Round a circle of casts, near and far; gains of linear light.
  const a = (2 * Math.PI * k) / TINTS;
  const far = 0.08 + 0.12 * (k % 3);
  const gains = [1 + far * Math.cos(a), 1 - 0.4 * far * Math.sin(a), 1 + far * Math.sin(a)];
  const next = rng(1000 + k);
  const rgb = new Uint16Array(3 * SIDE * SIDE);
  for (let i = 0; i < rgb.length; i++) {
    const v = srgb.encode(srgb.decode(s.srgb8[i % 3]! / 255) * gains[i % 3]!) + 0.012 * (next() - 0.5);
    rgb[i] = Math.round(65535 * Math.min(1, Math.max(0, v)));
  }
  return { width: SIDE, height: SIDE, bits: 16, encoding: 'srgb', rgb } as unknown as DecodedPicture;
}
const wholePatch = { x: 4, y: 4, w: SIDE - 8, h: SIDE - 8 };
const readFile = (png: Uint8Array): Reading => {
  const p = decode(png);
  const { r, g, b } = planesOf(p.data, 65535);
  return readPatch(r, g, b, p.width, wholePatch, 123)!;
};

/** The table of patches; answers with what lies below the bar. */
export async function chartPatches(s: Session): Promise<string[]> {
  const file = join(import.meta.dirname, '../tests/data/skin_swatches.json');
  const { swatches } = JSON.parse(readFileSync(file, 'utf8')) as { swatches: Swatch[] };
  const below: string[] = [];
  console.log(`\n${swatches.length} skin patches under ${TINTS} tints, as the 16-bit file has them.\n`);
  console.log(
    '| kind | patches | mean before | within 0.2 deg | worst deg | chroma worst | luma worst | clip | cannot |',
  );
  console.log('|---|---:|---:|---:|---:|---:|---:|---:|---:|');
  for (const kind of KINDS) {
    let [n, good, clip, cannot] = [0, 0, 0, 0];
    let [off, chroma, luma, was] = [0, 0, 0, 0];
    for (const [i, sw] of swatches.entries())
      for (let k = 0; k < TINTS; k++) {
        const media = `patch-${i}-${k}`;
        s.open(media, tinted(sw, k));
        const c = { id: 'c', name: 'c', on: true, mixPct: 100, terms: [], tidy: [], adjustments: [] };
        const shot = (adjustments: ShotState['corrections'][number]['adjustments']): ShotState => ({
          media,
          frame: 0,
          encoding: 'srgb',
          corrections: [{ ...c, adjustments }],
        });
        const before = readFile(await s.exportPicture(shot([]), 16));
        // Nobody would bring grey to the line.
        if (before.offLineDeg === null || before.chromaPct < 6) continue;
        const r = await s
          .solve({
            shot: shot([]),
            correction: 'c',
            patches: [{ box: wholePatch }],
            kind,
            strength: 1,
            keep: 'exact',
            skinLineDeg: 123,
            bits: 16,
          })
          .catch((e: unknown) => {
            if (e instanceof CannotBring) return null;
            throw e;
          });
        n++;
        if (!r) {
          cannot++;
          continue;
        }
        if (r.clippedShare > 0.005) {
          clip++;
          n--;
          continue;
        }
        const after = readFile(await s.exportPicture(shot(r.adjustments), 16));
        const left = Math.abs(after.offLineDeg ?? 90);
        was += Math.abs(before.offLineDeg);
        if (left <= BAR.off) good++;
        off = Math.max(off, left);
        chroma = Math.max(chroma, Math.abs(after.chromaPct / before.chromaPct - 1));
        luma = Math.max(luma, Math.abs(after.lumaPct - before.lumaPct));
      }
    console.log(
      `| ${kind} | ${n} | ${(was / n).toFixed(1)} | ${((100 * good) / n).toFixed(1)} % | ${off.toFixed(2)} | ` +
        `${(100 * chroma).toFixed(1)} % | ` +
        `${luma.toFixed(2)} % | ${clip} | ${cannot} |`,
    );
    if (good < BAR.share * n) below.push(`${kind}: ${good} of ${n} patches within ${BAR.off} degrees, asked 99 %`);
    if (chroma > BAR.chroma) below.push(`${kind}: chroma off by ${(100 * chroma).toFixed(1)} %, asked 5`);
    if (luma > BAR.luma) below.push(`${kind}: luma off by ${luma.toFixed(2)} %, asked ${BAR.luma}`);
  }
  return below;
}

/** Pixels apart, over which a border would be seen. */
const APART = 6;
/** The 99th percentile of how much further apart pairs of pixels inside a truth lie after than before. */
export function borderGrowth(a: Planar, z: Planar, truth: Float32Array, w: number): number {
  const lab = (p: Planar, i: number) => displayToLab(srgb, p.r[i]!, p.g[i]!, p.b[i]!);
  const grown: number[] = [];
  const h = truth.length / w;
  for (let y = 0; y < h; y += 2)
    for (let x = 0; x < w; x += 2) {
      const i = y * w + x;
      if (!(truth[i]! > 0.98)) continue;
      for (const j of [x + APART < w ? i + APART : -1, y + APART < h ? i + APART * w : -1])
        if (j >= 0 && truth[j]! > 0.98) grown.push(ciede2000(lab(z, i), lab(z, j)) - ciede2000(lab(a, i), lab(a, j)));
    }
  grown.sort((x, y) => x - y);
  return grown[Math.floor(0.99 * (grown.length - 1))] ?? NaN;
}
/** Of a face and a kind: what is below the bar, in words. */
export const faceFaults = (name: string, kind: PushKind, mean: number, border: number): string[] => [
  ...(Math.abs(mean) <= BAR.mean ? [] : [`${name}, ${kind}: the whole skin ${mean.toFixed(2)} degrees off, asked 1`]),
  ...(border <= BAR.border ? [] : [`${name}, ${kind}: borders grow by ${border.toFixed(2)}, asked ${BAR.border}`]),
];
