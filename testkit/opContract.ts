/**
 * The contract every operation keeps: `opContract(op, vectors)` in its folder's test. It checks the declaration, the
 * schema
 * round trip, the no-op to the bit, tiling to the bit, NaN and infinity, the vectors, and the SIMD twin.
 */
import { Ajv } from 'ajv';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { AnyOp, OpContext } from '../src/core/op/contract';
import { isAdjustment, migrateParams, plainContext } from '../src/core/op/contract';
import { defaultsOf, resolve, schemaOf, tryResolve } from '../src/core/op/params';
import type { ParamSpecs, StoredValues, Values } from '../src/core/op/params';
import { rng } from '../src/core/math/rng';
import { bothKernels } from './bench';
import type { Both } from './bench';
import type { AnyVector, KeyVector, MatteVector, PixelVector, ShapeVector } from './vectors';

type V = Values<ParamSpecs>;
const W = 61;
const H = 37;
const N = W * H;

export interface ContractOptions {
  /** Largest difference between kernel and twin over -1..2, relative to 1 or to the value, and why it is not 0. */
  twinTolerance: number;
  twinReason: string;
  /** Where the operation may stand; the vectors run in the first. */
  contexts?: readonly OpContext[];
  /** Parameters for the test of NaN and infinity; those of the first vector otherwise. */
  odd?: object;
  /** How far values may move when what says no-op is run all the same; float rounding otherwise. */
  noOpTolerance?: number;
  /** Infinity may come out as infinity or NaN: curves that turn it into either. */
  infinityIsOdd?: boolean;
}

/** Name of the lookup table that a test's context knows. */
export const TABLE = 'table';
/** Points of a curve: x rising, y anywhere. */
const points = (least: number, most: number): fc.Arbitrary<number[]> =>
  fc
    .array(fc.tuple(fc.double({ min: 0.1, max: 0.4, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), {
      minLength: least / 2,
      maxLength: most / 2,
    })
    .map((list) => {
      let x = -0.2;
      return list.flatMap(([d, y]) => [(x += d), y]);
    });

/** Random parameters in the usual range. */
function arbitrary(op: AnyOp): fc.Arbitrary<StoredValues> {
  return fc.record(
    Object.fromEntries(
      Object.entries(op.params).map(([k, s]) => [
        k,
        s.kind === 'bool'
          ? fc.boolean()
          : s.kind === 'num'
            ? fc.double({ min: s.ui[0], max: s.ui[1], noNaN: true })
            : s.kind === 'choice'
              ? fc.constantFrom(...Object.keys(s.options))
              : s.kind === 'list'
                ? s.least >= 4 || s.axes
                  ? points(s.least, Math.min(12, s.most))
                  : fc.array(fc.double({ min: s.min, max: Math.min(s.max, 100), noNaN: true }), {
                      minLength: s.least,
                      maxLength: Math.min(12, s.most),
                    })
                : fc.constant(TABLE),
      ]),
    ),
  );
}

/** Runs an operation over planes laid out as R, G, B, M from address 2^18 on, through either kind of kernel. */
function run(
  op: AnyOp,
  b: Both,
  which: 'wasm' | 'ts',
  p: V,
  input: Float32Array[],
  rows: [number, number][] = [[0, H]],
  ctx = plainContext,
): Float32Array[] {
  const k = b[which];
  const base = 2 ** 18;
  const plane = (N + 64) * 4;
  const at = (i: number): number => base + i * plane;
  const block = op.prepare(p, ctx);
  b.f32(1024, 64).fill(0);
  b.f32(1024, block.length).set(block);
  const scratch = at(8);
  input.forEach((v, i) => b.f32(at(i), N).set(v));
  const out = (...i: number[]): Float32Array[] => i.map((j) => b.f32(at(j), N).slice());
  if (op.kind === 'area' || (op.kind === 'tidy' && op.area === 'frame')) {
    const n = op.kind === 'area' ? 3 : 1;
    // A picture for a tidy step that reads it, a matte for what unmixes by one.
    const guide = op.kind === 'tidy' && op.readsPicture ? 3 : op.kind === 'area' && op.unmixes ? 1 : 0;
    const wanted = op.kind === 'area' && op.unmixes ? 4 : n;
    // Given, wanted, spare, picture, in this order behind the counts.
    const planes = [10, 20, 30, 40].flatMap((first, k) =>
      Array.from({ length: [n, wanted, op.workPlanes, guide][k]! }, (_, i) => at(first + i)),
    );
    new Uint32Array(b.memory.buffer, 2 ** 17, 4 + planes.length).set([n, wanted, op.workPlanes, guide, ...planes]);
    input.slice(0, n).forEach((v, i) => b.f32(at(10 + i), N).set(v));
    const p = input.length >= n + guide ? input.slice(n) : GUIDE;
    for (let i = 0; i < guide; i++) b.f32(at(40 + i), N).set(p[i]!);
    for (const pass of op.passes(block))
      for (const [y0, y1] of pass.whole ? [[0, H] as const] : rows)
        k[`frame_${op.id}_${pass.name}`]!(1024, 2 ** 17, at(50), W, H, y0, y1);
    return Array.from({ length: wanted }, (_, i) => b.f32(at(20 + i), N).slice());
  }
  if (op.kind === 'tidy' && op.area) {
    let src = 0;
    for (const pass of op.passes(block)) {
      const dst = src === 1 ? 2 : 1;
      for (const [y0, y1] of rows) k[`area_${op.id}_${pass}`]!(1024, at(src), at(dst), scratch, W, H, y0, y1, 0, 0);
      src = dst;
    }
    return out(src);
  }
  // Point operations: pieces of a length that is a multiple of four, through padded buffers, as the engine does.
  for (const [y0, y1] of rows) {
    if (op.kind === 'shape') {
      for (let y = y0; y < y1; y++) {
        k[`shape_${op.id}`]!(1024, scratch, 0, y, W);
        b.f32(at(3) + y * W * 4, W).set(b.f32(scratch, W));
      }
      continue;
    }
    const n = (y1 - y0) * W;
    const planes = op.kind === 'tidy' ? [0] : [0, 1, 2];
    planes.forEach((i) => b.f32(scratch + i * plane, n).set(b.f32(at(i) + y0 * W * 4, n)));
    const s = (i: number): number => scratch + i * plane;
    if (op.kind === 'pixel') k[`px_${op.id}`]!(1024, s(0), s(1), s(2), n);
    else if (op.kind === 'key') k[`key_${op.id}`]!(1024, s(0), s(1), s(2), s(3), n);
    else k[`tidy_${op.id}`]!(1024, s(0), n);
    (op.kind === 'key' ? [3] : planes).forEach((i) => b.f32(at(i) + y0 * W * 4, n).set(b.f32(s(i), n)));
  }
  return op.kind === 'pixel' ? out(0, 1, 2) : op.kind === 'tidy' ? out(0) : out(3);
}

const bytes = (p: Float32Array[]): string =>
  p.map((v) => Buffer.from(v.buffer, v.byteOffset, v.byteLength).toString('base64')).join('|');

function picture(seed: number, lo: number, hi: number): Float32Array[] {
  const r = rng(seed);
  return [0, 1, 2].map(() => Float32Array.from({ length: N }, () => lo + (hi - lo) * r()));
}

/** As keys make it: full, a soft edge, nothing, and a speck or two, so that most windows hold one value. */
function matteLike(seed: number): Float32Array {
  const r = rng(seed);
  const [edge, soft] = [W * (0.1 + 0.8 * r()), 1 + 3 * r()];
  const m = Float32Array.from({ length: N }, (_, i) => Math.min(1, Math.max(0, (edge - (i % W)) / soft)));
  for (let n = Math.floor(3 * r()); n > 0; n--) m[Math.floor(r() * N)] = r();
  return m;
}
/** What a step is tried on: noise, and for tidy steps a matte every other time. */
const given = (op: AnyOp, seed: number, lo: number, hi: number): Float32Array[] =>
  op.kind !== 'tidy' ? picture(seed, lo, hi) : [seed % 2 ? matteLike(seed) : picture(seed, lo, hi)[0]!];

/** A picture for steps that read it beside their matte. */
const GUIDE = picture(11, -0.2, 1.2);

export function opContract(op: AnyOp, vectors: readonly unknown[], opts: ContractOptions): void {
  const contexts = opts.contexts ?? [plainContext];
  describe(`operation ${op.id}`, () => {
    let both: Both;
    beforeAll(async () => {
      both = await bothKernels();
    });
    const lo = op.kind === 'tidy' ? 0 : -1;
    const hi = op.kind === 'tidy' ? 1 : 2;

    it('declares itself in full', () => {
      expect(op.id).toMatch(/^[a-z][A-Za-z]+$/);
      expect(op.refs.length).toBeGreaterThan(0);
      expect(op.edge).not.toBe('');
      for (const [name, s] of Object.entries(op.params)) {
        expect(s.doc, name).toMatch(/\.$/);
        if (s.kind !== 'num') continue;
        expect(s.min <= s.ui[0] && s.ui[1] <= s.max, `${name}: usual range within hard range`).toBe(true);
        expect(s.default >= s.min && s.default <= s.max, `${name}: default within range`).toBe(true);
      }
      expect(vectors.length).toBeGreaterThan(0);
    });

    it('takes what its schema allows and refuses the rest, with a path', () => {
      const validate = new Ajv({ strict: false }).compile(schemaOf(op.params));
      fc.assert(
        fc.property(arbitrary(op), (p) => {
          const stored = JSON.parse(JSON.stringify(p)) as StoredValues;
          expect(validate(stored)).toBe(true);
          expect(resolve(op.params, stored)).toEqual(stored);
        }),
        { numRuns: 30, seed: 1 },
      );
      expect(validate({ nothing: 1 })).toBe(false);
      expect(tryResolve(op.params, { nothing: 1 }).faults[0]?.path).toBe('nothing');
      for (const [name, s] of Object.entries(op.params)) {
        const wrong: StoredValues = { [name]: s.kind === 'num' ? s.max + 1 : 3 };
        expect(validate(wrong), name).toBe(false);
        expect(tryResolve(op.params, wrong).faults[0]?.path).toBe(name);
      }
    });

    it('migrates its own current version to itself and refuses a later one', () => {
      expect(migrateParams(op, op.version, {})).toEqual({});
      expect(() => migrateParams(op, op.version + 1, {})).toThrow(/newer/);
    });

    it.each(vectors as AnyVector[])('gives $out for $in $at with $params ($source)', (v) => {
      const p = { ...defaultsOf(op.params), ...v.params } as V;
      for (const which of ['ts', 'wasm'] as const) {
        const tol = v.tol + (which === 'wasm' ? opts.twinTolerance * 2 : 0);
        if (op.kind === 'shape') {
          const s = v as ShapeVector<ParamSpecs>;
          const row = both.f32(2 ** 18, s.at[0] + 8);
          const block = op.prepare(p, plainContext);
          both.f32(1024, block.length).set(block);
          both[which][`shape_${op.id}`]!(1024, row.byteOffset, 0, s.at[1], s.at[0] + 1);
          expect(Math.abs(row[s.at[0]]! - s.out), which).toBeLessThanOrEqual(tol);
          continue;
        }
        const rgb = op.kind === 'tidy' ? [(v as MatteVector<ParamSpecs>).in] : (v as PixelVector<ParamSpecs>).in;
        const planes = rgb.map((c) => new Float32Array(N).fill(c));
        const got = run(op, both, which, p, planes, undefined, v.context ?? contexts[0]);
        const want =
          op.kind === 'pixel' || op.kind === 'area'
            ? (v as PixelVector<ParamSpecs>).out
            : [(v as KeyVector<ParamSpecs>).out];
        want.forEach((x, c) =>
          expect(Math.abs(got[c]![7]! - x), `${which} channel ${c}: ${got[c]![7]}`).toBeLessThanOrEqual(tol),
        );
      }
    });

    if (isAdjustment(op) || op.kind === 'tidy')
      it('says truly when it changes nothing', () => {
        const p = defaultsOf(op.params);
        expect(op.isNoOp(p)).toBe(true);
        // Whatever says no-op leaves values inside float rounding; the engine skips it, so that not a bit moves.
        const input = picture(3, 0, 1);
        const got = run(op, both, 'ts', p, op.kind === 'tidy' ? [input[0]!] : input, undefined, contexts[0]);
        got
          .slice(0, 3)
          .forEach((g, c) =>
            g.forEach((x, i) => expect(Math.abs(x - input[c]![i]!)).toBeLessThan(opts.noOpTolerance ?? 2e-7)),
          );
        fc.assert(
          fc.property(arbitrary(op), (q) => {
            if (!op.isNoOp(q as V)) return;
            const same = run(op, both, 'ts', q as V, op.kind === 'tidy' ? [input[0]!] : input, undefined, contexts[0]);
            same
              .slice(0, 3)
              .forEach((g, c) => g.forEach((x, i) => expect(Math.abs(x - input[c]![i]!)).toBeLessThan(2e-3)));
          }),
          { numRuns: 30, seed: 2 },
        );
      });

    it('gives the same bits however the picture is cut', () => {
      fc.assert(
        fc.property(
          arbitrary(op),
          fc.integer({ min: 1, max: H - 1 }),
          fc.integer({ min: 5, max: 8 }),
          (q, cut, seed) => {
            const p = q as V;
            const input = given(op, seed, -0.5, 1.5);
            for (const which of ['ts', 'wasm'] as const)
              expect(
                bytes(
                  run(
                    op,
                    both,
                    which,
                    p,
                    input,
                    [
                      [cut, H],
                      [0, cut],
                    ],
                    contexts[0],
                  ),
                ),
              ).toBe(bytes(run(op, both, which, p, input, undefined, contexts[0])));
          },
        ),
        { numRuns: 12, seed: 3, endOnFailure: true },
      );
    });

    it(`has a SIMD twin within ${opts.twinTolerance} (${opts.twinReason})`, () => {
      fc.assert(
        fc.property(arbitrary(op), fc.integer({ min: 1, max: 1e6 }), fc.constantFrom(...contexts), (q, seed, ctx) => {
          let worst = 0;
          const p = q as V;
          const input = given(op, seed, lo, hi);
          const a = run(op, both, 'ts', p, input, undefined, ctx);
          const b = run(op, both, 'wasm', p, input, undefined, ctx);
          a.forEach((plane, c) =>
            plane.forEach((x, i) => {
              const d = Math.abs(x - b[c]![i]!) / Math.max(1, Math.abs(x));
              if (d > worst || Number.isNaN(d)) worst = d;
            }),
          );
          expect(worst).toBeLessThanOrEqual(opts.twinTolerance);
        }),
        { numRuns: 25 + 10 * (contexts.length - 1), seed: 4, endOnFailure: true },
      );
    });

    if (op.kind !== 'shape')
      it('does with NaN and infinity what it says, in both kernels', () => {
        const odd = [NaN, Infinity, -Infinity, 0, 1, -1, 2, 1e-40];
        const p = { ...defaultsOf(op.params), ...(opts.odd ?? (vectors[0] as { params: object }).params) } as V;
        const input = [0, 1, 2].map((c) => Float32Array.from({ length: N }, (_, i) => odd[(i >> (3 * c)) & 7]!));
        const given = op.kind === 'tidy' ? [input[0]!] : input;
        const [a, b] = (['ts', 'wasm'] as const).map((w) => run(op, both, w, p, given, undefined, contexts[0]));
        a!.forEach((plane, c) =>
          plane.forEach((x, i) => {
            const y = b![c]![i]!;
            if (op.kind === 'key') {
              if (input.some((q) => !Number.isFinite(q[i]!))) expect(x).toBe(0);
              expect(Math.abs(x - y)).toBeLessThanOrEqual(1e-5);
            } else if (op.kind === 'tidy' && !op.area) expect(x >= 0 && x <= 1 && x === y).toBe(true);
            else if (Number.isNaN(x)) expect(opts.infinityIsOdd ? !Number.isFinite(y) : Number.isNaN(y)).toBe(true);
            else if (Number.isFinite(x)) expect(Math.abs(x - y)).toBeLessThanOrEqual(1e-5 * Math.max(1, Math.abs(x)));
            else if (opts.infinityIsOdd) expect(Number.isFinite(y)).toBe(false);
            else expect(y).toBe(x);
          }),
        );
      });
  });
}
