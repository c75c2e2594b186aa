/**
 * Where the matte is 0 a clip leaves as it came, on every frame: a shape that follows, a key inside it, held steady;
 * both of the demo's clips, rendered from the terminal as numbered 16-bit pictures and read back.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { decode } from 'fast-png';
import { main } from '../src/cli/main';
import { newUse } from '../src/core/graph/plan.defaults';
import { decodeStill } from '../src/media/decode';
import { around } from '../testkit/keys';

const stills = join(import.meta.dirname, '../demo/stills');
const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-surround-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const ffmpeg = spawnSync('ffmpeg', ['-version']).status === 0;
if (!ffmpeg) console.log('ffmpeg is not installed: clips are not rendered from the terminal (apt-get install ffmpeg)');

/** All frames take two and a half minutes; without SURROUND=all a ninth of each clip, with a pillar and a full turn. */
const all = process.env['SURROUND'] === 'all';
interface Case {
  some: readonly [number, number];
  shot: string;
  clip: string;
  ellipse: Record<string, number>;
  key: Parameters<typeof around>[0];
  /** Pixels a frame. */
  motion: readonly [number, number];
}
const cases: Case[] = [
  {
    some: [41, 48],
    shot: 'Crossing',
    clip: 'courier-crossing',
    ellipse: { cxPx: 175, cyPx: 360, rxPx: 110, ryPx: 120, softInPx: 10, softOutPx: 14 },
    key: { hue: [157, 12, 10], luma: [55, 40, 8] },
    motion: [8.9, 0.1],
  },
  {
    some: [12, 19],
    shot: 'Baker turning',
    clip: 'baker-turning',
    ellipse: { cxPx: 420, cyPx: 240, rxPx: 90, ryPx: 120, softInPx: 10, softOutPx: 14 },
    key: { hue: [123, 30, 12], luma: [45, 40, 8] },
    motion: [0.4, 0.2],
  },
];

describe('the surround of a clip', () => {
  it.skipIf(!ffmpeg).each(cases)(
    '$clip: bit for bit on every frame',
    async ({ shot, clip, some, ellipse, key, motion: [dx, dy] }) => {
      const project = JSON.parse(readFileSync(join(stills, 'small-hours.rowanleaf.json'), 'utf8')) as {
        records: { type: string; id: string; name?: string; owner?: string }[];
      };
      const id = project.records.find((r) => r.type === 'shot' && r.name === shot)!.id;
      const path = Array.from({ length: 71 }, (_, i) => ({
        frame: i + 1,
        h: [1, 0, dx * (i + 1), 0, 1, dy * (i + 1), 0, 0, 1],
        quality: 1,
      }));
      const correction = (on: boolean): object => ({
        ...{ type: 'correction', id: 'corr:held', owner: id, name: 'Held', on, order: 1, mixPct: 100 },
        terms: [
          { id: 'k', join: 'and', not: false, name: 'Key', use: newUse('ku', 'key', around(key)) },
          {
            ...{ id: 's', join: 'and', not: false, name: 'Ellipse', track: { at: 0, path } },
            use: newUse('su', 'ellipse', ellipse),
          },
        ],
        tidy: [newUse('t', 'steady', {})],
        adjustments: [newUse('e', 'exposure', { stops: 1.5 }), newUse('h', 'hueTurn', { angleDeg: 40 })],
      });
      const render = async (on: boolean, what: string, bits: '16' | 'half'): Promise<string> => {
        const records = [...project.records.filter((r) => r.owner !== id), correction(on)];
        const file = join(dir, `${clip}-${on}.rowanleaf.json`);
        writeFileSync(file, JSON.stringify({ ...project, records }));
        const out = join(dir, `${clip}-${on}-${what}`);
        const log = vi.spyOn(console, 'log').mockImplementation(() => {});
        const args = ['--shot', shot, '--input', join(stills, `${clip}.webm`), '--what', what, '--bits', bits];
        const frames = all ? '0-71' : some.join('-');
        expect(await main(['render', file, ...args, '--frames', frames, '--out', out])).toBe(0);
        log.mockRestore();
        return out;
      };
      const before = await render(false, 'picture', '16');
      const after = await render(true, 'picture', '16');
      // As halves: what a 16-bit code would round away to 0 is no surround.
      const mattesIn = await render(true, 'matte', 'half');
      const names = readdirSync(before).sort();
      expect(names).toHaveLength(all ? 72 : some[1] - some[0] + 1);
      const mattes = readdirSync(mattesIn).sort();
      expect(mattes).toHaveLength(all ? 72 : some[1] - some[0] + 1);
      const read = (d: string, n: string): Uint16Array => decode(readFileSync(join(d, n))).data as Uint16Array;
      for (const [f, name] of names.entries()) {
        const [was, is] = [read(before, name), read(after, readdirSync(after).sort()[f]!)];
        const m = await decodeStill(new Uint8Array(readFileSync(join(mattesIn, mattes[f]!))));
        const matte = m.rgb.filter((_, i) => i % 3 === 0);
        let [surround, moved, changed] = [0, 0, 0];
        for (let i = 0; i < matte.length; i++) {
          const same = was[3 * i] === is[3 * i] && was[3 * i + 1] === is[3 * i + 1] && was[3 * i + 2] === is[3 * i + 2];
          if (matte[i] === 0) {
            surround++;
            if (!same) moved++;
          } else if (!same) changed++;
        }
        expect(moved, `frame ${f}: ${moved} of ${surround} moved`).toBe(0);
        expect(surround).toBeGreaterThan(0.6 * matte.length);
        // The correction did something there, on every frame.
        expect(changed, `frame ${f}`).toBeGreaterThan(1500);
      }
    },
    240_000,
  );
});
