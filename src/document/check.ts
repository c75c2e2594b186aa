/**
 * The one way in for records, whatever the road: a project file, the browser's store, what was set aside when a
 * page was left, and steps to undo. It checks the form that the version had, migrates, checks strictly, and mends
 * what dangles, saying what it did.
 */
import { logFaults } from '../core/color/curves';
import { migrateParams } from '../core/op/contract';
import type { OpUse } from '../core/graph/plan';
import { opById } from '../core/graph/plan';
import { circleOf, hasRegion, isLink, isMatte, linksOf, mattesOf, mapTerms, mapTermUses } from '../core/graph/region';
import { ops } from '../core/ops/registry.gen';
import { cubeOf } from './tables';
import { migrateFile } from './migrate';
import type { AnyRecord, CorrectionRecord, Records, ShotRecord } from './records';
import { looseSchemas, PROJECT_FORMAT, PROJECT_VERSION } from './schema';
import * as validators from './validators.gen.js';
import type { Validate } from './validators.gen.js';

/** The message names the place and the fault. */
export class RecordError extends Error {
  override name = 'RecordError';
}
export interface Checked {
  records: Records;
  /** What was left out or mended, a sentence each; empty where everything stands as it was. */
  said: string[];
  /** Records that could not be read, as they were; of the browser's store only. */
  unread: unknown[];
}
type Loose = Record<string, unknown>;

/** Names the record a schema fault lies in, for people. */
function placeOf(path: string, records: readonly unknown[]): string {
  const m = /^\/records\/(\d+)(.*)$/.exec(path);
  if (!m) return path || 'the file';
  const r = records[Number(m[1])] as { type?: unknown; name?: unknown; id?: unknown } | null | undefined;
  const name =
    r && typeof r === 'object'
      ? ` (${String(r.type ?? 'no type')} "${String(r.name ?? r.id ?? '?').slice(0, 80)}")`
      : '';
  return `record ${m[1]}${name}${m[2] ? ` at ${m[2]}` : ''}`;
}
function faultOf(validate: Validate, records: readonly unknown[]): string {
  // The deepest path says most; "if" faults only repeat what their branch says.
  const faults = (validate.errors ?? [])
    .filter((x) => x.keyword !== 'if')
    .sort((a, b) => b.instancePath.length - a.instancePath.length);
  const f = faults[0];
  const extra =
    f?.keyword === 'additionalProperties'
      ? ` ("${String((f.params as { additionalProperty: string }).additionalProperty).slice(0, 80)}")`
      : f?.keyword === 'enum'
        ? ` (${(f.params as { allowedValues: unknown[] }).allowedValues.join(', ')})`
        : '';
  return (
    `${placeOf(f?.instancePath ?? '', records)} ${f?.message ?? 'is not valid'}${extra}` +
    (faults.length > 1 ? `, and ${faults.length - 1} more faults` : '')
  );
}
const CORRECT = '. Correct it there or use an older copy';

const fileOf = (version: number, records: readonly unknown[]): Loose => ({
  format: PROJECT_FORMAT,
  version,
  application: 'Rowanleaf',
  records,
});
/** Throws a RecordError where the records are not what their version says. */
function checkForm(version: number, records: readonly unknown[]): void {
  const validate = (validators as unknown as Record<string, Validate>)[`validateLoose${version}`];
  if (!validate || version >= looseSchemas.length)
    throw new RecordError(`There is no version ${version} of the format`);
  if (!validate(fileOf(version, records))) throw new RecordError(`${faultOf(validate, records)}${CORRECT}`);
}

/** An operation as stored, at its current version. Throws a RecordError. */
export function migrateUse(u: OpUse): OpUse {
  const op = ops.find((o) => o.id === u.op);
  if (!op || u.version === op.version) return u;
  try {
    return { ...u, version: op.version, params: migrateParams(opById(u.op), u.version, u.params) };
  } catch (e) {
    throw new RecordError((e as Error).message);
  }
}
const migrateUses = (r: AnyRecord): AnyRecord =>
  r.type === 'correction'
    ? {
        ...r,
        terms: mapTermUses(r.terms, migrateUse),
        tidy: r.tidy.map(migrateUse),
        adjustments: r.adjustments.map(migrateUse),
      }
    : r.type === 'shot'
      ? { ...r, conversion: migrateUse(r.conversion) }
      : r;

/** Records of a version as records of today, each of the right form, whatever they point to. Throws a RecordError. */
export function currentRecords(version: number, raw: readonly unknown[]): AnyRecord[] {
  checkForm(version, raw);
  let list: AnyRecord[];
  try {
    list = (migrateFile(fileOf(version, raw))['records'] as AnyRecord[]).map(migrateUses);
  } catch (e) {
    if (e instanceof RecordError) throw e;
    throw new RecordError((e as Error).message);
  }
  if (!validators.validateProject(fileOf(PROJECT_VERSION, list)))
    throw new RecordError(`${faultOf(validators.validateProject, list)}${CORRECT}`);
  for (const r of list) {
    if (r.type === 'table') {
      try {
        cubeOf(r);
      } catch (e) {
        throw new RecordError((e as Error).message);
      }
    }
    const own =
      r.type === 'encoding'
        ? r
        : r.type === 'shot' && typeof r.encoding === 'object' && 'log' in r.encoding
          ? r.encoding
          : null;
    if (own && logFaults(own.log)[0])
      throw new RecordError(`The encoding "${own.name}": ${logFaults(own.log).join(', ')}`);
  }
  return list;
}

/**
 * @param road `file`: what is not of the right form refuses the whole (a RecordError); `store`: such records are left
 *   out one by one and said, since the rest of a person's work must open
 */
export function checkRecords(version: number, raw: readonly unknown[], road: 'file' | 'store'): Checked {
  const said: string[] = [];
  const unread: unknown[] = [];
  let list: AnyRecord[];
  try {
    list = currentRecords(version, raw);
  } catch (e) {
    if (road === 'file') throw e;
    list = [];
    for (const r of raw) {
      try {
        list.push(...currentRecords(version, [r]));
      } catch (fault) {
        unread.push(r);
        said.push(`A record could not be read and is left out: ${(fault as Error).message.replace(CORRECT, '')}`);
      }
    }
  }
  const records: Record<string, AnyRecord> = {};
  for (const r of list) {
    if (records[r.id]) {
      if (road === 'file') throw new RecordError(`The id ${r.id} stands in the file twice`);
      continue;
    }
    records[r.id] = r;
  }
  said.push(...mend(records));
  return { records, said, unread };
}

/** Links must lead to a correction of the same owner, and never in a circle; mattes to a picture of the project. */
function mendLinks(c: CorrectionRecord, records: Record<string, AnyRecord>, said: string[]): void {
  const leads = (id: string): boolean => {
    const to = records[id];
    return to?.type === 'correction' && to.owner === c.owner && to.id !== c.id;
  };
  const others = Object.values(records).filter(
    (x): x is CorrectionRecord => x.type === 'correction' && x.owner === c.owner && x !== c,
  );
  let next = c;
  for (const id of new Set(linksOf(c))) {
    const why = !leads(id)
      ? 'leads to no correction of the same shot'
      : circleOf([...others, next])?.some((x) => x.id === c.id)
        ? 'goes in a circle'
        : null;
    if (!why) continue;
    const terms = mapTerms(next.terms, (t) => (isLink(t) && t.of === id ? null : t));
    // A correction that was limited must not act on the whole picture unasked.
    next = { ...next, terms, on: next.on && (hasRegion({ terms }) || !hasRegion(c)) };
    said.push(
      `A link in the region of "${c.name}" is left out: it ${why}${c.on && !next.on ? '. The correction is off' : ''}`,
    );
  }
  for (const id of new Set(mattesOf(next))) {
    if (records[id]?.type === 'media') continue;
    const terms = mapTerms(next.terms, (t) => (isMatte(t) && t.matte === id ? null : t));
    next = { ...next, terms, on: next.on && (hasRegion({ terms }) || !hasRegion(c)) };
    said.push(`A matte in the region of "${c.name}" is left out: its picture is not in the project`);
  }
  if (next !== c) records[c.id] = next;
}

const named = (r: AnyRecord): string => `${r.type} "${'name' in r ? r.name : r.type === 'media' ? r.fileName : r.id}"`;
/** Mends what points to nothing, in place; a sentence each. */
function mend(records: Record<string, AnyRecord>): string[] {
  const said: string[] = [];
  const drop = (r: AnyRecord, why: string): void => {
    delete records[r.id];
    said.push(`The ${named(r)} is left out: ${why}`);
  };
  const of = <T extends AnyRecord['type']>(type: T): Extract<AnyRecord, { type: T }>[] =>
    Object.values(records).filter((r): r is Extract<AnyRecord, { type: T }> => r.type === type);
  for (const m of of('media')) {
    if (m.kind !== 'sequence' || m.files?.length === m.frames) continue;
    if (!m.files) drop(m, 'it is a sequence without files');
    else {
      records[m.id] = { ...m, frames: m.files.length };
      said.push(`The sequence "${m.fileName}" has ${m.files.length} frames, as many as its files`);
    }
  }
  for (const s of of('shot')) {
    if (records[s.media]?.type !== 'media') drop(s, `its picture ${s.media} is not there`);
    else if (typeof s.encoding === 'object' && 'table' in s.encoding && records[s.encoding.table]?.type !== 'table') {
      const fixed: ShotRecord = { ...s, encoding: 'srgb', encodingGuessed: true };
      records[s.id] = fixed;
      said.push(`The shot "${s.name}" is taken as sRGB: the table of its encoding is not there`);
    }
  }
  for (const r of [...of('patch'), ...of('chart'), ...of('version')])
    if (records[r.shot]?.type !== 'shot') drop(r, `its shot ${r.shot} is not there`);
  for (const s of of('shot')) {
    if (!s.scene || records[s.scene]?.type === 'scene') continue;
    const { scene: _, ...alone } = s;
    records[s.id] = alone;
    said.push(`The shot "${s.name}" stands alone: its scene ${s.scene} is not there`);
  }
  for (const c of of('correction')) {
    const type = records[c.owner]?.type;
    if (type !== 'shot' && type !== 'scene')
      drop(c, `its ${c.owner.startsWith('scene') ? 'scene' : 'shot'} ${c.owner} is not there`);
  }
  for (const c of of('correction')) mendLinks(c, records, said);
  for (const c of of('correction')) {
    const lost = (u: OpUse): boolean =>
      u.op === 'lut' && !!u.params['table'] && records[String(u.params['table'])]?.type !== 'table';
    if (!c.adjustments.some(lost)) continue;
    const fixed: CorrectionRecord = {
      ...c,
      adjustments: c.adjustments.map((u) => (lost(u) ? { ...u, params: { ...u.params, table: '' } } : u)),
    };
    records[c.id] = fixed;
    said.push(`A lookup table of "${c.name}" is not there: it does nothing until another one is chosen`);
  }
  if (Object.keys(records).length > 0 && of('project').length === 0) {
    records['project:mended'] = { type: 'project', id: 'project:mended', name: 'Project', skinLineDeg: 123 };
    said.push('The name of the project was not there');
  }
  return said;
}
