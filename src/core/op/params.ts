/**
 * Parameters are declared once, here is how: type, JSON schema, validation, docs row and control all derive
 * from the declaration in an operation's `params.ts`.
 */
export type Unit = 'deg' | 'pct' | 'px' | 'stops' | 'signal' | 'none';

export interface NumSpec {
  readonly kind: 'num';
  readonly default: number;
  /** Hard range: anything outside is an error. */
  readonly min: number;
  readonly max: number;
  /** Usual range of the control. */
  readonly ui: readonly [number, number];
  readonly unit: Unit;
  readonly doc: string;
  readonly label: string;
  /** Fine, normal step of the control; coarse is ten normal steps. */
  readonly step: number;
  /** Of a place in the picture, in pixels: along which side. Other pixels are lengths. */
  readonly axis?: 'x' | 'y';
  /** Offered only where it is not the default. */
  readonly whenSet?: boolean;
}
export interface BoolSpec {
  readonly kind: 'bool';
  readonly default: boolean;
  readonly doc: string;
  readonly label: string;
}
/** One of a few, by a name that files keep. */
export interface ChoiceSpec {
  readonly kind: 'choice';
  readonly default: string;
  readonly options: Readonly<Record<string, string>>;
  readonly doc: string;
  readonly label: string;
  /** Offered only where it is not the default: what older projects keep. */
  readonly whenSet?: boolean;
}
/**
 * Numbers of any count, such as the points of a curve. With `unit` px they follow the size of the picture: by `axes`
 * the numbers are places along these sides, in turn (null: a length); left out, all are lengths.
 */
export interface ListSpec {
  readonly kind: 'list';
  readonly unit?: Unit;
  readonly axes?: readonly ('x' | 'y' | null)[];
  readonly default: readonly number[];
  readonly min: number;
  readonly max: number;
  readonly least: number;
  readonly most: number;
  readonly doc: string;
  readonly label: string;
}
/** A name of something that is kept elsewhere, such as a lookup table; empty for none. */
export interface NameSpec {
  readonly kind: 'name';
  readonly default: string;
  readonly doc: string;
  readonly label: string;
}
export type ParamSpec = NumSpec | BoolSpec | ChoiceSpec | ListSpec | NameSpec;
export type ParamSpecs = Readonly<Record<string, ParamSpec>>;

type NumInit = {
  default: number;
  min: number;
  max: number;
  ui?: [number, number];
  unit?: Unit;
  doc: string;
  label: string;
  step?: number;
  axis?: 'x' | 'y';
  whenSet?: boolean;
};

export function num(init: NumInit): NumSpec {
  const ui = init.ui ?? [init.min, init.max];
  return { kind: 'num', unit: 'none', step: (ui[1] - ui[0]) / 200, ...init, ui };
}
export function bool(init: { default: boolean; doc: string; label: string }): BoolSpec {
  return { kind: 'bool', ...init };
}

export const choice = <O extends Readonly<Record<string, string>>>(init: {
  default: keyof O & string;
  options: O;
  doc: string;
  label: string;
  whenSet?: boolean;
}): ChoiceSpec & { readonly options: O } => ({ kind: 'choice', ...init });
export const list = (init: Omit<ListSpec, 'kind'>): ListSpec => ({ kind: 'list', ...init });
export const nameOf = (init: { doc: string; label: string }): NameSpec => ({ kind: 'name', default: '', ...init });

export type Value = number | boolean | string | readonly number[];
type ValueOf<P extends ParamSpec> = P extends NumSpec
  ? number
  : P extends BoolSpec
    ? boolean
    : P extends ChoiceSpec
      ? keyof P['options'] & string
      : P extends ListSpec
        ? readonly number[]
        : string;
/** Resolved values: every parameter present, keyframes already evaluated. */
export type Values<S extends ParamSpecs> = { readonly [K in keyof S]: ValueOf<S[K]> };
export type AnyValues = Readonly<Record<string, Value>>;

export type Ease = 'linear' | 'smooth' | 'hold';
/** A keyframed number. Frames rise strictly; before the first and after the last key the value holds. */
export interface Keyframed {
  keys: { frame: number; value: number; ease: Ease }[];
}
/** Keyframed lists of one length. */
export interface KeyframedList {
  keys: { frame: number; value: readonly number[]; ease: Ease }[];
}
/** What a document stores for one parameter. */
export type StoredValue = number | boolean | string | readonly number[] | Keyframed | KeyframedList;
export type StoredValues = Record<string, StoredValue>;

/** Of one number. */
export const isKeyframed = (v: StoredValue | undefined): v is Keyframed =>
  typeof v === 'object' && v !== null && !Array.isArray(v) && !isKeyframedList(v);
export const isKeyframedList = (v: StoredValue | undefined): v is KeyframedList =>
  typeof v === 'object' &&
  v !== null &&
  !Array.isArray(v) &&
  Array.isArray((v as KeyframedList).keys) &&
  Array.isArray((v as KeyframedList).keys[0]?.value);

/** The keys about a frame by their places: the same one twice where the value holds. */
function about(keys: readonly { frame: number; ease: Ease }[], frame: number): [number, number] {
  if (keys.length === 0) throw new RangeError('A keyframed value needs at least one key');
  if (frame <= keys[0]!.frame) return [0, 0];
  for (let i = 1; i < keys.length; i++)
    if (frame < keys[i]!.frame) return keys[i - 1]!.ease === 'hold' ? [i - 1, i - 1] : [i - 1, i];
  return [keys.length - 1, keys.length - 1];
}
/**
 * Slope of a smooth curve at key i, for one frame: the weighted harmonic mean of the slopes beside it, 0 at a turn and
 * at the ends, so that nothing overshoots (Fritsch and Butland 1984, SIAM J. Sci. Stat. Comput. 5, 300).
 */
function slopeAt(keys: readonly { frame: number; ease: Ease }[], value: (i: number) => number, i: number): number {
  if (i === 0 || i === keys.length - 1 || keys[i - 1]!.ease === 'hold' || keys[i]!.ease === 'hold') return 0;
  const [h0, h1] = [keys[i]!.frame - keys[i - 1]!.frame, keys[i + 1]!.frame - keys[i]!.frame];
  const [d0, d1] = [(value(i) - value(i - 1)) / h0, (value(i + 1) - value(i)) / h1];
  if (!(d0 * d1 > 0)) return 0;
  const [w0, w1] = [2 * h1 + h0, h1 + 2 * h0];
  return (w0 + w1) / (w0 / d0 + w1 / d1);
}
/** One number between keys i and j: a straight line, or a cubic (Hermite). */
function blendAt(
  keys: readonly { frame: number; ease: Ease }[],
  value: (i: number) => number,
  [i, j]: readonly [number, number],
  frame: number,
): number {
  const a = value(i);
  if (i === j) return a;
  const b = value(j);
  const h = keys[j]!.frame - keys[i]!.frame;
  const t = (frame - keys[i]!.frame) / h;
  if (keys[i]!.ease === 'linear') return a + (b - a) * t;
  const eased = a + (b - a) * (t * t * (3 - 2 * t));
  const [m0, m1] = [slopeAt(keys, value, i), slopeAt(keys, value, j)];
  return m0 === 0 && m1 === 0 ? eased : eased + h * t * (1 - t) * ((1 - t) * m0 - t * m1);
}
/** Value at a frame (may be fractional). `smooth` is a cubic that never overshoots and stops at the ends. */
export function valueAt(v: number | Keyframed, frame: number): number {
  if (typeof v === 'number') return v;
  return blendAt(v.keys, (i) => v.keys[i]!.value, about(v.keys, frame), frame);
}
const isList = (v: readonly number[] | KeyframedList): v is readonly number[] => Array.isArray(v);
/** Every number of a value, keyframes and lists included; `i` counts in a list. */
export const mapNumber = (v: StoredValue, f: (x: number, i: number) => number): StoredValue =>
  typeof v === 'number'
    ? f(v, 0)
    : Array.isArray(v)
      ? v.map(f)
      : isKeyframed(v)
        ? ({ keys: v.keys.map((k) => ({ ...k, value: f(k.value, 0) })) } as Keyframed)
        : isKeyframedList(v)
          ? { keys: v.keys.map((k) => ({ ...k, value: k.value.map(f) })) }
          : v;
/** Number by number; where lengths differ the nearer key's list stands. */
export function listAt(v: readonly number[] | KeyframedList, frame: number): readonly number[] {
  if (isList(v)) return v;
  const { keys } = v;
  const [i, j] = about(keys, frame);
  const [a, b] = [keys[i]!.value, keys[j]!.value];
  if (i === j) return a;
  if (a.length !== b.length) return 2 * (frame - keys[i]!.frame) < keys[j]!.frame - keys[i]!.frame ? a : b;
  // A slope needs lists as long as these.
  const same = (k: number, n: number): number => keys[k]!.value[n] ?? keys[i]!.value[n]!;
  return a.map((_, n) => blendAt(keys, (k) => same(k, n), [i, j], frame));
}
/** The value with a key at a frame: numbers that are not keyframed are replaced as they are. */
export function withKey(v: StoredValue | undefined, frame: number, value: number | readonly number[]): StoredValue {
  if (!isKeyframed(v) && !isKeyframedList(v)) return value;
  const keys = v.keys as { frame: number; value: number | readonly number[]; ease: Ease }[];
  const at = keys.findIndex((k) => k.frame >= frame);
  const key = { frame, value, ease: keys[at < 0 ? keys.length - 1 : Math.max(0, at - 1)]?.ease ?? 'smooth' };
  const next =
    at < 0
      ? [...keys, key]
      : keys[at]!.frame === frame
        ? keys.map((k, i) => (i === at ? { ...k, value } : k))
        : [...keys.slice(0, at), key, ...keys.slice(at)];
  return { keys: next } as StoredValue;
}

/** Defaults of a declaration. */
export function defaultsOf<S extends ParamSpecs>(specs: S): Values<S> {
  return Object.fromEntries(Object.entries(specs).map(([k, s]) => [k, s.default])) as Values<S>;
}

const NAME_MOST = 200;
/** One fault in given parameters, with a path that a message can show. */
export interface ParamFault {
  path: string;
  message: string;
}

/**
 * Resolves stored values at a frame: absent ones take their default, unknown names, wrong types and values out of
 * the hard range are faults.
 */
export function tryResolve<S extends ParamSpecs>(
  specs: S,
  stored: Readonly<StoredValues>,
  frame = 0,
): { values: Values<S>; faults: ParamFault[] } {
  const faults: ParamFault[] = [];
  const out: Record<string, Value> = {};
  for (const name of Object.keys(stored))
    if (!(name in specs)) faults.push({ path: name, message: 'is not a parameter of this operation' });
  for (const [name, spec] of Object.entries(specs)) {
    const given = stored[name];
    out[name] = spec.default;
    if (given === undefined) continue;
    if (spec.kind === 'bool') {
      if (typeof given === 'boolean') out[name] = given;
      else faults.push({ path: name, message: 'must be true or false' });
      continue;
    }
    if (spec.kind === 'choice') {
      if (typeof given === 'string' && given in spec.options) out[name] = given;
      else faults.push({ path: name, message: `must be one of ${Object.keys(spec.options).join(', ')}` });
      continue;
    }
    if (spec.kind === 'name') {
      if (typeof given === 'string' && given.length <= NAME_MOST) out[name] = given;
      else faults.push({ path: name, message: 'must be a name' });
      continue;
    }
    if (spec.kind === 'list') {
      const lists: unknown[] = isKeyframedList(given) ? given.keys.map((k) => k.value) : [given];
      if (!lists.every((x): x is number[] => Array.isArray(x)))
        faults.push({ path: name, message: 'must be a list of numbers, or keyframes of lists' });
      else if (lists.some((x) => x.length < spec.least || x.length > spec.most))
        faults.push({ path: name, message: `must hold ${spec.least} to ${spec.most} numbers` });
      else if (lists.some((l) => l.some((x) => typeof x !== 'number' || !(x >= spec.min && x <= spec.max))))
        faults.push({ path: name, message: `must hold numbers from ${spec.min} to ${spec.max}` });
      else out[name] = listAt(given as readonly number[] | KeyframedList, frame);
      continue;
    }
    if (
      typeof given === 'boolean' ||
      typeof given === 'string' ||
      given === null ||
      !(typeof given === 'number' || isKeyframed(given)) ||
      (typeof given === 'object' && !Array.isArray(given.keys))
    ) {
      faults.push({ path: name, message: 'must be a number or keyframes' });
      continue;
    }
    if (typeof given === 'object' && given.keys.length === 0) {
      faults.push({ path: name, message: 'has no keyframes' });
      continue;
    }
    const v = valueAt(given, frame);
    if (!Number.isFinite(v) || v < spec.min || v > spec.max)
      faults.push({ path: name, message: `must lie in ${spec.min} to ${spec.max}` });
    else out[name] = v;
  }
  return { values: out as Values<S>, faults };
}

/** Like `tryResolve`, but throws a RangeError that names the parameter. */
export function resolve<S extends ParamSpecs>(specs: S, stored: Readonly<StoredValues>, frame = 0): Values<S> {
  const { values, faults } = tryResolve(specs, stored, frame);
  if (faults[0]) throw new RangeError(`${faults[0].path} ${faults[0].message}`);
  return values;
}

const keysSchema = (value: object): object => ({
  type: 'object',
  required: ['keys'],
  additionalProperties: false,
  properties: {
    keys: {
      type: 'array',
      minItems: 1,
      items: {
        type: 'object',
        required: ['frame', 'value', 'ease'],
        additionalProperties: false,
        properties: { frame: { type: 'number' }, value, ease: { enum: ['linear', 'smooth', 'hold'] } },
      },
    },
  },
});
const orKeys = (value: object): object => ({ anyOf: [value, keysSchema(value)] });
/** JSON schema of the stored form of a declaration. */
export function schemaOf(specs: ParamSpecs): object {
  const properties: Record<string, object> = {};
  for (const [name, s] of Object.entries(specs)) {
    properties[name] =
      s.kind === 'bool'
        ? { type: 'boolean', default: s.default }
        : s.kind === 'choice'
          ? { enum: Object.keys(s.options) }
          : s.kind === 'name'
            ? { type: 'string', maxLength: NAME_MOST }
            : s.kind === 'list'
              ? orKeys({
                  type: 'array',
                  minItems: s.least,
                  maxItems: s.most,
                  items: { type: 'number', minimum: s.min, maximum: s.max },
                })
              : orKeys({ type: 'number', minimum: s.min, maximum: s.max });
  }
  return { type: 'object', additionalProperties: false, properties };
}

/**
 * Lengths and places in pixels follow the size of the picture: values of unit `px` are brought into its frame by
 * `fit` and then multiplied by `scale`.
 */
export function scalePx<S extends ParamSpecs>(
  specs: S,
  values: Values<S>,
  scale: number,
  fit: { s: number; dx: number; dy: number } = { s: 1, dx: 0, dy: 0 },
): Values<S> {
  if (scale === 1 && fit.s === 1 && fit.dx === 0 && fit.dy === 0) return values;
  const out: Record<string, Value> = { ...values };
  for (const [name, s] of Object.entries(specs))
    if (s.kind === 'num' && s.unit === 'px')
      out[name] = ((values[name] as number) * fit.s + (s.axis ? fit[`d${s.axis}`] : 0)) * scale;
    else if (s.kind === 'list' && s.unit === 'px')
      out[name] = (values[name] as readonly number[]).map((x, i) => {
        const axis = s.axes?.[i % s.axes.length];
        return (x * fit.s + (axis ? fit[`d${axis}`] : 0)) * scale;
      });
  return out as Values<S>;
}
