/**
 * Kills the browser at random moments of typing, dragging and importing, starts it again on the same profile, and
 * looks: whatever was said to be saved must be there, and the project must open without a word.
 */
import { spawn } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import type { Browser, Page } from '@playwright/test';
import { encode } from 'fast-png';
import { chromiumPath, flags } from '../scripts/browser.mjs';
import { rng } from '../src/core/math/rng';

export interface KillsResult {
  kills: number;
  /** Things that had been said to be saved, over all kills. */
  promised: number;
  faults: string[];
}
const picture = (n: number): Buffer =>
  Buffer.from(
    encode({
      width: 64,
      height: 48,
      channels: 3,
      data: Uint8Array.from({ length: 64 * 48 * 3 }, (_, i) => (i * 7 + n * 31) % 256),
    }),
  );

interface Running {
  process: ChildProcess;
  browser: Browser;
  page: Page;
}
async function start(profile: string): Promise<Running> {
  const p = spawn(
    chromiumPath()!,
    [...flags, `--user-data-dir=${profile}`, '--remote-debugging-port=0', '--window-size=1280,800', 'about:blank'],
    { detached: true, stdio: ['ignore', 'ignore', 'pipe'] },
  );
  const at = await new Promise<string>((done, fail) => {
    let text = '';
    p.stderr!.on('data', (d: Buffer) => {
      text += d.toString();
      const m = /ws:\/\/\S+/.exec(text);
      if (m) done(m[0]);
    });
    p.on('exit', () => fail(new Error(`the browser ended: ${text.slice(0, 300)}`)));
    setTimeout(() => fail(new Error('the browser does not start')), 20_000).unref();
  });
  const browser = await chromium.connectOverCDP(at);
  const context = browser.contexts()[0]!;
  return { process: p, browser, page: context.pages()[0] ?? (await context.newPage()) };
}
/** No chance to end anything: the whole group at once. */
async function kill(r: Running): Promise<void> {
  const gone = new Promise((done) => r.process.once('exit', done));
  process.kill(-r.process.pid!, 'SIGKILL');
  await gone;
  await r.browser.close().catch(() => {});
}
/** Names of what the store holds, and the sizes of kept files. */
const held = (page: Page): Promise<{ names: string[]; files: number[]; media: number }> =>
  page.evaluate(async () => {
    const rows = await new Promise<{ type: string; name?: string; source?: { from: string } }[]>((done, fail) => {
      const r = indexedDB.open('rowanleaf');
      r.onerror = () => fail(r.error!);
      r.onsuccess = () => {
        const q = r.result.transaction('records').objectStore('records').getAll();
        q.onsuccess = () => {
          r.result.close();
          done(q.result as never);
        };
      };
    });
    const dir = await (await navigator.storage.getDirectory()).getDirectoryHandle('files', { create: true });
    const files: number[] = [];
    // Parts of writes that were cut off are swept up later; what bears a checksum must be whole.
    for await (const h of (dir as unknown as { values(): AsyncIterable<FileSystemFileHandle> }).values())
      if (/^[0-9a-f]{64}$/.test(h.name)) files.push((await h.getFile()).size);
    return {
      names: rows.flatMap((r) => (r.name ? [r.name] : [])),
      files,
      media: rows.filter((r) => r.type === 'media' && r.source?.from === 'file').length,
    };
  });

/** @param url of the served application */
export async function soakKills(
  url: string,
  seed: number,
  count: number,
  each: (r: KillsResult) => void = () => {},
): Promise<KillsResult> {
  const profile = mkdtempSync(join(tmpdir(), 'rowanleaf-kills-'));
  const out: KillsResult = { kills: 0, promised: 0, faults: [] };
  const r = rng(seed);
  /** Names that were on the screen while it said "saved"; each must be in the store from then on. */
  const promised = new Set<string>();
  let token = 0;
  /** The name that was given last: what undo takes away first. */
  let newest = '';
  /** What was done before the last kill, for the report of a loss. */
  let deeds: string[] = [];
  try {
    for (let i = 0; i < count; i++) {
      const run = await start(profile);
      const { page } = run;
      let dead = false;
      try {
        await page.goto(`${url}/shots`);
        await page.waitForSelector('[data-save]', { timeout: 30_000 });
        await page.waitForSelector('[data-shot]', { timeout: 30_000 });
        // What was promised before the last kill.
        const now = await held(page);
        const lost = [...promised].filter((n) => !now.names.includes(n));
        if (lost.length)
          out.faults.push(`kill ${seed}/${i}: lost ${lost.join(', ')} after ${deeds.slice(-8).join(' ')}`);
        deeds = [];
        for (const n of lost) promised.delete(n);
        const mended = await page.getByText(/was mended|could not be read|relink/).count();
        if (mended) out.faults.push(`kill ${seed}/${i}: ${await page.getByRole('alert').first().innerText()}`);
        if (now.files.some((n) => n === 0)) out.faults.push(`kill ${seed}/${i}: an empty file is kept`);
        if (!now.names.includes('tiny')) {
          await page
            .locator('input[type=file]')
            .first()
            .setInputFiles([{ name: 'tiny.png', mimeType: 'image/png', buffer: picture(0) }]);
          await page.waitForURL(/bench/, { timeout: 30_000 });
        } else await page.locator('[data-shot="tiny"] a.pic').click();
        await page.waitForSelector('[role=application]', { timeout: 30_000 });
        /** Notes what is shown, when it is said to be saved in the same turn of the page. */
        const promise = async (): Promise<void> => {
          const shown = await page.evaluate(() =>
            document.querySelector('[data-save]')?.getAttribute('data-save') === 'saved'
              ? [...document.querySelectorAll('[data-correction]')].map((e) => e.getAttribute('data-correction')!)
              : null,
          );
          const fresh = (shown ?? []).filter((n) => /^T\d+$/.test(n) && !promised.has(n));
          fresh.forEach((n) => promised.add(n));
          if (fresh.length) deeds.push(`saved(${fresh.join()})`);
        };
        const act = async (): Promise<void> => {
          for (;;) {
            const what = r();
            if (what < 0.5) {
              const name = `T${token++}`;
              await page.keyboard.press('n');
              await page.keyboard.press('Escape');
              const card = page.locator('[data-chosen="true"][data-correction]');
              await card.focus();
              await page.keyboard.press('F2');
              await page.keyboard.type(name);
              newest = name;
              await page.keyboard.press('Enter');
              deeds.push(name);
            } else if (what < 0.75) {
              const b = await page.locator('[role=application]').boundingBox();
              if (!b) continue;
              await page.keyboard.press('e');
              await page.mouse.move(b.x + 100, b.y + 80);
              await page.mouse.down();
              for (let k = 0; k < 12; k++) await page.mouse.move(b.x + 110 + 12 * k, b.y + 90 + 7 * k);
              await page.mouse.up();
            } else if (what < 0.9) {
              // Undone is not lost: until it is redone the last name is no promise.
              // (A picture that comes in meanwhile has a number of its own, and its step may not be made yet.)
              promised.delete(newest);
              deeds.push('undo');
              await page.keyboard.press('Control+z');
              await page.keyboard.press('Control+Shift+z');
              deeds.push('redo');
            } else {
              deeds.push('import');
              await page.evaluate(
                async ([name, data]) => {
                  const bytes = Uint8Array.from(atob(data!), (c) => c.charCodeAt(0));
                  const t = new DataTransfer();
                  t.items.add(new File([bytes], name!, { type: 'image/png' }));
                  t.items.add(new File([bytes.slice(0, 90)], 'bad.png', { type: 'image/png' }));
                  window.dispatchEvent(new DragEvent('drop', { dataTransfer: t, bubbles: true, cancelable: true }));
                },
                [`P${token}.png`, picture(token++).toString('base64')],
              );
            }
            if (r() < 0.5) await new Promise((done) => setTimeout(done, 120 * r()));
            await promise();
          }
        };
        // At any moment of it, typing, dragging, writing: the browser dies.
        const working = act().catch(() => {});
        // Every other time in the middle of a row of deeds, however slow the machine is; else at once.
        for (let n = 0; i % 2 === 1 && deeds.length < 4 && n < 200; n++)
          await new Promise((done) => setTimeout(done, 50));
        await new Promise((done) => setTimeout(done, 300 + r() * 1700));
        dead = true;
        await kill(run);
        await working;
      } catch (e) {
        if (!dead) out.faults.push(`kill ${seed}/${i}: ${(e as Error).message.split('\n')[0]}`);
        await kill(run).catch(() => {});
      }
      out.kills++;
      out.promised = promised.size;
      if (i % 10 === 9) each(out);
    }
    // The last word: once more, and the whole project as a file that opens.
    const run = await start(profile);
    try {
      await run.page.goto(`${url}/shots`);
      await run.page.waitForSelector('[data-shot]', { timeout: 30_000 });
      const now = await held(run.page);
      const lost = [...promised].filter((n) => !now.names.includes(n));
      if (lost.length) out.faults.push(`at the end: lost ${lost.join(', ')}`);
    } finally {
      await kill(run);
    }
  } finally {
    rmSync(profile, { recursive: true, force: true });
  }
  return out;
}
