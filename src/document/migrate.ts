/** Brings records of older versions of the format up to the current one, step by step. */
import { PROJECT_VERSION } from './schema';

type Loose = Record<string, unknown>;
export interface FileMigration {
  from: number;
  up(file: Loose): Loose;
}
/**
 * Version 0 was the first draft of the format, never released: it kept the mix as a share 0..1 under `mix` and had no
 * skin line.
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
        r['type'] === 'shot'
          ? {
              encodingGuessed: false,
              conversion: { id: 'conversion', op: 'convert', version: 1, on: false, params: {} },
              ...r,
            }
          : r,
      ),
    }),
  },
  {
    // Regions became trees, corrections belong to a shot or a scene, rates are fractions.
    from: 2,
    up: (file) => ({
      ...file,
      version: 3,
      records: ((file['records'] as Loose[] | undefined) ?? []).map((r) => {
        if (r['type'] === 'media') return { ...r, pixelAspect: [1, 1] };
        if (r['type'] === 'shot') {
          const { fps, ...rest } = r;
          return { ...rest, rate: rateOf(Number(fps)), timecode: { start: 0, drop: false } };
        }
        if (r['type'] !== 'correction') return r;
        const { shot, terms, ...rest } = r;
        return {
          ...rest,
          owner: shot,
          terms: (terms as { use: { id: string } }[]).map((t) => ({ id: t.use.id, ...t })),
        };
      }),
    }),
  },
  // Clips and sequences came; what was there before is a still.
  { from: 3, up: (file) => ({ ...file, version: 4 }) },
];

/** Rates that were written as decimals: those of video in steps of 1000/1001, others to a thousandth. */
export function rateOf(fps: number): [number, number] {
  const whole = Math.round(fps);
  if (whole >= 1 && Math.abs(fps - whole) < 1e-9) return [whole, 1];
  const up = Math.ceil(fps);
  if (Math.abs(fps - (up * 1000) / 1001) < 0.002) return [up * 1000, 1001];
  return [Math.max(1, Math.round(fps * 1000)), 1000];
}

export class VersionError extends Error {
  override name = 'VersionError';
}

/** Throws a VersionError. */
export function versionOf(file: Loose): number {
  const v = file['version'];
  if (typeof v !== 'number' || !Number.isInteger(v) || v < 0)
    throw new VersionError('The file has no version number: it is no project file, or it is damaged');
  if (v > PROJECT_VERSION)
    throw new VersionError(
      `The file has version ${v}, this application reads up to ${PROJECT_VERSION}: open it with a newer one`,
    );
  return v;
}
export function migrateFile(file: Loose): Loose {
  let f = file;
  for (let at = versionOf(file); at < PROJECT_VERSION; at++) {
    const m = fileMigrations.find((x) => x.from === at);
    if (!m) throw new VersionError(`There is no way from version ${at} of the format`);
    f = m.up(f);
  }
  return f;
}
