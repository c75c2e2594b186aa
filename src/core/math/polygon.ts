/** Closed polygons as lists of corners; inside by the even-odd rule. */
export type Corner = readonly [number, number];

export function insidePolygon(p: readonly Corner[], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = p.length - 1; i < p.length; j = i++) {
    const [xi, yi] = p[i]!;
    const [xj, yj] = p[j]!;
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}

/**
 * Bytes of 1 where the middle of a cell of a w x h grid lies inside; corners in cells. Row by row, so that it costs
 * rows times corners.
 */
export function polygonMask(p: readonly Corner[], w: number, h: number): Uint8Array {
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    const cy = y + 0.5;
    const at: number[] = [];
    for (let i = 0, j = p.length - 1; i < p.length; j = i++) {
      const [xi, yi] = p[i]!;
      const [xj, yj] = p[j]!;
      if (yi > cy !== yj > cy) at.push(((xj - xi) * (cy - yi)) / (yj - yi) + xi);
    }
    at.sort((a, b) => a - b);
    for (let k = 0; k + 1 < at.length; k += 2) {
      const a = Math.max(0, Math.ceil(at[k]! - 0.5));
      const b = Math.min(w, Math.ceil(at[k + 1]! - 0.5));
      if (b > a) out.fill(1, y * w + a, y * w + b);
    }
  }
  return out;
}

export function boundsOf(p: readonly Corner[]): { x: number; y: number; w: number; h: number } {
  const xs = p.map((c) => c[0]);
  const ys = p.map((c) => c[1]);
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, w: Math.max(...xs) - x, h: Math.max(...ys) - y };
}
