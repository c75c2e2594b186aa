/**
 * Lookup tables as text: the "Cube LUT Specification", version 1.0 (2013): keywords TITLE, DOMAIN_MIN, DOMAIN_MAX,
 * LUT_1D_SIZE, LUT_3D_SIZE; comments begin with #; 3D data with red fastest.
 */
export interface Cube {
  kind: '1d' | '3d';
  title: string;
  size: number;
  domainMin: readonly [number, number, number];
  domainMax: readonly [number, number, number];
  /** size^3 (or size) triples, red fastest. */
  data: Float32Array;
}

/** Far beyond any light, and far within what single floating point holds even when it is squared. */
const MOST = 1e15;
export class CubeError extends Error {
  override name = 'CubeError';
}

/** `tick` is called now and then: it may throw to end the work. */
export function formatCube(c: Cube, comments: readonly string[] = [], tick: () => void = () => {}): string {
  const out: string[] = comments.map((l) => `# ${l.replace(/[\r\n]+/g, ' ')}`);
  out.push(
    `TITLE "${c.title.replace(/["\r\n]/g, "'")}"`,
    `LUT_${c.kind === '1d' ? '1D' : '3D'}_SIZE ${c.size}`,
    `DOMAIN_MIN ${c.domainMin.join(' ')}`,
    `DOMAIN_MAX ${c.domainMax.join(' ')}`,
  );
  const f = (v: number): string => v.toFixed(7);
  for (let i = 0; i < c.data.length; i += 3) {
    if (i % 6144 === 0) tick();
    out.push(`${f(c.data[i]!)} ${f(c.data[i + 1]!)} ${f(c.data[i + 2]!)}`);
  }
  return out.join('\n') + '\n';
}

const MOST_BLANK = 10_000;
/** What project files hold too (document/schema.ts). */
export const MAX_CUBE_SIDE = 129;

/** Throws a CubeError that names the line. */
export function parseCube(text: string): Cube {
  let kind: '1d' | '3d' | null = null;
  let title = '';
  let size = 0;
  let lo: [number, number, number] = [0, 0, 0];
  let hi: [number, number, number] = [1, 1, 1];
  let data: Float32Array | null = null;
  let k = 0;
  let blank = 0;
  const take = (raw: string, i: number): void => {
    const line = raw.trim();
    const fail = (why: string): never => {
      throw new CubeError(`Line ${i + 1}: ${why}`);
    };
    if (line === '' || line.startsWith('#')) {
      if (++blank > MOST_BLANK) fail('there are too many empty lines and comments: remove them');
      return;
    }
    if (line.length > 4096) fail('it is too long');
    const word = line.split(/\s+/, 1)[0]!;
    if (/^[A-Z]/.test(word)) {
      if (data && k > 0) fail(`the keyword ${word} stands after the first row of the table`);
      const rest = line.slice(word.length).trim();
      const three = (): [number, number, number] => {
        const v = rest.split(/\s+/).map(Number);
        if (v.length !== 3 || v.some((x) => !(Math.abs(x) <= MOST)))
          fail(`${word} needs three numbers within +-${MOST}`);
        return v as [number, number, number];
      };
      if (word === 'TITLE') title = rest.replace(/^"|"$/g, '');
      else if (word === 'DOMAIN_MIN') lo = three();
      else if (word === 'DOMAIN_MAX') hi = three();
      else if (word === 'LUT_1D_SIZE' || word === 'LUT_3D_SIZE') {
        if (kind) fail('the size is given twice');
        kind = word === 'LUT_1D_SIZE' ? '1d' : '3d';
        size = Number(rest);
        const most = kind === '1d' ? 65536 : MAX_CUBE_SIDE;
        if (!Number.isInteger(size) || size < 2 || size > most)
          fail(`the size must be a whole number from 2 to ${most}: bake a smaller table`);
        data = new Float32Array(3 * (kind === '1d' ? size : size ** 3));
      } else fail(`${word} is not a keyword of the format`);
      return;
    }
    if (!data) return fail('the table begins before its size is given');
    const v = line.split(/\s+/);
    if (v.length !== 3) fail('a row needs three numbers');
    for (const s of v) {
      const x = Number(s);
      if (!(Math.abs(x) <= MOST))
        fail(`"${s.slice(0, 40)}" is no number that a table can hold: write one within +-${MOST}`);
      if (k >= data.length) fail(`the table has more rows than its size ${size} allows`);
      data[k++] = x;
    }
  };
  // Line by line without a list of them: a file of nothing but line ends must not fill the memory.
  const ends = /\r\n|\r|\n/g;
  for (let i = 0, from = 0; ; i++) {
    const end = ends.exec(text);
    take(text.slice(from, end ? end.index : text.length), i);
    if (!end) break;
    from = ends.lastIndex;
  }
  const d = data as Float32Array | null;
  if (!kind || !d) throw new CubeError('LUT_1D_SIZE or LUT_3D_SIZE is missing');
  if (k < d.length) throw new CubeError(`The table ends after ${k / 3} of ${d.length / 3} rows`);
  if (lo.some((v, i) => v >= hi[i]!)) throw new CubeError('DOMAIN_MIN must be below DOMAIN_MAX in every channel');
  return { kind, title, size, domainMin: lo, domainMax: hi, data: d };
}

/** Tetrahedral (default) or trilinear lookup in a 3D table; input is clamped to the domain. */
export function sampleCube(
  c: Cube,
  r: number,
  g: number,
  b: number,
  how: 'tetrahedral' | 'trilinear' = 'tetrahedral',
): [number, number, number] {
  const n = c.size;
  const p = [r, g, b].map((v, i) => {
    const t = ((v - c.domainMin[i]!) / (c.domainMax[i]! - c.domainMin[i]!)) * (n - 1);
    return t > 0 ? Math.min(t, n - 1) : 0;
  });
  if (c.kind === '1d')
    return p.map((t, ch) => {
      const i = Math.min(Math.floor(t), n - 2);
      return c.data[3 * i + ch]! + (c.data[3 * i + 3 + ch]! - c.data[3 * i + ch]!) * (t - i);
    }) as [number, number, number];
  const base = p.map((t) => Math.min(Math.floor(t), n - 2));
  const f = p.map((t, i) => t - base[i]!);
  const at = (dr: number, dg: number, db: number, ch: number): number =>
    c.data[3 * (base[0]! + dr + n * (base[1]! + dg + n * (base[2]! + db))) + ch]!;
  const out: [number, number, number] = [0, 0, 0];
  if (how === 'trilinear') {
    for (let ch = 0; ch < 3; ch++)
      for (let k = 0; k < 8; k++) {
        const [dr, dg, db] = [k & 1, (k >> 1) & 1, k >> 2] as const;
        out[ch]! += at(dr, dg, db, ch) * (dr ? f[0]! : 1 - f[0]!) * (dg ? f[1]! : 1 - f[1]!) * (db ? f[2]! : 1 - f[2]!);
      }
    return out;
  }
  // Walk from the low to the high corner along the axes in order of falling fraction: six tetrahedra.
  const order = [0, 1, 2].sort((a, z) => f[z]! - f[a]!);
  for (let ch = 0; ch < 3; ch++) {
    const d: [number, number, number] = [0, 0, 0];
    let prev = at(0, 0, 0, ch);
    let v = prev;
    for (const axis of order) {
      d[axis as 0 | 1 | 2] = 1;
      const next = at(d[0], d[1], d[2], ch);
      v += (next - prev) * f[axis]!;
      prev = next;
    }
    out[ch] = v;
  }
  return out;
}
