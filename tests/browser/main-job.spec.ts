/** The main job as a person does it: by mouse, by keyboard, over a reload, into files. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import type { Download, Page } from '@playwright/test';
import { decode } from 'fast-png';
import { DEMO_SHOTS, at, drag, offBy, offLine, openBench, saved, sentence, watch } from './helpers';

const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-browser-'));
test.afterAll(() => rmSync(dir, { recursive: true, force: true }));

async function download(page: Page, button: string): Promise<{ file: string; name: string }> {
  const [d] = await Promise.all<[Promise<Download>, Promise<void>]>([
    page.waitForEvent('download', { timeout: 60_000 }),
    page.getByRole('button', { name: button }).click(),
  ] as never);
  const file = join(dir, d.suggestedFilename());
  await d.saveAs(file);
  return { file, name: d.suggestedFilename() };
}

test('a face comes to the line with the mouse, survives a reload, and goes out in files', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'proofing-table');
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
  const before = await offLine(page, 'Left baker, cheek');
  expect(before).toBeGreaterThan(10);

  await test.step('isolate: a key by a stroke, an ellipse round it', async () => {
    await page.keyboard.press('c');
    await drag(page, [380, 420], [430, 400], [480, 420], [530, 390]);
    await expect
      .poll(() => sentence(page))
      .toMatch(/where hue is \d+–\d+° , saturation|where hue is \d+–\d+°, saturation/);
    await page.keyboard.press('e');
    await drag(page, [272, 165], [596, 530]);
    await expect.poll(() => sentence(page)).toContain('and inside Ellipse 1');
  });

  await test.step('ranges can be opened and closed separately', async () => {
    await page.getByRole('button', { name: 'Key 1', exact: true }).click();
    await page.getByRole('button', { name: 'Limit by luma' }).click();
    await expect.poll(() => sentence(page)).not.toContain('luma');
    await page.getByLabel('Hue to, typed').fill('160');
    await page.keyboard.press('Enter');
    await page.getByRole('slider', { name: 'Hue to' }).press('Shift+ArrowRight');
    await expect(page.getByLabel('Hue to, typed')).toHaveValue('170°');
  });

  await test.step('tidy', async () => {
    await page.getByRole('button', { name: /^2\s*Tidy/ }).click();
    await page.getByLabel('Feather, typed').fill('6,5');
    await page.keyboard.press('Enter');
    await page.getByRole('slider', { name: 'Floor' }).press('ArrowRight');
    await expect
      .poll(() => sentence(page))
      .toMatch(/tidied by floor [01] % and feather 6\.5 px|tidied by feather 6\.5 px/);
  });

  await test.step('bring to line', async () => {
    await page.getByRole('button', { name: /^3\s*Correct/ }).click();
    await expect(page.getByText(/it comes to/)).toBeVisible();
    await page.getByRole('button', { name: 'Bring to line' }).click();
    await expect.poll(() => offBy(page, 'Left baker, cheek')).toBeLessThan(0.3);
    expect(Math.abs(await offLine(page, 'Right baker, cheek'))).toBeGreaterThan(10);
    await expect.poll(() => sentence(page)).toContain('balance');
  });

  await test.step('check: the surround did not move', async () => {
    await page.keyboard.press('Alt+4');
    await expect(page.locator('[data-surround="0"]')).toContainText('The surround did not move');
    for (const mode of ['Cut-out', 'Matte', 'Tint', 'Change', 'Picture']) {
      await page.getByRole('button', { name: mode, exact: true }).first().click();
      await expect(page.getByRole('toolbar').getByRole('button', { name: mode, exact: true })).toHaveAttribute(
        'aria-pressed',
        'true',
      );
    }
    await page.keyboard.press('w');
    await expect(page.getByRole('slider', { name: /^Wipe: before/ })).toBeVisible();
    await page.keyboard.press('w');
  });

  await test.step('undo and redo, one step a gesture', async () => {
    await page.keyboard.press('Control+z');
    await expect.poll(() => offLine(page, 'Left baker, cheek')).toBeCloseTo(before, 0);
    await page.keyboard.press('Control+Shift+z');
    await expect.poll(() => offBy(page, 'Left baker, cheek')).toBeLessThan(0.3);
  });

  const told = await sentence(page);
  await test.step('reload: everything is where it was', async () => {
    await saved(page);
    await page.reload();
    await expect.poll(() => sentence(page), { timeout: 30_000 }).toBe(told);
    await expect.poll(() => offBy(page, 'Left baker, cheek'), { timeout: 30_000 }).toBeLessThan(0.3);
    await expect(page.locator('[data-surround="0"]')).toBeVisible();
  });

  await test.step('files, and the same numbers as the command line', async () => {
    await page.getByRole('link', { name: 'Hand-off' }).click();
    await expect(page.getByLabel('Left out')).toContainText('Ellipse 1 left out');
    await expect(page.getByLabel('Error of the table')).toContainText('where corrections act');
    const picture = await download(page, 'Save the picture');
    const matte = await download(page, 'Save the matte');
    const table = await download(page, 'Save the table');
    const project = await download(page, 'Save the project');
    expect([picture.name, matte.name, table.name, project.name]).toEqual([
      'proofing-table.corrected.png',
      'proofing-table.matte-correction-1.png',
      'proofing-table.33.cube',
      'small-hours.rowanleaf.json',
    ]);
    execFileSync(process.execPath, [
      'scripts/cli.mjs',
      'render',
      project.file,
      '--shot',
      'Proofing table',
      '--input',
      'demo/stills/proofing-table.png',
      '--out',
      join(dir, 'cli'),
      '--what',
      'picture,matte',
      '--bits',
      '16',
    ]);
    const [a, b] = [readFileSync(picture.file), readFileSync(join(dir, 'cli/proofing-table.corrected.png'))].map((x) =>
      decode(x),
    );
    expect(a!.depth).toBe(16);
    // Two threads over shared memory in the browser, one thread in Node: the same kernels, the same bits.
    expect(Buffer.compare(Buffer.from(a!.data.buffer as ArrayBuffer), Buffer.from(b!.data.buffer as ArrayBuffer))).toBe(
      0,
    );
    const [m, n] = [readFileSync(matte.file), readFileSync(join(dir, 'cli/proofing-table.matte-correction-1.png'))].map(
      (x) => decode(x),
    );
    expect(Buffer.compare(Buffer.from(m!.data.buffer as ArrayBuffer), Buffer.from(n!.data.buffer as ArrayBuffer))).toBe(
      0,
    );
    expect(readFileSync(table.file, 'utf8')).toMatch(/^# Made by Rowanleaf[\s\S]*LUT_3D_SIZE 33\n/);
  });

  await test.step('a project file opens again', async () => {
    await page.getByRole('link', { name: 'Shots' }).click();
    await page.locator('[data-shot="Courier"]').getByRole('button', { name: 'Remove Courier' }).click();
    await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS - 1);
    await page.locator('input[type=file]').nth(1).setInputFiles(join(dir, 'small-hours.rowanleaf.json'));
    await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS);
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS - 1);
  });
  expect(faults).toEqual([]);
});

test('the same by keyboard alone', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'oven-mouth');
  const key = async (k: string, times = 1): Promise<void> => {
    for (let i = 0; i < times; i++) await page.keyboard.press(k);
  };
  // A patch on the bread: the cross starts in the middle, Shift steps 40 screen pixels.
  await page.getByRole('application').focus();
  await key('p');
  await expect(page.getByText(/Drag a box over clean skin/)).toBeVisible();
  await key('Enter');
  await key('Shift+ArrowRight', 3);
  await key('Shift+ArrowDown', 2);
  await key('Enter');
  await key('Shift+ArrowRight');
  await key('ArrowDown', 2);
  await key('Enter');
  await expect(page.locator('tr[data-patch]')).toHaveCount(4);

  await key('n');
  await expect.poll(() => sentence(page)).toMatch(/^Correction 1: on the whole picture; not corrected yet/);
  await page.getByRole('application').focus();
  await key('c');
  await key('Enter');
  await key('Shift+ArrowRight', 3);
  await key('Shift+ArrowDown', 2);
  await key('Enter');
  await key('ArrowRight', 4);
  await key('Enter');
  await expect.poll(() => sentence(page)).toMatch(/^Correction 1: where hue is/);
  await key('e');
  await key('Enter');
  await key('Enter');
  await key('Shift+ArrowRight', 3);
  await key('Shift+ArrowDown', 3);
  await key('Enter');
  await expect.poll(() => sentence(page)).toContain('inside Ellipse 1');
  const handle = page.getByRole('button', { name: /Ellipse 1, centre/ }).last();
  await handle.focus();
  const cx = await page.getByLabel('Centre x, typed').inputValue();
  await key('ArrowRight', 3);
  await expect(page.getByLabel('Centre x, typed')).not.toHaveValue(cx);

  await key('Alt+3');
  await page.getByRole('slider', { name: 'Hue turn' }).focus();
  await key('Shift+ArrowRight', 2);
  await expect.poll(() => sentence(page)).toContain('hue turned +10.0°');
  await key('ArrowRight');
  await key('Alt+ArrowLeft');
  await expect.poll(() => sentence(page)).toContain('hue turned +10.4°');
  await key('Delete');
  await expect.poll(() => sentence(page)).toContain('not corrected yet');
  await page.getByRole('slider', { name: 'Gain colour' }).focus();
  await key('ArrowUp', 4);
  await expect.poll(() => sentence(page)).toContain('corrected by gain');
  await key('Alt+4');
  await expect(page.locator('[data-surround="0"]')).toBeVisible();
  await key('b');
  await expect(page.getByText('All corrections are off while you compare')).toBeVisible();
  await key('b');
  await key('[');
  await expect.poll(() => sentence(page)).toMatch(/^Baker's face/);
  await key('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await key('Escape');
  expect(faults).toEqual([]);
});

test('hovering the picture reads it and marks the scopes; Escape restores a drag', async ({ page }) => {
  await openBench(page, 'courier');
  await page.mouse.move(...(await at(page, [960, 520])));
  await expect(page.getByLabel('Scopes', { exact: true })).toContainText(/off-line at 9[56]\d, 5[12]\d/);
  await page.keyboard.press('n');
  await page.keyboard.press('Alt+3');
  const thumb = (await page.getByRole('slider', { name: 'Saturation' }).locator('..').boundingBox())!;
  await page.mouse.move(thumb.x + 4, thumb.y + 7);
  await page.mouse.down();
  await page.mouse.move(thumb.x + 40, thumb.y + 7, { steps: 5 });
  await expect.poll(() => sentence(page)).toContain('saturation 1');
  await page.keyboard.press('Escape');
  await expect.poll(() => sentence(page)).toContain('not corrected yet');
  await page.mouse.up();
  await expect.poll(() => sentence(page)).toContain('not corrected yet');
});
