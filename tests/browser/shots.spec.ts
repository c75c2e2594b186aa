/** The contact sheet: kept cards are there without the engine. */
import { readFileSync, writeFileSync } from 'node:fs';
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

test('of many shots only those near the window are there; none is lost on the way, by wheel and by keyboard', async ({
  page,
}) => {
  // The demo forty times over: 280 shots that show the same seven pictures.
  const demo = JSON.parse(readFileSync('demo/stills/small-hours.rowanleaf.json', 'utf8')) as {
    records: { id: string; type: string; name?: string; order?: number }[];
  };
  const shots = demo.records.filter((r) => r.type === 'shot');
  const more = Array.from({ length: 40 }, (_, k) =>
    shots.map((s) => ({ ...s, id: `${s.id}-${k}`, name: `${s.name} ${k}`, order: 100 * (k + 1) + s.order! })),
  ).flat();
  const all = shots.length + more.length;
  const file = test.info().outputPath('many.rowanleaf.json');
  writeFileSync(file, JSON.stringify({ ...demo, records: [...demo.records, ...more] }));
  await page.goto('/');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Open a project' }).click(),
  ]);
  await chooser.setFiles(file);
  const cards = page.locator('[data-shot]');
  await expect(page.locator('[data-shot="Courier 0"]')).toBeAttached();
  await expect(cards.first()).toHaveAttribute('aria-setsize', String(all));
  expect(await cards.count()).toBeLessThan(40);
  // Every one is met on the way down, in order.
  const met = new Set<string>();
  const sheet = page.locator('main');
  for (let at = 0; ; at += 500) {
    const end = await sheet.evaluate((el, y) => {
      el.scrollTop = y;
      return y >= el.scrollHeight - el.clientHeight;
    }, at);
    // Drawn with the next frame.
    await page.evaluate(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r))));
    const here = await cards.evaluateAll((l) => l.map((e) => Number(e.getAttribute('aria-posinset'))));
    for (const n of here) met.add(String(n));
    expect(here).toEqual([...here].sort((a, b) => a - b));
    if (end) break;
  }
  expect(met.size).toBe(all);
  await expect(cards.last()).toHaveAttribute('aria-posinset', String(all));
  // What has the focus stays while the sheet is scrolled away from it.
  const last = (await cards.last().getAttribute('data-shot'))!;
  const name = page.locator(`[data-shot="${last}"]`).getByRole('textbox', { name: 'Name of the shot' });
  await name.fill('The very last');
  await sheet.evaluate((el) => (el.scrollTop = 0));
  await expect(cards.first()).toHaveAttribute('aria-posinset', '1');
  await expect(name).toBeFocused();
  await page.keyboard.press('Enter');
  await expect.poll(() => isDrawn(page, (shots[0] as { name: string }).name), { timeout: 30_000 }).toBe(true);
  // The card came with its name; who comes back finds the sheet where it was left.
  await sheet.evaluate((el) => (el.scrollTop = el.scrollHeight));
  await expect(page.locator('[data-shot="The very last"]')).toBeVisible();
  await page.getByRole('link', { name: 'Open The very last on the Bench' }).click();
  await page.getByRole('link', { name: 'Shots' }).click();
  await expect(page.locator('[data-shot="The very last"]')).toBeInViewport();
});
