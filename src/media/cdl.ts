/**
 * Colour decision lists as files: ColorCorrection (.cc), ColorCorrectionCollection (.ccc), ColorDecisionList (.cdl).
 * Source: "ASC Color Decision List (ASC CDL) Transfer Functions and Interchange Syntax", version 1.2.
 */
import { childOf, escapeXml, numbersOf, parseXml, walk, XmlError } from './xml';
import type { Element } from './xml';

export interface CdlValues {
  id: string;
  description: string;
  slope: [number, number, number];
  offset: [number, number, number];
  power: [number, number, number];
  saturation: number;
}
export type CdlKind = 'cc' | 'cdl' | 'ccc';

function read(e: Element, id: string): CdlValues {
  const sop = childOf(e, 'SOPNode') ?? childOf(e, 'SopNode');
  const sat = childOf(e, 'SatNode') ?? childOf(e, 'SATNode');
  const three = (name: string, or: number): [number, number, number] => {
    const n = sop && childOf(sop, name);
    return n ? (numbersOf(n, 3) as [number, number, number]) : [or, or, or];
  };
  const s = sat && childOf(sat, 'Saturation');
  const out: CdlValues = {
    id: e.attributes['id'] ?? id,
    description: (sop && childOf(sop, 'Description')?.text) ?? childOf(e, 'Description')?.text ?? '',
    slope: three('Slope', 1),
    offset: three('Offset', 0),
    power: three('Power', 1),
    saturation: s ? numbersOf(s, 1)[0]! : 1,
  };
  if (out.slope.some((v) => v < 0)) throw new XmlError('A slope is below 0');
  if (out.power.some((v) => v <= 0)) throw new XmlError('A power is not above 0');
  if (out.saturation < 0) throw new XmlError('The saturation is below 0');
  return out;
}

/** Every correction in a file, in its order. Throws an XmlError. */
export function parseCdl(text: string): CdlValues[] {
  const root = parseXml(text);
  if (!['ColorCorrection', 'ColorCorrectionCollection', 'ColorDecisionList'].includes(root.name))
    throw new XmlError(
      `It begins with ${root.name}, not with ColorCorrection, ColorCorrectionCollection or ColorDecisionList`,
    );
  const list = [...walk(root)].filter((e) => e.name === 'ColorCorrection');
  if (list.length === 0) throw new XmlError('It holds no ColorCorrection');
  return list.map((e, i) => read(e, String(i + 1)));
}

const row = (v: readonly number[]): string => v.map((x) => Number(x.toFixed(9))).join(' ');
export function formatCdl(kind: CdlKind, c: CdlValues): string {
  const inner = (pad: string): string =>
    [
      `<ColorCorrection id="${escapeXml(c.id)}">`,
      '  <SOPNode>',
      ...(c.description ? [`    <Description>${escapeXml(c.description)}</Description>`] : []),
      `    <Slope>${row(c.slope)}</Slope>`,
      `    <Offset>${row(c.offset)}</Offset>`,
      `    <Power>${row(c.power)}</Power>`,
      '  </SOPNode>',
      '  <SatNode>',
      `    <Saturation>${row([c.saturation])}</Saturation>`,
      '  </SatNode>',
      '</ColorCorrection>',
    ]
      .map((l) => pad + l)
      .join('\n');
  const NS = 'xmlns="urn:ASC:CDL:v1.2"';
  const head = '<?xml version="1.0" encoding="UTF-8"?>\n';
  if (kind === 'cc') return `${head}${inner('').replace('<ColorCorrection ', `<ColorCorrection ${NS} `)}\n`;
  if (kind === 'ccc') return `${head}<ColorCorrectionCollection ${NS}>\n${inner('  ')}\n</ColorCorrectionCollection>\n`;
  return (
    `${head}<ColorDecisionList ${NS}>\n  <ColorDecision>\n${inner('    ')}\n  ` +
    `</ColorDecision>\n</ColorDecisionList>\n`
  );
}
