/**
 * Runs steps over a picture, stage by stage, each stage in row bands and cached by what it depends on. Moving a
 * correction's slider renews only its last stage; moving a shape never renews a key.
 */
import { ops } from '../core/ops/registry.gen';
import { CONVERSION_ID } from '../core/graph/plan';
import type { BlockStep, Step } from '../core/graph/plan';
import type { RegionStep } from '../core/graph/region';
import { GROUPS, SCOPE_SIZE } from '../core/scopes/reduce';
import type { Box } from '../core/skin/reading';
import type { Arena } from './memory';
import type { Pool } from './pool';
import { scratchBytes } from './tasks';

export interface Planes {
  r: number;
  g: number;
  b: number;
  w: number;
  h: number;
  /** What the planes depend on: equal keys, equal bits. */
  key: string;
}
export interface Matte {
  at: number;
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

/** What a run knows while it goes on. */
interface Run {
  steps: ReadonlyMap<string, Step>;
  results: ReadonlyMap<string, StepResult>;
  origin: readonly [number, number];
  /** The shot's picture without any correction, as it is on a step's side of the conversion. */
  base(s: Step): Planes;
}

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
  at: number[];
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
  private scratchSize = 0;
  private scratchAt: number[] = [];
  /** How many stages were computed rather than found; tests and the benchmark read it. */
  computed: string[] = [];

  constructor(
    readonly arena: Arena,
    readonly pool: Pool,
    /** Bytes of cached planes to keep. */
    budget: number,
    /** Throws Stale when the work is no longer wanted. */
    public check: () => void = () => {},
    /** Told before a stage: for how many milliseconds nothing may be heard. */
    private readonly quiet: (ms: number) => void = () => {},
  ) {
    this.large = { entries: new Map(), held: 0, budget };
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
    const need = scratchBytes(w, h);
    if (need <= this.scratchSize) return;
    this.scratchAt.forEach((a) => this.arena.release(a));
    this.scratchAt = Array.from({ length: this.pool.threads }, () => this.arena.alloc(need));
    this.scratchSize = need;
    this.pool.setScratch(this.scratchAt);
  }

  /** Cached buffers for `key`, filled by `fill` when new. */
  private stage(key: string, sizes: number[], fill: (at: number[]) => void): number[] {
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
    const at: number[] = [];
    try {
      for (const s of sizes) at.push(this.arena.alloc(s));
      // A stage counts when it is done: twenty seconds for the largest picture, nothing to speak of for usual ones.
      this.quiet(bytes / 40_000);
      fill(at);
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
    this.pinned.clear();
    this.computed = [];
  }

  /** Planes of a picture, filled by the caller. */
  load(key: string, w: number, h: number, fill: (r: Float32Array, g: Float32Array, b: Float32Array) => void): Planes {
    this.ensureScratch(w, h);
    const n = w * h;
    const [r, g, b] = this.stage(`source|${key}`, [n * 4, n * 4, n * 4], (at) =>
      this.arena.look((v) => fill(v.f32(at[0]!, n), v.f32(at[1]!, n), v.f32(at[2]!, n))),
    );
    return { r: r!, g: g!, b: b!, w, h, key: this.short(`source|${key}`) };
  }

  /** The same planes at half the size. */
  halvePlanes(p: Planes): Planes {
    const w = (p.w + 1) >> 1;
    const h = (p.h + 1) >> 1;
    const [r, g, b] = this.stage(`half|${p.key}`, [w * h * 4, w * h * 4, w * h * 4], (at) => {
      [p.r, p.g, p.b].forEach((src, c) => this.pool.run('halve', h, [p.w, p.h, src, at[c]!]));
    });
    return { r: r!, g: g!, b: b!, w, h, key: this.short(`half|${p.key}`) };
  }
  /** The same planes at another size, from a half to all of it. */
  resizePlanes(p: Planes, w: number, h: number): Planes {
    if (p.w === w && p.h === h) return p;
    const key = `resize|${p.key}|${w}x${h}`;
    const n = w * h * 4;
    const [r, g, b] = this.stage(key, [n, n, n], (at) =>
      [p.r, p.g, p.b].forEach((src, c) => this.pool.run('resize', h, [p.w, p.h, src, w, h, at[c]!])),
    );
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }
  halveMatte(m: Matte, w: number, h: number): Matte {
    const hw = (w + 1) >> 1;
    const hh = (h + 1) >> 1;
    const [at] = this.stage(`half|${m.key}`, [hw * hh * 4], (a) => this.pool.run('halve', hh, [w, h, m.at, a[0]!]));
    return { at: at!, key: this.short(`half|${m.key}`) };
  }

  private blocks(steps: readonly BlockStep[], use: (at: number[]) => void): void {
    const at: number[] = [];
    try {
      for (const s of steps) {
        const p = this.arena.alloc(Math.max(256, s.block.byteLength));
        at.push(p);
        this.arena.look((v) => v.f32(p, s.block.length).set(s.block));
      }
      use(at);
    } finally {
      at.forEach((a) => this.arena.release(a));
    }
  }

  /** One key or shape over a picture. */
  private part(t: Extract<RegionStep, { do: 'key' | 'shape' }>, input: Planes, at: readonly [number, number]): Matte {
    const place = at[0] || at[1] ? `@${at[0]},${at[1]}` : '';
    const from = t.do === 'key' ? input.key : `${input.w}x${input.h}${place}`;
    const key = `${t.do}|${from}|${ops[t.step.opIndex]!.id}:${t.step.name}`;
    const [plane] = this.stage(key, [input.w * input.h * 4], (a) =>
      this.blocks([t.step], ([block]) => {
        const { opIndex } = t.step;
        if (t.do === 'key') this.pool.run('key', input.h, [input.w, input.r, input.g, input.b, a[0]!, opIndex, block!]);
        else this.pool.run('shape', input.h, [input.w, a[0]!, opIndex, block!, at[0], at[1]]);
      }),
    );
    return { at: plane!, key: this.short(key) };
  }

  /**
   * A step's region over a picture: the parts first, each kept by itself, then the program over their planes in one
   * stage. Not is only noted until somebody needs the plane.
   */
  private region(step: Step, input: Planes, run: Run): Matte {
    const leaves: Matte[] = [];
    for (const t of step.region) {
      if (t.do === 'key') leaves.push(this.part(t, t.base ? run.base(step) : input, run.origin));
      else if (t.do === 'shape') leaves.push(this.part(t, input, run.origin));
      else if (t.do === 'of') leaves.push(this.linked(t.id, input, run));
    }
    if (step.region.length === 1) return leaves[0]!;
    let next = 0;
    const spelt = step.region.map((t) => ('step' in t || t.do === 'of' ? leaves[next++]!.key : t.do));
    const key = `region|${spelt.join(' ')}`;
    const { w, h } = input;
    const [at] = this.stage(key, [w * h * 4], (a) => {
      // Operands by their depth on the stack: each depth has one plane that it may write to, the lowest the result's.
      const own = [a[0]!];
      const stack: { at: number; not: boolean }[] = [];
      const write = (depth: number, left: number, right: number, how: number, not: boolean): number => {
        if (own[depth] === undefined) own[depth] = this.arena.alloc(w * h * 4);
        this.pool.run('join', h, [w, left, right, how, not ? 1 : 0, own[depth]]);
        return own[depth];
      };
      try {
        next = 0;
        for (const t of step.region) {
          if ('step' in t || t.do === 'of') stack.push({ at: leaves[next++]!.at, not: false });
          else if (t.do === 'not') stack.push({ ...stack.at(-1)!, not: !stack.pop()!.not });
          else {
            const right = stack.pop()!;
            const left = stack.pop()!;
            const depth = stack.length;
            if (left.not) left.at = write(depth, left.at, left.at, 2, true);
            stack.push({ at: write(depth, left.at, right.at, t.do === 'and' ? 0 : 1, right.not), not: false });
          }
        }
        const last = stack[0]!;
        if (last.not || last.at !== a[0]) write(0, last.at, last.at, 2, last.not);
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
  private linked(id: string, input: Planes, run: Run): Matte {
    const step = run.steps.get(id);
    if (!step) throw new RangeError(`A region rests on the correction ${id}, which is not there`);
    if (step.region.length === 0)
      return this.plane(`all|${input.w}x${input.h}`, input.w, input.h, (p) => void p.fill(1));
    const on = run.results.get(id)?.input ?? input;
    return this.tidy(step, this.region(step, on, run), input.w, input.h);
  }

  private tidy(step: Step, region: Matte, w: number, h: number): Matte {
    let m = region;
    for (const t of step.tidy) {
      const op = ops[t.opIndex]!;
      const key = `tidy|${m.key}|${op.id}:${t.name}`;
      const from = m;
      const [at] = this.stage(key, [w * h * 4], (a) =>
        this.blocks([t], ([block]) => {
          if (op.kind !== 'tidy') throw new Error(`${op.id} is not a tidy step`);
          if (!op.area) {
            this.pool.run('tidyPoint', h, [w, from.at, a[0]!, t.opIndex, block!]);
            return;
          }
          const passes = op.passes(t.block);
          const spare = passes.length > 1 ? this.arena.alloc(w * h * 4) : 0;
          try {
            // The last pass must land in a[0]: count back from it.
            let src = from.at;
            passes.forEach((_, i) => {
              this.check();
              const dst = (passes.length - 1 - i) % 2 === 0 ? a[0]! : spare;
              this.pool.run('tidyArea', h, [w, h, src, dst, t.opIndex, block!, i]);
              src = dst;
            });
          } finally {
            if (spare) this.arena.release(spare);
          }
        }),
      );
      m = { at: at!, key: this.short(key) };
    }
    return m;
  }

  /**
   * Runs the steps over a picture. `focus` names a step whose matte is wanted even when the step changes nothing.
   * `origin` is where the planes lie in the picture, for a window of it.
   */
  run(
    source: Planes,
    steps: readonly Step[],
    opts: { focus?: string; origin?: readonly [number, number] } = {},
  ): Result {
    this.ensureScratch(source.w, source.h);
    const results = new Map<string, StepResult>();
    const at = steps.findIndex((s) => s.id === CONVERSION_ID);
    const run: Run = {
      steps: new Map(steps.map((s) => [s.id, s])),
      results,
      origin: opts.origin ?? [0, 0],
      base: (s) => (steps.indexOf(s) < at || at < 0 ? source : this.act(steps[at]!, source, null)),
    };
    let cur = source;
    // What the present group of corrections starts from.
    let start = source;
    for (const step of steps) {
      if (!step.beside) start = cur;
      let matte: Matte | null = null;
      let region: Matte | null = null;
      if (step.region.length > 0 && (step.on || step.id === opts.focus)) {
        region = this.region(step, start, run);
        matte = this.tidy(step, region, source.w, source.h);
      }
      const own = step.on ? this.act(step, start, matte) : start;
      if (step.on) cur = cur === start ? own : this.sum(start, cur, own);
      results.set(step.id, { id: step.id, input: start, own, out: cur, matte, region });
    }
    return { source, out: cur, steps: results };
  }

  /** A step's own result: its adjustments, limited by the matte. */
  private act(step: Step, input: Planes, matte: Matte | null): Planes {
    const { w, h } = input;
    const key = `out|${input.key}|${matte?.key ?? '1'}|${step.chainKey}`;
    const n = w * h * 4;
    const [r, g, b] = this.stage(key, [n, n, n], (at) =>
      this.blocks(step.chain, (blocks) =>
        this.pool.run('chain', h, [
          w,
          input.r,
          input.g,
          input.b,
          at[0]!,
          at[1]!,
          at[2]!,
          matte?.at ?? 0,
          step.mix,
          step.chain.length,
          ...step.chain.flatMap((s, i) => [s.opIndex, blocks[i]!]),
        ]),
      ),
    );
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }
  /** What stands already and what one more correction makes of the same start, their changes added up. */
  private sum(start: Planes, cur: Planes, own: Planes): Planes {
    const { w, h } = start;
    const key = `beside|${start.key}|${cur.key}|${own.key}`;
    const n = w * h * 4;
    const [r, g, b] = this.stage(key, [n, n, n], (at) =>
      (['r', 'g', 'b'] as const).forEach((c, i) => this.pool.run('beside', h, [w, start[c], cur[c], own[c], at[i]!])),
    );
    return { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
  }

  /** A plane of bytes or floats that somebody else computes, kept like any stage. */
  plane(key: string, w: number, h: number, fill: (p: Float32Array) => void): Matte {
    const [at] = this.stage(key, [w * h * 4], (a) => this.arena.look((v) => fill(v.f32(a[0]!, w * h))));
    return { at: at!, key: this.short(key) };
  }

  /** The scopes counted last, by what they depend on: their buffers are large and are used again. */
  private scopeSlots: { key: string; at: number }[] = [];
  /**
   * Scope counts of planes (layout: core/scopes/reduce.ts), for the length of `use`. Groups not in `bits` hold
   * anything.
   */
  scopes<T>(p: Planes, q: ScopeQuery, use: (counts: Uint32Array) => T): T {
    const at = this.count(p, q);
    return this.arena.look((v) => use(v.u32(at, SCOPE_SIZE)));
  }
  private count(p: Planes, q: ScopeQuery): number {
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
    slot.key = key;
    this.computed.push('scopes');
    const groups = Object.values(GROUPS).filter((g) => bits & g.bit);
    this.arena.look((v) => {
      const all = v.u32(slot.at, threads * SCOPE_SIZE);
      for (let t = 0; t < threads; t++)
        for (const g of groups) all.fill(0, t * SCOPE_SIZE + g.at, t * SCOPE_SIZE + g.at + g.size);
    });
    const b = box ?? { x: 0, y: 0, w: p.w, h: p.h };
    this.pool.run('scope', b.h, [
      p.w,
      p.r,
      p.g,
      p.b,
      matte?.at ?? 0,
      matte ? mode : 0,
      b.x,
      b.x + b.w,
      b.y,
      stride,
      bits,
      skinLineDeg,
      range,
      slot.at,
    ]);
    for (let t = 1; t < threads; t++)
      for (const g of groups) this.pool.add(slot.at + g.at * 4, slot.at + (t * SCOPE_SIZE + g.at) * 4, g.size);
    this.scopeSlots.push(slot);
    return slot.at;
  }
}
