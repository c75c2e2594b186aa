/** Strokes and freeforms on the picture: painted, drawn, changed by mouse and by keys, kept over a reload. */
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { at, drag, newCorrection, openBench, saved, sentence, watch } from './helpers';
import type { Pt } from './helpers';

/** Mean of the matte of the chosen correction as its card shows it, 0..255. */
const thumb = (page: Page, name: string): Promise<number> =>
  page.locator(`[data-correction="${name}"] canvas`).evaluate((el: HTMLCanvasElement) => {
    const { data } = el.getContext('2d')!.getImageData(0, 0, el.width, el.height);
    let sum = 0;
    for (let i = 0; i < data.length; i += 4) sum += data[i]!;
    return (4 * sum) / data.length;
  });
/**
 * Cards follow the picture when there is time: until then that of a new correction is empty, or white as the whole
 * picture.
 */
const between = (page: Page, least: number, most: number): Promise<void> =>
  expect
    .poll(async () => {
      const mean = await thumb(page, 'Correction 1');
      return mean > least && mean < most;
    })
    .toBe(true);
const limited = (page: Page): Promise<void> => between(page, 8, 200);

test('a face is painted: it spreads up to its edge, more strokes change it, all of it undone and kept', async ({
  page,
}) => {
  const faults = watch(page);
  const stage = await newCorrection(page, 'oven-mouth');
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
  await between(page, 4, 40);
  // One stroke is one step; a stroke on the picture is turned round and removed by keys.
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByText('4 strokes say this, 1 stroke not this.')).toBeVisible();
  await page.getByRole('button', { name: 'Redo', exact: true }).click();
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

test('a key is measured in OKLCh and back, and reads a quieter copy; both are one undo and kept', async ({ page }) => {
  const faults = watch(page);
  await newCorrection(page, 'oven-mouth');
  await page.keyboard.press('c');
  for (const k of ['Enter', 'Enter', 'ArrowRight', 'ArrowDown', 'ArrowRight', 'Enter']) await page.keyboard.press(k);
  await expect.poll(() => sentence(page)).toContain('hue is');
  const before = await sentence(page);
  await page.getByLabel('Measured in').selectOption('oklch');
  await expect.poll(() => sentence(page)).toContain('OKLCh hue is');
  expect(await sentence(page)).toContain('lightness');
  // The axes of the control are those of the space.
  await expect(page.getByRole('slider', { name: 'Lightness from', exact: true })).toBeVisible();
  await page.getByRole('slider', { name: 'Quieter copy' }).focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(() => sentence(page)).toContain('where, with less noise,');
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toContain('where, with less noise, OKLCh hue is');
  for (let i = 0; i < 5; i++) await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(() => sentence(page)).toBe(before);
  expect(faults).toEqual([]);
});

test('a stroke by keyboard alone', async ({ page }) => {
  await newCorrection(page, 'courier');
  await page.keyboard.press('g');
  for (const k of ['Enter', 'Enter', 'ArrowRight', 'ArrowRight', 'ArrowDown', 'Enter']) await page.keyboard.press(k);
  await expect(page.getByText('1 stroke says this, no strokes not this.')).toBeVisible();
  await expect.poll(() => sentence(page)).toContain('like colour spreads');
});

test('a freeform is drawn point by point; points move, come and go, and round it off', async ({ page }) => {
  const faults = watch(page);
  await newCorrection(page, 'oven-mouth');
  await page.keyboard.press('d');
  const corners: Pt[] = [
    [380, 250],
    [700, 250],
    [700, 620],
    [380, 620],
  ];
  for (const p of corners) {
    await page.mouse.click(...(await at(page, p)));
  }
  await page.mouse.dblclick(...(await at(page, [340, 430])));
  await expect.poll(() => sentence(page)).toContain('inside Freeform 1');
  await limited(page);
  const point = (i: number) => page.getByRole('button', { name: new RegExp(`^Freeform 1, point ${i}: `) });
  await expect(point(5)).toBeVisible();
  // By keys: a point goes, and one comes on the line.
  await point(5).focus();
  await page.keyboard.press('Delete');
  await expect(point(5)).toBeHidden();
  const fresh = page.getByRole('button', { name: 'Freeform 1, new point after 1' });
  await fresh.focus();
  await page.keyboard.press('ArrowUp');
  await expect(point(5)).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(point(5)).toBeHidden();
  // A point is made smooth by a key on the picture, softer in the panel; both are undone alike.
  await point(2).focus();
  await page.keyboard.press('Enter');
  const kind = page.getByLabel('Corner or smooth', { exact: true });
  await expect(kind).toHaveValue('smooth');
  await page.getByRole('slider', { name: 'Softness here' }).press('ArrowRight');
  await expect(page.getByLabel('Softness here', { exact: true }).last()).not.toHaveValue('100 %');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(kind).toHaveValue('all');
  const was = await thumb(page, 'Correction 1');
  await drag(page, [700, 620], [1100, 850]);
  await expect.poll(() => thumb(page, 'Correction 1')).toBeGreaterThan(was + 5);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toContain('inside Freeform 1');
  await expect(point(4)).toBeVisible();
  expect(faults).toEqual([]);
});

test('box, ramp and band: drawn by the mouse and by keys, changed by handles, joined, kept', async ({ page }) => {
  const faults = watch(page);
  const stage = await newCorrection(page, 'oven-mouth');
  await page.keyboard.press('Shift+E');
  await drag(page, [400, 225], [1200, 675]);
  await expect.poll(() => sentence(page)).toContain('inside Box 1');
  // A quarter of the picture: 64 of 255.
  await expect.poll(async () => Math.abs((await thumb(page, 'Correction 1')) - 64)).toBeLessThan(4);
  const round = page.getByRole('slider', { name: 'Round' });
  await round.focus();
  for (let i = 0; i < 10; i++) await page.keyboard.press('Shift+ArrowRight');
  // An ellipse in the same box: pi / 4 of it.
  await expect.poll(async () => Math.abs((await thumb(page, 'Correction 1')) - 50)).toBeLessThan(4);
  await page.getByRole('button', { name: 'Box 1, right side: arrow keys move it' }).focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByRole('slider', { name: 'Half width' })).not.toHaveAttribute('aria-valuenow', '400');
  await stage.focus();
  await page.keyboard.press('y');
  for (const k of ['Enter', 'Enter', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'Enter']) await page.keyboard.press(k);
  await expect.poll(() => sentence(page)).toContain('and inside Ramp 1');
  await stage.focus();
  await page.keyboard.press('Shift+Y');
  await drag(page, [800, 300], [800, 500]);
  await expect.poll(() => sentence(page)).toContain('and inside Band 1');
  const middle = await thumb(page, 'Correction 1');
  await page.getByRole('button', { name: 'Band 1, turn: arrow keys move it' }).focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect(page.getByRole('slider', { name: 'Turn' })).not.toHaveAttribute('aria-valuenow', '0');
  expect(middle).toBeGreaterThan(1);
  await saved(page);
  await page.reload();
  await expect.poll(() => sentence(page)).toContain('and inside Ramp 1 and inside Band 1');
  expect(faults).toEqual([]);
});

test('a nearness key takes colours in, leaves others out, and loses single ones', async ({ page }) => {
  const faults = watch(page);
  const stage = await newCorrection(page, 'courier');
  await page.getByRole('button', { name: 'Part' }).click();
  await page.getByRole('menuitem', { name: 'Nearness key' }).click();
  await drag(page, [700, 480], [1100, 500]);
  await expect.poll(() => sentence(page)).toMatch(/near \d colours/);
  await limited(page);
  const near = page.getByRole('group', { name: 'Near' }).getByRole('button');
  const out = page.getByRole('group', { name: 'Left out' }).getByRole('button');
  const count = await near.count();
  expect(count).toBeGreaterThan(2);
  await stage.focus();
  await page.keyboard.press('x');
  await drag(page, [1400, 300], [1500, 500]);
  await expect(out).toHaveCount(3);
  await near.first().focus();
  await page.keyboard.press('Enter');
  await expect(near).toHaveCount(count - 1);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(near).toHaveCount(count);
  await saved(page);
  await page.reload();
  await expect(out).toHaveCount(3);
  expect(faults).toEqual([]);
});

test('tidy steps begin with something to see and stand in their order', async ({ page }) => {
  await newCorrection(page, 'oven-mouth');
  await page.keyboard.press('e');
  await drag(page, [500, 250], [1000, 650]);
  await limited(page);
  const was = await thumb(page, 'Correction 1');
  await page.keyboard.press('Alt+2');
  const add = async (label: string): Promise<void> => {
    await page.getByLabel('Add a tidy step').selectOption({ label });
    await expect(page.getByRole('region', { name: label })).toBeVisible();
  };
  await add('Invert');
  await expect.poll(() => thumb(page, 'Correction 1')).toBeGreaterThan(255 - was - 4);
  await add('Noise');
  await add('Grow');
  const order = await page.getByTestId('rail').getByRole('region').allInnerTexts();
  const places = ['Noise', 'Grow', 'Invert'].map((t) => order.findIndex((x) => x.startsWith(t)));
  expect(places).toEqual([...places].sort((a, b) => a - b));
  await expect.poll(() => sentence(page)).toMatch(/noise 1 px, grown 1 px/);
});

test('the health of a matte is told; faults are gone to, cut, and tidied in one undo; parts stand alone', async ({
  page,
}) => {
  const faults = watch(page);
  const stage = await newCorrection(page, 'courier');
  await page.keyboard.press('c');
  await drag(page, [700, 480], [760, 600], [800, 520], [1000, 500]);
  await limited(page);
  await page.keyboard.press('Alt+2');
  const of = (name: string) => page.locator(`[data-health="${name}"]`);
  await expect(of('Coverage')).toContainText('%');
  const holes = async (): Promise<number> => parseInt(await of('Holes').innerText(), 10);
  await expect.poll(holes).toBeGreaterThan(10);
  const was = await holes();
  await page.getByRole('button', { name: 'Tidy for me' }).click();
  await expect.poll(holes).toBeLessThan(0.2 * was);
  await expect.poll(() => sentence(page)).toMatch(/holes under/);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(holes).toBe(was);
  // One press goes there, one cuts the largest piece off, by a shape that can be changed like any other.
  const apart = async (): Promise<number> => parseInt(await of('Pieces apart').innerText(), 10);
  const pieces = await apart();
  expect(pieces).toBeGreaterThan(0);
  await of('Pieces apart').getByRole('button', { name: 'Look' }).click();
  await expect(page.getByRole('button', { name: 'Fit', exact: true })).toBeHidden();
  await of('Pieces apart').getByRole('button', { name: 'Cut' }).click();
  await expect.poll(() => sentence(page)).toContain('not inside Ellipse 1');
  await expect.poll(apart).toBeLessThan(pieces);
  await page.keyboard.press('Alt+1');
  await page.getByRole('button', { name: 'More for Ellipse 1' }).click();
  await page.getByRole('menuitem', { name: 'Look at it alone' }).click();
  await expect(page.getByText('Only Ellipse 1 is looked at')).toBeVisible();
  await page.getByRole('button', { name: 'More for Ellipse 1' }).click();
  await page.getByRole('menuitem', { name: 'Look at all parts' }).click();
  // A key held peeks at the matte, another one goes through the views.
  await stage.focus();
  const views = page.getByRole('toolbar', { name: 'View' });
  const pressed = (name: string) => views.getByRole('button', { name, exact: true });
  await page.keyboard.down('z');
  await expect(pressed('Matte')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.up('z');
  await expect(pressed('Picture')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('o');
  await expect(pressed('Cut-out')).toHaveAttribute('aria-pressed', 'true');
  await page.getByLabel('What the cut-out lies on').selectOption('checker');
  await page.keyboard.press('6');
  await expect(pressed('Edge')).toHaveAttribute('aria-pressed', 'true');
  expect(faults).toEqual([]);
});

test('strokes are read as a spread, as ranges, or as near colours; a key is set again by each stroke', async ({
  page,
}) => {
  const faults = watch(page);
  const stage = await newCorrection(page, 'courier');
  await page.keyboard.press('g');
  await drag(page, [700, 480], [780, 560]);
  await stage.focus();
  await page.keyboard.press('Shift+G');
  await drag(page, [1400, 300], [1500, 500]);
  await expect(page.getByText('1 stroke says this, 1 stroke not this.')).toBeVisible();
  const how = page.getByLabel('What the strokes make');
  await how.selectOption('key');
  await expect.poll(() => sentence(page)).toMatch(/hue is \d+/);
  await limited(page);
  const was = await sentence(page);
  await stage.focus();
  await page.keyboard.press('g');
  await drag(page, [840, 700], [900, 830]);
  await expect(page.getByText('2 strokes say this, 1 stroke not this.')).toBeVisible();
  expect(await sentence(page)).not.toBe(was);
  // One undo takes the stroke and what it did to the key.
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByText('1 stroke says this, 1 stroke not this.')).toBeVisible();
  expect(await sentence(page)).toBe(was);
  await how.selectOption('nearness');
  await expect.poll(() => sentence(page)).toMatch(/near \d colours/);
  await stage.focus();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Leave stroke 2/ }).focus();
  await page.keyboard.press('Delete');
  await expect(page.getByText('1 stroke says this, no strokes not this.')).toBeVisible();
  await expect(page.getByRole('group', { name: 'Left out' }).getByRole('button')).toHaveCount(0);
  await how.selectOption('spread');
  await expect.poll(() => sentence(page)).toContain('like colour spreads');
  await saved(page);
  await page.reload();
  await expect(page.getByText('1 stroke says this, no strokes not this.')).toBeVisible();
  expect(faults).toEqual([]);
});

/** Colour of the view at a place of the picture, as the page shows it. */
const shown = async (page: Page, p: Pt): Promise<number[]> => {
  const stage = page.getByRole('application');
  const b = (await stage.boundingBox())!;
  const [x, y] = await at(page, p);
  return stage
    .locator('canvas')
    .first()
    .evaluate(
      (el: HTMLCanvasElement, [u, v]) =>
        Array.from(el.getContext('2d')!.getImageData(Math.floor(u! * el.width), Math.floor(v! * el.height), 1, 1).data),
      [(x - b.x) / b.width, (y - b.y) / b.height],
    );
};
test('what a drag takes is seen before the hand lets go; Escape leaves nothing of it', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'courier');
  const wood: Pt = [1450, 400];
  const jacket: Pt = [1000, 560];
  const was = [await shown(page, wood), await shown(page, jacket)];
  await page.getByRole('application').focus();
  await page.keyboard.press('c');
  await page.mouse.move(...(await at(page, [700, 480])));
  await page.mouse.down();
  await page.mouse.move(...(await at(page, [780, 600])), { steps: 5 });
  // The wood turns blue like all that is not taken; the jacket keeps its colour. No record was made.
  await expect.poll(async () => (await shown(page, wood))[2]! - (await shown(page, wood))[0]!).toBeGreaterThan(20);
  const now = await shown(page, jacket);
  now.slice(0, 3).forEach((v, i) => expect(Math.abs(v - was[1]![i]!)).toBeLessThan(12));
  await expect(page.getByText('Nothing is corrected in this shot.')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect.poll(() => shown(page, wood)).toEqual(was[0]);
  await expect(page.getByText('Nothing is corrected in this shot.')).toBeVisible();
  expect(faults).toEqual([]);
});
test('a part is named, copied and pasted by keys and by its menu', async ({ page }) => {
  await openBench(page, 'oven-mouth');
  await page.getByRole('application').focus();
  await page.keyboard.press('n');
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+E');
  await drag(page, [400, 225], [900, 600]);
  const rail = page.getByTestId('rail');
  await rail.getByRole('button', { name: 'Box 1', exact: true }).press('F2');
  await page.getByLabel('Name of the part').fill('Oven door');
  await page.keyboard.press('Enter');
  await expect.poll(() => sentence(page)).toContain('inside Oven door');
  await rail.getByRole('button', { name: 'Oven door', exact: true }).press('Control+c');
  await page.getByRole('application').focus();
  await page.keyboard.press('n');
  await page.getByRole('button', { name: 'Part', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Paste Oven door' }).click();
  await expect.poll(() => sentence(page)).toContain('Correction 2: inside Oven door');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(() => sentence(page)).not.toContain('Oven door');
});

test('handles are caught by the frame and by each other where that is wanted', async ({ page }) => {
  const faults = watch(page);
  await openBench(page, 'courier');
  await page.keyboard.press('n');
  await page.getByRole('application').focus();
  await page.keyboard.press('e');
  await drag(page, [500, 300], [700, 500]);
  const centre = page.getByLabel('Centre x, typed');
  const box = (): Promise<string> => centre.inputValue();
  await expect.poll(box).toBe('600 px');
  const [x, y] = await at(page, [600, 400]);
  const [mx, my] = await at(page, [800, 400]);
  const pull = async (to: number, alt = false): Promise<void> => {
    const now = Number((await box()).replace(/[^0-9.-]/g, ''));
    const [fx] = await at(page, [now, 400]);
    await page.mouse.move(fx, y);
    await page.mouse.down();
    if (alt) await page.keyboard.down('Alt');
    await page.mouse.move(to - 30, my, { steps: 3 });
    await page.mouse.move(to, my, { steps: 3 });
    await page.mouse.up();
    if (alt) await page.keyboard.up('Alt');
  };
  // Off at first: it stands where the hand left it, a few pixels beside the middle.
  await pull(mx + 4);
  await expect.poll(box).not.toBe('800 px');
  await page.getByRole('button', { name: 'Snap' }).click();
  await pull(mx + 4);
  await expect.poll(box).toBe('800 px');
  await pull(mx + 5, true);
  await expect.poll(box).not.toBe('800 px');
  await page.keyboard.press('Control+z');
  await expect.poll(box).toBe('800 px');
  expect(x).toBeLessThan(mx);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Snap' })).toHaveAttribute('aria-pressed', 'true');
  expect(faults).toEqual([]);
});

test('parts of a region are put in another order by dragging and by keys, in brackets too, each as one step', async ({
  page,
}) => {
  const faults = watch(page);
  await openBench(page, 'courier');
  await page.keyboard.press('n');
  for (const [key, a, b] of [
    ['e', [600, 300], [900, 500]],
    ['Shift+E', [650, 350], [950, 600]],
    ['e', [700, 400], [1000, 700]],
  ] as const) {
    await page.getByRole('application').focus();
    await page.keyboard.press(key);
    await drag(page, a, b);
  }
  const parts = (): Promise<(string | null)[]> =>
    page.locator('[data-part]').evaluateAll((l) => l.map((e) => e.getAttribute('aria-label')));
  await expect.poll(parts).toEqual(['Ellipse 1', 'Box 1', 'Ellipse 2']);
  const pull = async (from: number, to: number): Promise<void> => {
    const list = page.locator('[data-part]');
    const grip = (await list.nth(from).locator('.grip').first().boundingBox())!;
    const goal = (await list.nth(to).boundingBox())!;
    await page.mouse.move(grip.x + 6, grip.y + grip.height / 2);
    await page.mouse.down();
    await page.mouse.move(grip.x + 8, grip.y + grip.height / 2 + Math.sign(to - from) * 12, { steps: 4 });
    await page.mouse.move(goal.x + 12, goal.y + (to > from ? goal.height - 4 : 4), { steps: 12 });
    await page.waitForTimeout(300);
    await page.mouse.up();
  };
  await pull(2, 0);
  await expect.poll(parts).toEqual(['Ellipse 2', 'Ellipse 1', 'Box 1']);
  await expect.poll(() => sentence(page)).toContain('inside Ellipse 2 and inside Ellipse 1 and inside Box 1');
  await page.keyboard.press('Control+z');
  await expect.poll(parts).toEqual(['Ellipse 1', 'Box 1', 'Ellipse 2']);
  await page.locator('[data-part] button.name').first().focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(parts).toEqual(['Box 1', 'Ellipse 1', 'Ellipse 2']);
  await page.keyboard.press('Control+z');
  // In brackets: the last two.
  await page.getByRole('button', { name: 'More for Ellipse 2' }).click();
  await page.getByRole('menuitem', { name: 'Into brackets with the one before' }).click();
  await expect.poll(parts).toEqual(['Ellipse 1', 'Brackets 1', 'Box 1', 'Ellipse 2']);
  await pull(3, 2);
  await expect.poll(parts).toEqual(['Ellipse 1', 'Brackets 1', 'Ellipse 2', 'Box 1']);
  await saved(page);
  await page.reload();
  await expect.poll(parts).toEqual(['Ellipse 1', 'Brackets 1', 'Ellipse 2', 'Box 1']);
  expect(faults).toEqual([]);
});
