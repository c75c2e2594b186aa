/** Regions as trees: programs against plain logic, circles, links. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { OpUse, Term } from './plan';
import { newUse } from './plan.defaults';
import { allTerms, circleOf, hasRegion, isLive, linksOf, mapTerms, regionProgram } from './region';

let n = 0;
const use = (on = true): OpUse => newUse(`u${n++}`, 'key', {}, on);
const head = fc.record({ join: fc.constantFrom('and' as const, 'or' as const), not: fc.boolean() });
const { tree } = fc.letrec<{ tree: Term[]; one: Term }>((tie) => ({
  tree: fc.array(tie('one'), { maxLength: 4 }),
  one: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    fc.tuple(head, fc.boolean()).map(([h, on]): Term => ({ id: `t${n++}`, name: 't', ...h, use: use(on) })),
    fc
      .tuple(head, fc.boolean(), fc.boolean())
      .map(([h, outside, on]): Term => ({ id: `t${n++}`, name: 't', ...h, of: `c${n++}`, outside, on })),
    fc
      .tuple(head, fc.boolean(), tie('tree'))
      .map(([h, on, group]): Term => ({ id: `t${n++}`, name: 't', ...h, on, group: group as Term[] })),
  ),
}));
/** What a tree means, by its definition: values by the id of the part. */
function meaning(terms: readonly Term[], value: (id: string) => number): number | null {
  let acc: number | null = null;
  for (const t of terms) {
    const inner = 'group' in t ? (t.on ? meaning(t.group, value) : null) : isLive(t) ? value(t.id) : null;
    if (inner === null) continue;
    const v = ('outside' in t && t.outside) !== t.not ? 1 - inner : inner;
    acc = acc === null ? v : t.join === 'and' ? Math.min(acc, v) : Math.max(acc, v);
  }
  return acc;
}

describe('a region', () => {
  it('as a program means what the tree means', () => {
    let longest = 0;
    fc.assert(
      fc.property(tree, fc.integer(), (terms, seed) => {
        // Halves of 1: exact in any order.
        const of = new Map(allTerms(terms).map((t, i) => [t.id, ((seed + 7 * i) & 7) / 8]));
        const keys: number[] = [];
        const byUse = new Map(allTerms(terms).flatMap((t) => ('use' in t ? [[t.use, of.get(t.id)!] as const] : [])));
        const links = new Map(allTerms(terms).flatMap((t) => ('of' in t ? [[t.of, of.get(t.id)!] as const] : [])));
        const program = regionProgram(
          terms,
          () => ({ opIndex: 0, block: new Float32Array(0), name: '' }),
          (u) => {
            keys.push(byUse.get(u)!);
            return { opIndex: 0, block: new Float32Array(0), name: '', kind: 'key', frame: false };
          },
        );
        longest = Math.max(longest, program.length);
        const stack: number[] = [];
        let k = 0;
        for (const s of program) {
          if (s.do === 'key' || s.do === 'shape') stack.push(keys[k++]!);
          else if (s.do === 'of') stack.push(links.get(s.id)!);
          else if (s.do === 'not') stack.push(1 - stack.pop()!);
          else {
            const [b, a] = [stack.pop()!, stack.pop()!];
            stack.push(s.do === 'and' ? Math.min(a, b) : Math.max(a, b));
          }
        }
        expect(stack.length).toBeLessThanOrEqual(1);
        expect(stack[0] ?? null).toBe(meaning(terms, (id) => of.get(id)!));
        expect(hasRegion({ terms })).toBe(stack.length === 1);
      }),
      { numRuns: 600 },
    );
    expect(longest).toBeGreaterThan(12);
  });

  it('is changed part by part, anywhere; brackets left empty go', () => {
    const a: Term = { id: 'a', join: 'and', not: false, name: 'a', use: use() };
    const g: Term = { id: 'g', join: 'or', not: false, name: 'g', on: true, group: [{ ...a, id: 'b' }] };
    expect(mapTerms([a, g], (t) => (t.id === 'b' ? null : t)).map((t) => t.id)).toEqual(['a']);
    const same = mapTerms([a, g], (t) => t);
    expect(same[1]).toBe(g);
    expect(mapTerms([a, g], (t) => (t.id === 'b' ? { ...t, not: true } : t))[1]).toMatchObject({
      group: [{ not: true }],
    });
  });

  it('finds circles of links, also through brackets and links that are off', () => {
    const c = (id: string, ...to: string[]) => ({
      id,
      terms: to.map((of, i): Term => {
        const l: Term = { id: `${id}${i}`, join: 'and', not: false, name: '', of, outside: false, on: i > 0 };
        return i % 2 ? { id: `${id}g`, join: 'and', not: false, name: '', on: true, group: [l] } : l;
      }),
    });
    const names = (l: { id: string }[] | null): string | undefined => l?.map((x) => x.id).join('');
    expect(circleOf([c('a', 'b'), c('b', 'c'), c('c')])).toBeNull();
    expect(names(circleOf([c('a', 'x', 'b'), c('b', 'c'), c('c', 'x', 'b')]))).toBe('bc');
    expect(names(circleOf([c('a', 'a')]))).toBe('a');
    // Diamonds are none.
    expect(circleOf([c('a', 'b', 'c'), c('b', 'd'), c('c', 'd'), c('d')])).toBeNull();
    expect(linksOf(c('a', 'b', 'c'))).toEqual(['b', 'c']);
  });
});
