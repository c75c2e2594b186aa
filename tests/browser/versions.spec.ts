/** Versions of a shot: kept, compared with in a wipe, gone back to; by mouse and keys, undone, kept over a reload. */
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { newCorrection, saved, sentence, watch } from './helpers';

/** The picture as it is drawn, as numbers of a coarse grid. */
const looks = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const c = document.querySelector<HTMLCanvasElement>('[role="application"] canvas')!;
    const d = c.getContext('2d')!.getImageData(0, 0, c.width, c.height).data;
    let h = 0;
    for (let i = 0; i < d.length; i += 4 * 997) h = (Math.imul(h, 31) + d[i]! + 7 * d[i + 1]! + 13 * d[i + 2]!) | 0;
    return String(h);
  });

test('a version is kept, wiped against, gone back to in one undo', async ({ page }) => {
  const faults = watch(page);
  await newCorrection(page, 'courier');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Saturation, typed').fill('20');
  await page.getByLabel('Saturation, typed').press('Enter');
  await expect.poll(() => sentence(page)).toContain('saturation 20 %');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  const name = page.getByLabel('Name of a version');
  await name.fill('calm');
  await name.press('Enter');
  const row = page.getByRole('listitem').filter({ hasText: 'calm' });
  await expect(row).toBeVisible();

  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Saturation, typed').fill('180');
  await page.getByLabel('Saturation, typed').press('Enter');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await expect.poll(() => sentence(page)).toContain('saturation 180 %');
  await page.waitForTimeout(800);
  const strong = await looks(page);
  await row.getByRole('button', { name: 'Compare' }).click();
  const against = page.getByLabel('Compared with');
  await expect(against).toHaveValue(/^version:/);
  await expect.poll(() => looks(page)).not.toBe(strong);
  const wiped = await looks(page);
  await against.selectOption('converted');
  await expect.poll(() => looks(page)).not.toBe(wiped);
  await row.getByRole('button', { name: 'Compare' }).click();
  await expect.poll(() => looks(page), { timeout: 20_000 }).toBe(wiped);
  await page.getByRole('button', { name: 'Wipe' }).first().click();
  await expect.poll(() => looks(page), { timeout: 20_000 }).toBe(strong);

  await page.getByRole('button', { name: 'Back to calm' }).focus();
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toContain('saturation 20 %');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(() => sentence(page)).toContain('saturation 180 %');
  await saved(page);
  await page.reload();
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await expect(row).toBeVisible();
  await page.getByRole('button', { name: 'Remove the version calm' }).click();
  await expect(row).toHaveCount(0);
  expect(faults).toEqual([]);
});
