/** A small copy of a frame as it came: what corrections do to it must not hide a cut. */
import { GLIMPSE_SIDE } from '../../core/track/cuts';
import type { Glimpse } from '../../core/track/cuts';
import type { FrameRef } from '../../protocol/messages';
import { rgbOf } from '../samples';
import type { Held } from './held';

export async function glimpse(h: Held, at: FrameRef): Promise<Glimpse> {
  h.ev.begin();
  let p = await h.full(at);
  const k = Math.min(1, GLIMPSE_SIDE / Math.max(p.w, p.h));
  const [w, hh] = [Math.max(1, Math.round(p.w * k)), Math.max(1, Math.round(p.h * k))];
  while (p.w >= 2 * w && p.h >= 2 * hh) p = await h.ev.halvePlanes(p);
  p = await h.ev.resizePlanes(p, w, hh);
  return h.ev.arena.look((v) => {
    const { r, g, b } = rgbOf(v, p);
    return { w, h: hh, rgb: [r.slice(), g.slice(), b.slice()] as const };
  });
}
