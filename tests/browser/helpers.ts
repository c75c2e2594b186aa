import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import type { Locator, Page } from '@playwright/test';

/** Shots of the demo. */
export const DEMO_SHOTS = (
  JSON.parse(readFileSync('demo/stills/small-hours.rowanleaf.json', 'utf8')) as { records: { type: string }[] }
).records.filter((r) => r.type === 'shot').length;
export type Pt = readonly [number, number];
const PICTURE = { w: 1600, h: 900 };

/** Collects what must not happen: page errors, refused content, console errors. */
export function watch(page: Page): string[] {
  const faults: string[] = [];
  page.on('pageerror', (e) => faults.push(`page error: ${e.message}`));
  page.on('console', (m) => {
    if (m.type() === 'error') faults.push(`console: ${m.text()}`);
  });
  return faults;
}

/** Opens a demo shot on the Bench and waits for its first full picture. */
export async function openBench(page: Page, shot: string): Promise<void> {
  await page.goto(`/bench/shot:${shot}`);
  await expect(page.locator('tr[data-patch]').first()).toContainText('%', { timeout: 30_000 });
}
/** A shot on the Bench with a new correction; the picture has the focus. */
export async function newCorrection(page: Page, shot: string): Promise<Locator> {
  await openBench(page, shot);
  const stage = page.getByRole('application');
  await stage.focus();
  await page.keyboard.press('n');
  await stage.focus();
  return stage;
}
/** Page position of a picture position, at Fit. */
export async function at(page: Page, [x, y]: Pt): Promise<[number, number]> {
  const b = (await page.getByRole('application').boundingBox())!;
  const s = Math.min(b.width / PICTURE.w, b.height / PICTURE.h);
  return [b.x + b.width / 2 + (x - PICTURE.w / 2) * s, b.y + b.height / 2 + (y - PICTURE.h / 2) * s];
}
export async function drag(page: Page, ...points: Pt[]): Promise<void> {
  await page.mouse.move(...(await at(page, points[0]!)));
  await page.mouse.down();
  for (const p of points.slice(1)) await page.mouse.move(...(await at(page, p)), { steps: 6 });
  await page.mouse.up();
}
export const sentence = async (page: Page): Promise<string> =>
  (await page.locator('[data-sentence]').getAttribute('data-sentence')) ?? '';
/** Off-line angle in the readings table, degrees; NaN while it is not a number. */
export async function offLine(page: Page, patch: string): Promise<number> {
  const text = await page.locator(`tr[data-patch="${patch}"] td`).nth(5).innerText();
  return Number(text.replace('\u2212', '-').replace('\u00b0', ''));
}
/** How far it lies off the line, whichever way: a signed angle under an upper bound alone says nothing. */
export const offBy = async (page: Page, patch: string): Promise<number> => Math.abs(await offLine(page, patch));
/** How many shots the contact sheet has: only the cards near the window are there. */
export const countShots = (page: Page, n: number): Promise<void> =>
  expect(page.locator('[data-shot]').first()).toHaveAttribute('aria-setsize', String(n));
/** Where something lies once it has come to rest: what stands above it may still be filling. */
export async function restingBox(what: Locator): Promise<{ x: number; y: number; width: number; height: number }> {
  let [was, stood] = ['', 0];
  for (;;) {
    const box = await what.boundingBox();
    const now = JSON.stringify(box);
    [was, stood] = [now, now === was ? stood + 1 : 0];
    if (box && stood >= 3) return box;
    await what.page().waitForTimeout(80);
  }
}
/** Opens a shot from the contact sheet, scrolling to its card as a person would. */
export async function openFromSheet(page: Page, name: string): Promise<void> {
  const link = page.getByRole('link', { name: `Open ${name} on the Bench`, exact: true });
  await expect(page.locator('[data-shot]').first()).toBeVisible();
  for (let i = 0; i < 200 && (await link.count()) === 0; i++) {
    await page.locator('main').hover();
    await page.mouse.wheel(0, 400);
    await page.waitForTimeout(40);
  }
  // A hand presses what has come to rest: the sheet still rolls after the wheel's last turn.
  await restingBox(link);
  await link.click();
}
export const saved = (page: Page) => expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
/** The picture stands as it is asked for, in full: no draft of it, and nothing that went before. */
export const settled = (page: Page) =>
  expect(page.locator('[role="application"] canvas').first()).toHaveAttribute('aria-busy', 'false');
/** Runs code in the engine's thread: the page's policy forbids to evaluate any there, the debugger may. */
export async function inEngine(page: Page, code: string): Promise<void> {
  const engine = () => page.workers().find((w) => /engine/.test(w.url()));
  await expect.poll(() => engine() !== undefined).toBe(true);
  void engine()!
    .evaluate((c) => setTimeout(new Function(c) as () => void, 0), code)
    .catch(() => {});
}
