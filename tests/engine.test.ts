/** The engine through its front door: caches, parity of kernels, the exact surround, windows. */
import { beforeAll, describe, expect, it } from 'vitest';
import { decode } from 'fast-png';
import { rng } from '../src/core/math/rng';
import { newUse } from '../src/core/graph/plan.defaults';
import { compile } from '../src/core/graph/plan';
import type { CorrectionSpec } from '../src/core/graph/plan';
import { opTerms } from '../src/core/graph/region';
import { Stale } from '../src/engine/stages';
import { Arena } from '../src/engine/memory';
import type { Plane } from '../src/engine/memory';
import { soloSession } from '../src/engine/node';
import { MissingTable, PICTURE_BYTES, TABLE_BYTES } from '../src/engine/session';
import type { Session } from '../src/engine/session';
import type { DecodedPicture } from '../src/media/decode';
import { SCOPE_KINDS } from '../src/core/scopes/reduce';
import type { ScopeKind } from '../src/core/scopes/reduce';
import type { RenderRequest, ScopeReply, ScopeRequest, ShotState, SolveRequest } from '../src/protocol/messages';
import { around } from '../testkit/keys';
import { wasmBytes } from '../testkit/bench';

const W = 211;
const H = 133;
function picture(bits: 8 | 16): DecodedPicture {
  const r = rng(bits);
  const max = bits === 16 ? 65535 : 255;
  const rgb = bits === 16 ? new Uint16Array(W * H * 3) : new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const skin = Math.hypot(x - 90, y - 60) < 35;
      const c = skin ? [0.72, 0.52, 0.36] : [0.2 + 0.5 * (x / W), 0.4, 0.5];
      for (let k = 0; k < 3; k++) rgb[3 * (y * W + x) + k] = Math.round((c[k]! + 0.05 * (r() - 0.5)) * max);
    }
  return { width: W, height: H, bits, format: 'png', rgb, notes: [], encoding: 'srgb', alpha: false };
}
const face: CorrectionSpec = {
  id: 'face',
  name: 'Face',
  on: true,
  mixPct: 90,
  terms: [
    {
      id: 't1',
      join: 'and',
      not: false,
      name: 'Key 1',
      use: newUse('k', 'key', around({ hue: [135, 40], sat: [25, 60], luma: [50, 90] })),
    },
    {
      id: 't2',
      join: 'and',
      not: false,
      name: 'Ellipse 1',
      use: newUse('e', 'ellipse', { cxPx: 90, cyPx: 60, rxPx: 40, ryPx: 42, softInPx: 6, softOutPx: 6 }),
    },
  ],
  tidy: [newUse('fc', 'floorCeiling', { floorPct: 5, ceilingPct: 90 }), newUse('f', 'feather', { radiusPx: 5 })],
  adjustments: [
    newUse('w', 'wheels', { gainCr: 4, gammaLevel: 8 }),
    newUse('t', 'hueTurn', { angleDeg: -9 }),
    newUse('s', 'saturation', { amountPct: 92 }),
  ],
};
const shot = (...corrections: CorrectionSpec[]): ShotState => ({
  media: 'p',
  encoding: 'srgb',
  frame: 0,
  corrections,
});
const request = (s: ShotState, quality: 'draft' | 'final' = 'final'): RenderRequest => ({
  shot: s,
  focus: 'face',
  view: { w: 100, h: 60, scale: 0.45, offX: 0, offY: 0, mode: 'picture', compare: 'off', wipeX: 0 },
  quality,
  scopes: [
    { kind: 'vector', over: 'whole', when: 'after', zoom: 1, px: [600, 600] },
    { kind: 'strip', over: 'whole', when: 'after', zoom: 1, px: [600, 600] },
  ],
  patches: [{ id: 'a', box: { x: 80, y: 50, w: 20, h: 20 } }],
  skinLineDeg: 123,
  bits: 16,
});
const with1 = (change: (c: CorrectionSpec) => void): CorrectionSpec => {
  const c = structuredClone(face);
  change(c);
  return c;
};

describe('engine', () => {
  let wasm: Session;
  let ts: Session;
  beforeAll(async () => {
    [wasm, ts] = await Promise.all([soloSession({ wasm: wasmBytes() }), soloSession()]);
    for (const s of [wasm, ts]) s.open('p', picture(16));
  });

  it('means of a region and of its outside are those of the codes that leave', async () => {
    const s = shot(face);
    const r = await wasm.sides(s, 'face');
    for (const [when, state] of [
      ['before', shot()],
      ['after', s],
    ] as const) {
      const codes = await wasm.pictureCodes(state, 16);
      const matte = await wasm.matteCodes(s, 'face', 16);
      const sums = [
        [0, 0, 0, 0],
        [0, 0, 0, 0],
      ];
      for (let i = 0; i < W * H; i++) {
        const m = matte.data[i]! / 65535;
        for (const [side, k] of [m, 1 - m].entries()) {
          for (let c = 0; c < 3; c++) sums[side]![c]! += (k * codes.data[3 * i + c]!) / 65535;
          sums[side]![3]! += k;
        }
      }
      for (const [side, name] of ['inside', 'outside'].entries())
        r[when][name as 'inside']!.forEach((v, c) => expect(v).toBeCloseTo(sums[side]![c]! / sums[side]![3]!, 4));
    }
    expect(r.apart[0]).toBeGreaterThan(5);
    expect(Math.abs(r.apart[0]! - r.apart[1]!)).toBeGreaterThan(0.3);
    await expect(wasm.sides(s, 'gone')).rejects.toThrow(RangeError);
  });
  it('computes only what changed', async () => {
    await wasm.render(request(shot(face)));
    expect((await wasm.render(request(shot(face)))).computed).toEqual([]);
    const slider = (await wasm.render(request(shot(with1((c) => (c.adjustments[2]!.params = { amountPct: 80 }))))))
      .computed;
    expect(slider).not.toContain('key');
    expect(slider).not.toContain('tidy');
    expect(slider).toContain('out');
    const shape = (await wasm.render(request(shot(with1((c) => (opTerms(c.terms)[1]!.use.params['cxPx'] = 92))))))
      .computed;
    expect(shape).toContain('shape');
    expect(shape).not.toContain('key');
  });

  it(
    'gives the same 16-bit picture with SIMD and TypeScript kernels, within one code in 65535 nearly ' + 'everywhere',
    async () => {
      const [a, b] = (await Promise.all(
        [wasm, ts].map(async (s) => decode(await s.exportPicture(shot(face), 16)).data),
      )) as [Uint16Array, Uint16Array];
      let worst = 0;
      let differ = 0;
      a.forEach((v, i) => {
        const d = Math.abs(v - b[i]!);
        worst = Math.max(worst, d);
        if (d > 1) differ++;
      });
      // Power by polynomial: 8e-6 of full scale is half a code; soft edges of the key add a little.
      expect(worst).toBeLessThanOrEqual(4);
      expect(differ / a.length).toBeLessThan(0.001);
    },
  );

  it.each([8, 16] as const)(
    'leaves the surround of a %d-bit picture equal to the bit, and moves the region',
    async (bits) => {
      const p = picture(bits);
      wasm.open('p', p);
      const png = decode(await wasm.exportPicture(shot(face), bits)).data;
      const matte = decode(await wasm.exportMatte(shot(face), 'face', 16)).data;
      let zero = 0;
      let moved = 0;
      for (let i = 0; i < W * H; i++)
        for (let c = 0; c < 3; c++) {
          if (matte[i] === 0 && png[3 * i + c] !== p.rgb[3 * i + c]) {
            // A matte below half a 16-bit code is written as 0: only the figures at float precision are proof.
            expect(Math.abs(png[3 * i + c]! - p.rgb[3 * i + c]!)).toBeLessThanOrEqual(1);
          }
          if (matte[i] === 0) zero++;
          if (matte[i]! > 60000 && png[3 * i + c] !== p.rgb[3 * i + c]) moved++;
        }
      expect(zero).toBeGreaterThan(W * H);
      expect(moved).toBeGreaterThan(1000);
      const f = await wasm.figures(shot(face), 'face');
      expect([f.surroundMaxCodes, f.surroundMeanCodes]).toEqual([0, 0]);
      expect(f.regionMaxCodes).toBeGreaterThan(100);
      expect(f.surroundShare + f.fringeShare + f.fullShare).toBeCloseTo(1, 9);
      wasm.open('p', picture(16));
    },
  );

  it(
    'counts the scopes alike in both kernels: less than one pixel in a thousand falls into a ' + 'neighbouring cell',
    async () => {
      const patch = { id: 'p', box: { x: 80, y: 50, w: 21, h: 20 } };
      const round = {
        ...patch,
        points: [
          [80, 50],
          [101, 52],
          [90, 70],
        ] as const,
      };
      for (const over of ['whole', 'region', 'outside', patch, round] as const)
        for (const zoom of [1, 5])
          for (const quality of ['final', 'draft'] as const) {
            const scopes = (Object.keys(SCOPE_KINDS) as ScopeKind[]).map((kind): ScopeRequest => ({
              kind,
              over,
              when: 'after',
              zoom,
              px: [600, 600],
            }));
            const [a, b] = (await Promise.all(
              [wasm, ts].map(async (s) => (await s.render({ ...request(shot(face)), quality, scopes })).scopes!),
            )) as [ScopeReply[], ScopeReply[]];
            scopes.forEach(({ kind }, k) => {
              let moved = 0;
              let total = 0;
              a[k]!.planes.forEach((p, g) =>
                p.counts.forEach((v, i) => {
                  moved += Math.abs(v - b[k]!.planes[g]!.counts[i]!);
                  total += v;
                }),
              );
              if (kind === 'luma')
                expect(total, `${JSON.stringify(over)} ${quality}`).toBeGreaterThan(
                  typeof over === 'string' && quality === 'final' ? 2000 : 30,
                );
              expect(
                moved,
                `${kind} ${JSON.stringify(over)} ${zoom} ${quality}: ${moved} of ${total}`,
              ).toBeLessThanOrEqual(Math.max(2, 0.002 * total));
            });
          }
    },
  );
  it(
    'looks at the whole as at the region and its outside together, before as at the file, and counts ' + 'what clips',
    async () => {
      const ask = (o: Partial<ScopeRequest>): ScopeRequest => ({
        kind: 'luma',
        over: 'whole',
        when: 'after',
        zoom: 1,
        px: [280, 600],
        ...o,
      });
      const sum = (r: ScopeReply): number => r.planes[0]!.counts.reduce((x, y) => x + y, 0);
      const r = await wasm.render({
        ...request(shot(face)),
        scopes: [ask({}), ask({ over: 'region' }), ask({ over: 'outside' }), ask({ when: 'before' })],
      });
      const [whole, inside, outside, before] = r.scopes!;
      expect(sum(whole!)).toBe(W * H);
      expect(sum(inside!) + sum(outside!)).toBe(W * H);
      expect(sum(inside!)).toBeGreaterThan(100);
      expect(r.clipped!.pixels).toBe(W * H);
      const bare = (await wasm.render({ ...request(shot()), scopes: [ask({})] })).scopes![0]!;
      expect(Buffer.from(before!.planes[0]!.counts.buffer).equals(Buffer.from(bare.planes[0]!.counts.buffer))).toBe(
        true,
      );
      // Nothing lies outside of the whole picture.
      expect(
        (await wasm.render({ ...request(shot({ ...face, terms: [] })), scopes: [ask({ over: 'outside' })] }))
          .scopes![0]!.planes,
      ).toEqual([]);
    },
  );

  it('reads one pixel as the whole picture has it, bit for bit, through feathers and at borders', async () => {
    const list = [
      face,
      { ...face, id: 'g', terms: face.terms.slice(1), tidy: [newUse('ff', 'feather', { radiusPx: 9 })] },
    ];
    for (const s of [wasm, await soloSession({})]) {
      const { ev } = s;
      ev.begin();
      const p = picture(8);
      const src = await ev.load('whole', W, H, (...to) =>
        to.forEach((q, c) => q.forEach((_, i) => (q[i] = p.rgb[3 * i + c]! / 255))),
      );
      s.open('eight', p);
      const { out } = await ev.run(src, compile(list, 0, 1));
      const planes = ev.arena.look((v) => [out.r, out.g, out.b].map((at) => v.f32(at, W * H).slice()));
      for (const [x, y] of [
        [0, 0],
        [63, 64],
        [90.7, 60.2],
        [W - 1, H - 1],
        [128, 7],
      ] as const) {
        const i = Math.floor(y) * W + Math.floor(x);
        const got = (await s.pick({ ...shot(...list), media: 'eight' }, x, y))!;
        expect(got.after).toEqual(planes.map((q) => q[i]));
        expect(got.before).toEqual([0, 1, 2].map((c) => Math.fround(p.rgb[3 * i + c]! / 255)));
      }
      expect(await s.pick({ ...shot(face), media: 'eight' }, W, 3)).toBeNull();
    }
  });
  it('figures give way between rows: nothing is said of half a picture', async () => {
    const { ev } = wasm;
    const was = ev.check;
    await wasm.figures(shot(face), 'face');
    let n = 0;
    // What was computed is there; the comparison itself is ended.
    ev.check = () => {
      n++;
      throw new Stale();
    };
    try {
      await expect(() => wasm.figures(shot(face), 'face')).rejects.toThrow(Stale);
      await expect(() => wasm.distributions(shot(face), 'face')).rejects.toThrow(Stale);
    } finally {
      ev.check = was;
    }
    expect(n).toBe(2);
    expect((await wasm.figures(shot(face), 'face')).surroundShare).toBeGreaterThan(0.3);
  });
  it('joins terms by minimum, maximum and complement', async () => {
    const ellipse = (cx: number) =>
      newUse(`e${cx}`, 'ellipse', { cxPx: cx, cyPx: 60, rxPx: 30, ryPx: 30, softInPx: 0.5, softOutPx: 0.5 });
    const at = async (join: 'and' | 'or', not: boolean, x: number): Promise<number> => {
      const c: CorrectionSpec = {
        ...face,
        tidy: [],
        terms: [
          { id: 't3', join: 'and', not: false, name: 'a', use: ellipse(70) },
          { id: 'b', join, not, name: 'b', use: ellipse(100) },
        ],
      };
      return decode(await wasm.exportMatte(shot(c), 'face', 16)).data[60 * W + x]!;
    };
    expect([
      await at('and', false, 50),
      await at('and', false, 85),
      await at('or', false, 50),
      await at('or', false, 120),
      await at('and', true, 50),
      await at('and', true, 85),
      await at('or', true, 5),
    ]).toEqual([0, 65535, 65535, 65535, 65535, 0, 65535]);
  });

  it('reads a draft close to the final', async () => {
    const d = (await wasm.render(request(shot(face), 'draft'))).readings![0]!.after!;
    const f = (await wasm.render(request(shot(face), 'final'))).readings![0]!.after!;
    expect(Math.abs(d.offLineDeg! - f.offLineDeg!)).toBeLessThan(1);
  });

  it('brings a patch to the line through a feathered matte, solved on a window as the whole reads', async () => {
    for (const kind of ['balance', 'middle', 'turn', 'byHue', 'pulls'] as const) {
      const base = with1((c) => (c.adjustments = []));
      const r = await wasm.solve({
        shot: shot(base),
        correction: 'face',
        patches: [{ box: { x: 80, y: 50, w: 20, h: 20 } }],
        kind,
        strength: 1,
        keep: 'within10',
        skinLineDeg: 123,
        bits: 16,
      });
      expect(Math.abs(r.before.offLineDeg!)).toBeGreaterThan(5);
      const after = (await wasm.render(request(shot({ ...base, adjustments: r.adjustments })))).readings![0]!.after!;
      expect(Math.abs(after.offLineDeg!)).toBeLessThan(0.05);
      expect(Math.abs(after.luma - r.before.luma)).toBeLessThan(0.005);
      expect(Math.abs(after.chromaPct / r.before.chromaPct - 1)).toBeLessThanOrEqual(0.1);
      const half = await wasm.solve({
        shot: shot(base),
        correction: 'face',
        patches: [{ box: { x: 80, y: 50, w: 20, h: 20 } }],
        kind,
        strength: 0.5,
        keep: 'within10',
        skinLineDeg: 123,
        bits: 16,
      });
      expect(half.after.offLineDeg! / r.before.offLineDeg!).toBeCloseTo(0.5, 1);
    }
  });
  it('brings level and chroma to what is asked with the line, and several patches by one push', async () => {
    const base = with1((c) => (c.adjustments = []));
    const box = { x: 80, y: 50, w: 20, h: 20 };
    const ask = (q: Partial<SolveRequest>) => ({
      shot: shot(base),
      correction: 'face',
      patches: [{ box }],
      kind: 'balance' as const,
      strength: 1,
      keep: 'within10' as const,
      skinLineDeg: 123,
      bits: 16 as const,
      ...q,
    });
    const read = async (adjustments: CorrectionSpec['adjustments']) =>
      (await wasm.render(request(shot({ ...base, adjustments })))).readings![0]!.after!;
    const was = await read([]);
    for (const kind of ['balance', 'turn', 'byHue', 'pulls'] as const) {
      const pct = was.chromaPct * 1.25;
      const level = [was.lumaPct - 8, was.lumaPct - 8] as const;
      const r = await wasm.solve(ask({ kind, keep: { pct }, level }));
      const is = await read(r.adjustments);
      expect([kind, Math.abs(is.offLineDeg!) < 0.2], `${kind}: ${is.offLineDeg}`).toEqual([kind, true]);
      expect(Math.abs(is.lumaPct - level[0]), `${kind}: level ${is.lumaPct}`).toBeLessThan(0.5);
      expect(Math.abs(is.chromaPct / pct - 1), `${kind}: chroma ${is.chromaPct}`).toBeLessThan(0.05);
      expect(r.stops).toBeLessThan(-0.1);
      // What it was solved for goes along, so that it can be solved again elsewhere.
      expect(r.adjustments.filter((a) => a.solved === 'line')).toHaveLength(1);
      // Taken twice, nothing piles up.
      const again = await wasm.solve({ ...ask({ kind }), shot: shot({ ...base, adjustments: r.adjustments }) });
      expect(again.adjustments.map((a) => a.op)).toEqual(r.adjustments.map((a) => a.op));
      expect(Math.abs(again.before.offLineDeg!)).toBeLessThan(0.2);
    }
    // On the line already, another chroma is brought all the same.
    for (const kind of ['balance', 'turn', 'byHue', 'pulls'] as const) {
      // By another kind than the one that brought it there.
      const on = (await wasm.solve(ask({ kind: kind === 'turn' ? 'balance' : 'turn' }))).adjustments;
      const line = { ...ask({ kind, keep: { pct: 30 } }), shot: shot({ ...base, adjustments: on }) };
      const more = await read((await wasm.solve(line)).adjustments);
      expect(Math.abs(more.chromaPct / 30 - 1), `${kind}: ${more.chromaPct}`).toBeLessThan(0.05);
      expect(Math.abs(more.offLineDeg!), kind).toBeLessThan(0.2);
    }
    // A level that is in the range already asks for nothing.
    const inside = await wasm.solve(ask({ level: [was.lumaPct - 5, was.lumaPct + 5] }));
    expect([inside.stops, inside.adjustments.map((a) => a.op)]).toEqual([0, ['balance']]);
    // As one colour: what each lacks stands on either side of the line.
    const both = await wasm.solve(ask({ patches: [{ box: { ...box, w: 8 } }, { box: { ...box, x: 92, w: 8 } }] }));
    expect(both.each.length).toBe(2);
    const [a, b] = both.each.map((e) => e.after.offLineDeg!) as [number, number];
    expect(a * b).toBeLessThanOrEqual(0);
    expect(Math.abs(both.after.offLineDeg!)).toBeLessThan(0.05);
  });
  it('says which correction reaches a patch', async () => {
    const off = { ...with1(() => {}), id: 'off', on: false };
    const q = { ...shot(face), corrections: [face, off] };
    const [on, away] = await wasm.reaches({
      shot: q,
      patches: [{ box: { x: 85, y: 55, w: 8, h: 8 } }, { box: { x: 1, y: 1, w: 8, h: 8 } }],
    });
    expect(on!.map((x) => x.correction)).toEqual(['face']);
    expect(on![0]!.share).toBeGreaterThan(0.9);
    expect(away![0]!.share).toBeLessThan(0.05);
  });
  it('says why a patch cannot be brought', async () => {
    const ask = (c: CorrectionSpec, x: number) => () =>
      wasm.solve({
        shot: shot(c),
        correction: 'face',
        patches: [{ box: { x, y: 50, w: 10, h: 10 } }],
        kind: 'turn',
        strength: 1,
        keep: 'free',
        skinLineDeg: 123,
        bits: 16,
      });
    await expect(ask(face, 9999)).rejects.toThrow(/outside the picture/);
    await expect(ask(face, 195)).rejects.toThrow(/does not reach|too neutral/);
    await expect(ask({ ...face, on: false }, 80)).rejects.toThrow(/is off/);
  });

  it('carries into a table what a table can carry and says what not', async () => {
    const r = await wasm.lut(shot(face), 17, 'x');
    expect(r.leftOut.join(' ')).toMatch(/Ellipse 1 left out.*feather left out/);
    const onlyKey = await wasm.lut(
      shot(
        with1((c) => {
          c.terms.splice(1);
          c.tidy = [];
          c.mixPct = 100;
        }),
      ),
      65,
      'x',
    );
    expect(onlyKey.leftOut).toEqual([]);
    expect(onlyKey.regionMeanDe).toBeLessThan(0.5);
    expect((await wasm.lut(shot(with1((c) => c.terms.splice(0, 1))), 17, 'x')).leftOut[0]).toMatch(/left out whole/);
    // A correction of the whole picture without a key is carried to the rounding of the lattice.
    const whole = await wasm.lut(
      shot(
        with1((c) => {
          c.terms = [];
          c.adjustments.splice(0, 1);
        }),
      ),
      33,
      'x',
    );
    expect(whole.regionMaxDe).toBeLessThan(0.05);
  });

  it('names the correction of a bad parameter', () => {
    expect(() => compile([with1((c) => (c.adjustments[1]!.params = { angleDeg: 999 }))], 0, 1)).toThrow(
      /"Face": angleDeg must lie/,
    );
    expect(() => compile([with1((c) => (c.adjustments[1]!.op = 'nothing'))], 0, 1)).toThrow(/no operation "nothing"/);
  });
  it('evaluates keyframes at the frame asked for', () => {
    const c = with1(
      (x) =>
        (x.adjustments[1]!.params = {
          angleDeg: {
            keys: [
              { frame: 0, value: 0, ease: 'linear' },
              { frame: 10, value: 20, ease: 'linear' },
            ],
          },
        }),
    );
    const keyOf = (frame: number): string => compile([c], frame, 1)[0]!.chainKey;
    expect(keyOf(5)).toBe(compile([with1((x) => (x.adjustments[1]!.params = { angleDeg: 10 }))], 0, 1)[0]!.chainKey);
    expect(keyOf(0)).not.toContain('hueTurn');
  });
});

describe('what a session holds', () => {
  it('is bounded in bytes: pictures and tables that were used longest ago go, and are asked for again', async () => {
    const s = await soloSession({ wasm: wasmBytes() });
    const large = (): DecodedPicture => ({ ...picture(8), width: 1, height: 1, rgb: new Uint8Array(200 * 2 ** 20) });
    for (const id of ['a', 'b', 'c', 'd', 'e']) s.open(id, large());
    expect(s.held().pictures).toBeLessThanOrEqual(PICTURE_BYTES);
    expect(['a', 'b', 'c', 'd', 'e'].filter((id) => s.has({ media: id, frame: 0 }))).toEqual(['c', 'd', 'e']);
    // Many small ones stay.
    const many = await soloSession({ wasm: wasmBytes() });
    for (let i = 0; i < 40; i++) many.open(`p${i}`, picture(8));
    expect(many.has({ media: 'p0', frame: 0 })).toBe(true);
    const cube = (n: number) => ({
      kind: '3d' as const,
      title: '',
      size: n,
      domainMin: [0, 0, 0] as const,
      domainMax: [1, 1, 1] as const,
      data: new Float32Array(3 * n ** 3),
    });
    for (let i = 0; i < 12; i++) s.putTable(`t${i}`, cube(129));
    expect(s.held().tables).toBeLessThanOrEqual(TABLE_BYTES);
    expect(s.held().tables).toBeGreaterThan(TABLE_BYTES / 2);
    s.open('p', picture(8));
    const look = (id: string) => () =>
      s.exportPicture(shot({ ...face, adjustments: [newUse('l', 'lut', { table: id })] }), 8);
    await expect(look('t0')).rejects.toThrow(MissingTable);
    await look('t11')();
  });
});

describe('arena', () => {
  it('gives back what is released and joins neighbours', () => {
    const a = new Arena(new WebAssembly.Memory({ initial: 2 }), 8 * 2 ** 20);
    const r = rng(1);
    const held = new Map<Plane, { n: number; tag: number }>();
    for (let i = 0; i < 2000; i++) {
      if (held.size < 20 || r() < 0.5) {
        const n = 1 + Math.floor(r() * 3000);
        const at = a.alloc(n * 4);
        a.look((v) => v.f32(at, n).fill(i) && 0);
        held.set(at, { n, tag: i });
      } else {
        const at = [...held.keys()][Math.floor(r() * held.size)]!;
        const { n, tag } = held.get(at)!;
        expect(a.look((v) => v.f32(at, n).every((x) => x === tag))).toBe(true);
        a.release(at);
        held.delete(at);
      }
    }
    for (const at of held.keys()) a.release(at);
    expect(a.used).toBe(0);
    expect(() => a.alloc(2 ** 24)).toThrow(/need more than 8 MB/);
    expect(() => a.release(12345 as Plane)).toThrow(/No piece/);
  });
});
