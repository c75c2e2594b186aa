// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { ownCorrectionsOf } from '../document/records';
import type { AnyRecord } from '../document/records';
import * as act from './actions';
import { useNotices } from './notices';
import { addReady, applyRecipe, keepRecipe, keptRecipes, openRecipe, ready, removeRecipe } from './recipes';
import { recipeTable } from './recipeStore';
import * as region from './region';
import { useDoc, useSession } from './store';
import { shotRecord, stillRecord } from '../../testkit/records';

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
    for (const { name } of ready) {
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
