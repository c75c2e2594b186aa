/** The contact sheet: kept cards are there without the engine. */
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
