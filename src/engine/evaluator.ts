/**
 * Runs steps over a picture, stage by stage, each stage in row bands and cached by what it depends on. Moving a
 * correction's slider renews only its last stage; moving a shape never renews a key.
 */
import { ops } from '../core/ops/registry.gen';
import { CONVERSION_ID } from '../core/graph/plan';
import type { BlockStep, Step, TidyStep } from '../core/graph/plan';
import type { AreaOp, KeyFrameOp, Pass, TidyFrameOp } from '../core/op/contract';
import type { OutsideMatte, RegionStep } from '../core/graph/region';
import type { Plane } from './memory';
import { Pictures } from './pictures';
import type { Matte, Planes } from './pictures';

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

export class Evaluator extends Pictures {
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
}
