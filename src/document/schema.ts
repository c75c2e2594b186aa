/** JSON schema of a project file, put together from the operations' own declarations. */
import { ops } from '../core/ops/registry.gen';
import type { AnyOp } from '../core/op/contract';
import { encodingIds, primaries } from '../core/color/encodings';
import { schemaOf } from '../core/op/params';

export const PROJECT_FORMAT = 'rowanleaf-project';
export const PROJECT_VERSION = 2;

const obj = (properties: Record<string, object>, optional: string[] = []): object => ({
  type: 'object', additionalProperties: false, required: Object.keys(properties).filter((k) => !optional.includes(k)), properties,
});
const text = { type: 'string', maxLength: 400 };
const id = (kind: string): object => ({ type: 'string', pattern: `^${kind}:[A-Za-z0-9._-]+$` });
const keyframable = (min: number, max: number): object => (schemaOf({ v: { kind: 'num', default: min, min, max, ui: [min, max], unit: 'none', doc: '', label: '', step: 1 } }) as { properties: { v: object } }).properties.v;

const fits = (o: AnyOp, kinds: readonly string[]): boolean => kinds.includes(o.kind === 'pixel' && o.role ? o.role : o.kind);
const use = (kinds: readonly string[]): object => ({
  type: 'object',
  required: ['op'],
  properties: { op: { enum: ops.filter((o) => fits(o, kinds)).map((o) => o.id) } },
  // One branch per operation, so that a message names the parameter rather than "no branch fits".
  allOf: ops
    .filter((o) => fits(o, kinds))
    .map((o) => ({
      if: { properties: { op: { const: o.id } }, required: ['op'] },
      then: obj({ id: text, op: { const: o.id }, version: { type: 'integer', minimum: 1, maximum: o.version }, on: { type: 'boolean' }, params: schemaOf(o.params), name: text }, ['name']),
    })),
});

const size = { type: 'integer', minimum: 1, maximum: 8192 };
const box = obj({ x: { type: 'number' }, y: { type: 'number' }, w: { type: 'number', exclusiveMinimum: 0 }, h: { type: 'number', exclusiveMinimum: 0 } });

const num = { type: 'number' };
const log = obj({ base: num, logSideSlope: num, logSideOffset: num, linSideSlope: num, linSideOffset: num, linSideBreak: { type: ['number', 'null'] }, linearSlope: num }, ['linearSlope']);
const custom = { name: text, log, primaries: { enum: Object.keys(primaries) } };
/** A known encoding by its id; else constants, or a table. */
const encodingRef = {
  type: ['string', 'object'],
  if: { type: 'string' },
  then: { enum: encodingIds },
  else: { if: { type: 'object', properties: { table: {} }, required: ['table'] }, then: obj({ table: id('table') }), else: obj(custom) },
};
const triple = { type: 'array', items: num, minItems: 3, maxItems: 3 };

const records: Record<string, object> = {
  project: obj({ type: { const: 'project' }, id: id('project'), name: text, skinLineDeg: { type: 'number', minimum: 0, maximum: 360 } }),
  media: obj({
    type: { const: 'media' }, id: id('media'), kind: { const: 'still' }, fileName: text, format: { enum: ['png', 'jpeg', 'tiff', 'exr', 'webp', 'avif'] }, bits: { enum: [8, 10, 12, 16, 32] },
    width: size, height: size, frames: { type: 'integer', minimum: 1 }, sha256: { type: 'string', pattern: '^[0-9a-f]{64}$' },
    source: {
      type: 'object', required: ['from'], properties: { from: { enum: ['demo', 'file'] } },
      if: { properties: { from: { const: 'demo' } } },
      then: obj({ from: { const: 'demo' }, path: { type: 'string', pattern: '^[A-Za-z0-9._-]+$' } }),
      else: obj({ from: { const: 'file' } }),
    },
    decode: obj({ alpha: { enum: ['keep', 'flatten'] }, profile: { enum: ['refuse', 'assume'] } }),
  }, ['decode']),
  shot: obj({
    type: { const: 'shot' }, id: id('shot'), name: text, media: id('media'), encoding: encodingRef, encodingGuessed: { type: 'boolean' }, conversion: use(['conversion']),
    range: { type: 'array', items: { type: 'integer', minimum: 0 }, minItems: 2, maxItems: 2 }, fps: { type: 'number', exclusiveMinimum: 0, maximum: 1000 }, order: { type: 'number' },
  }),
  correction: obj({
    type: { const: 'correction' }, id: id('corr'), shot: id('shot'), name: text, on: { type: 'boolean' }, order: { type: 'number' }, mixPct: keyframable(0, 100),
    terms: { type: 'array', maxItems: 64, items: obj({ join: { enum: ['and', 'or'] }, not: { type: 'boolean' }, name: text, use: use(['key', 'shape']) }) },
    tidy: { type: 'array', maxItems: 32, items: use(['tidy']) },
    adjustments: { type: 'array', maxItems: 64, items: use(['pixel']) },
    side: { enum: ['camera', 'display'] },
  }, ['side']),
  encoding: obj({ type: { const: 'encoding' }, id: id('encoding'), ...custom }),
  table: obj({ type: { const: 'table' }, id: id('table'), name: text, kind: { enum: ['1d', '3d'] }, size: { type: 'integer', minimum: 2, maximum: 65536 }, domainMin: triple, domainMax: triple, data: { type: 'string', maxLength: 20_000_000 } }),
  chart: obj({
    type: { const: 'chart' }, id: id('chart'), shot: id('shot'), kind: { enum: ['chart24', 'strip'] }, corners: { type: 'array', minItems: 4, maxItems: 4, items: { type: 'array', items: num, minItems: 2, maxItems: 2 } },
    steps: { type: 'integer', minimum: 2, maximum: 30 }, greyStep: { type: ['integer', 'null'], minimum: 0, maximum: 29 },
  }),
  patch: obj({ type: { const: 'patch' }, id: id('patch'), shot: id('shot'), name: text, kind: { enum: ['skin', 'black', 'grey', 'white', 'other'] }, box, points: { type: 'array', minItems: 3, maxItems: 500, items: { type: 'array', items: num, minItems: 2, maxItems: 2 } }, order: { type: 'number' } }, ['points']),
};

export const projectSchema: object = {
  type: 'object',
  additionalProperties: false,
  required: ['format', 'version', 'records'],
  properties: {
    format: { const: PROJECT_FORMAT },
    version: { type: 'integer', minimum: 1, maximum: PROJECT_VERSION },
    application: text,
    records: {
      type: 'array',
      maxItems: 20000,
      items: {
        type: 'object',
        required: ['type'],
        properties: { type: { enum: Object.keys(records) } },
        allOf: Object.entries(records).map(([type, then]) => ({ if: { properties: { type: { const: type } }, required: ['type'] }, then })),
      },
    },
    /** Embedded pictures: base64 of the file, by media id. */
    embedded: { type: 'object', additionalProperties: { type: 'string' } },
  },
};
