/** What the screen shows: renders, scopes of another kind, one pixel, small mattes. */
import { greySignal } from '../../core/color/encodings';
import { zoneWeights } from '../../core/ops/zones/index';
import { resolve } from '../../core/op/params';
import { falseTable } from '../../core/view/falseColour';
import { selectCode, selectMask } from '../../core/scopes/select';
import { decode, encode, encodings, resolveEncoding } from '../../core/color/encodings';
import type { Encoding } from '../../core/color/encodings';
import { CONVERSION_ID, displayEncoding, inputOfAdjustment, opById } from '../../core/graph/plan';

import type { Box } from '../../core/skin/reading';
import type {
  PatchReadings,
  PickReply,
  RenderReply,
  RenderRequest,
  Requests,
  ScopeReply,
  ShotState,
  View,
} from '../../protocol/messages';
import type { Result, StepResult } from '../evaluator';
import type { Matte, Planes } from '../pictures';
import { rgbOf } from '../samples';
import { readScopes } from '../scopes';
import { SHOWN_CELLS } from '../tasks/view';
import type { Plane } from '../memory';

import { haloOf, withHalo } from './held';
import type { Held, SourceRef } from './held';

/** Small mattes are computed at no more than this. */
const THUMB_PIXELS = 100_000;
/** A hand that reads the picture stays in a tile of this side for a while. */
const PICK_TILE = 64;
/** A draft is computed at the resolution of the view that asks for it, and never at more pixels than this. */
const DRAFT_PIXELS = 560_000;
/**
 * Where drafts of a region take longer than this, the next ones have fewer pixels: two frames of the screen with what
 * the page needs.
 */
const DRAFT_MS = 17;
const DRAFT_STEPS = [560_000, 430_000, 320_000];

/** Planes of a picture at a scale, and where they lie in it, in their own pixels. */
interface Level {
  planes: Planes;
  scale: number;
  origin: readonly [number, number];
}
/** A piece of the picture halved `level` times; `box` in pixels of that level. */
interface Part {
  level: number;
  box: Box;
}
const levelOf = (planes: Planes): Level => ({ planes, scale: 1, origin: [0, 0] });
/** It is compared with another media, which need not have its size. */
const isOther = (q: RenderRequest): boolean => q.against !== undefined && q.against.media !== q.shot.media;
interface Shown extends Level {
  result: Result;
  step: StepResult | undefined;
  base: Planes;
  /** What a wipe or side by side shows beside it. */
  beside: Planes;
}

export class Looks {
  private draftStep = 0;
  /** Milliseconds of the last drafts at the present step. */
  private draftMs: number[] = [];
  constructor(private readonly h: Held) {}

  private draftScale(w: number, h: number, wanted: number): number {
    return Math.min(1, wanted, Math.sqrt(DRAFT_STEPS[this.draftStep]! / (w * h)));
  }
  /** The picture at a scale of at most 1. */
  private async draft(ref: SourceRef, wanted: number): Promise<Level> {
    let planes = await this.h.full(ref);
    const { w, h } = planes;
    const s = this.draftScale(w, h, wanted);
    const dw = Math.max(1, Math.round(w * s));
    const dh = Math.max(1, Math.round(h * s));
    while (planes.w >= 2 * dw) planes = await this.h.ev.halvePlanes(planes);
    return { planes: await this.h.ev.resizePlanes(planes, dw, dh), scale: dw / w, origin: [0, 0] };
  }

  async render(q: RenderRequest, into?: ArrayBuffer): Promise<RenderReply> {
    const t0 = performance.now();
    this.h.ev.begin();
    const draft = q.quality === 'draft';
    const whole = async (ref: SourceRef): Promise<Level> =>
      draft ? this.draft(ref, q.view.scale) : levelOf(await this.h.full(ref));
    const part = draft ? this.partInView(q) : null;
    const at = part ? (ref: SourceRef): Promise<Level> => this.cut(ref, part) : whole;
    const shown = await this.runOver(q, at);
    const rgba = await this.show(q, shown, at, into);
    // Scopes and readings are of the whole picture: where only a part of it was made they come with fewer drafts.
    const p = this.h.picture(q.shot);
    // A part that is all of the picture needs no second run.
    const all = part && part.box.w >= p.width / 2 ** part.level && part.box.h >= p.height / 2 ** part.level;
    const figures = part && !all ? q.scopes.length > 0 : true;
    const { result, step, base, scale } = part && !all && figures ? await this.runOver(q, whole) : shown;
    const read =
      q.scopes.length === 0
        ? null
        : await readScopes(
            this.h.ev,
            {
              after: result.out,
              before: base,
              matte: step?.matte ?? null,
              scale,
              stride: draft ? 2 : 1,
              skinLineDeg: q.skinLineDeg,
            },
            q.scopes,
          );
    const reading = ({ id, box, points }: (typeof q.patches)[number]): PatchReadings => {
      const b: Box = { x: box.x * scale, y: box.y * scale, w: box.w * scale, h: box.h * scale };
      const corners = points?.map(([x, y]) => [x * scale, y * scale] as const);
      // What stands after the corrections is read as the file will hold it; a drag shows it without rounding.
      const as = q.quality === 'final' ? q.bits : 'shown';
      return {
        id,
        before: this.h.read(base, b, q.skinLineDeg, corners),
        after: this.h.read(result.out, b, q.skinLineDeg, corners, as),
      };
    };
    const ms = performance.now() - t0;
    this.pace(q.quality, ms);
    return {
      rgba,
      w: q.view.w,
      h: q.view.h,
      quality: q.quality,
      scopes: read?.replies ?? null,
      clipped: read?.clipped ?? null,
      contrast: read?.contrast ?? null,
      readings: figures ? q.patches.map(reading) : null,
      ms,
      computed: this.h.ev.computed,
    };
  }

  /**
   * The part of the picture that a draft needs, where that allows more of its pixels than the whole picture would: at
   * the level that the final's view is taken from, or the next that is affordable. Null where all of it is needed.
   */
  private partInView(q: RenderRequest): Part | null {
    // Where a picture of another size is fitted beside it, all of it is needed.
    if (q.view.compare !== 'off' && isOther(q)) return null;
    const { width, height } = this.h.picture(q.shot);
    const v = q.view;
    const whole = this.draftScale(width, height, v.scale);
    const most = DRAFT_STEPS[this.draftStep]!;
    for (let level = Math.max(0, Math.floor(Math.log2(1 / v.scale))); 2 ** -level > 1.02 * whole; level++) {
      const halo = Math.max(
        haloOf(this.h.steps(q.shot, 2 ** -level)),
        q.against ? haloOf(this.h.steps(q.against, 2 ** -level)) : 0,
      );
      if (halo === Infinity) return null;
      const k = 2 ** level;
      // In pixels of the level, so that halving a part is the part of what was halved.
      const from = (off: number): number => Math.max(0, Math.floor(off / k) - halo - 1);
      const to = (off: number, size: number, all: number): number =>
        Math.min(Math.ceil(all / k), Math.ceil((off + size / v.scale) / k) + halo + 1);
      const [x, y] = [from(v.offX), from(v.offY)];
      const [w, h] = [to(v.offX, v.w, width) - x, to(v.offY, v.h, height) - y];
      if (w < 1 || h < 1) return null;
      if (w * h <= most) return { level, box: { x, y, w, h } };
    }
    return null;
  }
  private async cut(ref: SourceRef, { level, box }: Part): Promise<Level> {
    return { planes: await this.h.window(ref, box, level), scale: 2 ** -level, origin: [box.x, box.y] };
  }
  private async runOver(q: RenderRequest, at: (ref: SourceRef) => Promise<Level>): Promise<Shown> {
    const { planes, scale, origin } = await at(q.shot);
    const result = await this.h.over(
      q.shot,
      async (ref) => (await at(ref)).planes,
      scale,
      q.focus ?? undefined,
      origin,
    );
    const step = q.focus ? result.steps.get(q.focus) : undefined;
    const base = await this.h.base(q.shot, planes);
    const { against } = q;
    const beside =
      !against || q.view.compare === 'off'
        ? base
        : isOther(q)
          ? await this.fitted(q, against, planes)
          : // The same picture with other corrections: what both have in common is computed once.
            (await this.h.over(against, async (ref) => (await at(ref)).planes, scale, undefined, origin)).out;
    return { planes, scale, origin, result, step, base, beside };
  }
  /** Another picture with its own corrections, as large as fits into the frame of the one that is looked at. */
  private async fitted(q: RenderRequest, against: ShotState, into: Planes): Promise<Planes> {
    const p = this.h.picture(against);
    const across = p.width * (q.againstAspect ?? 1);
    const fit = Math.min(into.w / across, into.h / p.height);
    const at = (ref: SourceRef): Promise<Level> =>
      q.quality === 'draft' ? this.draft(ref, Math.min(1, fit)) : this.h.full(ref).then(levelOf);
    const level = await at(against);
    let { out } = await this.h.over(against, async (ref) => (await at(ref)).planes, level.scale);
    const w = Math.max(1, Math.min(into.w, Math.round(across * fit)));
    const h = Math.max(1, Math.min(into.h, Math.round(p.height * fit)));
    while (out.w >= 2 * w && out.h >= 2 * h) out = await this.h.ev.halvePlanes(out);
    return this.h.ev.placed(await this.h.ev.resizePlanes(out, w, h), into.w, into.h);
  }
  private async show(
    q: RenderRequest,
    s: Shown,
    at: (ref: SourceRef) => Promise<Level>,
    into?: ArrayBuffer,
  ): Promise<Uint8ClampedArray<ArrayBuffer>> {
    const { scale, origin, result, step, base } = s;
    const out =
      q.view.falseColour === 'zones'
        ? ((await this.beforeZones(q, s, at)) ?? result.out)
        : // What this correction changes, not what others make of it.
          q.view.mode === 'change' && step
          ? step.own
          : result.out;
    const [x, y] = [origin[0] / scale, origin[1] / scale];
    const view = {
      ...q.view,
      offX: q.view.offX - x,
      offY: q.view.offY - y,
      wipeX: q.view.wipeX - x,
      wipeY: (q.view.wipeY ?? 0) - y,
    };
    return this.view({ out, source: s.beside }, step?.matte ?? null, step?.input ?? base, view, scale, q, into);
  }

  /** Drafts get smaller while they are slow. A final ends the drag: the next one begins sharp again. */
  private pace(quality: RenderRequest['quality'], ms: number): void {
    if (quality === 'final') {
      this.draftMs = [];
      return;
    }
    this.draftMs.push(ms);
    if (this.draftMs.length < 5) return;
    const typical = [...this.draftMs].sort((a, b) => a - b)[2]!;
    this.draftMs = [];
    if (typical > DRAFT_MS && this.draftStep < DRAFT_STEPS.length - 1) this.draftStep++;
    else if (typical < DRAFT_MS / 2.5 && this.draftStep > 0) this.draftStep--;
  }

  /** What a correction's tonal zones are given: the picture that their false colours are about. */
  private async beforeZones(
    q: RenderRequest,
    { planes, scale, origin }: Level,
    at: (ref: SourceRef) => Promise<Level>,
  ): Promise<Planes | null> {
    const z = q.view.zonesOf;
    const k =
      q.shot.corrections.find((c) => c.id === z?.correction)?.adjustments.findIndex((u) => u.id === z?.use) ?? -1;
    if (!z || k < 0) return null;
    const corrections = inputOfAdjustment(q.shot.corrections, z.correction, k);
    const outside = this.h.outside(q.shot, async (ref) => (await at(ref)).planes);
    const shot = { ...q.shot, corrections };
    const whole = this.h.whole(shot, scale);
    return (await this.h.ev.run(planes, this.h.steps(shot, scale), { origin, outside, whole })).out;
  }

  /** Other scopes of a shot: the ghosts behind those of the open one. */
  async scopes(q: Requests['scopes']['in']): Promise<ScopeReply[]> {
    this.h.ev.begin();
    const at = (ref: SourceRef) => this.h.level(ref, DRAFT_PIXELS);
    const { planes, scale } = await at(q.shot);
    const result = await this.h.over(q.shot, async (ref) => (await at(ref)).planes, scale, q.focus ?? undefined);
    const matte = (q.focus && result.steps.get(q.focus)?.matte) || null;
    const before = await this.h.base(q.shot, planes);
    const source = { after: result.out, before, matte, scale, stride: 1, skinLineDeg: q.skinLineDeg };
    return (await readScopes(this.h.ev, source, q.scopes)).replies;
  }

  private table4(v: View, shot: ShotState): Float32Array | null {
    const kind = v.falseColour ?? 'off';
    if (kind === 'off' || kind === 'clipped') return null;
    const scene =
      shot.conversion?.on && typeof shot.encoding !== 'object'
        ? resolveEncoding(shot.encoding).referred === 'scene'
        : typeof shot.encoding === 'object' && 'log' in shot.encoding && shot.conversion?.on;
    const greyPct = scene
      ? Number(shot.conversion!.params['greyPct'] ?? opById('convert').params['greyPct']!.default)
      : 100 * greySignal(displayEncoding(shot));
    const use = shot.corrections
      .find((c) => c.id === v.zonesOf?.correction)
      ?.adjustments.find((u) => u.id === v.zonesOf?.use);
    const p = use ? (resolve(opById('zones').params, use.params, shot.frame) as Record<string, number>) : null;
    const zoneAt = p
      ? (y: number): readonly number[] =>
          zoneWeights(
            y,
            [p['border1Pct']! / 100, p['border2Pct']! / 100, p['border3Pct']! / 100, p['border4Pct']! / 100],
            p['softPct']! / 100,
          )
      : null;
    return falseTable(kind, { greyPct, zoneAt });
  }

  private async view(
    result: Pick<Result, 'out' | 'source'>,
    matte: Matte | null,
    input: Planes,
    v: View,
    planeScale: number,
    q?: Pick<RenderRequest, 'shot' | 'skinLineDeg' | 'against'>,
    into?: ArrayBuffer,
  ): Promise<Uint8ClampedArray<ArrayBuffer>> {
    let { out, source } = result;
    let scale = v.scale / planeScale;
    let offX = v.offX * planeScale;
    let offY = v.offY * planeScale;
    let wipe = v.wipeX * planeScale;
    let wipeY = (v.wipeY ?? 0) * planeScale;
    // Halving before sampling, so that no pixel is skipped. A change map is not averaged: one changed pixel must show.
    while (scale <= 0.5 && v.mode !== 'change' && v.falseColour !== 'clipped') {
      const same = out === source;
      // Compared with something else, what the correction is given is neither of the two.
      const given = q?.against ? await this.h.ev.halvePlanes(input) : null;
      if (matte) matte = await this.h.ev.halveMatte(matte, source.w, source.h);
      source = await this.h.ev.halvePlanes(source);
      out = same ? source : await this.h.ev.halvePlanes(out);
      input = given ?? source;
      scale *= 2;
      offX /= 2;
      offY /= 2;
      wipe /= 2;
      wipeY /= 2;
    }
    this.h.ev.ensureScratch(v.w, v.h);
    const { arena, pool } = this.h.ev;
    const select = v.select ?? null;
    const band = select?.kind === 'band' ? select : null;
    const held: Plane[] = [];
    /** Keeps numbers in memory until the view is drawn. */
    const keep = (x: Float32Array | Uint8Array | null): Plane | null => {
      if (!x) return null;
      const at = arena.alloc(x.byteLength);
      held.push(at);
      arena.look((m) => m.u8(at, x.byteLength).set(new Uint8Array(x.buffer, x.byteOffset, x.byteLength)));
      return at;
    };
    const to = arena.alloc(v.w * v.h * 4);
    held.push(to);
    try {
      await pool.run({
        do: 'view',
        to,
        w: v.w,
        h: v.h,
        mode: v.mode,
        ground: v.ground ?? 'grey',
        compare: v.compare,
        sw: source.w,
        sh: source.h,
        scale,
        offX,
        offY,
        wipeX: wipe,
        wipeY,
        wipeDeg: v.wipeDeg ?? 0,
        out,
        before: source,
        matte: matte?.at ?? null,
        input,
        falseColour: v.falseColour ?? 'off',
        table: keep(q ? this.table4(v, q.shot) : null),
        mark: select && {
          code: selectCode(select),
          mask: keep(selectMask(select)),
          lo: band?.lo ?? 0,
          hi: band?.hi ?? 0,
          before: select.when === 'before',
        },
        skinLineDeg: q?.skinLineDeg ?? 0,
        shown: keep(q && v.shown === 'light' ? shownTable(displayEncoding(q.shot)) : null),
      });
      const bytes = v.w * v.h * 4;
      const pixels = new Uint8Array(into?.byteLength === bytes ? into : new ArrayBuffer(bytes));
      // Copied as the same kind, at once; into another kind it would go number by number.
      arena.look((m) => pixels.set(m.u8(to, bytes)));
      return new Uint8ClampedArray(pixels.buffer) as Uint8ClampedArray<ArrayBuffer>;
    } finally {
      held.forEach((x) => arena.release(x));
    }
  }

  /** One pixel at full resolution: of the square tile that holds it, so that nothing else is computed. */
  async pick(shot: ShotState, x: number, y: number): Promise<PickReply | null> {
    this.h.ev.begin();
    const p = this.h.picture(shot);
    if (x < 0 || y < 0 || x >= p.width || y >= p.height) return null;
    const [px, py] = [Math.floor(x), Math.floor(y)];
    const [tx, ty] = [px - (px % PICK_TILE), py - (py % PICK_TILE)];
    const steps = this.h.steps(shot, 1);
    const box = withHalo({ x: tx, y: ty, w: PICK_TILE, h: PICK_TILE }, steps, p);
    const win = await this.h.window(shot, box);
    const { out } = await this.h.over(shot, (ref) => this.h.window(ref, box), 1, undefined, [box.x, box.y]);
    const base = await this.h.base(shot, win);
    const i = (py - box.y) * box.w + (px - box.x);
    return this.h.ev.arena.look((v) => {
      const at = (q: Planes): [number, number, number] => {
        const { r, g, b } = rgbOf(v, q);
        return [r[i]!, g[i]!, b[i]!];
      };
      return { before: at(base), after: at(out) };
    });
  }

  async matteThumbs(shot: ShotState, width: number): Promise<{ id: string; grey: Uint8Array; w: number; h: number }[]> {
    this.h.ev.begin();
    const { scale } = await this.h.level(shot, THUMB_PIXELS);
    const steps = this.h.steps(shot, scale);
    const p = this.h.picture(shot);
    const h = Math.max(1, Math.round((width * p.height) / p.width));
    const fit = { w: width, h, scale: width / p.width, offX: 0, offY: 0, wipeX: 0 } as const;
    const out = [];
    for (const s of steps) {
      if (s.id === CONVERSION_ID) continue;
      const res = await this.h.over(shot, async (ref) => (await this.h.level(ref, THUMB_PIXELS)).planes, scale, s.id);
      const m = res.steps.get(s.id)!.matte;
      const view: View = { ...fit, mode: 'matte', compare: 'off' };
      const rgba = await this.view({ out: res.out, source: res.out }, m, res.out, view, scale);
      out.push({ id: s.id, grey: Uint8Array.from({ length: width * h }, (_, i) => rgba[4 * i]!), w: width, h });
    }
    return out;
  }
}

/** A display's signal to the sRGB page's, so that the light is the same; null where the page is what is meant. */
function shownTable(e: Encoding): Float32Array | null {
  if (e.referred !== 'display' || e.curve === encodings.srgb.curve) return null;
  return Float32Array.from({ length: SHOWN_CELLS + 1 }, (_, i) =>
    Math.min(1, Math.max(0, encode(encodings.srgb, decode(e, i / SHOWN_CELLS)))),
  );
}
