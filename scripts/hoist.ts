/**
 * A schema in which what is said more than once is said once, under `$defs`: Ajv writes a function for each reference
 * and the whole code anew for each repetition (3.9 MB on the way to the first picture, before this). A branch that is
 * long stands there too, if only once: an engine reads a function in earnest when it is called first, and most projects
 * have few of the operations.
 */
type Json = Record<string, unknown>;
const isObject = (x: unknown): x is Json => typeof x === 'object' && x !== null && !Array.isArray(x);

/** Keywords that hold a schema, a list of schemas, or schemas by name; everything else is data. */
const ONE = new Set(['items', 'additionalProperties', 'if', 'then', 'else', 'not']);
const LIST = new Set(['allOf', 'anyOf', 'oneOf']);
const NAMED = new Set(['properties', '$defs']);

function mapChildren(s: Json, f: (child: Json, key: string) => Json): Json {
  const out: Json = {};
  for (const [k, v] of Object.entries(s)) {
    if (ONE.has(k) && isObject(v)) out[k] = f(v, k);
    else if (LIST.has(k) && Array.isArray(v)) out[k] = v.map((x: Json) => f(x, k));
    else if (NAMED.has(k) && isObject(v))
      out[k] = Object.fromEntries(Object.entries(v).map(([n, x]) => [n, f(x as Json, k)]));
    else out[k] = v;
  }
  return out;
}
/** Characters of a branch that is worth a function of its own though it is said once. */
const LONG = 300;

/**
 * @param least how many characters a schema has as JSON before it is worth a function of its own
 * @returns an equal schema; definitions that were there keep their names
 */
export function hoist(schema: object, least = 30): object {
  const times = new Map<string, number>();
  const count = (s: Json): Json => {
    const text = JSON.stringify(s);
    times.set(text, (times.get(text) ?? 0) + 1);
    // What lies in a repetition is said where it is said first.
    if (times.get(text) === 1 || text.length < least) mapChildren(s, count);
    return s;
  };
  mapChildren(schema as Json, count);
  const defs: Json = {};
  const names = new Map<string, string>();
  const replace = (s: Json, key: string): Json => {
    const text = JSON.stringify(s);
    // A condition stays where it is: Ajv looks into it.
    const again = key !== 'if' && !('$ref' in s) && text.length >= least && (times.get(text) ?? 0) > 1;
    const branch = (key === 'then' || key === 'else') && text.length >= LONG;
    if (!again && !branch) return mapChildren(s, replace);
    let name = names.get(text);
    if (!name) {
      name = `same${names.size}`;
      names.set(text, name);
      defs[name] = mapChildren(s, replace);
    }
    return { $ref: `#/$defs/${name}` };
  };
  const out = mapChildren(schema as Json, replace);
  return { ...out, $defs: { ...(out['$defs'] as Json | undefined), ...defs } };
}
