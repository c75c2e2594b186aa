/** Shots that move: brought in, stepped, keyframed, played, rendered; by mouse and keyboard, over a reload. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, openAsBlob, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { decode, encode } from 'fast-png';
import { unzipSync } from 'fflate';
import { Clip } from '../../src/media/clip';
import { decodeStill } from '../../src/media/decode';
import type { ClipInfo } from '../../src/media/picture';
import { DEMO_SHOTS, countShots, openFromSheet, saved, watch } from './helpers';

const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-time-'));
test.afterAll(() => rmSync(dir, { recursive: true, force: true }));

const [W, H, N] = [160, 96, 24] as const;
/** The level of a frame's ground: every frame has its own. */
const level = (f: number): number => 40 + 7 * f;
/** A square of colour that moves over a ground that tells the frame. */
function frames(into: string, n: number = N): string[] {
  mkdirSync(into, { recursive: true });
  return Array.from({ length: n }, (_, f) => {
    const data = new Uint8Array(W * H * 3);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const inside = Math.abs(x - 30 - 4 * f) < 14 && Math.abs(y - 60) < 14;
        data.set(inside ? [200, 120, 40] : [level(f), level(f), level(f)], 3 * (y * W + x));
      }
    const file = join(into, `walk_${String(f + 1).padStart(4, '0')}.png`);
    writeFileSync(file, encode({ width: W, height: H, data, channels: 3 }));
    return file;
  });
}
async function importSequence(page: Page, files: string[], rate = '24'): Promise<void> {
  await page.goto('/');
  await page.getByRole('button', { name: 'Import a sequence' }).click();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Choose the pictures' }).click(),
  ]);
  await chooser.setFiles(files);
  await page.getByLabel('Frames a second').selectOption(rate);
  await page.getByRole('dialog').getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByRole('slider', { name: 'Playhead' })).toBeVisible();
}
const importClip = (page: Page, file: string): Promise<void> => importFiles(page, [file]);
async function importFiles(page: Page, files: string[]): Promise<void> {
  await page.goto('/');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import', exact: true }).click(),
  ]);
  await chooser.setFiles(files);
}
const playhead = (page: Page) => page.getByRole('slider', { name: 'Playhead' });
const frame = async (page: Page): Promise<number> => Number(await playhead(page).getAttribute('aria-valuenow'));
async function go(page: Page, to: number): Promise<void> {
  const box = page.getByLabel('Frame or timecode');
  await box.fill(String(to));
  await box.press('Enter');
  await expect.poll(() => frame(page)).toBe(to);
}
/** 8-bit level of the picture's left top corner, as the canvas shows it. */
const ground = (page: Page): Promise<number> =>
  page.evaluate(
    ([w, h]) => {
      const c = document.querySelector<HTMLCanvasElement>('[role="application"] canvas')!;
      const s = Math.min(c.width / w, c.height / h);
      const at = c.getContext('2d')!.getImageData((c.width - w * s) / 2 + 5 * s, (c.height - h * s) / 2 + 5 * s, 1, 1);
      return at.data[1]!;
    },
    [W, H] as const,
  );
/** What a file says of itself, read outside of the browser. */
async function told(file: string): Promise<{ info: ClipInfo; close: () => void }> {
  const c = await Clip.open(await openAsBlob(file), false);
  return { info: c.info, close: () => c.close() };
}
async function render(page: Page, format: string): Promise<string> {
  await page.getByLabel('Format of the moving picture').selectOption(format);
  const coming = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Render \d+ frames/ }).click();
  const d = await coming;
  const file = join(dir, `${format}-${d.suggestedFilename()}`);
  await d.saveAs(file);
  return file;
}

test('a sequence is stepped, keyframed, undone, kept, and rendered as the terminal renders it', async ({ page }) => {
  const faults = watch(page);
  const folder = join(dir, 'walk');
  const files = frames(folder, 12);
  await importSequence(page, files, '25');
  await expect(page.locator('[data-frame]')).toHaveText('frame 0 of 0–11, 25 fps');

  await test.step('stepping by keys, by typing, by the strip', async () => {
    await expect.poll(() => ground(page)).toBe(level(0));
    await page.getByRole('application').focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    await expect.poll(() => frame(page)).toBe(2);
    await expect.poll(() => ground(page)).toBe(level(2));
    await page.keyboard.press('End');
    await expect.poll(() => ground(page)).toBe(level(11));
    await page.keyboard.press('Home');
    await go(page, 7);
    await expect.poll(() => ground(page)).toBe(level(7));
    await expect(page.getByLabel('Frame or timecode')).toHaveValue('00:00:00:07');
    const b = (await playhead(page).boundingBox())!;
    await page.mouse.click(b.x + (b.width * 4.5) / 12, b.y + 20);
    await expect.poll(() => frame(page)).toBe(4);
    await expect.poll(() => ground(page)).toBe(level(4));
    await page.getByLabel('Frame or timecode').fill('nonsense');
    await page.getByLabel('Frame or timecode').press('Enter');
    await expect(page.getByRole('alert').filter({ hasText: 'neither a frame number nor a timecode' })).toBeVisible();
  });

  const centre = page.getByLabel('Centre x, typed');
  await test.step('a shape moves by keys: at the keys and between them the field shows what is used', async () => {
    await go(page, 0);
    await page.getByRole('application').focus();
    await page.keyboard.press('e');
    const b = (await page.getByRole('application').boundingBox())!;
    const s = Math.min(b.width / W, b.height / H);
    const [ox, oy] = [b.x + (b.width - W * s) / 2, b.y + (b.height - H * s) / 2];
    await page.mouse.move(ox + 15 * s, oy + 45 * s);
    await page.mouse.down();
    await page.mouse.move(ox + 45 * s, oy + 75 * s, { steps: 5 });
    await page.mouse.up();
    await page.keyboard.press('Escape');
    await expect(centre).toHaveValue(/^30/);
    await page.getByRole('application').focus();
    await page.keyboard.press('Shift+K');
    await page.getByLabel('Readings').getByRole('button', { name: 'Keys' }).click();
    const lane = page.locator('[data-lane="Ellipse 1"]');
    await expect(lane.locator('.key')).toHaveCount(1);
    await go(page, 10);
    await centre.fill('70');
    await centre.press('Enter');
    await expect(lane.locator('.key')).toHaveCount(2);
    await go(page, 5);
    await expect(centre).toHaveValue('50 px');
    // One gesture, one undo.
    await page.keyboard.press('Control+z');
    await expect(lane.locator('.key')).toHaveCount(1);
    await page.keyboard.press('Control+Shift+z');
    await expect(lane.locator('.key')).toHaveCount(2);
    // By keyboard: to the key before, and one moved.
    await page.getByRole('application').focus();
    await page.keyboard.press('Shift+J');
    await expect.poll(() => frame(page)).toBe(0);
    const last = lane.getByRole('button', { name: /at frame 10/ });
    await last.focus();
    await page.keyboard.press('Space');
    await page.keyboard.press('ArrowRight');
    await expect(lane.getByRole('button', { name: /at frame 11/ })).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(last).toBeVisible();
    await page.getByLabel('How chosen keys go on').count();
  });

  await test.step('a level that jumps in a held key', async () => {
    await page.getByRole('button', { name: /^3\s*Correct/ }).click();
    const turn = page.getByLabel('Turn, typed');
    await turn.fill('40');
    await turn.press('Enter');
  });

  await saved(page);
  await page.reload();
  await expect(page.locator('[data-lane="Ellipse 1"] .key')).toHaveCount(2);

  const project = join(dir, 'walk.rowanleaf.json');
  await page.getByRole('link', { name: 'Hand-off' }).click();
  const zip = await test.step('rendered, whole', async () => {
    const file = await render(page, 'png16');
    const coming = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save the project' }).click();
    await (await coming).saveAs(project);
    return unzipSync(new Uint8Array(readFileSync(file)));
  });
  const names = Object.keys(zip).sort();
  expect(names).toEqual(Array.from({ length: 12 }, (_, f) => `walk.corrected.${String(f).padStart(4, '0')}.png`));

  await test.step('the terminal renders the same bits, and the surround has its own', () => {
    const out = join(dir, 'cli');
    const args = ['scripts/cli.mjs', 'render', project, '--shot', 'walk', '--input', folder, '--frames', '0-11'];
    execFileSync(process.execPath, [...args, '--bits', '16', '--what', 'picture,matte', '--out', out], {
      cwd: join(import.meta.dirname, '../..'),
      stdio: 'pipe',
    });
    const made = readdirSync(out).filter((n) => n.includes('corrected'));
    expect(made.sort()).toEqual(names);
    let touched = 0;
    let moved = 0;
    for (const [f, name] of names.entries()) {
      const page16 = decode(zip[name]!).data as Uint16Array;
      const cli16 = decode(readFileSync(join(out, name))).data as Uint16Array;
      expect(Buffer.from(page16.buffer).equals(Buffer.from(cli16.buffer)), name).toBe(true);
      const matte = decode(readFileSync(join(out, name.replace('corrected', 'matte-correction-1')))).data;
      const source = decode(readFileSync(files[f]!)).data;
      for (let i = 0; i < W * H; i++)
        for (let c = 0; c < 3; c++)
          if (page16[3 * i + c] !== 257 * source[3 * i + c]!) {
            if (matte[i] === 0) moved++;
            else touched++;
          }
    }
    expect(moved).toBe(0);
    expect(touched).toBeGreaterThan(12 * 200);
  });
  expect(faults).toEqual([]);
});

test('a clip: every frame is the one that was asked for, whatever came before', async ({ page }) => {
  const faults = watch(page);
  await importSequence(page, frames(join(dir, 'clip')));
  await page.getByRole('link', { name: 'Hand-off' }).click();
  for (const format of ['vp9', 'vp9ten', 'avc', 'av1'] as const) {
    await test.step(format, async () => {
      await page.getByLabel('Format of the moving picture').selectOption(format);
      if (format !== 'avc') {
        await page.getByLabel('Quantizer').fill('4');
        await page.getByLabel('Quantizer').press('Enter');
      }
      const file = await render(page, format);
      const { info, close } = await told(file);
      close();
      expect(info).toMatchObject({ bits: format === 'vp9ten' ? 10 : 8, frames: N, guessed: ['siting'] });
      await importClip(page, file);
      await expect(page.locator('[data-frame]')).toHaveText(`frame 0 of 0–${N - 1}, 24 fps`);
      // Levels of 8 bits went through a narrow range and a coder: two codes, frames are seven apart.
      for (const n of [0, 17, 3, 23, 22, 4, 5, 6, 19, 1]) {
        await go(page, n);
        await expect
          .poll(async () => Math.abs((await ground(page)) - level(n)), { message: `frame ${n}` })
          .toBeLessThan(3);
      }
      await saved(page);
      await page.goto('/');
      await page.getByRole('link', { name: 'Open walk on the Bench', exact: true }).first().click();
      await page.getByRole('link', { name: 'Hand-off' }).click();
    });
  }
  expect(faults).toEqual([]);
});

test('pixels that are not square are drawn so, and pointed at so; the shape can be told', async ({ page }) => {
  const faults = watch(page);
  await importClip(page, join(import.meta.dirname, '../data/clips/h264-wide.mp4'));
  await expect(playhead(page)).toBeVisible();
  const app = page.getByRole('application');
  const canvas = app.locator('canvas');
  const b = (await app.boundingBox())!;
  // 96 pixels of double width by 64: three times as wide as high.
  const drawn = (): Promise<[number, number]> =>
    canvas.evaluate((el: HTMLCanvasElement) => {
      const { data, width, height } = el.getContext('2d')!.getImageData(0, 0, el.width, el.height);
      const box = el.getBoundingClientRect();
      const lit = (x: number, y: number): boolean => {
        const i = 4 * (y * width + x);
        const c = [data[i]!, data[i + 1]!, data[i + 2]!];
        return Math.max(...c) - Math.min(...c) > 60;
      };
      // From its first coloured column to its last: the ground about it is grey.
      const span = (n: number, on: (k: number) => boolean): number => {
        const list = Array.from({ length: n }, (_, k) => k).filter(on);
        return list.length > 0 ? (list.at(-1)! - list[0]! + 1) / n : 0;
      };
      const most = (n: number, f: (k: number) => number): number =>
        Math.max(...Array.from({ length: n }, (_, k) => f(k)));
      const across = most(9, (k) => span(width, (x) => lit(x, Math.floor(((k + 1) * height) / 10))));
      const down = most(9, (k) => span(height, (y) => lit(Math.floor(((k + 1) * width) / 10), y)));
      return [across * box.width, down * box.height] as [number, number];
    });
  await expect.poll(async () => (await drawn())[0]).toBeGreaterThan(100);
  const [w, h] = await drawn();
  expect(w / h).toBeGreaterThan(2.6);
  expect(w / h).toBeLessThan(3.3);

  await test.step('a box drawn over the right half is in pixels of the picture', async () => {
    const k = Math.min(b.width / 192, b.height / 64);
    const [x0, y0] = [b.x + (b.width - 192 * k) / 2, b.y + (b.height - 64 * k) / 2];
    await app.focus();
    await page.keyboard.press('Shift+E');
    await page.mouse.move(x0 + 2 * 48 * k, y0 + 16 * k);
    await page.mouse.down();
    await page.mouse.move(x0 + 2 * 88 * k, y0 + 48 * k, { steps: 5 });
    await page.mouse.up();
    await page.keyboard.press('Escape');
    await expect
      .poll(async () => Number.parseFloat(await page.getByLabel('Centre x, typed').inputValue()))
      .toBeCloseTo(68, 0);
    await expect
      .poll(async () => Number.parseFloat(await page.getByLabel('Centre y, typed').inputValue()))
      .toBeCloseTo(32, 0);
    // Its middle is taken by the hand and moved by ten pixels.
    await page.mouse.move(x0 + 2 * 68 * k, y0 + 32 * k);
    await page.mouse.down();
    await page.mouse.move(x0 + 2 * 58 * k, y0 + 32 * k, { steps: 5 });
    await page.mouse.up();
    await expect
      .poll(async () => Number.parseFloat(await page.getByLabel('Centre x, typed').inputValue()))
      .toBeCloseTo(58, 0);
  });
  await test.step('told otherwise: square', async () => {
    await page
      .getByRole('button', { name: /^Conversion/ })
      .first()
      .click();
    await page.getByLabel('Shape of the pixels').selectOption({ label: 'square' });
    await expect
      .poll(async () => {
        const [u, v] = await drawn();
        return u / v;
      })
      .toBeLessThan(1.7);
    await page.keyboard.press('Control+z');
    await expect(page.getByLabel('Shape of the pixels')).toContainText('2:1');
  });
  await test.step('every file that goes out says it', async () => {
    await page.getByLabel('Shape of the pixels').selectOption({ label: '64:45 (1.42)' });
    await page.getByRole('link', { name: 'Hand-off' }).click();
    for (const format of ['vp9', 'avc'] as const) {
      const { info, close } = await told(await render(page, format));
      close();
      expect(info.pixelAspect, format).toEqual([64, 45]);
      expect([info.width, info.height], format).toEqual([96, 64]);
    }
    const still = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save the picture' }).click();
    const picture = await decodeStill(new Uint8Array(readFileSync(await (await still).path())));
    expect([picture.width, picture.height, picture.pixelAspect]).toEqual([96, 64, [64, 45]]);
  });
  expect(faults).toEqual([]);
});

test("frames of the browser's decoders are those of another decoder, bit for bit", async ({ page }) => {
  const faults = watch(page);
  // By ffmpeg 5.1.9, through the same conversion: tests/data/clips.
  const clips = join(import.meta.dirname, '../data/clips');
  const expected = JSON.parse(readFileSync(join(clips, 'expected.json'), 'utf8')) as Record<
    string,
    { sums?: string[] }
  >;
  const read = Object.entries(expected).filter(([, x]) => x.sums);
  expect(read.length).toBeGreaterThan(12);
  await importFiles(
    page,
    read.map(([n]) => join(clips, n)),
  );
  const stems = read.map(([n]) => n.replace(/\.[^.]+$/, ''));
  await countShots(page, DEMO_SHOTS + stems.length);
  await saved(page);
  for (const [i, stem] of stems.entries())
    await test.step(stem, async () => {
      // Within the page: a page opened anew for each of them took half of the time.
      await page.getByRole('link', { name: 'Shots', exact: true }).click();
      await openFromSheet(page, stem);
      await expect(page.locator('[data-frame]')).toContainText('of 0–11');
      await page.getByRole('link', { name: 'Hand-off' }).click();
      const zip = unzipSync(new Uint8Array(readFileSync(await render(page, 'png16'))));
      // Sound that a clip has lies beside the pictures.
      const sums = Object.keys(zip)
        .filter((n) => n.endsWith('.png'))
        .sort()
        .map((n) => {
          const { data } = decode(zip[n]!);
          return createHash('sha256')
            .update(new Uint8Array(data.buffer, data.byteOffset, data.byteLength))
            .digest('hex');
        });
      expect(sums).toEqual(read[i]![1].sums);
    });
  expect(faults).toEqual([]);
});

test('a clip is looked at while it is kept; cancelled then, its shot goes again and nothing is left', async ({
  page,
}) => {
  const faults = watch(page);
  // A slow disk.
  await page.addInitScript(() => {
    const write = FileSystemWritableFileStream.prototype.write;
    FileSystemWritableFileStream.prototype.write = async function (...data) {
      await new Promise((r) => setTimeout(r, 4000));
      return write.apply(this, data);
    };
  });
  await importClip(page, join(import.meta.dirname, '../data/clips/vp9.webm'));
  await expect(playhead(page)).toBeVisible({ timeout: 3500 });
  const list = page.getByRole('region', { name: 'Pictures coming in' });
  await expect(list).toContainText('keeping');
  await list.getByRole('button', { name: 'Cancel' }).click();
  await expect(list).toContainText('cancelled: its shot is removed again');
  await page.goto('/');
  await countShots(page, DEMO_SHOTS);
  const kept = await page.evaluate(async () => {
    const dir = await (await navigator.storage.getDirectory()).getDirectoryHandle('files', { create: true });
    const names: string[] = [];
    for await (const n of (dir as unknown as { keys(): AsyncIterable<string> }).keys()) names.push(n);
    return names;
  });
  expect(kept).toEqual([]);
  expect(faults).toEqual([]);
});

test('a large clip is known again by parts of it, and by the whole where that was how it came in', async ({ page }) => {
  const faults = watch(page);
  const clip = readFileSync(join(import.meta.dirname, '../data/clips/h264-b.mp4'));
  // A box that readers pass over (ISO/IEC 14496-12, 8.1.2) makes it large; of the second only one byte is another.
  const box = Buffer.alloc(65 * 2 ** 20);
  box.writeUInt32BE(box.length, 0);
  box.write('free', 4, 'latin1');
  const large = join(dir, 'large.mp4');
  writeFileSync(large, Buffer.concat([clip, box]));
  box[box.length - 1] = 1;
  const other = join(dir, 'other.mp4');
  writeFileSync(other, Buffer.concat([clip, box]));
  await importClip(page, large);
  await expect(playhead(page)).toBeVisible();
  await saved(page);
  await page.goto('/hand-off');
  const [d] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the project' }).click(),
  ]);
  const text = readFileSync(await d.path(), 'utf8');
  expect(text).toMatch(/"ofParts": ?true/);
  const sha = /"fileName": ?"large.mp4"[^}]*?"sha256": ?"([0-9a-f]{64})"/s.exec(text)![1]!;
  const whole = createHash('sha256').update(readFileSync(large)).digest('hex');
  expect(sha).not.toBe(whole);
  // As an earlier version saved it: by the checksum of the whole file.
  const before = text.replaceAll(sha, whole).replace(/,\s*"ofParts": ?true|"ofParts": ?true,\s*/, '');
  expect(before).not.toContain('ofParts');
  for (const [name, project] of [
    ['parts', text],
    ['whole', before],
  ] as const) {
    const fresh = await (await page.context().browser()!.newContext()).newPage();
    await fresh.goto('/shots');
    await countShots(fresh, DEMO_SHOTS);
    await fresh
      .locator('input[type=file]')
      .nth(1)
      .setInputFiles([{ name: `${name}.rowanleaf.json`, mimeType: 'application/json', buffer: Buffer.from(project) }]);
    await expect(fresh.getByRole('alert').filter({ hasText: `${name}.rowanleaf.json` })).toContainText('large.mp4');
    // One byte is another: it is another clip, and comes in as one.
    const input = fresh.locator('input[type=file]').first();
    if (name === 'parts') {
      await input.setInputFiles([other]);
      await expect(fresh.getByText(/other.mp4 is imported/)).toBeVisible();
      await fresh.goto('/shots');
    }
    await fresh.locator('input[type=file]').first().setInputFiles([large]);
    await expect(fresh.getByText('large.mp4 is linked again.')).toBeVisible();
    await fresh.context().close();
  }
  expect(faults).toEqual([]);
});

test('plays at the rate, keeps what is made, pauses on that frame; in and out, cut in two @clock', async ({ page }) => {
  const faults = watch(page);
  await importSequence(page, frames(join(dir, 'play')));
  await page.getByRole('application').focus();
  await page.keyboard.press('Space');
  const dropped = page.locator('[data-dropped]');
  await expect(dropped).toHaveAttribute('data-round', 'before', { timeout: 20_000 });
  // What fits is complete in a later round.
  await expect
    .poll(async () => (await dropped.getAttribute('data-dropped')) + '/' + (await dropped.getAttribute('data-shown')))
    .toBe(`0/${N}`);
  // What is looked at changes while it plays: it goes on, all made anew.
  await page.keyboard.press('b');
  await page.waitForTimeout(2500);
  await expect
    .poll(async () => (await dropped.getAttribute('data-dropped')) + '/' + (await dropped.getAttribute('data-shown')))
    .toBe(`0/${N}`);
  await page.keyboard.press('k');
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
  const n = await frame(page);
  await expect.poll(() => ground(page)).toBe(level(n));
  // Backwards.
  await page.keyboard.press('j');
  await page.waitForTimeout(300);
  await page.keyboard.press('k');
  await go(page, 6);
  await page.getByRole('application').focus();
  await page.keyboard.press('i');
  await go(page, 15);
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+I');
  await expect(page.locator('[data-frame]')).toContainText('of 6–15');
  await page.keyboard.press('Home');
  await expect.poll(() => frame(page)).toBe(6);
  await go(page, 10);
  await page.getByRole('button', { name: 'Cut the shot here' }).click();
  await expect(page.locator('[data-frame]')).toContainText('of 10–15');
  // One undo: the two are one again.
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-frame]')).toContainText('of 6–15');
  await expect.poll(() => frame(page)).toBe(10);
  // A page left before it says so may lose the last deed.
  await saved(page);
  await page.goto('/');
  await expect(page.locator('[data-shot^="walk"]')).toHaveCount(1);
  await page.getByRole('link', { name: 'Open walk on the Bench', exact: true }).click();
  await expect(page.locator('[data-frame]')).toContainText('of 6–15');
  expect(faults).toEqual([]);
});

test('what is no clip, or a broken one, is told with its remedy; nothing else is disturbed', async ({ page }) => {
  const cases: [string, Uint8Array, RegExp][] = [
    ['nothing.mp4', new Uint8Array(0), /nothing\.mp4.*(not an MP4|damaged|empty)/],
    ['noise.webm', Uint8Array.from({ length: 4000 }, (_, i) => (i * 7919) % 251), /noise\.webm.*not an MP4 or WebM/],
  ];
  await page.goto('/');
  for (const [name, data, said] of cases) {
    const file = join(dir, name);
    writeFileSync(file, data);
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Import', exact: true }).click(),
    ]);
    await chooser.setFiles(file);
    await expect(page.getByText(said).first()).toBeVisible();
  }
  await expect(page.locator('[data-shot]').first()).toBeVisible();
});
