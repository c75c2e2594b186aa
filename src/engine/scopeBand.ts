import { SCOPE_SIZE, STRIP_DEG, waveColumns } from '../core/scopes/reduce';
import { DEG } from '../core/math/angle';
import type { Task } from './tasks';

/**
 * [w, r, g, b, matte or 0, matte mode, x0, x1, first row, stride, bits, skinLineDeg, range, counts]: rows count from
 * the first. Each thread
 * counts into its own piece of `counts`, so that no two write the same number; the coordinator adds the pieces up.
 */
export const scopeBand: Task = (ctx, y0, y1, a) => {
  const [w, r, g, b, m, mode, x0, x1, first, stride, bits, line, range, counts] = a as unknown as number[];
  const rad = line! / DEG;
  const columns = waveColumns(x0!, x1!);
  const table = new Uint32Array(ctx.memory.buffer, ctx.scratch, columns.length + 4);
  for (let i = 0; i < columns.length; i++) table[i] = columns[i]! * 4;
  ctx.kernels['scope']!(
    r!,
    g!,
    b!,
    m!,
    mode!,
    w!,
    x0!,
    x1!,
    first! + y0,
    first! + y1,
    stride!,
    bits!,
    Math.cos(rad),
    Math.sin(rad),
    Math.tan(STRIP_DEG / DEG),
    range!,
    ctx.scratch,
    counts! + ctx.thread * SCOPE_SIZE * 4,
  );
};
