import { describe, expect, it } from 'vitest';
import { bothKernels } from '../../../../testkit/bench';
import { opContract } from '../../../../testkit/opContract';
import { rng } from '../../math/rng';
import { plainContext } from '../../op/contract';
import type { TidyFrameOp } from '../../op/contract';
import steady from './index';
import type { params } from './params';
import { vectors } from './vectors';

opContract(steady, vectors, { twinTolerance: 1e-6, twinReason: 'float32 sums in another order' });

const op = steady as unknown as TidyFrameOp<typeof params>;
const [w, h] = [90, 60];
type Picture = Float32Array[];
interface Frame {
  matte: Float32Array;
  picture: Picture;
}
const plane = (f: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: w * h }, (_, i) => f(i % w, Math.floor(i / w)));
const p = { reachFrames: 2, strengthPct: 100, stillPct: 5, rarePct: 100 };

/** The frame asked for first, then the others in the order of their offsets. */
function run(frames: Frame[], params = p): Float32Array {
  const block = op.prepare(params, plainContext);
  const dst = new Float32Array(w * h);
  const all = { src: frames.map((f) => f.matte), dst: [dst], work: [new Float32Array(w * h)] };
  for (const { name } of op.passes(block))
    op.kernels[name]!(block, {
      ...all,
      picture: frames.flatMap((f) => f.picture),
      scratch: new Int32Array(0),
      ...{ w, h, y0: 0, y1: h },
    });
  return dst;
}
async function twin(frames: Frame[], params = p): Promise<Float32Array> {
  const { wasm, memory, f32 } = await bothKernels();
  const block = op.prepare(params, plainContext);
  const [table, first, bytes] = [2 ** 17, 2 ** 19, 4 * w * h];
  const given = [...frames.map((f) => f.matte), null, null, ...frames.flatMap((f) => f.picture)];
  const at = given.map((_, i) => first + i * bytes);
  given.forEach((v, i) => v && f32(at[i]!, w * h).set(v));
  f32(1024, block.length).set(block);
  new Uint32Array(memory.buffer, table, 4 + at.length).set([frames.length, 1, 1, 3 * frames.length, ...at]);
  const scratch = first + given.length * bytes;
  for (const { name } of op.passes(block)) wasm[`frame_steady_${name}`]!(1024, table, scratch, w, h, 0, h);
  return f32(at[frames.length]!, w * h).slice();
}

/** A lit ground with texture; a square of another colour at x; the light by `gain`; the noise of a camera. */
function frameOf(seed: number, { squareX = 30, gain = [1, 1, 1], noise = 0.01, matteNoise = 0.1 } = {}): Frame {
  const texture = rng(99);
  const ground = plane(() => 0.35 + 0.1 * texture());
  const r = rng(seed);
  const inside = (x: number, y: number): boolean => x >= squareX && x < squareX + 20 && y >= 20 && y < 40;
  const colour = [0.7, 0.5, 0.4];
  const picture = [0, 1, 2].map((c) =>
    plane((x, y) => gain[c]! * (inside(x, y) ? colour[c]! : ground[y * w + x]!) + noise * 2 * (r() - 0.5)),
  );
  // As a key would give it: it breathes, and only outside is it nothing.
  const matte = plane((x, y) => (inside(x, y) ? Math.min(1, 0.8 + matteNoise * 2 * (r() - 0.5)) : 0));
  return { matte, picture };
}
const inner = (m: Float32Array, x0 = 32): number[] => {
  const out: number[] = [];
  for (let y = 22; y < 38; y++) for (let x = x0; x < x0 + 16; x++) out.push(m[y * w + x]!);
  return out;
};
const deviation = (v: number[]): number => {
  const mean = v.reduce((a, b) => a + b, 0) / v.length;
  return Math.sqrt(v.reduce((a, b) => a + (b - mean) ** 2, 0) / v.length);
};

describe('a steady matte', () => {
  const frames = [1, 2, 3, 4, 5].map((s) => frameOf(s));

  it('holds still where the picture does: five frames leave less than half of the noise', () => {
    const got = run(frames);
    // Of independent noise the mean of five leaves 1 / sqrt(5), 0.45.
    expect(deviation(inner(got)) / deviation(inner(frames[0]!.matte))).toBeLessThan(0.5);
    expect(deviation(inner(got)) / deviation(inner(frames[0]!.matte))).toBeGreaterThan(0.4);
  });

  it('takes light that flickers and warms for no motion', () => {
    const lit = frames.map((_, i) => frameOf(i + 1, { gain: [1 + 0.06 * i, 1 + 0.04 * i, 1 - 0.03 * i] }));
    expect(deviation(inner(run(lit))) / deviation(inner(lit[0]!.matte))).toBeLessThan(0.55);
  });

  it('trails nothing behind what moves', () => {
    const moving = [0, -2, -1, 1, 2].map((k, i) => frameOf(i + 1, { squareX: 30 + 9 * k, matteNoise: 0 }));
    const got = run(moving);
    // Right at its edges and past them: the matte is the frame's own.
    let touched = 0;
    got.forEach((v, i) => (touched += Math.abs(v - moving[0]!.matte[i]!) > 0.004 ? 1 : 0));
    expect(touched).toBe(0);
    // The check sees it: without a limit the square smears over where it was.
    const blind = run(moving, { ...p, stillPct: 100 });
    expect(blind.filter((v, i) => Math.abs(v - moving[0]!.matte[i]!) > 0.1).length).toBeGreaterThan(100);
  });

  it('keeps what is nothing to the bit, and what agrees', () => {
    const got = run(frames);
    got.forEach((v, i) => {
      if (frames[0]!.matte[i] === 0) expect(v).toBe(0);
    });
    const alike = frames.map((f) => ({ ...f, matte: frames[0]!.matte }));
    expect(Buffer.compare(Buffer.from(run(alike).buffer), Buffer.from(frames[0]!.matte.buffer))).toBe(0);
  });

  it('what is there on fewer than half of the frames fades; on half or more it stays', async () => {
    const still = [1, 2, 3, 4, 5].map((s) => ({ ...frameOf(s, { noise: 0 }), matte: plane(() => 1) }));
    // Present, one before, one after, two before, two after.
    const without = (...gone: number[]): Frame[] =>
      still.map((f, i) => (gone.includes(i) ? { ...f, matte: plane(() => 0) } : f));
    const of = (m: Float32Array): number => m[30 * w + 60]!;
    const [most, few] = [without(1, 2), without(1, 2, 4)];
    expect(of(run(most))).toBeCloseTo(3 / 5, 6);
    expect(of(run(few))).toBeCloseTo((2 / 5) * (4 / 5) ** 4, 6);
    expect(of(run(few, { ...p, rarePct: 0 }))).toBeCloseTo(2 / 5, 6);
    expect(of(run(few, { ...p, rarePct: 50 }))).toBeCloseTo(0.2 * (1 + (4 / 5) ** 4), 6);
    for (const q of [p, { ...p, rarePct: 0 }, { ...p, rarePct: 50 }])
      for (const frames of [most, few]) expect(of(await twin(frames, q))).toBeCloseTo(of(run(frames, q)), 6);
    // What is only thin is not empty, and a matte that is whole stays whole.
    const thin = few.map((f, i) => ([1, 2, 4].includes(i) ? { ...f, matte: plane(() => 0.001) } : f));
    expect(of(run(thin))).toBeCloseTo(0.4006, 6);
    expect(of(run(still))).toBe(1);
    // Made before there was a choice.
    const old = op.migrations.find((m) => m.from === 1)!.up({ reachFrames: 2 });
    expect(old).toEqual({ reachFrames: 2, rarePct: 0 });
  });

  it('goes no further than its strength, and gives a frame of NaN no say', () => {
    const half = run(frames, { ...p, strengthPct: 50 });
    const all = run(frames);
    const own = frames[0]!.matte;
    half.forEach((v, i) => expect(v).toBeCloseTo((own[i]! + all[i]!) / 2, 6));
    const broken = [
      frames[0]!,
      ...frames.slice(1).map((f) => ({ ...f, picture: f.picture.map((c) => c.map(() => NaN)) })),
    ];
    run(broken).forEach((v, i) => expect(v).toBe(own[i]));
  });

  it('has a twin that agrees over several frames', async () => {
    const some = [0, -2, -1, 1, 2].map((k, i) => frameOf(i + 1, { squareX: 30 + k, gain: [1 + 0.03 * i, 1, 1] }));
    for (const set of [frames, some]) {
      const [a, b] = [run(set), await twin(set)];
      let worst = 0;
      a.forEach((v, i) => (worst = Math.max(worst, Math.abs(v - b[i]!))));
      expect(worst).toBeLessThan(2e-6);
      expect(a.some((v, i) => v !== set[0]!.matte[i])).toBe(true);
    }
  });
});
