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
  await expect(said).toHaveText(/^Proofing table: Correction 1: it acts on the whole picture/, { timeout: 20_000 });
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
  expect(faults).toEqual([]);
});
