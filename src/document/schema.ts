/**
 * JSON schemas of a project file, put together from the operations' own declarations: the strict one of today, and
 * a loose one of each version for what comes in before it is migrated (records by their form, parameters as any
 * values).
 */
import { SOLVED_FOR } from '../core/graph/plan';
import { ops } from '../core/ops/registry.gen';
import type { AnyOp } from '../core/op/contract';
import { OWN } from '../core/graph/region';
import { encodingIds, primaries } from '../core/color/encodings';
import { LIGHT_CELLS } from '../core/matte/keyLight';
import { matrixTitles } from '../core/color/yuv';
import { schemaOf } from '../core/op/params';
import { MAX_CUBE_SIDE } from '../core/formats/cube';

export const PROJECT_FORMAT = 'rowanleaf-project';
export const PROJECT_VERSION = 4;

const obj = (properties: Record<string, object>, optional: string[] = []): object => ({
  type: 'object',
  additionalProperties: false,
  required: Object.keys(properties).filter((k) => !optional.includes(k)),
  properties,
});
const text = { type: 'string', maxLength: 400 };
const id = (kind: string): object => ({ type: 'string', pattern: `^${kind}:[A-Za-z0-9._-]+$` });
const keyframable = (min: number, max: number): object =>
  (
    schemaOf({
      v: { kind: 'num', default: min, min, max, ui: [min, max], unit: 'none', doc: '', label: '', step: 1 },
    }) as { properties: { v: object } }
  ).properties.v;

const fits = (o: AnyOp, kinds: readonly string[]): boolean =>
  kinds.includes(o.kind === 'pixel' && o.role ? o.role : o.kind);
const looseUse = {
  type: 'object',
  required: ['id', 'op', 'version', 'on', 'params'],
  additionalProperties: false,
  properties: {
    id: text,
    op: text,
    version: { type: 'integer', minimum: 1 },
    on: { type: 'boolean' },
    params: { type: 'object' },
    name: text,
    solved: { enum: SOLVED_FOR },
  },
};
const strictUse = (kinds: readonly string[]): object => ({
  type: 'object',
  required: ['op'],
  properties: { op: { enum: ops.filter((o) => fits(o, kinds)).map((o) => o.id) } },
  // One branch per operation, so that a message names the parameter rather than "no branch fits".
  allOf: ops
    .filter((o) => fits(o, kinds))
    .map((o) => ({
      if: { properties: { op: { const: o.id } }, required: ['op'] },
      then: obj(
        {
          id: text,
          op: { const: o.id },
          version: { const: o.version },
          on: { type: 'boolean' },
          params: schemaOf(o.params),
          name: text,
          solved: { enum: SOLVED_FOR },
        },
        ['name', 'solved'],
      ),
    })),
});

const size = { type: 'integer', minimum: 1, maximum: 8192 };
const sum = { type: 'string', pattern: '^[0-9a-f]{64}$' };
const STILLS = ['png', 'jpeg', 'tiff', 'exr', 'webp', 'avif'];
const box = obj({
  x: { type: 'number' },
  y: { type: 'number' },
  w: { type: 'number', exclusiveMinimum: 0 },
  h: { type: 'number', exclusiveMinimum: 0 },
});

const num = { type: 'number' };
const log = obj(
  {
    base: num,
    logSideSlope: num,
    logSideOffset: num,
    linSideSlope: num,
    linSideOffset: num,
    linSideBreak: { type: ['number', 'null'] },
    linearSlope: num,
  },
  ['linearSlope'],
);
const custom = { name: text, log, primaries: { enum: Object.keys(primaries) } };
/** A known encoding by its id; else constants, or a table. */
const encodingRef = {
  type: ['string', 'object'],
  if: { type: 'string' },
  then: { enum: encodingIds },
  else: {
    if: { type: 'object', properties: { table: {} }, required: ['table'] },
    then: obj({ table: id('table') }),
    else: obj(custom),
  },
};
const triple = { type: 'array', items: num, minItems: 3, maxItems: 3 };

/** What one record may hold; the application keeps to the same numbers. */
export const LIMITS = {
  terms: 64,
  tidy: 32,
  adjustments: 64,
  name: 400,
  tableSide: MAX_CUBE_SIDE,
  records: 20_000,
  /** Brackets within brackets. */
  depth: 6,
  strokes: 200,
  strokePoints: 5000,
  /** Frames of a sequence. */
  files: 20_000,
  markers: 2000,
  /** Frames of a path that a shape follows. */
  path: 20_000,
  /** Numbers that say how points of an outline go by themselves. */
  own: 256,
} as const;

const fraction = (most: number): object => ({
  type: 'array',
  items: { type: 'integer', minimum: 1, maximum: most },
  minItems: 2,
  maxItems: 2,
});
const point = { type: 'array', items: num, minItems: 2, maxItems: 2 };
const stroke = {
  frame: { type: 'integer', minimum: 0 },
  points: { type: 'array', minItems: 1, maxItems: LIMITS.strokePoints, items: point },
};
const owner = { type: 'string', pattern: '^(shot|scene):[A-Za-z0-9._-]+$' };
const ref = (name: string): object => ({ $ref: `#/$defs/${name}` });
/** Parts of a region by how deep brackets may still stand in them, each told once: a key or shape is a long schema. */
const regionDefs = (use: object): Record<string, object> => ({
  part: use,
  ...Object.fromEntries(Array.from({ length: LIMITS.depth + 1 }, (_, d) => [`terms${d}`, terms(d)])),
});
const track = obj({
  at: { type: 'integer', minimum: 0 },
  path: {
    type: 'array',
    maxItems: LIMITS.path,
    items: obj(
      {
        frame: { type: 'integer', minimum: 0 },
        h: { type: 'array', items: num, minItems: 9, maxItems: 9 },
        quality: { type: 'number', minimum: 0, maximum: 1 },
        lost: { type: 'boolean' },
        own: { type: 'array', items: num, maxItems: LIMITS.own },
      },
      ['quality', 'lost', 'own'],
    ),
  },
});
function terms(depth: number): object {
  const head = { id: text, join: { enum: ['and', 'or'] }, not: { type: 'boolean' }, name: text };
  const key = obj(
    {
      ...head,
      use: ref('part'),
      reads: { const: 'base' },
      quietPct: { type: 'number', minimum: 0, maximum: 100 },
      quietFrames: { type: 'integer', minimum: 1, maximum: 3 },
      // None: as each frame is lit, by choice.
      light: { type: 'array', items: num, maxItems: LIGHT_CELLS, anyOf: [{ maxItems: 0 }, { minItems: LIGHT_CELLS }] },
      track,
      strokes: { type: 'array', maxItems: LIMITS.strokes, items: obj({ ...stroke, keep: { type: 'boolean' } }) },
    },
    ['reads', 'quietPct', 'quietFrames', 'light', 'track', 'strokes'],
  );
  const link = obj({ ...head, of: id('corr'), outside: { type: 'boolean' }, on: { type: 'boolean' } });
  const matte = obj({
    ...head,
    matte: { type: 'string', pattern: `^(${OWN}|media:[A-Za-z0-9._-]+)$` },
    channel: { enum: ['luma', 'alpha'] },
    from: { type: 'integer', minimum: 0 },
    on: { type: 'boolean' },
  });
  const group = obj({
    ...head,
    group: depth > 0 ? ref(`terms${depth - 1}`) : { type: 'array', maxItems: 0 },
    on: { type: 'boolean' },
  });
  // Told apart by what they hold, so that a message names the property rather than "no branch fits".
  const has = (k: string): object => ({ type: 'object', properties: { [k]: {} }, required: [k] });
  const pick = { if: has('of'), then: link, else: { if: has('matte'), then: matte, else: key } };
  return {
    type: 'array',
    maxItems: LIMITS.terms,
    items: { if: has('group'), then: group, else: pick },
  };
}

const recordSchemas = (use: (kinds: readonly string[]) => object): Record<string, object> => ({
  project: obj({
    type: { const: 'project' },
    id: id('project'),
    name: text,
    skinLineDeg: { type: 'number', minimum: 0, maximum: 360 },
  }),
  media: obj(
    {
      type: { const: 'media' },
      id: id('media'),
      kind: { enum: ['still', 'clip', 'sequence'] },
      fileName: text,
      format: { enum: [...STILLS, 'mp4', 'webm'] },
      bits: { enum: [8, 10, 12, 16, 32] },
      width: size,
      height: size,
      frames: { type: 'integer', minimum: 1 },
      pixelAspect: fraction(100_000),
      sha256: sum,
      ofParts: { const: true },
      files: { type: 'array', minItems: 1, maxItems: LIMITS.files, items: obj({ name: text, sha256: sum }) },
      yuv: obj({
        matrix: { enum: Object.keys(matrixTitles) },
        full: { type: 'boolean' },
        siting: { enum: ['left', 'centre', 'topLeft'] },
        guessed: { type: 'boolean' },
      }),
      source: {
        type: 'object',
        required: ['from'],
        properties: { from: { enum: ['demo', 'file'] } },
        if: { properties: { from: { const: 'demo' } } },
        then: obj({ from: { const: 'demo' }, path: { type: 'string', pattern: '^[A-Za-z0-9._-]+$' } }),
        else: obj({ from: { const: 'file' } }),
      },
      decode: obj({ alpha: { enum: ['keep', 'flatten'] }, profile: { enum: ['refuse', 'assume'] } }),
    },
    ['decode', 'files', 'ofParts', 'yuv'],
  ),
  shot: obj(
    {
      type: { const: 'shot' },
      id: id('shot'),
      name: text,
      media: id('media'),
      encoding: encodingRef,
      encodingGuessed: { type: 'boolean' },
      conversion: use(['conversion']),
      range: { type: 'array', items: { type: 'integer', minimum: 0 }, minItems: 2, maxItems: 2 },
      rate: fraction(1_000_000),
      timecode: obj({ start: { type: 'integer', minimum: 0, maximum: 100_000_000 }, drop: { type: 'boolean' } }),
      scene: id('scene'),
      markers: {
        type: 'array',
        maxItems: LIMITS.markers,
        items: obj({ frame: { type: 'integer', minimum: 0 }, note: { type: 'string', maxLength: LIMITS.name } }),
      },
      order: { type: 'number' },
    },
    ['scene', 'markers'],
  ),
  scene: obj({
    type: { const: 'scene' },
    id: id('scene'),
    name: text,
    width: size,
    height: size,
    order: { type: 'number' },
  }),
  correction: obj(
    {
      type: { const: 'correction' },
      id: id('corr'),
      owner,
      name: text,
      on: { type: 'boolean' },
      order: { type: 'number' },
      mixPct: keyframable(0, 100),
      terms: ref(`terms${LIMITS.depth}`),
      tidy: { type: 'array', maxItems: LIMITS.tidy, items: use(['tidy']) },
      adjustments: { type: 'array', maxItems: LIMITS.adjustments, items: use(['pixel', 'area']) },
      side: { enum: ['camera', 'display'] },
      start: { enum: ['after', 'beside'] },
    },
    ['side', 'start'],
  ),
  encoding: obj({ type: { const: 'encoding' }, id: id('encoding'), ...custom }),
  table: obj({
    type: { const: 'table' },
    id: id('table'),
    name: text,
    kind: { enum: ['1d', '3d'] },
    size: { type: 'integer', minimum: 2, maximum: 65536 },
    domainMin: triple,
    domainMax: triple,
    // Base64 of float32 triples of the largest table.
    data: { type: 'string', maxLength: 4 * Math.ceil((12 * LIMITS.tableSide ** 3) / 3) },
  }),
  chart: obj({
    type: { const: 'chart' },
    id: id('chart'),
    shot: id('shot'),
    kind: { enum: ['chart24', 'strip'] },
    corners: {
      type: 'array',
      minItems: 4,
      maxItems: 4,
      items: { type: 'array', items: num, minItems: 2, maxItems: 2 },
    },
    steps: { type: 'integer', minimum: 2, maximum: 30 },
    greyStep: { type: ['integer', 'null'], minimum: 0, maximum: 29 },
  }),
  // What it holds is checked in the form of its time when somebody goes back to it.
  version: obj({
    type: { const: 'version' },
    id: id('version'),
    shot: id('shot'),
    name: text,
    at: text,
    form: { type: 'integer', minimum: 4, maximum: PROJECT_VERSION },
    encoding: encodingRef,
    conversion: { type: 'object' },
    corrections: {
      type: 'array',
      maxItems: 1000,
      items: {
        type: 'object',
        required: ['type', 'id'],
        properties: { type: { const: 'correction' }, id: id('corr') },
      },
    },
    order: { type: 'number' },
  }),
  patch: obj(
    {
      type: { const: 'patch' },
      id: id('patch'),
      shot: id('shot'),
      name: text,
      kind: { enum: ['skin', 'black', 'grey', 'white', 'other'] },
      box,
      points: {
        type: 'array',
        minItems: 3,
        maxItems: 500,
        items: { type: 'array', items: num, minItems: 2, maxItems: 2 },
      },
      track,
      order: { type: 'number' },
    },
    ['points', 'track'],
  ),
});

const fileOf = (
  version: object,
  records: Record<string, object>,
  use: (kinds: readonly string[]) => object,
): object => ({
  $defs: regionDefs(use(['key', 'shape'])),
  type: 'object',
  additionalProperties: false,
  required: ['format', 'version', 'records'],
  properties: {
    format: { const: PROJECT_FORMAT },
    version,
    application: text,
    records: {
      type: 'array',
      maxItems: LIMITS.records,
      items: {
        type: 'object',
        required: ['type'],
        properties: { type: { enum: Object.keys(records) } },
        allOf: Object.entries(records).map(([type, then]) => ({
          if: { properties: { type: { const: type } }, required: ['type'] },
          then,
        })),
      },
    },
    /** Embedded pictures: base64 of the file, by media id. */
    embedded: { type: 'object', additionalProperties: { type: 'string' } },
  },
});

export const projectSchema: object = fileOf({ const: PROJECT_VERSION }, recordSchemas(strictUse), strictUse);

type Obj = { required: string[]; properties: Record<string, object> };
/** A record's schema of another time: some properties not yet there, some not needed, some that are gone. */
function asItWas(
  schema: object,
  { absent = [], optional = [], more = {} }: { absent?: string[]; optional?: string[]; more?: Record<string, object> },
): object {
  const s = schema as Obj;
  const properties = Object.fromEntries(Object.entries(s.properties).filter(([k]) => !absent.includes(k)));
  return {
    ...s,
    required: s.required.filter((k) => !optional.includes(k) && !absent.includes(k)),
    properties: { ...properties, ...more },
  };
}
const anyUse = (): object => looseUse;
const loose = recordSchemas(anyUse);
/** Without clips and sequences. */
const loose3: Record<string, object> = {
  ...loose,
  media: asItWas(loose['media']!, {
    absent: ['files', 'yuv'],
    more: { kind: { const: 'still' }, format: { enum: STILLS } },
  }),
};
/** Without brackets, links, scenes and fractions. */
const { scene: _scene, ...rest } = loose3;
const loose2: Record<string, object> = {
  ...rest,
  media: asItWas(loose3['media']!, { absent: ['pixelAspect'] }),
  shot: asItWas(loose['shot']!, {
    absent: ['rate', 'timecode', 'scene'],
    more: { fps: { type: 'number', exclusiveMinimum: 0, maximum: 1000 } },
  }),
  correction: asItWas(loose['correction']!, {
    absent: ['owner', 'start'],
    more: {
      shot: id('shot'),
      terms: {
        type: 'array',
        maxItems: LIMITS.terms,
        items: obj({ join: { enum: ['and', 'or'] }, not: { type: 'boolean' }, name: text, use: looseUse }),
      },
    },
  }),
};
const shot1 = asItWas(loose2['shot']!, { optional: ['encodingGuessed', 'conversion'] });
/** As the versions were written: index is the version. */
export const looseSchemas: readonly object[] = [
  fileOf(
    { const: 0 },
    {
      ...loose2,
      project: asItWas(loose2['project']!, { optional: ['skinLineDeg'] }),
      shot: shot1,
      correction: asItWas(loose2['correction']!, {
        optional: ['mixPct'],
        more: { mix: { type: 'number', minimum: 0, maximum: 1 } },
      }),
    },
    anyUse,
  ),
  fileOf({ const: 1 }, { ...loose2, shot: shot1 }, anyUse),
  fileOf({ const: 2 }, loose2, anyUse),
  fileOf({ const: 3 }, loose3, anyUse),
  fileOf({ const: 4 }, loose, anyUse),
];
