/** What a session holds and how it runs it: pictures, tables, levels of a picture, corrections over it. */
import type { Corner } from '../../core/math/polygon';
import type { Cube } from '../../core/formats/cube';
import { compile, conversionStep } from '../../core/graph/plan';
import type { Step } from '../../core/graph/plan';

import { readPatch } from '../../core/skin/reading';
import type { Box, Reading } from '../../core/skin/reading';
import type { DecodedPicture } from '../../media/decode';
import type { ShotState } from '../../protocol/messages';
import type { Evaluator } from '../evaluator';
import type { Planes, Result } from '../evaluator';
import { rgbOf } from '../samples';

/** Bytes of decoded pictures and of tables that are kept; what is in use stays whatever it takes. */
export const PICTURE_BYTES = 768 * 2 ** 20;
export const TABLE_BYTES = 192 * 2 ** 20;
const bytesOfPicture = (p: DecodedPicture): number => p.rgb.byteLength + (p.alphaPlane?.byteLength ?? 0);
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

export class MissingPicture extends Error {
  override name = 'MissingPicture';
}

/** The shot needs a lookup table that has not been given yet. */
export class MissingTable extends Error {
  override name = 'MissingTable';
}

export class Held {
  private tables = new Map<string, Cube>();
  private pictures = new Map<string, { picture: DecodedPicture; key: string }>();
  private opened = 0;

  constructor(
    readonly ev: Evaluator,
    /** Told before work that cannot count its progress: about how many milliseconds it may take. */
    private readonly quiet: (ms: number) => void = () => {},
  ) {}

  /** Keeps a decoded picture; those used last stay, as many as fit. */
  open(id: string, p: DecodedPicture): void {
    this.pictures.delete(id);
    // A picture opened again under the same id may be another one: what was computed of the first must not be found.
    this.pictures.set(id, { picture: p, key: `${id}~${this.opened++}` });
    drop(this.pictures, PICTURE_BYTES, ({ picture }) => bytesOfPicture(picture));
  }

  has(id: string): boolean {
    return this.pictures.has(id);
  }

  /** Bytes that are held outside of the evaluator, for measuring. */
  held(): { pictures: number; tables: number } {
    const sum = <T>(m: Map<string, T>, of: (v: T) => number): number => [...m.values()].reduce((a, v) => a + of(v), 0);
    return {
      pictures: sum(this.pictures, ({ picture }) => bytesOfPicture(picture)),
      tables: sum(this.tables, (t) => t.data.byteLength),
    };
  }

  entry(id: string): { picture: DecodedPicture; key: string } {
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
    return c ? (await this.ev.run(source, [c])).out : source;
  }

  /** Before a walk over pixels that does not count. */
  slow(pixels: number): void {
    this.quiet(SLOW_MS + (SLOW_MS * pixels) / 1e6);
  }

  full(id: string): Promise<Planes> {
    const { picture: p, key } = this.entry(id);
    const scale = p.rgb instanceof Float32Array ? 1 : 1 / (2 ** p.bits - 1);
    return this.ev.loadPicture(key, p.width, p.height, p.rgb, scale);
  }

  async level(id: string, most: number): Promise<{ planes: Planes; scale: number }> {
    let planes = await this.full(id);
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
    const source = await this.full(shot.pictureId);
    return this.ev.run(source, this.steps(shot, 1), focus === undefined ? {} : { focus });
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

  /** A copy of a rectangle of the picture, as planes of their own. */
  async window(id: string, box: Box): Promise<Planes> {
    const f = await this.full(id);
    return this.ev.load(`${this.entry(id).key}@${box.x},${box.y},${box.w},${box.h}`, box.w, box.h, (...to) =>
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

/** A piece of a picture with all that reaches into it, cut to the picture. */
export function withHalo(box: Box, steps: readonly Step[], p: DecodedPicture): Box {
  const halo = steps.reduce((a, s) => a + s.haloPx, 0) + 1;
  const [x, y] = [Math.max(0, box.x - halo), Math.max(0, box.y - halo)];
  return {
    x,
    y,
    w: Math.min(p.width, box.x + box.w + halo) - x,
    h: Math.min(p.height, box.y + box.h + halo) - y,
  };
}
