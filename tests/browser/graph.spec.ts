/** Corrections beside each other, linked regions, brackets, scenes: by mouse and by keyboard, over a reload. */
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { DEMO_SHOTS, drag, offLine, openBench, saved, sentence, watch } from './helpers';

const card = (page: Page, name: string) => page.locator(`[data-correction="${name}"]`);
const beside = (page: Page, name: string) => card(page, name).getAttribute('data-beside');

test('a correction beside another, outside its region, in brackets; all of it is there after a reload', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  await page.keyboard.press('n');
  await page.keyboard.press('e');
  await drag(page, [600, 330], [900, 640]);
  await expect.poll(() => sentence(page)).toMatch(/^Correction 1: inside Ellipse 1;/);
  await page.getByRole('button', { name: 'Part', exact: true }).click();
  await page.getByRole('menuitem', { name: "Outside the region of Baker's face" }).click();
  await expect.poll(() => sentence(page)).toMatch(/inside Ellipse 1 and outside the region of Baker's face;/);
  // Brackets by keyboard.
  await page.getByRole('button', { name: "More for Baker's face" }).last().focus();
  await page.keyboard.press('Enter');
  await page.getByRole('menuitem', { name: 'Into brackets with the one before' }).focus();
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toMatch(/: \(inside Ellipse 1 and outside the region of Baker's face\);/);
  // Beside by keys, after by the menu, beside by dragging to the right.
  await card(page, 'Correction 1').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await expect.poll(() => beside(page, 'Correction 1')).toBe('true');
  await page.getByRole('button', { name: 'More for Correction 1' }).click();
  await page.getByRole('menuitem', { name: /^After the one before/ }).click();
  await expect.poll(() => beside(page, 'Correction 1')).toBe('false');
  const b = (await card(page, 'Correction 1').boundingBox())!;
  await page.mouse.move(b.x + 100, b.y + b.height / 2);
  await page.mouse.down();
  for (let i = 1; i <= 8; i++) await page.mouse.move(b.x + 100 + 7 * i, b.y + b.height / 2);
  await page.mouse.up();
  // While it is let go a copy holds its place.
  await expect(card(page, 'Correction 1')).toHaveCount(1);
  await expect.poll(() => beside(page, 'Correction 1')).toBe('true');
  await expect.poll(() => sentence(page)).toMatch(/^Correction 1, beside the one before:/);
  // Check accuses the right one: what the other changes in its surround is not its doing.
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  const turn = page.getByRole('slider', { name: 'Turn' }).first();
  await turn.focus();
  for (let i = 0; i < 6; i++) await page.keyboard.press('ArrowRight');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await expect(page.locator('[data-surround="0"]')).toBeVisible();
  await saved(page);
  const told = await sentence(page);
  await page.reload();
  await expect.poll(() => sentence(page), { timeout: 30_000 }).toBe(told);
  expect(await beside(page, 'Correction 1')).toBe('true');
  // Renaming what it is linked to is told at once, in its card and in the sentence.
  await card(page, "Baker's face").focus();
  await page.keyboard.press('F2');
  await page.getByLabel('Name of the correction').fill('Face');
  await page.keyboard.press('Enter');
  await expect(card(page, 'Correction 1')).toContainText('outside Face');
  await page.keyboard.press('Control+z');
  await expect(card(page, 'Correction 1')).toContainText("outside Baker's face");
  // Removing what it is linked to leaves a copy, and undo brings the link back.
  await card(page, "Baker's face").focus();
  await page.keyboard.press('Delete');
  await expect(page.getByText(/rested on "Baker's face"/)).toBeVisible();
  await expect(card(page, 'Correction 1')).toContainText('not (Key 1 and Ellipse 1)');
  await page.keyboard.press('Control+z');
  await expect(card(page, 'Correction 1')).toContainText("outside Baker's face");
  expect(faults).toEqual([]);
});

test('a scene gets a correction of its own, which then acts on each of its shots', async ({ page }) => {
  const faults = watch(page);
  await page.goto('/shots');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  await page.getByLabel('Scene of Oven mouth').selectOption('new');
  await page.getByLabel('Scene of Courier').selectOption({ label: 'Scene 1' });
  await page.getByLabel('Name of the scene of Courier').fill('Night');
  await page.keyboard.press('Enter');
  await saved(page);
  await openBench(page, 'oven-mouth');
  await page.getByRole('button', { name: "More for Baker's face" }).first().click();
  await page.getByRole('menuitem', { name: 'Act on the whole scene' }).click();
  await expect(card(page, "Baker's face")).toContainText('Night');
  await saved(page);
  await openBench(page, 'courier');
  await expect(card(page, "Baker's face")).toContainText('Night');
  // Its shapes are drawn and moved here too.
  await card(page, "Baker's face").click();
  await page.getByRole('button', { name: /^1\s*Isolate/ }).click();
  await expect(page.getByLabel('Ellipse 1, centre')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(card(page, "Baker's face")).toHaveCount(0);
  expect(faults).toEqual([]);
});

test('the outside of a region is corrected as well by one choice of its menu, and both are read', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  await page.getByRole('button', { name: /^More for Baker/ }).click();
  await page.getByRole('menuitem', { name: 'Correct its outside too' }).click();
  await expect
    .poll(() => sentence(page))
    .toMatch(/face, outside: outside the region of Baker.s face; not corrected yet/);
  const table = page.getByRole('table', { name: 'The region and its outside' });
  await expect(table).toContainText('before');
  const apart = async (): Promise<number[]> =>
    [...(await table.innerText()).matchAll(/([\d.]+), before ([\d.]+)/g)].flatMap((m) => [Number(m[1]), Number(m[2])]);
  const [first, before] = await apart();
  expect(Math.abs(first! - before!)).toBeLessThan(8);
  const face = await offLine(page, 'Baker, lit cheek');
  await page.getByRole('slider', { name: 'Exposure' }).last().press('Shift+ArrowLeft');
  await page.getByRole('slider', { name: 'Exposure' }).last().press('Shift+ArrowLeft');
  await expect.poll(async () => (await apart())[0]! - first!).toBeGreaterThan(2);
  expect((await apart())[1]).toBe(before);
  // The face itself has not moved.
  expect(await offLine(page, 'Baker, lit cheek')).toBe(face);
  await page.getByRole('application').focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await expect(page.locator('[data-correction]').filter({ hasText: 'outside' })).toHaveCount(0);
  expect(faults).toEqual([]);
});

test('a correction is carried to chosen shots: seen before it is taken, by keys, and taken back by one undo', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  await page.getByRole('button', { name: /^More for Baker/ }).click();
  await page.getByRole('menuitem', { name: /Carry to other shots/ }).click();
  const sheet = page.getByRole('dialog', { name: 'Carry to other shots' });
  const take = sheet.getByRole('button', { name: /^Carry to/ });
  await expect(take).toBeDisabled();
  for (const name of ['Courier', 'Night rack']) {
    await sheet.getByRole('checkbox', { name }).focus();
    await page.keyboard.press('Space');
    await expect(sheet.getByRole('img', { name: `${name} with it` })).toHaveAttribute('data-there', 'true');
  }
  // Both pictures are there and they differ: it does something to that shot.
  const pixels = (n: string): Promise<string> =>
    sheet.getByRole('img', { name: n }).evaluate((c) => (c as HTMLCanvasElement).toDataURL());
  expect(await pixels('Night rack as it is')).not.toBe(await pixels('Night rack with it'));
  await expect(take).toHaveText('Carry to 2 shots');
  await take.press('Enter');
  await expect(sheet).toBeHidden();
  await saved(page);
  await openBench(page, 'night-rack');
  await expect(page.locator('[data-correction*="face"]')).toHaveCount(1);
  expect(await sentence(page)).toMatch(/face: where hue is 106.133/);
  await page.getByRole('application').focus();
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-correction*="face"]')).toHaveCount(0);
  await saved(page);
  // Escape leaves everything as it is.
  await openBench(page, 'oven-mouth');
  await page.getByRole('button', { name: /^More for Baker/ }).click();
  await page.getByRole('menuitem', { name: /Carry to other shots/ }).click();
  await sheet.getByRole('button', { name: 'All' }).click();
  await page.keyboard.press('Escape');
  await expect(sheet).toBeHidden();
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
  expect(faults).toEqual([]);
});
