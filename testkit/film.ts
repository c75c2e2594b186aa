/** A film whose cuts are known: cameras that move over still pictures, with everything that is no cut. */
import { rng } from '../src/core/math/rng';
import type { Glimpse } from '../src/core/track/cuts';
import type { DecodedPicture } from '../src/media/picture';

export interface Film {
  frames: Glimpse[];
  cuts: number[];
}
const [W, H] = [64, 36] as const;

/** Mean of a part of the picture for each pixel of a glimpse. */
function glance(p: DecodedPicture, x0: number, y0: number, w: number): Glimpse {
  const most = 2 ** p.bits - 1;
  const k = w / W;
  const rgb = [0, 1, 2].map(() => new Float32Array(W * H)) as [Float32Array, Float32Array, Float32Array];
  const S = 2;
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++)
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let v = 0; v < S; v++)
          for (let u = 0; u < S; u++) {
            const px = Math.min(p.width - 1, Math.max(0, Math.floor(x0 + (x + (u + 0.5) / S) * k)));
            const py = Math.min(p.height - 1, Math.max(0, Math.floor(y0 + (y + (v + 0.5) / S) * k)));
            sum += p.rgb[3 * (py * p.width + px) + c]! / most;
          }
        rgb[c as 0][y * W + x] = sum / (S * S);
      }
  return { w: W, h: H, rgb };
}

/**
 * Shots of 8 to 40 frames over the pictures, one after another, the same one never twice in a row. In each: a slow or
 * fast pan and zoom, shake, flicker and drift of the light, noise; in some a flash, a pillar that passes close by, a
 * whip from one place to another.
 */
export function film(pictures: readonly DecodedPicture[], seed: number, shots = 14): Film {
  const r = rng(seed);
  const gauss = (): number => (r() + r() + r() - 1.5) * 2;
  const frames: Glimpse[] = [];
  const cuts: number[] = [];
  let last = -1;
  for (let s = 0; s < shots; s++) {
    let which = Math.floor(r() * pictures.length);
    if (which === last) which = (which + 1) % pictures.length;
    last = which;
    const p = pictures[which]!;
    const n = 8 + Math.floor(r() * 33);
    if (s > 0) cuts.push(frames.length);
    const zoom = 0.45 + 0.4 * r();
    const inward = 1 - 0.008 * r();
    const room = (w: number): [number, number] => [p.width - w, p.height - (w * H) / W];
    let w = Math.min(p.width, (p.height * W) / H) * zoom;
    let x = r() * room(w)[0];
    let y = r() * Math.max(0, room(w)[1]);
    // Up to 3 % of the view a frame.
    const [vx, vy] = [(r() - 0.5) * 0.06 * w, (r() - 0.5) * 0.03 * w];
    const shake = r() < 0.4 ? 0.01 * w : 0;
    const flicker = r() < 0.5 ? 0.08 : 0.01;
    const drift = (r() - 0.5) * 0.01;
    const noise = r() < 0.5 ? 0.02 : 0.005;
    const flash = r() < 0.3 ? 3 + Math.floor(r() * (n - 6)) : -1;
    const pillar = r() < 0.3 ? 2 + Math.floor(r() * (n - 6)) : -1;
    const whip = r() < 0.25 && n > 20 ? 8 + Math.floor(r() * (n - 18)) : -1;
    for (let f = 0; f < n; f++) {
      const whipped = whip >= 0 && f >= whip && f < whip + 6;
      x += whipped ? 0.09 * w * (vx > 0 ? 1 : -1) : vx;
      y += vy;
      w *= inward;
      x = Math.min(room(w)[0], Math.max(0, x));
      y = Math.min(Math.max(0, room(w)[1]), Math.max(0, y));
      const g = glance(p, x + shake * gauss(), y + shake * gauss(), w);
      const gain = [1, 1, 1].map((_, c) => 1 + flicker * (r() - 0.5) + drift * f * (c === 2 ? -1 : 1));
      const lit = flash >= 0 && f >= flash && f < flash + 2;
      for (let c = 0; c < 3; c++)
        for (let i = 0; i < W * H; i++) {
          let v = g.rgb[c]![i]! * gain[c]!;
          if (lit) v = 0.45 * v + 0.55;
          // A pillar a third as wide as the picture, through it in five frames.
          if (pillar >= 0 && f >= pillar && f < pillar + 5) {
            const at = (i % W) / W - ((f - pillar + 0.5) / 5) * 1.3 + 0.3;
            if (at > -0.16 && at < 0.16) v = 0.12;
          }
          g.rgb[c]![i] = Math.min(1, Math.max(0, v + (noise / 3) * gauss()));
        }
      frames.push(g);
    }
  }
  return { frames, cuts };
}
