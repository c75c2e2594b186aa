/** What a hurried hand might draw about a thing whose truth is known: strokes, a rough ellipse, a rough freeform. */
export interface Size {
  w: number;
  h: number;
}
export type Point = [number, number];

/** Further than r from everything outside (by sides, repeated): enough for choosing places. */
export function erode(m: Uint8Array, { w, h }: Size, r: number): Uint8Array {
  let a = m;
  for (let k = 0; k < r; k++) {
    const b = new Uint8Array(a.length);
    for (let y = 1; y < h - 1; y++)
      for (let x = 1; x < w - 1; x++) {
        const i = y * w + x;
        b[i] = a[i]! & a[i - 1]! & a[i + 1]! & a[i - w]! & a[i + w]!;
      }
    a = b;
  }
  return a;
}
/** A short straight stroke at random that lies in a mask whole; null where none was found. */
export function strokeIn(m: Uint8Array, { w, h }: Size, r: () => number, length: number): Point[] | null {
  for (let t = 0; t < 4000; t++) {
    const [x, y, a] = [r() * w, r() * h, r() * 2 * Math.PI];
    const l = length * (0.4 + 0.6 * r());
    const at = (k: number): Point => [x + l * k * Math.cos(a), y + l * k * Math.sin(a)];
    const fits = [0, 0.25, 0.5, 0.75, 1].every((k) => {
      const [u, v] = at(k);
      return u >= 0 && v >= 0 && u < w && v < h && m[Math.floor(v) * w + Math.floor(u)] === 1;
    });
    if (fits) return [at(0), at(0.5), at(1)];
  }
  return null;
}
export function boxOf(m: Uint8Array, { w, h }: Size): { x0: number; x1: number; y0: number; y1: number } {
  let [x0, x1, y0, y1] = [w, 0, h, 0];
  m.forEach((v, i) => {
    if (!v) return;
    const [x, y] = [i % w, Math.floor(i / w)];
    [x0, x1, y0, y1] = [Math.min(x0, x), Math.max(x1, x), Math.min(y0, y), Math.max(y1, y)];
  });
  return { x0, x1, y0, y1 };
}
/** Within r of the mask: a box and a turned box by turns, which is an octagon. */
function dilate(m: Uint8Array, { w, h }: Size, r: number): Uint8Array {
  let a = m;
  for (let k = 0; k < r; k++) {
    const b = a.slice();
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const i = y * w + x;
        if (b[i]) continue;
        const [l, t, e, d] = [x > 0, y > 0, x + 1 < w, y + 1 < h];
        if ((l && a[i - 1]) || (e && a[i + 1]) || (t && a[i - w]) || (d && a[i + w])) b[i] = 1;
        else if (
          k % 2 === 1 &&
          ((l && t && a[i - w - 1]) || (e && t && a[i - w + 1]) || (l && d && a[i + w - 1]) || (e && d && a[i + w + 1]))
        )
          b[i] = 1;
      }
    a = b;
  }
  return a;
}
/** The outline of the piece that is met first from the top (Moore's neighbours, the turn by turn). */
function outline(m: Uint8Array, { w, h }: Size): Point[] {
  const on = (x: number, y: number): boolean => x >= 0 && y >= 0 && x < w && y < h && m[y * w + x] === 1;
  const first = m.indexOf(1);
  const start: Point = [first % w, Math.floor(first / w)];
  const ways: Point[] = [
    [1, 0],
    [1, 1],
    [0, 1],
    [-1, 1],
    [-1, 0],
    [-1, -1],
    [0, -1],
    [1, -1],
  ];
  const out: Point[] = [start];
  let [x, y] = start;
  let from = 4;
  for (let n = 0; n < 8 * (w + h); n++) {
    let k = 0;
    for (; k < 8; k++) {
      const d = (from + 1 + k) % 8;
      const [dx, dy] = ways[d]!;
      if (!on(x + dx, y + dy)) continue;
      [x, y] = [x + dx, y + dy];
      from = (d + 4) % 8;
      break;
    }
    if (k === 8 || (x === start[0] && y === start[1])) break;
    out.push([x, y]);
  }
  return out;
}
const corner = (a: Point, b: Point, c: Point): number =>
  Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])) / 2;
/**
 * At most `most` points, `away` pixels outside the thing on the average: the outline of what lies within that of it,
 * its least corners dropped one by one (M. Visvalingam, J. Whyatt, 1993), each point off by up to a third at random. A
 * thing that leaves the picture is outlined beyond the frame, as a hand does: a line along the frame would cut it.
 */
export function roughFreeform(m: Uint8Array, size: Size, away: number, most = 12): (r: () => number) => Point[] {
  const beyond = Math.ceil(2 * away);
  const wide = { w: size.w + 2 * beyond, h: size.h + 2 * beyond };
  const laid = new Uint8Array(wide.w * wide.h);
  for (let y = 0; y < size.h; y++) laid.set(m.subarray(y * size.w, (y + 1) * size.w), (y + beyond) * wide.w + beyond);
  const p = outline(dilate(laid, wide, Math.round(away)), wide)
    .filter((_, i) => i % 4 === 0)
    .map(([x, y]): Point => [x - beyond, y - beyond]);
  while (p.length > most) {
    let [least, at] = [Infinity, 0];
    for (let i = 0; i < p.length; i++) {
      const c = corner(p[(i + p.length - 1) % p.length]!, p[i]!, p[(i + 1) % p.length]!);
      if (c < least) [least, at] = [c, i];
    }
    p.splice(at, 1);
  }
  const off = (r: () => number): number => (away / 1.5) * (r() - 0.5);
  return (r) => p.map(([x, y]) => [x + off(r), y + off(r)]);
}
