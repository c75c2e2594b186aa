/** The colours of a region on a disc: as they are given, and over them as they are now. */
import { useEffect } from 'react';
import type { RefObject } from 'react';

const LOOKS = ['rgb(150 150 150 / 38%)', 'rgb(255 255 255 / 72%)'] as const;
/**
 * @param before, now Cb and Cr (-0.5..0.5) one after the other
 * @param size of the disc, `inner` its radius in pixels
 * @param k pixels of a difference of 1
 */
export function useTrace(
  canvas: RefObject<HTMLCanvasElement | null>,
  before: readonly number[],
  now: readonly number[],
  size: number,
  inner: number,
  k: number,
): void {
  useEffect(() => {
    const el = canvas.current;
    if (!el) return;
    const q = Math.min(2, window.devicePixelRatio || 1);
    el.width = el.height = size * q;
    const g = el.getContext('2d')!;
    const R = size / 2;
    g.scale(q, q);
    g.beginPath();
    g.arc(R, R, inner, 0, 7);
    g.clip();
    for (const [i, list] of [before, now].entries()) {
      g.fillStyle = LOOKS[i]!;
      for (let j = 0; j + 1 < list.length; j += 2)
        g.fillRect(R + list[j]! * k - 0.6, R - list[j + 1]! * k - 0.6, 1.3, 1.3);
    }
  }, [canvas, before, now, size, inner, k]);
}
