/** Counts to traces, and the graticules. Everything is drawn in pixels of the canvas; text is at least 11 px. */
import { barTargets } from '../../core/color/ycbcr';
import { STRIP_COLUMNS, STRIP_DEG, STRIP_LEVELS, VECTOR_CELLS, VECTOR_RANGE, WAVE_COLUMNS, WAVE_HIGH, WAVE_LEVELS, WAVE_LOW } from '../../core/scopes/reduce';
import { DEG } from '../../core/math/angle';

const INK = '#1d1d1d';
const GRID = '#5a5a5a';
const LABEL = '#c4c4c4';
const FONT = "11.5px 'Source Sans 3 Variable', sans-serif";

/** Draws counts as grey on black into a canvas of w x h cells; brightness follows the logarithm of the count. */
export function traceImage(counts: Uint32Array, w: number, h: number, gain: number): ImageData {
  let img = images.get(w * 10000 + h);
  if (!img) images.set(w * 10000 + h, (img = new ImageData(w, h)));
  const px = new Uint32Array(img.data.buffer);
  let most = 1;
  for (let i = 0; i < counts.length; i++) if (counts[i]! > most) most = counts[i]!;
  // The brightest cell is white; the logarithm keeps single pixels visible and heaps apart.
  const k = 1 / Math.log2(1 + most);
  const shade = (c: number): number => ((Math.min(255, 34 + 221 * (Math.log2(1 + c) * k) ** 1.5 * gain) | 0) << 24) | 0xffffff;
  for (let c = 1; c < TABLE; c++) table[c] = shade(c);
  for (let i = 0; i < px.length; i++) {
    const c = counts[i]!;
    px[i] = c < TABLE ? table[c]! : shade(c);
  }
  return img;
}
const images = new Map<number, ImageData>();
const TABLE = 256;
const table = new Uint32Array(TABLE);
const sheets = new Map<ImageData, OffscreenCanvas>();

export interface Pen {
  c: CanvasRenderingContext2D;
  w: number;
  h: number;
}
function clear({ c, w, h }: Pen): void {
  c.fillStyle = INK;
  c.fillRect(0, 0, w, h);
  c.font = FONT;
  c.lineWidth = 1;
}
function paint(p: Pen, img: ImageData, x: number, y: number, w: number, h: number): void {
  let t = sheets.get(img);
  if (!t) sheets.set(img, (t = new OffscreenCanvas(img.width, img.height)));
  t.getContext('2d')!.putImageData(img, 0, 0);
  p.c.imageSmoothingEnabled = true;
  p.c.drawImage(t, x, y, w, h);
}

export interface LineLook {
  deg: number;
  bandDeg: number;
  show: boolean;
}
/** Geometry of the vectorscope: centre and pixels per unit of Cb. */
export function vectorGeometry(w: number, h: number): { x: number; y: number; k: number } {
  const r = Math.min(w, h) / 2 - 4;
  return { x: w / 2, y: h / 2, k: r / VECTOR_RANGE };
}
export function drawVector(p: Pen, counts: Uint32Array, line: LineLook): void {
  clear(p);
  const { c } = p;
  const g = vectorGeometry(p.w, p.h);
  const at = (deg: number, chroma: number): [number, number] => [g.x + Math.cos(deg / DEG) * chroma * g.k, g.y - Math.sin(deg / DEG) * chroma * g.k];
  c.strokeStyle = '#484848';
  for (const pct of [25, 50, 75, 100]) {
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
  c.strokeStyle = GRID;
  c.beginPath();
  c.moveTo(g.x - 0.5 * g.k, g.y);
  c.lineTo(g.x + 0.5 * g.k, g.y);
  c.moveTo(g.x, g.y - 0.5 * g.k);
  c.lineTo(g.x, g.y + 0.5 * g.k);
  c.stroke();
  paint(p, traceImage(counts, VECTOR_CELLS, VECTOR_CELLS, 1), g.x - VECTOR_RANGE * g.k, g.y - VECTOR_RANGE * g.k, 2 * VECTOR_RANGE * g.k, 2 * VECTOR_RANGE * g.k);
  if (line.show) {
    c.strokeStyle = '#fff';
    c.lineWidth = 1.25;
    c.beginPath();
    c.moveTo(...at(line.deg, 0.04));
    c.lineTo(...at(line.deg, 0.5));
    c.stroke();
    c.lineWidth = 1;
    c.fillStyle = '#fff';
    c.textAlign = 'right';
    const [lx, ly] = at(line.deg, 0.5);
    c.fillText(`skin ${line.deg}\u00b0`, lx - 4, ly + 13);
  }
  c.textAlign = 'center';
  for (const t of barTargets(0.75)) {
    const x = g.x + t.cb * g.k;
    const y = g.y - t.cr * g.k;
    c.strokeStyle = '#a8a8a8';
    c.beginPath();
    c.moveTo(x - 4, y);
    c.lineTo(x + 4, y);
    c.moveTo(x, y - 4);
    c.lineTo(x, y + 4);
    c.stroke();
    c.fillStyle = LABEL;
    const out = 1 + 13 / (Math.hypot(t.cb, t.cr) * g.k);
    c.fillText(t.name, g.x + t.cb * g.k * out, g.y - t.cr * g.k * out + 4);
  }
  c.textAlign = 'left';
}

const WAVE_LEFT = 30;
export const waveX = (share: number, w: number): number => WAVE_LEFT + share * (w - WAVE_LEFT - 4);
export const waveY = (y: number, h: number): number => 4 + ((WAVE_HIGH - y) / (WAVE_HIGH - WAVE_LOW)) * (h - 8);
export function drawWave(p: Pen, counts: Uint32Array): void {
  clear(p);
  const { c } = p;
  // Where skin usually lies: a lighter band, no more than a hint.
  c.fillStyle = 'rgb(255 255 255 / 4%)';
  c.fillRect(WAVE_LEFT, waveY(0.7, p.h), p.w - WAVE_LEFT - 4, waveY(0.4, p.h) - waveY(0.7, p.h));
  c.fillStyle = LABEL;
  c.textAlign = 'right';
  for (const pct of [0, 25, 50, 75, 100]) {
    const y = waveY(pct / 100, p.h);
    c.strokeStyle = '#4c4c4c';
    c.beginPath();
    c.moveTo(WAVE_LEFT, y);
    c.lineTo(p.w - 4, y);
    c.stroke();
    c.fillText(String(pct), WAVE_LEFT - 5, y + 4);
  }
  c.textAlign = 'left';
  paint(p, traceImage(counts, WAVE_COLUMNS, WAVE_LEVELS, 1), WAVE_LEFT, waveY(WAVE_HIGH, p.h), p.w - WAVE_LEFT - 4, p.h - 8);
}

export const stripX = (offDeg: number, w: number): number => w / 2 + (offDeg / STRIP_DEG) * (w / 2 - 4);
export const stripY = (y: number, h: number): number => 4 + (1 - y) * (h - 24);
export function drawStrip(p: Pen, counts: Uint32Array, line: LineLook): void {
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
    c.moveTo(34, y);
    c.lineTo(p.w - 4, y);
    c.stroke();
    c.fillText(`${pct} %`, 5, y + 4);
  }
  // Left is clockwise of the line (redder), right is counter-clockwise (yellower), as the words say.
  paint(p, traceImage(counts, STRIP_COLUMNS, STRIP_LEVELS, 1.1), 4, 4, p.w - 8, p.h - 24);
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
  for (const d of [-20, 0, 20]) c.fillText(`${d > 0 ? '+' : d < 0 ? '\u2212' : ''}${Math.abs(d)}\u00b0`, stripX(d, p.w), p.h - 5);
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
