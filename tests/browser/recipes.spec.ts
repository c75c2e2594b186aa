/** Recipes: what comes ready, and what a person keeps. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { at, drag, newCorrection, openBench, saved, sentence, watch } from './helpers';

test('a vignette and a split tone are added by mouse and by keys, changed like any other, undone and kept', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'cold-window');
  const button = page.getByRole('button', { name: 'Recipes', exact: true });
  await button.click();
  await page.getByRole('menuitem', { name: /^Vignette/ }).click();
  await expect.poll(() => sentence(page)).toMatch(/^Vignette: .*not inside Ellipse 1.*exposure/);
  // It reaches the corners and leaves the middle alone.
  await expect.poll(() => page.locator('[data-correction="Vignette"]').count()).toBe(1);
  await button.focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type('Split');
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toMatch(/^Split tone: /);
  await button.click();
  await page.getByRole('menuitem', { name: /^Vignette/ }).click();
  await expect(page.locator('[data-correction="Vignette 1"]')).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.locator('[data-correction="Vignette 1"]')).toHaveCount(0);
  await saved(page);
  await page.reload();
  await expect(page.locator('[data-correction="Vignette"]')).toBeVisible();
  await expect(page.locator('[data-correction="Split tone"]')).toBeVisible();
  expect(faults).toEqual([]);
});

test('what needs a press asks for it: skin to the line, a calmer wall, contrast with its outside', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'proofing-table');
  const add = async (name: RegExp): Promise<void> => {
    await page.getByRole('button', { name: 'Recipes', exact: true }).click();
    await page.getByRole('menuitem', { name }).click();
  };
  const press = async (x: number, y: number): Promise<void> => page.mouse.click(...(await at(page, [x, y])));
  await add(/^Skin to the line/);
  await expect(page.getByText('Press on the skin of a person')).toBeVisible();
  await press(520, 380);
  await expect(page.getByText(/^Skin 1: \d.* % of the picture\./)).toBeVisible({ timeout: 20_000 });
  await page.getByRole('button', { name: 'Take it' }).click();
  await expect.poll(() => sentence(page)).toMatch(/^Skin 1: .*balance/);

  await add(/^Calmer wall/);
  const key = /^Calmer wall: where hue is .*saturation 50 %/;
  await press(900, 120);
  await expect.poll(() => sentence(page)).toMatch(key);
  await expect(page.locator('[data-correction="Calmer wall"]')).toBeVisible();
  await add(/^Colour contrast/);
  await expect.poll(() => sentence(page)).toMatch(/^Calmer wall, outside: .*balance.*saturation 88 %/);
  // It is an outside itself: said, and nothing more is added.
  const before = await page.locator('[data-correction]').count();
  await add(/^Colour contrast/);
  await expect(page.getByText(/is an outside itself/)).toBeVisible();
  expect(await page.locator('[data-correction]').count()).toBe(before);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toMatch(/^Calmer wall, outside: .*saturation 88 %/);
  expect(faults).toEqual([]);
});

test('a correction is kept, added on another shot, saved as a file, removed and opened again', async ({ page }) => {
  const faults = watch(page);
  await newCorrection(page, 'courier');
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+E');
  await drag(page, [800, 470], [1060, 600]);
  await page.getByRole('button', { name: 'More for Correction 1' }).click();
  await page.getByRole('menuitem', { name: 'Keep as a recipe' }).click();
  await expect(page.getByText(/^Correction 1 is kept as a recipe/)).toBeVisible();
  await saved(page);

  await openBench(page, 'oven-mouth');
  const button = page.getByRole('button', { name: 'Recipes', exact: true });
  await button.click();
  await page.getByRole('menuitem', { name: 'Correction 1' }).click();
  await expect(page.locator('[data-correction="Correction 1"]')).toBeVisible();
  await expect.poll(() => sentence(page)).toMatch(/^Correction 1: inside Box 1/);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.locator('[data-correction="Correction 1"]')).toHaveCount(0);

  // The list, by keys: saved, removed, opened again.
  await button.focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Enter');
  const list = page.getByRole('dialog', { name: 'Kept recipes' });
  const row = list.locator('[data-recipe="Correction 1"]');
  const coming = page.waitForEvent('download');
  await row.getByRole('button', { name: 'Save' }).click();
  const file = await coming;
  expect(file.suggestedFilename()).toBe('correction-1.recipe.rowanleaf.json');
  const path = test.info().outputPath('r.recipe.rowanleaf.json');
  await file.saveAs(path);
  expect(JSON.parse(readFileSync(path, 'utf8'))).toMatchObject({ format: 'rowanleaf-project' });
  await row.getByRole('button', { name: 'Remove' }).click();
  await expect(row).toHaveCount(0);
  await list.getByRole('button', { name: 'Put back' }).click();
  await expect(row).toBeVisible();
  await row.getByRole('button', { name: 'Remove' }).click();
  await expect(row).toHaveCount(0);
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    list.getByRole('button', { name: 'Open a file' }).click(),
  ]);
  await chooser.setFiles(path);
  await row.getByRole('button', { name: 'Add' }).click();
  await expect(page.locator('[data-correction="Correction 1"]')).toBeVisible();
  expect(faults).toEqual([]);
});
