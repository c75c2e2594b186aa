/** The Bench: by mouse and keyboard the key sector, the balance disc, the room that the picture has. */
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { DEMO_SHOTS, drag, openBench, restingBox, saved, sentence, settled, watch } from './helpers';

const step = (page: Page, n: number, title: string) =>
  page.getByRole('button', { name: new RegExp(`^${n}\\s*${title}`) }).click();
const box = async (page: Page, label: string): Promise<number> =>
  Number((await page.getByLabel(label).inputValue()).replace('\u2212', '-').replace(/[^\d.-]/g, ''));
const centre = async (page: Page, name: string): Promise<[number, number]> => {
  const b = (await page.getByRole('slider', { name, exact: true }).boundingBox())!;
  return [b.x + b.width / 2, b.y + b.height / 2];
};

test('a key is limited on the sector, in numbers and by keys; it takes more in and leaves out', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  await step(page, 1, 'Isolate');
  await page.getByRole('button', { name: 'Key 1', exact: true }).click();
  // A side is pulled round the middle of the disc: a quarter turn of the hand is a quarter turn of the hue.
  const disc = (await page.getByRole('group', { name: 'Hue and saturation of the key' }).boundingBox())!;
  const [cx, cy] = [disc.x + disc.width / 2, disc.y + disc.height / 2];
  const from = await box(page, 'Hue from, typed');
  const [x, y] = await centre(page, 'Hue from');
  const turn = (a: number): [number, number] => {
    const [dx, dy] = [x - cx, y - cy];
    return [cx + dx * Math.cos(a) - dy * Math.sin(a), cy + dx * Math.sin(a) + dy * Math.cos(a)];
  };
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 1; i <= 6; i++) await page.mouse.move(...turn((i / 6) * (Math.PI / 6)));
  await page.mouse.up();
  await expect.poll(async () => Math.abs((await box(page, 'Hue from, typed')) - (from - 30))).toBeLessThanOrEqual(1);
  await page.keyboard.press('Control+z');
  await expect.poll(() => box(page, 'Hue from, typed')).toBe(from);
  // The fades are alike until they are taken apart.
  await page.getByRole('slider', { name: 'Hue fade behind it' }).press('Shift+ArrowRight');
  const fade = await box(page, 'Hue fade behind it, typed');
  expect(await box(page, 'Hue fade before it, typed')).toBe(fade);
  await page.getByRole('button', { name: 'Fades of hue on their own' }).click();
  await page.getByRole('slider', { name: 'Hue fade behind it' }).press('Shift+ArrowRight');
  await expect.poll(() => box(page, 'Hue fade behind it, typed')).toBe(fade + 10);
  expect(await box(page, 'Hue fade before it, typed')).toBe(fade);
  // Radius by keys; luma used by its switch, moved on the column.
  const to = await box(page, 'Saturation to, typed');
  await page.getByRole('slider', { name: 'Saturation to' }).press('ArrowLeft');
  await expect.poll(() => box(page, 'Saturation to, typed')).toBe(to - 1);
  await page.getByRole('button', { name: 'Limit by luma' }).click();
  const [lx, ly] = await centre(page, 'Luma to');
  const most = await box(page, 'Luma to, typed');
  await page.mouse.move(lx, ly);
  await page.mouse.down();
  await page.mouse.move(lx, ly - 40, { steps: 4 });
  await page.mouse.up();
  // 206 pixels are 100 %.
  await expect.poll(async () => Math.abs((await box(page, 'Luma to, typed')) - (most + 19.4))).toBeLessThanOrEqual(1);
  await expect.poll(() => sentence(page)).toContain('and luma');
  // The fire is taken in, and left out again by one cut, as one step.
  const before = await sentence(page);
  await page.getByRole('button', { name: 'Add to it' }).click();
  await drag(page, [1200, 330], [1300, 370]);
  await expect.poll(() => sentence(page)).not.toBe(before);
  const wide = await sentence(page);
  await page.keyboard.press('x');
  await expect(page.getByText(/what the key should leave out/)).toBeVisible();
  await drag(page, [1200, 330], [1300, 370]);
  await expect.poll(() => sentence(page)).not.toBe(wide);
  await page.keyboard.press('Control+z');
  await expect.poll(() => sentence(page)).toBe(wide);
  expect(faults).toEqual([]);
});

test('the trace on the disc follows the hand; one tonal range at a time, levels beside it', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  await page.keyboard.press('n');
  await page.keyboard.press('e');
  await drag(page, [400, 200], [670, 560]);
  await step(page, 3, 'Correct');
  const disc = page.getByRole('slider', { name: 'Gain colour' });
  await disc.scrollIntoViewIfNeeded();
  // The region's colours are there when the first final stands.
  await expect.poll(() => page.getByRole('slider', { name: 'Gain colour' }).count()).toBe(1);
  await settled(page);
  const b = await restingBox(disc);
  const reading = async (): Promise<number> =>
    Number(
      (await page.locator('tr[data-patch="Baker, lit cheek"] td').nth(5).innerText())
        .replace('\u2212', '-')
        .replace('\u00b0', ''),
    );
  const skin = await reading();
  await page.mouse.move(b.x + 60, b.y + 150);
  await page.mouse.down();
  await page.mouse.move(b.x + 85, b.y + 150, { steps: 5 });
  await page.mouse.up();
  await expect.poll(() => box(page, 'Gain Cb, typed')).toBeGreaterThan(1);
  expect(Math.abs(await box(page, 'Gain Cr, typed'))).toBeLessThan(0.35 * (await box(page, 'Gain Cb, typed')));
  await expect.poll(() => sentence(page)).toContain('corrected by gain');
  await expect.poll(async () => Math.abs((await reading()) - skin)).toBeGreaterThan(2);
  // Another range by keyboard: its own numbers, and its level.
  await page.getByRole('tab', { name: /^Gain/ }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('tab', { name: /^Offset/ })).toHaveAttribute('aria-selected', 'true');
  expect(await box(page, 'Offset Cb, typed')).toBe(0);
  await page.getByRole('slider', { name: 'Offset level' }).press('Shift+ArrowUp');
  await expect.poll(() => box(page, 'Offset level, typed')).toBe(5);
  await page.getByRole('slider', { name: 'Offset colour' }).press('ArrowLeft');
  await expect.poll(() => box(page, 'Offset Cb, typed')).toBeLessThan(-0.15);
  await page.getByRole('slider', { name: 'Offset colour' }).press('Delete');
  await expect.poll(() => box(page, 'Offset Cb, typed')).toBe(0);
  // A drag that is given up changes nothing.
  const told = await sentence(page);
  await page.mouse.move(b.x + 60, b.y + 150);
  await page.mouse.down();
  await page.mouse.move(b.x + 20, b.y + 120, { steps: 4 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect.poll(() => sentence(page)).toBe(told);
  expect(faults).toEqual([]);
});

test('a colour is pulled on the disc and on the picture, another held; by keyboard too, never folded', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  await page.keyboard.press('n');
  await page.keyboard.press('e');
  await drag(page, [400, 200], [670, 560]);
  await page.keyboard.press('Escape');
  await step(page, 3, 'Correct');
  await page.getByLabel('Add an adjustment').selectOption('pulls');
  const part = page.getByRole('region', { name: 'Chroma pulls' });
  await part.getByText('Drag a colour on the disc').scrollIntoViewIfNeeded();
  await settled(page);
  const reading = async (): Promise<number> =>
    Number(
      (await page.locator('tr[data-patch="Baker, lit cheek"] td').nth(5).innerText())
        .replace('\u2212', '-')
        .replace('\u00b0', ''),
    );
  const skin = await reading();
  // The skin lies in the upper left quarter; to the right of it is redder.
  const b = await restingBox(part.locator('canvas'));
  const [cx, cy] = [b.x + b.width / 2, b.y + b.height / 2];
  await page.mouse.move(cx - 25, cy - 45);
  await page.mouse.down();
  await page.mouse.move(cx - 10, cy - 45, { steps: 5 });
  await page.mouse.up();
  await expect.poll(() => sentence(page)).toContain('1 colour pulled');
  await expect.poll(async () => (await reading()) - skin).toBeLessThan(-2);
  const one = await box(page, 'To hue, typed');
  expect(one).toBeLessThan((await box(page, 'From hue, typed')) - 4);
  // A press holds what lies there: one more step to undo, by itself.
  await page.mouse.click(cx + 30, cy + 30);
  await expect.poll(() => sentence(page)).toContain('1 colour pulled, 1 held');
  await page.keyboard.press('Control+z');
  await expect.poll(() => sentence(page)).not.toContain('held');
  // By keyboard: as far as nothing folds, which is said.
  const target = part.getByRole('button', { name: /^Pull 1, where it goes/ });
  await target.focus();
  await page.keyboard.press('ArrowUp');
  const chroma = await box(page, 'To chroma, typed');
  for (let i = 0; i < 12; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByText(/Further would fold colours/)).toBeVisible();
  await expect(part.getByText(/Colours fold over one another/)).toHaveCount(0);
  expect(await box(page, 'To chroma, typed')).not.toBe(chroma);
  // What is typed may fold: it is said as long as it does.
  await part.getByLabel('To hue, typed').fill('300');
  await part.getByLabel('To hue, typed').press('Enter');
  // A drag that is given up changes nothing.
  const told = await page.locator('[data-grip]').count();
  await page.mouse.move(cx + 40, cy + 40);
  await page.mouse.down();
  await page.mouse.move(cx + 50, cy + 60, { steps: 4 });
  await expect(page.locator('[data-grip]')).toHaveCount(told + 2);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(page.locator('[data-grip]')).toHaveCount(told);
  await target.focus();
  await page.keyboard.press('Delete');
  await expect.poll(() => sentence(page)).not.toContain('pulled');
  // From the picture: a drag pulls, and stays when the page comes again.
  await part.getByRole('button', { name: 'From picture' }).click();
  await drag(page, [520, 400], [600, 400]);
  await expect.poll(() => sentence(page)).toContain('1 colour pulled');
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toContain('1 colour pulled');
  expect(faults).toEqual([]);
});

test('bands of hue are found, named, moved and changed, by hand and on the picture', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  await page.keyboard.press('n');
  await page.getByRole('application').focus();
  await step(page, 3, 'Correct');
  await page.getByLabel('Add an adjustment').selectOption('bands');
  const part = page.getByRole('region', { name: 'Bands of hue' });
  const bands = part.locator('button.band[tabindex="0"]');
  await expect(bands).toHaveCount(3);
  await part.getByLabel('Find bands').scrollIntoViewIfNeeded();
  await part.getByLabel('Find bands').selectOption('5');
  await expect(bands).toHaveCount(5);
  // A bakery in front of an oven is orange.
  await expect(bands.filter({ hasText: /orange/ }).first()).toBeVisible();
  const list = part.getByLabel('Band', { exact: true });
  const fullest = await list
    .locator('option')
    .evaluateAll(
      (all) =>
        all.reduce(
          (a, o, i) =>
            parseInt(o.textContent!.split(', ')[1]!) > a[1]! ? [i, parseInt(o.textContent!.split(', ')[1]!)] : a,
          [0, -1],
        )[0],
    );
  await list.selectOption(String(fullest));
  await expect(bands.nth(fullest!)).toHaveAttribute('aria-pressed', 'true');
  const sat = part.getByRole('slider', { name: 'Saturation' });
  for (let i = 0; i < 4; i++) await sat.press('Shift+ArrowLeft');
  await expect.poll(() => sentence(page)).toMatch(/hues \d+\u2013\d+\u00b0 saturation \u2212/);
  const told = await sentence(page);
  // A border by keyboard: one step to undo.
  await part.getByRole('slider', { name: 'Border between band 1 and band 2' }).press('Shift+ArrowRight');
  await part.getByRole('slider', { name: 'Border between band 2 and band 3' }).press('ArrowRight');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(() => sentence(page)).toBe(told);
  // On the picture: the band of the fire becomes lighter as the hand goes up.
  await part.getByLabel('What a drag on the picture does').selectOption('level');
  await part.getByRole('button', { name: 'From picture' }).click();
  await drag(page, [1250, 520], [1250, 440]);
  await expect.poll(() => sentence(page)).toMatch(/level \+\d/);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toMatch(/level \+\d/);
  expect(faults).toEqual([]);
});

test('the picture has the room: it never jumps, and is shown with its scopes or alone', async ({ page }) => {
  await openBench(page, 'oven-mouth');
  const picture = page.getByRole('application');
  const at = async (): Promise<string> => JSON.stringify(await picture.boundingBox());
  const first = await at();
  // A sentence of three lines takes no room from the picture.
  await page
    .getByLabel('Add an adjustment')
    .or(page.getByRole('button', { name: /^3\s*Correct/ }))
    .first()
    .click();
  await page.keyboard.press('n');
  expect(await at()).toBe(first);
  await page.keyboard.press('[');
  expect(await at()).toBe(first);
  await page.getByRole('button', { name: 'The whole sentence' }).click();
  expect(await at()).toBe(first);
  const w = async (): Promise<number> => (await picture.boundingBox())!.width;
  const all = await w();
  await page.keyboard.press('q');
  await expect.poll(w).toBeGreaterThan(all + 200);
  await expect(page.getByLabel('Scopes', { exact: true })).toBeVisible();
  await page.keyboard.press('a');
  await expect.poll(w).toBe(1280);
  await expect(page.getByLabel('Scopes', { exact: true })).toHaveCount(0);
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect.poll(w).toBe(all);
  // The shelf is as high as its table; without a patch it is one line.
  const h = async (): Promise<number> =>
    (await page.getByLabel('Readings', { exact: true }).last().boundingBox())!.height;
  const three = await h();
  await page.getByRole('button', { name: 'Remove patch Bread' }).click();
  await expect.poll(h).toBe(three - 28);
  await page.getByRole('button', { name: 'Remove patch Baker, lit cheek' }).click();
  await page.getByRole('button', { name: 'Remove patch Baker, other cheek' }).click();
  await expect.poll(h).toBeLessThan(36);
  // Pointed at in the table, a patch shows its name on the picture.
  await page.keyboard.press('Control+z');
  await page.locator('tr[data-patch="Baker, other cheek"]').hover();
  await expect(page.getByLabel('Handles on the picture').getByText('Baker, other cheek')).toBeVisible();
  // Columns keep their width in pixels in another window, and after a reload.
  const rail = async (): Promise<number> =>
    (await page.getByLabel('Corrections', { exact: true }).boundingBox())!.width;
  const wide = await rail();
  await saved(page);
  await page.setViewportSize({ width: 1720, height: 900 });
  await expect.poll(rail).toBe(wide);
  await page.reload();
  await expect.poll(rail, { timeout: 30_000 }).toBe(wide);
});

test('the whole card opens its shot; removing a card opens nothing', async ({ page }) => {
  await page.goto('/shots');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  // The card behind moves under the pointer as the one that is removed goes.
  for (const name of ['Proofing table', 'Oven mouth', 'Courier']) {
    await page.getByRole('button', { name: `Remove ${name}` }).click();
    await expect(page.locator(`[data-shot="${name}"]`)).toHaveCount(0);
  }
  await page.waitForTimeout(300);
  await expect(page).toHaveURL(/\/shots$/);
  await page.locator('[data-shot="Chart call"]').getByText(/1600/).click();
  await expect(page).toHaveURL(/\/bench\/shot:chart-call/);
});

test('the region sentence is changed where it stands: words are turned, values typed, by mouse and by keys', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'courier-crossing');
  const before = await sentence(page);
  expect(before).toContain('and inside Box 1; tidied by feather 2 px');
  const line = page.locator('[data-sentence]');
  // By mouse: a small word.
  await line.getByRole('button', { name: 'inside', exact: true }).click();
  await expect.poll(() => sentence(page)).toContain('and not inside Box 1;');
  // By keys: it goes on from there, also back.
  const and = line.getByRole('button', { name: 'and', exact: true });
  await and.focus();
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toContain('or not inside Box 1;');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(() => sentence(page)).toBe(before);
  // A value: its controls open at the word; the rail stays where it was.
  await line.getByRole('button', { name: 'feather 2 px' }).focus();
  await page.keyboard.press('Enter');
  const feather = page.getByRole('dialog', { name: 'Feather' });
  await feather.getByRole('textbox').first().fill('7');
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toContain('feather 7 px');
  await page.keyboard.press('Escape');
  await expect(feather).toBeHidden();
  await expect(line.getByRole('button', { name: 'feather 7 px' })).toBeFocused();
  await page.keyboard.press('Control+z');
  await expect.poll(() => sentence(page)).toBe(before);
  // The mix, and a part of the key with all its controls.
  await line.getByRole('button', { name: 'mix 100 %' }).click();
  await page.getByRole('dialog', { name: 'Mix' }).getByRole('textbox').fill('60');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect.poll(() => sentence(page)).toContain('mix 60 %');
  await line.getByRole('button', { name: /^hue is/ }).click();
  const key = page.getByRole('dialog', { name: 'Key 1' });
  await key.getByLabel('Hue from, typed').fill('140');
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toContain('hue is 140\u2013161\u00b0');
  // From there to the rail.
  await key.getByRole('button', { name: 'In Isolate' }).click();
  await expect(key).toBeHidden();
  await expect(page.getByLabel('Hue from, typed')).toHaveValue(/140/);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toContain('hue is 140\u2013161\u00b0');
  expect(await sentence(page)).toContain('mix 60 %');
  expect(faults).toEqual([]);
});
