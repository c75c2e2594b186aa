/** Twins of what following does with every pixel (core/track/lucasKanade.ts, `warped`), in a memory of their own. */
import type { Warp, Grey } from '../core/track/image';
import { padded } from '../core/track/lucasKanade';
import type { Find } from '../core/track/lucasKanade';
import { placer, plainMemory } from './plainMemory';

export async function wasmFollowing(made: WebAssembly.Module): Promise<{ find: Find; warp: Warp }> {
  const memory = await plainMemory(made);
  const { lk_spare, lk_find, lk_warp } = memory.exports as Record<string, (...a: number[]) => number>;
  const floats = (at: number, n: number): Float32Array => new Float32Array(memory.buffer, at, n);
  const doubles = (at: number, n: number): Float64Array => new Float64Array(memory.buffer, at, n);
  const bytes = (at: number, n: number): Uint8Array => new Uint8Array(memory.buffer, at, n);

  const find: Find = (from, to, points, { fine, levels, within }) => {
    const n = points.length;
    const looked = Math.min(from.length, to.length, levels ?? Infinity);
    const { place, end } = placer(memory.from);
    const pyramids = [from, to].map((list) => list.slice(0, looked).map((g) => ({ g, data: padded(g) })));
    const laid = pyramids.map((list) => ({
      head: place(12 * looked),
      levels: list.map(({ g, data }) => ({ g, data, at: place(data.byteLength) })),
    }));
    const [pointsAt, outAt, spareAt] = [place(16 * n), place(32 * n), place(lk_spare!())];
    memory.reach(end());
    for (const { head, levels: list } of laid) {
      const of = new Int32Array(memory.buffer, head, 3 * looked);
      list.forEach(({ g, data, at }, l) => {
        of.set([at, g.w, g.h], 3 * l);
        floats(at, data.length).set(data);
      });
    }
    const given = doubles(pointsAt, 2 * n);
    points.forEach((p, i) => given.set(p, 2 * i));
    lk_find!(laid[0]!.head, laid[1]!.head, looked, pointsAt, n, fine ? 1 : 0, within ?? -1, outAt, spareAt);
    const out = doubles(outAt, 4 * n);
    return points.map((_, i) => {
      const [x, y, like, weight] = out.subarray(4 * i, 4 * i + 4) as unknown as [number, number, number, number];
      return Number.isNaN(x) ? null : { at: [x, y], like, weight };
    });
  };

  const warp: Warp = (frame, map, win) => {
    const n = win.w * win.h;
    const { place, end } = placer(memory.from);
    const [dataAt, mapAt, outAt, insideAt] = [place(4 * frame.w * frame.h), place(72), place(4 * n), place(n)];
    memory.reach(end());
    floats(dataAt, frame.data.length).set(frame.data);
    doubles(mapAt, 9).set(map);
    lk_warp!(dataAt, frame.w, frame.h, mapAt, win.x, win.y, win.w, win.h, outAt, insideAt);
    const grey: Grey = { w: win.w, h: win.h, data: floats(outAt, n).slice() };
    return { grey, inside: bytes(insideAt, n).slice() };
  };
  return { find, warp };
}
