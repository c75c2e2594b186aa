/**
 * A shot read over its time: a patch that follows, lines and words that lead to a frame, markers; kept over a reload.
 */
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { saved, watch } from './helpers';

const playhead = (page: Page) => page.getByRole('slider', { name: 'Playhead' });
const frame = async (page: Page): Promise<number> => Number(await playhead(page).getAttribute('aria-valuenow'));
async function open(page: Page): Promise<void> {
  await page.goto('/bench/shot:baker-turning');
  await expect(page.locator('tr[data-patch]')).toContainText('%', { timeout: 30_000 });
}
async function go(page: Page, to: number): Promise<void> {
  const box = page.getByLabel('Frame or timecode');
  await box.fill(String(to));
  await box.press('Enter');
  await expect.poll(() => frame(page)).toBe(to);
}

test('a patch follows, the shot is read over time, what stands out leads to its frame', async ({ page }) => {
  const seen = watch(page);
  await open(page);
  // A short piece: from frame 0 to 19.
  await go(page, 19);
  await page.keyboard.press('Shift+I');
  await go(page, 0);
  const patch = page
    .getByRole('button', { name: 'Patch Turning baker, cheek' })
    .or(page.getByLabel('Patch Turning baker, cheek'));
  const before = (await patch.first().boundingBox())!;
  await page.getByRole('button', { name: 'Let Turning baker, cheek follow' }).click();
  const stand = page.getByRole('button', { name: 'Let Turning baker, cheek stand still' });
  await expect(stand).toBeVisible({ timeout: 60_000 });
  await go(page, 19);
  const after = (await patch.first().boundingBox())!;
  expect(Math.hypot(after.x - before.x, after.y - before.y)).toBeGreaterThan(2);

  await page.getByRole('button', { name: 'Over time', exact: true }).click();
  await page.getByRole('button', { name: 'Read the whole shot' }).click();
  const list = page.getByRole('list', { name: 'Where to look' });
  await expect(list).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('button', { name: 'Read again' })).toBeEnabled({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Level', exact: true }).click();
  const plot = page.getByRole('img', { name: 'Level over the frames' });
  const box = (await plot.boundingBox())!;
  // The plot's own span begins 44 px from the left and ends 130 px from the right.
  await page.mouse.click(box.x + 44 + 0.5 * (box.width - 174), box.y + 60);
  await expect.poll(() => frame(page)).toBeGreaterThan(8);
  expect(await frame(page)).toBeLessThan(12);
  await saved(page);

  await page.reload();
  await expect(page.getByRole('img', { name: /over the frames$/ })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('Something changed since it was read.')).toHaveCount(0);
  await page.getByRole('button', { name: 'Readings', exact: true }).click();
  await stand.click();
  await page.getByRole('button', { name: 'Over time', exact: true }).click();
  await expect(page.getByText('Something changed since it was read.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Something changed since it was read.')).toHaveCount(0);
  expect(seen).toEqual([]);
});

test('markers: set, noted, gone to, removed, by keys; undone, kept over a reload', async ({ page }) => {
  await open(page);
  await go(page, 12);
  await page.getByRole('application').focus();
  await page.keyboard.press(';');
  const note = page.getByLabel('Note of the marker');
  await note.fill('lamp dips');
  await note.press('Enter');
  await go(page, 40);
  await page.getByRole('button', { name: 'Marker here' }).click();
  await page.getByRole('application').focus();
  await page.keyboard.press(',');
  await expect.poll(() => frame(page)).toBe(12);
  await expect(note).toHaveValue('lamp dips');
  await page.keyboard.press('.');
  await expect.poll(() => frame(page)).toBe(40);
  await saved(page);
  await page.reload();
  await expect(page.locator('[data-marker]')).toHaveCount(2);
  await go(page, 12);
  await page.getByRole('button', { name: 'Remove the marker here' }).click();
  await expect(page.locator('[data-marker]')).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('[data-marker]')).toHaveCount(2);
  await expect(note).toHaveValue('lamp dips');
});

test('the proof over every frame of a shot: said, led to its worst frame, known as old after a change', async ({
  page,
}) => {
  const seen = watch(page);
  await open(page);
  await go(page, 7);
  await page.keyboard.press('Shift+I');
  await go(page, 0);
  await page.getByRole('application').focus();
  await page.keyboard.press('n');
  await page.keyboard.press('e');
  const b = (await page.getByRole('application').boundingBox())!;
  await page.mouse.move(b.x + b.width * 0.35, b.y + b.height * 0.3);
  await page.mouse.down();
  await page.mouse.move(b.x + b.width * 0.55, b.y + b.height * 0.6, { steps: 5 });
  await page.mouse.up();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Saturation, typed').fill('30');
  await page.getByLabel('Saturation, typed').press('Enter');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await page.getByRole('button', { name: 'Check every frame' }).click();
  const all = page.getByRole('region', { name: 'Every frame' });
  // What the panel asks for itself meanwhile, with each new picture, does not take the job's place.
  await page.getByRole('application').focus();
  for (let i = 0; i < 6; i++) {
    await page.keyboard.press(i % 2 ? '1' : '3');
    await page.waitForTimeout(250);
  }
  await expect(all).toContainText('8 frames: the surround did not move by a bit on any.', { timeout: 40_000 });
  const worst = Number(/widest on (\d+)/.exec((await all.textContent())!)![1]);
  await go(page, (worst + 1) % 8);
  await all.getByRole('button', { name: 'Go there' }).click();
  await expect.poll(() => frame(page)).toBe(worst);
  await expect(all).not.toContainText('Something changed');
  // It is kept, as what it was found for.
  await saved(page);
  await page.reload();
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await expect(all).toContainText('8 frames: the surround did not move by a bit on any.');
  await expect(all).not.toContainText('Something changed');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Saturation, typed').fill('60');
  await page.getByLabel('Saturation, typed').press('Enter');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await expect(all).toContainText('Something changed since then.');
  expect(seen).toEqual([]);
});

test('a key on a moving shot reads every frame in the light it was made in, unless that is declined; kept', async ({
  page,
}) => {
  const seen = watch(page);
  await open(page);
  await go(page, 36);
  const stage = page.getByRole('application');
  await stage.focus();
  await page.keyboard.press('n');
  await page.getByRole('button', { name: 'Sample a key', exact: true }).click();
  const b = (await stage.boundingBox())!;
  const s = Math.min(b.width / 960, b.height / 540);
  const at = (x: number, y: number): [number, number] => [
    b.x + b.width / 2 + (x - 480) * s,
    b.y + b.height / 2 + (y - 270) * s,
  ];
  await page.mouse.move(...at(386, 232));
  await page.mouse.down();
  await page.mouse.move(...at(410, 250), { steps: 4 });
  await page.mouse.up();
  const light = page.getByLabel('The light in which the key reads');
  await expect(light).toHaveValue('one');
  const told = page.locator('[role=status]').filter({ hasText: /^This frame is/ });
  await expect(told).toHaveText('This frame is lit as that one was.');
  const sentence = page.locator('[data-sentence]');
  await expect(sentence).toHaveAttribute('data-sentence', /where, in one light, /);
  // Here the lamps are brighter by a twentieth.
  await go(page, 42);
  await expect(told).toHaveText(
    /^This frame is read with red \u00d7 0\.9\d\d, green \u00d7 0\.9\d\d, blue \u00d7 0\.9\d\d\.$/,
  );
  await light.selectOption('each');
  await expect(told).toHaveCount(0);
  await expect(sentence).toHaveAttribute('data-sentence', /where /);
  // Set anew by another sample it stays as it was declined.
  await page.getByRole('button', { name: 'Again', exact: true }).click();
  await page.mouse.click(...at(386, 232));
  await expect(light).toHaveValue('each');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(light).toHaveValue('one');
  await light.focus();
  await page.keyboard.press('End');
  await expect(told).toHaveText('This frame is lit as that one was.');
  await saved(page);
  await page.reload();
  await expect(light).toHaveValue('one', { timeout: 30_000 });
  await expect(told).toHaveText('This frame is lit as that one was.');
  await go(page, 36);
  await expect(told).toHaveText(/^This frame is read with red \u00d7 1\.0/);
  expect(seen).toEqual([]);
});
