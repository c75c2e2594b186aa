/** What the terminal is given: its options, and how they are read. */

/** What was given cannot be used; the message says what to do. */
export class Usage extends Error {}

export const options = {
  box: { type: 'string' },
  ellipse: { type: 'string' },
  feather: { type: 'string' },
  softness: { type: 'string' },
  method: { type: 'string' },
  chroma: { type: 'string' },
  level: { type: 'string' },
  strength: { type: 'string' },
  out: { type: 'string' },
  matte: { type: 'string' },
  bits: { type: 'string' },
  json: { type: 'boolean' },
  shot: { type: 'string' },
  input: { type: 'string' },
  what: { type: 'string' },
  mattes: { type: 'string' },
  frames: { type: 'string' },
  quad: { type: 'string' },
  at: { type: 'string' },
  size: { type: 'string' },
  line: { type: 'string' },
  keep: { type: 'string', multiple: true },
  leave: { type: 'string', multiple: true },
  inside: { type: 'string' },
  kind: { type: 'string' },
  space: { type: 'string' },
  quiet: { type: 'string' },
  brush: { type: 'string' },
  apart: { type: 'boolean' },
  tidy: { type: 'string' },
  dither: { type: 'boolean' },
  help: { type: 'boolean' },
} as const;
export type Given = {
  [K in keyof typeof options]?: (typeof options)[K] extends { type: 'boolean' }
    ? boolean
    : (typeof options)[K] extends { multiple: true }
      ? string[]
      : string;
};

export function numbers(text: string | undefined, name: string, count: number): number[] {
  if (text === undefined) throw new Usage(`--${name} is missing`);
  const v = text.split(',').map((s) => (s.trim() === '' ? NaN : Number(s)));
  if (v.length !== count || v.some((x) => !Number.isFinite(x)))
    throw new Usage(`--${name} needs ${count} number${count > 1 ? 's with commas between' : ''}, not "${text}"`);
  return v;
}
export function number(text: string | undefined, name: string, or: number, min: number, max: number): number {
  if (text === undefined) return or;
  const [v] = numbers(text, name, 1) as [number];
  if (v < min || v > max) throw new Usage(`--${name} must lie in ${min} to ${max}`);
  return v;
}
export function choice<T extends string>(text: string | undefined, name: string, or: T, allowed: readonly T[]): T {
  if (text === undefined) return or;
  if (!allowed.includes(text as T))
    throw new Usage(`--${name} must be ${allowed.join(', ').replace(/, ([^,]*)$/, ' or $1')}, not "${text}"`);
  return text as T;
}
export function need(text: string | undefined, name: string): string {
  if (!text) throw new Usage(`--${name} is missing`);
  return text;
}
/** `more` are kinds that the caller knows besides, for the message. */
export const bitsOf = (g: Given, more: readonly string[] = []): 8 | 16 => {
  const n = choice(g.bits, 'bits', '8', ['8', '16', ...more]);
  return Number(n) as 8 | 16;
};

/** "x,y x,y ...", at least so many. */
export function polyline(text: string, name: string, least: number): [number, number][] {
  const list = text
    .trim()
    .split(/\s+/)
    .map((t) => numbers(t, name, 2) as [number, number]);
  if (list.length < least) throw new Usage(`--${name} needs at least ${least} points "x,y x,y ...", not "${text}"`);
  return list;
}
