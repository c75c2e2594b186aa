/** Importing: good files, bad files, dropping, missing pictures; and the engine without shared memory. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { encode } from 'fast-png';
import { DEMO_SHOTS, offLine, openBench, saved, watch } from './helpers';

const png16 = Buffer.from(
  encode({
    width: 64,
    height: 48,
    channels: 3,
    depth: 16,
    data: Uint16Array.from({ length: 64 * 48 * 3 }, (_, i) => [46000, 33000, 26000][i % 3]! + ((i * 7919) % 900)),
  }),
);
const file = (name: string, buffer: Buffer, mimeType = 'image/png') => ({ name, mimeType, buffer });

test('own pictures come in by button and by dropping; bad ones are named and disturb nothing', async ({ page }) => {
  const faults = watch(page);
  await page.goto('/shots');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles([
      file('empty.png', Buffer.alloc(0)),
      file('text.png', Buffer.from('no picture')),
      file('cut.png', png16.subarray(0, png16.length - 200)),
      file('own face.png', png16),
    ]);
  for (const [name, why] of [
    ['empty.png', 'the file is empty'],
    ['text.png', 'neither a picture nor a clip that can be opened'],
    ['cut.png', 'damaged or cut off'],
  ])
    await expect(page.getByRole('alert').filter({ hasText: name! })).toContainText(why!);
  await expect(page.locator('[data-shot="own face"]')).toContainText('64 × 48, 16 bit PNG');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS + 1);

  await page.evaluate(async () => {
    const c = new OffscreenCanvas(40, 30);
    const g = c.getContext('2d')!;
    g.fillStyle = 'rgb(194 150 130)';
    g.fillRect(0, 0, 40, 30);
    const data = new DataTransfer();
    data.items.add(new File([await c.convertToBlob({ type: 'image/jpeg' })], 'dropped.jpg', { type: 'image/jpeg' }));
    document
      .querySelector('main')!
      .dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
  });
  await expect(page).toHaveURL(/\/bench\/shot:/);
  await page.getByRole('link', { name: 'Shots' }).click();
  await expect(page.locator('[data-shot="dropped"]')).toContainText('8 bit JPEG');
  await saved(page);
  await page.reload();
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS + 2);
  expect(faults).toEqual([]);
});

test('a project whose picture is not here says so, and takes it back when it is imported', async ({
  page,
  context,
}) => {
  await page.goto('/shots');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles([
      file('face.png', png16),
      file('other.png', Buffer.from(encode({ width: 2, height: 2, channels: 3, data: new Uint8Array(12) }))),
    ]);
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS + 2);
  // A page that is left while a file is being kept asks first; nobody answers here.
  await saved(page);
  await page.goto('/hand-off');
  // Figures that come in must not move a button away under the hand: a press that ends beside it does nothing.
  const save = page.getByRole('button', { name: 'Save the project', exact: true });
  await expect(page.getByText('Measuring')).toBeVisible();
  const stood = await save.boundingBox();
  await expect(page.getByLabel('Error of the table')).toBeVisible();
  expect(await save.boundingBox()).toEqual(stood);
  const [d] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the project' }).click(),
  ]);
  await page.getByLabel('Pictures in the project file').selectOption('in');
  const [whole] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the project' }).click(),
  ]);
  // By its place: tens of megabytes through the browser's control channel took ten seconds.
  const inside = test.info().outputPath('inside.rowanleaf.json');
  await whole.saveAs(inside);
  const project = file('p.rowanleaf.json', readFileSync(await d.path()), 'application/json');
  const fresh = await (await context.browser()!.newContext()).newPage();
  await fresh.goto('/shots');
  await expect(fresh.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  await fresh
    .locator('input[type=file]')
    .nth(1)
    .setInputFiles([file('broken.json', Buffer.from('{'), 'application/json')]);
  await expect(fresh.getByRole('alert').filter({ hasText: 'broken.json' })).toContainText('not JSON');
  await fresh.locator('input[type=file]').nth(1).setInputFiles([project]);
  await expect(fresh.getByRole('alert').filter({ hasText: 'p.rowanleaf.json' })).toContainText('face.png, other.png');
  // A card is rendered when it is looked at.
  await fresh.locator('[data-shot="face"]').scrollIntoViewIfNeeded();
  await expect(fresh.locator('[data-shot="face"]')).toContainText('relink it');
  await fresh
    .locator('input[type=file]')
    .first()
    .setInputFiles([file('renamed.png', png16)]);
  await expect(fresh.getByText('renamed.png is linked again.')).toBeVisible();
  await expect(fresh.locator('[data-shot]')).toHaveCount(DEMO_SHOTS + 2);
  // With the pictures inside nothing is missing, on a browser that has never seen them.
  const third = await (await context.browser()!.newContext()).newPage();
  await third.goto('/shots');
  await expect(third.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  await third.locator('input[type=file]').nth(1).setInputFiles(inside);
  await expect(third.locator('[data-shot="face"]')).toContainText('16 bit PNG');
  await expect(third.getByText('inside.rowanleaf.json is open.')).toBeVisible();
  await expect(third.locator('[data-shot] [role=alert]')).toHaveCount(0);
});

test('works with copies where shared memory is missing', async ({ page }) => {
  await page.route(
    (u) => u.pathname.startsWith('/bench') || u.pathname === '/',
    async (route) => {
      const r = await route.fetch();
      const headers = { ...r.headers() };
      delete headers['cross-origin-opener-policy'];
      delete headers['cross-origin-embedder-policy'];
      await route.fulfill({ response: r, headers });
    },
  );
  await openBench(page, 'oven-mouth');
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(false);
  expect(Math.abs(await offLine(page, 'Baker, lit cheek'))).toBeLessThan(0.5);
});
