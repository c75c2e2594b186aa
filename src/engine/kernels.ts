/**
 * One calling convention for both kinds of kernels: addresses in a WebAssembly memory. `wasmKernels` are the SIMD
 * twins; `tsKernels` run the definitions, for parity tests and where WebAssembly SIMD is missing.
 */
import { ops } from '../core/ops/registry.gen';
import { DEG } from '../core/math/angle';
import { addScopes, SCOPE_SIZE } from '../core/scopes/reduce';
import type { ScopePlanes } from '../core/scopes/reduce';
import type { AnyOp, AreaRun } from '../core/op/contract';
import { addCounts, countSurround, SURROUND_COUNTS } from '../core/skin/surround';
import { toCodes } from '../media/encode';
import { mixChroma, widenChroma, yuvToRgb } from '../core/color/yuv';
import { FRAME_HEAD } from './tasks/areas';
import { toCounts } from './tasks/figures';

export type Kernels = Readonly<Record<string, (...args: number[]) => number | void>>;

export async function wasmKernels(bytes: BufferSource, memory: WebAssembly.Memory): Promise<Kernels> {
  const { instance } = await WebAssembly.instantiate(bytes, {
    env: {
      memory,
      abort: () => {
        throw new Error('A kernel stopped');
      },
    },
  });
  // Operations that have no twin run by their definition.
  const plain = ops.filter((o) => o.kind === 'key' && o.area === 'frame' && o.plain);
  return { ...(instance.exports as unknown as Kernels), ...framePasses(plain, memory) };
}
/** Passes over whole frames, by their definitions. */
function framePasses(list: readonly AnyOp[], memory: WebAssembly.Memory): Kernels {
  const f = (at: number, n: number): Float32Array => new Float32Array(memory.buffer, at, n) as Float32Array;
  const out: Record<string, (...args: number[]) => void> = {};
  for (const op of list) {
    if (!('area' in op) && op.kind !== 'area') continue;
    if (op.kind !== 'area' && op.area !== 'frame') continue;
    for (const [pass, kernel] of Object.entries(op.kernels))
      out[`frame_${op.id}_${pass}`] = (k, planes, scratch, w, h, y0, y1) => {
        const table = new Uint32Array(memory.buffer, planes);
        let next = FRAME_HEAD;
        const take = (i: number): Float32Array[] => Array.from({ length: table[i]! }, () => f(table[next++]!, w! * h!));
        const [src, dst, work, picture] = [take(0), take(1), take(2), take(3)];
        const lines = new Int32Array(memory.buffer, scratch, 4 * (w! + h!));
        const block = f(k!, Math.min(2 ** 21, (memory.buffer.byteLength - k!) >> 2));
        kernel(block, { src, dst, work, picture, scratch: lines, w: w!, h: h!, y0: y0!, y1: y1! });
      };
  }
  return out;
}

export function tsKernels(memory: WebAssembly.Memory): Kernels {
  const f = (at: number, n: number): Float32Array => new Float32Array(memory.buffer, at, n) as Float32Array;
  // As much as there is: tables are long. An operation reads no further than it wrote.
  const block = (at: number): Float32Array => f(at, Math.min(2 ** 21, (memory.buffer.byteLength - at) >> 2));
  const out: Record<string, (...args: number[]) => number | void> = { ...framePasses(ops, memory) };
  for (const op of ops) {
    if (op.kind === 'pixel')
      out[`px_${op.id}`] = (k, r, g, b, n) => op.kernel(block(k!), { r: f(r!, n!), g: f(g!, n!), b: f(b!, n!), n: n! });
    else if (op.kind === 'key' && !op.area)
      out[`key_${op.id}`] = (k, r, g, b, m, n) =>
        op.kernel(block(k!), { r: f(r!, n!), g: f(g!, n!), b: f(b!, n!), m: f(m!, n!), n: n! });
    else if (op.kind === 'shape')
      out[`shape_${op.id}`] = (k, m, x0, y, n) => op.kernel(block(k!), { m: f(m!, n!), x0: x0!, y: y!, n: n! });
    else if (op.kind === 'area' || op.area === 'frame') continue;
    else if (!op.area) out[`tidy_${op.id}`] = (k, m, n) => op.kernel(block(k!), { m: f(m!, n!), n: n! });
    else
      for (const [pass, kernel] of Object.entries(op.kernels))
        out[`area_${op.id}_${pass}`] = (k, src, dst, scratch, w, h, y0, y1, left, top) => {
          const run: AreaRun = {
            src: f(src!, w! * h!),
            dst: f(dst!, w! * h!),
            scratch: new Int32Array(memory.buffer, scratch!, 4 * (w! + h!)),
            w: w!,
            h: h!,
            y0: y0!,
            y1: y1!,
            left: left!,
            top: top!,
          };
          kernel(block(k!), run);
        };
  }
  out['blend'] = (ir, ig, ib, r, g, b, m, mix, n) => {
    const matte = m ? f(m, n!) : null;
    const pairs = [
      [ir, r],
      [ig, g],
      [ib, b],
    ].map(([i, o]) => [f(i!, n!), f(o!, n!)] as const);
    for (let i = 0; i < n!; i++) {
      const k = matte ? Math.fround(matte[i]! * mix!) : mix!;
      for (const [inp, op] of pairs) op[i] = k <= 0 ? inp[i]! : k >= 1 ? op[i]! : inp[i]! + k * (op[i]! - inp[i]!);
    }
  };
  out['beside'] = (start, cur, own, n) => {
    const [s, a, b] = [f(start!, n!), f(cur!, n!), f(own!, n!)];
    const bits = (at: number): Uint32Array => new Uint32Array(memory.buffer, at, n);
    const [si, ai, bi] = [bits(start!), bits(cur!), bits(own!)];
    for (let i = 0; i < n!; i++) {
      if (bi[i] === si[i]) continue;
      // As bits: a number that is none keeps its own.
      if (ai[i] === si[i]) ai[i] = bi[i]!;
      else a[i] = a[i]! + Math.fround(b[i]! - s[i]!);
    }
  };
  out['allZero'] = (m, n) => (f(m!, n!).every((v) => v === 0) ? 1 : 0);
  out['join'] = (a, b, how, not, n) => {
    const p = f(a!, n!);
    const q = f(b!, n!);
    for (let i = 0; i < n!; i++) {
      const v = not ? 1 - q[i]! : q[i]!;
      p[i] = how === 0 ? Math.min(p[i]!, v) : how === 1 ? Math.max(p[i]!, v) : v;
    }
  };
  out['halve'] = (src, dst, w, h, y0, y1) => {
    const hw = (w! + 1) >> 1;
    const s = f(src!, w! * h!);
    const d = f(dst!, hw * ((h! + 1) >> 1));
    for (let y = y0!; y < y1!; y++)
      for (let x = 0; x < hw; x++) {
        const a = 2 * y * w!;
        const b = 2 * y + 1 < h! ? a + w! : a;
        const x1 = 2 * x + 1 < w! ? 2 * x + 1 : 2 * x;
        d[y * hw + x] = 0.25 * (s[a + 2 * x]! + s[a + x1]! + s[b + 2 * x]! + s[b + x1]!);
      }
  };
  for (const [bytes, Kind] of [
    [1, Uint8Array],
    [2, Uint16Array],
    [4, Float32Array],
  ] as const)
    out[`planar${bytes}`] = (from, r, g, b, n, scale) => {
      const s = new Kind(memory.buffer, from, 3 * n!);
      [r, g, b].forEach((at, c) => {
        const d = f(at!, n!);
        for (let i = 0; i < n!; i++) d[i] = s[3 * i + c]! * scale!;
      });
    };
  out['yuvRow'] = (k, y, u0, u1, v0, v1, weight, cw, size, how, _scratch, r, g, b, n) => {
    const Kind = size === 1 ? Uint8Array : Uint16Array;
    const block = f(k!, 7);
    const chroma = [[u0, u1] as const, [v0, v1] as const].map(([p, q]) => {
      const row = new Float32Array(cw!);
      const line = (at: number): Uint8Array | Uint16Array => new Kind(memory.buffer, at, cw!);
      mixChroma(line(p!), line(q!), weight!, block[2]!, row);
      if (!(how! & 1)) return row;
      const wide = new Float32Array(n!);
      widenChroma(row, (how! & 2) !== 0, wide);
      return wide;
    }) as [Float32Array, Float32Array];
    const to = { r: f(r!, n!), g: f(g!, n!), b: f(b!, n!) };
    yuvToRgb(block, new Kind(memory.buffer, y!, n!), ...chroma, to, (how! & 4) !== 0);
  };
  out['surround'] = (r0, g0, b0, r1, g1, b1, m, n, to) => {
    const rgb = (...at: number[]) => ({ r: f(at[0]!, n!), g: f(at[1]!, n!), b: f(at[2]!, n!) });
    const counts = countSurround(rgb(r0!, g0!, b0!), rgb(r1!, g1!, b1!), m ? f(m, n!) : null);
    const all = new Float64Array(memory.buffer, to, SURROUND_COUNTS.length);
    const sum = addCounts(toCounts(all), counts);
    SURROUND_COUNTS.forEach((k, i) => (all[i] = sum[k]));
  };
  out['codes'] = (p0, p1, p2, p3, channels, bits, n, to) => {
    const d =
      bits === 16
        ? new Uint16Array(memory.buffer, to, n! * channels!)
        : new Uint8Array(memory.buffer, to, n! * channels!);
    [p0, p1, p2, p3].slice(0, channels).forEach((p, c) => toCodes(f(p!, n!), d, channels!, c, bits as 8 | 16));
  };
  out['move'] = (to, from, bytes) => void new Uint8Array(memory.buffer).copyWithin(to!, from!, from! + bytes!);
  out['sampleRow'] = (a, b, fy, x0, x1, fx, n, to) => {
    const all = new Float32Array(memory.buffer);
    const l = new Uint32Array(memory.buffer, x0, n);
    const r = new Uint32Array(memory.buffer, x1, n);
    const w = f(fx!, n!);
    const d = f(to!, n!);
    for (let i = 0; i < n!; i++) {
      const at = (row: number, x: number): number => all[(row + x) >> 2]!;
      const top = at(a!, l[i]!) + w[i]! * (at(a!, r[i]!) - at(a!, l[i]!));
      const low = at(b!, l[i]!) + w[i]! * (at(b!, r[i]!) - at(b!, l[i]!));
      d[i] = top + fy! * (low - top);
    }
  };
  out['packRow'] = (r, g, b, n, to) => {
    const px = new Uint8ClampedArray(memory.buffer, to, 4 * n!);
    const [R, G, B] = [f(r!, n!), f(g!, n!), f(b!, n!)];
    for (let i = 0; i < n!; i++) px.set([R[i]! * 255, G[i]! * 255, B[i]! * 255, 255], 4 * i);
  };
  out['addCounts'] = (to, from, n) => {
    const a = new Uint32Array(memory.buffer, to, n);
    const b = new Uint32Array(memory.buffer, from, n);
    for (let i = 0; i < n!; i++) a[i]! += b[i]!;
  };
  out['scope'] = (r, g, b, m, mode, w, x0, x1, y0, y1, stride, bits, ca, sa, _tan, range, _cols, counts) => {
    const n = w! * y1!;
    const line = Math.atan2(sa!, ca!) * DEG;
    const planes: ScopePlanes = {
      r: f(r!, n),
      g: f(g!, n),
      b: f(b!, n),
      m: m ? f(m, n) : null,
      matte: mode as ScopePlanes['matte'],
      w: w!,
      x0: x0!,
      x1: x1!,
    };
    addScopes(planes, y0!, y1!, stride!, bits!, line, range!, new Uint32Array(memory.buffer, counts!, SCOPE_SIZE));
  };
  return out;
}
