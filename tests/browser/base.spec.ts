/**
 * Look and base, in the real page: conversion, chart, helpers, adjustments by mouse and keys, scopes that answer
 * back, files of every kind.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { DEMO_SHOTS, at, openBench, sentence, settled, watch } from './helpers';

const stills = join(import.meta.dirname, '../data/stills');
const drag = async (page: Page, ...pts: [number, number][]): Promise<void> => {
  await page.mouse.move(...(await at(page, pts[0]!)));
  await page.mouse.down();
  for (const p of pts.slice(1)) await page.mouse.move(...(await at(page, p)), { steps: 4 });
  await page.mouse.up();
};
const number = async (page: Page, patch: string, column: number): Promise<number> =>
  Number(
    (await page.locator(`tr[data-patch="${patch}"] td`).nth(column).innerText())
      .replace('\u2212', '-')
      .replace(/[^0-9.-]/g, ''),
  );

test('a log shot is converted, its chart is solved in one step, and all of it is there after a reload', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'chart-call');
  await expect.poll(() => number(page, 'Strip, 18 % grey', 2)).toBeGreaterThan(35);
  await page.getByRole('button', { name: 'Conversion on or off' }).click();
  // Without it the picture is the log signal: black is far up.
  await expect.poll(() => number(page, 'Strip, black', 2)).toBeGreaterThan(22);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(() => number(page, 'Strip, black', 2)).toBeLessThan(20);
  await page.getByRole('application').focus();
  await page.keyboard.press('h');
  await drag(page, [169, 262], [757, 650]);
  await expect(page.getByText(/CIEDE2000: mean/)).toBeVisible();
  await page.getByRole('button', { name: 'Solve', exact: true }).click();
  await expect(page.getByText(/CIEDE2000: mean/)).toContainText(/7\.\d in the picture as it came, 0\.\d\d now/);
  await expect(page.locator('[data-correction="Base"]')).toBeVisible();
  // The base stands on the camera side: above the conversion.
  const [base, conversion] = await Promise.all([
    page.locator('[data-correction="Base"]').boundingBox(),
    page.getByRole('button', { name: /^Conversion ACEScct/ }).boundingBox(),
  ]);
  expect(base!.y).toBeLessThan(conversion!.y);
  await page.reload();
  await expect(page.getByText(/CIEDE2000: mean/)).toContainText(/0\.\d\d now/);
  await page.getByRole('button', { name: 'Readings', exact: true }).click();
  await expect.poll(async () => Math.abs(await number(page, 'Assistant, cheek', 5))).toBeLessThan(12);
  expect(faults).toEqual([]);
});

test('a corner of the chart moves by keys; solving is one undo', async ({ page }) => {
  await openBench(page, 'chart-call');
  await page.keyboard.press('h');
  await drag(page, [169, 262], [757, 650]);
  const corner = page.getByRole('button', { name: 'Chart, left top corner' });
  await corner.focus();
  for (let i = 0; i < 12; i++) await page.keyboard.press('Shift+ArrowRight');
  // Pulled that far, the grid does not lie on the chart any more: that is said, and nothing is solved.
  await expect(page.getByText(/What lies under the grid is not the chart/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Solve', exact: true })).toBeDisabled();
  for (let i = 0; i < 12; i++) await page.keyboard.press('Shift+ArrowLeft');
  await page.getByRole('button', { name: 'Solve', exact: true }).click();
  await expect(page.locator('[data-correction="Base"]')).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-correction="Base"]')).toHaveCount(0);
});

test(
  'base adjustments by keyboard: add, type, reorder, copy, paste, rename, reset, switch off; helpers ' +
    'set ordinary values',
  async ({ page }) => {
    await openBench(page, 'night-rack');
    await page.keyboard.press('m');
    // What was found for another helper is not to be set while the new one is looked for.
    const take = page.getByRole('button', { name: 'Set', exact: true });
    await expect(take).toBeEnabled();
    const open = await page.getByLabel('Helper', { exact: true }).evaluate(async (el: HTMLSelectElement) => {
      el.value = 'points';
      el.dispatchEvent(new Event('change', { bubbles: true }));
      await new Promise((done) => queueMicrotask(() => done(null)));
      return !el.parentElement!.querySelector('button')!.disabled;
    });
    expect(open).toBe(false);
    await take.click();
    await expect.poll(() => sentence(page)).toContain('black and white point');
    await page.getByLabel('Add an adjustment').selectOption('exposure');
    const heads = page.locator('section > header[aria-label*="Alt and arrows"]');
    const names = () => heads.evaluateAll((l) => l.map((e) => e.getAttribute('aria-label')!.split(':')[0]));
    expect(await names()).toEqual([
      'Exposure',
      'Temperature and tint',
      'Black and white point',
      'Contrast',
      'Wheels',
      'Saturation',
      'Exposure',
    ]);
    await heads.last().focus();
    await page.keyboard.press('F2');
    await page.getByLabel('Name of the adjustment').fill('Lift of light');
    await page.keyboard.press('Enter');
    await page.getByLabel('Exposure, typed').fill('1.5');
    await page.keyboard.press('Enter');
    await expect.poll(() => sentence(page)).toContain('Lift of light');
    await heads.last().focus();
    await page.keyboard.press('Alt+ArrowUp');
    expect((await names())[5]).toBe('Lift of light');
    // Twice as much light again, and again without the second.
    await expect.poll(() => number(page, 'Cap (grey)', 2)).toBeGreaterThan(60);
    await settled(page);
    const once = await number(page, 'Cap (grey)', 2);
    await heads.nth(5).focus();
    await page.keyboard.press('Control+c');
    await page.keyboard.press('Control+v');
    expect((await names()).slice(5)).toEqual(['Lift of light', 'Lift of light', 'Saturation']);
    await expect.poll(() => number(page, 'Cap (grey)', 2)).toBeGreaterThan(once + 5);
    await page.getByRole('button', { name: 'Lift of light on or off' }).last().click();
    await expect.poll(async () => Math.abs((await number(page, 'Cap (grey)', 2)) - once)).toBeLessThan(1);
    await page.getByRole('button', { name: 'More for Lift of light' }).first().click();
    await page.getByRole('menuitem', { name: 'Reset' }).click();
    await expect.poll(() => sentence(page)).not.toContain('Lift of light');
    // A correction goes by keys too.
    const card = page.locator('[data-correction="Base"]');
    await card.focus();
    await page.keyboard.press('Control+c');
    await page.keyboard.press('Control+v');
    await expect(page.locator('[data-correction]')).toHaveCount(2);
    await page.keyboard.press('F2');
    await page.getByLabel('Name of the correction').fill('First');
    await page.keyboard.press('Enter');
    await page.locator('[data-correction="First"]').focus();
    await page.keyboard.press('Alt+ArrowDown');
    expect(
      await page
        .locator('[data-correction]')
        .evaluateAll((l) => l.map((e) => (e as HTMLElement).dataset['correction'])),
    ).toEqual(['Base 1', 'First']);
  },
);

test('a curve gets its point from the picture; a freeform patch is drawn by keys', async ({ page }) => {
  await openBench(page, 'courier');
  await page.keyboard.press('n');
  await page.keyboard.press('Alt+3');
  await page.getByLabel('Add an adjustment').selectOption('curves');
  await page.getByRole('button', { name: 'From picture' }).click();
  await page.mouse.click(...(await at(page, [960, 560])));
  const point = page.getByRole('slider', { name: /curve point 2|point 2/ });
  await expect(point).toHaveAttribute('aria-valuetext', /^\d\d\.\d % to \d\d\.\d %/);
  await point.focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowUp');
  await expect.poll(() => sentence(page)).toContain('curves');
  await page.getByRole('application').focus();
  await page.keyboard.press('u');
  await page.keyboard.press('Enter');
  for (const keys of [
    ['ArrowLeft'],
    ['ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown'],
    ['ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowRight'],
  ]) {
    for (const k of keys) await page.keyboard.press(`Shift+${k}`);
    await page.keyboard.press('Enter');
  }
  await page.keyboard.press('Enter');
  await expect(page.locator('tr[data-patch="Patch 1"]')).toContainText('%');
  await page.getByLabel('Kind of Patch 1').selectOption('grey');
  await expect(page.locator('tr[data-patch="Patch 1"]')).toContainText(/4\d\u20135\d|4\d\u20134\d/);
});

test('scopes: kinds, parts and ghosts are chosen; a mark in one shows in the picture and becomes a key', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'courier');
  await page.getByLabel('Scope 3', { exact: true }).selectOption('parade');
  await page.getByLabel('Scope 2', { exact: true }).selectOption('histogram');
  await page.getByLabel('Scope 3 over').selectOption({ label: 'Jacket' });
  await page.getByRole('button', { name: 'Options of Vectorscope' }).click();
  await page.getByLabel('Ghost').selectOption({ label: 'Oven mouth' });
  await page.getByLabel('Zoom of the vectorscope').selectOption('2');
  await page.getByLabel('Scale').selectOption('full10');
  await page.keyboard.press('Escape');
  const ink = (name: RegExp) =>
    page.getByRole('img', { name }).evaluate((el) => {
      const c = el as HTMLCanvasElement;
      const d = c.getContext('2d')!.getImageData(0, 0, c.width, c.height).data;
      let n = 0;
      let ghost = 0;
      for (let i = 0; i < d.length; i += 4) {
        if (d[i]! > 150) n++;
        if (d[i + 2]! > d[i]! + 25) ghost++;
      }
      return { n, ghost };
    });
  await expect.poll(async () => (await ink(/^Vectorscope/)).ghost).toBeGreaterThan(300);
  await expect.poll(async () => (await ink(/^Parade, RGB, Jacket/)).n).toBeGreaterThan(50);
  const v = (await page.getByRole('img', { name: /^Vectorscope/ }).boundingBox())!;
  const V = (x: number, y: number): [number, number] => [v.x + v.width * x, v.y + v.height * y];
  const bright = () =>
    page
      .locator('main canvas')
      .first()
      .evaluate((el) => {
        const c = el as HTMLCanvasElement;
        const d = c.getContext('2d')!.getImageData(0, 0, c.width, c.height).data;
        let n = 0;
        for (let i = 0; i < d.length; i += 4) if (d[i]! > 110) n++;
        return n;
      });
  const whole = await bright();
  // Round the yellow of the jacket, left of the middle.
  await page.mouse.move(...V(0.02, 0.3));
  await page.mouse.down();
  for (const [x, y] of [
    [0.35, 0.3],
    [0.35, 0.5],
    [0.02, 0.5],
    [0.02, 0.32],
  ] as const)
    await page.mouse.move(...V(x, y), { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText('a part of the vectorscope')).toBeVisible();
  await expect.poll(bright).toBeLessThan(0.75 * whole);
  await page.getByRole('button', { name: 'Key it' }).click();
  await expect.poll(() => sentence(page)).toMatch(/where hue is 1[4-8]\d/);
  // By keys: a band in the histogram.
  await page.getByRole('img', { name: /^Histogram/ }).focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowUp');
  await expect(page.getByText(/Marked: luma/)).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText(/Clipped: low/)).toBeVisible();
  // False colours have a legend with values.
  await page.getByRole('application').focus();
  await page.keyboard.press('v');
  await expect(page.getByRole('note')).toContainText('skin, 40\u201370 %');
  expect(faults).toEqual([]);
});

test(
  'files of every kind come in with their bits, many at once and with a way to stop; a log curve is ' + 'typed in',
  async ({ page }) => {
    const faults = watch(page);
    await page.goto('/shots');
    await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
    const names = ['s10.avif', 's8.webp', 't16_tiles.tif', 'eh_piz.exr', 'o6.jpg', 'cmyk.tif', 'pq.avif'];
    await page
      .locator('input[type=file]')
      .first()
      .setInputFiles(names.map((n) => join(stills, n)));
    for (const [shot, said] of [
      ['s10', '10 bit AVIF'],
      ['s8', '8 bit WEBP'],
      ['t16_tiles', '16 bit TIFF'],
      ['eh_piz', 'floating point EXR'],
      ['o6', '9 \u00d7 13'],
    ])
      await expect(page.locator(`[data-shot="${shot}"]`)).toContainText(said!);
    await expect(page.getByRole('alert').filter({ hasText: 'cmyk.tif' })).toContainText('Convert it to RGB');
    await expect(page.getByLabel('Encoding of pq')).toHaveValue('pq');
    await expect(page.getByLabel('Encoding of eh_piz')).toHaveValue('linear709');
    // Cancelling ends what waits and what is being decoded; what came in stays.
    const many = Array.from({ length: 30 }, (_, i) => ({
      name: `n${i}.png`,
      mimeType: 'image/png',
      buffer: readFileSync(join(stills, '../../../demo/stills/night-rack.png')),
    }));
    await page.locator('input[type=file]').first().setInputFiles(many.slice(0, 12));
    await page.getByRole('button', { name: 'Cancel', exact: true }).click();
    await expect(page.getByText('cancelled').first()).toBeVisible();
    const count = await page.locator('[data-shot]').count();
    expect(count).toBeGreaterThanOrEqual(12);
    expect(count).toBeLessThan(24);
    await page.getByLabel('Encoding of t16_tiles').selectOption('+log');
    await page.getByLabel('Log side slope').fill('x');
    await expect(page.getByText(/Not yet: logSideSlope is not a number/)).toBeVisible();
    await page.getByLabel('Log side slope').fill('0.25');
    await expect(page.getByText(/an 18 % grey card \d\d\.\d\d %/)).toBeVisible();
    await page.getByLabel('Name', { exact: true }).fill('Our camera');
    await page.getByRole('button', { name: 'Use it for t16_tiles' }).click();
    await expect(page.getByLabel('Encoding of t16_tiles').locator('option:checked')).toHaveText('Our camera');
    await page.reload();
    await expect(page.getByLabel('Encoding of t16_tiles').locator('option:checked')).toHaveText('Our camera');
    expect(faults).toEqual([]);
  },
);

test('adjustments and corrections are reordered by dragging, each as one step, and nothing is refused', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'night-rack');
  await page.keyboard.press('m');
  const heads = page.locator('section > header[aria-label*="Alt and arrows"]');
  await expect(heads).toHaveCount(6);
  const names = () => heads.evaluateAll((l) => l.map((e) => e.getAttribute('aria-label')!.split(':')[0]));
  const pull = async (from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> => {
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(from.x + 2, from.y + 12, { steps: 4 });
    await page.mouse.move(to.x, to.y, { steps: 12 });
    await page.waitForTimeout(300);
    await page.mouse.up();
  };
  const grip = (await heads.nth(0).locator('.grip').boundingBox())!;
  const fourth = (await heads.nth(3).boundingBox())!;
  await pull({ x: grip.x + 6, y: grip.y + 8 }, { x: fourth.x + 10, y: fourth.y + 22 });
  await expect
    .poll(names)
    .toEqual(['Temperature and tint', 'Black and white point', 'Contrast', 'Exposure', 'Wheels', 'Saturation']);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await names())[0]).toBe('Exposure');
  await page.getByRole('application').focus();
  await page.keyboard.press('n');
  const cards = page.locator('[data-correction]');
  await expect(cards).toHaveCount(2);
  const [a, b] = [(await cards.nth(0).boundingBox())!, (await cards.nth(1).boundingBox())!];
  await pull({ x: a.x + 90, y: a.y + 14 }, { x: b.x + 92, y: b.y + 34 });
  await expect
    .poll(() => cards.evaluateAll((l) => l.map((e) => (e as HTMLElement).dataset['correction'])))
    .toEqual(['Correction 1', 'Base']);
  expect(faults).toEqual([]);
});
