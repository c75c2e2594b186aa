/** Recipes: corrections that come ready, and those that a person keeps; every value of them can be changed. */
import { newUse } from '../core/graph/plan.defaults';
import { isOp, mapTerms, mattesOf } from '../core/graph/region';
import { sideFigures } from '../core/skin/sides';
import { put } from '../document/history';
import { formatRecipe, parseRecipe } from '../document/recipe';
import { mediaOf, newId, ownCorrectionsOf, recordOf } from '../document/records';
import type { CorrectionRecord, Records, ShotId } from '../document/records';
import { LIMITS } from '../document/schema';
import { addCompanion, chosenCorrection, companionOf, shotState, standingTidy } from './actions';
import { carried } from './carry';
import { sizeOf } from './copyPart';
import { correction, freeName, useId } from './edit';
import { engine } from './engine';
import { download, fileStem } from './files';
import { guard, sayNews } from './notices';
import { recipeTable } from './recipeStore';
import type { RecipeRow } from './recipeStore';
import { withoutLinks } from './region';
import { solvedAgain } from './solvedAgain';
import { useDoc, useSession } from './store';

type Parts = Pick<CorrectionRecord, 'terms' | 'adjustments'>;
interface Recipe {
  name: string;
  tip: string;
  /** For a picture of w by h pixels. Left out where the person's press makes it. */
  make?(w: number, h: number): Parts;
  /** What the picture must be asked next, by which tool, in words. */
  next?: { tool: 'key' | 'skinPress'; words: string };
}
const aKey = (): CorrectionRecord['terms'][number] => {
  const id = useId();
  return { id, join: 'and', not: false, name: 'Key 1', use: newUse(id, 'key', {}) };
};
/** The one that leans on a correction that is there. */
export const CONTRAST = 'Colour contrast';
/** So far the outside is pushed towards the hue across, and so much of its saturation is left. */
const APART = { pushPct: 4, saturationPct: 88 };
export const ready: readonly Recipe[] = [
  {
    name: 'Skin to the line',
    tip: 'Press a person: their whole skin is found and brought to the line',
    next: { tool: 'skinPress', words: 'Press on the skin of a person: what is found is shown before it is taken.' },
  },
  {
    name: 'Calmer wall',
    tip: 'Press a surface that is too loud: its colour, with half of its saturation',
    make: () => ({
      terms: [aKey()],
      adjustments: [newUse(useId(), 'saturation', { amountPct: 50 }), newUse(useId(), 'exposure')],
    }),
    next: {
      tool: 'key',
      words: 'Press on the surface that is too loud: until then the key holds what skin usually is.',
    },
  },
  {
    name: 'Recolour',
    tip: 'Press a thing, then choose the colour that it shall have; folds and highlights stay',
    make: () => ({ terms: [aKey()], adjustments: [newUse(useId(), 'recolour')] }),
    next: { tool: 'key', words: 'Press on the thing, then choose its new colour under Recolour.' },
  },
  {
    name: CONTRAST,
    tip: 'The outside of the chosen correction calmer, and a little towards the hue across from what is inside',
  },
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
/**
 * The outside of a correction's region, drawn away from the hue that is inside: the two come to stand further apart.
 * The hue is the region's own mean as it leaves, read now.
 */
export async function addContrast(shot: ShotId): Promise<void> {
  await guard('Colour contrast was not added', async () => {
    const { records } = useDoc.getState();
    const to = recordOf(records, shot, 'shot');
    const c = to && chosenCorrection(records, shot, useSession.getState().correction);
    if (!to || !c || c.terms.length === 0)
      throw new Error('it leans on the region of a correction. Choose one that has a region, then add it again');
    if (companionOf(c) !== null) throw new Error(`"${c.name}" is an outside itself. Choose the correction it leans on`);
    if (ownCorrectionsOf(records, shot).some((x) => companionOf(x) === c.id))
      throw new Error(`the outside of "${c.name}" has a correction already. Change that one, or remove it first`);
    const { after } = await engine().request('sides', { shot: shotState(records, to), correction: c.id });
    if (!after.inside) throw new Error(`nothing lies in the region of "${c.name}". Isolate something first`);
    if (!correction(c.id)) throw new Error(`"${c.name}" is not there any more`);
    const { hueDeg } = sideFigures(after.inside);
    const across = hueDeg === null ? null : ((hueDeg + 180) * Math.PI) / 180;
    const tenth = (v: number): number => Math.round(10 * v) / 10;
    const push =
      across === null
        ? {}
        : { cbPct: tenth(APART.pushPct * Math.cos(across)), crPct: tenth(APART.pushPct * Math.sin(across)) };
    const before = useDoc.getState().records;
    addCompanion(c.id, [
      newUse(useId(), 'balance', push),
      newUse(useId(), 'saturation', { amountPct: APART.saturationPct }),
      newUse(useId(), 'exposure'),
    ]);
    // Another tab writes: it was said, and nothing has changed.
    if (useDoc.getState().records === before) return;
    sayNews(
      across === null
        ? `What "${c.name}" holds is nearly grey: its outside is only calmer.`
        : `The outside of "${c.name}" is calmer, and ${APART.pushPct} % towards the hue across.`,
    );
  });
}
/** Adds one that comes ready behind what is there, and chooses it. */
export function addReady(shot: ShotId, name: string): void {
  if (name === CONTRAST) return void addContrast(shot);
  const { records, change } = useDoc.getState();
  const to = recordOf(records, shot, 'shot');
  const media = to && mediaOf(records, to);
  const recipe = ready.find((r) => r.name === name);
  if (!media || !recipe) return;
  const ask = (term: string | null): void => {
    if (!recipe.next) return;
    useSession.getState().set({ step: 'isolate', term, tool: recipe.next.tool, sampling: 'again' });
    sayNews(recipe.next.words);
  };
  if (!recipe.make) return ask(null);
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
  // Another tab writes: it was said, and nothing has changed.
  if (useDoc.getState().records === records) return;
  useSession.getState().set({ correction: c.id, step: 'correct', term: null, conversionOpen: false });
  ask(c.terms[0]?.id ?? null);
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
    const added = (r: Records): { made: Records; c: CorrectionRecord | undefined } => {
      const lent = put(kept.scene, kept.correction, ...tables)(r);
      const { [kept.scene.id]: _s, [kept.correction.id]: _c, ...made } = carried(lent, kept.correction, shot, 'whole');
      return { made: made as Records, c: ownCorrectionsOf(made as Records, shot).at(-1) };
    };
    const trial = added(records);
    const { solved, said } = trial.c ? await solvedAgain(trial.made, shot, trial.c) : { solved: [], said: [] };
    // The project may have gone on while it was solved: it is added to what is there by now.
    const before = useDoc.getState().records;
    if (!recordOf(before, shot, 'shot')) throw new Error('the shot is not there any more');
    change(`Add ${kept.correction.name}`, (r) => {
      const { made, c } = added(r);
      if (!c) return made;
      const adjustments = c.adjustments.map((u, i) => ({ ...u, params: { ...u.params, ...solved[i] } }));
      return put({ ...c, adjustments })(made);
    });
    // Another tab writes: it was said, and nothing has changed.
    const now = useDoc.getState().records;
    if (now === before) return;
    const c = ownCorrectionsOf(now, shot).at(-1);
    if (c) useSession.getState().set({ correction: c.id, step: 'correct', term: null, conversionOpen: false });
    if (said.length > 0) sayNews(said.join(' '));
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
