/** Recipes: what comes ready, and what a person keeps. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { drag, newCorrection, openBench, saved, sentence, watch } from './helpers';

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
  await page.keyboard.press('ArrowDown');
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
