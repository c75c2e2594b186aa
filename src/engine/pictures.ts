/**
 * Planes in memory: how pictures come in, their copies at other sizes, those that keys read, and the scopes counted of
 * them. Each is a stage, kept by what it depends on.
 */
import { yuvBlock } from '../core/color/yuv';
import type { YuvMeaning, YuvPlanes } from '../core/color/yuv';
import { lightGains, lightOf } from '../core/matte/keyLight';
import type { LightGains } from '../core/matte/keyLight';
import { overFrames } from '../core/matte/quietTime';
import type { Rgb as Seen } from '../core/matte/quietTime';
import { GROUPS, SCOPE_SIZE } from '../core/scopes/reduce';
import type { Box } from '../core/skin/reading';
import type { Plane, Views } from './memory';
import { Stages } from './stages';
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

export class Pictures extends Stages {
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
  protected async overTime(p: Planes, others: readonly Planes[]): Promise<Planes> {
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
