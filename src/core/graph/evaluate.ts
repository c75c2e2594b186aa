/** Steps without regions over a few colours, by the operations' own definitions: for solvers, without an engine. */
import { ops } from '../ops/registry.gen';
import type { Step } from './plan';

export type Triple = readonly [number, number, number];
/** Regions, tidying and what reads neighbours are left out: every step acts in full, on colours alone. */
export function evaluateColours(steps: readonly Step[], colours: readonly Triple[]): [number, number, number][] {
  const n = colours.length;
  const planes = [0, 1, 2].map((c) => Float32Array.from(colours, (v) => v[c]!)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  let start = planes.map((p) => p.slice());
  for (const s of steps) {
    if (!s.beside) start = planes.map((p) => p.slice());
    if (!s.on) continue;
    const cur = planes.map((p) => p.slice());
    const before = start;
    planes.forEach((p, c) => p.set(start[c]!));
    for (const b of s.chain) {
      const op = ops[b.opIndex]!;
      if (op.kind === 'pixel') op.kernel(b.block, { r: planes[0], g: planes[1], b: planes[2], n });
    }
    if (s.mix < 1)
      planes.forEach((p, c) => p.forEach((v, i) => (p[i] = before[c]![i]! + s.mix * (v - before[c]![i]!))));
    // Beside others: the changes add up; where one of them changes nothing the other's numbers stand.
    if (s.beside)
      planes.forEach((p, c) =>
        p.forEach((own, i) => {
          const [from, now] = [start[c]![i]!, cur[c]![i]!];
          p[i] = Object.is(own, from) ? now : Object.is(now, from) ? own : now + Math.fround(own - from);
        }),
      );
  }
  return colours.map((_, i) => [planes[0][i]!, planes[1][i]!, planes[2][i]!]);
}
