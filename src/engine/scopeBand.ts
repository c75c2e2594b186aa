import { addScopes, SCOPE_SIZE } from '../core/scopes/reduce';
import type { Task } from './tasks';

/**
 * [w, r, g, b, matte or 0, stride, skinLineDeg, counts, rows, bands]: each band counts into its own piece of `counts`, so that
 * no two threads write the same number; the coordinator adds the pieces up.
 */
export const scopeBand: Task = (ctx, y0, y1, a) => {
  const [w, r, g, b, m, stride, line, counts, rows, bands] = a as unknown as number[];
  const n = w! * rows!;
  const f = (at: number): Float32Array => new Float32Array(ctx.memory.buffer, at, n);
  const piece = Math.ceil((y0 * bands!) / rows! - 1e-9);
  const into = new Uint32Array(ctx.memory.buffer, counts! + piece * SCOPE_SIZE * 4, SCOPE_SIZE);
  addScopes({ r: f(r!), g: f(g!), b: f(b!), m: m ? f(m) : null, w: w! }, y0, y1, stride!, line!, into);
};
