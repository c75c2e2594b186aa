import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ops } from '../core/ops/registry.gen';
import { valueAt } from '../core/op/params';
import { newUse } from '../core/graph/plan.defaults';
import {
  applyDiff,
  bail,
  begin,
  change,
  diffOf,
  emptyHistory,
  end,
  invert,
  isEmpty,
  put,
  redo,
  remove,
  undo,
} from './history';
import { fileMigrations, migrateFile } from './migrate';
import { checkRecords } from './check';
import { formatProject, parseProject, ProjectFileError } from './projectFile';
import type { Term } from '../core/graph/plan';
import { opTerms } from '../core/graph/region';
import { asVersion2 } from '../../testkit/oldForms';
import { correctionsOf, newId, shotsOf } from './records';
import type { AnyRecord, CorrectionRecord, PatchRecord, Records, ShotRecord } from './records';
import { PROJECT_FORMAT, PROJECT_VERSION } from './schema';

const patch = (n: number, name = `P${n}`): PatchRecord => ({
  type: 'patch',
  id: `patch:${n}`,
  shot: 'shot:a',
  name,
  kind: 'skin',
  box: { x: n, y: 0, w: 10, h: 10 },
  order: n,
});
const correction: CorrectionRecord = {
  type: 'correction',
  id: 'corr:1',
  owner: 'shot:a',
  name: 'Face',
  on: true,
  mixPct: {
    keys: [
      { frame: 0, value: 0, ease: 'smooth' },
      { frame: 8, value: 100, ease: 'hold' },
    ],
  },
  order: 1,
  terms: [
    { id: 'k', join: 'and', not: false, name: 'Key 1', use: newUse('k', 'key', { hueFromDeg: 110 }) },
    { id: 'e', join: 'or', not: true, name: 'Ellipse 1', use: newUse('e', 'ellipse') },
  ],
  tidy: [newUse('f', 'feather', { radiusPx: 3 })],
  adjustments: [newUse('w', 'wheels', { gainLevel: 4 })],
};
const link = (of: string): Term => ({
  id: `l-${of}`,
  join: 'and',
  not: false,
  name: 'Link',
  of,
  outside: true,
  on: true,
});
const full: Records = Object.fromEntries(
  (
    [
      { type: 'project', id: 'project:1', name: 'Test', skinLineDeg: 123 },
      {
        type: 'media',
        id: 'media:a',
        kind: 'still',
        fileName: 'a.png',
        format: 'png',
        bits: 8,
        width: 10,
        height: 10,
        frames: 1,
        pixelAspect: [1, 1],
        sha256: 'a'.repeat(64),
        source: { from: 'file' },
      },
      {
        type: 'shot',
        id: 'shot:a',
        name: 'A',
        media: 'media:a',
        encoding: 'srgb',
        encodingGuessed: false,
        conversion: newUse('conversion', 'convert', {}, false),
        range: [0, 0],
        rate: [24, 1],
        timecode: { start: 0, drop: false },
        order: 1,
      },
      correction,
      patch(1),
    ] satisfies AnyRecord[]
  ).map((r) => [r.id, r]),
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
    const arb = fc
      .dictionary(fc.constantFrom('patch:1', 'patch:2', 'patch:3', 'patch:4'), fc.integer({ min: 1, max: 3 }))
      .map(
        (d) =>
          Object.fromEntries(Object.entries(d).map(([id, v]) => [id, { ...patch(v), id } as PatchRecord])) as Records,
      );
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
  const broken = (
    edit: (f: { records: Record<string, unknown>[]; version: number; format: string }) => void,
  ): string => {
    const f = JSON.parse(formatProject(full)) as Parameters<typeof edit>[0];
    edit(f);
    return JSON.stringify(f);
  };
  const corr = (f: {
    records: Record<string, unknown>[];
  }): { on: unknown; adjustments: { params: Record<string, number> }[]; tidy: { op: string }[]; terms: Term[] } =>
    f.records[3] as never;
  it.each<[string, string, RegExp]>([
    ['no JSON', '{', /not JSON/],
    ['another JSON', '{"a":1}', /no Rowanleaf project/],
    ['a later version', broken((f) => (f.version = 99)), /version 99.*newer/],
    ['no version', broken((f) => delete (f as Partial<typeof f>).version), /no version number/],
    ['a wrong type', broken((f) => (corr(f).on = 'yes')), /record 3 \(correction "Face"\) at \/on must be boolean/],
    [
      'a value out of range',
      broken((f) => (corr(f).adjustments[0]!.params['gainLevel'] = 1e9)),
      /record 3 \(correction "Face"\) at \/adjustments\/0\/params\/gainLevel/,
    ],
    ['an unknown parameter', broken((f) => (corr(f).adjustments[0]!.params = { glow: 1 })), /"glow"/],
    ['an unknown operation', broken((f) => (corr(f).tidy[0]!.op = 'magic')), /\/tidy\/0\/op/],
    [
      'an encoding that nobody knows',
      broken((f) => ((f.records[2] as { encoding: unknown }).encoding = 'sepia')),
      /\/encoding must be equal to one of the allowed values/,
    ],
    [
      'a log curve that falls',
      broken(
        (f) =>
          ((f.records[2] as { encoding: unknown }).encoding = {
            name: 'x',
            primaries: 'ap1',
            log: { base: 2, logSideSlope: -1, logSideOffset: 0, linSideSlope: 1, linSideOffset: 0, linSideBreak: null },
          }),
      ),
      /log side slope must be above 0/,
    ],
    [
      'a table cut short',
      broken((f) =>
        f.records.push({
          type: 'table',
          id: 'table:1',
          name: 'T',
          kind: '3d',
          size: 2,
          domainMin: [0, 0, 0],
          domainMax: [1, 1, 1],
          data: 'AAAAAA==',
        }),
      ),
      /holds 1 numbers, its size asks for 24/,
    ],
    [
      'a table that is no base64',
      broken((f) =>
        f.records.push({
          type: 'table',
          id: 'table:1',
          name: 'T',
          kind: '1d',
          size: 2,
          domainMin: [0, 0, 0],
          domainMax: [1, 1, 1],
          data: '????',
        }),
      ),
      /does not belong there/,
    ],
    ['an id twice', broken((f) => f.records.push(f.records[0]!)), /stands in the file twice/],
  ])('refuses %s with the place and the fault', (_, text, why) => {
    expect(() => parseProject(text)).toThrow(ProjectFileError);
    expect(() => parseProject(text)).toThrow(why);
  });
  it('mends what points to nothing, and says so: it opens, and opens again without a word', () => {
    const chart = {
      type: 'chart',
      id: 'chart:1',
      shot: 'shot:z',
      kind: 'chart24',
      corners: [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ],
      steps: 5,
      greyStep: null,
    };
    for (const [edit, said, kinds] of [
      [
        (f) => f.records.splice(2, 1),
        [/patch "P1" is left out/, /correction "Face" is left out: its shot shot:a is not there/],
        ['media', 'project'],
      ],
      [(f) => f.records.splice(1, 1), [/shot "A" is left out: its picture media:a/, /P1/, /Face/], ['project']],
      [(f) => f.records.push(chart), [/chart "chart:1" is left out: its shot shot:z/], null],
      [
        (f) =>
          corr(f).adjustments.push({ id: 'l', op: 'lut', version: 1, on: true, params: { table: 'table:9' } } as never),
        [/lookup table of "Face" is not there/],
        null,
      ],
      [
        (f) => ((f.records[2] as { encoding: unknown }).encoding = { table: 'table:9' }),
        [/shot "A" is taken as sRGB/],
        null,
      ],
      [(f) => f.records.splice(0, 1), [/name of the project/], null],
      [
        (f) => ((f.records[2] as { scene?: string }).scene = 'scene:9'),
        [/shot "A" stands alone: its scene scene:9 is not there/],
        null,
      ],
      [
        (f) => corr(f).terms.push(link('corr:9')),
        [/A link in the region of "Face" is left out: it leads to no correction of the same shot/],
        null,
      ],
      [
        (f) => corr(f).terms.splice(0, 9, link('corr:9')),
        [/link in the region of "Face" is left out.*The correction is off/],
        null,
      ],
      [
        (f) => {
          corr(f).terms.push(link('corr:2'));
          f.records.push({ ...corr(f), id: 'corr:2', name: 'Lips', terms: [link('corr:1')] } as never);
        },
        [/A link in the region of "Face" is left out: it goes in a circle/],
        null,
      ],
    ] as [Parameters<typeof broken>[0], RegExp[], string[] | null][]) {
      const a = parseProject(broken(edit));
      expect(a.said).toHaveLength(said.length);
      said.forEach((w, i) => expect(a.said[i]).toMatch(w));
      if (kinds)
        expect(
          Object.values(a.records)
            .map((r) => r.type)
            .sort(),
        ).toEqual(kinds);
      const b = parseProject(formatProject(a.records));
      expect(b.said).toEqual([]);
      expect(b.records).toEqual(a.records);
    }
  });
  it('the browser store: one bad record is left out and kept aside, the rest opens', () => {
    const list: unknown[] = Object.values(full);
    const bad = { ...correction, id: 'corr:bad', mixPct: 'much' };
    const got = checkRecords(PROJECT_VERSION, [...list, bad, null, { type: 'ghost' }], 'store');
    expect(got.records).toEqual(full);
    expect(got.unread).toEqual([bad, null, { type: 'ghost' }]);
    expect(got.said[0]).toMatch(/correction "Face"\) at \/mixPct/);
    expect(() => checkRecords(PROJECT_VERSION, [...list, bad], 'file')).toThrow(/mixPct/);
  });
  it('old versions are checked by the form they had, before they are migrated', () => {
    const old = (version: number, edit: (r: Record<string, unknown>[]) => void): string => {
      const f = JSON.parse(formatProject(full)) as { version: number; records: Record<string, unknown>[] };
      f.version = version;
      f.records = (f.records as unknown as AnyRecord[]).map(asVersion2);
      edit(f.records);
      return JSON.stringify(f);
    };
    const text = old(0, (r) => {
      delete r[0]!['skinLineDeg'];
      delete r[2]!['conversion'];
      delete r[3]!['mixPct'];
      r[3]!['mix'] = 0.4;
    });
    expect((parseProject(text).records['corr:1'] as CorrectionRecord).mixPct).toBeCloseTo(40, 9);
    // Faults of their own kind, in words; never an error of the machine.
    for (const [version, edit, why] of [
      [0, (r) => (r[3]!['mix'] = 'all'), /mix must be number/],
      [0, (r) => (r[3]!['mix'] = 7), /mix must be <= 1/],
      [1, (r) => (r[3]!['terms'] = null), /terms must be array/],
      [1, (r) => (r[3]!['adjustments'] = [null]), /adjustments\/0 must be object/],
      [0, (r) => (r[1] = null as never), /record 1 must be object/],
      [1, (r) => (r[2]!['name'] = 5), /name must be string/],
    ] as [number, (r: Record<string, unknown>[]) => void, RegExp][])
      expect(() => parseProject(old(version, edit))).toThrow(why);
    expect(() => parseProject(old(1, (r) => (r[2]!['name'] = 5)))).toThrow(ProjectFileError);
    expect(() => parseProject('{"format":"rowanleaf-project","version":1,"records":7}')).toThrow(/no list of records/);
  });
  it('never breaks on damaged text in another way than by its own error', () => {
    const good = formatProject(full);
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: good.length - 1 }),
        fc.integer({ min: 1, max: 60 }),
        fc.string({ maxLength: 6 }),
        (at, n, s) => {
          try {
            parseProject(good.slice(0, at) + s + good.slice(at + n));
          } catch (e) {
            expect(e).toBeInstanceOf(ProjectFileError);
          }
        },
      ),
      { numRuns: 300, seed: 6 },
    );
  });
});

describe('migrations', () => {
  it('has a way from every version, and each was walked here', () => {
    expect(fileMigrations.map((m) => m.from)).toEqual(Array.from({ length: PROJECT_VERSION }, (_, i) => i));
    for (const op of ops)
      expect(op.migrations.map((m) => m.from)).toEqual(Array.from({ length: op.version - 1 }, (_, i) => i + 1));
  });
  it('0 -> 1: mix becomes a percentage and the skin line gets its place', () => {
    const old = {
      format: PROJECT_FORMAT,
      version: 0,
      records: [
        { type: 'project', id: 'project:1', name: 'Old' },
        asVersion2(full['media:a']!),
        asVersion2(full['shot:a']!),
        { ...asVersion2(correction), mixPct: undefined, mix: 0.4 },
      ],
    };
    const text = JSON.stringify(old);
    expect(migrateFile(JSON.parse(text))['version']).toBe(PROJECT_VERSION);
    const { records } = parseProject(text);
    expect(records['project:1']).toMatchObject({ skinLineDeg: 123 });
    expect(correctionsOf(records, 'shot:a')[0]!.mixPct).toBe(40);
  });
});

describe('migrations, once more', () => {
  it('1 -> 2: shots get a conversion that is off, and what they had stays', () => {
    const { conversion: _c, encodingGuessed: _g, ...shot } = asVersion2(full['shot:a']!);
    const { records } = parseProject(
      JSON.stringify({
        format: PROJECT_FORMAT,
        version: 1,
        application: 'Rowanleaf',
        records: [full['project:1'], asVersion2(full['media:a']!), shot, asVersion2(correction)],
      }),
    );
    expect(records['shot:a']).toMatchObject({
      encoding: 'srgb',
      encodingGuessed: false,
      conversion: { op: 'convert', on: false },
    });
    expect(correctionsOf(records, 'shot:a')[0]).toEqual(correction);
  });

  it('2 -> 3: regions become trees, rates fractions, corrections get an owner', () => {
    const list = [full['media:a']!, full['shot:a']!, correction].map(asVersion2);
    const at = (fps: number): ShotRecord =>
      parseProject(
        JSON.stringify({
          format: PROJECT_FORMAT,
          version: 2,
          application: 'Rowanleaf',
          records: [full['project:1'], ...list.map((r) => (r['type'] === 'shot' ? { ...r, fps } : r))],
        }),
      ).records['shot:a'] as ShotRecord;
    // SMPTE ST 428-11 and BT.1700 name these rates; a thousandth is kept of others.
    for (const [fps, rate] of [
      [24, [24, 1]],
      [23.976, [24000, 1001]],
      [24000 / 1001, [24000, 1001]],
      [29.97, [30000, 1001]],
      [59.94, [60000, 1001]],
      [12.5, [12500, 1000]],
      [0.5, [500, 1000]],
    ] as const)
      expect(at(fps).rate).toEqual(rate);
    const { records } = parseProject(
      JSON.stringify({
        format: PROJECT_FORMAT,
        version: 2,
        application: 'Rowanleaf',
        records: [full['project:1'], ...list],
      }),
    );
    const got = correctionsOf(records, 'shot:a')[0]!;
    expect(got).toEqual({ ...correction, terms: opTerms(correction.terms).map((t) => ({ ...t, id: t.use.id })) });
    expect(records['shot:a']).toMatchObject({ timecode: { start: 0, drop: false } });
    expect(records['media:a']).toMatchObject({ pixelAspect: [1, 1] });
  });
});

describe('records', () => {
  it('orders by order, then by id, and makes ids of their own', () => {
    expect(
      shotsOf({
        a: { ...(full['shot:a'] as never as object), id: 'shot:z', order: 2 } as never,
        b: { ...(full['shot:a'] as never as object), id: 'shot:y', order: 2 } as never,
      }).map((s) => s.id),
    ).toEqual(['shot:y', 'shot:z']);
    expect(new Set(Array.from({ length: 500 }, () => newId('corr'))).size).toBe(500);
  });
  it('keyframes hold, rise straight, and ease', () => {
    const v = {
      keys: [
        { frame: 0, value: 0, ease: 'linear' as const },
        { frame: 4, value: 8, ease: 'smooth' as const },
        { frame: 8, value: 0, ease: 'hold' as const },
        { frame: 12, value: 5, ease: 'linear' as const },
      ],
    };
    expect([-1, 0, 2, 4, 6, 8, 11, 12, 99].map((f) => valueAt(v, f))).toEqual([0, 0, 4, 8, 4, 0, 0, 5, 5]);
    expect(() => valueAt({ keys: [] }, 0)).toThrow();
  });
});
