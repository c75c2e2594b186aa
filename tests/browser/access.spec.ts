/** Everybody can use it: axe-core on every screen and step, few tab stops between screens, a quiet console. */
import axe from 'axe-core';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { DEMO_SHOTS, openBench } from './helpers';

interface Found {
  id: string;
  nodes: { target: unknown; html: string }[];
}
async function violations(page: Page, options: object = {}): Promise<string[]> {
  await page.evaluate(axe.source);
  const found = await page.evaluate(
    async (o) =>
      (
        (await (window as unknown as { axe: { run(o: object): Promise<{ violations: unknown[] }> } }).axe.run({
          resultTypes: ['violations'],
          ...o,
        })) as { violations: Found[] }
      ).violations,
    options,
  );
  return found.map((v) => `${v.id}: ${v.nodes.map((n) => `${String(n.target)} ${n.html.slice(0, 120)}`).join(' | ')}`);
}
/** Everything in the darker theme; the lighter one has other colours, and nothing else. */
async function faultless(page: Page, what: string): Promise<void> {
  expect(await violations(page), what).toEqual([]);
  const themed = (theme: string) => page.evaluate((t) => (document.documentElement.dataset['theme'] = t), theme);
  await themed('lighter');
  await page.waitForTimeout(250);
  const ofColour = { runOnly: { type: 'rule', values: ['color-contrast', 'link-in-text-block'] } };
  expect(await violations(page, ofColour), `${what}, lighter`).toEqual([]);
  await themed('darker');
  await page.waitForTimeout(250);
}

test('axe-core finds nothing on any screen and step, in either theme', async ({ page }) => {
  await page.goto('/shots');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  await faultless(page, 'Shots');
  // As a person does it.
  await page.getByRole('button', { name: 'Lighter theme' }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'lighter');
  await page.getByRole('button', { name: 'Darker theme' }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'darker');
  await openBench(page, 'oven-mouth');
  for (const step of ['Isolate', 'Tidy', 'Correct', 'Check']) {
    await page.getByRole('button', { name: new RegExp(`^\\d\\s*${step}`) }).click();
    await page.waitForTimeout(300);
    await faultless(page, step);
  }
  for (const tab of ['Plot', 'Chart', 'Readings']) {
    await page.getByRole('button', { name: tab, exact: true }).first().click();
    await page.waitForTimeout(300);
    await faultless(page, tab);
  }
  await page.getByText('Conversion', { exact: true }).first().click();
  await faultless(page, 'Conversion');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await faultless(page, 'Keys');
  await page.keyboard.press('Escape');
  await page.goto('/hand-off');
  await expect(page.getByLabel('Error of the table')).toBeVisible({ timeout: 60_000 });
  await faultless(page, 'Hand-off');
  // A shot that moves: the strip, keys, a shape that can follow, what leaves.
  await page.goto('/bench/shot:courier-crossing');
  await expect(page.getByRole('slider', { name: 'Playhead' })).toBeVisible();
  await page.getByLabel('Readings').getByRole('button', { name: 'Keys' }).click();
  await page.getByRole('button', { name: 'Box 1', exact: true }).first().click();
  await expect(page.locator('[data-lane]')).toBeVisible();
  await faultless(page, 'Time');
  await page.goto('/hand-off/shot:courier-crossing');
  await expect(page.getByRole('button', { name: /^Render 72/ })).toBeVisible();
  await faultless(page, 'Moving picture');
});

test('every screen has one heading of the first rank and named regions', async ({ page }) => {
  for (const path of ['/shots', '/bench/shot:oven-mouth', '/hand-off']) {
    await page.goto(path);
    await expect(page.locator('h1')).toHaveCount(1, { timeout: 30_000 });
    await expect(page.locator('main')).toHaveCount(1);
    expect((await page.locator('h1').innerText()).trim().length).toBeGreaterThan(3);
  }
});

test('from the Bench to the Hand-off in few tab stops, and lists are one stop each', async ({ page }) => {
  await openBench(page, 'oven-mouth');
  const stops = async (until: (el: string) => boolean, most: number): Promise<number> => {
    for (let i = 1; i <= most; i++) {
      await page.keyboard.press('Tab');
      const at = await page.evaluate(
        () =>
          `${document.activeElement?.getAttribute('aria-label') ?? ''}|${document.activeElement?.textContent ?? ''}`,
      );
      if (until(at)) return i;
    }
    return Infinity;
  };
  await page.locator('body').click({ position: { x: 3, y: 3 } });
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  expect(await stops((t) => t.includes('Hand-off'), 8)).toBeLessThanOrEqual(6);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/hand-off/);
  await openBench(page, 'oven-mouth');
  // From the start of the page over the skip link into the screen: the cards of the rail are one stop.
  await page.keyboard.press('Tab');
  await expect(page.getByText('To the screen')).toBeFocused();
  await page.keyboard.press('Enter');
  await page.keyboard.press('n');
  await page.keyboard.press('n');
  const cards = page.getByRole('group', { name: /: Enter chooses it/ });
  await expect(cards).toHaveCount(3);
  const focusable = await cards.evaluateAll((l) => l.filter((e) => (e as HTMLElement).tabIndex === 0).length);
  expect(focusable).toBe(1);
});

test('the console stays quiet in normal use, imports of every kind included', async ({ page }) => {
  const said: string[] = [];
  page.on('console', (m) => {
    if (m.type() === 'warning' || m.type() === 'error') said.push(m.text());
  });
  page.on('pageerror', (e) => said.push(e.message));
  await page.goto('/shots');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  const dir = 'tests/data/readers';
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles(
      [
        'jpeg-420.jpg',
        'tiff-turned.tif',
        'exr-mixed-zip.exr',
        'webp-lossy-alpha.webp',
        'avif-crop.avif',
        'cicp-p3-pq.png',
        'icc-tables-only.tif',
      ].map((f) => `${dir}/${f}`),
    );
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS + 7);
  await page.locator('[data-shot="cicp-p3-pq"]').scrollIntoViewIfNeeded();
  await page.locator('[data-shot="cicp-p3-pq"] a.pic').click();
  await expect(page).toHaveURL(/bench/);
  await page.keyboard.press('n');
  await page.keyboard.press('3');
  await page.keyboard.press('Control+z');
  await page.goto('/hand-off');
  await expect(page.getByLabel('Error of the table')).toBeVisible({ timeout: 60_000 });
  expect(said).toEqual([]);
});
