/** What leaves: the proof of the surround, pictures, mattes, tables. */
import { curveOf } from '../../core/color/transfer';
import { primaries, resolveEncoding } from '../../core/color/encodings';
import { ditheredCode } from '../../core/math/dither';
import { HALF_MOST, toHalf } from '../../core/math/half';
import { displayEncoding } from '../../core/graph/plan';

import { outsideLimits } from '../../core/skin/limits';
import type { Limits } from '../../core/skin/limits';
import { sideDistance, sideMeans } from '../../core/skin/sides';
import { addCounts, figuresOf } from '../../core/skin/surround';
import type { SurroundFigures } from '../../core/skin/surround';
import type { Codes, Halves } from '../../media/picture';
import type { LimitsReply, LutReply, ShotState, SidesReply } from '../../protocol/messages';
import { bakeLut } from '../lut';
import type { Result } from '../evaluator';
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

/** How much of a shot leaves the limits, before any correction and as it leaves. */
export async function limits(h: Held, shot: ShotState, of: Limits): Promise<LimitsReply> {
  const res = await h.run(shot);
  const base = await h.base(shot, res.source);
  const check = (): void => h.ev.check();
  return h.ev.arena.look((v) => ({
    before: outsideLimits(rgbOf(v, base), of, check),
    after: outsideLimits(rgbOf(v, res.out), of, check),
  }));
}

/** Inside and outside a correction's region: the picture before any correction, and as it leaves. */
export async function sides(h: Held, shot: ShotState, correction: string): Promise<SidesReply> {
  const res = await h.run(shot, correction);
  const s = res.steps.get(correction);
  if (!s) throw new RangeError('There is no such correction in this shot');
  const base = await h.base(shot, res.source);
  const curve = curveOf(displayEncoding(shot));
  const check = (): void => h.ev.check();
  return h.ev.arena.look((v) => {
    const matte = matteOf(v, s.input, s.matte);
    const before = sideMeans(rgbOf(v, base), matte, check);
    const after = sideMeans(rgbOf(v, res.out), matte, check);
    return { before, after, apart: [sideDistance(before, curve), sideDistance(after, curve)] };
  });
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
/** A pixel each, 1 where the matte of any correction that does something is above 0. */
function reachOf(h: Held, shot: ShotState, { out, steps }: Result): Uint8Array<ArrayBuffer> {
  const reached = new Uint8Array(out.w * out.h);
  for (const { id } of shot.corrections) {
    const s = steps.get(id);
    if (!s || s.own === s.input) continue;
    const m = h.ev.arena.look((v) => matteOf(v, s.input, s.matte)?.slice());
    if (!m) return reached.fill(1);
    for (let i = 0; i < m.length; i++) if (m[i]! > 0) reached[i] = 1;
  }
  return reached;
}
/** With `dither` codes of 8 bits have its noise where a correction reaches; those of 16 say where that is. */
export async function pictureCodes(h: Held, shot: ShotState, bits: 8 | 16, dither = false): Promise<Codes> {
  const res = await h.run(shot);
  const { out } = res;
  const { alphaPlane: a, bits: own } = h.picture(shot);
  const rgb = [out.r, out.g, out.b];
  const reached = dither ? reachOf(h, shot, res) : null;
  const seen = reached && bits === 8 ? h.ev.arena.look((v) => Object.values(rgbOf(v, out)).map((p) => p.slice())) : [];
  const codes = await withAlpha();
  if (!reached) return codes;
  if (bits === 16) return { ...codes, reached };
  for (let i = 0; i < reached.length; i++) {
    if (i % ROWS === 0) h.ev.check();
    if (reached[i])
      for (let c = 0; c < 3; c++)
        codes.data[i * codes.channels + c] = ditheredCode(seen[c]![i]!, 255, 3 * i + c, shot.frame);
  }
  return codes;

  async function withAlpha(): Promise<Codes> {
    if (!a) return codesOf(h, rgb, out.w, out.h, bits);
    // Kept transparency goes through untouched.
    const k = a instanceof Float32Array ? 1 : 1 / (2 ** own - 1);
    const { at } = await h.ev.plane(`alpha|${h.entry(shot).key}`, out.w, out.h, (p) => {
      for (let i = 0; i < p.length; i++) p[i] = a[i]! * k;
    });
    return codesOf(h, [...rgb, at], out.w, out.h, bits);
  }
}
export async function matteCodes(h: Held, shot: ShotState, correction: string, bits: 8 | 16): Promise<Codes> {
  const s = (await h.run(shot, correction)).steps.get(correction);
  if (!s) throw new RangeError('There is no such correction in this shot');
  const { w, h: rows } = s.input;
  const m = s.matte ?? (await h.ev.plane(`all|${w}x${rows}`, w, rows, (p) => void p.fill(1)));
  return codesOf(h, [m.at], w, rows, bits);
}

/** As halves of linear light: of what the picture's numbers mean, transparency multiplied in; a matte as it is. */
export async function halves(h: Held, shot: ShotState, correction: string | null): Promise<Halves> {
  const res = await h.run(shot, correction ?? undefined);
  const step = correction === null ? null : res.steps.get(correction);
  if (step === undefined) throw new RangeError('There is no such correction in this shot');
  const at = step ? step.input : res.out;
  const n = at.w * at.h;
  const data = new Uint16Array((step ? 1 : 3) * n);
  if (step) {
    const all = step.matte ? h.ev.arena.look((v) => matteOf(v, step.input, step.matte)!.slice()) : null;
    for (let i = 0; i < n; i++) data[i] = toHalf(all ? all[i]! : 1);
    return { width: at.w, height: at.h, channels: 1, bits: 'half', data, chromaticities: null };
  }
  const encoding = displayEncoding(shot);
  const { decode } = curveOf(encoding);
  const rgb = h.ev.arena.look((v) => {
    const { r, g, b } = rgbOf(v, at);
    return [r.slice(), g.slice(), b.slice()];
  });
  const { alphaPlane: a, bits: own } = h.picture(shot);
  const k = !a ? 0 : a instanceof Float32Array ? 1 : 1 / (2 ** own - 1);
  const channels = a ? 4 : 3;
  const out = a ? new Uint16Array(4 * n) : data;
  for (let i = 0; i < n; i++) {
    if (i % ROWS === 0) h.ev.check();
    const share = a ? a[i]! * k : 1;
    for (let c = 0; c < 3; c++) {
      const v = decode(rgb[c]![i]!) * share;
      // What no number is, is black, as in every other file; halves end at 65504.
      out[i * channels + c] = toHalf(v >= -HALF_MOST ? Math.min(HALF_MOST, v) : v < 0 ? -HALF_MOST : 0);
    }
    if (a) out[i * 4 + 3] = toHalf(share);
  }
  const { red, green, blue, white } = primaries[encoding.primaries];
  return {
    width: at.w,
    height: at.h,
    channels,
    bits: 'half',
    data: out,
    chromaticities: [...red, ...green, ...blue, ...white],
  };
}
/** So many pixels are turned before newer work is let in. */
const ROWS = 65536;

export async function lut(h: Held, shot: ShotState, size: number, title: string): Promise<LutReply> {
  const res = await h.run(shot);
  const mattes = [...res.steps.values()].filter((s) => s.own !== s.input).map((s) => s.matte);
  return bakeLut(h.ev, shot, (s) => h.steps(s, 1), size, title, { source: res.source, real: res.out, mattes });
}
