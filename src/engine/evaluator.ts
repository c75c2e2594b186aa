/**
 * Runs steps over a picture, stage by stage, each stage in row bands and cached by what it depends on. Moving a
 * correction's slider renews only its last stage; moving a shape never renews a key.
 */
import { ops } from '../core/ops/registry.gen';
import type { BlockStep, Step } from '../core/graph/plan';
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
  input: Planes;
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
 * Stages in the order of their last use. Small ones (drafts, thumbnails) and large ones are kept apart: a drag makes hundreds of
 * small ones, which must neither push out a final nor walk through fresh memory instead of reusing what is warm.
 */
interface Shelf {
  entries: Map<string, Entry>;
  held: number;
  budget: number;
}
const SMALL_BYTES = 8 * 2 ** 20;
const SMALL_BUDGET = 96 * 2 ** 20;

export class Evaluator {
  private readonly small: Shelf = { entries: new Map(), held: 0, budget: SMALL_BUDGET };
  private readonly large: Shelf;
  private names = new Map<string, string>();
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
  ) {
    this.large = { entries: new Map(), held: 0, budget };
  }

  /** Short names for long keys: a key names its inputs' keys, and would double with every correction. */
  private short(key: string): string {
    let s = this.names.get(key);
    if (!s) this.names.set(key, (s = `#${this.names.size}`));
    return s;
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
    const [r, g, b] = this.stage(`source|${key}`, [n * 4, n * 4, n * 4], (at) => fill(this.arena.f32(at[0]!, n), this.arena.f32(at[1]!, n), this.arena.f32(at[2]!, n)));
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
    const [r, g, b] = this.stage(key, [n, n, n], (at) => [p.r, p.g, p.b].forEach((src, c) => this.pool.run('resize', h, [p.w, p.h, src, w, h, at[c]!])));
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
        this.arena.f32(p, s.block.length).set(s.block);
      }
      use(at);
    } finally {
      at.forEach((a) => this.arena.release(a));
    }
  }

  private region(step: Step, input: Planes, origin: readonly [number, number]): Matte {
    const n = input.w * input.h;
    const place = origin[0] || origin[1] ? `@${origin[0]},${origin[1]}` : '';
    const planeOf = (t: Step['terms'][number]): Matte => {
      const id = ops[t.opIndex]!.id;
      const from = t.kind === 'key' ? input.key : `${input.w}x${input.h}${place}`;
      const key = `${t.kind}|${from}|${id}:${t.name}`;
      const [at] = this.stage(key, [n * 4], (a) =>
        this.blocks([t], ([block]) => {
          if (t.kind === 'key') this.pool.run('key', input.h, [input.w, input.r, input.g, input.b, a[0]!, t.opIndex, block!]);
          else this.pool.run('shape', input.h, [input.w, a[0]!, t.opIndex, block!, origin[0], origin[1]]);
        }),
      );
      return { at: at!, key: this.short(key) };
    };
    const parts = step.terms.map(planeOf);
    if (parts.length === 1 && !step.terms[0]!.not) return parts[0]!;
    const key = `region|${parts.map((p, i) => `${step.terms[i]!.join}${step.terms[i]!.not ? '!' : ''}${p.key}`).join(';')}`;
    const [at] = this.stage(key, [n * 4], (a) =>
      parts.forEach((p, i) => {
        const t = step.terms[i]!;
        // A first part that stands as it is needs no pass of its own.
        if (i === 0 && !t.not && parts.length > 1) return;
        const left = i === 1 && !step.terms[0]!.not ? parts[0]!.at : a[0]!;
        this.pool.run('join', input.h, [input.w, left, p.at, i === 0 ? 2 : t.join === 'and' ? 0 : 1, t.not ? 1 : 0, a[0]!]);
      }),
    );
    return { at: at!, key: this.short(key) };
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
  run(source: Planes, steps: readonly Step[], opts: { focus?: string; origin?: readonly [number, number] } = {}): Result {
    this.ensureScratch(source.w, source.h);
    const { w, h } = source;
    const results = new Map<string, StepResult>();
    let cur = source;
    for (const step of steps) {
      const input = cur;
      let matte: Matte | null = null;
      let region: Matte | null = null;
      if (step.terms.length > 0 && (step.on || step.id === opts.focus)) {
        region = this.region(step, input, opts.origin ?? [0, 0]);
        matte = this.tidy(step, region, w, h);
      }
      if (step.on) {
        const key = `out|${input.key}|${matte?.key ?? '1'}|${step.chainKey}`;
        const n = w * h * 4;
        const [r, g, b] = this.stage(key, [n, n, n], (at) =>
          this.blocks(step.chain, (blocks) =>
            this.pool.run('chain', h, [w, input.r, input.g, input.b, at[0]!, at[1]!, at[2]!, matte?.at ?? 0, step.mix, step.chain.length, ...step.chain.flatMap((s, i) => [s.opIndex, blocks[i]!])]),
          ),
        );
        cur = { r: r!, g: g!, b: b!, w, h, key: this.short(key) };
      }
      results.set(step.id, { id: step.id, input, out: cur, matte, region });
    }
    return { source, out: cur, steps: results };
  }

  /** A plane of bytes or floats that somebody else computes, kept like any stage. */
  plane(key: string, w: number, h: number, fill: (p: Float32Array) => void): Matte {
    const [at] = this.stage(key, [w * h * 4], (a) => fill(this.arena.f32(a[0]!, w * h)));
    return { at: at!, key: this.short(key) };
  }

  /** The scopes counted last, by what they depend on: their buffers are large and are used again. */
  private scopeSlots: { key: string; at: number }[] = [];
  /** Scope counts of planes (layout: core/scopes/reduce.ts), valid until the next call but two. Groups not in `bits` hold anything. */
  scopes(p: Planes, q: ScopeQuery): Uint32Array<ArrayBufferLike> {
    const { matte, mode, box, bits, range, stride, skinLineDeg } = q;
    const key = `${p.key}|${matte?.key ?? ''}|${mode}|${box ? `${box.x},${box.y},${box.w},${box.h}` : ''}|${bits}|${range}|${stride}|${skinLineDeg}`;
    const hit = this.scopeSlots.findIndex((s) => s.key === key);
    if (hit >= 0) {
      const [s] = this.scopeSlots.splice(hit, 1);
      this.scopeSlots.push(s!);
      return this.arena.u32(s!.at, SCOPE_SIZE);
    }
    this.check();
    const threads = this.pool.threads;
    // One piece for each thread, the first of which becomes the sum.
    const slot = this.scopeSlots.length < 4 ? { key, at: this.arena.alloc(threads * SCOPE_SIZE * 4) } : this.scopeSlots.shift()!;
    slot.key = key;
    this.computed.push('scopes');
    const all = this.arena.u32(slot.at, threads * SCOPE_SIZE);
    const groups = Object.values(GROUPS).filter((g) => bits & g.bit);
    for (let t = 0; t < threads; t++) for (const g of groups) all.fill(0, t * SCOPE_SIZE + g.at, t * SCOPE_SIZE + g.at + g.size);
    const b = box ?? { x: 0, y: 0, w: p.w, h: p.h };
    this.pool.run('scope', b.h, [p.w, p.r, p.g, p.b, matte?.at ?? 0, matte ? mode : 0, b.x, b.x + b.w, b.y, stride, bits, skinLineDeg, range, slot.at]);
    for (let t = 1; t < threads; t++)
      for (const g of groups) this.pool.add(slot.at + g.at * 4, slot.at + (t * SCOPE_SIZE + g.at) * 4, g.size);
    this.scopeSlots.push(slot);
    return this.arena.u32(slot.at, SCOPE_SIZE);
  }
}
