import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ops } from '../core/ops/registry.gen';
import { valueAt } from '../core/op/params';
import { newUse } from '../core/graph/plan.defaults';
import { applyDiff, bail, begin, change, diffOf, emptyHistory, end, invert, isEmpty, put, redo, remove, undo } from './history';
import { fileMigrations, migrateFile } from './migrate';
import { formatProject, parseProject, ProjectFileError } from './projectFile';
import { correctionsOf, newId, shotsOf } from './records';
import type { AnyRecord, CorrectionRecord, PatchRecord, Records, ShotRecord } from './records';
import { PROJECT_FORMAT, PROJECT_VERSION } from './schema';

const patch = (n: number, name = `P${n}`): PatchRecord => ({ type: 'patch', id: `patch:${n}`, shot: 'shot:a', name, kind: 'skin', box: { x: n, y: 0, w: 10, h: 10 }, order: n });
const correction: CorrectionRecord = {
  type: 'correction', id: 'corr:1', shot: 'shot:a', name: 'Face', on: true, mixPct: { keys: [{ frame: 0, value: 0, ease: 'smooth' }, { frame: 8, value: 100, ease: 'hold' }] }, order: 1,
  terms: [{ join: 'and', not: false, name: 'Key 1', use: newUse('k', 'key', { hueCentreDeg: 120 }) }, { join: 'or', not: true, name: 'Ellipse 1', use: newUse('e', 'ellipse') }],
  tidy: [newUse('f', 'feather', { radiusPx: 3 })], adjustments: [newUse('w', 'wheels', { gainLevel: 4 })],
};
const full: Records = Object.fromEntries(
  ([
    { type: 'project', id: 'project:1', name: 'Test', skinLineDeg: 123 },
    { type: 'media', id: 'media:a', kind: 'still', fileName: 'a.png', format: 'png', bits: 8, width: 10, height: 10, frames: 1, sha256: 'a'.repeat(64), source: { from: 'file' } },
    { type: 'shot', id: 'shot:a', name: 'A', media: 'media:a', encoding: 'srgb', encodingGuessed: false, conversion: newUse('conversion', 'convert', {}, false), range: [0, 0], fps: 24, order: 1 },
    correction, patch(1),
  ] satisfies AnyRecord[]).map((r) => [r.id, r]),
);

describe('history', () => {
  it('makes one step of a gesture of 200 changes, and goes back and forth', () => {
    let h = change(emptyHistory, 'Add', put(patch(1)));
    h = begin(h, 'Drag');
    for (let i = 0; i < 200; i++) h = change(h, 'ignored', put({ ...patch(1), box: { x: i, y: 0, w: 10, h: 10 } }));
    h = end(h);
    expect(h.past.map((d) => d.label)).toEqual(['Add', 'Drag']);
    h = undo(h);
    expect((h.records['patch:1'] as PatchRecord).box.x).toBe(1);
    h = redo(h);
    expect((h.records['patch:1'] as PatchRecord).box.x).toBe(199);
    expect(undo(undo(undo(h))).records).toEqual({});
  });
  it('bails to the mark without a step, and forgets what was undone on a new change', () => {
    let h = change(emptyHistory, 'Add', put(patch(1)));
    h = bail(change(begin(h, 'Drag'), '', remove('patch:1')));
    expect(h.records['patch:1']).toBeDefined();
    expect(h.past).toHaveLength(1);
    h = change(undo(h), 'Other', put(patch(2)));
    expect(h.ahead).toEqual([]);
    expect(redo(h)).toBe(h);
  });
  it('makes no step of nothing', () => {
    const h = change(emptyHistory, 'Add', put(patch(1)));
    expect(change(h, 'Nothing', (r) => ({ ...r })).past).toHaveLength(1);
    expect(end(begin(h, 'Click'))).toMatchObject({ past: h.past, mark: null });
  });
  it('inverts any diff', () => {
    const arb = fc.dictionary(fc.constantFrom('patch:1', 'patch:2', 'patch:3', 'patch:4'), fc.integer({ min: 1, max: 3 })).map((d) => Object.fromEntries(Object.entries(d).map(([id, v]) => [id, { ...patch(v), id } as PatchRecord])) as Records);
    fc.assert(
      fc.property(arb, arb, (a, b) => {
        const d = diffOf('x', a, b);
        expect(applyDiff(a, d)).toEqual(b);
        expect(applyDiff(b, invert(d))).toEqual(a);
        expect(isEmpty(diffOf('x', a, a))).toBe(true);
      }),
      { seed: 5 },
    );
  });
});

describe('project file', () => {
  it('comes back as it went, pictures inside or not', () => {
    expect(parseProject(formatProject(full)).records).toEqual(full);
    expect(parseProject(formatProject(full, { 'media:a': 'AAAA' })).embedded).toEqual({ 'media:a': 'AAAA' });
  });
  const broken = (edit: (f: { records: Record<string, unknown>[]; version: number; format: string }) => void): string => {
    const f = JSON.parse(formatProject(full)) as Parameters<typeof edit>[0];
    edit(f);
    return JSON.stringify(f);
  };
  const corr = (f: { records: Record<string, unknown>[] }): { on: unknown; adjustments: { params: Record<string, number> }[]; tidy: { op: string }[] } => f.records[3] as never;
  it.each<[string, string, RegExp]>([
    ['no JSON', '{', /not JSON/],
    ['another JSON', '{"a":1}', /no Rowanleaf project/],
    ['a later version', broken((f) => (f.version = 99)), /version 99.*newer/],
    ['no version', broken((f) => delete (f as Partial<typeof f>).version), /no version number/],
    ['a wrong type', broken((f) => (corr(f).on = 'yes')), /record 3 \(correction "Face"\) at \/on must be boolean/],
    ['a value out of range', broken((f) => (corr(f).adjustments[0]!.params['gainLevel'] = 1e9)), /record 3 \(correction "Face"\) at \/adjustments\/0\/params\/gainLevel/],
    ['an unknown parameter', broken((f) => (corr(f).adjustments[0]!.params = { glow: 1 })), /"glow"/],
    ['an unknown operation', broken((f) => (corr(f).tidy[0]!.op = 'magic')), /\/tidy\/0\/op/],
    ['a lost shot', broken((f) => f.records.splice(2, 1)), /belongs to shot:a, which is not in the file/],
    ['an encoding that nobody knows', broken((f) => ((f.records[2] as { encoding: unknown }).encoding = 'sepia')), /\/encoding must be equal to one of the allowed values/],
    ['a log curve that falls', broken((f) => ((f.records[2] as { encoding: unknown }).encoding = { name: 'x', primaries: 'ap1', log: { base: 2, logSideSlope: -1, logSideOffset: 0, linSideSlope: 1, linSideOffset: 0, linSideBreak: null } })), /log side slope must be above 0/],
    ['a table cut short', broken((f) => f.records.push({ type: 'table', id: 'table:1', name: 'T', kind: '3d', size: 2, domainMin: [0, 0, 0], domainMax: [1, 1, 1], data: 'AAAAAA==' })), /holds 1 numbers, its size asks for 24/],
    ['a table that is no base64', broken((f) => f.records.push({ type: 'table', id: 'table:1', name: 'T', kind: '1d', size: 2, domainMin: [0, 0, 0], domainMax: [1, 1, 1], data: '????' })), /does not belong there/],
    ['an adjustment whose table is lost', broken((f) => corr(f).adjustments.push({ id: 'l', op: 'lut', version: 1, on: true, params: { table: 'table:9' } } as never)), /belongs to table:9, which is not in the file/],
    ['a chart of a lost shot', broken((f) => f.records.push({ type: 'chart', id: 'chart:1', shot: 'shot:z', kind: 'chart24', corners: [[0, 0], [1, 0], [1, 1], [0, 1]], steps: 5, greyStep: null })), /belongs to shot:z/],
    ['an id twice', broken((f) => f.records.push(f.records[0]!)), /stands in the file twice/],
  ])('refuses %s with the place and the fault', (_, text, why) => {
    expect(() => parseProject(text)).toThrow(ProjectFileError);
    expect(() => parseProject(text)).toThrow(why);
  });
  it('never breaks on damaged text in another way than by its own error', () => {
    const good = formatProject(full);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: good.length - 1 }), fc.integer({ min: 1, max: 60 }), fc.string({ maxLength: 6 }), (at, n, s) => {
        try {
          parseProject(good.slice(0, at) + s + good.slice(at + n));
        } catch (e) {
          expect(e).toBeInstanceOf(ProjectFileError);
        }
      }),
      { numRuns: 300, seed: 6 },
    );
  });
});

describe('migrations', () => {
  it('has a way from every version, and each was walked here', () => {
    expect(fileMigrations.map((m) => m.from)).toEqual(Array.from({ length: PROJECT_VERSION }, (_, i) => i));
    for (const op of ops) expect(op.migrations.map((m) => m.from)).toEqual(Array.from({ length: op.version - 1 }, (_, i) => i + 1));
  });
  it('0 -> 1: mix becomes a percentage and the skin line gets its place', () => {
    const old = { format: PROJECT_FORMAT, version: 0, records: [{ type: 'project', id: 'project:1', name: 'Old' }, full['media:a'], full['shot:a'], { ...correction, mixPct: undefined, mix: 0.4 }] };
    const text = JSON.stringify(old);
    expect(migrateFile(JSON.parse(text))['version']).toBe(2);
    const { records } = parseProject(text);
    expect(records['project:1']).toMatchObject({ skinLineDeg: 123 });
    expect(correctionsOf(records, 'shot:a')[0]!.mixPct).toBe(40);
  });
});

describe('migrations, once more', () => {
  it('1 -> 2: shots get a conversion that is off, and what they had stays', () => {
    const { conversion: _c, encodingGuessed: _g, ...shot } = full['shot:a'] as ShotRecord;
    const { records } = parseProject(JSON.stringify({ format: PROJECT_FORMAT, version: 1, application: 'Rowanleaf', records: [full['project:1'], full['media:a'], shot, correction] }));
    expect(records['shot:a']).toMatchObject({ encoding: 'srgb', encodingGuessed: false, conversion: { op: 'convert', on: false } });
    expect(correctionsOf(records, 'shot:a')[0]).toEqual(correction);
  });
});

describe('records', () => {
  it('orders by order, then by id, and makes ids of their own', () => {
    expect(shotsOf({ a: { ...(full['shot:a'] as never as object), id: 'shot:z', order: 2 } as never, b: { ...(full['shot:a'] as never as object), id: 'shot:y', order: 2 } as never }).map((s) => s.id)).toEqual(['shot:y', 'shot:z']);
    expect(new Set(Array.from({ length: 500 }, () => newId('corr'))).size).toBe(500);
  });
  it('keyframes hold, rise straight, and ease', () => {
    const v = { keys: [{ frame: 0, value: 0, ease: 'linear' as const }, { frame: 4, value: 8, ease: 'smooth' as const }, { frame: 8, value: 0, ease: 'hold' as const }, { frame: 12, value: 5, ease: 'linear' as const }] };
    expect([-1, 0, 2, 4, 6, 8, 11, 12, 99].map((f) => valueAt(v, f))).toEqual([0, 0, 4, 8, 4, 0, 0, 5, 5]);
    expect(() => valueAt({ keys: [] }, 0)).toThrow();
  });
});
