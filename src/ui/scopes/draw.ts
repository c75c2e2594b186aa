/** Counts to traces, and the graticules. Everything is drawn in pixels of the canvas; text is at least 11 px. */
import { barTargets, ycbcrToRgb } from '../../core/color/ycbcr';
import { STRIP_DEG, VECTOR_RANGE, WAVE_HIGH, WAVE_LOW } from '../../core/scopes/reduce';
import { DEG } from '../../core/math/angle';

const INK = '#1d1d1d';
const GRID = '#5a5a5a';
const LABEL = '#c4c4c4';
const FONT = "11.5px 'Source Sans 3 Variable', sans-serif";

export interface Plane {
  w: number;
  h: number;
  counts: Uint32Array;
}
export interface Pen {
  c: CanvasRenderingContext2D;
  w: number;
  h: number;
}
/** Levels as people read them. */
export const scales = {
  pct: '%',
  full8: '8-bit code',
  full10: '10-bit code',
  narrow10: '10-bit code, 64\u2013940',
} as const;
export type ScaleName = keyof typeof scales;
export const onScale = (v: number, s: ScaleName): number =>
  s === 'pct' ? 100 * v : s === 'full8' ? 255 * v : s === 'full10' ? 1023 * v : 64 + 876 * v;
const TICKS: Record<ScaleName, number[]> = {
  pct: [0, 25, 50, 75, 100],
  full8: [0, 64, 128, 192, 255],
  full10: [0, 256, 512, 768, 1023],
  narrow10: [64, 283, 502, 721, 940],
};
const fromScale = (t: number, s: ScaleName): number =>
  s === 'pct' ? t / 100 : s === 'full8' ? t / 255 : s === 'full10' ? t / 1023 : (t - 64) / 876;

export interface Look {
  /** 0.4 faint to 2.5 strong. */
  strength: number;
  colour: boolean;
  scale: ScaleName;
}
export interface LineLook {
  deg: number;
  bandDeg: number;
  show: boolean;
}
type Rgb = readonly [number, number, number];
const WHITE: Rgb = [255, 255, 255];
const GHOST: Rgb = [88, 164, 184];
const CHANNEL: Record<string, Rgb> = {
  y: WHITE,
  r: [255, 112, 98],
  g: [104, 222, 128],
  b: [122, 162, 255],
  cb: [122, 162, 255],
  cr: [255, 140, 112],
};

/** One trace as RGBA over its cells; brightness follows the logarithm of the count. */
function shade(p: Plane, gain: number, rgb: Rgb | ((i: number) => number)): ImageData {
  const img = new ImageData(p.w, p.h);
  const px = new Uint32Array(img.data.buffer);
  let most = 1;
  for (let i = 0; i < p.counts.length; i++) if (p.counts[i]! > most) most = p.counts[i]!;
  // The brightest cell is opaque; the logarithm keeps single pixels visible and heaps apart.
  const k = 1 / Math.log2(1 + most);
  const alpha = (c: number): number => (Math.min(255, (34 + 221 * (Math.log2(1 + c) * k) ** 1.5) * gain) | 0) << 24;
  for (let c = 1; c < TABLE; c++) table[c] = alpha(c);
  const flat = typeof rgb === 'function' ? 0 : rgb[0] | (rgb[1] << 8) | (rgb[2] << 16);
  for (let i = 0; i < px.length; i++) {
    const c = p.counts[i]!;
    if (c) px[i] = (c < TABLE ? table[c]! : alpha(c)) | (typeof rgb === 'function' ? rgb(i) : flat);
  }
  return img;
}
const TABLE = 256;
const table = new Int32Array(TABLE);
let sheet: OffscreenCanvas | null = null;
function paint(p: Pen, img: ImageData, x: number, y: number, w: number, h: number, add = false): void {
  if (!sheet || sheet.width < img.width || sheet.height < img.height)
    sheet = new OffscreenCanvas(Math.max(sheet?.width ?? 0, img.width), Math.max(sheet?.height ?? 0, img.height));
  sheet.getContext('2d')!.putImageData(img, 0, 0);
  p.c.imageSmoothingEnabled = true;
  if (add) p.c.globalCompositeOperation = 'lighter';
  p.c.drawImage(sheet, 0, 0, img.width, img.height, x, y, w, h);
  p.c.globalCompositeOperation = 'source-over';
}
function clear({ c, w, h }: Pen): void {
  c.fillStyle = INK;
  c.fillRect(0, 0, w, h);
  c.font = FONT;
  c.lineWidth = 1;
}
function ghostly(p: Pen, g: Plane | undefined, look: Look, x: number, y: number, w: number, h: number): void {
  if (g) paint(p, shade(g, 0.75 * look.strength, GHOST), x, y, w, h);
}

/** Colours of positions, made once for a size. */
const tints = new Map<string, Int32Array>();
function tintOf(kind: 'vector' | 'strip', w: number, h: number, a: number, b: number): Int32Array {
  const key = `${kind}${w}x${h}/${a}/${b}`;
  let t = tints.get(key);
  if (!t) {
    t = new Int32Array(w * h);
    for (let i = 0; i < w * h; i++) {
      const [u, v] = [((i % w) + 0.5) / w, (Math.floor(i / w) + 0.5) / h];
      let [cb, cr] =
        kind === 'vector'
          ? [(2 * u - 1) * a, (1 - 2 * v) * a]
          : [Math.cos(((2 * u - 1) * STRIP_DEG + b) / DEG), Math.sin(((2 * u - 1) * STRIP_DEG + b) / DEG)];
      const len = Math.hypot(cb, cr) || 1;
      const chroma = kind === 'vector' ? Math.min(0.2, len) : 0.16;
      [cb, cr] = [(cb / len) * chroma, (cr / len) * chroma];
      const [r, g, bl] = ycbcrToRgb(0.62, cb, cr).map((x) => Math.round(255 * Math.min(1, Math.max(0, x)))) as [
        number,
        number,
        number,
      ];
      t[i] = r | (g << 8) | (bl << 16);
    }
    if (tints.size > 8) tints.clear();
    tints.set(key, t);
  }
  return t;
}

/** Geometry of the vectorscope: centre and pixels per unit of Cb. */
export function vectorGeometry(w: number, h: number, zoom = 1): { x: number; y: number; k: number; half: number } {
  const half = Math.min(w, h) / 2 - 4;
  return { x: w / 2, y: h / 2, k: (half * zoom) / VECTOR_RANGE, half };
}
export function drawVector(
  p: Pen,
  plane: Plane | undefined,
  ghost: Plane | undefined,
  line: LineLook,
  look: Look,
  zoom: number,
  targetPct: 75 | 100,
): void {
  clear(p);
  const { c } = p;
  const g = vectorGeometry(p.w, p.h, zoom);
  const at = (deg: number, chroma: number): [number, number] => [
    g.x + Math.cos(deg / DEG) * chroma * g.k,
    g.y - Math.sin(deg / DEG) * chroma * g.k,
  ];
  c.save();
  c.beginPath();
  c.rect(g.x - g.half, g.y - g.half, 2 * g.half, 2 * g.half);
  c.clip();
  c.strokeStyle = '#484848';
  for (const pct of zoom >= 4
    ? [5, 10, 15, 20, 25, 50]
    : zoom >= 2
      ? [10, 20, 30, 40, 50, 75, 100]
      : [25, 50, 75, 100]) {
    c.beginPath();
    c.arc(g.x, g.y, (pct / 200) * g.k, 0, 7);
    c.stroke();
  }
  if (line.show) {
    c.fillStyle = 'rgb(255 255 255 / 9%)';
    c.beginPath();
    c.moveTo(g.x, g.y);
    c.arc(g.x, g.y, 0.5 * g.k, -(line.deg + line.bandDeg) / DEG, -(line.deg - line.bandDeg) / DEG);
    c.fill();
  }
  // Hue angles: a tick each 10 degrees, longer each 30, on the ring that is in sight.
  const ring = Math.min(0.5, (0.98 * g.half) / g.k);
  c.strokeStyle = GRID;
  c.beginPath();
  for (let d = 0; d < 360; d += 10) {
    c.moveTo(...at(d, ring));
    c.lineTo(...at(d, ring - (d % 30 ? 3 : 6) / g.k));
  }
  c.moveTo(g.x - 0.5 * g.k, g.y);
  c.lineTo(g.x + 0.5 * g.k, g.y);
  c.moveTo(g.x, g.y - 0.5 * g.k);
  c.lineTo(g.x, g.y + 0.5 * g.k);
  c.stroke();
  const box = [g.x - g.half, g.y - g.half, 2 * g.half, 2 * g.half] as const;
  ghostly(p, ghost, look, ...box);
  if (plane) {
    const t = look.colour ? tintOf('vector', plane.w, plane.h, VECTOR_RANGE / zoom, 0) : null;
    paint(p, shade(plane, look.strength, t ? (i) => t[i]! : WHITE), ...box);
  }
  // The middle: neutral.
  c.strokeStyle = '#e8e8e8';
  c.beginPath();
  c.arc(g.x, g.y, 3.5, 0, 7);
  c.stroke();
  if (line.show) {
    c.strokeStyle = '#fff';
    c.lineWidth = 1.25;
    c.beginPath();
    c.moveTo(...at(line.deg, 8 / g.k));
    c.lineTo(...at(line.deg, 0.5));
    c.stroke();
    c.lineWidth = 1;
    c.fillStyle = '#fff';
    c.textAlign = 'right';
    const [lx, ly] = at(line.deg, ring);
    c.fillText(`skin ${line.deg}\u00b0`, Math.max(58, lx - 4), Math.max(14, ly + 13));
  }
  c.textAlign = 'center';
  for (const t of barTargets(targetPct === 75 ? 0.75 : 1)) {
    const x = g.x + t.cb * g.k;
    const y = g.y - t.cr * g.k;
    c.strokeStyle = '#a8a8a8';
    c.strokeRect(x - 4, y - 4, 8, 8);
    c.fillStyle = LABEL;
    const out = 1 + 14 / (Math.hypot(t.cb, t.cr) * g.k);
    c.fillText(t.name, g.x + t.cb * g.k * out, g.y - t.cr * g.k * out + 4);
  }
  c.fillStyle = '#9a9a9a';
  for (const d of [0, 90, 180, 270]) {
    const [x, y] = at(d, ring - 16 / g.k);
    // Beside the axis, on the side where no target stands.
    c.fillText(`${d}\u00b0`, x + (d === 90 ? 13 : d === 270 ? -17 : 0), y + (d === 0 ? -4 : d === 180 ? 13 : 4));
  }
  c.restore();
  c.textAlign = 'left';
  if (zoom > 1) {
    c.fillStyle = LABEL;
    c.fillText(`${zoom}\u00d7`, 6, p.h - 7);
  }
}

const WAVE_LEFT = 34;
export interface Field {
  x: number;
  y: number;
  w: number;
  h: number;
}
/** Where the traces of waveforms, parades (parts > 1) and histograms lie. */
export function waveFields(w: number, h: number, parts: number): Field[] {
  const gap = 5;
  const width = (w - WAVE_LEFT - 4 - gap * (parts - 1)) / parts;
  return Array.from({ length: parts }, (_, i) => ({ x: WAVE_LEFT + i * (width + gap), y: 4, w: width, h: h - 8 }));
}
export const waveX = (share: number, f: Field): number => f.x + share * f.w;
export const waveY = (v: number, f: Field): number => f.y + ((WAVE_HIGH - v) / (WAVE_HIGH - WAVE_LOW)) * f.h;
/** Level of a y; the inverse of `waveY`. */
export const levelAt = (y: number, f: Field): number => WAVE_HIGH - ((y - f.y) / f.h) * (WAVE_HIGH - WAVE_LOW);

/** `names`: the signal of each plane. `split`: beside each other, else over each other. */
export function drawWaves(
  p: Pen,
  names: readonly string[],
  planes: readonly Plane[],
  ghosts: readonly Plane[],
  look: Look,
  split: boolean,
): void {
  clear(p);
  const { c } = p;
  const fields = waveFields(p.w, p.h, split ? names.length : 1);
  const first = fields[0]!;
  if (names[0] === 'y' && !split) {
    // Where skin usually lies: a lighter band, no more than a hint.
    c.fillStyle = 'rgb(255 255 255 / 4%)';
    c.fillRect(first.x, waveY(0.7, first), first.w, waveY(0.4, first) - waveY(0.7, first));
  }
  c.fillStyle = LABEL;
  c.textAlign = 'right';
  const tall = p.h > 110;
  TICKS[look.scale].forEach((t, i) => {
    const y = waveY(fromScale(t, look.scale), first);
    c.strokeStyle = i === 0 || i === 4 ? '#6a6a6a' : '#464646';
    for (const f of fields) {
      c.beginPath();
      c.moveTo(f.x, y);
      c.lineTo(f.x + f.w, y);
      c.stroke();
    }
    if (tall || i % 2 === 0) c.fillText(String(t), first.x - 5, y + 4);
  });
  names.forEach((n, i) => {
    const f = fields[split ? i : 0]!;
    ghostly(p, ghosts[i], look, f.x, f.y, f.w, f.h);
    const plane = planes[i];
    if (plane)
      paint(
        p,
        shade(plane, look.strength, look.colour || (!split && names.length > 1) ? CHANNEL[n]! : WHITE),
        f.x,
        f.y,
        f.w,
        f.h,
        !split && names.length > 1,
      );
  });
  c.textAlign = 'left';
  if (split) {
    c.fillStyle = '#e0e0e0';
    names.forEach((n, i) =>
      c.fillText({ y: "Y'", r: "R'", g: "G'", b: "B'", cb: 'Cb', cr: 'Cr' }[n] ?? n, fields[i]!.x + 4, 15),
    );
  }
}

export const histogramX = (v: number, f: Field): number => f.x + ((v - WAVE_LOW) / (WAVE_HIGH - WAVE_LOW)) * f.w;
export const histogramLevel = (x: number, f: Field): number => WAVE_LOW + ((x - f.x) / f.w) * (WAVE_HIGH - WAVE_LOW);
export const histogramField = (w: number, h: number): Field => ({ x: 4, y: 4, w: w - 8, h: h - 24 });
export function drawHistogram(
  p: Pen,
  names: readonly string[],
  planes: readonly Plane[],
  ghosts: readonly Plane[],
  look: Look,
): void {
  clear(p);
  const { c } = p;
  const f = histogramField(p.w, p.h);
  c.fillStyle = LABEL;
  c.textAlign = 'center';
  TICKS[look.scale].forEach((t, i) => {
    const x = histogramX(fromScale(t, look.scale), f);
    c.strokeStyle = i === 0 || i === 4 ? '#6a6a6a' : '#464646';
    c.beginPath();
    c.moveTo(x, f.y);
    c.lineTo(x, f.y + f.h);
    c.stroke();
    c.fillText(String(t), x, p.h - 6);
  });
  c.textAlign = 'left';
  const draw = (plane: Plane, rgb: Rgb, fill: number, stroke: number): void => {
    const bins = smooth(plane.counts);
    const most = Math.max(1, ...bins.subarray(1, bins.length - 1));
    c.beginPath();
    c.moveTo(f.x, f.y + f.h);
    // A root keeps small heaps visible beside large ones.
    bins.forEach((n, i) =>
      c.lineTo(f.x + ((i + 0.5) / bins.length) * f.w, f.y + f.h - Math.min(1, Math.sqrt(n / most)) * f.h),
    );
    c.lineTo(f.x + f.w, f.y + f.h);
    c.fillStyle = `rgb(${rgb.join(' ')} / ${fill}%)`;
    c.fill();
    c.strokeStyle = `rgb(${rgb.join(' ')} / ${stroke}%)`;
    c.stroke();
  };
  const k = Math.min(1, look.strength);
  ghosts.forEach((g, i) => i === 0 && draw(g, GHOST, 22, 80));
  planes.forEach((plane, i) =>
    draw(
      plane,
      look.colour ? CHANNEL[names[i]!]! : WHITE,
      (i === 0 ? 16 : 7) * k,
      (i === 0 ? 90 : look.colour ? 85 : 35) * k,
    ),
  );
}
/** Neighbouring levels taken together: 8-bit pictures leave every second level between their codes empty. */
function smooth(counts: Uint32Array): Float32Array {
  const at = (i: number): number => counts[i] ?? 0;
  return Float32Array.from(counts, (v, i) => (6 * v + 4 * (at(i - 1) + at(i + 1)) + at(i - 2) + at(i + 2)) / 16);
}

export const stripX = (offDeg: number, w: number): number => w / 2 + (offDeg / STRIP_DEG) * (w / 2 - 4);
export const stripY = (y: number, h: number): number => 4 + (1 - y) * (h - 24);
export function drawStrip(
  p: Pen,
  plane: Plane | undefined,
  ghost: Plane | undefined,
  line: LineLook,
  look: Look,
): void {
  clear(p);
  const { c } = p;
  if (line.show) {
    c.fillStyle = 'rgb(255 255 255 / 9%)';
    c.fillRect(stripX(line.bandDeg, p.w), 4, stripX(-line.bandDeg, p.w) - stripX(line.bandDeg, p.w), p.h - 24);
  }
  c.fillStyle = LABEL;
  for (const pct of [40, 70]) {
    const y = stripY(pct / 100, p.h);
    c.strokeStyle = '#4c4c4c';
    c.beginPath();
    c.moveTo(38, y);
    c.lineTo(p.w - 4, y);
    c.stroke();
    c.fillText(look.scale === 'pct' ? `${pct} %` : String(Math.round(onScale(pct / 100, look.scale))), 5, y + 4);
  }
  ghostly(p, ghost, look, 4, 4, p.w - 8, p.h - 24);
  // Left is clockwise of the line (redder), right is counter-clockwise (yellower), as the words say.
  if (plane) {
    const t = look.colour ? tintOf('strip', plane.w, plane.h, 0, line.deg) : null;
    paint(p, shade(plane, 1.1 * look.strength, t ? (i) => t[i]! : WHITE), 4, 4, p.w - 8, p.h - 24);
  }
  c.strokeStyle = '#777';
  for (const d of [-40, -20, 20, 40]) {
    c.beginPath();
    c.moveTo(stripX(d, p.w), p.h - 20);
    c.lineTo(stripX(d, p.w), p.h - 16);
    c.stroke();
  }
  if (line.show) {
    c.strokeStyle = '#fff';
    c.lineWidth = 1.25;
    c.beginPath();
    c.moveTo(stripX(0, p.w), 4);
    c.lineTo(stripX(0, p.w), p.h - 18);
    c.stroke();
    c.lineWidth = 1;
  }
  c.fillStyle = LABEL;
  c.fillText('redder', 5, p.h - 5);
  c.textAlign = 'center';
  for (const d of [-20, 0, 20])
    c.fillText(`${d > 0 ? '+' : d < 0 ? '\u2212' : ''}${Math.abs(d)}\u00b0`, stripX(d, p.w), p.h - 5);
  c.textAlign = 'right';
  c.fillText('yellower', p.w - 5, p.h - 5);
  c.textAlign = 'left';
}

/** A ring that both dark and light traces show. */
export function drawMark({ c }: Pen, x: number, y: number, r = 5): void {
  c.lineWidth = 3;
  c.strokeStyle = '#000';
  c.beginPath();
  c.arc(x, y, r, 0, 7);
  c.stroke();
  c.lineWidth = 1.5;
  c.strokeStyle = '#fff';
  c.stroke();
}
/** What is marked in a scope: a closed line, or a band. */
export function drawLasso({ c }: Pen, points: readonly (readonly [number, number])[]): void {
  c.beginPath();
  points.forEach(([x, y], i) => (i ? c.lineTo(x, y) : c.moveTo(x, y)));
  c.closePath();
  c.fillStyle = 'rgb(255 255 255 / 14%)';
  c.fill();
  c.lineWidth = 3;
  c.strokeStyle = '#000';
  c.stroke();
  c.lineWidth = 1.5;
  c.strokeStyle = '#fff';
  c.setLineDash([5, 4]);
  c.stroke();
  c.setLineDash([]);
}
