/** Projects of earlier versions compute what they computed when they were made, bit for bit. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { decode } from 'fast-png';
import { mediaOf, shotsOf } from '../src/document/records';
import type { ShotRecord } from '../src/document/records';
import { parseProject } from '../src/document/projectFile';
import { fingerprints, goldenPlanes } from '../testkit/goldens';

const dir = join(import.meta.dirname, 'data/goldens');
const text = (name: string): string => readFileSync(join(dir, name), 'utf8');
/** Made by the version that wrote the file, before anything of it was migrated. */
const expected = JSON.parse(text('expected.json')) as Record<string, Record<string, string>>;

it('24 shots with corrections drawn at random, of version 2', async () => {
  const { records, said } = parseProject(text('project-v2.rowanleaf.json'));
  expect(said).toEqual([]);
  const rgb = goldenPlanes();
  expect(await fingerprints(records, () => ({ w: 173, h: 97, rgb }))).toEqual(expected['project-v2']);
});

it('the demo project of version 2', async () => {
  const { records, said } = parseProject(text('demo-v2.rowanleaf.json'));
  expect(said).toEqual([]);
  const got = await fingerprints(records, (id) => {
    const media = mediaOf(records, records[id] as ShotRecord)!;
    const p = decode(readFileSync(join(dir, '../../../demo/stills', (media.source as { path: string }).path)));
    const max = 2 ** p.depth - 1;
    const plane = (c: number): Float32Array =>
      Float32Array.from({ length: p.width * p.height }, (_, i) => p.data[p.channels * i + c]! / max);
    return { w: p.width, h: p.height, rgb: [plane(0), plane(1), plane(2)] };
  });
  expect(shotsOf(records).length).toBeGreaterThan(5);
  expect(got).toEqual(expected['demo-v2']);
});
