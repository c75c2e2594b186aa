/** Project files: `*.rowanleaf.json`. */
import { resolve } from '../core/op/params';
import { opById } from '../core/graph/plan';
import { logFaults } from '../core/color/curves';
import { cubeOf } from './tables';
import { migrateFile, migrateUse, VersionError } from './migrate';
import type { AnyRecord, CorrectionRecord, Records } from './records';
import { PROJECT_FORMAT, PROJECT_VERSION } from './schema';
import { validateProject } from './validators.gen.js';

export interface ProjectFile {
  format: typeof PROJECT_FORMAT;
  version: number;
  application: string;
  records: AnyRecord[];
  embedded?: Record<string, string>;
}

/** The message names the place in the file and the fault. */
export class ProjectFileError extends Error {
  override name = 'ProjectFileError';
}

export function formatProject(records: Records, embedded?: Record<string, string>): string {
  const file: ProjectFile = { format: PROJECT_FORMAT, version: PROJECT_VERSION, application: 'Rowanleaf', records: Object.values(records), ...(embedded ? { embedded } : {}) };
  return JSON.stringify(file, null, 1) + '\n';
}

/** Names the record a schema fault lies in, for people. */
function placeOf(path: string, file: { records?: unknown }): string {
  const m = /^\/records\/(\d+)(.*)$/.exec(path);
  if (!m) return path || 'the file';
  const r = (file.records as { type?: string; name?: string; id?: string }[] | undefined)?.[Number(m[1])];
  return `record ${m[1]}${r ? ` (${r.type ?? 'no type'} "${r.name ?? r.id ?? '?'}")` : ''}${m[2] ? ` at ${m[2]}` : ''}`;
}

/** Throws a ProjectFileError. */
export function parseProject(text: string): { records: Records; embedded: Record<string, string> } {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (e) {
    throw new ProjectFileError(`It is not JSON (${(e as Error).message}). Choose a file that ends in .rowanleaf.json`);
  }
  if (typeof raw !== 'object' || raw === null || (raw as { format?: unknown }).format !== PROJECT_FORMAT)
    throw new ProjectFileError('It is JSON, but no Rowanleaf project. Choose a file that ends in .rowanleaf.json');
  let file: Record<string, unknown>;
  try {
    file = migrateFile(raw as Record<string, unknown>);
  } catch (e) {
    if (e instanceof VersionError) throw new ProjectFileError(e.message);
    throw e;
  }
  if (!validateProject(file)) {
    // The deepest path says most; "if" faults only repeat what their branch says.
    const faults = (validateProject.errors ?? []).filter((x) => x.keyword !== 'if').sort((a, b) => b.instancePath.length - a.instancePath.length);
    const f = faults[0];
    const extra = f?.keyword === 'additionalProperties' ? ` ("${String((f.params as { additionalProperty: string }).additionalProperty)}")` : f?.keyword === 'enum' ? ` (${(f.params as { allowedValues: unknown[] }).allowedValues.join(', ')})` : '';
    throw new ProjectFileError(`${placeOf(f?.instancePath ?? '', file)} ${f?.message ?? 'is not valid'}${extra}${faults.length > 1 ? `, and ${faults.length - 1} more faults` : ''}. Correct it there or use an older copy`);
  }
  const valid = file as unknown as ProjectFile;
  const records: Record<string, AnyRecord> = {};
  for (const r of valid.records) {
    if (records[r.id]) throw new ProjectFileError(`The id ${r.id} stands in the file twice`);
    records[r.id] = r.type === 'correction' ? migrateCorrection(r) : r.type === 'shot' ? { ...r, conversion: migrateUse(r.conversion) } : r;
  }
  for (const r of valid.records) {
    if (r.type === 'table') {
      try {
        cubeOf(r);
      } catch (e) {
        throw new ProjectFileError((e as Error).message);
      }
    }
    const own = r.type === 'encoding' ? r : r.type === 'shot' && typeof r.encoding === 'object' && 'log' in r.encoding ? r.encoding : null;
    if (own && logFaults(own.log)[0]) throw new ProjectFileError(`The encoding "${own.name}": ${logFaults(own.log).join(', ')}`);
    const needs = r.type === 'shot' ? [r.media, ...(typeof r.encoding === 'object' && 'table' in r.encoding ? [r.encoding.table] : [])] : r.type === 'correction' ? [r.shot, ...r.adjustments.filter((u) => u.op === 'lut' && u.params['table']).map((u) => String(u.params['table']))] : r.type === 'patch' || r.type === 'chart' ? [r.shot] : [];
    for (const need of needs) if (!records[need]) throw new ProjectFileError(`${r.type} "${(r as { name?: string }).name ?? r.id}" belongs to ${need}, which is not in the file`);
  }
  return { records, embedded: valid.embedded ?? {} };
}

function migrateCorrection(c: CorrectionRecord): CorrectionRecord {
  const out = { ...c, terms: c.terms.map((t) => ({ ...t, use: migrateUse(t.use) })), tidy: c.tidy.map(migrateUse), adjustments: c.adjustments.map(migrateUse) };
  for (const u of [...out.terms.map((t) => t.use), ...out.tidy, ...out.adjustments]) resolve(opById(u.op).params, u.params);
  return out;
}
