/**
 * Following against known paths: open photographs (shared reference, tests only) and a demo still moved by sub-pixel
 * shifts, turn, size, tilt, behind a post, under flicker and noise. The bounds are those measured on real texture with
 * a general-purpose library's pyramidal Lucas-Kanade refined against the first frame; here they are passed.
 */
import { mkdtempSync, readFileSync, rmSync, writeFileSync, mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { encode } from 'fast-png';
import { main } from '../src/cli/main';
import { mapPoint } from '../src/core/graph/track';
import { agree, fitAll, invertMap, multiplyMaps } from '../src/core/track/fit';
import { Follower } from '../src/core/track/follow';
import type { ColoursAt } from '../src/core/track/follow';
import { coloursOf } from '../src/core/track/inside';
import { halfOf, warped } from '../src/core/track/image';
import type { Grey } from '../src/core/track/image';
import { findPoints } from '../src/core/track/lucasKanade';
import { corners } from '../src/core/track/points';
import { rng } from '../src/core/math/rng';
import { decodeStill } from '../src/media/decode';
import { startTwins } from '../src/engine/twins';
import { nodeCodecs } from '../src/media/node';
import { wasmBytes } from '../testkit/bench';

nodeCodecs();
// What the application follows by; tests/followingTwins.test.ts says that it is the definition.
await startTwins(wasmBytes());
const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-follow-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
/** Weights of R', G', B'. */
async function plane(file: string, weights: readonly [number, number, number]): Promise<Grey> {
  const p = await decodeStill(new Uint8Array(readFileSync(file)));
  const k = 1 / (2 ** p.bits - 1);
  const data = Float32Array.from(
    { length: p.width * p.height },
    (_, i) => k * weights.reduce((sum, w, c) => sum + w * p.rgb[3 * i + c]!, 0),
  );
  let g: Grey = { w: p.width, h: p.height, data };
  while (g.w > 1000) g = halfOf(g);
  return g;
}
const photo = (file: string): Promise<Grey> => plane(file, [0.2126, 0.7152, 0.0722]);
const coloured = (file: string): Promise<Grey[]> =>
  Promise.all(
    (
      [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ] as const
    ).map((w) => plane(file, w)),
  );
const photos = join(import.meta.dirname, 'data/photos');
const [W, H] = [440, 300];
const T = (x: number, y: number): number[] => [1, 0, x, 0, 1, y, 0, 0, 1];
const about = (deg: number, s: number, dx: number, dy: number, px = 0, py = 0): readonly number[] => {
  const [c, n] = [s * Math.cos((deg * Math.PI) / 180), s * Math.sin((deg * Math.PI) / 180)];
  return multiplyMaps(T(W / 2 + dx, H / 2 + dy), multiplyMaps([c, -n, 0, n, c, 0, px, py, 1], T(-W / 2, -H / 2)));
};
/** The still as it looks when it has moved by a path (in pixel indices), framed about its middle. */
const shown = (g: Grey, h: readonly number[]): Grey =>
  warped(g, multiplyMaps(T((g.w - W) / 2, (g.h - H) / 2), invertMap(h)), { x: 0, y: 0, w: W, h: H }).grey;
const quad = [
  [160, 90],
  [280, 90],
  [280, 210],
  [160, 210],
] as const;
const N = 9;
type Kind = 'position' | 'similarity' | 'perspective';
function run(
  g: Grey,
  kind: Kind,
  path: (f: number) => readonly number[],
  change: (p: Grey, f: number) => void = () => {},
  colours?: Grey[],
) {
  const frame = (f: number, of = g): Grey => {
    const p = shown(of, path(f));
    change(p, f);
    return p;
  };
  const coloursAt = (f: number): ColoursAt | undefined =>
    colours &&
    ((step) => {
      const [r, g2, b] = colours.map((of) => frame(f, of).data) as [Float32Array, Float32Array, Float32Array];
      return coloursOf({ r, g: g2, b }, W, H, step);
    });
  const follower = new Follower(frame(0), quad, kind, coloursAt(0));
  const errors: number[] = [];
  const lost: number[] = [];
  for (let f = 1; f < N; f++) {
    const s = follower.step(frame(f), coloursAt(f));
    if (s.lost) {
      lost.push(f);
      expect(s.why).not.toBe('');
      continue;
    }
    const off = quad.map(([x, y]) => {
      const a = mapPoint(s.h, x, y);
      const b = mapPoint(path(f), x - 0.5, y - 0.5);
      return Math.hypot(a[0] - b[0] - 0.5, a[1] - b[1] - 0.5);
    });
    errors.push(Math.max(...off));
  }
  errors.sort((a, b) => a - b);
  return { median: errors[errors.length >> 1]!, worst: errors.at(-1)!, lost };
}

describe.each([
  ['a portrait', join(photos, 'portrait.jpg')],
  ['the courier', join(import.meta.dirname, '../demo/stills/courier.png')],
])('%s', (_, file) => {
  it.each([
    ['a slide', 'position', (f: number) => T(1.37 * f, 0.61 * f), 0.03, 0.07],
    ['turn and size', 'similarity', (f: number) => about(0.7 * f, 1 + 0.006 * f, 0.9 * f, 0.3 * f), 0.02, 0.05],
    ['a tilt', 'perspective', (f: number) => about(0, 1, 0.8 * f, 0, 2e-5 * f, -1.5e-5 * f), 0.05, 0.14],
  ] as const)('%s: corners stay', async (__, kind, path, median, worst) => {
    const r = run(await photo(file), kind, path);
    expect(r.lost).toEqual([]);
    expect(r.median).toBeLessThan(median);
    expect(r.worst).toBeLessThan(worst);
    // A figure of exactly nothing would mean that nothing was compared.
    expect(r.worst).toBeGreaterThan(0);
  });
  it.each([false, true])(
    'behind a post: said to be lost, found again, never dragged along; colours: %s',
    async (colours) => {
      const r = run(
        await photo(file),
        'position',
        (f) => T(2.2 * f, 0),
        (p, f) => {
          if (f < 3 || f > 5) return;
          for (let y = 0; y < H; y++)
            for (let x = 165; x < 290; x++) p.data[y * W + x] = 0.3 + 0.2 * Math.sin(y * 0.3) * Math.cos(x * 0.2);
        },
        colours ? await coloured(file) : undefined,
      );
      expect(r.lost).toEqual([3, 4, 5]);
      expect(r.worst).toBeLessThan(0.07);
    },
  );
  it('a light that flickers by 10 %, with noise of 2 %', async () => {
    const random = rng(5);
    const r = run(
      await photo(file),
      'similarity',
      (f) => about(0.3 * f, 1, 0.7 * f, 0.4 * f),
      (p, f) => {
        const k = 1 + 0.1 * Math.sin(1.7 * f);
        p.data.forEach((v, i) => (p.data[i] = v * k + 0.02 * (random() + random() + random() - 1.5) * 2));
      },
    );
    expect(r.lost).toEqual([]);
    expect(r.median).toBeLessThan(0.34);
    expect(r.worst).toBeLessThan(0.8);
  });
});

describe('the parts', () => {
  it('motions are fitted exactly to exact pairs, and by most of them where some are wrong', () => {
    const r = rng(3);
    for (const [kind, h] of [
      ['position', T(3.2, -1.1)],
      ['similarity', about(12, 1.2, 3, 4)],
      ['perspective', about(5, 1.1, 3, 4, 1e-4, -2e-4)],
    ] as const) {
      const pairs = Array.from({ length: 40 }, (_, i) => {
        const from = [300 * r(), 200 * r()] as const;
        const to = mapPoint(h, ...from);
        return { from, to: (i % 4 === 0 ? [to[0] + 20 * r() + 5, to[1] - 9] : to) as [number, number] };
      });
      const good = pairs.filter((_, i) => i % 4 !== 0);
      fitAll(good, kind)!.forEach((v, i) => expect(v).toBeCloseTo(h[i]! / h[8]!, 6));
      const a = agree(pairs, kind, 0.5)!;
      expect(a.count).toBe(30);
      a.h.forEach((v, i) => expect(v).toBeCloseTo(h[i]! / h[8]!, 5));
    }
    expect(fitAll([], 'position')).toBeNull();
    const same = { from: [1, 1], to: [2, 2] } as const;
    expect(fitAll([same, same, same, same], 'perspective')).toBeNull();
    const m = about(20, 1.3, 4, 5, 1e-4, 2e-4);
    multiplyMaps(m, invertMap(m)).forEach((v, i) => expect(v).toBeCloseTo([1, 0, 0, 0, 1, 0, 0, 0, 1][i]!, 9));
  });
  it('corners lie on corners, apart from each other, inside', () => {
    const g: Grey = { w: 80, h: 60, data: new Float32Array(4800) };
    for (let y = 20; y < 40; y++) for (let x = 30; x < 55; x++) g.data[y * 80 + x] = 1;
    const c = corners(g, () => true, 20);
    for (const [x, y] of [
      [30, 20],
      [54, 20],
      [30, 39],
      [54, 39],
    ])
      expect(Math.min(...c.map(([u, v]) => Math.hypot(u - x!, v - y!)))).toBeLessThan(3);
    expect(corners(g, (x) => x < 40, 20).every(([x]) => x < 40)).toBe(true);
    // A flat ground and a straight edge have none.
    expect(corners({ w: 60, h: 60, data: new Float32Array(3600) }, () => true, 20)).toEqual([]);
  });
  it('what noise makes of a flat half is no corner while the other half has texture', () => {
    const random = rng(11);
    const [w, h] = [160, 100];
    const g: Grey = { w, h, data: new Float32Array(w * h) };
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const texture = x < 80 ? 0.06 * Math.sin(x * 0.55) * Math.cos(y * 0.45) : 0;
        g.data[y * w + x] = 0.4 + texture + 0.02 * (random() + random() + random() - 1.5) * 2;
      }
    const c = corners(g, () => true, 110);
    expect(c.length).toBeGreaterThanOrEqual(40);
    expect(c.filter(([x]) => x > 84).length).toBeLessThan(0.1 * c.length);
    // With nothing but noise the strongest are taken all the same: whether they agree is said frame by frame.
    expect(corners(g, (x) => x > 90, 110).length).toBeGreaterThan(20);
  });
  it('what does not lead back is not taken', () => {
    const g: Grey = { w: 60, h: 60, data: Float32Array.from({ length: 3600 }, (_, i) => Math.sin(i * 12.9898) % 0.5) };
    const flat: Grey = { w: 60, h: 60, data: new Float32Array(3600).fill(0.5) };
    expect(findPoints([g], [flat], [[30, 30]], { fine: true, within: 0.7 })).toEqual([null]);
  });
  it('nothing inside to follow is said with what to do', () => {
    const flat: Grey = { w: 200, h: 200, data: new Float32Array(40000).fill(0.4) };
    expect(() => new Follower(flat, quad, 'position')).toThrow(/too little inside to follow.*keys by hand/);
  });
});

it('from the terminal: forwards and backwards from the frame where it was drawn', async () => {
  const g = await photo(join(photos, 'portrait.jpg'));
  const path = (f: number): number[] => T(1.5 * (f - 3), 0.5 * (f - 3));
  for (let f = 0; f < 7; f++) {
    const p = shown(g, path(f));
    const data = new Uint8Array(3 * W * H);
    p.data.forEach((v, i) => data.fill(Math.round(255 * Math.min(1, Math.max(0, v))), 3 * i, 3 * i + 3));
    writeFileSync(join(dir, `m_${f}.png`), encode({ width: W, height: H, channels: 3, data }));
  }
  const log = vi.spyOn(console, 'log').mockImplementation(() => {});
  const err = vi.spyOn(process.stderr, 'write').mockImplementation(() => true);
  try {
    const q = quad.map((c) => c.join(',')).join(' ');
    expect(await main(['follow', dir, '--quad', q, '--at', '3', '--kind', 'position', '--json'])).toBe(0);
    const { frames } = JSON.parse(log.mock.calls[0]![0] as string) as {
      frames: { frame: number; h: number[]; quality: number; lost: boolean }[];
    };
    expect(frames.map((f) => f.frame)).toEqual([0, 1, 2, 3, 4, 5, 6]);
    for (const f of frames) {
      expect(f.lost).toBe(false);
      expect(f.quality).toBeGreaterThan(0.8);
      expect(Math.hypot(f.h[2]! - 1.5 * (f.frame - 3), f.h[5]! - 0.5 * (f.frame - 3))).toBeLessThan(0.06);
    }
    expect(await main(['follow', dir, '--quad', '1,1 2,2', '--at', '3'])).toBe(2);
    expect(await main(['follow', dir, '--quad', q, '--at', '9'])).toBe(2);
  } finally {
    log.mockRestore();
    err.mockRestore();
  }
});

it('from the terminal: point by point, of a thing that grows and goes', async () => {
  const there = join(dir, 'grows');
  mkdirSync(there);
  const grain = rng(17);
  const noise = Float32Array.from({ length: 3 * 200 * 160 }, () => 16 * (grain() - 0.5));
  for (let f = 0; f < 5; f++) {
    const data = new Uint8Array(3 * 200 * 160);
    for (let i = 0; i < 200 * 160; i++) {
      const [x, y] = [(i % 200) + 0.5 - 2 * f, Math.floor(i / 200) + 0.5];
      const spots = 40 * (Math.sin(0.5 * x) * Math.cos(0.45 * y) > 0.3 ? 1 : 0);
      const colour = Math.hypot(x - 90, y - 80) < 40 + 1.2 * f ? [150, 100, 80] : [90, 110, 150];
      colour.forEach((v, c) => (data[3 * i + c] = v + spots + noise[3 * i + c]!));
    }
    writeFileSync(join(there, `g_${f}.png`), encode({ width: 200, height: 160, channels: 3, data }));
  }
  const round = Array.from({ length: 10 }, (_, k) => {
    const a = (2 * Math.PI * k) / 10;
    return `${90 + 40 * Math.cos(a)},${80 + 40 * Math.sin(a)}`;
  });
  const log = vi.spyOn(console, 'log').mockImplementation(() => {});
  try {
    const given = ['follow', there, '--quad', round.join(' '), '--at', '0', '--kind', 'outline'];
    expect(await main([...given, '--json'])).toBe(0);
    const { frames } = JSON.parse(log.mock.calls[0]![0] as string) as {
      frames: { frame: number; lost: boolean; outline: [number, number][] }[];
    };
    for (const { frame, lost, outline } of frames) {
      expect(lost).toBe(false);
      expect(outline).toHaveLength(10);
      const mean = outline.reduce((sum, [x, y]) => sum + Math.hypot(x - 90 - 2 * frame, y - 80) / 10, 0);
      expect(Math.abs(mean - 40 - 1.2 * frame), `frame ${frame}: ${mean}`).toBeLessThan(0.8);
    }
    // In words: where its points lie.
    expect(await main(given)).toBe(0);
    const said = String(log.mock.calls.at(-1)![0]);
    expect(said).toContain(outlineSaid(frames.at(-1)!.outline));
  } finally {
    log.mockRestore();
  }
});
const outlineSaid = (p: readonly (readonly [number, number])[]): string =>
  p.map((c) => c.map((v) => v.toFixed(2)).join(',')).join(' ');
