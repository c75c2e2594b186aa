/** The proof as a page of its own: saved from Check, opened by any browser, its figures those of the Bench. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { openBench, watch } from './helpers';

test('Check sums up in a sentence and saves a report that stands by itself', async ({ page, browser }) => {
  const faults = watch(page);
  await openBench(page, 'proofing-table');
  await page.getByRole('application').focus();
  await page.keyboard.press('n');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  const said = page.getByLabel('In a sentence');
  await expect(said).toHaveText(/^Proofing table: Correction 1: it acts on the whole picture/);
  // What leaves the limits: a push of exposure does; the limits are chosen, typed, and told in the report.
  const limits = page.getByRole('region', { name: 'Limits' });
  const outside = limits.locator('[data-outside]');
  await expect(outside).toHaveText('All pixels lie within these limits, as before.');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Saturation, typed').fill('400');
  await page.getByLabel('Saturation, typed').press('Enter');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await expect(outside).toHaveText(/ of the picture leaves these limits \(.*before, 0\.0 %\.$/);
  const count = async () => Number(await outside.getAttribute('data-outside'));
  const full = await count();
  expect(full).toBeGreaterThan(1000);
  await limits.getByLabel('Limits of the signal').selectOption('ebu');
  await expect.poll(count).toBeLessThan(full);
  await expect(limits.getByLabel('Upper limit, typed')).toHaveValue(/105\.0 %/);
  await limits.getByLabel('Upper limit, typed').fill('70');
  await limits.getByLabel('Upper limit, typed').press('Enter');
  await expect(limits.getByLabel('Limits of the signal')).toHaveValue('own');
  await expect.poll(count).toBeGreaterThan(full);
  // A limit on the wrong side of the other is not taken.
  await limits.getByLabel('Lower limit, typed').fill('80');
  await limits.getByLabel('Lower limit, typed').press('Enter');
  await expect(limits.getByLabel('Lower limit, typed')).toHaveValue(/5\.0 %/);
  const words = (await outside.textContent())!;
  const [file] = await Promise.all([
    page.waitForEvent('download', { timeout: 40_000 }),
    page.getByRole('button', { name: 'Save a report' }).click(),
  ]);
  expect(file.suggestedFilename()).toBe('proofing-table.report.html');
  const html = readFileSync(await file.path(), 'utf8');
  const paper = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
  await paper.setContent(html);
  await expect(paper.getByRole('heading', { name: 'Proofing table' })).toBeVisible();
  // Every picture is in the page, and is one.
  const images = paper.locator('img');
  expect(await images.count()).toBeGreaterThanOrEqual(6);
  for (const img of await images.all()) {
    expect(await img.getAttribute('src')).toMatch(/^data:image\/(png|jpeg);base64,.{1000}/);
    expect(await img.evaluate((el) => (el as HTMLImageElement).naturalWidth)).toBeGreaterThan(200);
  }
  // The reading of the page is that of the Bench.
  const bench = await page.locator('tr[data-patch="Left baker, cheek"] b').textContent();
  await expect(paper.getByRole('row', { name: /^Left baker, cheek/ })).toContainText(bench!);
  await expect(paper.getByText(`-5 to 70 %: ${words}`)).toBeVisible();
  await page.reload();
  await expect(limits.getByLabel('Upper limit, typed')).toHaveValue(/70\.0 %/);
  await expect(outside).toHaveText(words);
  expect(faults).toEqual([]);
});
