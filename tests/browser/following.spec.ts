/** What follows, and what becomes of its path: shapes, strokes, the view that holds it still; by keyboard too, kept. */
import { expect, test } from '@playwright/test';
import type { Locator, Page } from '@playwright/test';
import { inEngine, saved, watch } from './helpers';

const playhead = (page: Page) => page.getByRole('slider', { name: 'Playhead' });
async function go(page: Page, to: number): Promise<void> {
  const box = page.getByLabel('Frame or timecode');
  await box.fill(String(to));
  await box.press('Enter');
  await expect(playhead(page)).toHaveAttribute('aria-valuenow', String(to));
  await page.getByRole('application').focus();
}
/** The courier, from frame 0 to 12, with a correction of its own. */
async function open(page: Page): Promise<void> {
  await page.goto('/bench/shot:courier-crossing');
  await expect(page.locator('tr[data-patch]').first()).toContainText('%', { timeout: 30_000 });
  await go(page, 12);
  await page.keyboard.press('Shift+I');
  await go(page, 0);
  await page.keyboard.press('n');
  await page.getByRole('application').focus();
}
const to = async (page: Page, [x, y]: readonly [number, number]): Promise<[number, number]> => {
  const b = (await page.getByRole('application').boundingBox())!;
  const s = Math.min(b.width / 960, b.height / 540);
  return [b.x + b.width / 2 + (x - 480) * s, b.y + b.height / 2 + (y - 270) * s];
};
async function drag(page: Page, ...points: [number, number][]): Promise<void> {
  await page.mouse.move(...(await to(page, points[0]!)));
  await page.mouse.down();
  for (const p of points.slice(1)) await page.mouse.move(...(await to(page, p)), { steps: 5 });
  await page.mouse.up();
}
/** Middle of an element, in pixels of the page. */
const middle = async (l: Locator): Promise<[number, number]> => {
  const b = (await l.boundingBox())!;
  return [b.x + b.width / 2, b.y + b.height / 2];
};
const far = (a: readonly number[], b: readonly number[]): number => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!);
async function path(page: Page, item: string | RegExp): Promise<void> {
  await page.getByLabel('Following').getByRole('button', { name: 'Path' }).click();
  await page.getByRole('menuitem', { name: item }).click();
}

test('a box follows; its path is smoothed, cut, copied to a patch, removed; the view holds it still', async ({
  page,
}) => {
  const faults = watch(page);
  await open(page);
  await page.keyboard.press('Shift+E');
  await drag(page, [120, 310], [260, 430]);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Follow forwards' }).click();
  const told = page.locator('[data-followed]');
  await expect(told).toHaveAttribute('data-followed', '12', { timeout: 60_000 });
  const box = page.locator('[data-owner] .grab').first();
  const first = await middle(box);
  await go(page, 12);
  const last = await middle(box);
  // Nine pixels of the picture a frame.
  expect(far(first, last)).toBeGreaterThan(60);
  // Held still: it stands where it stood at this frame, and the picture goes.
  await page.keyboard.press('Shift+F');
  await expect(page.getByRole('button', { name: 'Hold still' })).toHaveAttribute('aria-pressed', 'true');
  expect(far(await middle(box), last)).toBeLessThan(0.6);
  await go(page, 4);
  expect(far(await middle(box), last)).toBeLessThan(1.5);
  // Its keys about a frame are drawn as ghosts: one, here, that of frame 0.
  await go(page, 0);
  await page.keyboard.press('Shift+K');
  await go(page, 6);
  await expect(page.locator('[data-ghost]')).toHaveCount(1);
  await page.keyboard.press('Shift+F');
  await expect(page.getByRole('button', { name: 'Hold still' })).toHaveAttribute('aria-pressed', 'false');
  await expect(page.locator('[data-ghost]')).toHaveCount(0);
  expect(far(await middle(box), last)).toBeGreaterThan(25);

  const there = await middle(box);
  await path(page, 'Smooth over 6 frames');
  await expect(page.getByRole('button', { name: /^Undo/ })).toBeEnabled();
  expect(far(await middle(box), there)).toBeLessThan(3);
  await path(page, 'Cut after frame 6');
  await expect(told).toHaveAttribute('data-followed', '6');
  await go(page, 12);
  expect(far(await middle(box), there)).toBeLessThan(4);
  await page.keyboard.press('Control+z');
  await expect(told).toHaveAttribute('data-followed', '12');
  expect(far(await middle(box), there)).toBeGreaterThan(25);

  // A second run, back from here to where it was drawn, becomes one path with the first: as one undo.
  const end = await middle(box);
  await path(page, 'Blend with a run from frame 12');
  await expect(page.getByRole('button', { name: 'Follow forwards' })).toBeEnabled();
  await page.getByRole('button', { name: 'Undo', exact: true }).hover();
  await expect(page.getByText('Undo: Blend two runs (Ctrl Z)')).toBeVisible();
  await expect(told).toHaveAttribute('data-followed', '12');
  expect(far(await middle(box), end)).toBeLessThan(0.6);
  await go(page, 6);
  expect(far(await middle(box), there)).toBeLessThan(3);
  await page.keyboard.press('Control+z');
  expect(far(await middle(box), there)).toBeLessThan(3);
  await go(page, 12);
  await page.getByRole('button', { name: 'Undo', exact: true }).hover();
  await expect(page.getByText('Undo: Smooth a path over 6 frames (Ctrl Z)')).toBeVisible();
  await page.getByRole('application').focus();

  // The patch stays where it stands on this frame, and goes with it on others.
  const patch = page.getByRole('button', { name: /^Patch Door/ });
  const stood = await middle(patch);
  await path(page, /Copy to patch Door/);
  await expect(page.getByRole('button', { name: 'Let Door stand still' })).toBeVisible();
  expect(far(await middle(patch), stood)).toBeLessThan(1);
  await go(page, 0);
  expect(far(await middle(patch), stood)).toBeGreaterThan(60);
  await saved(page);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Let Door stand still' })).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Let Door follow' })).toBeVisible();
  expect(faults).toEqual([]);
});

test('a spread is grown again from strokes that follow; painted on a later frame, the first ones stay', async ({
  page,
}) => {
  const faults = watch(page);
  await open(page);
  await page.keyboard.press('g');
  await drag(page, [150, 330], [160, 360]);
  const strokes = page.getByRole('button', { name: /stroke \d/ });
  await page.keyboard.press('Escape');
  await expect(strokes).toHaveCount(1);
  await page.getByRole('button', { name: 'Follow forwards' }).click();
  // An engine that ends in the middle of a run takes nothing with it: the run begins anew.
  await expect(page.getByRole('status', { name: 'Jobs' })).toContainText(/[1-9]\d* of 12/);
  await inEngine(page, 'self.close()');
  await expect(page.getByText('The engine stopped and was started again. Nothing is lost').first()).toBeVisible();
  await expect(page.locator('[data-followed]')).toHaveAttribute('data-followed', '12', { timeout: 60_000 });
  const first = await middle(strokes.first());
  await go(page, 12);
  await expect(page.getByText(/1 stroke says this, no strokes not this, painted at frame 0/)).toBeVisible();
  const last = await middle(strokes.first());
  expect(far(first, last)).toBeGreaterThan(60);
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+G');
  await drag(page, [500, 60], [540, 70]);
  await expect(page.getByText(/1 stroke says this, 1 stroke not this, painted at frame 12/)).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(strokes).toHaveCount(2);
  expect(far(await middle(strokes.first()), last)).toBeLessThan(2);
  // On the frames before there is what was there; one undo takes both away.
  await go(page, 4);
  await expect(strokes).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await go(page, 12);
  await expect(page.getByText(/painted at frame 0/)).toBeVisible();
  await saved(page);
  await page.reload();
  await go(page, 12);
  await page
    .getByText(/like colour spreads/)
    .first()
    .waitFor();
  expect(faults).toEqual([]);
});

test('a freeform follows point by point; where colours say nothing it is refused with what to do', async ({ page }) => {
  const faults = watch(page);
  await open(page);
  const draw = async (points: readonly (readonly [number, number])[]): Promise<void> => {
    await page.keyboard.press('d');
    for (const p of points.slice(0, -1)) await page.mouse.click(...(await to(page, p)));
    await page.mouse.dblclick(...(await to(page, points.at(-1)!)));
    await expect(page.getByLabel('What of the motion is followed')).toBeVisible();
    await page.keyboard.press('Escape');
    await page.getByLabel('What of the motion is followed').selectOption('point by point');
  };
  const face = [
    [118, 95],
    [200, 100],
    [252, 125],
    [250, 185],
    [205, 228],
    [145, 212],
    [116, 150],
  ] as const;
  await draw(face);
  await page.getByRole('button', { name: 'Follow forwards' }).click();
  const told = page.locator('[data-followed]');
  await expect(told).toHaveAttribute('data-followed', '12', { timeout: 60_000 });
  await expect(told).toContainText('point by point');
  const point = (i: number) => page.getByRole('button', { name: new RegExp(`^Freeform 1, point ${i}: `) });
  const all = async (): Promise<[number, number][]> => {
    const out: [number, number][] = [];
    for (let i = 1; i <= face.length; i++) out.push(await middle(point(i)));
    return out;
  };
  const before = await all();
  await go(page, 12);
  const after = await all();
  const went = after.map((p, i) => [p[0] - before[i]![0], p[1] - before[i]![1]] as const);
  // Nine pixels of the picture a frame, and each point a little its own way.
  for (const [x] of went) expect(x).toBeGreaterThan(45);
  expect(Math.max(...went.map(([x, y]) => far([x, y], went[0]!)))).toBeGreaterThan(0.3);
  // A point that comes in here lies on the line here; the others stay.
  await page.getByRole('button', { name: 'Freeform 1, new point after 2' }).focus();
  await page.keyboard.press('ArrowUp');
  await expect(point(8)).toBeVisible();
  expect(far(await middle(point(2)), after[1]!)).toBeLessThan(0.6);
  expect(far(await middle(point(4)), after[2]!)).toBeLessThan(0.6);
  await page.keyboard.press('Control+z');
  await expect(point(8)).toBeHidden();
  await saved(page);
  await page.reload();
  await expect(told).toContainText('point by point', { timeout: 30_000 });
  await go(page, 12);
  expect(far(await middle(point(5)), after[4]!)).toBeLessThan(0.6);
  await path(page, 'Remove the path');
  await expect(told).toBeHidden();
  await page.keyboard.press('Control+z');
  await expect(told).toHaveAttribute('data-followed', '12');

  // Tiles before tiles.
  await page.keyboard.press('n');
  await go(page, 0);
  await draw([
    [430, 330],
    [520, 330],
    [520, 420],
    [430, 420],
  ]);
  await page.getByRole('button', { name: 'Follow forwards' }).click();
  await expect(page.getByText(/has the same colours.*follow its position instead/).first()).toBeVisible();
  expect(faults).toEqual([]);
});
