/** Nothing is lost and nothing hangs: tabs, storage, threads that die, files that lead astray, hundreds of files. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import type { BrowserContext, Page } from '@playwright/test';
import { encode } from 'fast-png';
import { DEMO_SHOTS, countShots, inEngine, openBench, saved, sentence, watch } from './helpers';

const png = (seed: number): Buffer =>
  Buffer.from(
    encode({
      width: 40,
      height: 30,
      channels: 3,
      data: Uint8Array.from({ length: 3600 }, (_, i) => (i * 7 + seed * 13) % 256),
    }),
  );
const file = (name: string, buffer: Buffer, mimeType = 'image/png') => ({ name, mimeType, buffer });
const state = (page: Page) => page.locator('[data-save]').getAttribute('data-save');
/** Adds a correction and gives it a name, by keyboard. */
async function addNamed(page: Page, name: string): Promise<void> {
  await page.keyboard.press('n');
  const card = page.getByRole('group', { name: /^Correction \d+: Enter chooses it/ }).last();
  await card.focus();
  await page.keyboard.press('F2');
  await page.getByLabel('Name of the correction').fill(name);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: new RegExp(`^${name}: `) })).toBeVisible();
}
const names = async (page: Page): Promise<string[]> =>
  (
    await page
      .getByRole('group', { name: /: Enter chooses it/ })
      .all()
      .then((l) => Promise.all(l.map((c) => c.getAttribute('aria-label'))))
  ).map((n) => n!.replace(/:.*/, ''));
/** Corrections of the open shot as the store holds them. */
const stored = (page: Page): Promise<string[]> =>
  page.evaluate(
    () =>
      new Promise<string[]>((done, fail) => {
        const r = indexedDB.open('rowanleaf');
        r.onerror = () => fail(r.error!);
        r.onsuccess = () => {
          const q = r.result.transaction('records').objectStore('records').getAll();
          q.onsuccess = () => {
            r.result.close();
            done(
              (q.result as { type: string; name: string; owner?: string }[])
                .filter((x) => x.type === 'correction' && location.pathname.endsWith(x.owner ?? '-'))
                .map((x) => x.name)
                .sort(),
            );
          };
        };
      }),
  );

test('undo reaches back over a reload, and redo too', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'courier');
  await addNamed(page, 'One');
  await addNamed(page, 'Two');
  await page.keyboard.press('Control+z');
  await saved(page);
  const before = await names(page);
  await page.reload();
  await expect.poll(() => names(page), { timeout: 30_000 }).toEqual(before);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(() => names(page)).toContain('Two');
  // Left before it is written, an undo comes back as one.
  await saved(page);
  await page.keyboard.press('Control+z');
  await page.reload();
  await expect.poll(() => names(page), { timeout: 30_000 }).toEqual(before);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(() => names(page)).toContain('Two');
  for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
  await expect.poll(() => names(page)).not.toContain('One');
  expect(faults).toEqual([]);
});

test('one tab writes, others follow live and can take over; nothing of either is lost', async ({ context }) => {
  test.setTimeout(300_000);
  const [a, b] = [await context.newPage(), await context.newPage()];
  await openBench(a, 'courier');
  await openBench(b, 'courier');
  await expect(b.getByText('Another tab of this browser works on this project')).toBeVisible();
  await a.bringToFront();
  await addNamed(a, 'From A');
  await expect.poll(() => names(b)).toContain('From A');
  // A follower changes nothing, and says why.
  await b.bringToFront();
  await b.keyboard.press('n');
  await expect(b.getByText(/this one follows it\. Press "Work here"/)).toBeVisible();
  expect((await names(b)).filter((n) => /^Correction/.test(n))).toEqual(
    (await names(a)).filter((n) => /^Correction/.test(n)),
  );
  await b.getByRole('button', { name: 'Work here' }).click();
  await expect(a.getByText('Another tab of this browser works on this project')).toBeVisible();
  await expect(b.getByRole('button', { name: 'Work here' })).toHaveCount(0);
  await addNamed(b, 'From B');
  await expect.poll(() => names(a)).toEqual(await names(b));
  // In turn: everything that was saved is there. TAB_TURNS=40 makes a minute of it.
  const turns = Number(process.env['TAB_TURNS'] ?? 6);
  for (let i = 0; i < turns; i++) {
    const [me, other] = i % 2 ? [b, a] : [a, b];
    await me.bringToFront();
    await me.getByRole('button', { name: 'Work here' }).click();
    await expect(other.locator('[data-save=follower]')).toBeVisible();
    // The other lets go first; only then does this one open what is stored and write.
    await expect(me.locator('[data-save=saved]')).toBeVisible();
    await addNamed(me, `Turn ${i}`);
    await saved(me);
  }
  const all = await names(b);
  expect(all).toEqual(
    expect.arrayContaining(['From A', 'From B', ...Array.from({ length: turns }, (_, i) => `Turn ${i}`)]),
  );
  expect(await stored(b)).toEqual([...all].sort());
  // The writer's tab is closed: the other goes on by itself.
  await b.close();
  await a.bringToFront();
  await expect(a.locator('[data-save=saved]')).toBeVisible();
  await addNamed(a, 'Alone');
  await saved(a);
  expect(await stored(a)).toContain('Alone');
});

test('storage that is cleared under the page is written again whole', async ({ page }) => {
  await openBench(page, 'courier');
  await addNamed(page, 'Kept');
  await saved(page);
  await page.evaluate(
    () =>
      new Promise<void>((done, fail) => {
        const r = indexedDB.deleteDatabase('rowanleaf');
        r.onsuccess = () => done();
        r.onerror = () => fail(r.error!);
      }),
  );
  await expect(page.getByText(/storage was cleared while this page was open/)).toBeVisible();
  await expect.poll(() => stored(page)).toContain('Kept');
  await page.reload();
  await expect.poll(() => names(page), { timeout: 30_000 }).toContain('Kept');
});

test('a write that fails is said with its remedy, tried again, and leaves nothing behind', async ({ page }) => {
  await openBench(page, 'courier');
  await page.evaluate(() => {
    const put = IDBObjectStore.prototype.put;
    (window as unknown as { heal(): void }).heal = () => {
      IDBObjectStore.prototype.put = put;
    };
    IDBObjectStore.prototype.put = function () {
      throw new DOMException('The disk is full', 'QuotaExceededError');
    };
  });
  await addNamed(page, 'First');
  await expect(page.locator('[data-save=failed]')).toHaveText('Not saved!');
  await expect(page.getByRole('alert').filter({ hasText: 'no more room' })).toContainText('tried again by itself');
  await addNamed(page, 'Second');
  expect(await state(page)).toBe('failed');
  await page.evaluate(() => (window as unknown as { heal(): void }).heal());
  await expect(page.locator('[data-save=saved]')).toBeVisible({ timeout: 15_000 });
  expect(await stored(page)).toEqual(expect.arrayContaining(['First', 'Second']));
  await expect(page.getByRole('alert')).toHaveCount(0);
});

test('"Saved" never stands while the store holds something else, under fast keys', async ({ page }) => {
  await openBench(page, 'courier');
  await page.keyboard.press('n');
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  const slider = page.getByRole('slider', { name: 'Turn' }).first();
  await slider.focus();
  let looked = 0;
  for (let i = 0; i < 24; i++) {
    await page.keyboard.press('ArrowRight');
    // Mostly as fast as it goes; now and then it is given the time to say so.
    if (i % 4 === 3) await saved(page);
    // In one turn of the page: what it says, what it shows, and what the store then holds.
    const r = await page.evaluate(
      () =>
        new Promise<{ says: string; shown: string; held: string } | null>((done) => {
          const says = document.querySelector('[data-save]')!.getAttribute('data-save')!;
          if (says !== 'saved') return done(null);
          const shown = document.querySelector('[data-sentence]')!.getAttribute('data-sentence')!;
          const open = indexedDB.open('rowanleaf');
          open.onsuccess = () => {
            const q = open.result.transaction('records').objectStore('records').getAll();
            q.onsuccess = () => {
              open.result.close();
              const turns = (
                q.result as { type: string; adjustments?: { op: string; params: { angleDeg?: number } }[] }[]
              )
                .flatMap((x) => x.adjustments ?? [])
                .map((u) => u.params.angleDeg)
                .filter((v) => v !== undefined);
              done({ says, shown, held: turns.join(' ') });
            };
          };
        }),
    );
    if (!r) continue;
    looked++;
    const angle = /hue turned ([^ ]+)°/.exec(r.shown)?.[1]?.replace('\u2212', '-').replace('+', '');
    if (angle) expect(r.held.split(' ').map((v) => Number(v).toFixed(1))).toContain(Number(angle).toFixed(1));
  }
  expect(looked).toBeGreaterThanOrEqual(6);
});

for (const [how, kill, says] of [
  ['hangs', 'for (;;) {}', 'did not answer any more'],
  ['ends', 'self.close()', 'stopped'],
] as const)
  test(`an engine that ${how} is told from a busy one, started again, and said`, async ({ page }) => {
    if (how === 'hangs') await page.clock.install();
    await openBench(page, 'oven-mouth');
    const told = await sentence(page);
    await inEngine(page, kill);
    await page.waitForTimeout(300);
    // Something is asked of it.
    await page.keyboard.press('3');
    await page.keyboard.press('1');
    await page.keyboard.press('n');
    const again = page.getByText(`The engine ${says} and was started again. Nothing is lost`);
    if (how === 'hangs') {
      // A busy machine may be silent for that long; the page's clock goes ahead to where nobody would wait any more.
      await page.clock.fastForward(20_000);
      await page.waitForTimeout(1000);
      await expect(again).toHaveCount(0);
      await page.clock.fastForward(12_000);
    }
    await expect(again).toBeVisible();
    // And it works: readings come again.
    await page.keyboard.press('Control+z');
    await expect.poll(() => sentence(page)).toBe(told);
    await expect(page.locator('tr[data-patch]').first()).toContainText('%');
    await page.keyboard.press('3');
    await expect(page.getByRole('toolbar').getByRole('button', { name: 'Matte', exact: true })).toHaveAttribute(
      'aria-pressed',
      'true',
    );
  });

test('a picture that never ends decoding is given up, named, and holds nobody up', async ({ page, context }) => {
  await slowDecoder(context);
  await openBench(page, 'courier');
  await page.getByRole('link', { name: 'Shots' }).click();
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles([file('endless.png', Buffer.concat([png(1), Buffer.from('ENDLESS')])), file('good.png', png(2))]);
  await expect(page.getByRole('region', { name: 'Pictures coming in' })).toContainText('decoding');
  // The Bench opens other pictures meanwhile.
  await page.goto('/bench/shot:oven-mouth');
  await expect(page.locator('tr[data-patch]').first()).toContainText('%', { timeout: 30_000 });
});
/** Makes the decoding of one file stand still, as some damaged data do: the thread is busy for ever. */
async function slowDecoder(context: BrowserContext): Promise<void> {
  await context.route(/\/assets\/decode-.*\.js$/, async (route) => {
    const r = await route.fetch();
    const trap =
      'self.addEventListener("message", (e) => { const b = e.data.bytes && new Uint8Array(e.data.bytes);' +
      ' if (b && new TextDecoder().decode(b.slice(-7)) === "ENDLESS") for (;;) {} }, true);\n';
    await route.fulfill({ response: r, body: trap + (await r.text()) });
  });
}

test('a hundred and fifty files at once, fifteen of them bad: the good come in, every fault stays listed', async ({
  page,
}) => {
  test.setTimeout(480_000);
  const faults = watch(page);
  await page.goto('/shots');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  const list = Array.from({ length: 150 }, (_, i) =>
    i % 10 === 3 ? file(`bad ${i}.png`, png(i).subarray(0, 60 + i)) : file(`good ${i}.png`, png(i)),
  );
  await page.locator('input[type=file]').first().setInputFiles(list);
  const box = page.getByRole('region', { name: 'Pictures coming in' });
  await expect(box).toContainText('of 150 pictures');
  // The Bench works while they come in.
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await expect(page.locator('tr[data-patch]').first()).toContainText('%', { timeout: 30_000 });
  await expect(box).toContainText('15 not read', { timeout: 240_000 });
  await expect(box.getByRole('alert')).toHaveCount(15);
  await expect(box.getByRole('alert').first()).toContainText(/bad 3\.png.*Copy or export it again/s);
  await page.getByRole('link', { name: 'Shots' }).click();
  await countShots(page, DEMO_SHOTS + 135);
  await saved(page);
  await box.getByRole('button', { name: 'Close the list' }).click();
  await expect(box).toHaveCount(0);
  expect(faults).toEqual([]);
});

test('storage is shown and can be freed; files of removed shots go when undo cannot bring them back', async ({
  page,
}) => {
  await page.goto('/shots');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles([file('own.png', png(5))]);
  await expect(page).toHaveURL(/\/bench\//);
  await page.getByRole('link', { name: 'Shots' }).click();
  const kept = () =>
    page.evaluate(async () => {
      const dir = await (await navigator.storage.getDirectory()).getDirectoryHandle('files', { create: true });
      let n = 0;
      for await (const _ of (dir as unknown as { keys(): AsyncIterable<string> }).keys()) n++;
      return n;
    });
  await expect.poll(kept).toBe(1);
  await page.locator('[data-shot="own"]').getByRole('button', { name: 'Remove own' }).click();
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS);
  await saved(page);
  await page.waitForTimeout(3500);
  expect(await kept()).toBe(1);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.locator('[data-shot="own"] canvas')).toBeVisible();
  await page.locator('[data-shot="own"]').getByRole('button', { name: 'Remove own' }).click();
  await page.getByRole('button', { name: 'Storage' }).click();
  await expect(page.getByRole('dialog', { name: 'Storage' })).toContainText('undo can bring back');
  await page.getByRole('button', { name: /Forget the steps to undo/ }).click();
  await expect.poll(kept).toBe(0);
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
});

test('a screen that fails keeps the page alive: it says so, offers the project file, and comes back', async ({
  page,
}) => {
  await page.addInitScript(() => {
    const get = HTMLCanvasElement.prototype.getContext;
    (window as unknown as { heal(): void }).heal = () => {
      HTMLCanvasElement.prototype.getContext = get;
    };
    HTMLCanvasElement.prototype.getContext = () => {
      throw new TypeError("Cannot read properties of null (reading 'x')");
    };
  });
  await page.goto('/shots');
  await expect(page.getByRole('heading', { name: 'This screen failed' })).toBeVisible({ timeout: 30_000 });
  const [d] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the project file' }).click(),
  ]);
  expect((JSON.parse(readFileSync(await d.path(), 'utf8')) as { records: unknown[] }).records.length).toBeGreaterThan(
    10,
  );
  await page.evaluate(() => (window as unknown as { heal(): void }).heal());
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS);
  // Work that fails where nobody listens is said, without the machine's own sentences.
  await page.evaluate(() => void setTimeout(() => void Promise.reject(new TypeError('x is not a function')), 0));
  await expect(page.getByRole('alert').filter({ hasText: 'failed in the background' })).toBeVisible();
  await expect(page.getByText(/Cannot read properties|is not a function/)).toHaveCount(0);
});

test('the demo project survives its own file', async ({ page }) => {
  await page.goto('/shots');
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS, { timeout: 30_000 });
  const mended = JSON.parse(readFileSync('demo/stills/small-hours.rowanleaf.json', 'utf8')) as {
    records: { type: string; id: string }[];
  };
  // A correction whose shot is gone, as two tabs once left it: it opens, and it is said what was mended.
  mended.records = mended.records.filter((r) => r.id !== 'shot:courier');
  await page
    .locator('input[type=file]')
    .nth(1)
    .setInputFiles([file('torn.rowanleaf.json', Buffer.from(JSON.stringify(mended)), 'application/json')]);
  await expect(page.getByRole('alert').filter({ hasText: 'torn.rowanleaf.json was mended' })).toContainText(
    'its shot shot:courier is not there',
  );
  await expect(page.locator('[data-shot]')).toHaveCount(DEMO_SHOTS - 1);
});
