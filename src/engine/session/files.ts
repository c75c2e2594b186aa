/** What leaves: the proof of the surround, pictures, mattes, tables. */
import { curveOf } from '../../core/color/transfer';
import { resolveEncoding } from '../../core/color/encodings';
import { displayEncoding } from '../../core/graph/plan';

import { addCounts, figuresOf } from '../../core/skin/surround';
import type { SurroundFigures } from '../../core/skin/surround';
import type { Codes } from '../../media/picture';
import type { LutReply, ShotState } from '../../protocol/messages';
import { bakeLut } from '../lut';
import type { Plane } from '../memory';
import { matteOf, rgbOf } from '../samples';
import { COUNTS_BYTES, toCounts } from '../tasks/figures';

import type { Held } from './held';

export async function figures(h: Held, shot: ShotState, correction: string): Promise<SurroundFigures> {
  const res = await h.run(shot, correction);
  const s = res.steps.get(correction);
  if (!s) throw new RangeError('There is no such correction in this shot');
  const camera = shot.corrections.find((c) => c.id === correction)?.side === 'camera';
  const curve = curveOf(camera ? resolveEncoding(shot.encoding) : displayEncoding(shot));
  const { arena, pool } = h.ev;
  const { w, h: rows } = s.input;
  const to = arena.alloc(pool.threads * COUNTS_BYTES);
  try {
    arena.look((v) => void v.u8(to, pool.threads * COUNTS_BYTES).fill(0));
    await pool.run({ do: 'surround', w, h: rows, before: s.input, after: s.own, matte: s.matte?.at ?? null, to });
    return arena.look((v) => {
      const n = COUNTS_BYTES / 8;
      const all = v.f64(to, pool.threads * n);
      const counts = Array.from({ length: pool.threads }, (_, t) => toCounts(all.subarray(t * n))).reduce(addCounts);
      const check = (): void => h.ev.check();
      return figuresOf(counts, rgbOf(v, s.input), rgbOf(v, s.own), matteOf(v, s.input, s.matte), curve, check);
    });
  } finally {
    arena.release(to);
  }
}

/** Planes as a file holds them. */
async function codesOf(h: Held, from: readonly Plane[], w: number, rows: number, bits: 8 | 16): Promise<Codes> {
  const { arena, pool } = h.ev;
  const n = w * rows * from.length;
  const to = arena.alloc((n * bits) / 8);
  try {
    await pool.run({ do: 'codes', w, h: rows, from, bits, to });
    const data = arena.look((v) =>
      bits === 16 ? new Uint16Array(v.u8(to, 2 * n).slice().buffer as ArrayBuffer) : v.u8(to, n).slice(),
    ) as Codes['data'];
    return { width: w, height: rows, channels: from.length as Codes['channels'], bits, data };
  } finally {
    arena.release(to);
  }
}
export async function pictureCodes(h: Held, shot: ShotState, bits: 8 | 16): Promise<Codes> {
  const { out } = await h.run(shot);
  const { alphaPlane: a, bits: own } = h.picture(shot);
  const rgb = [out.r, out.g, out.b];
  if (!a) return codesOf(h, rgb, out.w, out.h, bits);
  // Kept transparency goes through untouched.
  const k = a instanceof Float32Array ? 1 : 1 / (2 ** own - 1);
  const { at } = await h.ev.plane(`alpha|${h.entry(shot).key}`, out.w, out.h, (p) => {
    for (let i = 0; i < p.length; i++) p[i] = a[i]! * k;
  });
  return codesOf(h, [...rgb, at], out.w, out.h, bits);
}
export async function matteCodes(h: Held, shot: ShotState, correction: string, bits: 8 | 16): Promise<Codes> {
  const s = (await h.run(shot, correction)).steps.get(correction);
  if (!s) throw new RangeError('There is no such correction in this shot');
  const { w, h: rows } = s.input;
  const m = s.matte ?? (await h.ev.plane(`all|${w}x${rows}`, w, rows, (p) => void p.fill(1)));
  return codesOf(h, [m.at], w, rows, bits);
}

export async function lut(h: Held, shot: ShotState, size: number, title: string): Promise<LutReply> {
  const res = await h.run(shot);
  const mattes = [...res.steps.values()].filter((s) => s.own !== s.input).map((s) => s.matte);
  return bakeLut(h.ev, shot, (s) => h.steps(s, 1), size, title, { source: res.source, real: res.out, mattes });
}
