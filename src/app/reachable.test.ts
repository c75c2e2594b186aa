// @vitest-environment happy-dom
/** Whatever a person can do: the project file of it opens again as the same project, without a word. */
import { isAdjustment } from '../core/op/contract';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ops } from '../core/ops/registry.gen';
import { newUse } from '../core/graph/plan.defaults';
import type { NumSpec } from '../core/op/params';
import { put } from '../document/history';
import { formatProject, parseProject } from '../document/projectFile';
import { chartOf, correctionsOf, patchesOf, scenesOf, shotsOf, specsOf } from '../document/records';
import type { AnyRecord, ShotRecord } from '../document/records';
import { LIMITS } from '../document/schema';
import { tableRecord } from '../document/tables';
import { compile } from '../core/graph/plan';
import { allTerms, opTerms } from '../core/graph/region';
import * as act from './actions';
import * as region from './region';
import { setOwner, setScene } from './scenes';
import { useDoc, useSession } from './store';

const shot: ShotRecord = {
  type: 'shot',
  id: 'shot:a',
  name: 'A',
  media: 'media:a',
  encoding: 'srgb',
  encodingGuessed: true,
  conversion: newUse('conversion', 'convert', {}, false),
  range: [0, 0],
  rate: [24, 1],
  timecode: { start: 0, drop: false },
  order: 1,
};
const base: AnyRecord[] = [
  { type: 'project', id: 'project:1', name: 'Test', skinLineDeg: 123 },
  {
    type: 'media',
    id: 'media:a',
    kind: 'still',
    fileName: 'a.png',
    format: 'png',
    bits: 8,
    width: 100,
    height: 80,
    frames: 1,
    pixelAspect: [1, 1],
    sha256: 'b'.repeat(64),
    source: { from: 'file' },
  },
  shot,
];
const doc = () => useDoc.getState();
const pick = <T>(list: readonly T[], n: number): T | undefined => list[n % Math.max(1, list.length)];
const adjustments = ops.filter(isAdjustment).map((o) => o.id);

type Do = { what: number; n: number; k: number; text: string };
const steps: ((d: Do) => void)[] = [
  () => void act.addCorrection('shot:a'),
  () => void act.addBase('shot:a'),
  (d) => act.duplicateCorrection(pick(correctionsOf(doc().records, 'shot:a'), d.n)?.id ?? ''),
  (d) => act.removeCorrection(pick(correctionsOf(doc().records, 'shot:a'), d.n)?.id ?? ''),
  (d) => act.moveCorrection(pick(correctionsOf(doc().records, 'shot:a'), d.n)?.id ?? '', d.k % 5),
  (d) =>
    void region.addTerm(pick(correctionsOf(doc().records, 'shot:a'), d.n)?.id ?? '', d.k % 2 ? 'key' : 'ellipse', {}),
  (d) => act.addAdjustment(pick(correctionsOf(doc().records, 'shot:a'), d.n)?.id ?? '', pick(adjustments, d.k)!),
  (d) => {
    // Any number of any operation, over its whole hard range.
    const c = pick(correctionsOf(doc().records, 'shot:a'), d.n);
    const u = c && pick([...c.adjustments, ...c.tidy, ...opTerms(c.terms).map((t) => t.use)], d.k);
    const op = u && ops.find((o) => o.id === u.op)!;
    const p =
      op && pick(Object.entries(op.params).filter(([, s]) => s.kind === 'num') as [string, NumSpec][], d.k >> 3);
    if (c && u && p) act.setParams(c.id, u.id, { [p[0]]: p[1].min + ((d.k % 101) / 100) * (p[1].max - p[1].min) });
  },
  (d) => void act.addPatch('shot:a', { x: d.n, y: d.k, w: 1 + d.n, h: 2 }),
  (d) => {
    const p = pick(patchesOf(doc().records, 'shot:a'), d.n);
    if (p)
      act.editPatch(p.id, 'x', {
        name: d.text || 'x',
        points: [
          [0, 0],
          [d.n, 1],
          [3, d.k],
        ],
      });
  },
  (d) =>
    act.placeChart('shot:a', [
      [0, 0],
      [d.n + 2, 0],
      [d.n + 2, 9],
      [0, 9],
    ]),
  (d) => act.renameShot('shot:a', d.text || 'B'),
  (d) => act.setEncoding('shot:a', pick(['srgb', 'acescct', 'hlg', 'linearP3'] as const, d.n)!),
  (d) => act.setConversion('shot:a', { whiteStops: 1 + (d.n % 6) }),
  (d) => {
    const size = 2 + (d.n % 4);
    const table = tableRecord(d.text.slice(0, LIMITS.name) || 'T', {
      kind: '3d',
      title: d.text,
      size,
      domainMin: [0, 0, 0],
      domainMax: [1, 1, 1],
      data: new Float32Array(3 * size ** 3).fill(d.k / 7),
    });
    doc().change('Table', put(table));
    const c = pick(correctionsOf(doc().records, 'shot:a'), d.n);
    if (c) {
      act.addAdjustment(c.id, 'lut');
      const u = correctionsOf(doc().records, 'shot:a')
        .find((x) => x.id === c.id)!
        .adjustments.findLast((x) => x.op === 'lut');
      if (u) act.setParams(c.id, u.id, { table: table.id });
    }
  },
  (d) => {
    const c = pick(correctionsOf(doc().records, 'shot:a'), d.n);
    if (!c) return;
    act.copyCorrection(c.id);
    act.pasteCorrection('shot:a');
  },
  (d) => {
    const c = pick(correctionsOf(doc().records, 'shot:a'), d.n);
    const to = c && pick(region.linkable(doc().records, c), d.k);
    if (c && to) region.addLink(c.id, to.id, d.k % 2 === 0);
  },
  (d) => {
    const c = pick(correctionsOf(doc().records, 'shot:a'), d.n);
    const t = c && pick(allTerms(c.terms), d.k);
    if (!c || !t) return;
    const f = [
      () => region.bracketTerm(c.id, t.id),
      () => region.bracketTerm(c.id, t.id),
      () => region.unbracketTerm(c.id, t.id),
      () => region.moveTerm(c.id, t.id, (d.n % 3) - 1),
      () => region.removeTerm(c.id, t.id),
      () => region.setTermOn(c.id, t.id, d.n % 2 === 0),
      () => region.editTerm(c.id, t.id, { join: 'or', not: d.n % 2 === 0 }),
      () => region.editTerm(c.id, t.id, 'use' in t && t.use.op === 'key' ? { reads: 'base' } : {}),
    ];
    pick(f, d.k >> 2)!();
  },
  (d) => act.setStart(pick(correctionsOf(doc().records, 'shot:a'), d.n)?.id ?? '', d.k % 3 ? 'beside' : 'after'),
  (d) => act.setSide(pick(correctionsOf(doc().records, 'shot:a'), d.n)?.id ?? '', d.k % 2 ? 'camera' : 'display'),
  (d) => setScene('shot:a', d.k % 4 ? (scenesOf(doc().records)[0]?.id ?? 'new') : null),
  (d) => setOwner(pick(correctionsOf(doc().records, 'shot:a'), d.n)?.id ?? '', 'shot:a', d.k % 3 ? 'scene' : 'shot'),
  () => doc().undo(),
  () => doc().redo(),
];

describe('any reachable project', () => {
  it('-> file -> the same project', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            what: fc.nat(steps.length - 1),
            n: fc.nat(40),
            k: fc.nat(400),
            text: fc.string({ maxLength: 60, unit: 'grapheme' }),
          }),
          { maxLength: 60 },
        ),
        (list) => {
          useDoc.setState({ role: 'writer' });
          doc().load(Object.fromEntries(base.map((r) => [r.id, r])));
          for (const d of list) {
            steps[d.what]!(d);
            // What belongs to whom is known from the change alone as if everything had been looked at.
            const [now, copy] = [doc().records, { ...doc().records }];
            expect(correctionsOf(now, 'shot:a')).toEqual(correctionsOf(copy, 'shot:a'));
            expect(patchesOf(now, 'shot:a')).toEqual(patchesOf(copy, 'shot:a'));
            expect(scenesOf(now)).toEqual(scenesOf(copy));
            expect(shotsOf(now)).toEqual(shotsOf(copy));
            expect(chartOf(now, 'shot:a')).toEqual(chartOf(copy, 'shot:a'));
          }
          // What can be reached can be computed.
          compile(
            specsOf(doc().records, doc().records['shot:a'] as ShotRecord),
            0,
            1,
            { encoding: 'srgb' },
            () => null,
          );
          const back = parseProject(formatProject(doc().records));
          expect(back.said).toEqual([]);
          expect(back.records).toEqual(doc().records);
        },
      ),
      { numRuns: 220, seed: 21 },
    );
  });
  it('at its limits: 64 parts, 64 adjustments, the longest name, the largest table', () => {
    useDoc.setState({ role: 'writer' });
    doc().load(Object.fromEntries(base.map((r) => [r.id, r])));
    const c = act.addCorrection('shot:a');
    for (let i = 0; i < 80; i++) {
      region.addTerm(c.id, 'ellipse', {});
      act.addAdjustment(c.id, 'saturation');
    }
    const got = correctionsOf(doc().records, 'shot:a')[0]!;
    expect([got.terms.length, got.adjustments.length]).toEqual([LIMITS.terms, LIMITS.adjustments]);
    useSession.getState().set({ correction: c.id });
    const size = LIMITS.tableSide;
    doc().change(
      'Table',
      put(
        tableRecord('\u{1F35E}'.repeat(200), {
          kind: '3d',
          title: '',
          size,
          domainMin: [0, 0, 0],
          domainMax: [1, 1, 1],
          data: new Float32Array(3 * size ** 3).fill(0.25),
        }),
      ),
    );
    const back = parseProject(formatProject(doc().records));
    expect(back.said).toEqual([]);
    expect(Object.keys(back.records)).toEqual(Object.keys(doc().records));
  });
});
