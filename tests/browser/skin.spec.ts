/** Skin in one press and colours by their hue: by mouse and by keys, undone and kept. */
import { expect, test } from '@playwright/test';
import { at, drag, newCorrection, offBy, openBench, saved, sentence, watch } from './helpers';

test('a press on a face makes its region, its patch and its push; one undo takes all of it back', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'chart-call');
  const stage = page.getByRole('application');
  await stage.focus();
  await page.keyboard.press('Shift+T');
  const [x, y] = await at(page, [1050, 345]);
  await page.mouse.click(x, y);
  // What was found is said: how much, where it lay, where it lies.
  const bar = page.getByRole('region', { name: 'What the press found' });
  const told = bar.getByText(/^Skin 1: \d.* % of the picture\. The whole skin read .* now /);
  await expect(told).toBeVisible({ timeout: 20_000 });
  // It is shown, and in no record yet: the readings show the push, Escape leaves nothing behind.
  const cheek = page.locator('tr[data-patch]').first();
  const [offLine, before] = [cheek.locator('td').nth(5), cheek.locator('td').nth(6)];
  await expect.poll(async () => (await offLine.innerText()) === (await before.innerText())).toBe(false);
  await expect(page.locator('[data-correction="Skin 1"]')).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(bar).toHaveCount(0);
  await expect.poll(async () => (await offLine.innerText()) === (await before.innerText())).toBe(true);
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
  // Again; half of the strength pushes half as far, more reach takes more.
  await stage.focus();
  await page.keyboard.press('Shift+T');
  await page.mouse.click(x, y);
  await expect(told).toBeVisible({ timeout: 20_000 });
  const now = async (): Promise<number> =>
    Number(/ now (\S+?)\u00b0/.exec(await bar.innerText())![1]!.replace('\u2212', '-'));
  const whole = await now();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowDown');
  await expect(bar.locator('[data-press="strength"]')).toHaveText('50 %');
  await expect.poll(async () => Math.abs((await now()) - whole)).toBeGreaterThan(0.7);
  await bar.getByRole('button', { name: 'More reach' }).click();
  await expect(bar.locator('[data-press="reach"]')).toHaveText('110 %');
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp');
  await expect(bar.locator('[data-press="strength"]')).toHaveText('100 %');
  await stage.focus();
  await page.keyboard.press('Enter');
  await expect(bar).toHaveCount(0);
  await expect(page.getByText(/One undo takes it back/)).toBeVisible();
  await expect.poll(() => sentence(page)).toMatch(/^Skin 1: where.*the skin that was pressed spreads/);
  // The patch may lie a little past the line, for the sake of the whole; it lay 16 degrees off.
  await expect.poll(() => offBy(page, 'Skin 1, clean')).toBeLessThan(2);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toMatch(/^Skin 1: where.*the skin that was pressed spreads/);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.locator('[data-correction="Skin 1"]')).toHaveCount(0);
  await expect(page.locator('tr[data-patch="Skin 1, clean"]')).toHaveCount(0);
  expect(faults).toEqual([]);
});

test('a press on a clip is held over its frames, with its patch; stopped, undone and kept', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'baker-turning');
  const stage = page.getByRole('application');
  const playhead = page.getByRole('slider', { name: 'Playhead' });
  const go = async (to: number): Promise<void> => {
    const box = page.getByLabel('Frame or timecode');
    await box.fill(String(to));
    await box.press('Enter');
    await expect(playhead).toHaveAttribute('aria-valuenow', String(to));
  };
  /** Taken on another frame than it was made on: it is held from where it was made. */
  const press = async (takenAt: number): Promise<void> => {
    await stage.focus();
    await page.keyboard.press('Shift+T');
    // In pixels of the helper's picture; the clip has the same shape.
    await page.mouse.click(...(await at(page, [615, 213])));
    await expect(page.getByRole('region', { name: 'What the press found' })).toBeVisible();
    await go(takenAt);
    await stage.focus();
    await page.keyboard.press('Enter');
    await expect(page.getByText(/It is now held over the \d+ frames of the shot/).last()).toBeVisible();
  };
  const jobs = page.getByLabel('Jobs');
  const followed = page.locator('[data-followed]');
  const isolate = page.getByRole('button', { name: /^1\s*Isolate/ });
  await go(30);
  // The whole of it takes a while: stopped, nothing is left of it but the press.
  await press(30);
  await jobs.getByRole('button', { name: 'Stop' }).click();
  await expect(jobs).toHaveCount(0);
  await isolate.click();
  await expect(page.getByLabel('What of the motion is followed')).toHaveValue('region');
  await expect(followed).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-correction="Skin 1"]')).toHaveCount(0);
  // A short piece: from frame 27 to 31.
  await go(27);
  await page.keyboard.press('i');
  await go(31);
  await page.keyboard.press('Shift+I');
  await go(30);
  await press(28);
  await expect(page.getByText('Skin follows over 4 frames.')).toBeVisible({ timeout: 60_000 });
  await isolate.click();
  await expect(followed).toHaveAttribute('data-followed', '4');
  await expect(followed).toContainText('drawn at 30');
  await expect(page.getByLabel('Held near, typed')).toHaveValue(/^[67]\.\d/);
  await expect(page.getByRole('button', { name: 'Let Skin 1, clean stand still' })).toBeVisible();
  await saved(page);
  await page.reload();
  await expect(followed).toHaveAttribute('data-followed', '4');
  // One undo for the hold, another one for the press.
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(followed).toHaveCount(0);
  await expect(page.locator('[data-correction="Skin 1"]')).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.locator('[data-correction="Skin 1"]')).toHaveCount(0);
  expect(faults).toEqual([]);
});

test('the same by keys; a stroke that says "not this" goes on from there', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'cold-window');
  const stage = page.getByRole('application');
  await stage.focus();
  await page.keyboard.press('Shift+T');
  await page.keyboard.press('Enter');
  // The cross begins in the middle of the picture; a cheek lies to the right of it and above.
  for (let i = 0; i < 2; i++) await page.keyboard.press('Shift+ArrowRight');
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  const found = page.getByText(/^Skin 1: \d.* % of the picture\./);
  await expect(found).toBeVisible();
  // The face, not the wall: its share of the picture, and near the line before anything was pushed.
  const [, share, offLine] = /^Skin 1: (\S+) %.* whole skin read (\S+)\u00b0/.exec(await found.innerText())!;
  expect(Math.abs(Number(share) - 5.4)).toBeLessThan(1);
  expect(Math.abs(Number(offLine!.replace('\u2212', '-')))).toBeLessThan(12);
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^1\s*Isolate/ }).click();
  await expect(page.getByText('1 stroke says this, no strokes not this.')).toBeVisible();
  await stage.focus();
  await page.keyboard.press('Shift+G');
  await drag(page, [100, 700], [160, 720]);
  await expect(page.getByText('1 stroke says this, 1 stroke not this.')).toBeVisible();
  expect(faults).toEqual([]);
});

test('a curve over hue is bent by keys, by the mouse and on the picture; undone and kept', async ({ page }) => {
  const faults = watch(page);
  await newCorrection(page, 'courier');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Add an adjustment').selectOption('byHue');
  const point = page.getByRole('slider', { name: 'Turn point 3' });
  await point.focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('Shift+ArrowUp');
  await expect(point).toHaveAttribute('aria-valuetext', /hue 123\u00b0: \+20/);
  await expect.poll(() => sentence(page)).toContain('hue 123\u00b0 turned +20\u00b0');
  // Typed as well: the point that has the focus.
  await page.getByLabel('Turn point 3, typed').fill('12,5');
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toContain('hue 123\u00b0 turned +12.5\u00b0');
  await point.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('slider', { name: /^Turn point/ })).toHaveCount(7);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByRole('slider', { name: /^Turn point/ })).toHaveCount(6);
  // On the picture: a press on the jacket, upwards.
  await page.getByRole('button', { name: 'Saturation', exact: true }).last().click();
  await page.getByRole('button', { name: 'From picture' }).click();
  const before = await sentence(page);
  await drag(page, [892, 267], [892, 200]);
  await expect.poll(() => sentence(page)).not.toBe(before);
  expect(await sentence(page)).toMatch(/hue \d+\u00b0 saturation \+/);
  await saved(page);
  const now = await sentence(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toBe(now);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(() => sentence(page)).toBe(before);
  expect(faults).toEqual([]);
});

test('curves over level and saturation bend by mouse, by keys, from the picture, and come back after a reload', async ({
  page,
}) => {
  const faults = watch(page);
  const stage = await newCorrection(page, 'oven-mouth');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Add an adjustment').selectOption('byTone');
  const part = page.getByRole('region', { name: 'By level and saturation' });
  // By keys: darker middle tones lose saturation.
  const third = part.getByRole('slider', { name: 'Saturation by level point 3' });
  await third.press('Shift+ArrowDown');
  await third.press('ArrowLeft');
  await expect(third).toHaveAttribute('aria-valuetext', 'level 49 %: \u221210 %');
  await part.getByLabel('Saturation by level point 3, typed').fill('-25');
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toContain('saturation \u221225 % at level 49 %');
  // From the picture, with a hand that goes on moving: the press is what counts.
  await part.getByLabel('Curve').selectOption('levelBySat');
  await part.getByRole('button', { name: 'From picture' }).click();
  const [x, y] = await at(page, [600, 420]);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y - 40, { steps: 5 });
  await page.mouse.up();
  await page.mouse.move(x + 120, y + 30, { steps: 8 });
  await expect.poll(() => sentence(page)).toMatch(/and level \+10 % at saturation (2\d|3\d) %/);
  await expect(page.getByText('was not bent')).toHaveCount(0);
  const told = await sentence(page);
  await stage.focus();
  await page.keyboard.press('Control+z');
  await expect.poll(() => sentence(page)).not.toContain('at saturation');
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(() => sentence(page)).toBe(told);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toBe(told);
  expect(faults).toEqual([]);
});

test('evenness begins with the mean of the region, says its spread, is one undo; gamut care begins at work', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'proofing-table');
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+T');
  const [x, y] = await at(page, [520, 380]);
  await page.mouse.click(x, y);
  await expect(page.getByText(/^Skin 1: \d.* % of the picture\./)).toBeVisible({ timeout: 20_000 });
  await page.getByRole('button', { name: 'Take it' }).click();
  await page.getByLabel('Add an adjustment').selectOption('evenness');
  const spread = page.getByLabel('Spread of the region');
  await expect(spread).toHaveText(/hue [\d.]+\u00b0 \u2192 [\d.]+\u00b0/);
  const hues = async (): Promise<number[]> =>
    [...(await spread.textContent())!.matchAll(/([\d.]+)\u00b0/g)].map((m) => Number(m[1]));
  const strength = page.getByLabel('Evenness, typed');
  await strength.fill('100');
  await strength.press('Enter');
  // At full strength the deviation of hue falls by 40 % and more.
  await expect.poll(async () => ((v) => v[1]! / v[0]!)(await hues())).toBeLessThan(0.6);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(spread).toHaveCount(0);
  await page.getByLabel('Add an adjustment').selectOption('gamutCare');
  await expect.poll(() => sentence(page)).toContain('gamut care 100 %');
  await expect(page.getByLabel('Beyond the range')).toHaveText(/of the region l(ay|ies) beyond the range/);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toContain('gamut care 100 %');
  expect(faults).toEqual([]);
});

test('skin that cannot be trusted is said in words, in the readings and before a push', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'proofing-table');
  await expect(page.locator('[data-doubts]')).toHaveCount(0);
  // What a reading leaves out is shown on the picture, and is what the figure says.
  const first = page.locator('tr[data-patch]').first();
  const shows = first.getByRole('button', { name: /left out of .*: show where/ });
  await shows.press('Enter');
  const blue = page.locator('[data-left-out]');
  await expect(blue).toHaveAttribute('data-left-out', /^[1-9]\d*$/);
  const share = 100 * Number(await blue.getAttribute('data-left-out'));
  const all = Number(
    /of (\d+) pixels/.exec(
      await first
        .locator('td')
        .last()
        .evaluate((td) => (td.previousElementSibling as HTMLElement).title),
    )![1],
  );
  expect((share / all).toFixed(1)).toBe((await shows.innerText()).replace(' %', ''));
  await shows.press('Enter');
  await expect(blue).toHaveCount(0);
  await openBench(page, 'night-rack');
  const row = page.locator('tr[data-patch="Night baker, cheek"]');
  await expect(row.getByRole('img', { name: /^Too dark: at luma 1\d % its hue spreads by 1\d°/ })).toBeVisible();
  await page.getByRole('application').focus();
  await page.keyboard.press('n');
  await page.keyboard.press('e');
  await drag(page, [450, 250], [600, 450]);
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await expect(page.getByRole('region', { name: 'Bring to line' }).locator('[data-doubts]')).toContainText('Too dark');
  expect(faults).toEqual([]);
});
