/** What a session holds and how it runs it: pictures, tables, levels of a picture, corrections over it. */
import type { Corner } from '../../core/math/polygon';
import type { Cube } from '../../core/formats/cube';
import { compile, conversionStep } from '../../core/graph/plan';
import type { Step } from '../../core/graph/plan';

import { readPatch } from '../../core/skin/reading';
import type { Box, Reading } from '../../core/skin/reading';
import { buffersOf } from '../../media/picture';
import type { DecodedPicture } from '../../media/picture';
import { clampFrame, FrameCache } from '../../media/source';
import type { FrameRef, ShotState } from '../../protocol/messages';
import { OWN } from '../../core/graph/region';
import type { OutsideMatte } from '../../core/graph/region';
import type { Evaluator, OutsideAt, Result, RunOptions } from '../evaluator';
import type { Planes } from '../pictures';
import { rgbOf } from '../samples';

/** Bytes of decoded pictures and of tables that are kept; what is in use stays whatever it takes. */
export const PICTURE_BYTES = 768 * 2 ** 20;
/** Of frames of what moves: each is looked at for a moment, and most of them never again. */
export const FRAME_BYTES = 64 * 2 ** 20;
export const TABLE_BYTES = 192 * 2 ** 20;
const bytesOfPicture = (p: DecodedPicture): number => buffersOf(p).reduce((a, b) => a + b.byteLength, 0);
/** Drops what was used longest ago until the rest fits; the last one stays. */
function drop<T>(map: Map<string, T>, most: number, bytes: (v: T) => number): void {
  let held = 0;
  for (const v of map.values()) held += bytes(v);
  for (const [k, v] of map) {
    if (held <= most || map.size === 1) return;
    map.delete(k);
    held -= bytes(v);
  }
}
/** About how long a million pixels take that JavaScript walks over, with much to spare. */
const SLOW_MS = 4000;

/** A frame as a picture, or what a matte is made of it, brought to the size of the picture that it limits. */
export interface SourceRef extends FrameRef {
  matte?: { channel: OutsideMatte['channel']; w: number; h: number };
}

export class MissingPicture extends Error {
  override name = 'MissingPicture';
  constructor(readonly ref: FrameRef) {
    super(`${ref.media}, frame ${ref.frame}`);
  }
}

/** The shot needs a lookup table that has not been given yet. */
export class MissingTable extends Error {
  override name = 'MissingTable';
}

interface Entry {
  ref: FrameRef;
  picture: DecodedPicture;
  key: string;
}
type Around = Required<Pick<RunOptions, 'frame' | 'outside'>>;
export class Held {
  private tables = new Map<string, Cube>();
  private readonly stills = new FrameCache<Entry>(PICTURE_BYTES);
  private readonly moving = new FrameCache<Entry>(FRAME_BYTES);
  /** How many frames a media has, once one of them has come. */
  private readonly frames = new Map<string, number>();
  private opened = 0;

  constructor(
    readonly ev: Evaluator,
    /** Told before work that cannot count its progress: about how many milliseconds it may take. */
    private readonly quiet: (ms: number) => void = () => {},
  ) {}

  /** Keeps a decoded frame; those used last stay, as many as fit. Answers with those that went. */
  open(media: string, picture: DecodedPicture, frame = 0, frames = 1): FrameRef[] {
    this.frames.set(media, frames);
    // A picture opened again under the same name may be another one: what was computed of the first must not be found.
    const key = `${media}#${frame}~${this.opened++}`;
    const ref = { media, frame };
    const gone = this.cacheOf(media).put(this.nameOf(ref), { ref, picture, key }, bytesOfPicture(picture));
    return gone.map((e) => e.ref);
  }
  private cacheOf(media: string): FrameCache<Entry> {
    return (this.frames.get(media) ?? 1) > 1 ? this.moving : this.stills;
  }
  /** Beyond the ends the nearest frame; of a media that nobody has seen yet, the one asked for. */
  private clamped({ media, frame }: FrameRef): FrameRef {
    const n = this.frames.get(media);
    return { media, frame: n === undefined ? frame : clampFrame(frame, n) };
  }
  private nameOf(ref: FrameRef): string {
    const { media, frame } = this.clamped(ref);
    return `${media}#${frame}`;
  }

  has(ref: FrameRef): boolean {
    return this.cacheOf(ref.media).has(this.nameOf(ref));
  }

  /** Bytes that are held outside of the evaluator, for measuring. */
  held(): { pictures: number; tables: number } {
    return {
      pictures: this.stills.bytes + this.moving.bytes,
      tables: [...this.tables.values()].reduce((a, t) => a + t.data.byteLength, 0),
    };
  }

  entry(ref: FrameRef): Entry {
    const p = this.cacheOf(ref.media).get(this.nameOf(ref));
    if (!p) throw new MissingPicture(this.clamped(ref));
    return p;
  }

  picture(ref: FrameRef): DecodedPicture {
    return this.entry(ref).picture;
  }

  /** Keeps a lookup table under an id; its numbers never change under one id. */
  putTable(id: string, cube: Cube): void {
    this.tables.delete(id);
    this.tables.set(id, cube);
    drop(this.tables, TABLE_BYTES, (t) => t.data.byteLength);
  }

  readonly table = (id: string): Cube | null => {
    if (id === '') return null;
    const c = this.tables.get(id);
    if (!c) throw new MissingTable(id);
    // Most recently used last.
    this.tables.delete(id);
    this.tables.set(id, c);
    return c;
  };

  steps(shot: ShotState, scale: number): Step[] {
    return compile(shot.corrections, shot.frame, scale, shot, this.table);
  }

  /** What the corrections are compared with: the picture as converted, without any of them. */
  async base(shot: ShotState, source: Planes): Promise<Planes> {
    const c = conversionStep(shot, shot.frame, this.table);
    const out = c ? (await this.ev.run(source, [c])).out : source;
    this.slow(out.w * out.h);
    return out;
  }

  /** Before a walk over pixels that does not count. */
  slow(pixels: number): void {
    this.quiet(SLOW_MS + (SLOW_MS * pixels) / 1e6);
  }

  full(ref: SourceRef): Promise<Planes> {
    if (ref.matte) return this.matteFrom(ref, ref.matte);
    const { picture: p, key } = this.entry(ref);
    if (p.yuv) return this.ev.loadYuv(key, p.width, p.height, p.yuv.planes, p.yuv.meaning);
    const scale = p.rgb instanceof Float32Array ? 1 : 1 / (2 ** p.bits - 1);
    return this.ev.loadPicture(key, p.width, p.height, p.rgb, scale);
  }

  /**
   * A matte that was made elsewhere, as planes that are the same three times: 0 to 1 as its numbers say. Of a size of
   * its own it is brought to the picture's; of another form it is refused.
   */
  private async matteFrom(ref: FrameRef, { channel, w, h }: NonNullable<SourceRef['matte']>): Promise<Planes> {
    const { picture: p, key } = this.entry(ref);
    if (Math.abs((p.width * h) / (p.height * w) - 1) > 0.01)
      throw new RangeError(
        `The matte has ${p.width} x ${p.height} pixels, the picture ${w} x ${h}: it is of another form. ` +
          'Write it at the size of the picture and choose it again',
      );
    const n = p.width * p.height;
    const rgb = channel === 'luma' ? await this.full({ media: ref.media, frame: ref.frame }) : null;
    const m = await this.ev.plane(`matte|${key}|${channel}`, p.width, p.height, (to) =>
      this.ev.arena.look((v) => {
        if (rgb) lumaInto(to, rgbOf(v, rgb));
        else if (!p.alphaPlane)
          throw new RangeError(
            'A region rests on the transparency of a picture that has none, or whose transparency was laid over ' +
              'black when it came in: import it with transparency kept (Options, in Shots), or take its brightness',
          );
        else {
          const most = p.alphaPlane instanceof Float32Array ? 1 : 2 ** p.bits - 1;
          for (let i = 0; i < n; i++) to[i] = clamp01(p.alphaPlane[i]! / most);
        }
      }),
    );
    let planes: Planes = { r: m.at, g: m.at, b: m.at, w: p.width, h: p.height, key: m.key };
    while (planes.w >= 2 * w) planes = await this.ev.halvePlanes(planes);
    return this.ev.resizePlanes(planes, w, h);
  }
  /** The mattes from outside that a shot's regions rest on, made of the same planes as its picture. */
  outside(shot: ShotState, planes: (ref: SourceRef) => Promise<Planes>): OutsideAt {
    return async (offset, { media, channel, from }) => {
      const { width: w, height: h } = this.picture(shot);
      const at = shot.frame + offset;
      const of = media === OWN ? { media: shot.media, frame: at } : { media, frame: Math.max(0, at - from) };
      const m = await planes({ ...of, matte: { channel, w, h } });
      return { at: m.r, key: m.key };
    };
  }

  async level(ref: SourceRef, most: number): Promise<{ planes: Planes; scale: number }> {
    let planes = await this.full(ref);
    let level = 0;
    while (planes.w * planes.h > most) {
      planes = await this.ev.halvePlanes(planes);
      level++;
    }
    return { planes, scale: 2 ** -level };
  }

  /** Runs a shot at full resolution. */
  async run(shot: ShotState, focus?: string): Promise<Result> {
    this.ev.begin();
    return this.over(shot, (ref) => this.full(ref), 1, focus);
  }
  /** What a run may ask for beside the planes of its frame: those of other frames, and mattes from outside. */
  private around(shot: ShotState, planes: (ref: SourceRef) => Promise<Planes>, scale: number): Around {
    const last = (this.frames.get(shot.media) ?? 1) - 1;
    return {
      outside: this.outside(shot, planes),
      frame: async (offset) => {
        const at = { ...shot, frame: shot.frame + offset };
        if (at.frame < 0 || at.frame > last) return null;
        return { source: await planes(at), steps: this.steps(at, scale) };
      },
    };
  }
  /** The shot at full size, for a run at a smaller scale; null for one at full size. */
  whole(shot: ShotState, scale: number): Around | null {
    return scale < 1 ? this.around(shot, (ref) => this.full(ref), 1) : null;
  }
  /**
   * Runs a shot over planes of its frame; where a step needs other frames, over those as well. What comes of it is
   * walked over next, which does not count: that is announced.
   */
  async over(
    shot: ShotState,
    planes: (ref: SourceRef) => Promise<Planes>,
    scale: number,
    focus?: string,
    origin?: readonly [number, number],
  ): Promise<Result> {
    const res = await this.ev.run(await planes(shot), this.steps(shot, scale), {
      ...(focus === undefined ? {} : { focus }),
      ...(origin ? { origin } : {}),
      ...this.around(shot, planes, scale),
      whole: this.whole(shot, scale),
    });
    this.slow(res.out.w * res.out.h);
    return res;
  }

  read(p: Planes, box: Box, line: number, points?: readonly Corner[], as?: 'shown' | 8 | 16): Reading | null {
    return this.ev.arena.look((v) => {
      const { r, g, b } = rgbOf(v, p);
      return readPatch(r, g, b, p.w, box, line, points, as);
    });
  }

  /** The picture before any correction, on a correction's side of the conversion. */
  async baseFor(shot: ShotState, correction: string | null, source: Planes): Promise<Planes> {
    const camera = shot.corrections.find((c) => c.id === correction)?.side === 'camera';
    return camera ? source : this.base(shot, source);
  }

  inputOf(res: Result, correction: string): Planes {
    const s = res.steps.get(correction);
    if (!s) throw new RangeError('There is no such correction in this shot');
    return s.input;
  }

  /** A copy of a rectangle of the picture halved `level` times, as planes of their own. */
  async window(ref: SourceRef, box: Box, level = 0): Promise<Planes> {
    let f = await this.full(ref);
    for (let i = 0; i < level; i++) f = await this.ev.halvePlanes(f);
    // All of it is no copy: what is known of the picture is known already.
    if (box.x === 0 && box.y === 0 && box.w === f.w && box.h === f.h) return f;
    return this.ev.load(`${f.key}@${box.x},${box.y},${box.w},${box.h}`, box.w, box.h, (...to) =>
      this.ev.arena.look((v) => {
        const { r, g, b } = rgbOf(v, f);
        [r, g, b].forEach((s, c) => {
          for (let y = 0; y < box.h; y++)
            to[c]!.set(s.subarray((box.y + y) * f.w + box.x, (box.y + y) * f.w + box.x + box.w), y * box.w);
        });
      }),
    );
  }
}

const clamp01 = (x: number): number => (x > 0 ? Math.min(1, x) : 0);
/** BT.709 luma of coded values; what is grey keeps its number. */
function lumaInto(to: Float32Array, { r, g, b }: { r: Float32Array; g: Float32Array; b: Float32Array }): void {
  for (let i = 0; i < to.length; i++) {
    const [x, y, z] = [r[i]!, g[i]!, b[i]!];
    to[i] = clamp01(x === y && y === z ? x : 0.2126 * x + 0.7152 * y + 0.0722 * z);
  }
}
/** How far steps look round a pixel, all in all; Infinity where they need all of the picture. */
export const haloOf = (steps: readonly Step[]): number => steps.reduce((a, s) => a + s.haloPx, 0);
/** A piece of a picture with all that reaches into it, cut to the picture. */
export function withHalo(box: Box, steps: readonly Step[], p: DecodedPicture): Box {
  const halo = haloOf(steps) + 1;
  const [x, y] = [Math.max(0, box.x - halo), Math.max(0, box.y - halo)];
  return {
    x,
    y,
    w: Math.min(p.width, box.x + box.w + halo) - x,
    h: Math.min(p.height, box.y + box.h + halo) - y,
  };
}
