/** XML by fast-xml-parser, as a tree of plain elements: entities off, so that no file can swell (billion laughs). */
import { XMLParser, XMLValidator } from 'fast-xml-parser';

export interface Element {
  /** Without its prefix. */
  name: string;
  attributes: Record<string, string>;
  children: Element[];
  text: string;
}
export class XmlError extends Error {
  override name = 'XmlError';
}
const MAX = 64 * 2 ** 20;

type Raw = Record<string, unknown>;
const local = (n: string): string => n.replace(/^.*:/, '');
function convert(raw: Raw): Element | null {
  const name = Object.keys(raw).find((k) => k !== ':@');
  if (!name || name === '#text') return null;
  const children = (raw[name] as Raw[] | undefined) ?? [];
  const attributes = Object.fromEntries(Object.entries((raw[':@'] as Raw | undefined) ?? {}).map(([k, v]) => [k, String(v)]));
  return {
    name: local(name), attributes,
    children: children.map(convert).filter((x): x is Element => x !== null),
    text: children.filter((c) => '#text' in c).map((c) => String(c['#text'])).join(' ').trim(),
  };
}

/** Root element. Throws an XmlError that says where the text is not XML. */
export function parseXml(text: string): Element {
  if (text.length > MAX) throw new XmlError(`The file is larger than ${MAX / 2 ** 20} MB`);
  const ok = XMLValidator.validate(text);
  if (ok !== true) throw new XmlError(`Line ${ok.err.line}: ${ok.err.msg.replace(/\.$/, '')}`);
  const list = new XMLParser({ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '', parseTagValue: false, parseAttributeValue: false, processEntities: false }).parse(text) as Raw[];
  const root = list.map(convert).find((e) => e && !e.name.startsWith('?'));
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
  if (v.some((x) => !Number.isFinite(x)) || (count !== undefined && v.length !== count)) throw new XmlError(`${e.name} needs ${count ?? 'only'} number${count === 1 ? '' : 's'}, not "${e.text.slice(0, 60)}"`);
  return v;
}
export const escapeXml = (s: string): string => s.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
