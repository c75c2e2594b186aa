/** The contact sheet: kept cards are there without the engine, and of many shots only those near the window are. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';

/** Cards in the browser's own store. */
const kept = (page: Page): Promise<number> =>
  page.evaluate(
    () =>
      new Promise<number>((done) => {
        const r = indexedDB.open('rowanleaf-cards');
        r.onsuccess = () => {
          const db = r.result;
          if (!db.objectStoreNames.contains('cards')) {
            db.close();
            done(0);
            return;
          }
          const count = db.transaction('cards').objectStore('cards').count();
          count.onsuccess = () => {
            db.close();
            done(count.result);
          };
        };
        r.onerror = () => done(0);
      }),
  );
/** Whether a card's canvas shows more than one colour. */
const isDrawn = (page: Page, shot: string): Promise<boolean> =>
  page.locator(`[data-shot="${shot}"] canvas`).evaluate((el: HTMLCanvasElement) => {
    const { data } = el.getContext('2d')!.getImageData(0, 0, el.width, el.height);
    return data.some((v, i) => i % 4 !== 3 && Math.abs(v - data[i % 4]!) > 40);
  });

test('cards that were rendered once are there again without the engine', async ({ page }) => {
  await page.goto('/');
  await expect(page.locator('[data-shot="Courier"]')).toContainText('off-line', { timeout: 30_000 });
  await expect.poll(() => kept(page), { timeout: 30_000 }).toBeGreaterThanOrEqual(6);
  const said = await page.locator('[data-shot="Courier"] table').innerText();
  // The engine cannot start any more.
  await page.route(/\.wasm$/, (r) => r.abort());
  await page.reload();
  await expect(page.locator('[data-shot="Courier"]')).toContainText('off-line');
  expect(await page.locator('[data-shot="Courier"] table').innerText()).toBe(said);
  await expect.poll(() => isDrawn(page, 'Courier')).toBe(true);
});

test('of two hundred shots only those near the window are there; the others keep their place', async ({ page }) => {
  const demo = JSON.parse(
    readFileSync(join(import.meta.dirname, '../../demo/stills/small-hours.rowanleaf.json'), 'utf8'),
  ) as { records: { type: string; id: string; name: string; order: number }[] };
  const one = demo.records.find((r) => r.id === 'shot:courier')!;
  const more = Array.from({ length: 194 }, (_, i) => ({
    ...one,
    id: `shot:more-${i}`,
    name: `More ${i}`,
    order: 10 + i,
  }));
  const project = { ...demo, records: [...demo.records, ...more] };
  await page.goto('/');
  await expect(page.locator('[data-shot]')).toHaveCount(6, { timeout: 30_000 });
  await page
    .locator('input[type=file]')
    .nth(1)
    .setInputFiles([
      { name: 'many.rowanleaf.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(project)) },
    ]);
  await expect(page.locator('[data-shot]')).toHaveCount(200, { timeout: 30_000 });
  await expect.poll(() => page.locator('[data-shot] canvas').count()).toBeGreaterThan(3);
  expect(await page.locator('[data-shot] canvas').count()).toBeLessThan(40);
  const last = page.locator('[data-shot="More 193"]');
  await expect(last).not.toContainText('PNG');
  await last.scrollIntoViewIfNeeded();
  await expect(last).toContainText('PNG');
  await expect.poll(() => isDrawn(page, 'More 193'), { timeout: 30_000 }).toBe(true);
  // The first has left; going back it stands where it stood.
  await expect(page.locator('[data-shot="Proofing table"]')).not.toContainText('PNG');
  await page.keyboard.press('Control+Home');
  await page.evaluate(() => document.querySelector('[data-shot="Proofing table"]')!.scrollIntoView());
  await expect(page.locator('[data-shot="Proofing table"]')).toContainText('PNG');
  expect(await page.locator('[data-shot] canvas').count()).toBeLessThan(40);
});
