/** Versions of a shot: kept, compared with in a wipe, gone back to; by mouse and keys, undone, kept over a reload. */
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { newCorrection, openBench, saved, sentence, settled, watch } from './helpers';

/** The picture as it stands, as a number of a coarse grid. */
const looks = async (page: Page): Promise<string> => {
  await settled(page);
  return page.evaluate(() => {
    const c = document.querySelector<HTMLCanvasElement>('[role="application"] canvas')!;
    const d = c.getContext('2d')!.getImageData(0, 0, c.width, c.height).data;
    let h = 0;
    for (let i = 0; i < d.length; i += 4 * 997) h = (Math.imul(h, 31) + d[i]! + 7 * d[i + 1]! + 13 * d[i + 2]!) | 0;
    return String(h);
  });
};

test('a version is kept, wiped against, gone back to in one undo', async ({ page }) => {
  const faults = watch(page);
  await newCorrection(page, 'courier');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Saturation, typed').fill('20');
  await page.getByLabel('Saturation, typed').press('Enter');
  await expect.poll(() => sentence(page)).toContain('saturation 20 %');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  const name = page.getByLabel('Name of a version');
  await name.fill('calm');
  await name.press('Enter');
  const row = page.getByRole('listitem').filter({ hasText: 'calm' });
  await expect(row).toBeVisible();

  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Saturation, typed').fill('180');
  await page.getByLabel('Saturation, typed').press('Enter');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await expect.poll(() => sentence(page)).toContain('saturation 180 %');
  const strong = await looks(page);
  await row.getByRole('button', { name: 'Compare' }).click();
  const against = page.getByLabel('Compared with');
  await expect(against).toHaveValue(/^version:/);
  const wiped = await looks(page);
  expect(wiped).not.toBe(strong);
  await against.selectOption('converted');
  await expect(against).toHaveValue('converted');
  expect(await looks(page)).not.toBe(wiped);
  await row.getByRole('button', { name: 'Compare' }).click();
  await expect(against).toHaveValue(/^version:/);
  expect(await looks(page)).toBe(wiped);
  await page.getByRole('button', { name: 'Wipe' }).first().click();
  await expect(against).toHaveCount(0);
  expect(await looks(page)).toBe(strong);

  await page.getByRole('button', { name: 'Back to calm' }).focus();
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toContain('saturation 20 %');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(() => sentence(page)).toContain('saturation 180 %');
  await saved(page);
  await page.reload();
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await expect(row).toBeVisible();
  await page.getByRole('button', { name: 'Remove the version calm' }).click();
  await expect(row).toHaveCount(0);
  expect(faults).toEqual([]);
});

test('a frame that is held stands beside other shots, and over a reload; another shot does as it stands', async ({
  page,
}) => {
  const faults = watch(page);
  /** Mean of the picture's left half and of its right one, of 255. */
  const halves = (): Promise<number[]> =>
    page.evaluate(() => {
      const c = document.querySelector<HTMLCanvasElement>('[role="application"] canvas');
      if (!c) return [];
      const { width: w, height: h } = c;
      const d = c.getContext('2d')!.getImageData(0, h / 2 - 20, w, 40).data;
      const sum = [0, 0, 0, 0, 0, 0];
      for (let i = 0; i < d.length; i += 4)
        for (let k = 0; k < 3; k++) sum[((i / 4) % w < w / 2 ? 0 : 3) + k]! += d[i + k]! / (w * 20);
      return sum.map(Math.round);
    });
  await newCorrection(page, 'courier');
  await page.getByRole('button', { name: /^4\s*Check/ }).click();
  await page.getByRole('application').focus();
  await page.keyboard.press('s');
  await page.getByLabel('Compared with').selectOption('converted');
  // Nothing is corrected yet: both sides show the courier.
  await expect.poll(async () => (await halves()).slice(0, 3).join() === (await halves()).slice(3).join()).toBe(true);
  const courier = (await halves()).slice(0, 3);
  await page.getByRole('button', { name: 'Hold this frame' }).click();
  await expect(page.getByText('Courier is held as it looks now').first()).toBeVisible();
  await expect(page.getByLabel('Compared with')).toHaveValue('held');

  await openBench(page, 'night-rack');
  await expect.poll(async () => (await halves()).slice(0, 3)).toEqual(courier);
  const night = (await halves()).slice(3);
  expect(night).not.toEqual(courier);
  await saved(page);
  await page.reload();
  await expect.poll(async () => [...(await halves())]).toEqual([...courier, ...night]);
  await expect(page.getByLabel('Compared with').locator('option', { hasText: 'held: Courier' })).toHaveCount(1);

  // By the keyboard: what is looked at now is held, and another shot stands beside it. The clip has another size.
  await page.getByLabel('Compared with').selectOption({ label: 'Crossing' });
  await expect.poll(async () => (await halves()).slice(0, 3)).not.toEqual(courier);
  expect((await halves()).slice(3)).toEqual(night);
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+H');
  await expect.poll(async () => [...(await halves())]).toEqual([...night, ...night]);
  await page.keyboard.press('s');
  expect(faults).toEqual([]);
});

/** Mean chroma of the four quarters of the view, right top first, clockwise. */
const quarters = (page: Page): Promise<number[]> =>
  page.evaluate(() => {
    const c = document.querySelector<HTMLCanvasElement>('[role="application"] canvas')!;
    const { width: w, height: h } = c;
    const d = c.getContext('2d')!.getImageData(0, 0, w, h).data;
    const sum = [0, 0, 0, 0];
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        // Pixels near the edges of the quarters belong to none.
        if (Math.abs(x - w / 2) < 4 || Math.abs(y - h / 2) < 4) continue;
        const i = 4 * (y * w + x);
        const q = x > w / 2 ? (y < h / 2 ? 0 : 1) : y < h / 2 ? 3 : 2;
        sum[q]! += (Math.max(d[i]!, d[i + 1]!, d[i + 2]!) - Math.min(d[i]!, d[i + 1]!, d[i + 2]!)) / ((w * h) / 4);
      }
    return sum;
  });
/** Which quarters have colour. */
const coloured = async (page: Page): Promise<number[]> =>
  (await quarters(page)).flatMap((v, i) => (v > 3 ? [i] : v < 0.5 ? [] : [NaN]));

test('a wipe is moved and turned by mouse and by keys; before and after blink', async ({ page }) => {
  const faults = watch(page);
  await newCorrection(page, 'courier');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Saturation, typed').fill('0');
  await page.getByLabel('Saturation, typed').press('Enter');
  const stage = page.getByRole('application');
  await stage.focus();
  await expect.poll(() => coloured(page)).toEqual([]);
  await page.keyboard.press('w');
  await expect.poll(() => coloured(page)).toEqual([2, 3]);
  const edge = page.getByRole('slider', { name: /^Wipe: before on one side/ });
  const knob = page.getByRole('slider', { name: 'Wipe, turn in degrees' });
  // By the mouse: the knob from above the middle to its right, where it is caught at a right angle.
  const box = (await knob.boundingBox())!;
  const middle = [box.x + box.width / 2, box.y + box.height / 2 + 72] as const;
  await page.mouse.move(middle[0], middle[1] - 72);
  await page.mouse.down();
  await page.mouse.move(middle[0] + 60, middle[1] - 40);
  await page.mouse.move(middle[0] + 90, middle[1] + 2);
  await page.mouse.up();
  await expect(knob).toHaveAttribute('aria-valuenow', '90');
  await expect.poll(() => coloured(page)).toEqual([0, 3]);
  // By keys: on to half a turn, moved to where nothing is before, and home.
  await knob.focus();
  for (let i = 0; i < 6; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect(knob).toHaveAttribute('aria-valuenow', '-180');
  await expect.poll(() => coloured(page)).toEqual([0, 1]);
  await edge.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect(edge).toHaveAttribute('aria-valuenow', '100');
  await expect.poll(() => coloured(page)).toEqual([]);
  await page.keyboard.press('Home');
  await expect.poll(() => coloured(page)).toEqual([2, 3]);
  await expect(knob).toHaveAttribute('aria-valuenow', '0');
  // In turn: all of it before, all of it after, and before again.
  await stage.focus();
  await page.keyboard.press('Shift+W');
  await expect.poll(() => coloured(page)).toEqual([0, 1, 2, 3]);
  await expect.poll(() => coloured(page)).toEqual([]);
  await expect.poll(() => coloured(page)).toEqual([0, 1, 2, 3]);
  await expect(edge).toHaveCount(0);
  await page.getByRole('button', { name: 'Blink' }).first().click();
  await expect.poll(() => coloured(page)).toEqual([]);
  expect(faults).toEqual([]);
});
