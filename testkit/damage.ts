/** Damaged files, by a seed: what a bad disk, a cut download or an ill-minded hand makes of a good one. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { rng } from '../src/core/math/rng';

const data = join(import.meta.dirname, '../tests/data');
export interface Good {
  name: string;
  bytes: Uint8Array;
}
/** Every small picture of the tests, of all formats. */
export const goodFiles = (): Good[] =>
  ['stills', 'readers'].flatMap((dir) =>
    readdirSync(join(data, dir))
      .filter((n) => /\.(png|jpe?g|tiff?|exr|webp|avif)$/.test(n))
      .sort()
      .map((n) => ({ name: n, bytes: new Uint8Array(readFileSync(join(data, dir, n))) })),
  );

const EXTREMES = [
  0, 1, 0x7f, 0xff, 0x7fff, 0xffff, 0x10000, 0x7fffffff, 0x80000000, 0xfffffffe, 0xffffffff, 4096, 8192,
];

/** The n-th damaged file of a seed. */
export function damagedFile(files: readonly Good[], seed: number, n: number): Good & { how: string } {
  const r = rng(seed * 1_000_003 + n);
  const pick = (k: number): number => Math.min(k - 1, Math.floor(r() * k));
  const { name, bytes } = files[pick(files.length)]!;
  let b = bytes.slice();
  const said: string[] = [];
  const kinds: [string, () => void][] = [
    ['cut', () => void (b = b.slice(0, 1 + pick(b.length)))],
    [
      'flip',
      () => {
        for (let i = 0, k = 1 + pick(8); i < k; i++) b[pick(b.length)] = pick(256);
      },
    ],
    [
      'head',
      () => {
        for (let i = 0, k = 1 + pick(4); i < k; i++) b[pick(Math.min(b.length, 400))] = pick(256);
      },
    ],
    [
      'number',
      () => {
        if (b.length < 8) return;
        const v = EXTREMES[pick(EXTREMES.length)]!;
        new DataView(b.buffer).setUint32(pick(b.length - 4), v, r() < 0.5);
      },
    ],
    [
      'lose',
      () => {
        const at = pick(b.length);
        const k = 1 + pick(Math.min(64, b.length - at));
        b = Uint8Array.from([...b.slice(0, at), ...b.slice(at + k)]);
      },
    ],
    [
      'twice',
      () => {
        const at = pick(b.length);
        const k = 1 + pick(Math.min(200, b.length - at));
        b = Uint8Array.from([...b.slice(0, at + k), ...b.slice(at)]);
      },
    ],
    ['zero', () => void b.fill(0, pick(b.length), pick(b.length) + 1 + pick(64))],
    [
      'splice',
      () => {
        const other = files[pick(files.length)]!.bytes;
        b = Uint8Array.from([...b.slice(0, pick(b.length)), ...other.slice(pick(other.length))]);
      },
    ],
  ];
  for (let i = 0, k = 1 + pick(2); i < k; i++) {
    const [how, make] = kinds[pick(kinds.length)]!;
    make();
    said.push(how);
  }
  return { name, bytes: b, how: said.join('+') };
}
