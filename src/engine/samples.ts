/**
 * What a request looks at: planes as arrays for the length of a look, and the colours that a stroke or a mark
 * means.
 */
import { gcd } from '../core/math/stats';
import { selectCode, selectMask, selects } from '../core/scopes/select';
import { clipBox } from '../core/skin/reading';
import type { SampleArea } from '../protocol/messages';
import type { Matte, Planes } from './pictures';
import type { Views } from './memory';

export type Seen = { r: Float32Array; g: Float32Array; b: Float32Array };
export const rgbOf = (v: Views, p: Planes): Seen => ({
  r: v.f32(p.r, p.w * p.h),
  g: v.f32(p.g, p.w * p.h),
  b: v.f32(p.b, p.w * p.h),
});
export const matteOf = (v: Views, p: Planes, m: Matte | null): Float32Array | null => m && v.f32(m.at, p.w * p.h);

/** Colours that a stroke, a box or a mark in a scope means: R', G', B' one after another. */
export function samplesOf({ r, g, b }: Seen, p: Planes, area: SampleArea): number[] {
  const seen = new Set<number>();
  if ('select' in area) {
    const code = selectCode(area.select);
    const mask = selectMask(area.select) ?? new Uint8Array(0);
    const [lo, hi] = area.select.kind === 'band' ? [area.select.lo, area.select.hi] : [0, 0];
    // Every fourth pixel of every second row: a mark in a scope means thousands.
    for (let y = 0; y < p.h; y += 2)
      for (let x = y % 4; x < p.w; x += 4)
        if (selects(code, mask, lo, hi, area.skinLineDeg, r[y * p.w + x]!, g[y * p.w + x]!, b[y * p.w + x]!))
          seen.add(y * p.w + x);
    if (seen.size < 8)
      throw new RangeError('Almost no pixel of the picture lies in what is marked: mark more of the trace');
  } else if ('box' in area) {
    const box = clipBox(area.box, p.w, p.h);
    if (box)
      for (let y = box.y; y < box.y + box.h; y++) for (let x = box.x; x < box.x + box.w; x++) seen.add(y * p.w + x);
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
  return rgb;
}

/**
 * Some of the colours where the matte is above one half (everywhere without one), interleaved. A fixed walk over the
 * picture, so that the same question has the same answer.
 */
export function heldColours({ r, g, b }: Seen, m: Float32Array | null, most: number): number[] {
  const held: number[] = [];
  const n = r.length;
  // A step that shares no factor with the number of pixels visits each once.
  let step = Math.max(1, Math.floor(n * 0.618));
  while (n > 1 && gcd(step, n) !== 1) step++;
  for (let k = 0, i = 0; k < Math.min(n, 120_000) && held.length < 3 * most; k++, i = (i + step) % n)
    if ((!m || m[i]! > 0.5) && Number.isFinite(r[i]! + g[i]! + b[i]!)) held.push(r[i]!, g[i]!, b[i]!);
  return held;
}
