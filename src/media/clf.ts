/**
 * Common LUT Format: process lists as lookup tables. Source: Academy S-2014-006 / SMPTE ST 2136-1, "Common LUT Format
 * (CLF)":
 * Matrix, LUT1D, LUT3D, Range, Log, Exponent, ASC_CDL. A list that is one plain table is taken to the number; a
 * longer one is
 * evaluated in float64 and baked into a 3D table, whose error is measured and said.
 */
import { decodeBlock, encodeBlock, curveBlock } from '../core/color/curves';
import { sampleCube } from '../core/formats/cube';
import type { Cube } from '../core/formats/cube';
import { childOf, faultAt, MOST_NUMBER, numbersOf, parseXml, XmlError } from './xml';
import type { Element } from './xml';

type Rgb = [number, number, number];
type Fn = (v: Rgb) => Rgb;
const BAKED = 65;

/** A number from an attribute, held to a rule that is told when it is broken. */
function attribute(p: Element, name: string, or: number, rule: (x: number) => boolean, want: string): number {
  const text = p.attributes[name];
  const x = text === undefined ? or : text.trim() === '' ? NaN : Number(text);
  if (!(Math.abs(x) <= MOST_NUMBER) || !rule(x))
    throw faultAt(p, `${p.name} has ${name}="${text ?? 'nothing'}": write ${want}`);
  return x;
}
const any = (): boolean => true;
const positive = (x: number): boolean => x > 0;

const scaleOf = (depth: string | undefined): number => {
  const s = { '8i': 255, '10i': 1023, '12i': 4095, '16i': 65535, '16f': 1, '32f': 1 }[depth ?? '32f'];
  if (!s) throw new XmlError(`The bit depth "${depth}" is not one of 8i, 10i, 12i, 16i, 16f, 32f`);
  return s;
};
const each =
  (f: (x: number, c: number) => number): Fn =>
  (v) => [f(v[0], 0), f(v[1], 1), f(v[2], 2)];

function dims(a: Element, count: number): number[] {
  const d = (a.attributes['dim'] ?? '').trim().split(/\s+/).map(Number);
  if (d.length !== count || d.some((x) => !Number.isInteger(x) || x < 1))
    throw faultAt(a, `An Array needs ${count} whole numbers in "dim", not "${a.attributes['dim'] ?? ''}"`);
  return d;
}
function arrayOf(e: Element): Element {
  const a = childOf(e, 'Array');
  if (!a) throw faultAt(e, `${e.name} has no Array`);
  return a;
}

function table(e: Element): Cube {
  const out = scaleOf(e.attributes['outBitDepth']);
  const a = arrayOf(e);
  const three = e.name === 'LUT3D';
  if (e.attributes['rawHalfs'] === 'true' || e.attributes['halfDomain'] === 'true')
    throw faultAt(e, 'LUT1D with halfDomain or rawHalfs is not read: save the table with a plain domain');
  const d = three ? dims(a, 4) : dims(a, 2);
  const size = d[0]!;
  const channels = three ? 3 : d[1]!;
  if (three && (d[1] !== size || d[2] !== size || d[3] !== 3))
    throw faultAt(a, `A LUT3D needs "dim" of N N N 3, not "${a.attributes['dim']}"`);
  if (size < 2 || size > (three ? 129 : 65536) || (channels !== 1 && channels !== 3))
    throw faultAt(
      a,
      `The size ${a.attributes['dim']} cannot be read: a LUT1D has 2 to 65536 rows, a LUT3D 2 to 129 per side`,
    );
  const n = three ? size ** 3 : size;
  const v = numbersOf(a, n * channels);
  const data = new Float32Array(3 * n);
  for (let i = 0; i < n; i++)
    for (let c = 0; c < 3; c++) {
      // CLF runs blue fastest, a cube red fastest.
      const at = three
        ? 3 * (Math.floor(i / (size * size)) + size * ((Math.floor(i / size) % size) + size * (i % size))) + c
        : 3 * i + c;
      data[at] = v[i * channels + (channels === 1 ? 0 : c)]! / out;
    }
  return {
    kind: three ? '3d' : '1d',
    title: e.attributes['name'] ?? '',
    size,
    domainMin: [0, 0, 0],
    domainMax: [1, 1, 1],
    data,
  };
}

/** Parameters per channel; one without a channel counts for all. */
function perChannel<T>(e: Element, name: string, make: (p: Element) => T): [T, T, T] {
  const list = e.children.filter((c) => c.name === name);
  const of = (ch: string): T => {
    const p =
      list.find((x) => x.attributes['channel'] === ch) ?? list.find((x) => x.attributes['channel'] === undefined);
    if (!p) throw faultAt(e, `${e.name} has no ${name}${ch ? ` for ${ch}` : ''}`);
    return make(p);
  };
  return [of('R'), of('G'), of('B')];
}

function node(e: Element): Fn {
  const style = e.attributes['style'] ?? '';
  switch (e.name) {
    case 'LUT1D':
    case 'LUT3D': {
      const c = table(e);
      const how = e.attributes['interpolation'] === 'tetrahedral' ? 'tetrahedral' : 'trilinear';
      return (v) => sampleCube(c, v[0], v[1], v[2], how);
    }
    case 'Matrix': {
      const k = scaleOf(e.attributes['inBitDepth']) / scaleOf(e.attributes['outBitDepth']);
      const off = 1 / scaleOf(e.attributes['outBitDepth']);
      const a = arrayOf(e);
      const d = (a.attributes['dim'] ?? '').trim().split(/\s+/).map(Number);
      const cols = d[1] === 4 ? 4 : 3;
      const m = numbersOf(a, 3 * cols);
      return (v) =>
        [0, 1, 2].map(
          (r) =>
            k * (m[r * cols]! * v[0] + m[r * cols + 1]! * v[1] + m[r * cols + 2]! * v[2]) +
            (cols === 4 ? m[r * cols + 3]! * off : 0),
        ) as Rgb;
    }
    case 'Range': {
      const value = (name: string, scale: number): number | null => {
        const c = childOf(e, name);
        return c ? numbersOf(c, 1)[0]! / scale : null;
      };
      const [si, so] = [scaleOf(e.attributes['inBitDepth']), scaleOf(e.attributes['outBitDepth'])];
      const [li, hi, lo, ho] = [
        value('minInValue', si),
        value('maxInValue', si),
        value('minOutValue', so),
        value('maxOutValue', so),
      ];
      if ((li === null) !== (lo === null) || (hi === null) !== (ho === null) || (li === null && hi === null))
        throw faultAt(e, 'Range needs minInValue with minOutValue, or maxInValue with maxOutValue, or all four');
      if (li !== null && hi !== null && !(li < hi))
        throw faultAt(e, 'Range has a minInValue that is not below its maxInValue: write a smaller one');
      if (lo !== null && ho !== null && !(lo <= ho))
        throw faultAt(e, 'Range has a minOutValue above its maxOutValue: write a smaller one');
      if (style === 'noClamp' && (li === null || hi === null))
        throw faultAt(e, 'Range without clamping needs all four values');
      const k = li !== null && hi !== null && lo !== null && ho !== null ? (ho - lo) / (hi - li) : 1;
      const b = li !== null && lo !== null ? lo - k * li : hi !== null && ho !== null ? ho - k * hi : 0;
      const clamp = style !== 'noClamp';
      return each((x) => {
        const y = k * x + b;
        return clamp ? Math.min(ho ?? Infinity, Math.max(lo ?? -Infinity, y)) : y;
      });
    }
    case 'Log': {
      const pure = { log10: 10, log2: 2, antiLog10: 10, antiLog2: 2 }[style];
      if (pure) {
        return style.startsWith('anti')
          ? each((x) => pure ** x)
          : each((x) => Math.log(Math.max(x, 2 ** -126)) / Math.log(pure));
      }
      const camera = style.startsWith('camera');
      const not0 = (x: number): boolean => x !== 0;
      const blocks = perChannel(e, 'LogParams', (p) => {
        const breaks = attribute(p, 'linSideBreak', camera ? NaN : 0, any, 'a number, as a camera style needs one');
        const slope = p.attributes['linearSlope'];
        return curveBlock({
          kind: 'log',
          base: attribute(p, 'base', 2, (x) => x > 0 && x !== 1, 'a base above 0 that is not 1'),
          logSideSlope: attribute(p, 'logSideSlope', 1, not0, 'a slope that is not 0'),
          logSideOffset: attribute(p, 'logSideOffset', 0, any, 'a number'),
          linSideSlope: attribute(p, 'linSideSlope', 1, not0, 'a slope that is not 0'),
          linSideOffset: attribute(p, 'linSideOffset', 0, any, 'a number'),
          linSideBreak: camera ? breaks : null,
          ...(slope === undefined
            ? {}
            : { linearSlope: attribute(p, 'linearSlope', 1, not0, 'a slope that is not 0') }),
        });
      });
      if (blocks.some((x) => x.some((v) => !Number.isFinite(v))))
        throw faultAt(e, 'Log has constants that give no curve: the break must lie where the logarithm has a value');
      if (style === 'linToLog' || style === 'cameraLinToLog') return each((x, c) => encodeBlock(blocks[c]!, 0, x));
      if (style === 'logToLin' || style === 'cameraLogToLin') return each((x, c) => decodeBlock(blocks[c]!, 0, x));
      throw faultAt(e, `Log has the style "${style}", which is not one of the format's`);
    }
    case 'Exponent': {
      const curved = style.toLowerCase().startsWith('moncurve');
      const p = perChannel(e, 'ExponentParams', (x) => ({
        g: curved
          ? attribute(x, 'exponent', NaN, (v) => v > 1 && v <= 10, 'an exponent above 1, up to 10')
          : attribute(x, 'exponent', NaN, (v) => v >= 0.01 && v <= 100, 'an exponent from 0.01 to 100'),
        o: curved ? attribute(x, 'offset', NaN, (v) => v > 0 && v <= 0.9, 'an offset above 0, up to 0.9') : 0,
      }));
      const mirror = style.includes('Mirror');
      const rev = style.endsWith('Rev');
      if (!/^(basic|mon[cC]urve)/.test(style))
        throw faultAt(e, `Exponent has the style "${style}", which is not one of the format's`);
      const one = (x: number, { g, o }: { g: number; o: number }): number => {
        if (!curved) return style.includes('PassThru') && x < 0 ? x : Math.max(0, x) ** (rev ? 1 / g : g);
        // ST 2136-1: break and slope that join the straight part without a corner.
        const xb = o / (g - 1);
        const s = ((g - 1) / o) * ((g * o) / ((g - 1) * (o + 1))) ** g;
        if (!rev) return x >= xb ? ((x + o) / (1 + o)) ** g : x * s;
        const yb = xb * s;
        return x >= yb ? (1 + o) * x ** (1 / g) - o : x / s;
      };
      return each((x, c) => (mirror && x < 0 ? -one(-x, p[c]!) : one(x, p[c]!)));
    }
    case 'ASC_CDL': {
      const sop = childOf(e, 'SOPNode');
      const sat = childOf(e, 'SatNode');
      const three = (name: string, or: number): Rgb => {
        const n = sop && childOf(sop, name);
        return n ? (numbersOf(n, 3) as Rgb) : [or, or, or];
      };
      const [sl, of, pw] = [three('Slope', 1), three('Offset', 0), three('Power', 1)];
      const sn = sat && childOf(sat, 'Saturation');
      const s = sn ? numbersOf(sn, 1)[0]! : 1;
      if (sl.some((x) => x < 0)) throw faultAt(e, 'ASC_CDL has a Slope below 0: write one of at least 0');
      if (pw.some((x) => !positive(x))) throw faultAt(e, 'ASC_CDL has a Power that is not above 0: write one above 0');
      if (s < 0) throw faultAt(e, 'ASC_CDL has a Saturation below 0: write one of at least 0');
      if (!style.toLowerCase().startsWith('fwd') && style !== '')
        throw faultAt(e, `ASC_CDL of the style "${style}" is not read: only the forward styles are`);
      const cut =
        style === 'FwdNoClamp' || style === 'fwdNoClamp'
          ? (x: number): number => x
          : (x: number): number => Math.min(1, Math.max(0, x));
      return (v) => {
        const w = v.map((x, c) => {
          const y = cut(x * sl[c]! + of[c]!);
          return y > 0 ? y ** pw[c]! : y;
        });
        const l = 0.2126 * w[0]! + 0.7152 * w[1]! + 0.0722 * w[2]!;
        return w.map((x) => cut(l + s * (x - l))) as Rgb;
      };
    }
    default:
      throw faultAt(e, `${e.name} is a step that is not read here`);
  }
}

const MOST_STEPS = 40;
/** Most values a list of steps may hold in its tables: what a baked table takes long to look up and to keep. */
const MOST_VALUES = 3 * 129 ** 3 + 3 * 65536;

function stepsOf(text: string): { nodes: Element[]; title: string } {
  const root = parseXml(text);
  if (root.name !== 'ProcessList') throw new XmlError(`It begins with ${root.name}, not with ProcessList`);
  const nodes = root.children.filter(
    (c) => !['Description', 'InputDescriptor', 'OutputDescriptor', 'Info'].includes(c.name),
  );
  if (nodes.length === 0) throw new XmlError('It holds no step');
  if (nodes.length > MOST_STEPS)
    throw new XmlError(`It holds ${nodes.length} steps, more than ${MOST_STEPS}: bake some of them together`);
  let letters = 0;
  for (const n of nodes) letters += childOf(n, 'Array')?.text.length ?? 0;
  if (letters > 16 * MOST_VALUES) throw new XmlError('Its tables are too large: save it with smaller ones');
  return { nodes, title: (root.attributes['name'] ?? root.attributes['id'] ?? '').slice(0, 200) };
}
function functionOf(nodes: readonly Element[]): Fn {
  const fns = nodes.map(node);
  return (v) => fns.reduce((x, f) => f(x), v);
}
/** The list itself, in float64, without a table. Throws an XmlError. */
export const clfFunction = (text: string): ((v: [number, number, number]) => [number, number, number]) =>
  functionOf(stepsOf(text).nodes);

/**
 * Throws an XmlError. `maxError`: bound of the difference between the list and the baked table anywhere in 0..1, read
 * tetrahedrally or trilinearly; 0 for a table taken as it is.
 */
export function parseClf(text: string): { cube: Cube; notes: string[]; maxError: number } {
  const { nodes, title } = stepsOf(text);
  if (nodes.length === 1 && (nodes[0]!.name === 'LUT3D' || nodes[0]!.name === 'LUT1D'))
    return { cube: { ...table(nodes[0]!), title }, notes: [], maxError: 0 };
  const run = functionOf(nodes);
  const N = BAKED;
  const data = new Float32Array(3 * N ** 3);
  for (let i = 0; i < N ** 3; i++) {
    const out = run([(i % N) / (N - 1), (Math.floor(i / N) % N) / (N - 1), Math.floor(i / (N * N)) / (N - 1)]);
    if (!out.every((x) => Math.abs(x) <= MOST_NUMBER))
      throw new XmlError(
        `Its steps give no number for the colour ${[i % N, Math.floor(i / N) % N, Math.floor(i / (N * N))]
          .map((k) => (k / (N - 1)).toFixed(3))
          .join(' ')}: put a Range before the step that cannot take it`,
      );
    data.set(out, 3 * i);
  }
  const cube: Cube = { kind: '3d', title, size: N, domainMin: [0, 0, 0], domainMax: [1, 1, 1], data };
  const maxError = bakedError(cube, run);
  return {
    cube,
    maxError,
    notes: [
      `its ${nodes.length} step${nodes.length > 1 ? 's are' : ' is'} baked into a table of ${N} per ` +
        `side, within ${roundedUp(100 * maxError)} % of signal everywhere`,
    ],
  };
}
/** Two digits, never less than it is. */
const roundedUp = (v: number): string => {
  const unit = v > 0 ? 10 ** (Math.floor(Math.log10(v)) - 1) : 1;
  return Number((Math.ceil(v / unit - 1e-9) * unit).toPrecision(2)).toString();
};

/** Cells that are looked at closely, at most. */
const CLOSE_CELLS = 400;
/** Places along a side of such a cell. */
const CLOSE = 8;
/**
 * Bound of the error of a baked table. Every cell is measured in its middle and in the middles of its edges.
 * Where a function bends inside a cell its error is at most twice what the middle shows (a corner at t of the way makes
 * t (1 - t) of its height, the middle sees half of the smaller part), so that cells are looked at closely, in 8 x 8 x 8
 * places, as long as twice their middle's error could be the largest.
 */
function bakedError(cube: Cube, run: Fn): number {
  const n = cube.size - 1;
  const errorAt = (v: Rgb): number => {
    const want = run(v);
    let e = 0;
    for (const how of ['tetrahedral', 'trilinear'] as const)
      sampleCube(cube, ...v, how).forEach((x, c) => (e = Math.max(e, Math.abs(x - want[c]!))));
    if (!Number.isFinite(e)) throw new XmlError('Its steps give no number between two places where they do');
    return e;
  };
  const cells = new Float32Array(n ** 3);
  const N = cube.size;
  const touch = (a: number, b: number, c: number, e: number): void => {
    if (a < 0 || b < 0 || c < 0 || a >= n || b >= n || c >= n) return;
    const k = a + n * (b + n * c);
    if (e > cells[k]!) cells[k] = e;
  };
  // There both ways of interpolation are plain means of corners.
  const between = (v: Rgb, corners: readonly number[]): number => {
    const want = run(v);
    let e = 0;
    for (let ch = 0; ch < 3; ch++) {
      let sum = 0;
      for (const k of corners) sum += cube.data[3 * k + ch]!;
      e = Math.max(e, Math.abs(sum / corners.length - want[ch]!));
    }
    if (!Number.isFinite(e)) throw new XmlError('Its steps give no number between two places where they do');
    return e;
  };
  const [px, py, pz] = [1, N, N * N] as const;
  for (let z = 0; z < N; z++)
    for (let y = 0; y < N; y++)
      for (let x = 0; x < N; x++) {
        const o = x + N * (y + N * z);
        if (x < n) {
          const e = between([(x + 0.5) / n, y / n, z / n], [o, o + px]);
          for (const b of [y - 1, y]) for (const c of [z - 1, z]) touch(x, b, c, e);
        }
        if (y < n) {
          const e = between([x / n, (y + 0.5) / n, z / n], [o, o + py]);
          for (const a of [x - 1, x]) for (const c of [z - 1, z]) touch(a, y, c, e);
        }
        if (z < n) {
          const e = between([x / n, y / n, (z + 0.5) / n], [o, o + pz]);
          for (const a of [x - 1, x]) for (const b of [y - 1, y]) touch(a, b, z, e);
        }
        if (x < n && y < n && z < n) {
          const middle: Rgb = [(x + 0.5) / n, (y + 0.5) / n, (z + 0.5) / n];
          touch(x, y, z, between(middle, [o, o + px + py + pz]));
          touch(
            x,
            y,
            z,
            between(
              middle,
              [0, px, py, pz, px + py, px + pz, py + pz, px + py + pz].map((d) => o + d),
            ),
          );
        }
      }
  const order = Uint32Array.from(cells.keys()).sort((p, q) => cells[q]! - cells[p]!);
  let most = cells[order[0]!]!;
  for (let r = 0; r < order.length; r++) {
    const k = order[r]!;
    if (2 * cells[k]! <= most) break;
    // Too many to look at each: their middles still bound them.
    if (r >= CLOSE_CELLS) return Math.max(most, 2 * cells[k]!);
    const [a, b, c] = [k % n, Math.floor(k / n) % n, Math.floor(k / (n * n))];
    for (let i = 0; i < CLOSE ** 3; i++) {
      const at = (cell: number, j: number): number => (cell + (j + 0.5) / CLOSE) / n;
      most = Math.max(
        most,
        errorAt([at(a, i % CLOSE), at(b, Math.floor(i / CLOSE) % CLOSE), at(c, Math.floor(i / (CLOSE * CLOSE)))]),
      );
    }
  }
  // Between places of a closely looked at cell: a bend there shows at least 15/16 of its height.
  return most * (16 / 15);
}
