/**
 * OpenEXR with half floats in scan lines, ZIP ("OpenEXR File Layout", "Technical Introduction to OpenEXR"): linear
 * light, the chromaticities said, transparency premultiplied as the format wants it. One channel is Y.
 */
import { deflated } from './deflate';
import type { Aspect, Halves } from './picture';

/** Rows of a ZIP block. */
const LINES = 16;
const text = (s: string): number[] => [...s].map((c) => c.charCodeAt(0)).concat(0);
const int = (...v: number[]): number[] => v.flatMap((x) => [x & 255, (x >> 8) & 255, (x >> 16) & 255, (x >> 24) & 255]);
const float = (...v: number[]): number[] => [...new Uint8Array(new Float32Array(v).buffer)];
const attribute = (name: string, type: string, data: number[]): number[] => [
  ...text(name),
  ...text(type),
  ...int(data.length),
  ...data,
];

/** Low bytes first, then high ones; each as what it differs by from the one before. */
function predict(b: Uint8Array): Uint8Array<ArrayBuffer> {
  const half = (b.length + 1) >> 1;
  const out = new Uint8Array(b.length);
  for (let i = 0; i < b.length; i++) out[i & 1 ? half + (i >> 1) : i >> 1] = b[i]!;
  for (let i = b.length - 1; i > 0; i--) out[i] = out[i]! - out[i - 1]! + 128;
  return out;
}

export function encodeExr(
  { width: w, height: h, channels, data, chromaticities }: Halves,
  aspect: Aspect = [1, 1],
): Uint8Array<ArrayBuffer> {
  // In the order of their names, as the format wants them; each with its place in the picture.
  const names: [string, number][] =
    channels === 1
      ? [['Y', 0]]
      : [...(channels === 4 ? [['A', 3] as [string, number]] : []), ['B', 2], ['G', 1], ['R', 0]];
  const list = names.flatMap(([n]) => [...text(n), ...int(1), 0, 0, 0, 0, ...int(1, 1)]);
  const window = int(0, 0, w - 1, h - 1);
  const head = Uint8Array.from([
    ...int(20000630, 2),
    ...attribute('channels', 'chlist', [...list, 0]),
    ...(chromaticities ? attribute('chromaticities', 'chromaticities', float(...chromaticities)) : []),
    ...attribute('compression', 'compression', [3]),
    ...attribute('dataWindow', 'box2i', window),
    ...attribute('displayWindow', 'box2i', window),
    ...attribute('lineOrder', 'lineOrder', [0]),
    ...attribute('pixelAspectRatio', 'float', float(aspect[0] / aspect[1])),
    ...attribute('screenWindowCenter', 'v2f', float(0, 0)),
    ...attribute('screenWindowWidth', 'float', float(1)),
    0,
  ]);
  const blocks: Uint8Array[] = [];
  for (let y0 = 0; y0 < h; y0 += LINES) {
    const rows = Math.min(LINES, h - y0);
    const raw = new Uint16Array(rows * names.length * w);
    let o = 0;
    for (let y = y0; y < y0 + rows; y++)
      for (const [, c] of names) for (let x = 0; x < w; x++) raw[o++] = data[(y * w + x) * channels + c]!;
    // Halves are little-endian in the file, as they are wherever this runs.
    const plain = new Uint8Array(raw.buffer);
    const packed = deflated(predict(plain));
    // What does not get smaller stands as it is: readers tell by its size.
    blocks.push(packed.length < plain.length ? packed : plain);
  }
  const table = head.length + 8 * blocks.length;
  const out = new Uint8Array(table + blocks.reduce((s, b) => s + 8 + b.length, 0));
  const v = new DataView(out.buffer);
  out.set(head);
  let at = table;
  blocks.forEach((b, i) => {
    v.setBigUint64(head.length + 8 * i, BigInt(at), true);
    v.setInt32(at, i * LINES, true);
    v.setInt32(at + 4, b.length, true);
    out.set(b, at + 8);
    at += 8 + b.length;
  });
  return out;
}
