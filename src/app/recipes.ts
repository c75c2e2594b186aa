/** Recipes: corrections that come ready, and those that a person keeps; every value of them can be changed. */
import { newUse } from '../core/graph/plan.defaults';
import { isOp, mapTerms, mattesOf } from '../core/graph/region';
import { put } from '../document/history';
import { formatRecipe, parseRecipe } from '../document/recipe';
import { mediaOf, newId, ownCorrectionsOf, recordOf } from '../document/records';
import type { CorrectionRecord, Records, ShotId } from '../document/records';
import { LIMITS } from '../document/schema';
import { standingTidy } from './actions';
import { carried } from './carry';
import { sizeOf } from './copyPart';
import { correction, freeName, useId } from './edit';
import { download, fileStem } from './files';
import { guard, sayNews } from './notices';
import { recipeTable } from './recipeStore';
import type { RecipeRow } from './recipeStore';
import { withoutLinks } from './region';
import { useDoc, useSession } from './store';

type Parts = Pick<CorrectionRecord, 'terms' | 'adjustments'>;
interface Recipe {
  name: string;
  tip: string;
  /** For a picture of w by h pixels. */
  make(w: number, h: number): Parts;
}
export const ready: readonly Recipe[] = [
  {
    name: 'Vignette',
    tip: 'The borders of the picture darker, by exposure outside a wide soft ellipse',
    make: (w, h) => ({
      terms: [
        {
          id: useId(),
          join: 'and',
          not: true,
          name: 'Ellipse 1',
          use: newUse(useId(), 'ellipse', {
            cxPx: w / 2,
            cyPx: h / 2,
            rxPx: 0.54 * w,
            ryPx: 0.54 * h,
            softInPx: Math.round(0.3 * h),
            softOutPx: Math.round(0.22 * h),
          }),
        },
      ],
      adjustments: [newUse(useId(), 'exposure', { stops: -0.7 }), newUse(useId(), 'saturation')],
    }),
  },
  {
    name: 'Split tone',
    tip: 'The dark end a little towards blue, the bright end towards warm, by lift and gain',
    make: () => ({
      terms: [],
      adjustments: [
        newUse(useId(), 'wheels', { liftCb: 4, liftCr: -2, gainCb: -5, gainCr: 2 }),
        newUse(useId(), 'saturation'),
      ],
    }),
  },
];

async function freeRecipeName(name: string): Promise<string> {
  // Nor that of one that comes ready: both stand in one list.
  const taken = [...ready.map((r) => r.name), ...((await recipeTable().toCollection().primaryKeys()) as string[])];
  return taken.includes(name) ? freeName(name.slice(0, LIMITS.name - 5), taken) : name;
}
/** Adds one that comes ready behind what is there, and chooses it. */
export function addReady(shot: ShotId, name: string): void {
  const { records, change } = useDoc.getState();
  const to = recordOf(records, shot, 'shot');
  const media = to && mediaOf(records, to);
  const recipe = ready.find((r) => r.name === name);
  if (!media || !recipe) return;
  const list = ownCorrectionsOf(records, shot);
  const names = list.map((x) => x.name);
  const c: CorrectionRecord = {
    type: 'correction',
    id: newId('corr'),
    owner: shot,
    name: names.includes(name) ? freeName(name, names) : name,
    on: true,
    mixPct: 100,
    order: (list.at(-1)?.order ?? 0) + 1,
    tidy: standingTidy(),
    ...recipe.make(media.width, media.height),
  };
  change(`Add ${name}`, put(c));
  useSession.getState().set({ correction: c.id, step: 'correct', term: null, conversionOpen: false });
}

/** Keeps a correction as a recipe of its name, or of the next free one. */
export async function keepRecipe(id: string): Promise<void> {
  await guard('The recipe was not kept', async () => {
    const c = correction(id);
    const { records } = useDoc.getState();
    const size = c && sizeOf(records, c);
    if (!c || !size) throw new Error('its correction is not there any more');
    if (mattesOf(c).length > 0)
      throw new Error(
        `"${c.name}" takes a matte from a file, which belongs to its picture. Duplicate it, ` +
          'take that part out of the copy, and keep the copy',
      );
    const alone = withoutLinks(c.terms, records, () => true);
    const terms = mapTerms(alone, (t) => {
      if (!isOp(t)) return t;
      // A path that was followed belongs to its clip.
      const { track: _, ...still } = t;
      return still;
    });
    const name = await freeRecipeName(c.name);
    await recipeTable().put({
      name,
      text: formatRecipe(name, { ...c, terms }, size, records),
      at: new Date().toISOString(),
    });
    sayNews(`${name} is kept as a recipe in this browser: it is in the list beside Add, for every shot and project.`);
  });
}
export const keptRecipes = (): Promise<RecipeRow[]> => recipeTable().orderBy('name').toArray();
export const removeRecipe = (name: string): Promise<unknown> =>
  guard('The recipe was not removed', () => recipeTable().delete(name));
/** One that was removed, as it was; of another one that took its name meanwhile there are two then. */
export const putBackRecipe = (row: RecipeRow): Promise<unknown> =>
  guard('The recipe was not put back', async () => {
    await recipeTable().put({ ...row, name: await freeRecipeName(row.name) });
  });

/** Adds a kept one to a shot, told anew for its size, in one step to undo. */
export async function applyRecipe(shot: ShotId, text: string): Promise<void> {
  await guard('The recipe was not added', async () => {
    const kept = parseRecipe(text);
    const { records, change } = useDoc.getState();
    if (!recordOf(records, shot, 'shot')) throw new Error('the shot is not there any more');
    const tables = Object.values(kept.records).filter((r) => r.type === 'table' && !records[r.id]);
    change(`Add ${kept.correction.name}`, (r) => {
      const lent = put(kept.scene, kept.correction, ...tables)(r);
      const { [kept.scene.id]: _s, [kept.correction.id]: _c, ...made } = carried(lent, kept.correction, shot, 'whole');
      return made as Records;
    });
    // Another tab writes: it was said, and nothing has changed.
    if (useDoc.getState().records === records) return;
    const added = ownCorrectionsOf(useDoc.getState().records, shot).at(-1);
    if (added) useSession.getState().set({ correction: added.id, step: 'correct', term: null, conversionOpen: false });
  });
}
/** Takes a recipe's file into this browser's list. */
export async function openRecipe(file: File): Promise<void> {
  await guard(`${file.name} was not read`, async () => {
    if (file.size > 96 * 2 ** 20) throw new Error('it is too large to be a recipe. Choose a file that Save wrote');
    const text = await file.text();
    const { scene } = parseRecipe(text);
    const name = await freeRecipeName(scene.name);
    await recipeTable().put({ name, text, at: new Date().toISOString() });
    sayNews(`${name} is in the list of recipes.`);
  });
}
export const saveRecipe = ({ name, text }: RecipeRow): void =>
  download(`${fileStem(name)}.recipe.rowanleaf.json`, [text], 'application/json');
