/**
 * Runs steps over a picture, stage by stage, each stage in row bands and cached by what it depends on. Moving a
 * correction's slider renews only its last stage; moving a shape never renews a key.
 */
import { ops } from '../core/ops/registry.gen';
import { CONVERSION_ID } from '../core/graph/plan';
import type { BlockStep, Step, TidyStep } from '../core/graph/plan';
import type { AreaOp, KeyFrameOp, Pass, TidyFrameOp } from '../core/op/contract';
import type { OutsideMatte, RegionStep } from '../core/graph/region';
import { GROUPS, SCOPE_SIZE } from '../core/scopes/reduce';
import type { Box } from '../core/skin/reading';
import { yuvBlock } from '../core/color/yuv';
import type { YuvMeaning, YuvPlanes } from '../core/color/yuv';
import { lightGains, lightOf } from '../core/matte/keyLight';
import type { LightGains } from '../core/matte/keyLight';
import { overFrames } from '../core/matte/quietTime';
import type { Rgb as Seen } from '../core/matte/quietTime';
import type { Arena, Plane, Views } from './memory';
import type { Pool } from './pool';
import { scratchBytes } from './tasks';
import type { Rgb } from './tasks';

export interface Planes extends Rgb {
  w: number;
  h: number;
  /** What the planes depend on: equal keys, equal bits. */
  key: string;
}
export interface Matte {
  at: Plane;
  key: string;
}
export interface StepResult {
  id: string;
  /** What the correction starts from. */
  input: Planes;
  /** What it makes of that, by itself. */
  own: Planes;
  /** The picture after it, with what stands beside it added. */
  out: Planes;
  /** Null: the whole picture. */
  matte: Matte | null;
  /** The region before tidying, for the same picture; null for the whole picture. */
  region: Matte | null;
}
export interface Result {
  source: Planes;
  out: Planes;
  steps: Map<string, StepResult>;
}

/** Another frame of the same shot, `offset` frames on: null where there is none. */
export type FrameAt = (offset: number) => Promise<{ source: Planes; steps: readonly Step[] } | null>;
/** A matte that was made elsewhere, at the size and place of a run's planes, `offset` frames on. */
export type OutsideAt = (offset: number, of: OutsideMatte) => Promise<Matte>;
/** The same shot at full size, for a run over a smaller copy of it; `frame(0)` is the frame of the run. */
interface Whole {
  frame: FrameAt;
  outside: OutsideAt;
}
/** What a run knows while it goes on. */
interface Run {
  steps: ReadonlyMap<string, Step>;
  results: ReadonlyMap<string, StepResult>;
  origin: readonly [number, number];
  frame: FrameAt;
  outside: OutsideAt;
  whole: Whole | null;
  /** The shot's picture without any correction, as it is on a step's side of the conversion. */
  base(s: Step): Promise<Planes>;
}
const noFrame: FrameAt = () => Promise.resolve(null);
const noOutside: OutsideAt = () => Promise.reject(new Error('Nobody gives mattes from outside to this run'));

export interface RunOptions {
  focus?: string;
  origin?: readonly [number, number];
  frame?: FrameAt;
  outside?: OutsideAt;
  /** Keys that look at the whole frame are found there, once for all sizes that are looked at. */
  whole?: Whole | null;
}
/** What a run over another frame is given, so many frames on. */
const onFrom = (run: Run, offset: number): RunOptions => {
  const shifted = ({ frame, outside }: Whole): Whole => ({
    frame: (o) => frame(offset + o),
    outside: (o, of) => outside(offset + o, of),
  });
  return { origin: run.origin, ...shifted(run), whole: run.whole && shifted(run.whole) };
};

const isFrameKey = (t: RegionStep): boolean => {
  if (t.do !== 'key') return false;
  const op = ops[t.step.opIndex]!;
  return op.kind === 'key' && op.area === 'frame';
};
/** Of planes that are a window of the picture, as part of a key. */
const placeOf = (at: readonly [number, number]): string => (at[0] || at[1] ? `@${at[0]},${at[1]}` : '');

/** Thrown between stages when newer work has been asked for. */
export class Stale extends Error {
  override name = 'Stale';
}

export interface ScopeQuery {
  matte: Matte | null;
  /** 1: where the matte is above one half; 2: the rest. */
  mode: 1 | 2;
  /** Part of the planes, in whole pixels; null: all. */
  box: Box | null;
  bits: number;
  range: number;
  stride: number;
  skinLineDeg: number;
}

interface Entry {
  at: Plane[];
  bytes: number;
}
/**
 * Stages in the order of their last use. Small ones (drafts, thumbnails) and large ones are kept apart: a drag makes
 * hundreds of
 * small ones, which must neither push out a final nor walk through fresh memory instead of reusing what is warm.
 */
interface Shelf {
  entries: Map<string, Entry>;
  held: number;
  budget: number;
}
/**
 * What is kept of large stages follows what work touches: half as much again as the most of the last pieces of work.
 * Of a clip that plays, frames that have passed are not kept until there is no room.
 */
const LEAST_BUDGET = 128 * 2 ** 20;
const SPARE = 1.5;
const RECENT = 16;
const SMALL_BYTES = 8 * 2 ** 20;
const SMALL_BUDGET = 96 * 2 ** 20;
/** Letters of long keys that have short names: some thousands of stages. */
export const NAME_BYTES = 2 ** 20;

export class Evaluator {
  private readonly small: Shelf = { entries: new Map(), held: 0, budget: SMALL_BUDGET };
  private readonly large: Shelf;
  private names = new Map<string, string>();
  private named = 0;
  private nameBytes = 0;
  private pinned = new Set<string>();
  /** Bytes of large stages that each of the last pieces of work touched. */
  private touched: number[] = [];
  /** How many stages were computed rather than found; tests and the benchmark read it. */
  computed: string[] = [];

  constructor(
    readonly arena: Arena,
    readonly pool: Pool,
    /** Bytes of cached planes to keep, at most. */
    private readonly most: number,
    /** Throws Stale when the work is no longer wanted. */
    public check: () => void = () => {},
    /** Told before a stage: for how many milliseconds nothing may be heard. */
    private readonly quiet: (ms: number) => void = () => {},
  ) {
    this.large = { entries: new Map(), held: 0, budget: most };
  }

  /** Short names for long keys: a key names its inputs' keys, and would double with every correction. */
  private short(key: string): string {
    let s = this.names.get(key);
    if (s) {
      // Most recently used last.
      this.names.delete(key);
      this.names.set(key, s);
      return s;
    }
    this.names.set(key, (s = `#${this.named++}`));
    this.nameBytes += key.length;
    // A name that is forgotten comes back as another one: what was kept under it is computed again.
    for (const k of this.names.keys()) {
      if (this.nameBytes <= NAME_BYTES || k === key) break;
      this.names.delete(k);
      this.nameBytes -= k.length;
    }
    return s;
  }
  /** Letters and numbers of names and stages that are kept, for tests. */
  held(): { names: number; nameBytes: number; bytes: number } {
    return { names: this.names.size, nameBytes: this.nameBytes, bytes: this.small.held + this.large.held };
  }

  /** Scratch for every thread, enough for planes (or a view) of this size. */
  ensureScratch(w: number, h: number): void {
    this.pool.ensureScratch(scratchBytes(w, h));
  }
  /** Cached buffers for `key`, filled by `fill` when new. */
  private async stage(key: string, sizes: number[], fill: (at: Plane[]) => Promise<unknown> | void): Promise<Plane[]> {
    const bytes = sizes.reduce((a, b) => a + b, 0);
    const shelf = bytes <= SMALL_BYTES ? this.small : this.large;
    this.pinned.add(key);
    const hit = shelf.entries.get(key);
    if (hit) {
      shelf.entries.delete(key);
      shelf.entries.set(key, hit);
      return hit.at;
    }
    this.check();
    this.makeRoom(shelf, bytes);
    const at: Plane[] = [];
    try {
      for (const s of sizes) at.push(this.arena.alloc(s));
      // A stage counts when it is done: twenty seconds for the largest picture, nothing to speak of for usual ones.
      this.quiet(bytes / 40_000);
      await fill(at);
    } catch (e) {
      at.forEach((a) => this.arena.release(a));
      throw e;
    }
    shelf.entries.set(key, { at, bytes });
    shelf.held += bytes;
    this.computed.push(key.slice(0, key.indexOf('|') < 0 ? undefined : key.indexOf('|')));
    return at;
  }

  /** Drops what was used longest ago; what the present work has touched stays. */
  private makeRoom(shelf: Shelf, bytes: number): void {
    for (const [key, e] of shelf.entries) {
      if (shelf.held + bytes <= shelf.budget) return;
      if (this.pinned.has(key)) continue;
      e.at.forEach((a) => this.arena.release(a));
      shelf.entries.delete(key);
      shelf.held -= e.bytes;
    }
  }

  /** Marks the beginning of a piece of work: what it touches is not thrown out before the next begins. */
  begin(): void {
    let touched = 0;
    for (const key of this.pinned) touched += this.large.entries.get(key)?.bytes ?? 0;
    this.touched = [...this.touched.slice(1 - RECENT), touched];
    this.large.budget = Math.min(this.most, Math.max(LEAST_BUDGET, SPARE * Math.max(...this.touched)));
    this.pinned.clear();
    this.computed = [];
  }

  /** Planes of a picture, filled by the caller. */
  async load(
    key: string,
    w: number,
    h: number,
    fill: (r: Float32Array, g: Float32Array, b: Float32Array) => void,
  ): Promise<Planes> {
    this.ensureScratch(w, h);
    const n = w * h;
    const [r, g, b] = await this.stage(`source|${key}`, [n * 4, n * 4, n * 4], (at) =>
      this.arena.look((v) => fill(v.f32(at[0]!, n), v.f32(at[1]!, n), v.f32(at[2]!, n))),
    );
    return { r: r!, g: g!, b: b!, w, h, key: this.short(`source|${key}`) };
  }
  /**
   * Planes of an interleaved picture as its file gave it: whole numbers of 1 or 2 bytes, or floats, times `scale`. The
   * numbers go into memory as they are and are taken apart there.
   */
  async loadPicture(
    key: string,
    w: number,
    h: number,
    rgb: Uint8Array | Uint8ClampedArray | Uint16Array | Float32Array,
    scale: number,
  ): Promise<Planes> {
    this.ensureScratch(w, h);
    const n = w * h * 4;
    const [r, g, b] = await this.stage(`source|${key}`, [n, n, n], async ([r, g, b]) => {
      const from = this.arena.alloc(rgb.byteLength);
      try {
        this.arena.look((v) =>
          v.u8(from, rgb.byteLength).set(new Uint8Array(rgb.buffer, rgb.byteOffset, rgb.byteLength)),
        );
        const bytes = rgb.BYTES_PER_ELEMENT as 1 | 2 | 4;
        await this.pool.run({ do: 'planar', w, h, from, bytes, scale, to: { r: r!, g: g!, b: b! } });
      } finally {
        this.arena.release(from);
      }
    });
    return { r: r!, g: g!, b: b!, w, h, key: this.short(`source|${key}`) };
  }

  /** Planes of a clip's frame: its codes go into memory as they are and become R'G'B' there. */
  async loadYuv(key: string, w: number, h: number, p: YuvPlanes, meaning: YuvMeaning): Promise<Planes> {
    this.ensureScratch(w, h);
    const n = w * h * 4;
    const [r, g, b] = await this.stage(`source|${key}`, [n, n, n], async ([r, g, b]) => {
      const codes = [p.y, p.u, p.v];
      const at = codes.map((c) => this.arena.alloc(c.byteLength)) as [Plane, Plane, Plane];
      try {
        this.arena.look((v) =>
          codes.forEach((c, i) => v.u8(at[i]!, c.byteLength).set(new Uint8Array(c.buffer, c.byteOffset, c.byteLength))),
        );
        const { subX, subY } = p;
        const [cw, ch] = [Math.ceil(w / subX), Math.ceil(h / subY)];
        await this.pool.run({
          do: 'yuv',
          w,
          h,
          y: at[0],
          u: at[1],
          v: at[2],
          bytes: p.y.BYTES_PER_ELEMENT as 1 | 2,
          cw,
          ch,
          subX,
          subY,
          siting: meaning.siting,
          gbr: meaning.matrix === 'rgb',
          block: yuvBlock(meaning, p.bits),
          to: { r: r!, g: g!, b: b! },
        });
      } finally {
        at.forEach((a) => this.arena.release(a));
      }
    });
    return { r: r!, g: g!, b: b!, w, h, key: this.short(`source|${key}`) };
  }

  /** The same planes at half the size. */
  async halvePlanes(p: Planes): Promise<Planes> {
    const w = (p.w + 1) >> 1;
    const h = (p.h + 1) >> 1;
    const [r, g, b] = await this.stage(`half|${p.key}`, [w * h * 4, w * h * 4, w * h * 4], async (at) => {
      for (const [i, from] of [p.r, p.g, p.b].entries())
        await this.pool.run({ do: 'halve', w: p.w, h: p.h, from, to: at[i]! });
    });
    return { r: r!, g: g!, b: b!, w, h, key: this.short(`half|${p.key}`) };
  }
  /** The same planes at another size, from a half to all of it. */
  async resizePlanes(p: Planes, w: number, h: number): Promise<Planes> {
    if (p.w === w && p.h === h) return p;
    const key = `resize|${p.key}|${w}x${h}`;
    const n = w * h * 4;
    const [r, g, b] = await this.stage(key, [n, n, n], async (at) => {
      for (const [i, from] of [p.r, p.g, p.b].entries())
        await this.pool.run({ do: 'resize', sw: p.w, sh: p.h, from, dw: w, dh: h, to: at[i]! });
    });
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }
  /** A picture in the middle of a larger frame, black about it. */
  async placed(p: Planes, w: number, h: number): Promise<Planes> {
    if (p.w === w && p.h === h) return p;
    const key = `placed|${p.key}|${w}x${h}`;
    const n = w * h * 4;
    const [left, top] = [(w - p.w) >> 1, (h - p.h) >> 1];
    const [r, g, b] = await this.stage(key, [n, n, n], (at) => {
      this.arena.look((v) => {
        for (const [i, from] of [p.r, p.g, p.b].entries()) {
          const to = v.f32(at[i]!, w * h).fill(0);
          const src = v.f32(from, p.w * p.h);
          for (let y = 0; y < p.h; y++) to.set(src.subarray(y * p.w, (y + 1) * p.w), (y + top) * w + left);
        }
      });
      return Promise.resolve();
    });
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }
  async halveMatte(m: Matte, w: number, h: number): Promise<Matte> {
    const hw = (w + 1) >> 1;
    const hh = (h + 1) >> 1;
    const [at] = await this.stage(`half|${m.key}`, [hw * hh * 4], (a) =>
      this.pool.run({ do: 'halve', w, h, from: m.at, to: a[0]! }),
    );
    return { at: at!, key: this.short(`half|${m.key}`) };
  }

  /** A copy of a picture with less noise, for keys alone. */
  async quieter(p: Planes, use: BlockStep): Promise<Planes> {
    const op = ops[use.opIndex]!;
    if (op.kind !== 'area') throw new Error(`${op.id} is no area adjustment`);
    const { w, h } = p;
    const key = `quiet|${p.key}|${op.id}:${use.name}`;
    const n = w * h * 4;
    const [r, g, b] = await this.stage(key, [n, n, n], (dst) =>
      this.passes(op, use, w, h, { src: [p.r, p.g, p.b], dst, picture: [] }),
    );
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }
  /** What brings a picture to the light that a key was made in. */
  lightHere(p: Planes, made: readonly number[]): LightGains {
    const n = p.w * p.h;
    return this.arena.look((v) =>
      lightGains(made, lightOf({ r: v.f32(p.r, n), g: v.f32(p.g, n), b: v.f32(p.b, n) }, p.w, p.h)),
    );
  }
  /** A copy of a picture in the light that a key was made in, for that key alone. */
  async inLight(p: Planes, made: readonly number[]): Promise<Planes> {
    const { gains } = this.lightHere(p, made);
    if (gains.every((g) => g === 1)) return p;
    const { w, h } = p;
    const key = `light|${p.key}|${gains.join(' ')}`;
    const n = w * h * 4;
    const [r, g, b] = await this.stage(key, [n, n, n], (at) => {
      this.quiet((w * h) / 100_000);
      this.arena.look((v) => {
        for (const [c, from] of [p.r, p.g, p.b].entries()) {
          const [src, to, gain] = [v.f32(from, w * h), v.f32(at[c]!, w * h), gains[c]!];
          for (let i = 0; i < to.length; i++) to[i] = gain * src[i]!;
        }
      });
      return Promise.resolve();
    });
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }
  /** The same after what the frames beside it show of the same places was taken in. */
  private async overTime(p: Planes, others: readonly Planes[]): Promise<Planes> {
    if (others.length === 0) return p;
    const { w, h } = p;
    const n = w * h * 4;
    const key = `overFrames|${[p, ...others].map((x) => x.key).join(' ')}`;
    const [r, g, b] = await this.stage(key, [n, n, n], ([r, g, b]) => {
      const seen = (v: Views, x: Planes): Seen => ({
        r: v.f32(x.r, w * h),
        g: v.f32(x.g, w * h),
        b: v.f32(x.b, w * h),
      });
      this.quiet(((w * h) / 2000) * others.length);
      this.arena.look((v) =>
        overFrames(
          seen(v, p),
          others.map((x) => seen(v, x)),
          w,
          h,
          seen(v, { r: r!, g: g!, b: b!, w, h, key }),
          () => this.check(),
        ),
      );
    });
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }
  /** What a key of a step sees on the frames about the present one, those that there are. */
  private async seenAround(step: Step, base: boolean, frames: number, run: Run): Promise<Planes[]> {
    const out: Planes[] = [];
    for (let k = 1; k <= frames; k++)
      for (const offset of [-k, k]) {
        const other = await run.frame(offset);
        if (!other) continue;
        const { res, run: there } = await this.go(other.source, other.steps, {
          ...onFrom(run, offset),
          ...{ upTo: step.id, startOnly: true },
        });
        const same = there.steps.get(step.id);
        const start = res.steps.get(step.id);
        if (same && start) out.push(base ? await there.base(same) : start.input);
      }
    return out;
  }
  /** One key or shape over a picture. */
  private async part(
    t: Pick<Extract<RegionStep, { do: 'key' }>, 'do' | 'step' | 'within'> | Extract<RegionStep, { do: 'shape' }>,
    input: Planes,
    at: readonly [number, number],
  ): Promise<Matte> {
    const { w, h } = input;
    const place = placeOf(at);
    const op = ops[t.step.opIndex]!;
    const from = t.do === 'key' ? input.key : `${w}x${h}${place}`;
    if (t.do === 'key' && op.kind === 'key' && op.area === 'frame') {
      const within: Matte[] = [];
      for (const step of t.within) within.push(await this.part({ do: 'shape', step }, input, at));
      const key = `key|${[from, ...within.map((m) => m.key)].join(' ')}|${op.id}:${t.step.name}`;
      const [plane] = await this.stage(key, [w * h * 4], (to) =>
        this.passes(op, t.step, w, h, {
          src: within.map((m) => m.at),
          dst: to,
          picture: [input.r, input.g, input.b],
        }),
      );
      return { at: plane!, key: this.short(key) };
    }
    const key = `${t.do}|${from}|${op.id}:${t.step.name}`;
    const [plane] = await this.stage(key, [w * h * 4], ([to]) =>
      this.pool.run(
        t.do === 'key'
          ? { do: 'key', w, h, from: input, to: to!, use: t.step }
          : { do: 'shape', w, h, to: to!, use: t.step, x: at[0], y: at[1] },
      ),
    );
    return { at: plane!, key: this.short(key) };
  }

  /** A part of a region by itself; null for what only joins parts. */
  private async leaf(t: RegionStep, step: Step, input: Planes, run: Run): Promise<Matte | null> {
    if (t.do === 'key') {
      let seen = t.base ? await run.base(step) : input;
      const lit = (p: Planes): Promise<Planes> | Planes => (t.light ? this.inLight(p, t.light) : p);
      seen = await lit(seen);
      if (t.quietFrames > 0) {
        const others = await this.seenAround(step, t.base, t.quietFrames, run);
        seen = await this.overTime(seen, await Promise.all(others.map(lit)));
      }
      return this.part(t, t.quiet ? await this.quieter(seen, t.quiet) : seen, run.origin);
    }
    if (t.do === 'shape') return this.part(t, input, run.origin);
    if (t.do === 'of') return this.linked(t.id, input, run);
    return t.do === 'matte' ? run.outside(0, t) : null;
  }
  /**
   * A key that looks at the whole frame takes long, and finds a little else on each copy of it: it is found on the
   * picture itself, and brought to the size that is looked at. The k-th part of the region.
   */
  private async ofWhole(step: Step, k: number, input: Planes, whole: Whole): Promise<Matte | null> {
    const full = await whole.frame(0);
    if (!full) return null;
    this.ensureScratch(full.source.w, full.source.h);
    const there = full.steps.find((s) => s.id === step.id);
    const t = there?.region[k];
    if (!there || !t) return null;
    const start = async (): Promise<{ from: Planes; run: Run }> => {
      const { res, run } = await this.go(full.source, full.steps, { ...whole, upTo: step.id, startOnly: true });
      return { from: res.steps.get(step.id)!.input, run };
    };
    // What the corrections before it make at full size is not asked for where it reads none of that.
    const { from, run } =
      t.do === 'key' && t.base ? { from: full.source, run: this.runOf(full.source, full.steps, whole) } : await start();
    const found = await this.leaf(t, there, from, run);
    return found && this.brought(found, from, input);
  }
  /** A matte made smaller, as pictures are. */
  private async brought(m: Matte, from: { w: number; h: number }, { w, h }: { w: number; h: number }): Promise<Matte> {
    let at = m;
    let [fw, fh] = [from.w, from.h];
    for (; (fw + 1) >> 1 >= w && (fh + 1) >> 1 >= h; [fw, fh] = [(fw + 1) >> 1, (fh + 1) >> 1])
      at = await this.halveMatte(at, fw, fh);
    if (fw === w && fh === h) return at;
    const key = `resize|${at.key}|${w}x${h}`;
    const [plane] = await this.stage(key, [w * h * 4], (to) =>
      this.pool.run({ do: 'resize', sw: fw, sh: fh, from: at.at, dw: w, dh: h, to: to[0]! }),
    );
    return { at: plane!, key: this.short(key) };
  }

  /**
   * A step's region over a picture: the parts first, each kept by itself, then the program over their planes in one
   * stage. Not is only noted until somebody needs the plane.
   */
  private async region(step: Step, input: Planes, run: Run): Promise<Matte> {
    const leaves: Matte[] = [];
    for (const [k, t] of step.region.entries()) {
      const leaf = run.whole && isFrameKey(t) ? await this.ofWhole(step, k, input, run.whole) : null;
      const found = leaf ?? (await this.leaf(t, step, input, run));
      if (found) leaves.push(found);
    }
    const isLeaf = (t: RegionStep): boolean => 'step' in t || t.do === 'of' || t.do === 'matte';
    if (step.region.length === 1) return leaves[0]!;
    let next = 0;
    const spelt = step.region.map((t) => (isLeaf(t) ? leaves[next++]!.key : t.do));
    const key = `region|${spelt.join(' ')}`;
    const { w, h } = input;
    const [at] = await this.stage(key, [w * h * 4], async (to) => {
      // Operands by their depth on the stack: each depth has one plane that it may write to, the lowest the result's.
      const own = [to[0]!];
      const stack: { at: Plane; not: boolean }[] = [];
      const write = async (
        depth: number,
        a: Plane,
        b: Plane,
        how: 'and' | 'or' | 'take',
        not: boolean,
      ): Promise<Plane> => {
        if (own[depth] === undefined) own[depth] = this.arena.alloc(w * h * 4);
        await this.pool.run({ do: 'join', w, h, a, b, how, not, to: own[depth] });
        return own[depth];
      };
      try {
        next = 0;
        for (const t of step.region) {
          if (isLeaf(t)) stack.push({ at: leaves[next++]!.at, not: false });
          else if (t.do === 'not') stack.push({ ...stack.at(-1)!, not: !stack.pop()!.not });
          else if (t.do === 'and' || t.do === 'or') {
            const right = stack.pop()!;
            const left = stack.pop()!;
            const depth = stack.length;
            if (left.not) left.at = await write(depth, left.at, left.at, 'take', true);
            stack.push({ at: await write(depth, left.at, right.at, t.do, right.not), not: false });
          }
        }
        const last = stack[0]!;
        if (last.not || last.at !== to[0]) await write(0, last.at, last.at, 'take', last.not);
      } finally {
        own.slice(1).forEach((x) => x !== undefined && this.arena.release(x));
      }
    });
    return { at: at!, key: this.short(key) };
  }

  /**
   * The tidied matte of another correction: on what that one starts from where it stands before, on the picture here
   * where it stands after.
   */
  private async linked(id: string, input: Planes, run: Run): Promise<Matte> {
    const step = run.steps.get(id);
    if (!step) throw new RangeError(`A region rests on the correction ${id}, which is not there`);
    if (step.region.length === 0)
      return this.plane(`all|${input.w}x${input.h}`, input.w, input.h, (p) => void p.fill(1));
    const on = run.results.get(id)?.input ?? input;
    return this.tidy(step, await this.region(step, on, run), on, run);
  }

  /** The first `most` tidy steps over a region. */
  private async tidy(step: Step, region: Matte, input: Planes, run: Run, most = step.tidy.length): Promise<Matte> {
    const { w, h } = input;
    let m = region;
    for (const [i, t] of step.tidy.slice(0, most).entries()) {
      const op = ops[t.opIndex]!;
      if (op.kind !== 'tidy') throw new Error(`${op.id} is not a tidy step`);
      const from = m;
      if (op.area === 'frame') {
        m = await this.tidyFrame(op, step, i, from, input, run);
        continue;
      }
      const [left, top] = run.origin;
      const key = `tidy|${m.key}|${op.id}:${t.name}${placeOf(run.origin)}`;
      const [at] = await this.stage(key, [w * h * 4], async (a) => {
        if (!op.area) {
          await this.pool.run({ do: 'tidyPoint', w, h, from: from.at, to: a[0]!, use: t });
          return;
        }
        const passes = op.passes(t.block);
        const spare = passes.length > 1 ? this.arena.alloc(w * h * 4) : null;
        try {
          // The last pass must land in a[0]: count back from it.
          let src = from.at;
          for (const [i, pass] of passes.entries()) {
            this.check();
            const dst = (passes.length - 1 - i) % 2 === 0 ? a[0]! : spare!;
            await this.pool.run({ do: 'tidyArea', w, h, left, top, from: src, to: dst, use: t, pass });
            src = dst;
          }
        } finally {
          if (spare !== null) this.arena.release(spare);
        }
      });
      m = { at: at!, key: this.short(key) };
    }
    return m;
  }
  /** A tidy step over whole planes: of this frame, and of others where it asks for them. */
  private async tidyFrame(
    op: TidyFrameOp,
    step: Step,
    k: number,
    from: Matte,
    input: Planes,
    run: Run,
  ): Promise<Matte> {
    const t: TidyStep = step.tidy[k]!;
    const { w, h } = input;
    const mattes = [from];
    const pictures = [input];
    for (const offset of t.frames) {
      const other = await this.otherFrame(step.id, k, offset, run);
      // Beyond the ends of a shot the frame itself stands in.
      mattes.push(other?.matte ?? from);
      pictures.push(other?.input ?? input);
    }
    const read = op.readsPicture ? pictures : [];
    const key = `tidy|${[...mattes, ...read].map((x) => x.key).join(' ')}|${op.id}:${t.name}`;
    const [at] = await this.stage(key, [w * h * 4], (a) =>
      this.passes(op, t, w, h, {
        src: mattes.map((m) => m.at),
        dst: a,
        picture: read.flatMap((p) => [p.r, p.g, p.b]),
      }),
    );
    return { at: at!, key: this.short(key) };
  }
  /** What a tidy step is given on another frame: the picture and the matte as it stands before that step. */
  private async otherFrame(
    id: string,
    k: number,
    offset: number,
    run: Run,
  ): Promise<{ input: Planes; matte: Matte } | null> {
    const other = await run.frame(offset);
    if (!other) return null;
    // Its own neighbours are counted from there.
    const { res, run: there } = await this.go(other.source, other.steps, { ...onFrom(run, offset), upTo: id });
    const s = res.steps.get(id);
    const step = there.steps.get(id);
    if (!s?.region || !step) return null;
    return { input: s.input, matte: await this.tidy(step, s.region, s.input, there, k) };
  }
  private async passes(
    op: AreaOp | TidyFrameOp | KeyFrameOp,
    use: BlockStep,
    w: number,
    h: number,
    planes: { src: Plane[]; dst: Plane[]; picture: Plane[] },
  ): Promise<void> {
    const work: Plane[] = [];
    try {
      const spare = typeof op.workPlanes === 'number' ? op.workPlanes : op.workPlanes(w, h);
      for (let i = 0; i < spare; i++) work.push(this.arena.alloc(w * h * 4));
      for (const pass of op.passes(use.block)) {
        this.check();
        // What one thread does in one go does not count while it works.
        if (pass.whole || pass.pieces) this.quiet((w * h) / 1000 + (pass.slowMs ?? 0));
        await this.pool.run({ do: 'framePass', w, h, ...planes, work, use, pass: pass satisfies Pass });
      }
    } finally {
      work.forEach((p) => this.arena.release(p));
    }
  }

  /**
   * Runs the steps over a picture. `focus` names a step whose matte is wanted even when the step changes nothing.
   * `origin` is where the planes lie in the picture, for a window of it; `frame` gives other frames of the shot.
   */
  async run(source: Planes, steps: readonly Step[], opts: RunOptions = {}): Promise<Result> {
    return (await this.go(source, steps, opts)).res;
  }
  private runOf(
    source: Planes,
    steps: readonly Step[],
    opts: RunOptions,
    results: ReadonlyMap<string, StepResult> = new Map(),
  ): Run {
    const at = steps.findIndex((s) => s.id === CONVERSION_ID);
    return {
      steps: new Map(steps.map((s) => [s.id, s])),
      results,
      origin: opts.origin ?? [0, 0],
      frame: opts.frame ?? noFrame,
      outside: opts.outside ?? noOutside,
      whole: opts.whole ?? null,
      base: async (s) => (steps.indexOf(s) < at || at < 0 ? source : this.act(steps[at]!, source, null)),
    };
  }
  /** `upTo`: of this step only the start and the region are wanted (`startOnly`: not the region), and nothing after. */
  private async go(
    source: Planes,
    steps: readonly Step[],
    opts: RunOptions & { upTo?: string; startOnly?: boolean },
  ): Promise<{ res: Result; run: Run }> {
    this.ensureScratch(source.w, source.h);
    const results = new Map<string, StepResult>();
    const run = this.runOf(source, steps, opts, results);
    let cur = source;
    // What the present group of corrections starts from.
    let start = source;
    for (const step of steps) {
      if (!step.beside) start = cur;
      let matte: Matte | null = null;
      let region: Matte | null = null;
      const last = step.id === opts.upTo;
      const wanted = step.on || last || step.id === opts.focus;
      if (step.region.length > 0 && wanted && !(last && opts.startOnly)) {
        region = await this.region(step, start, run);
        if (!last) matte = await this.tidy(step, region, start, run);
      }
      const own = step.on && !last ? await this.act(step, start, matte) : start;
      if (step.on && !last) cur = cur === start ? own : await this.sum(start, cur, own);
      results.set(step.id, { id: step.id, input: start, own, out: cur, matte, region });
      if (last) break;
    }
    return { res: { source, out: cur, steps: results }, run };
  }

  /** A step's own result: its adjustments, limited by the matte. */
  private async act(step: Step, input: Planes, matte: Matte | null): Promise<Planes> {
    if (step.unmix && matte) {
      // What is changed of the thing alone goes onto the pixel as it is: what lies behind it stays.
      const { alone, by } = await this.unmixed(step.unmix, input, matte);
      return this.sum(alone, input, await this.act({ ...step, unmix: null }, alone, by));
    }
    const { w, h } = input;
    // An area adjustment looks at whole neighbours: the chain before it runs over the whole picture, and only what
    // follows the last one is limited.
    const cut = step.chain.findLastIndex((s) => ops[s.opIndex]!.kind === 'area') + 1;
    const from = cut > 0 ? await this.segments(step.chain.slice(0, cut), input) : input;
    const uses = step.chain.slice(cut);
    const key = `out|${input.key}|${matte?.key ?? '1'}|${step.chainKey}`;
    const n = w * h * 4;
    const [r, g, b] = await this.stage(key, [n, n, n], ([r, g, b]) =>
      this.pool.run({
        do: 'chain',
        w,
        h,
        base: input,
        from,
        to: { r: r!, g: g!, b: b! },
        matte: matte?.at ?? null,
        mix: step.mix,
        uses,
      }),
    );
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }
  /** The picture with the colours of the thing alone along the edge of a matte, and what of that is the thing's. */
  private async unmixed(use: BlockStep, input: Planes, matte: Matte): Promise<{ alone: Planes; by: Matte }> {
    const op = ops[use.opIndex]!;
    if (op.kind !== 'area') throw new Error(`${op.id} is no area adjustment`);
    const { w, h } = input;
    const key = `unmix|${input.key}|${matte.key}|${op.id}:${use.name}`;
    const n = w * h * 4;
    const [r, g, b, m] = await this.stage(key, [n, n, n, n], (dst) =>
      this.passes(op, use, w, h, { src: [input.r, input.g, input.b], dst, picture: [matte.at] }),
    );
    const short = this.short(key);
    return { alone: { r: r!, g: g!, b: b!, w, h, key: short }, by: { at: m!, key: `${short}m` } };
  }
  /** A chain that ends with an area adjustment, in full: pieces of pixel adjustments and areas in turn, each kept. */
  private async segments(chain: readonly BlockStep[], input: Planes): Promise<Planes> {
    const { w, h } = input;
    const n = w * h * 4;
    let cur = input;
    for (let i = 0; i < chain.length;) {
      let end = i;
      while (ops[chain[end]!.opIndex]!.kind !== 'area') end++;
      const uses = chain.slice(i, Math.max(end, i + 1));
      const op = ops[uses[0]!.opIndex]!;
      const from = cur;
      const spelt = uses.map((u) => `${ops[u.opIndex]!.id}:${u.name}`).join(';');
      const key = `segment|${from.key}|${spelt}`;
      const [r, g, b] = await this.stage(key, [n, n, n], (to) => {
        if (op.kind === 'area')
          return this.passes(op, uses[0]!, w, h, { src: [from.r, from.g, from.b], dst: to, picture: [] });
        const rgb = { r: to[0]!, g: to[1]!, b: to[2]! };
        return this.pool.run({ do: 'chain', w, h, base: from, from, to: rgb, matte: null, mix: 1, uses });
      });
      cur = { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
      i += uses.length;
    }
    return cur;
  }
  /** What stands already and what one more correction makes of the same start, their changes added up. */
  private async sum(start: Planes, cur: Planes, own: Planes): Promise<Planes> {
    const { w, h } = start;
    const key = `beside|${start.key}|${cur.key}|${own.key}`;
    const n = w * h * 4;
    const [r, g, b] = await this.stage(key, [n, n, n], async (at) => {
      for (const [i, c] of (['r', 'g', 'b'] as const).entries())
        await this.pool.run({ do: 'beside', w, h, start: start[c], cur: cur[c], own: own[c], to: at[i]! });
    });
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }

  /** A plane of bytes or floats that somebody else computes, kept like any stage. */
  async plane(key: string, w: number, h: number, fill: (p: Float32Array) => void): Promise<Matte> {
    const [at] = await this.stage(key, [w * h * 4], (a) => this.arena.look((v) => fill(v.f32(a[0]!, w * h))));
    return { at: at!, key: this.short(key) };
  }

  /** The scopes counted last, by what they depend on: their buffers are large and are used again. */
  private scopeSlots: { key: string; at: Plane }[] = [];
  /**
   * Scope counts of planes (layout: core/scopes/reduce.ts), for the length of `use`. Groups not in `bits` hold
   * anything.
   */
  async scopes<T>(p: Planes, q: ScopeQuery, use: (counts: Uint32Array) => T): Promise<T> {
    const at = await this.count(p, q);
    return this.arena.look((v) => use(v.u32(at, SCOPE_SIZE)));
  }
  private async count(p: Planes, q: ScopeQuery): Promise<Plane> {
    const { matte, mode, box, bits, range, stride, skinLineDeg } = q;
    const area = box ? `${box.x},${box.y},${box.w},${box.h}` : '';
    const key = [p.key, matte?.key ?? '', mode, area, bits, range, stride, skinLineDeg].join('|');
    const hit = this.scopeSlots.findIndex((s) => s.key === key);
    if (hit >= 0) {
      const [s] = this.scopeSlots.splice(hit, 1);
      this.scopeSlots.push(s!);
      return s!.at;
    }
    this.check();
    const threads = this.pool.threads;
    // One piece for each thread, the first of which becomes the sum.
    const slot =
      this.scopeSlots.length < 4 ? { key, at: this.arena.alloc(threads * SCOPE_SIZE * 4) } : this.scopeSlots.shift()!;
    this.computed.push('scopes');
    const groups = Object.values(GROUPS).filter((g) => bits & g.bit);
    this.arena.look((v) => {
      const all = v.u32(slot.at, threads * SCOPE_SIZE);
      for (let t = 0; t < threads; t++)
        for (const g of groups) all.fill(0, t * SCOPE_SIZE + g.at, t * SCOPE_SIZE + g.at + g.size);
    });
    // Half counted, when newer work ends it, is as good as empty.
    slot.key = '';
    this.scopeSlots.push(slot);
    await this.pool.run({
      do: 'scope',
      w: p.w,
      from: p,
      matte: matte?.at ?? null,
      mode,
      box: box ?? { x: 0, y: 0, w: p.w, h: p.h },
      stride,
      bits,
      skinLineDeg,
      range,
      to: slot.at,
    });
    for (const g of groups) this.pool.addUp(slot.at, SCOPE_SIZE, threads, g.at, g.size);
    slot.key = key;
    return slot.at;
  }
}
