/** Twins of what a growing region does with every pixel (core/matte), in a memory of their own for each thread. */
import type { Field } from '../core/matte/geodesic';
import type { Counted, Distance, Learning } from '../core/matte/likeness';
import type { Modelled } from '../core/matte/model';
import { placer, plainMemory } from './plainMemory';

export async function wasmGrowing(
  made: WebAssembly.Module,
): Promise<{ field: Field; distance: Distance; learning: Learning; modelled: Modelled }> {
  const memory = await plainMemory(made);
  const { grow_field, grow_distance, grow_count, grow_weigh, grow_model } = memory.exports as Record<
    string,
    (...a: number[]) => void
  >;
  const floats = (at: number, n: number): Float32Array => new Float32Array(memory.buffer, at, n);
  const bytes = (at: number, n: number): Uint8Array => new Uint8Array(memory.buffer, at, n);
  const cells = (at: number, n: number): Uint16Array => new Uint16Array(memory.buffer, at, n);
  const doubles = (at: number, n: number): Float64Array => new Float64Array(memory.buffer, at, n);

  const field: Field = ({ w, h }, edge, foreign, seed, cap) => {
    const n = w * h;
    const { place, end } = placer(memory.from);
    const given = [...edge, foreign].map((of) => ({ of, at: place(4 * n) }));
    const [seedAt, outAt, spareAt] = [place(n), place(4 * n), place(16 * h)];
    memory.reach(end());
    for (const { of, at } of given) floats(at, n).set(of);
    bytes(seedAt, n).set(seed);
    grow_field!(w, h, ...given.map(({ at }) => at), seedAt, cap, outAt, spareAt);
    return floats(outAt, n).slice();
  };

  const distance: Distance = (on, w, value, of) => {
    const n = on.length;
    const { place, end } = placer(memory.from);
    const [onAt, outAt] = [place(n), place(4 * n)];
    memory.reach(end());
    bytes(onAt, n).set(on);
    if (of) floats(outAt, n).fill(0);
    const { x0, y0, x1, y1 } = of ?? { x0: 0, y0: 0, x1: w, y1: n / w };
    grow_distance!(onAt, w, value, x0, y0, x1, y1, outAt);
    return floats(outAt, n).slice();
  };

  const learning: Learning = {
    counted(size, w, cell, mask, marks, beyond, near, { x0, y0, x1, y1 }) {
      const n = mask.length;
      const { place, end } = placer(memory.from);
      const cellAt = place(2 * n);
      const given = [mask, marks, beyond].map((of) => ({ of, at: place(n) }));
      const [tablesAt, allAt, deepAt, spareAt] = [place(16 * size), place(16), place(n), place(8 * n)];
      memory.reach(end());
      cells(cellAt, n).set(cell);
      for (const { of, at } of given) bytes(at, n).set(of);
      bytes(tablesAt, deepAt + n - tablesAt).fill(0);
      const where = [x0, y0, x1, y1];
      grow_count!(n, w, size, cellAt, ...given.map(({ at }) => at), near, ...where, tablesAt, allAt, deepAt, spareAt);
      return {
        tables: [0, 1, 2, 3].map((k) => floats(tablesAt + 4 * size * k, size).slice()) as unknown as Counted['tables'],
        all: [...new Int32Array(memory.buffer, allAt, 4)] as unknown as Counted['all'],
        deep: bytes(deepAt, n).slice(),
      };
    },
    weighed(cell, is, isNot, model) {
      const n = cell.length;
      const { place, end } = placer(memory.from);
      const cellAt = place(2 * n);
      const given = [is, isNot, model].map((of) => ({ of, at: place(of.byteLength) }));
      const [belongsAt, densityAt] = [place(4 * n), place(4 * n)];
      memory.reach(end());
      cells(cellAt, n).set(cell);
      for (const { of, at } of given) floats(at, of.length).set(of);
      grow_weigh!(n, cellAt, ...given.map(({ at }) => at), belongsAt, densityAt);
      return { belongs: floats(belongsAt, n).slice(), density: floats(densityAt, n).slice() };
    },
  };

  const modelled: Modelled = (m, L, a, b) => {
    const n = L.length;
    // Two pixels at once: one more than there are.
    const room = 4 * (n + (n & 1));
    const { place, end } = placer(memory.from);
    const ranges = m.ranges.flatMap((r) => [
      ...[r.slopeA, r.slopeB],
      ...[r.L, r.a, r.b].flatMap(({ from, to, fade }) => [from, to, fade]),
    ]);
    const { keep, leave } = m.near;
    const planes = [L, a, b].map((of) => ({ of, at: place(room) }));
    const outAt = place(room);
    const numbers = [ranges, keep, leave].map((of) => ({ of, at: place(8 * of.length) }));
    memory.reach(end());
    for (const { of, at } of planes) {
      floats(at, n).set(of);
      if (n & 1) floats(at, n + 1)[n] = 0;
    }
    for (const { of, at } of numbers) doubles(at, of.length).set(of);
    const counts = [m.ranges.length, keep.length / 3, leave.length / 3];
    grow_model!(
      ...[n + (n & 1), ...planes.map(({ at }) => at), outAt],
      ...numbers.flatMap(({ at }, k) => [at, counts[k]!]),
    );
    return floats(outAt, n).slice();
  };
  return { field, distance, learning, modelled };
}
