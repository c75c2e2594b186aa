/** Brings project files of older versions up to the current one, step by step, then each operation's parameters. */
import { migrateParams } from '../core/op/contract';
import { opById } from '../core/graph/plan';
import type { OpUse } from '../core/graph/plan';
import { PROJECT_VERSION } from './schema';

type Loose = Record<string, unknown>;
export interface FileMigration {
  from: number;
  up(file: Loose): Loose;
}
/**
 * Version 0 was the first draft of the format, never released: it kept the mix as a share 0..1 under `mix` and had no skin line.
 * It stays as the worked example of a migration and so that the machinery is always exercised.
 */
export const fileMigrations: readonly FileMigration[] = [
  {
    from: 0,
    up: (file) => ({
      ...file,
      version: 1,
      records: ((file['records'] as Loose[] | undefined) ?? []).map((r) => {
        if (r['type'] === 'correction' && 'mix' in r) {
          const { mix, ...rest } = r;
          return { ...rest, mixPct: Number(mix) * 100 };
        }
        return r['type'] === 'project' && !('skinLineDeg' in r) ? { ...r, skinLineDeg: 123 } : r;
      }),
    }),
  },
  {
    // Shots got a conversion; what was there before needs none.
    from: 1,
    up: (file) => ({
      ...file,
      version: 2,
      records: ((file['records'] as Loose[] | undefined) ?? []).map((r) =>
        r['type'] === 'shot' ? { encodingGuessed: false, conversion: { id: 'conversion', op: 'convert', version: 1, on: false, params: {} }, ...r } : r,
      ),
    }),
  },
];

export class VersionError extends Error {
  override name = 'VersionError';
}

export function migrateFile(file: Loose): Loose {
  let f = file;
  const v = f['version'];
  if (typeof v !== 'number' || !Number.isInteger(v) || v < 0) throw new VersionError('The file has no version number: it is no project file, or it is damaged');
  if (v > PROJECT_VERSION) throw new VersionError(`The file has version ${v}, this application reads up to ${PROJECT_VERSION}: open it with a newer one`);
  for (let at = v; at < PROJECT_VERSION; at++) {
    const m = fileMigrations.find((x) => x.from === at);
    if (!m) throw new VersionError(`There is no way from version ${at} of the format`);
    f = m.up(f);
  }
  return f;
}

/** An operation as stored, at its current version. */
export function migrateUse(u: OpUse): OpUse {
  const op = opById(u.op);
  return u.version === op.version ? u : { ...u, version: op.version, params: migrateParams(op, u.version, u.params) };
}
