/** Schemas in which what is said twice is said once mean what they meant. */
import { describe, expect, it } from 'vitest';
import { hoist } from '../scripts/hoist';
import { looseSchemas, projectSchema } from '../src/document/schema';

type Json = Record<string, unknown>;
/** Every reference to what was hoisted put back in its place. */
function spelled(x: unknown, defs: Json): unknown {
  if (Array.isArray(x)) return x.map((v) => spelled(v, defs));
  if (typeof x !== 'object' || x === null) return x;
  const name = /^#\/\$defs\/(same\d+)$/.exec(String((x as Json)['$ref']))?.[1];
  if (name) return spelled(defs[name], defs);
  return Object.fromEntries(Object.entries(x).map(([k, v]) => [k, spelled(v, defs)]));
}
const back = (schema: object): unknown => {
  const { $defs, ...rest } = hoist(schema) as Json;
  const defs = $defs as Json;
  const own = Object.fromEntries(Object.entries(defs).filter(([k]) => !/^same\d+$/.test(k)));
  return spelled({ $defs: own, ...rest }, defs);
};

describe('hoist', () => {
  it.each([projectSchema, ...looseSchemas].map((s, i) => [i, s] as const))(
    'schema %i is the same once it is spelt out',
    (_, schema) => {
      expect(back(schema)).toEqual(schema);
      expect(JSON.stringify(hoist(schema)).length).toBeLessThan(JSON.stringify(schema).length);
    },
  );
  it('a long branch is a definition of its own, though it is said once; a short one stays', () => {
    const short = { maxLength: 4 };
    const long = { type: 'string', pattern: `^${'a'.repeat(300)}$` };
    const schema = { if: { type: 'string' }, then: long, else: short };
    expect(hoist(schema)).toEqual({
      if: { type: 'string' },
      then: { $ref: '#/$defs/same0' },
      else: short,
      $defs: { same0: long },
    });
  });
  it('data that look like schemas stay where they are', () => {
    const value = { type: 'string', maxLength: 400, pattern: '^(a|b)+$' };
    const schema = { properties: { a: { enum: [value, value] }, b: { const: value }, c: value, d: value } };
    expect(hoist(schema)).toEqual({
      properties: {
        a: { enum: [value, value] },
        b: { const: value },
        c: { $ref: '#/$defs/same0' },
        d: { $ref: '#/$defs/same0' },
      },
      $defs: { same0: value },
    });
  });
});
