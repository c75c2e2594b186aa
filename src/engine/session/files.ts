/** What leaves: the proof of the surround, pictures, mattes, tables. */
import { curveOf } from '../../core/color/transfer';
import { resolveEncoding } from '../../core/color/encodings';
import { displayEncoding } from '../../core/graph/plan';

import { surroundFigures } from '../../core/skin/surround';
import type { SurroundFigures } from '../../core/skin/surround';
import { encodePlanes } from '../../media/encode';
import type { LutReply, ShotState } from '../../protocol/messages';
import { bakeLut } from '../lut';
import { matteOf, rgbOf } from '../samples';

import type { Held } from './held';

export function figures(h: Held, shot: ShotState, correction: string): SurroundFigures {
  const res = h.run(shot, correction);
  const s = res.steps.get(correction);
  if (!s) throw new RangeError('There is no such correction in this shot');
  h.slow(2 * s.input.w * s.input.h);
  const camera = shot.corrections.find((c) => c.id === correction)?.side === 'camera';
  const curve = curveOf(camera ? resolveEncoding(shot.encoding) : displayEncoding(shot));
  return h.ev.arena.look((v) =>
    surroundFigures(rgbOf(v, s.input), rgbOf(v, s.own), matteOf(v, s.input, s.matte), curve, () => h.ev.check()),
  );
}

export function exportPicture(h: Held, shot: ShotState, bits: 8 | 16): Uint8Array<ArrayBuffer> {
  const { out } = h.run(shot);
  const { alphaPlane: a, bits: own } = h.picture(shot.pictureId);
  // Kept transparency goes through untouched.
  const k = a instanceof Float32Array ? 1 : 1 / (2 ** own - 1);
  h.slow(4 * out.w * out.h);
  const alpha = a ? [Float32Array.from(a, (x) => x * k)] : [];
  return h.ev.arena.look((v) => {
    const { r, g, b } = rgbOf(v, out);
    return encodePlanes([r, g, b, ...alpha], out.w, out.h, bits);
  });
}

export function exportMatte(h: Held, shot: ShotState, correction: string, bits: 8 | 16): Uint8Array<ArrayBuffer> {
  const res = h.run(shot, correction);
  const s = res.steps.get(correction);
  if (!s) throw new RangeError('There is no such correction in this shot');
  const { w, h: rows } = s.input;
  h.slow(2 * w * rows);
  return h.ev.arena.look((v) =>
    encodePlanes([matteOf(v, s.input, s.matte) ?? new Float32Array(w * rows).fill(1)], w, rows, bits),
  );
}

export function lut(h: Held, shot: ShotState, size: number, title: string): LutReply {
  h.ev.begin();
  const res = h.ev.run(h.full(shot.pictureId), h.steps(shot, 1));
  const mattes = [...res.steps.values()].filter((s) => s.own !== s.input).map((s) => s.matte);
  h.slow(4e6);
  return bakeLut(h.ev, shot, (s) => h.steps(s, 1), size, title, { source: res.source, real: res.out, mattes });
}
