// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { newUse } from '../core/graph/plan.defaults';
import type { OpUse } from '../core/graph/plan';
import { ownCorrectionsOf } from '../document/records';
import type { AnyRecord } from '../document/records';
import * as act from './actions';
import { useNotices } from './notices';
import {
  addContrast,
  addReady,
  applyRecipe,
  CONTRAST,
  keepRecipe,
  keptRecipes,
  openRecipe,
  ready,
  removeRecipe,
} from './recipes';
import { recipeTable } from './recipeStore';
import * as region from './region';
import { useDoc, useSession } from './store';
import { shotRecord, stillRecord } from '../../testkit/records';

type Asked = 'sides' | 'recolour' | 'skinPress' | 'helper';
const answers: Record<Asked, unknown> & { asked: string[]; given: unknown[]; meanwhile?: () => void } = {
  asked: [],
  given: [],
  sides: null,
  recolour: null,
  skinPress: null,
  helper: null,
};
vi.mock('./engine', () => ({
  engine: () => ({
    request: (name: Asked, input: { shot: { corrections: { id: string }[] }; correction: string }) => {
      // What is asked about is in the state that is asked.
      expect(input.shot.corrections.map((c) => c.id)).toContain(input.correction);
      answers.asked.push(name);
      answers.given.push(input);
      answers.meanwhile?.();
      const a = answers[name];
      return Promise.resolve(typeof a === 'function' ? (a as (q: typeof input) => unknown)(input) : a);
    },
  }),
}));
const records = () => useDoc.getState().records;
const own = (id: string) => ownCorrectionsOf(records(), `shot:${id}`);
const told = (): string =>
  useNotices
    .getState()
    .list.map((n) => n.text)
    .join(' ');

beforeEach(async () => {
  await recipeTable().clear();
  const list: AnyRecord[] = [stillRecord('a', 1600), stillRecord('b', 800), shotRecord('a', 1), shotRecord('b', 2)];
  useDoc.getState().load(Object.fromEntries(list.map((r) => [r.id, r])));
});

describe('recipes', () => {
  it('what comes ready is an ordinary correction, for the size of the picture, one undo each', () => {
    for (const { name, make } of ready) {
      if (!make) continue;
      const before = records();
      addReady('shot:b', name);
      const c = own('b').at(-1)!;
      expect(c.name).toBe(name);
      expect(useSession.getState().correction).toBe(c.id);
      expect(c.adjustments.length).toBeGreaterThan(0);
      useDoc.getState().undo();
      expect(records()).toEqual(before);
    }
    addReady('shot:b', 'Vignette');
    const [t] = own('b')[0]!.terms;
    expect(t).toMatchObject({ not: true, use: { op: 'ellipse', params: { cxPx: 400, cyPx: 225 } } });
    addReady('shot:b', 'Vignette');
    expect(own('b').map((c) => c.name)).toEqual(['Vignette', 'Vignette 1']);
  });
  it('what needs a press begins its tool and says what to press on; without one nothing is added', () => {
    const before = records();
    addReady('shot:b', 'Skin to the line');
    expect(records()).toEqual(before);
    expect(useSession.getState()).toMatchObject({ tool: 'skinPress' });
    expect(told()).toMatch(/skin of a person/);
    for (const name of ['Calmer wall', 'Recolour']) {
      useSession.getState().set({ tool: 'none' });
      addReady('shot:b', name);
      const c = own('b').at(-1)!;
      expect(c.terms).toMatchObject([{ use: { op: 'key' } }]);
      expect(useSession.getState()).toMatchObject({ tool: 'key', sampling: 'again', term: c.terms[0]!.id });
    }
  });
  it('contrast pushes the outside across from the hue that is inside; what has none is said', async () => {
    await addContrast('shot:a');
    expect(told()).toMatch(/Choose one that has a region/);
    const c = act.addCorrection('shot:a');
    region.addTerm(c.id, 'ellipse', { cxPx: 800, cyPx: 450, rxPx: 100, ryPx: 80 });
    // BT.709: Y' 0.47782, Cb (0.3 - Y') / 1.8556, Cr (0.8 - Y') / 1.5748: 115.1 degrees, and -64.9 across.
    answers.sides = { after: { inside: [0.8, 0.4, 0.3], outside: [0.4, 0.4, 0.4] } };
    addReady('shot:a', CONTRAST);
    await vi.waitFor(() => expect(own('a')).toHaveLength(2), { timeout: 20_000 });
    const made = own('a').at(-1)!;
    expect(act.companionOf(made)).toBe(c.id);
    const push = made.adjustments.find((u) => u.op === 'balance')!.params as { cbPct: number; crPct: number };
    expect((Math.atan2(push.crPct, push.cbPct) * 180) / Math.PI).toBeCloseTo(-64.9, 0);
    expect(Math.hypot(push.cbPct, push.crPct)).toBeCloseTo(4, 1);
    await addContrast('shot:a');
    expect(told()).toMatch(/is an outside itself/);
    useSession.getState().set({ correction: c.id });
    await addContrast('shot:a');
    expect(told()).toMatch(/has a correction already/);
    expect(own('a')).toHaveLength(2);
    useDoc.getState().undo();
    expect(own('a')).toHaveLength(1);
    useSession.getState().set({ correction: c.id });
    answers.sides = { after: { inside: [0.4, 0.4, 0.4], outside: [0.5, 0.4, 0.4] } };
    await addContrast('shot:a');
    expect(own('a').at(-1)!.adjustments[0]!.params).toEqual({});
    expect(told()).toMatch(/nearly grey/);
  });
  it('a recolour is solved again where it is added, in the same undo; keys and an empty region are said', async () => {
    const c = act.addCorrection('shot:a');
    act.addAdjustment(c.id, 'recolour', { from: [0.6, 0.1, 0], to: [0.5, 0, 0.1], trim: [0.01, 0, 0] });
    await keepRecipe(c.id);
    const [kept] = await keptRecipes();
    answers.asked = [];
    answers.recolour = { params: { from: [0.4, 0.05, 0.02], to: [0.5, 0, 0.1], trim: [0, 0, 0] } };
    const before = records();
    await applyRecipe('shot:b', kept!.text);
    expect(answers.asked).toEqual(['recolour']);
    const recolour = (): unknown =>
      own('b')
        .at(-1)!
        .adjustments.find((u) => u.op === 'recolour')!.params;
    expect(recolour()).toMatchObject({ from: [0.4, 0.05, 0.02], to: [0.5, 0, 0.1], trim: [0, 0, 0] });
    expect(told()).toMatch(/solved again/);
    useDoc.getState().undo();
    expect(records()).toEqual(before);
    // What is done while it is solved stays, and so does the recipe.
    answers.meanwhile = () => void act.addCorrection('shot:b');
    await applyRecipe('shot:b', kept!.text);
    delete answers.meanwhile;
    expect(own('b')).toHaveLength(2);
    expect(recolour()).toMatchObject({ from: [0.4, 0.05, 0.02] });
    useDoc.getState().undo();
    useDoc.getState().undo();
    answers.recolour = { params: null };
    await applyRecipe('shot:b', kept!.text);
    expect(recolour()).toMatchObject({ from: [0.6, 0.1, 0], trim: [0.01, 0, 0] });
    expect(told()).toMatch(/holds nothing here/);
  });
  it('a push to the line and a balance of neutral patches are solved again; what a hand has set stays', async () => {
    type Spec = { corrections: { id: string; adjustments: { id: string; op: string; params: object }[] }[] };
    const usesOf = (q: { shot: Spec; correction: string }) =>
      q.shot.corrections.find((c) => c.id === q.correction)!.adjustments;
    const read = (offLineDeg: number) => ({ offLineDeg });
    answers.skinPress = (q: { shot: Spec; correction: string }) => ({
      before: read(12),
      after: read(0.1),
      fault: null,
      solved: {
        // Solved from nothing: what is kept must not be in the state that is asked.
        adjustments: usesOf(q).map((u) => (u.op === 'balance' ? { ...u, params: { ...u.params, crPct: 7 } } : u)),
      },
    });
    answers.helper = (q: { shot: Spec; correction: string }) => ({
      before: 9,
      after: 0.4,
      unit: 'CIEDE2000',
      adjustments: usesOf(q).map((u) => ({ ...u, params: { ...u.params, mired: 42 } })),
    });
    const keepAs = async (name: string, adjustments: OpUse[], round = true): Promise<string> => {
      const c = act.addCorrection('shot:a');
      if (round) region.addTerm(c.id, 'ellipse', { cxPx: 800, cyPx: 450, rxPx: 100, ryPx: 80 });
      act.editCorrection(c.id, 'Set', (x) => ({ ...x, name, adjustments }));
      await keepRecipe(c.id);
      return (await keptRecipes()).find((r) => r.name === name)!.text;
    };
    const solvedFor = (solved: OpUse['solved'], u: OpUse): OpUse => ({ ...u, solved: solved! });
    const skin = await keepAs('Skin', [
      solvedFor('line', newUse('b', 'balance', { cbPct: 3, crPct: 4 })),
      newUse('t', 'hueTurn', { angleDeg: 5 }),
    ]);
    answers.given = [];
    const before = records();
    await applyRecipe('shot:b', skin);
    const [asked] = answers.given as { shot: Spec; correction: string }[];
    expect(usesOf(asked!).map((u) => u.params)).toEqual([{ cbPct: 0, crPct: 0 }, { angleDeg: 5 }]);
    const [b, t] = own('b').at(-1)!.adjustments;
    expect([b!.params, t!.params]).toEqual([{ cbPct: 0, crPct: 7 }, { angleDeg: 5 }]);
    expect(told()).toMatch(/solved again: what its region holds read \+12\.0°, now \+0\.1°/);
    useDoc.getState().undo();
    expect(records()).toEqual(before);

    // A hand that changes a value takes it over: it is no solution any more.
    await applyRecipe('shot:b', skin);
    const made = own('b').at(-1)!;
    act.setParams(made.id, made.adjustments[0]!.id, { cbPct: 1 });
    expect(own('b').at(-1)!.adjustments[0]).not.toHaveProperty('solved');

    const grey = await keepAs('Grey', [solvedFor('neutral', newUse('k', 'temperature', { mired: 30 }))], false);
    await applyRecipe('shot:b', grey);
    expect(told()).toMatch(/no patch of black, grey or white here/);
    expect(own('b').at(-1)!.adjustments[0]!.params).toMatchObject({ mired: 30 });
    const p = act.addPatch('shot:b', { x: 10, y: 10, w: 20, h: 20 });
    act.editPatch(p.id, 'Kind', { kind: 'grey' });
    await applyRecipe('shot:b', grey);
    expect(own('b').at(-1)!.adjustments[0]!.params).toMatchObject({ mired: 42 });
    expect(told()).toMatch(/is solved again: 9\.0 CIEDE2000 before, 0\.4 after/);
  });
  it('one is kept with what its links led to, and told anew for another size; one undo takes it back', async () => {
    const first = act.addCorrection('shot:a');
    region.addTerm(first.id, 'ellipse', { cxPx: 800, cyPx: 450, rxPx: 100, ryPx: 80 });
    const c = act.addCorrection('shot:a');
    region.addLink(c.id, first.id, true);
    act.setParams(c.id, c.adjustments[0]!.id, { angleDeg: 12 });
    act.editCorrection(c.id, 'Rename', (x) => ({ ...x, name: 'Face' }));
    await keepRecipe(c.id);
    await keepRecipe(c.id);
    const rows = await keptRecipes();
    expect(rows.map((r) => r.name)).toEqual(['Face', 'Face 1']);
    const before = records();
    await applyRecipe('shot:b', rows[0]!.text);
    const [made] = own('b');
    expect(made!.name).toBe('Face');
    expect(made!.adjustments[0]!.params).toMatchObject({ angleDeg: 12 });
    expect(JSON.stringify(made!.terms)).toContain('"cxPx":400');
    // Nothing of the recipe's own frame stays behind in the project.
    const more = Object.keys(records()).filter((id) => !before[id]);
    expect(more).toEqual([made!.id]);
    useDoc.getState().undo();
    expect(records()).toEqual(before);
    await removeRecipe('Face');
    expect((await keptRecipes()).map((r) => r.name)).toEqual(['Face 1']);
  });
  it('a file comes back; what is no recipe is told with what to do', async () => {
    const c = act.addCorrection('shot:a');
    await keepRecipe(c.id);
    const [row] = await keptRecipes();
    await openRecipe(new File([row!.text], 'x.recipe.rowanleaf.json'));
    expect((await keptRecipes()).map((r) => r.name)).toEqual(['Correction 1', 'Correction 1 1']);
    for (const [text, why] of [
      ['{', /It is not JSON/],
      ['{"format":"other"}', /no Rowanleaf project/],
      [row!.text.replace('"correction"', '"corruption"'), /was not read/],
    ] as const) {
      useNotices.setState({ list: [] });
      await openRecipe(new File([text], 'x.json'));
      expect(told()).toMatch(why);
    }
    expect(await keptRecipes()).toHaveLength(2);
  });
});
