/** The outline of a shape as corners, for what looks inside it; in picture pixels. */
import { cornersOf } from '../core/ops/freeform/line';
import type { Line } from '../core/ops/freeform/line';
import { DEG } from '../core/math/angle';
import type { AnyValues } from '../core/op/params';

/** Of a freeform. */
export function lineOf(v: AnyValues): Line {
  const list = (k: string): readonly number[] => (v[k] as readonly number[] | undefined) ?? [];
  const lists = { points: list('points'), bends: list('bends'), softs: list('softs'), tangents: list('tangents') };
  return { ...lists, round: Number(v['roundPct'] ?? 0) / 100 };
}
/** Null for what has no inside of its own. */
export function outlineOf(op: string, v: AnyValues, w: number, h: number): [number, number][] | null {
  const n = (k: string): number => Number(v[k] ?? 0);
  if (op === 'freeform') return cornersOf(lineOf(v));
  const turned = (dx: number, dy: number): [number, number] => {
    const [c, s] = [Math.cos(n('angleDeg') / DEG), Math.sin(n('angleDeg') / DEG)];
    return [n('cxPx') + dx * c + dy * s, n('cyPx') - dx * s + dy * c];
  };
  if (op === 'box')
    return (
      [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ] as const
    ).map(([a, b]) => turned(a * n('rxPx'), b * n('ryPx')));
  if (op === 'ellipse')
    return Array.from({ length: 32 }, (_, i) => {
      const t = (2 * Math.PI * i) / 32;
      return turned(n('rxPx') * Math.cos(t), n('ryPx') * Math.sin(t));
    });
  if (op === 'band') {
    const [l, half] = [Math.hypot(w, h), n('widthPx') / 2];
    return (
      [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ] as const
    ).map(([a, b]) => turned(a * l, b * half));
  }
  return null;
}
