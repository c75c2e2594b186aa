/** Strokes and freeforms on the picture: painted, drawn, changed by mouse and by keys, kept over a reload. */
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { drag, openBench, saved, sentence, watch } from './helpers';
import type { Pt } from './helpers';

/** Mean of the matte of the chosen correction as its card shows it, 0..255. */
const thumb = (page: Page, name: string): Promise<number> =>
  page.locator(`[data-correction="${name}"] canvas`).evaluate((el: HTMLCanvasElement) => {
    const { data } = el.getContext('2d')!.getImageData(0, 0, el.width, el.height);
    let sum = 0;
    for (let i = 0; i < data.length; i += 4) sum += data[i]!;
    return (4 * sum) / data.length;
  });

test('a face is painted: it spreads up to its edge, more strokes change it, all of it undone and kept', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  const stage = page.getByRole('application');
  await stage.focus();
  await page.keyboard.press('n');
  await expect(page.locator('[data-correction="Correction 1"]')).toBeVisible();
  await stage.focus();
  await page.keyboard.press('g');
  const keep: [Pt, Pt][] = [
    [
      [433, 284],
      [592, 272],
    ],
    [
      [410, 420],
      [478, 557],
    ],
    [
      [638, 443],
      [638, 511],
    ],
    [
      [547, 603],
      [604, 614],
    ],
  ];
  await drag(page, ...keep[0]!);
  await expect.poll(() => sentence(page)).toContain('like colour spreads from the strokes');
  await expect.poll(() => sentence(page)).toContain('tidied by edge fit');
  for (const s of keep.slice(1)) await drag(page, ...s);
  await expect(page.getByText('4 strokes say this, no strokes not this.')).toBeVisible();
  await expect.poll(() => thumb(page, 'Correction 1')).toBeGreaterThan(4);
  await page.keyboard.press('Shift+G');
  await drag(page, [228, 170], [273, 400]);
  await drag(page, [775, 215], [820, 420]);
  await expect(page.getByText('4 strokes say this, 2 strokes not this.')).toBeVisible();
  await page.keyboard.press('Escape');
  // What tells the face from the wall of its hue is said, and how well.
  await expect(page.locator('[data-told]')).toContainText(
    /(Hue|Saturation|Luma)( and \w+)? (mostly )?(separates?|helps?)|These two share/,
  );
  // A face is a small part of the frame: neither nothing nor the wall of its colour.
  await expect.poll(() => thumb(page, 'Correction 1')).toBeLessThan(40);
  expect(await thumb(page, 'Correction 1')).toBeGreaterThan(4);
  // One stroke is one step; a stroke on the picture is turned round and removed by keys.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('4 strokes say this, 1 stroke not this.')).toBeVisible();
  await page.getByRole('button', { name: 'Redo' }).click();
  await page.getByRole('button', { name: /^Leave stroke 6/ }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText('5 strokes say this, 1 stroke not this.')).toBeVisible();
  await page.getByRole('button', { name: /^Keep stroke 6/ }).focus();
  await page.keyboard.press('Delete');
  await expect(page.getByText('4 strokes say this, 1 stroke not this.')).toBeVisible();
  await saved(page);
  await page.reload();
  await expect(page.getByText('4 strokes say this, 1 stroke not this.')).toBeVisible();
  await expect.poll(() => thumb(page, 'Correction 1')).toBeGreaterThan(4);
  expect(faults).toEqual([]);
});

test('a stroke by keyboard alone', async ({ page }) => {
  await openBench(page, 'courier');
  const stage = page.getByRole('application');
  await stage.focus();
  await page.keyboard.press('n');
  await stage.focus();
  await page.keyboard.press('g');
  for (const k of ['Enter', 'Enter', 'ArrowRight', 'ArrowRight', 'ArrowDown', 'Enter']) await page.keyboard.press(k);
  await expect(page.getByText('1 stroke says this, no strokes not this.')).toBeVisible();
  await expect.poll(() => sentence(page)).toContain('like colour spreads');
});

test('a freeform is drawn point by point; points move, come and go, and round it off', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  const stage = page.getByRole('application');
  await stage.focus();
  await page.keyboard.press('n');
  await stage.focus();
  await page.keyboard.press('d');
  const at = async ([x, y]: Pt): Promise<[number, number]> => {
    const b = (await stage.boundingBox())!;
    const s = Math.min(b.width / 1600, b.height / 900);
    return [b.x + b.width / 2 + (x - 800) * s, b.y + b.height / 2 + (y - 450) * s];
  };
  const corners: Pt[] = [
    [380, 250],
    [700, 250],
    [700, 620],
    [380, 620],
  ];
  for (const p of corners) {
    await page.mouse.click(...(await at(p)));
  }
  await page.mouse.dblclick(...(await at([340, 430])));
  await expect.poll(() => sentence(page)).toContain('inside Freeform 1');
  await expect.poll(() => thumb(page, 'Correction 1')).toBeGreaterThan(15);
  const point = (i: number) => page.getByRole('button', { name: `Freeform 1, point ${i}: Delete removes it` });
  await expect(point(5)).toBeVisible();
  // By keys: a point goes, and one comes on the line.
  await point(5).focus();
  await page.keyboard.press('Delete');
  await expect(point(5)).toBeHidden();
  const fresh = page.getByRole('button', { name: 'Freeform 1, new point after 1' });
  await fresh.focus();
  await page.keyboard.press('ArrowUp');
  await expect(point(5)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(point(5)).toBeHidden();
  const was = await thumb(page, 'Correction 1');
  await drag(page, [700, 620], [1100, 850]);
  await expect.poll(() => thumb(page, 'Correction 1')).toBeGreaterThan(was + 5);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toContain('inside Freeform 1');
  await expect(point(4)).toBeVisible();
  expect(faults).toEqual([]);
});
