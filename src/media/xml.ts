/** XML by fast-xml-parser, as a tree of plain elements: entities off, so that no file can swell (billion laughs). */
import { XMLParser, XMLValidator } from 'fast-xml-parser';

export interface Element {
  /** Without its prefix. */
  name: string;
  attributes: Record<string, string>;
  children: Element[];
  text: string;
  /** Where its tag begins, from 1. */
  line: number;
}
export class XmlError extends Error {
  override name = 'XmlError';
}
const MAX = 64 * 2 ** 20;
const MOST_ELEMENTS = 20_000;
/** The fault with its line. */
export const faultAt = (e: Element, fault: string): XmlError => new XmlError(`Line ${e.line}: ${fault}`);

/** Lines of the start tags, in the order of the document: the parser does not tell them. */
function tagLines(text: string): number[] {
  const out: number[] = [];
  let line = 1;
  let from = 0;
  const tags = /<!--[^]*?-->|<!\[CDATA\[[^]*?\]\]>|<[?!][^>]*>|<\/[^>]*>|<[^\s/>]/g;
  for (let m = tags.exec(text); m; m = tags.exec(text)) {
    for (let i = text.indexOf('\n', from); i >= 0 && i < m.index; i = text.indexOf('\n', i + 1)) line++;
    // Line ends inside of what was matched are counted with the next.
    from = m.index;
    if (m[0].length === 2 && m[0][1] !== '/') out.push(line);
    if (out.length > MOST_ELEMENTS) throw new XmlError(`The file has more than ${MOST_ELEMENTS} elements`);
  }
  return out;
}

/** The parser's codes in our words. */
const FAULTS: Readonly<Record<string, string>> = {
  InvalidTag: 'a tag is not closed, or closed by another one',
  InvalidChar: 'there is a character that does not belong there',
  InvalidAttr: 'an attribute is not written as name="value"',
  InvalidXml: 'it is no XML here: a tag is not closed, or there is nothing in the file',
};
type Raw = Record<string, unknown>;
const local = (n: string): string => n.replace(/^.*:/, '');
function convert(raw: Raw, lines: number[]): Element | null {
  const name = Object.keys(raw).find((k) => k !== ':@');
  if (!name || name === '#text') return null;
  const children = (raw[name] as Raw[] | undefined) ?? [];
  const line = name.startsWith('?') ? 0 : (lines.shift() ?? 0);
  const attributes = Object.fromEntries(
    Object.entries((raw[':@'] as Raw | undefined) ?? {}).map(([k, v]) => [k, String(v)]),
  );
  return {
    name: local(name),
    attributes,
    children: children.map((c) => convert(c, lines)).filter((x): x is Element => x !== null),
    text: children
      .filter((c) => '#text' in c)
      .map((c) => String(c['#text']))
      .join(' ')
      .trim(),
    line,
  };
}

/** Root element. Throws an XmlError that says where the text is not XML. */
export function parseXml(text: string): Element {
  if (text.length > MAX) throw new XmlError(`The file is larger than ${MAX / 2 ** 20} MB`);
  const ok = XMLValidator.validate(text);
  if (ok !== true) throw new XmlError(`Line ${ok.err.line}: ${FAULTS[ok.err.code] ?? 'it is no XML here'}`);
  let list: Raw[];
  try {
    list = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: '',
      parseTagValue: false,
      parseAttributeValue: false,
      processEntities: false,
    }).parse(text) as Raw[];
  } catch {
    throw new XmlError('It is no XML that can be read: export it again');
  }
  const lines = tagLines(text);
  const root = list.map((e) => convert(e, lines)).find((e) => e && !e.name.startsWith('?'));
  if (!root) throw new XmlError('The file holds no element');
  return root;
}
export const childOf = (e: Element, name: string): Element | undefined => e.children.find((c) => c.name === name);
export function* walk(e: Element): Generator<Element> {
  yield e;
  for (const c of e.children) yield* walk(c);
}
/** Numbers of an element's text. Throws an XmlError that names it. */
export function numbersOf(e: Element, count?: number): number[] {
  const v = e.text === '' ? [] : e.text.split(/\s+/).map(Number);
  if (count !== undefined && v.length !== count)
    throw faultAt(e, `${e.name} needs ${count} number${count === 1 ? '' : 's'}, not ${v.length}: write them all`);
  const odd = v.findIndex((x) => !(Math.abs(x) <= MOST_NUMBER));
  if (odd >= 0)
    throw faultAt(
      e,
      `${e.name} holds "${e.text.split(/\s+/)[odd]!.slice(0, 40)}", which is no number that a table can hold: ` +
        `write one within +-${MOST_NUMBER}`,
    );
  return v;
}
/** Far beyond any light, and far within what single floating point holds even when it is squared. */
export const MOST_NUMBER = 1e15;
export const escapeXml = (s: string): string => s.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
