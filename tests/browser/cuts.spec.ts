/** Cuts of a shot, found, looked through, taken; by mouse and keyboard, in one undo. */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { encode } from 'fast-png';
import { rng } from '../../src/core/math/rng';
import { DEMO_SHOTS, countShots, saved, watch } from './helpers';

const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-cuts-'));
test.afterAll(() => rmSync(dir, { recursive: true, force: true }));
const [W, H] = [160, 90] as const;

/** Three scenes of coloured discs before a ground, seen by a moving camera: cuts before frames 10 and 22. */
function frames(): string[] {
  mkdirSync(join(dir, 'film'));
  const scene = (seed: number) => {
    const r = rng(seed);
    return Array.from({ length: 14 }, () => ({
      x: r() * 200,
      y: r() * 100,
      d: 8 + 18 * r(),
      c: [r() * 255, r() * 255, r() * 255],
    }));
  };
  const scenes = [1, 2, 3].map(scene);
  return Array.from({ length: 30 }, (_, f) => {
    const discs = scenes[f < 10 ? 0 : f < 22 ? 1 : 2]!;
    const data = new Uint8Array(W * H * 3).fill(70);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++)
        for (const { x: cx, y: cy, d, c } of discs)
          if (Math.hypot(x + f - cx, y - cy) < d) data.set(c, 3 * (y * W + x));
    const file = join(dir, 'film', `film_${String(f).padStart(4, '0')}.png`);
    writeFileSync(file, encode({ width: W, height: H, data, channels: 3 }));
    return file;
  });
}

test('cuts are found, one is left out, the rest makes shots; undone at once; kept', async ({ page }) => {
  const faults = watch(page);
  await page.goto('/');
  await page.getByRole('button', { name: 'Import a sequence' }).click();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Choose the pictures' }).click(),
  ]);
  await chooser.setFiles(frames());
  await page.getByRole('dialog').getByRole('button', { name: 'Import', exact: true }).click();
  const playhead = page.getByRole('slider', { name: 'Playhead' });
  await expect(playhead).toBeVisible();
  // A correction goes along with the pieces.
  await page.getByRole('application').focus();
  await page.keyboard.press('n');

  const look = page.getByRole('button', { name: 'Look for cuts' });
  await look.focus();
  await page.keyboard.press('Enter');
  const sheet = page.getByRole('dialog', { name: 'Cuts' });
  await expect(sheet.locator('[data-cut]')).toHaveCount(2);
  expect(await sheet.locator('[data-cut]').evaluateAll((l) => l.map((x) => x.getAttribute('data-cut')))).toEqual([
    '10',
    '22',
  ]);
  await expect(sheet.locator('canvas[data-there="true"]')).toHaveCount(4);
  await expect(sheet.locator('[data-cut="22"]')).toContainText('00:00:00:22');
  await expect(sheet.getByRole('button', { name: 'Make 3 shots' })).toBeVisible();
  // By the keyboard: the second one is left.
  await sheet.locator('[data-cut="22"]').getByRole('checkbox').focus();
  await page.keyboard.press('Space');
  await sheet.getByRole('button', { name: 'Make 2 shots' }).focus();
  await page.keyboard.press('Enter');
  await expect(sheet).toBeHidden();
  await expect(playhead).toHaveAttribute('aria-valuemin', '10');
  await expect(playhead).toHaveAttribute('aria-valuemax', '29');
  await expect(page.locator('[data-correction]')).toHaveCount(1);
  await saved(page);
  await page.reload();
  await expect(playhead).toHaveAttribute('aria-valuemin', '10');
  await page.getByRole('link', { name: 'Shots', exact: true }).click();
  await countShots(page, DEMO_SHOTS + 2);
  await page.keyboard.press('Control+z');
  await countShots(page, DEMO_SHOTS + 1);

  await test.step('of what has none it says so', async () => {
    await page.keyboard.press('Control+Shift+z');
    await countShots(page, DEMO_SHOTS + 2);
    await page.goBack();
    await expect(playhead).toBeVisible();
    await page.getByLabel('Frame or timecode').fill('21');
    await page.getByLabel('Frame or timecode').press('Enter');
    await page.getByRole('button', { name: 'Out point here' }).click();
    await look.click();
    await expect(sheet).toContainText('No cut was found from frame 10 to 21.');
    await page.keyboard.press('Escape');
    await expect(sheet).toBeHidden();
  });
  expect(faults).toEqual([]);
});
