/**
 * Common LUT Format: process lists as lookup tables. Source: Academy S-2014-006 / SMPTE ST 2136-1, "Common LUT Format (CLF)":
 * Matrix, LUT1D, LUT3D, Range, Log, Exponent, ASC_CDL. A list that is one plain table is taken to the number; a longer one is
 * evaluated in float64 and baked into a 3D table, whose error is measured and said.
 */
import { decodeBlock, encodeBlock, curveBlock } from '../core/color/curves';
import { sampleCube } from '../core/formats/cube';
import type { Cube } from '../core/formats/cube';
import { childOf, numbersOf, parseXml, XmlError } from './xml';
import type { Element } from './xml';

type Rgb = [number, number, number];
type Fn = (v: Rgb) => Rgb;
const BAKED = 65;

const scaleOf = (depth: string | undefined): number => {
  const s = { '8i': 255, '10i': 1023, '12i': 4095, '16i': 65535, '16f': 1, '32f': 1 }[depth ?? '32f'];
  if (!s) throw new XmlError(`The bit depth "${depth}" is not one of 8i, 10i, 12i, 16i, 16f, 32f`);
  return s;
};
const each = (f: (x: number, c: number) => number): Fn => (v) => [f(v[0], 0), f(v[1], 1), f(v[2], 2)];

function dims(a: Element, count: number): number[] {
  const d = (a.attributes['dim'] ?? '').trim().split(/\s+/).map(Number);
  if (d.length !== count || d.some((x) => !Number.isInteger(x) || x < 1)) throw new XmlError(`An Array needs ${count} whole numbers in "dim", not "${a.attributes['dim'] ?? ''}"`);
  return d;
}
function arrayOf(e: Element): Element {
  const a = childOf(e, 'Array');
  if (!a) throw new XmlError(`${e.name} has no Array`);
  return a;
}

function table(e: Element): Cube {
  const out = scaleOf(e.attributes['outBitDepth']);
  const a = arrayOf(e);
  const three = e.name === 'LUT3D';
  if (e.attributes['rawHalfs'] === 'true' || e.attributes['halfDomain'] === 'true') throw new XmlError('LUT1D with halfDomain or rawHalfs is not read: save the table with a plain domain');
  const d = three ? dims(a, 4) : dims(a, 2);
  const size = d[0]!;
  const channels = three ? 3 : d[1]!;
  if (three && (d[1] !== size || d[2] !== size || d[3] !== 3)) throw new XmlError(`A LUT3D needs "dim" of N N N 3, not "${a.attributes['dim']}"`);
  if (size < 2 || size > (three ? 129 : 65536) || (channels !== 1 && channels !== 3)) throw new XmlError(`The size ${a.attributes['dim']} cannot be read`);
  const n = three ? size ** 3 : size;
  const v = numbersOf(a, n * channels);
  const data = new Float32Array(3 * n);
  for (let i = 0; i < n; i++)
    for (let c = 0; c < 3; c++) {
      // CLF runs blue fastest, a cube red fastest.
      const at = three ? 3 * (Math.floor(i / (size * size)) + size * ((Math.floor(i / size) % size) + size * (i % size))) + c : 3 * i + c;
      data[at] = v[i * channels + (channels === 1 ? 0 : c)]! / out;
    }
  return { kind: three ? '3d' : '1d', title: e.attributes['name'] ?? '', size, domainMin: [0, 0, 0], domainMax: [1, 1, 1], data };
}

const num = (p: Element, name: string, or: number): number => (p.attributes[name] === undefined ? or : Number(p.attributes[name]));
/** Parameters per channel; one without a channel counts for all. */
function perChannel<T>(e: Element, name: string, make: (p: Element) => T): [T, T, T] {
  const list = e.children.filter((c) => c.name === name);
  const of = (ch: string): T => {
    const p = list.find((x) => x.attributes['channel'] === ch) ?? list.find((x) => x.attributes['channel'] === undefined);
    if (!p) throw new XmlError(`${e.name} has no ${name}${ch ? ` for ${ch}` : ''}`);
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
      return (v) => [0, 1, 2].map((r) => k * (m[r * cols]! * v[0] + m[r * cols + 1]! * v[1] + m[r * cols + 2]! * v[2]) + (cols === 4 ? m[r * cols + 3]! * off : 0)) as Rgb;
    }
    case 'Range': {
      const value = (name: string, scale: number): number | null => {
        const c = childOf(e, name);
        return c ? numbersOf(c, 1)[0]! / scale : null;
      };
      const [si, so] = [scaleOf(e.attributes['inBitDepth']), scaleOf(e.attributes['outBitDepth'])];
      const [li, hi, lo, ho] = [value('minInValue', si), value('maxInValue', si), value('minOutValue', so), value('maxOutValue', so)];
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
        return style.startsWith('anti') ? each((x) => pure ** x) : each((x) => Math.log(Math.max(x, 2 ** -126)) / Math.log(pure));
      }
      const camera = style.startsWith('camera');
      const blocks = perChannel(e, 'LogParams', (p) => {
        const ls = p.attributes['linearSlope'];
        return curveBlock({
          kind: 'log', base: num(p, 'base', 2), logSideSlope: num(p, 'logSideSlope', 1), logSideOffset: num(p, 'logSideOffset', 0), linSideSlope: num(p, 'linSideSlope', 1), linSideOffset: num(p, 'linSideOffset', 0),
          linSideBreak: camera ? num(p, 'linSideBreak', NaN) : null, ...(ls === undefined ? {} : { linearSlope: Number(ls) }),
        });
      });
      if (blocks.some((b) => b.some((x) => Number.isNaN(x)))) throw new XmlError('Log needs linSideBreak for a camera style');
      if (style === 'linToLog' || style === 'cameraLinToLog') return each((x, c) => encodeBlock(blocks[c]!, 0, x));
      if (style === 'logToLin' || style === 'cameraLogToLin') return each((x, c) => decodeBlock(blocks[c]!, 0, x));
      throw new XmlError(`Log has the style "${style}", which is not one of the format's`);
    }
    case 'Exponent': {
      const p = perChannel(e, 'ExponentParams', (x) => ({ g: num(x, 'exponent', 1), o: num(x, 'offset', 0) }));
      const mirror = style.includes('Mirror');
      const rev = style.endsWith('Rev');
      if (!/^(basic|mon[cC]urve)/.test(style)) throw new XmlError(`Exponent has the style "${style}", which is not one of the format's`);
      const moncurve = style.toLowerCase().startsWith('moncurve');
      const one = (x: number, { g, o }: { g: number; o: number }): number => {
        if (!moncurve) return style.includes('PassThru') && x < 0 ? x : Math.max(0, x) ** (rev ? 1 / g : g);
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
      if (!style.toLowerCase().startsWith('fwd') && style !== '') throw new XmlError(`ASC_CDL of the style "${style}" is not read: only the forward styles are`);
      const cut = style === 'FwdNoClamp' || style === 'fwdNoClamp' ? (x: number): number => x : (x: number): number => Math.min(1, Math.max(0, x));
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
      throw new XmlError(`${e.name} is a step that is not read here`);
  }
}

/** Throws an XmlError. `maxError`: largest difference at the middles of the baked table's cells; 0 for a table taken as it is. */
export function parseClf(text: string): { cube: Cube; notes: string[]; maxError: number } {
  const root = parseXml(text);
  if (root.name !== 'ProcessList') throw new XmlError(`It begins with ${root.name}, not with ProcessList`);
  const nodes = root.children.filter((c) => !['Description', 'InputDescriptor', 'OutputDescriptor', 'Info'].includes(c.name));
  if (nodes.length === 0) throw new XmlError('It holds no step');
  const title = root.attributes['name'] ?? root.attributes['id'] ?? '';
  if (nodes.length === 1 && (nodes[0]!.name === 'LUT3D' || nodes[0]!.name === 'LUT1D')) return { cube: { ...table(nodes[0]!), title }, notes: [], maxError: 0 };
  const fns = nodes.map(node);
  const run: Fn = (v) => fns.reduce((x, f) => f(x), v);
  const N = BAKED;
  const data = new Float32Array(3 * N ** 3);
  for (let i = 0; i < N ** 3; i++) data.set(run([(i % N) / (N - 1), (Math.floor(i / N) % N) / (N - 1), Math.floor(i / (N * N)) / (N - 1)]), 3 * i);
  const cube: Cube = { kind: '3d', title, size: N, domainMin: [0, 0, 0], domainMax: [1, 1, 1], data };
  let maxError = 0;
  const at = (k: number): number => (k + 0.5) / (N - 1);
  for (let r = 0; r < N - 1; r += 3)
    for (let g = 0; g < N - 1; g += 3)
      for (let b = 0; b < N - 1; b += 3) {
        const want = run([at(r), at(g), at(b)]);
        sampleCube(cube, at(r), at(g), at(b)).forEach((x, c) => (maxError = Math.max(maxError, Math.abs(x - want[c]!))));
      }
  return { cube, maxError, notes: [`its ${nodes.length} step${nodes.length > 1 ? 's are' : ' is'} baked into a table of ${N} per side, within ${(100 * maxError).toPrecision(2)} % of signal at the middles of its cells`] };
}
