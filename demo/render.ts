/**
 * A small ray marcher: distance fields, area lights with soft shadows, ambient occlusion, skin with wrapped red
 * light.
 */
import { apply3, encode, resolveEncoding, rgbToRgb } from '../src/core/color/encodings';
import { cell } from './noise';
import { step01 } from './sdf';

export type V3 = [number, number, number];
export type Class =
  'skin' | 'lips' | 'eye' | 'hair' | 'garment' | 'prop' | 'wood' | 'bread' | 'wall' | 'metal' | 'glow';

export interface Surface {
  /** Linear BT.709 albedo. */
  albedo: V3;
  /** Strength and sharpness of the highlight. */
  spec: number;
  gloss: number;
  /** 0..1: how far red light reaches round the terminator. */
  scatter: number;
  /** Metal colours its highlight and mirrors the surroundings. */
  metal: number;
  emit?: V3;
  /** Painted on a thing of another class. */
  part?: 'lips';
  /** Height of small relief, world units; its gradient bends the normal. */
  bump?: (x: number, y: number, z: number) => number;
}
export interface Thing {
  /** Bounding sphere, world. */
  centre: V3;
  radius: number;
  cls: Class;
  /** Which garment or person, for the truth mattes. */
  tag: string;
  dist(x: number, y: number, z: number): number;
  surface(x: number, y: number, z: number): Surface;
}
export interface Light {
  at: V3;
  colour: V3;
  /** Radius of the source: softness of its shadow. */
  size: number;
  /** 0: constant over distance (a far light); 1: falls with the square. */
  falloff: number;
}
export interface Scene {
  name: string;
  title: string;
  things: Thing[];
  lights: Light[];
  ambientTop: V3;
  ambientBottom: V3;
  eye: V3;
  look: V3;
  /** Height of the frame at distance 1. */
  fov: number;
  exposure: number;
  noise: number;
  seed: number;
  /** Recorded as ACEScct in AP1, ten bits, instead of as a finished picture. */
  recorded?: boolean;
}

const sub = (a: V3, b: V3): V3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const norm = (a: V3): V3 => {
  const l = Math.hypot(a[0], a[1], a[2]) || 1;
  return [a[0] / l, a[1] / l, a[2] / l];
};
const cross = (a: V3, b: V3): V3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const dot = (a: V3, b: V3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Where in a pixel its four samples lie: a rotated grid. */
export const GRID = [
  [0.375, 0.125],
  [0.875, 0.375],
  [0.625, 0.875],
  [0.125, 0.625],
] as const;
const FAR = 40;

export class Tracer {
  private hit: Thing | null = null;
  /** The last distance was a safe step only, not the distance to a surface. */
  private bound = false;
  private readonly fwd: V3;
  private readonly right: V3;
  private readonly up: V3;
  constructor(readonly s: Scene) {
    this.fwd = norm(sub(s.look, s.eye));
    this.right = norm(cross(this.fwd, [0, 1, 0]));
    this.up = cross(this.right, this.fwd);
  }

  private map(x: number, y: number, z: number): number {
    let d = FAR;
    let who: Thing | null = null;
    let bound = false;
    for (const t of this.s.things) {
      const c = t.centre;
      const cx = x - c[0];
      const cy = y - c[1];
      const cz = z - c[2];
      const b = Math.sqrt(cx * cx + cy * cy + cz * cz) - t.radius;
      // A sphere around the thing: farther than the nearest so far means that the thing is too.
      if (b > d) continue;
      if (b > 0.25) {
        if (b + 0.02 < d) {
          d = b + 0.02;
          who = t;
          bound = true;
        }
        continue;
      }
      const e = t.dist(x, y, z);
      if (e < d) {
        d = e;
        who = t;
        bound = false;
      }
    }
    this.hit = who;
    this.bound = bound;
    return d;
  }

  private shadow(p: V3, l: V3, far: number, size: number): number {
    // A start that differs from point to point turns the bands of a stepped shadow into grain.
    let t = 0.018 + 0.026 * cell(Math.floor(p[0] * 4096), Math.floor(p[1] * 4096), Math.floor(p[2] * 4096));
    let s = 1;
    const k = far / Math.max(size, 0.05);
    for (let i = 0; i < 64 && t < far; i++) {
      const d = this.map(p[0] + l[0] * t, p[1] + l[1] * t, p[2] + l[2] * t);
      if (d < 0.0015) return 0;
      if (!this.bound) s = Math.min(s, 0.5 + (0.5 * k * d) / t);
      t += this.bound ? Math.max(0.03, d) : Math.min(0.25 + 0.2 * t, Math.max(0.022, 0.8 * d));
    }
    s = Math.max(0, Math.min(1, s));
    s = (s - 0.5) * 2;
    return s <= 0 ? 0 : s * s * (3 - 2 * s);
  }

  private normal(p: V3, e: number, s: Surface | null): V3 {
    const f = (x: number, y: number, z: number): number => {
      const d = this.map(x, y, z);
      return s?.bump ? d - s.bump(x, y, z) : d;
    };
    // Four points of a tetrahedron: two samples fewer than central differences.
    const a = f(p[0] + e, p[1] - e, p[2] - e);
    const b = f(p[0] - e, p[1] - e, p[2] + e);
    const c = f(p[0] - e, p[1] + e, p[2] - e);
    const d = f(p[0] + e, p[1] + e, p[2] + e);
    return norm([a - b - c + d, -a - b + c + d, -a + b - c + d]);
  }

  /** What is met first at a position on the frame: u, v in -1..1 of half the height, v up; and where. */
  private first(u: number, v: number): { thing: Thing | null; p: V3; dir: V3; t: number } {
    const { s } = this;
    const k = s.fov / 2;
    const dir = norm([
      this.fwd[0] + (this.right[0] * u + this.up[0] * v) * k,
      this.fwd[1] + (this.right[1] * u + this.up[1] * v) * k,
      this.fwd[2] + (this.right[2] * u + this.up[2] * v) * k,
    ]);
    let t = 0.5;
    let thing: Thing | null = null;
    for (let i = 0; i < 160; i++) {
      const d = this.map(s.eye[0] + dir[0] * t, s.eye[1] + dir[1] * t, s.eye[2] + dir[2] * t);
      if (d < 0.0006 * t * 0.3) {
        thing = this.hit;
        break;
      }
      t += d * 0.86;
      if (t > FAR) break;
    }
    return { thing, p: [s.eye[0] + dir[0] * t, s.eye[1] + dir[1] * t, s.eye[2] + dir[2] * t], dir, t };
  }
  /** Linear light and what was hit, there. */
  trace(u: number, v: number): { rgb: V3; thing: Thing | null } {
    const { thing, p, dir, t } = this.first(u, v);
    if (!thing) return { rgb: [...this.s.ambientBottom], thing: null };
    return { rgb: this.shade(p, dir, thing, t), thing };
  }
  /** What was hit there and what is painted on it, without any light. */
  classAt(u: number, v: number): { thing: Thing | null; part: Surface['part'] } {
    const { thing, p } = this.first(u, v);
    return { thing, part: thing?.cls === 'skin' ? thing.surface(...p).part : undefined };
  }

  private shade(p: V3, dir: V3, thing: Thing, t: number): V3 {
    const { s } = this;
    const m = thing.surface(p[0], p[1], p[2]);
    const n = this.normal(p, Math.max(0.0016, 0.0007 * t), m);
    // Occlusion: how much nearer things are than free space would have it, along the normal.
    let occ = 0;
    let w = 1;
    for (let i = 1; i <= 4; i++) {
      const h = 0.055 * i;
      occ += w * Math.max(0, h - this.map(p[0] + n[0] * h, p[1] + n[1] * h, p[2] + n[2] * h));
      w *= 0.7;
    }
    const ao = Math.max(0.12, 1 - 2.1 * occ);
    const sky = 0.5 + 0.5 * n[1];
    const out: V3 = [0, 0, 0];
    for (let c = 0; c < 3; c++) {
      // Occluded skin is lit through itself: red stays longest.
      const a = m.scatter > 0 && c === 0 ? Math.pow(ao, 0.72) : ao;
      out[c as 0] = m.albedo[c]! * a * (s.ambientBottom[c]! * (1 - sky) + s.ambientTop[c]! * sky) * (1 - 0.8 * m.metal);
    }
    const view: V3 = [-dir[0], -dir[1], -dir[2]];
    const fres = Math.pow(1 - Math.max(0, dot(n, view)), 5);
    for (const l of s.lights) {
      const to = sub(l.at, p);
      const far = Math.hypot(to[0], to[1], to[2]);
      const L: V3 = [to[0] / far, to[1] / far, to[2] / far];
      const nl = dot(n, L);
      const power = l.falloff ? 1 / (1 + (far * far) / (4 * l.falloff * l.falloff)) : 1;
      if (nl < -0.35) continue;
      const sh = this.shadow([p[0] + n[0] * 0.012, p[1] + n[1] * 0.012, p[2] + n[2] * 0.012], L, far, l.size);
      const half = norm([L[0] + view[0], L[1] + view[1], L[2] + view[2]]);
      const nh = Math.max(0, dot(n, half));
      const spec =
        (m.spec + (1 - m.spec) * fres * 0.5 * m.gloss * 0.02) *
        Math.pow(nh, m.gloss) *
        (m.gloss + 8) *
        0.04 *
        Math.max(0, nl) *
        sh;
      for (let c = 0; c < 3; c++) {
        const wrap = m.scatter * (c === 0 ? 0.34 : c === 1 ? 0.13 : 0.08);
        const d = Math.max(0, (nl + wrap) / (1 + wrap)) * (sh + (1 - sh) * m.scatter * (c === 0 ? 0.1 : 0.02));
        out[c as 0] += power * l.colour[c]! * (m.albedo[c]! * d * (1 - m.metal) + spec * (m.metal ? m.albedo[c]! : 1));
      }
    }
    if (m.metal > 0) {
      // A made-up room for metal: bright above, dark bands at the horizon.
      const r: V3 = [dir[0] - 2 * dot(dir, n) * n[0], dir[1] - 2 * dot(dir, n) * n[1], dir[2] - 2 * dot(dir, n) * n[2]];
      const band = step01(-0.1, 0.5, r[1]) * 0.9 + 0.12 + 0.25 * step01(0.75, 0.95, Math.abs(r[0]));
      for (let c = 0; c < 3; c++)
        out[c as 0] +=
          m.metal * m.albedo[c]! * band * (s.ambientTop[c]! * 0.9 + 0.25 * (s.lights[0]?.colour[c] ?? 0)) * ao;
    }
    // A veil of light at grazing angles: fine hairs on skin and cloth.
    if (m.scatter > 0 || thing.cls === 'garment')
      for (let c = 0; c < 3; c++) out[c as 0] += fres * 0.22 * ao * s.ambientTop[c]! * m.albedo[c]!;
    if (m.emit) for (let c = 0; c < 3; c++) out[c as 0] += m.emit[c]!;
    return out;
  }
}

/** Scene light to display signal: exposure, a soft shoulder from 70 % on, then the sRGB curve (IEC 61966-2-1). */
export function develop(rgb: V3, exposure: number): V3 {
  return rgb.map((v) => {
    const x = Math.max(0, v * exposure);
    const y = x < 0.55 ? x : 0.55 + 0.45 * (1 - Math.exp(-(x - 0.55) / 0.45));
    return y <= 0.0031308 ? 12.92 * y : 1.055 * y ** (1 / 2.4) - 0.055;
  }) as V3;
}

const TO_AP1 = rgbToRgb('bt709', 'ap1');
const acescct = resolveEncoding('acescct');
/** Scene light to ACEScct with AP1 primaries. */
export const record = (rgb: V3, exposure: number): V3 =>
  apply3(TO_AP1, [rgb[0] * exposure, rgb[1] * exposure, rgb[2] * exposure]).map((v) => encode(acescct, v)) as V3;
