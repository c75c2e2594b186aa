/** What the engine can be asked for, on one thread's behalf: the worker and the command line both drive this. */
import { ops } from '../core/ops/registry.gen';
import { curveOf } from '../core/color/transfer';
import { greySignal } from '../core/color/encodings';
import { zoneWeights } from '../core/ops/zones/index';
import { resolve } from '../core/op/params';
import { falseColours, falseTable } from '../core/view/falseColour';
import { selectCode, selectMask, selects } from '../core/scopes/select';
import type { Corner } from '../core/math/polygon';
import type { Cube } from '../core/formats/cube';
import { resolveEncoding } from '../core/color/encodings';
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT, rgbToYcbcr, ycbcrToRgb } from '../core/color/ycbcr';
import { boundsOf } from '../core/math/polygon';
import { chartCells } from '../core/match/chart';
import type { ChartPlace } from '../core/match/chart';
import { GROUPS, groupOf, histogramOf, VECTOR_RANGE, WAVE_HIGH, WAVE_LEVELS, WAVE_LOW } from '../core/scopes/reduce';
import { compile, CONVERSION_ID, conversionStep, displayEncoding, opById } from '../core/graph/plan';
import type { CorrectionSpec, Step } from '../core/graph/plan';
import { newUse } from '../core/graph/plan.defaults';
import { bringToLine, CannotBring } from '../core/skin/bringToLine';
import type { Push } from '../core/skin/bringToLine';
import { fitKey } from '../core/skin/fitKey';
import type { KeyFit } from '../core/skin/fitKey';
import { clipBox, readPatch } from '../core/skin/reading';
import type { Box, Reading } from '../core/skin/reading';
import { surroundFigures } from '../core/skin/surround';
import type { SurroundFigures } from '../core/skin/surround';
import { encodePlanes } from '../media/encode';
import type { DecodedPicture } from '../media/decode';
import type { ChartReading, Distributions, HelperReply, HelperRequest, LutReply, PatchReadings, PickReply, RenderReply, RenderRequest, Requests, SampleArea, ScopeReply, ShotState, SolveReply, SolveRequest, View } from '../protocol/messages';
import type { Evaluator } from './evaluator';
import type { Matte, Planes, Result } from './evaluator';
import { chartReading, solveChart, solveNeutral, solvePoints } from './helpers';
import { bakeLut } from './lut';
import { readScopes } from './scopes';
import { compareModes, viewModes } from './viewBand';

/** A draft is computed at the resolution of the view that asks for it, and never at more pixels than this. */
const DRAFT_PIXELS = 560_000;
/** Where drafts of a region take longer than this, the next ones have fewer pixels: two frames of the screen with what the page needs. */
const DRAFT_MS = 17;
const DRAFT_STEPS = [560_000, 430_000, 320_000];

export class MissingPicture extends Error {
  override name = 'MissingPicture';
}

/** The shot needs a lookup table that has not been given yet. */
export class MissingTable extends Error {
  override name = 'MissingTable';
}

export class Session {
  private tables = new Map<string, Cube>();
  private pictures = new Map<string, { picture: DecodedPicture; key: string }>();
  private opened = 0;
  private draftStep = 0;
  /** Milliseconds of the last drafts at the present step. */
  private draftMs: number[] = [];

  constructor(readonly ev: Evaluator) {}

  /** Keeps a decoded picture; the three opened last stay. */
  open(id: string, p: DecodedPicture): void {
    this.pictures.delete(id);
    // A picture opened again under the same id may be another one: what was computed of the first must not be found.
    this.pictures.set(id, { picture: p, key: `${id}~${this.opened++}` });
    while (this.pictures.size > 3) this.pictures.delete(this.pictures.keys().next().value!);
  }
  has(id: string): boolean {
    return this.pictures.has(id);
  }
  private entry(id: string): { picture: DecodedPicture; key: string } {
    const p = this.pictures.get(id);
    if (!p) throw new MissingPicture(id);
    // Most recently used last.
    this.pictures.delete(id);
    this.pictures.set(id, p);
    return p;
  }
  picture(id: string): DecodedPicture {
    return this.entry(id).picture;
  }

  /** Keeps a lookup table under an id; its numbers never change under one id. */
  putTable(id: string, cube: Cube): void {
    this.tables.set(id, cube);
  }
  private readonly table = (id: string): Cube | null => {
    if (id === '') return null;
    const c = this.tables.get(id);
    if (!c) throw new MissingTable(id);
    return c;
  };
  private steps(shot: ShotState, scale: number): Step[] {
    return compile(shot.corrections, shot.frame, scale, shot, this.table);
  }
  /** What the corrections are compared with: the picture as converted, without any of them. */
  private base(shot: ShotState, source: Planes): Planes {
    const c = conversionStep(shot, shot.frame, this.table);
    return c ? this.ev.run(source, [c]).out : source;
  }

  private full(id: string): Planes {
    const { picture: p, key } = this.entry(id);
    return this.ev.load(key, p.width, p.height, (r, g, b) => {
      const k = p.rgb instanceof Float32Array ? 1 : 1 / (2 ** p.bits - 1);
      for (let i = 0, n = p.width * p.height; i < n; i++) {
        r[i] = p.rgb[3 * i]! * k;
        g[i] = p.rgb[3 * i + 1]! * k;
        b[i] = p.rgb[3 * i + 2]! * k;
      }
    });
  }
  private level(id: string, most: number): { planes: Planes; scale: number } {
    let planes = this.full(id);
    let level = 0;
    while (planes.w * planes.h > most) {
      planes = this.ev.halvePlanes(planes);
      level++;
    }
    return { planes, scale: 2 ** -level };
  }
  /** The picture at a scale of at most 1. */
  private draft(id: string, wanted: number): { planes: Planes; scale: number } {
    let planes = this.full(id);
    const { w, h } = planes;
    const s = Math.min(1, wanted, Math.sqrt(DRAFT_STEPS[this.draftStep]! / (w * h)));
    const dw = Math.max(1, Math.round(w * s));
    const dh = Math.max(1, Math.round(h * s));
    while (planes.w >= 2 * dw) planes = this.ev.halvePlanes(planes);
    return { planes: this.ev.resizePlanes(planes, dw, dh), scale: dw / w };
  }
  /** Runs a shot at full resolution. */
  private run(shot: ShotState, focus?: string): Result {
    this.ev.begin();
    return this.ev.run(this.full(shot.pictureId), this.steps(shot, 1), focus === undefined ? {} : { focus });
  }
  private f32(p: { w: number; h: number }, at: number): Float32Array {
    return this.ev.arena.f32(at, p.w * p.h);
  }
  private rgb(p: Planes): { r: Float32Array; g: Float32Array; b: Float32Array } {
    return { r: this.f32(p, p.r), g: this.f32(p, p.g), b: this.f32(p, p.b) };
  }
  private read(p: Planes, box: Box, line: number, points?: readonly Corner[]): Reading | null {
    const { r, g, b } = this.rgb(p);
    return readPatch(r, g, b, p.w, box, line, points);
  }

  render(q: RenderRequest): RenderReply {
    const t0 = performance.now();
    this.ev.begin();
    const { planes, scale } = q.quality === 'draft' ? this.draft(q.shot.pictureId, q.view.scale) : { planes: this.full(q.shot.pictureId), scale: 1 };
    const focus = q.focus ?? undefined;
    const result = this.ev.run(planes, this.steps(q.shot, scale), focus === undefined ? {} : { focus });
    const step = q.focus ? result.steps.get(q.focus) : undefined;
    const base = this.base(q.shot, planes);
    const shown = q.view.falseColour === 'zones' ? this.beforeZones(q, planes, scale) ?? result.out : result.out;
    const rgba = this.view({ out: shown, source: base }, step?.matte ?? null, step?.input ?? base, q.view, scale, q);
    const read = q.scopes.length === 0 ? null : readScopes(this.ev, { after: result.out, before: base, matte: step?.matte ?? null, scale, stride: q.quality === 'draft' ? 2 : 1, skinLineDeg: q.skinLineDeg }, q.scopes);
    const readings: PatchReadings[] = q.patches.map(({ id, box, points }) => {
      const b: Box = { x: box.x * scale, y: box.y * scale, w: box.w * scale, h: box.h * scale };
      const corners = points?.map(([x, y]) => [x * scale, y * scale] as const);
      const before = this.read(base, b, q.skinLineDeg, corners);
      return { id, before, after: result.out === base ? before : this.read(result.out, b, q.skinLineDeg, corners) };
    });
    const ms = performance.now() - t0;
    this.pace(q.quality, ms);
    return { rgba, w: q.view.w, h: q.view.h, quality: q.quality, scopes: read?.replies ?? null, clipped: read?.clipped ?? null, contrast: read?.contrast ?? null, readings, ms, computed: this.ev.computed };
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
  private beforeZones(q: RenderRequest, planes: Planes, scale: number): Planes | null {
    const z = q.view.zonesOf;
    const n = q.shot.corrections.findIndex((c) => c.id === z?.correction);
    const k = q.shot.corrections[n]?.adjustments.findIndex((u) => u.id === z?.use) ?? -1;
    if (k < 0) return null;
    const corrections = q.shot.corrections.slice(0, n + 1).map((c, i) => (i === n ? { ...c, mixPct: 100, terms: [], adjustments: c.adjustments.slice(0, k) } : c));
    return this.ev.run(planes, this.steps({ ...q.shot, corrections }, scale)).out;
  }

  /** Other scopes of a shot: the ghosts behind those of the open one. */
  scopes(q: Requests['scopes']['in']): ScopeReply[] {
    this.ev.begin();
    const { planes, scale } = this.level(q.shot.pictureId, DRAFT_PIXELS);
    const result = this.ev.run(planes, this.steps(q.shot, scale), q.focus === null ? {} : { focus: q.focus });
    const matte = (q.focus && result.steps.get(q.focus)?.matte) || null;
    return readScopes(this.ev, { after: result.out, before: this.base(q.shot, planes), matte, scale, stride: 1, skinLineDeg: q.skinLineDeg }, q.scopes).replies;
  }

  private table4(v: View, shot: ShotState): Float32Array | null {
    const kind = v.falseColour ?? 'off';
    if (kind === 'off' || kind === 'clipped') return null;
    const scene = shot.conversion?.on && typeof shot.encoding !== 'object' ? resolveEncoding(shot.encoding).referred === 'scene' : typeof shot.encoding === 'object' && 'log' in shot.encoding && shot.conversion?.on;
    const greyPct = scene ? Number(shot.conversion!.params['greyPct'] ?? opById('convert').params['greyPct']!.default) : 100 * greySignal(displayEncoding(shot));
    const use = shot.corrections.find((c) => c.id === v.zonesOf?.correction)?.adjustments.find((u) => u.id === v.zonesOf?.use);
    const p = use ? (resolve(opById('zones').params, use.params, shot.frame) as Record<string, number>) : null;
    const zoneAt = p ? (y: number): readonly number[] => zoneWeights(y, [p['border1Pct']! / 100, p['border2Pct']! / 100, p['border3Pct']! / 100, p['border4Pct']! / 100], p['softPct']! / 100) : null;
    return falseTable(kind, { greyPct, zoneAt });
  }

  private view(result: Pick<Result, 'out' | 'source'>, matte: Matte | null, input: Planes, v: View, planeScale: number, q?: Pick<RenderRequest, 'shot' | 'skinLineDeg'>): Uint8ClampedArray<ArrayBuffer> {
    let { out, source } = result;
    let scale = v.scale / planeScale;
    let offX = v.offX * planeScale;
    let offY = v.offY * planeScale;
    let wipe = v.wipeX * planeScale;
    // Halving before sampling, so that no pixel is skipped. A change map is not averaged: one changed pixel must show.
    while (scale <= 0.5 && v.mode !== 'change' && v.falseColour !== 'clipped') {
      const same = out === source;
      if (matte) matte = this.ev.halveMatte(matte, source.w, source.h);
      source = this.ev.halvePlanes(source);
      out = same ? source : this.ev.halvePlanes(out);
      input = source;
      scale *= 2;
      offX /= 2;
      offY /= 2;
      wipe /= 2;
    }
    this.ev.ensureScratch(v.w, v.h);
    const at = this.ev.arena.alloc(v.w * v.h * 4);
    const table = q ? this.table4(v, q.shot) : null;
    const select = v.select ?? null;
    const mask = select ? selectMask(select) : null;
    const tableAt = table ? this.ev.arena.alloc(table.byteLength) : 0;
    const maskAt = mask ? this.ev.arena.alloc(mask.byteLength) : 0;
    if (table) this.ev.arena.f32(tableAt, table.length).set(table);
    if (mask) this.ev.arena.u8(maskAt, mask.length).set(mask);
    const band = select?.kind === 'band' ? select : null;
    try {
      this.ev.pool.run('view', v.h, [
        v.w, v.h, at, viewModes.indexOf(v.mode), compareModes.indexOf(v.compare), wipe, source.w, source.h, scale, offX, offY, scale >= 2 ? 1 : 0,
        out.r, out.g, out.b, source.r, source.g, source.b, matte?.at ?? 0, input.r, input.g, input.b,
        falseColours.indexOf(v.falseColour ?? 'off'), tableAt, selectCode(select), maskAt, band?.lo ?? 0, band?.hi ?? 0, select?.when === 'before' ? 1 : 0, q?.skinLineDeg ?? 0,
      ]);
      // A slice of the same kind is copied at once; from another kind it would go number by number.
      return new Uint8ClampedArray(this.ev.arena.memory.buffer, at, v.w * v.h * 4).slice() as Uint8ClampedArray<ArrayBuffer>;
    } finally {
      this.ev.arena.release(at);
      if (tableAt) this.ev.arena.release(tableAt);
      if (maskAt) this.ev.arena.release(maskAt);
    }
  }

  pick(shot: ShotState, x: number, y: number): PickReply | null {
    this.ev.begin();
    // The draft level is in the cache while the pointer moves; a pixel of it is what the eye sees.
    const p = this.picture(shot.pictureId);
    if (x < 0 || y < 0 || x >= p.width || y >= p.height) return null;
    const res = this.ev.run(this.full(shot.pictureId), this.steps(shot, 1));
    const i = Math.floor(y) * p.width + Math.floor(x);
    const at = (q: Planes): [number, number, number] => {
      const { r, g, b } = this.rgb(q);
      return [r[i]!, g[i]!, b[i]!];
    };
    return { before: at(this.base(shot, res.source)), after: at(res.out) };
  }

  private inputOf(res: Result, correction: string): Planes {
    const s = res.steps.get(correction);
    if (!s) throw new RangeError('There is no such correction in this shot');
    return s.input;
  }

  distributions(shot: ShotState, correction: string): Distributions {
    this.ev.begin();
    const { planes, scale } = this.level(shot.pictureId, 150_000);
    const res = this.ev.run(planes, this.steps(shot, scale), { focus: correction });
    const { r, g, b } = this.rgb(this.inputOf(res, correction));
    const hue = new Array<number>(180).fill(0);
    const sat = new Array<number>(100).fill(0);
    const luma = new Array<number>(100).fill(0);
    for (let i = 0; i < r.length; i++) {
      const [y, cb, cr] = rgbToYcbcr(r[i]!, g[i]!, b[i]!);
      const c = chromaPct(cb, cr);
      luma[Math.min(99, Math.max(0, Math.floor(y * 100)))]!++;
      sat[Math.min(99, Math.floor(c))]!++;
      if (c >= NEUTRAL_CHROMA_PCT) hue[Math.min(179, Math.floor(hueDeg(cb, cr) / 2))]!++;
    }
    const norm = (h: number[]): number[] => {
      const most = Math.max(1, ...h);
      // A root keeps small heaps, such as a face in a large room, visible behind the handles.
      return h.map((v) => Math.sqrt(v / most));
    };
    return { hue: norm(hue), sat: norm(sat), luma: norm(luma) };
  }

  fitKey(shot: ShotState, correction: string | null, area: SampleArea): KeyFit {
    const res = this.run(shot, correction ?? undefined);
    const p = correction === null ? this.base(shot, res.source) : this.inputOf(res, correction);
    const { r, g, b } = this.rgb(p);
    const seen = new Set<number>();
    if ('select' in area) {
      const code = selectCode(area.select);
      const mask = selectMask(area.select) ?? new Uint8Array(0);
      const [lo, hi] = area.select.kind === 'band' ? [area.select.lo, area.select.hi] : [0, 0];
      // Every fourth pixel of every second row: a mark in a scope means thousands.
      for (let y = 0; y < p.h; y += 2) for (let x = y % 4; x < p.w; x += 4) if (selects(code, mask, lo, hi, area.skinLineDeg, r[y * p.w + x]!, g[y * p.w + x]!, b[y * p.w + x]!)) seen.add(y * p.w + x);
      if (seen.size < 8) throw new RangeError('Almost no pixel of the picture lies in what is marked: mark more of the trace');
    } else if ('box' in area) {
      const box = clipBox(area.box, p.w, p.h);
      if (box) for (let y = box.y; y < box.y + box.h; y++) for (let x = box.x; x < box.x + box.w; x++) seen.add(y * p.w + x);
    } else {
      const R = Math.max(1, area.radiusPx);
      for (const c of area.points)
        for (let y = Math.max(0, Math.ceil(c.y - R)); y <= Math.min(p.h - 1, c.y + R); y++)
          for (let x = Math.max(0, Math.ceil(c.x - R)); x <= Math.min(p.w - 1, c.x + R); x++)
            if ((x - c.x) ** 2 + (y - c.y) ** 2 <= R * R) seen.add(y * p.w + x);
    }
    // Spread over at most 200000 samples: more changes nothing.
    const stride = Math.max(1, Math.ceil(seen.size / 200_000));
    const rgb: number[] = [];
    let k = 0;
    for (const i of seen) if (k++ % stride === 0) rgb.push(r[i]!, g[i]!, b[i]!);
    return fitKey(rgb);
  }

  /** A copy of a rectangle of the picture, as planes of their own. */
  private window(id: string, box: Box): Planes {
    const f = this.full(id);
    const from = [f.r, f.g, f.b];
    return this.ev.load(`${this.entry(id).key}@${box.x},${box.y},${box.w},${box.h}`, box.w, box.h, (...to) =>
      to.forEach((t, c) => {
        const s = this.f32(f, from[c]!);
        for (let y = 0; y < box.h; y++) t.set(s.subarray((box.y + y) * f.w + box.x, (box.y + y) * f.w + box.x + box.w), y * box.w);
      }),
    );
  }

  solve(q: SolveRequest): SolveReply {
    const c = q.shot.corrections.find((x) => x.id === q.correction);
    if (!c) throw new RangeError('There is no such correction in this shot');
    if (!c.on) throw new CannotBring('The correction is off: switch it on first');
    const op = q.kind === 'turn' ? 'hueTurn' : 'balance';
    const names = q.kind === 'turn' ? ['angleDeg'] : ['cbPct', 'crPct'];
    // An adjustment of the same kind at the end is pushed further, so that taking the solution twice does not pile up steps.
    const last = c.adjustments.findLast((a) => a.op === op && a.on && names.every((n) => typeof (a.params[n] ?? 0) === 'number'));
    const base = names.map((n) => (last ? ((last.params[n] as number | undefined) ?? 0) : 0));
    const use = last ?? newUse(`${c.id}-${op}-${c.adjustments.length + 1}`, op);
    const withPush = (push: Push): CorrectionSpec['adjustments'] => {
      const limit = q.kind === 'turn' ? 180 : 100;
      const params = { ...use.params, ...Object.fromEntries(names.map((n, i) => [n, Math.max(-limit, Math.min(limit, base[i]! + push[i]!))])) };
      return last ? c.adjustments.map((a) => (a === last ? { ...a, params } : a)) : [...c.adjustments, { ...use, params }];
    };
    const shotWith = (push: Push): CorrectionSpec[] => q.shot.corrections.map((x) => (x === c ? { ...c, adjustments: withPush(push) } : x));
    const p = this.picture(q.shot.pictureId);
    const inner = clipBox(q.patch, p.width, p.height);
    if (!inner) throw new CannotBring('The patch lies outside the picture: draw it on the skin');
    const halo = this.steps(q.shot, 1).reduce((a, s) => a + s.haloPx, 0) + 1;
    const wx = Math.max(0, inner.x - halo);
    const wy = Math.max(0, inner.y - halo);
    const outer: Box = { x: wx, y: wy, w: Math.min(p.width, inner.x + inner.w + halo) - wx, h: Math.min(p.height, inner.y + inner.h + halo) - wy };
    this.ev.begin();
    const win = this.window(q.shot.pictureId, outer);
    const local: Box = { x: inner.x - wx, y: inner.y - wy, w: inner.w, h: inner.h };
    const corners = q.points?.map(([x, y]) => [x - wx, y - wy] as const);
    const measure = (push: Push): Reading | null => {
      const steps = this.steps({ ...q.shot, corrections: shotWith(push) }, 1);
      return this.read(this.ev.run(win, steps, { origin: [wx, wy] }).out, local, q.skinLineDeg, corners);
    };
    const solved = bringToLine(measure, q.kind, q.strength, q.keep, q.skinLineDeg);
    return { ...solved, adjustments: withPush(solved.push) };
  }

  /** Trimmed means of areas, as colours. */
  private colours(p: Planes, areas: readonly (readonly Corner[])[]): [number, number, number][] {
    return areas.map((points) => {
      const r = this.read(p, boundsOf(points), 0, points);
      if (!r) throw new RangeError('A part of it lies outside the picture: pull its corners onto the picture');
      return ycbcrToRgb(r.luma, r.cb, r.cr) as [number, number, number];
    });
  }
  chart(shot: ShotState, chart: ChartPlace): ChartReading {
    const cells = chartCells(chart);
    const res = this.run(shot);
    const areas = cells.map((c) => c.polygon);
    return chartReading(shot, cells, this.colours(this.base(shot, res.source), areas), this.colours(res.out, areas), this.table);
  }

  /** Solves what a helper would set, on what its correction is given. */
  helper(q: HelperRequest): HelperReply {
    const correction = q.shot.corrections.find((c) => c.id === q.correction);
    if (!correction) throw new RangeError('There is no such correction in this shot');
    if (correction.terms.some((t) => t.use.on)) throw new RangeError('The helpers set corrections of the whole picture: this one has a region');
    const input = this.inputOf(this.run(q.shot, q.correction), q.correction);
    const h = { shot: q.shot, correction, strength: q.strength, table: this.table };
    const { task } = q;
    if (task.kind === 'chart') {
      const cells = chartCells(task.chart);
      return solveChart(h, cells, this.colours(input, cells.map((c) => c.polygon)), task.parts);
    }
    if (task.kind === 'neutral') {
      if (task.patches.length === 0) throw new RangeError('There is no patch of the kind black, grey or white: draw one (P) and say its kind in the readings');
      return solveNeutral(h, task.patches.map((p) => ({ kind: p.neutral, colour: this.colours(input, [p.points ?? cornersOf(p.box)])[0]! })));
    }
    const counts = this.ev.scopes(input, { matte: null, mode: 1, box: null, bits: GROUPS.y.bit, range: VECTOR_RANGE, stride: 1, skinLineDeg: 0 });
    const levels = histogramOf(groupOf(counts as Uint32Array, 'y'));
    const total = levels.reduce((a, b) => a + b, 0);
    const level = (share: number): number => {
      let sum = 0;
      const i = levels.findIndex((n) => (sum += n) >= share * total);
      return WAVE_LOW + ((i + 0.5) / WAVE_LEVELS) * (WAVE_HIGH - WAVE_LOW);
    };
    return solvePoints(h, { black: level(task.lowPct / 100), white: level(task.highPct / 100) }, { blackPct: task.blackPct, whitePct: task.whitePct });
  }

  figures(shot: ShotState, correction: string): SurroundFigures {
    const res = this.run(shot, correction);
    const s = res.steps.get(correction);
    if (!s) throw new RangeError('There is no such correction in this shot');
    return surroundFigures(this.rgb(s.input), this.rgb(s.out), s.matte ? this.f32(s.input, s.matte.at) : null, curveOf(shot.corrections.find((c) => c.id === correction)?.side === 'camera' ? resolveEncoding(shot.encoding) : displayEncoding(shot)));
  }

  exportPicture(shot: ShotState, bits: 8 | 16): Uint8Array<ArrayBuffer> {
    const { out } = this.run(shot);
    const { r, g, b } = this.rgb(out);
    const { alphaPlane: a, bits: own } = this.picture(shot.pictureId);
    // Kept transparency goes through untouched.
    const k = a instanceof Float32Array ? 1 : 1 / (2 ** own - 1);
    return encodePlanes([r, g, b, ...(a ? [Float32Array.from(a, (v) => v * k)] : [])], out.w, out.h, bits);
  }

  exportMatte(shot: ShotState, correction: string, bits: 8 | 16): Uint8Array<ArrayBuffer> {
    const res = this.run(shot, correction);
    const s = res.steps.get(correction);
    if (!s) throw new RangeError('There is no such correction in this shot');
    const m = s.matte ? this.f32(s.input, s.matte.at) : new Float32Array(s.input.w * s.input.h).fill(1);
    return encodePlanes([m], s.input.w, s.input.h, bits);
  }

  lut(shot: ShotState, size: number, title: string): LutReply {
    this.ev.begin();
    const res = this.ev.run(this.full(shot.pictureId), this.steps(shot, 1));
    const mattes = [...res.steps.values()].filter((s) => s.out !== s.input).map((s) => (s.matte ? this.f32(s.input, s.matte.at) : null));
    return bakeLut(this.ev, shot, (s) => this.steps(s, 1), size, title, this.rgb(res.source), this.rgb(res.out), mattes);
  }

  thumb(shot: ShotState, width: number): { rgba: Uint8ClampedArray<ArrayBuffer>; w: number; h: number } {
    this.ev.begin();
    const { planes, scale } = this.level(shot.pictureId, DRAFT_PIXELS);
    const result = this.ev.run(planes, this.steps(shot, scale));
    const p = this.picture(shot.pictureId);
    const h = Math.max(1, Math.round((width * p.height) / p.width));
    const rgba = this.view({ out: result.out, source: result.out }, null, result.out, { w: width, h, scale: width / p.width, offX: 0, offY: 0, mode: 'picture', compare: 'off', wipeX: 0 }, scale);
    return { rgba, w: width, h };
  }

  matteThumbs(shot: ShotState, width: number): { id: string; grey: Uint8Array; w: number; h: number }[] {
    this.ev.begin();
    const { planes, scale } = this.level(shot.pictureId, 100_000);
    const steps = this.steps(shot, scale);
    const p = this.picture(shot.pictureId);
    const h = Math.max(1, Math.round((width * p.height) / p.width));
    return steps.filter((s) => s.id !== CONVERSION_ID).map((s: Step) => {
      const res = this.ev.run(planes, steps, { focus: s.id });
      const m = res.steps.get(s.id)!.matte;
      const rgba = this.view({ out: res.out, source: res.out }, m, res.out, { w: width, h, scale: width / p.width, offX: 0, offY: 0, mode: 'matte', compare: 'off', wipeX: 0 }, scale);
      return { id: s.id, grey: Uint8Array.from({ length: width * h }, (_, i) => rgba[4 * i]!), w: width, h };
    });
  }
}

const cornersOf = (b: Box): Corner[] => [[b.x, b.y], [b.x + b.w, b.y], [b.x + b.w, b.y + b.h], [b.x, b.y + b.h]];

/** Names of all operations of a kind, for messages. */
export const opTitle = (id: string): string => ops.find((o) => o.id === id)?.title ?? id;
