import { SCOPE_SIZE, STRIP_DEG } from '../core/scopes/reduce';
import { DEG } from '../core/math/angle';
import type { Task } from './tasks';

/**
 * [w, r, g, b, matte or 0, stride, skinLineDeg, counts]: each thread counts into its own piece of `counts`, so that no
 * two write the same number; the coordinator adds the pieces up.
 */
export const scopeBand: Task = (ctx, y0, y1, a) => {
  const [w, r, g, b, m, stride, line, counts] = a as unknown as number[];
  const rad = line! / DEG;
  ctx.kernels['scope']!(r!, g!, b!, m!, w!, y0, y1, stride!, Math.cos(rad), Math.sin(rad), Math.tan(STRIP_DEG / DEG), counts! + ctx.thread * SCOPE_SIZE * 4);
};
