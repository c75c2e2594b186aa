/** A thing recoloured: by a hex code, by the mouse, by keys, from the picture and from another shot's patch. */
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { at, drag, newCorrection, saved, sentence, watch } from './helpers';

/** The sentence when it has stood for a while: solving takes its time. */
async function solvedSentence(page: Page): Promise<string> {
  let [was, since] = [await sentence(page), Date.now()];
  while (Date.now() - since < 1200) {
    await page.waitForTimeout(100);
    const now = await sentence(page);
    if (now !== was) [was, since] = [now, Date.now()];
  }
  return was;
}

/** A box on the jacket, with a Recolour that nothing was asked of yet. */
async function jacket(page: Page): Promise<void> {
  const stage = await newCorrection(page, 'courier');
  await stage.focus();
  await page.keyboard.press('Shift+E');
  await drag(page, [800, 470], [1060, 600]);
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Add an adjustment').selectOption('recolour');
}

test('a jacket takes the colour asked for, its figures are said, each way is one undo, and it is kept', async ({
  page,
}) => {
  const faults = watch(page);
  await jacket(page);
  const said = page.locator('[data-recolour]');
  // Nothing is asked for yet: its own colour is shown, nothing is recoloured.
  await expect(page.getByText(/^its own #[0-9a-f]{6}/)).toBeVisible();
  await expect(said).toHaveCount(0);
  const hex = page.getByRole('textbox', { name: 'Colour as hex code' });
  await hex.fill('#7a1f2b');
  await hex.press('Enter');
  await expect.poll(() => sentence(page)).toContain('recoloured to #7a1f2b');
  await expect(said).toContainText(/^CIEDE2000 0\.\d from the colour asked for/);

  // By keys: hue goes on by degrees; the solved colour is one step to undo.
  const hue = page.getByRole('slider', { name: 'Hue of the colour' });
  await hue.focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowLeft');
  await expect.poll(() => sentence(page)).not.toContain('#7a1f2b');
  await expect.poll(() => sentence(page)).toContain('recoloured to #');
  await expect(said).toContainText(/^CIEDE2000 \d/);

  // By the mouse: dragged over the field.
  const before = await solvedSentence(page);
  const area = (await page.locator('.area').boundingBox())!;
  await page.mouse.move(area.x + 60, area.y + 40);
  await page.mouse.down();
  await page.mouse.move(area.x + 120, area.y + 70, { steps: 4 });
  await page.mouse.up();
  await expect.poll(() => sentence(page)).not.toBe(before);
  await expect(said).toContainText(/^CIEDE2000 \d/);
  const dragged = await solvedSentence(page);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(() => sentence(page)).toBe(before);
  await page.getByRole('button', { name: 'Redo', exact: true }).click();
  await expect.poll(() => sentence(page)).toBe(dragged);

  // Escape in the middle of a drag: as it was, and letting go changes nothing.
  await page.mouse.move(area.x + 60, area.y + 40);
  await page.mouse.down();
  await page.mouse.move(area.x + 200, area.y + 20, { steps: 4 });
  await expect.poll(() => sentence(page)).not.toBe(dragged);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  expect(await solvedSentence(page)).toBe(dragged);

  // At half the mix it does not arrive, and that is no matter of folds.
  const mix = page.getByRole('textbox', { name: 'Mix, typed' });
  await mix.fill('50');
  await mix.press('Enter');
  await expect(said).toContainText('The adjustment itself arrives: the mix');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  expect(await solvedSentence(page)).toBe(dragged);

  // From the picture: the blue of a tile.
  await page.getByRole('button', { name: 'From picture' }).last().click();
  await page.mouse.click(...(await at(page, [420, 420])));
  await expect.poll(() => sentence(page)).not.toBe(dragged);
  const tile = await solvedSentence(page);
  await page.mouse.move(...(await at(page, [700, 300])));

  // From a patch of another shot.
  await page.getByLabel('Colour of a patch').selectOption({ label: 'Bread (Oven mouth)' });
  await expect.poll(() => sentence(page)).not.toBe(tile);
  const bread = await solvedSentence(page);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toBe(bread);
  expect(faults).toEqual([]);
});

test('what is no colour is not taken; nothing in the region is said with what to do', async ({ page }) => {
  const faults = watch(page);
  await jacket(page);
  const hex = page.getByRole('textbox', { name: 'Colour as hex code' });
  await expect(page.getByText(/^its own #[0-9a-f]{6}/)).toBeVisible();
  await hex.fill('#zz');
  await hex.press('Enter');
  await expect(page.locator('[data-recolour]')).toHaveCount(0);
  await expect(hex).toHaveValue(/^#?[0-9A-Fa-f]{6}$/);
  expect(faults).toEqual([]);
});
