/** Bring to line in all its ways: kinds, chroma, level, several people, over a clip. */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { encode } from 'fast-png';
import { ycbcrToRgb } from '../../src/core/color/ycbcr';
import { drag, offBy, openBench, saved, sentence, watch } from './helpers';

const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-bring-'));
test.afterAll(() => rmSync(dir, { recursive: true, force: true }));

const bring = (page: Page) => page.getByRole('button', { name: 'Bring to line', exact: true });
/** A number in a row of the readings: 2 is luma, 7 chroma. */
const read = async (page: Page, patch: string, cell: number): Promise<number> =>
  Number.parseFloat(await page.locator(`tr[data-patch="${patch}"] td`).nth(cell).innerText());
const undo = (page: Page): Promise<void> => page.getByRole('button', { name: 'Undo' }).click();

test('two people come to the line, each by a correction of their own; level and chroma too', async ({ page }) => {
  const faults = watch(page);
  const [left, right] = ['Left baker, cheek', 'Right baker, cheek'];
  await openBench(page, 'proofing-table');
  // By a quick hand: the shape is begun before the key is fitted.
  await page.keyboard.press('c');
  await drag(page, [380, 420], [430, 400], [480, 420], [530, 390]);
  await page.keyboard.press('e');
  await drag(page, [272, 165], [596, 530]);
  await expect.poll(() => sentence(page)).toContain('and inside Ellipse 1');
  await expect.poll(() => sentence(page)).toContain('hue is');
  await expect(page.locator('[data-correction]')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();

  await test.step('each by their own: the one that is there, and a new one, in one undo', async () => {
    await page.getByLabel('For whom').selectOption('each');
    await expect(page.getByRole('region', { name: 'Bring to line' })).toContainText('by a new correction');
    await expect(bring(page)).toBeEnabled();
    await bring(page).click();
    await expect(page.locator('[data-correction]')).toHaveCount(2);
    for (const p of [left, right]) await expect.poll(() => offBy(page, p)).toBeLessThan(0.2);
    await saved(page);
    await page.reload();
    for (const p of [left, right]) await expect.poll(() => offBy(page, p)).toBeLessThan(0.2);
    await undo(page);
    await expect(page.locator('[data-correction]')).toHaveCount(1);
    await expect.poll(() => offBy(page, right)).toBeGreaterThan(10);
    await expect.poll(() => offBy(page, left)).toBeGreaterThan(10);
  });

  await test.step('a curve by hue with chroma and level that are asked for', async () => {
    await page.getByRole('button', { name: /^3\s*Correct/ }).click();
    await page.getByLabel('Kind of push').selectOption('byHue');
    await page.getByLabel('Chroma kept').selectOption('to');
    await page.getByLabel('Chroma, typed').fill('33');
    await page.keyboard.press('Enter');
    await page.getByLabel('Level wanted').selectOption('to');
    await page.getByLabel('Level, typed').first().fill('48');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('region', { name: 'Bring to line' })).toContainText(/a bend of .* exposure/);
    await expect(bring(page)).toBeEnabled();
    await bring(page).click();
    await expect.poll(() => offBy(page, left)).toBeLessThan(0.2);
    await expect.poll(() => read(page, left, 2)).toBeGreaterThan(47.5);
    expect(await read(page, left, 2)).toBeLessThan(48.5);
    await expect.poll(async () => Math.abs((await read(page, left, 7)) / 33 - 1)).toBeLessThan(0.05);
    await undo(page);
    await expect.poll(() => offBy(page, left)).toBeGreaterThan(10);
  });

  await test.step('a press before the answer is kept, and takes what answers the newest choice', async () => {
    await page.getByLabel('Chroma kept').selectOption('within10');
    await page.getByLabel('Level wanted').selectOption('stays');
    await expect(page.getByRole('region', { name: 'Bring to line' })).toContainText(/a bend of/);
    await page.evaluate(() => {
      const box = document.querySelector('[aria-label="Bring to line"]')!;
      const kind = box.querySelector<HTMLSelectElement>('[aria-label="Kind of push"]')!;
      kind.value = 'turn';
      kind.dispatchEvent(new Event('change', { bubbles: true }));
      [...box.querySelectorAll('button')].find((b) => b.textContent === 'Bring to line')!.click();
    });
    await expect.poll(() => offBy(page, left)).toBeLessThan(0.2);
    await expect.poll(() => sentence(page)).toContain('hue turn');
    await undo(page);
    await expect.poll(() => offBy(page, left)).toBeGreaterThan(10);
  });
  expect(faults).toEqual([]);
});

test('skin that drifts is held on the line by keyframes, as one undo', async ({ page }) => {
  const faults = watch(page);
  const [W, H, N] = [160, 96, 20] as const;
  const folder = join(dir, 'drift');
  mkdirSync(folder);
  const files = Array.from({ length: N }, (_, f) => {
    // From 4 to 16 degrees off the line, not evenly.
    const deg = ((127 + 12 * Math.sin((f / (N - 1)) * 1.5)) * Math.PI) / 180;
    const skin = ycbcrToRgb(0.5, 0.12 * Math.cos(deg), 0.12 * Math.sin(deg)).map((v) => Math.round(255 * v));
    const data = new Uint8Array(W * H * 3);
    for (let i = 0; i < W * H; i++) data.set(Math.abs((i % W) - 80) < 40 ? skin : [90, 90, 90], 3 * i);
    const file = join(folder, `drift_${String(f + 1).padStart(4, '0')}.png`);
    writeFileSync(file, encode({ width: W, height: H, data, channels: 3 }));
    return file;
  });
  await page.goto('/');
  await page.getByRole('button', { name: 'Import a sequence' }).click();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Choose the pictures' }).click(),
  ]);
  await chooser.setFiles(files);
  await page.getByRole('dialog').getByRole('button', { name: 'Import', exact: true }).click();
  const stage = page.getByRole('application');
  await expect(page.locator('[data-frame]')).toContainText(`of 0\u2013${N - 1}`);
  const b = (await stage.boundingBox())!;
  const s = Math.min(b.width / W, b.height / H);
  const at = (x: number, y: number): [number, number] => [
    b.x + b.width / 2 + (x - W / 2) * s,
    b.y + b.height / 2 + (y - H / 2) * s,
  ];
  const pull = async (tool: string, from: [number, number], to: [number, number]): Promise<void> => {
    await stage.focus();
    await page.keyboard.press(tool);
    await page.mouse.move(...at(...from));
    await page.mouse.down();
    await page.mouse.move(...at(...to), { steps: 4 });
    await page.mouse.up();
  };
  await pull('e', [42, 10], [118, 86]);
  await pull('p', [70, 40], [90, 56]);
  const patch = await page.locator('tr[data-patch]').first().getAttribute('data-patch');
  await page.keyboard.press('Escape');
  await stage.focus();
  await page.keyboard.press('Alt+3');
  await page.getByRole('button', { name: 'Hold over the clip' }).click();
  await expect(page.getByText(/\d+ keys hold it over 20 frames/)).toBeVisible();
  const go = async (f: number): Promise<void> => {
    const box = page.getByLabel('Frame or timecode');
    await box.fill(String(f));
    await box.press('Enter');
    await expect(page.locator('[data-frame]')).toContainText(`frame ${f} of`);
    await expect(page.locator('[aria-busy="true"]')).toHaveCount(0);
  };
  for (const f of [0, 5, 11, 19]) {
    await go(f);
    await expect.poll(() => offBy(page, patch!)).toBeLessThan(0.8);
  }
  await undo(page);
  await expect.poll(() => offBy(page, patch!)).toBeGreaterThan(14);
  await go(0);
  await expect.poll(() => offBy(page, patch!)).toBeLessThan(6);
  expect(faults).toEqual([]);
});
