/**
 * Connected components of a plane by union and find (J. Hopcroft, J. Ullman, "Set merging algorithms", SIAM J. Comput.
 * 2, 1973), the lowest pixel of each as its root: the result depends on nothing but the plane.
 */

/** The root of a pixel's component; the way there is halved for whoever comes next. */
export function find(parent: Int32Array, i: number): number {
  while (parent[i]! !== i) {
    parent[i] = parent[parent[i]!]!;
    i = parent[i]!;
  }
  return i;
}
function unite(parent: Int32Array, i: number, j: number): void {
  const [a, b] = [find(parent, i), find(parent, j)];
  if (a < b) parent[b] = a;
  else parent[a] = b;
}

/**
 * parent[i] leads to the root of the component of pixel i; -1 where `inside` says no. `eight`: pixels touch at corners
 * too.
 */
export function components(
  parent: Int32Array,
  w: number,
  h: number,
  inside: (i: number) => boolean,
  eight: boolean,
): void {
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (!inside(i)) {
        parent[i] = -1;
        continue;
      }
      const left = x > 0 && parent[i - 1]! >= 0;
      if (y === 0) {
        parent[i] = left ? find(parent, i - 1) : i;
        continue;
      }
      const before = x > 0 && parent[i - w - 1]! >= 0;
      if (parent[i - w]! >= 0) {
        // What else it touches hangs together with the one above already, unless by sides alone.
        parent[i] = find(parent, i - w);
        if (left && !eight && !before) unite(parent, i, i - 1);
        continue;
      }
      const one = left ? i - 1 : eight && before ? i - w - 1 : -1;
      parent[i] = one >= 0 ? find(parent, one) : i;
      if (eight && x + 1 < w && parent[i - w + 1]! >= 0) unite(parent, i, i - w + 1);
    }
}

/** An island that stays hangs on it; above any number of pixels. */
const HOLDS = 2 ** 30;
/**
 * A matte without its small islands. A pixel counts as in from `level` on; an island is what hangs together of such
 * pixels, and goes with fewer than `least` of them. What hangs together with it and is fainter goes too, unless an
 * island that stays hangs on it, or it covers more than four times as much. Everything else keeps its bits.
 */
export function dropIslands(
  src: Float32Array,
  dst: Float32Array,
  work: readonly [Int32Array, Int32Array, Int32Array, Int32Array],
  w: number,
  h: number,
  level: number,
  least: number,
  eight: boolean,
): void {
  const [strong, count, weak, whole] = work;
  const n = w * h;
  components(strong, w, h, (i) => src[i]! >= level, eight);
  count.fill(0, 0, n);
  for (let i = 0; i < n; i++) if (strong[i]! >= 0) count[find(strong, i)]!++;
  components(weak, w, h, (i) => src[i]! > 0, eight);
  whole.fill(0, 0, n);
  for (let i = 0; i < n; i++) if (weak[i]! >= 0) whole[find(weak, i)]!++;
  for (let i = 0; i < n; i++) if (strong[i]! >= 0 && count[find(strong, i)]! >= least) whole[find(weak, i)]! |= HOLDS;
  for (let i = 0; i < n; i++) {
    const kept =
      strong[i]! >= 0 ? count[find(strong, i)]! >= least : weak[i]! < 0 || whole[find(weak, i)]! >= 4 * least;
    dst[i] = kept ? src[i]! : 0;
  }
}
/** Pixels of a disc of this diameter. */
export const discArea = (diameterPx: number): number => (Math.PI / 4) * diameterPx * diameterPx;
