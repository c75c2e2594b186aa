/** A matte from a file as part of a region: chosen, changed, kept, undone, and the same in the terminal. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { decode, encode } from 'fast-png';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { openBench, saved, sentence, watch } from './helpers';

const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-matte-'));
const [W, H] = [1600, 900];
/** Left half empty, then levels; brightness and transparency differ. */
function file(name: string, w = W, h = H): string {
  const data = new Uint16Array(w * h * 2);
  for (let i = 0; i < w * h; i++) data.set([i % w < w / 2 ? 0 : (i * 131) % 65536, i % w < w / 4 ? 65535 : 0], 2 * i);
  const path = join(dir, name);
  writeFileSync(path, encode({ width: w, height: h, data, channels: 2, depth: 16 }));
  return path;
}
async function choose(page: Page, path: string): Promise<void> {
  await page.getByRole('button', { name: 'Part', exact: true }).click();
  const coming = page.waitForEvent('filechooser');
  await page.getByRole('menuitem', { name: 'A matte from a file' }).click();
  await (await coming).setFiles(path);
}
/** The matte that Hand-off writes. */
async function written(page: Page): Promise<Uint16Array> {
  await page.getByRole('link', { name: 'Hand-off' }).click();
  const card = page
    .locator('section, div')
    .filter({ has: page.getByRole('heading', { name: /^Matte, PNG/ }) })
    .last();
  const coming = page.waitForEvent('download');
  await card.getByRole('button', { name: 'Save the matte' }).click();
  return decode(readFileSync((await (await coming).path())!)).data as Uint16Array;
}

test('a matte from a file is a part of a region: kept, undone, the same in the terminal', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'courier');
  await page.keyboard.press('n');
  await choose(page, file('tall.png', 900, 1600));
  await expect(page.getByRole('alert').filter({ hasText: 'it is of another form' })).toBeVisible();
  await page.getByRole('alert').getByRole('button').first().click();
  const path = file('hero.png');
  await choose(page, path);
  await expect.poll(() => sentence(page)).toContain('inside the matte hero.png');
  const what = page.getByLabel('What of the matte counts');
  await expect(what).toHaveValue('alpha');
  await what.selectOption('luma');
  await expect(page.getByText('1600 × 900, 16 bit, number for number')).toBeVisible();
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Saturation, typed').fill('0');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toContain('inside the matte hero.png');
  const { data } = decode(readFileSync(path));
  const luma = Uint16Array.from({ length: W * H }, (_, i) => data[2 * i]!);
  expect(Buffer.compare(Buffer.from((await written(page)).buffer), Buffer.from(luma.buffer))).toBe(0);
  // The same project in the terminal.
  const coming = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the project' }).click();
  const project = join(dir, 'p.rowanleaf.json');
  await (await coming).saveAs(project);
  const out = join(dir, 'out');
  mkdirSync(out);
  const args = ['render', project, '--shot', 'Courier', '--input', 'demo/stills/courier.png', '--out', out];
  const cli = (...more: string[]): Buffer =>
    execFileSync(process.execPath, ['scripts/cli.mjs', ...args, '--what', 'matte', '--bits', '16', ...more], {
      stdio: 'pipe',
    });
  expect(() => cli()).toThrow(/--mattes DIR/);
  const png = cli('--mattes', dir).toString().trim().split('\n').at(-1)!;
  expect(Buffer.compare(Buffer.from(decode(readFileSync(png)).data.buffer), Buffer.from(luma.buffer))).toBe(0);
  writeFileSync(path, readFileSync(file('other.png', W / 2, H / 2)));
  expect(() => cli('--mattes', dir)).toThrow(/checksum differs/);
  // One step takes it out, and one brings it back with its picture.
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await page.getByRole('button', { name: /^1\s*Isolate/ }).click();
  await page.getByRole('button', { name: 'More for hero.png' }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await expect.poll(() => sentence(page)).toContain('the whole picture');
  await page.keyboard.press('Control+z');
  await expect.poll(() => sentence(page)).toContain('inside the matte hero.png');
  await saved(page);
  await page.reload();
  expect(Buffer.compare(Buffer.from((await written(page)).buffer), Buffer.from(luma.buffer))).toBe(0);
  expect(faults).toEqual([]);
});
