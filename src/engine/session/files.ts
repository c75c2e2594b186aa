/** What leaves: the proof of the surround, pictures, mattes, tables. */
import { curveOf } from '../../core/color/transfer';
import { resolveEncoding } from '../../core/color/encodings';
import { displayEncoding } from '../../core/graph/plan';

import { addCounts, figuresOf } from '../../core/skin/surround';
import type { SurroundFigures } from '../../core/skin/surround';
import { encodePlanes } from '../../media/encode';
import type { LutReply, ShotState } from '../../protocol/messages';
import { bakeLut } from '../lut';
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

export async function exportPicture(h: Held, shot: ShotState, bits: 8 | 16): Promise<Uint8Array<ArrayBuffer>> {
  const { out } = await h.run(shot);
  const { alphaPlane: a, bits: own } = h.picture(shot);
  // Kept transparency goes through untouched.
  const k = a instanceof Float32Array ? 1 : 1 / (2 ** own - 1);
  h.slow(4 * out.w * out.h);
  const alpha = a ? [Float32Array.from(a, (x) => x * k)] : [];
  return h.ev.arena.look((v) => {
    const { r, g, b } = rgbOf(v, out);
    return encodePlanes([r, g, b, ...alpha], out.w, out.h, bits);
  });
}

export async function exportMatte(
  h: Held,
  shot: ShotState,
  correction: string,
  bits: 8 | 16,
): Promise<Uint8Array<ArrayBuffer>> {
  const res = await h.run(shot, correction);
  const s = res.steps.get(correction);
  if (!s) throw new RangeError('There is no such correction in this shot');
  const { w, h: rows } = s.input;
  h.slow(2 * w * rows);
  return h.ev.arena.look((v) =>
    encodePlanes([matteOf(v, s.input, s.matte) ?? new Float32Array(w * rows).fill(1)], w, rows, bits),
  );
}

export async function lut(h: Held, shot: ShotState, size: number, title: string): Promise<LutReply> {
  const res = await h.run(shot);
  const mattes = [...res.steps.values()].filter((s) => s.own !== s.input).map((s) => s.matte);
  h.slow(4e6);
  return bakeLut(h.ev, shot, (s) => h.steps(s, 1), size, title, { source: res.source, real: res.out, mattes });
}
