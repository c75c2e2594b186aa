/** Project files: `*.rowanleaf.json`. */
import { checkRecords, RecordError } from './check';
import { VersionError, versionOf } from './migrate';
import type { AnyRecord, Records } from './records';
import { PROJECT_FORMAT, PROJECT_VERSION } from './schema';

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
  const file: ProjectFile = {
    format: PROJECT_FORMAT,
    version: PROJECT_VERSION,
    application: 'Rowanleaf',
    records: Object.values(records),
    ...(embedded ? { embedded } : {}),
  };
  return JSON.stringify(file, null, 1) + '\n';
}

/** Throws a ProjectFileError. `said`: what was mended on the way, a sentence each. */
export function parseProject(text: string): { records: Records; embedded: Record<string, string>; said: string[] } {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (e) {
    throw new ProjectFileError(`It is not JSON (${(e as Error).message}). Choose a file that ends in .rowanleaf.json`);
  }
  if (typeof raw !== 'object' || raw === null || (raw as { format?: unknown }).format !== PROJECT_FORMAT)
    throw new ProjectFileError('It is JSON, but no Rowanleaf project. Choose a file that ends in .rowanleaf.json');
  const file = raw as Record<string, unknown>;
  try {
    const version = versionOf(file);
    if (!Array.isArray(file['records']))
      throw new RecordError('The file has no list of records. Use an older copy of it');
    const more = Object.keys(file).find(
      (k) => !['format', 'version', 'application', 'records', 'embedded'].includes(k),
    );
    if (more)
      throw new RecordError(`The file must not hold "${more.slice(0, 80)}". Correct it there or use an older copy`);
    const embedded = (file['embedded'] ?? {}) as Record<string, string>;
    if (typeof embedded !== 'object' || embedded === null || Object.values(embedded).some((v) => typeof v !== 'string'))
      throw new RecordError('The pictures in the file are no text. Use an older copy of it');
    const { records, said } = checkRecords(version, file['records'] as unknown[], 'file');
    return { records, embedded, said };
  } catch (e) {
    if (e instanceof VersionError || e instanceof RecordError) throw new ProjectFileError(e.message);
    throw e;
  }
}
