// Takes docs/screenshots from the demo at 1280x800: `npm run screenshots` (needs a build: npm start or npm test made
// one).
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { launch } from './browser.mjs';
import { bin, root } from './install.mjs';

const PORT = 5196;
const out = join(root, 'docs/screenshots');
mkdirSync(out, { recursive: true });
const server = spawn(process.execPath, [bin('tsx/dist/cli.mjs'), join(root, 'src/server/index.ts')], {
  cwd: root,
  env: { ...process.env, PORT: String(PORT) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((done) => server.stdout.on('data', (d) => String(d).includes('ready') && done()));
const browser = await launch();
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const shoot = async (name) => {
    // What was said under the pointer is gone by then.
    await page.mouse.move(1, 1);
    await page.waitForTimeout(1300);
    await page.screenshot({ path: join(out, `${name}.png`) });
    console.log(name);
  };
  const url = (p) => `http://localhost:${PORT}${p}`;
  await page.goto(url('/shots'));
  await page.waitForFunction(() => document.querySelectorAll('[data-shot] td b, [data-shot] td').length > 6, null, {
    timeout: 30000,
  });
  await page.waitForTimeout(2500);
  await shoot('shots');
  // Look and base: the log shot with its chart solved; its conversion; the night with zones in false colours; other
  // scopes.
  const P0 = async () => {
    const b = await page.getByRole('application').boundingBox();
    const k = Math.min(b.width / 1600, b.height / 900);
    return (x, y) => [b.x + b.width / 2 + (x - 800) * k, b.y + b.height / 2 + (y - 450) * k];
  };
  const ready = () =>
    page.waitForFunction(() => document.querySelector('tr[data-patch]')?.textContent.includes('%'), null, {
      timeout: 30000,
    });
  await page.goto(url('/bench/shot:chart-call'));
  await ready();
  await page.getByRole('button', { name: /^Conversion ACEScct/ }).click();
  await shoot('bench-conversion');
  await page.getByRole('button', { name: /^Conversion ACEScct/ }).click();
  await page.getByRole('application').focus();
  await page.keyboard.press('h');
  let Q = await P0();
  await page.mouse.move(...Q(169, 262));
  await page.mouse.down();
  await page.mouse.move(...Q(757, 650), { steps: 5 });
  await page.mouse.up();
  await page.waitForTimeout(2500);
  await page.getByRole('button', { name: 'Solve', exact: true }).click();
  await page.waitForTimeout(6500);
  await shoot('bench-chart');
  await page.goto(url('/bench/shot:cold-window'));
  await page.getByRole('button', { name: 'Plot', exact: true }).click();
  await page.getByRole('application').focus();
  await page.keyboard.press('m');
  await page.getByLabel('Add an adjustment').selectOption('curves');
  await page.waitForTimeout(800);
  const point = page.getByRole('slider', { name: /point 1$/ });
  await point.focus();
  await page.keyboard.press('Enter');
  for (let i = 0; i < 2; i++) await page.getByRole('slider', { name: /point 2$/ }).press('Shift+ArrowUp');
  await page.getByLabel('Scope 2', { exact: true }).selectOption('parade');
  await page.getByLabel('Scope 3', { exact: true }).selectOption('histogram');
  await page.getByRole('button', { name: 'Options of Parade, RGB' }).click();
  await page.getByLabel('Ghost').selectOption('before');
  await page
    .getByRole('switch', { name: 'Traces in colour' })
    .or(page.getByRole('button', { name: 'Traces in colour' }))
    .click();
  await page.keyboard.press('Escape');
  await page.getByRole('application').focus();
  await shoot('bench-curves');
  await page.goto(url('/bench/shot:proofing-table'));
  await page.getByRole('button', { name: 'Readings', exact: true }).click();
  await page.getByRole('application').focus();
  await page.keyboard.press('v');
  await page.keyboard.press('v');
  await shoot('bench-false-colour');
  await page.getByLabel('False colours', { exact: true }).selectOption('off');
  await page.getByRole('button', { name: 'Options of Parade, RGB' }).click();
  await page.getByLabel('Ghost').selectOption('none');
  await page.keyboard.press('Escape');
  await page.getByLabel('Scope 2', { exact: true }).selectOption('strip');
  await page.getByLabel('Scope 3', { exact: true }).selectOption('luma');
  await page.getByRole('button', { name: 'Options of Skin strip' }).click();
  await page
    .getByRole('switch', { name: 'Traces in colour' })
    .or(page.getByRole('button', { name: 'Traces in colour' }))
    .click();
  await page.keyboard.press('Escape');
  await page.goto(url('/bench/shot:proofing-table'));
  await page.waitForFunction(() => document.querySelector('tr[data-patch]')?.textContent.includes('%'), null, {
    timeout: 30000,
  });
  const box = await page.getByRole('application').boundingBox();
  const s = Math.min(box.width / 1600, box.height / 900);
  const P = (x, y) => [box.x + box.width / 2 + (x - 800) * s, box.y + box.height / 2 + (y - 450) * s];
  const drag = async (...pts) => {
    await page.mouse.move(...P(...pts[0]));
    await page.mouse.down();
    for (const q of pts.slice(1)) await page.mouse.move(...P(...q), { steps: 6 });
    await page.mouse.up();
    await page.waitForTimeout(900);
  };
  await page.keyboard.press('c');
  await drag([370, 410], [420, 380], [500, 400], [520, 350], [440, 260]);
  await page.keyboard.press('e');
  await drag([268, 180], [600, 540]);
  await page.locator('[data-correction]').dblclick();
  await page.getByLabel('Name of the correction').fill('Left baker');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Key 1', exact: true }).click();
  await page.mouse.move(...P(505, 390));
  await page.waitForTimeout(1300);
  await page.screenshot({ path: join(out, 'bench-isolate.png') });
  await page.keyboard.press('Alt+2');
  await page.getByLabel('Floor, typed').fill('5');
  await page.keyboard.press('Enter');
  await page.getByLabel('Ceiling, typed').fill('80');
  await page.keyboard.press('Enter');
  await page.getByLabel('Feather, typed').fill('6');
  await page.keyboard.press('Enter');
  await page.getByRole('application').focus();
  await page.keyboard.press('3');
  await shoot('bench-matte');
  await page.keyboard.press('1');
  await page.keyboard.press('Alt+3');
  await page.waitForTimeout(1500);
  await shoot('bench-correct');
  await page.getByRole('button', { name: 'Bring to line' }).click();
  await page.waitForTimeout(5600);
  await page.getByRole('application').focus();
  await page.keyboard.press('Alt+4');
  await page.keyboard.press('w');
  await page.evaluate(() => localStorage.length);
  const bar = page.getByRole('slider', { name: /^Wipe: before/ });
  await bar.focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('Shift+ArrowLeft');
  for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowLeft');
  await page.getByRole('slider', { name: 'Wipe, turn in degrees' }).focus();
  await page.keyboard.press('Shift+ArrowRight');
  await shoot('bench-check');
  await page.getByRole('application').focus();
  await page.keyboard.press('w');
  await page.keyboard.press('?');
  await shoot('keys');
  await page.keyboard.press('Escape');
  // Time: a freeform along a face that turns, followed point by point.
  await page.goto(url('/bench/shot:baker-turning'));
  await page.getByRole('slider', { name: 'Playhead' }).waitFor();
  await page.waitForTimeout(2500);
  await page.getByRole('application').focus();
  await page.keyboard.press('n');
  await page.keyboard.press('d');
  {
    const b = await page.getByRole('application').boundingBox();
    const k = Math.min(b.width / 960, b.height / 540);
    const face = [
      [322, 163],
      [340, 150],
      [420, 108],
      [500, 106],
      [530, 130],
      [534, 185],
      [530, 235],
      [515, 280],
      [488, 318],
      [462, 340],
      [432, 346],
      [392, 330],
      [352, 300],
      [330, 262],
      [326, 215],
    ].map(([x, y]) => [b.x + b.width / 2 + (x - 480) * k, b.y + b.height / 2 + (y - 270) * k]);
    for (const at of face.slice(0, -1)) {
      await page.mouse.click(...at);
      await page.waitForTimeout(60);
    }
    await page.mouse.dblclick(...face.at(-1));
  }
  await page.getByLabel('What of the motion is followed').selectOption('outline');
  await page.getByRole('button', { name: 'Follow forwards' }).click();
  await page.locator('[data-followed="71"]').waitFor({ timeout: 180000 });
  await page.getByLabel('Frame or timecode').fill('60');
  await page.getByLabel('Frame or timecode').press('Enter');
  await page.getByRole('application').focus();
  await page.keyboard.press('4');
  for (const x of await page.getByRole('button', { name: /^Close/ }).all()) await x.click().catch(() => {});
  await page.waitForTimeout(2500);
  await shoot('bench-time');
  // A patch that follows a turning head, and what the shot tells over its time.
  await page.goto(url('/bench/shot:baker-turning'));
  await page.getByLabel('Readings').getByRole('button', { name: 'Readings' }).click();
  await ready();
  await page.getByRole('button', { name: 'Let Turning baker, cheek follow' }).click();
  await page.getByRole('button', { name: 'Let Turning baker, cheek stand still' }).waitFor({ timeout: 60000 });
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+T');
  const b = await page.getByRole('application').boundingBox();
  await page.mouse.click(b.x + b.width * 0.414, b.y + b.height * 0.44);
  await page.getByRole('button', { name: 'Take it' }).click();
  // The press is held over the frames first.
  await page
    .getByText(/^Skin follows over/)
    .first()
    .waitFor({ timeout: 180000 });
  await page.getByRole('button', { name: 'Over time', exact: true }).click();
  await page.getByRole('button', { name: 'Read the whole shot' }).click();
  await page.waitForFunction(
    () => [...document.querySelectorAll('button')].some((x) => x.textContent === 'Read again' && !x.disabled),
    null,
    { timeout: 180000 },
  );
  await page.getByLabel('Frame or timecode').fill('46');
  await page.keyboard.press('Enter');
  await page.waitForTimeout(6000);
  await shoot('bench-over-time');
  await page.getByRole('button', { name: 'Readings', exact: true }).click();
  await page.goto(url('/hand-off/shot:courier-crossing'));
  await page.getByText('where corrections act').waitFor();
  await page.waitForTimeout(1500);
  await shoot('hand-off-moving');
  await page.goto(url('/hand-off/shot:proofing-table'));
  await page.getByText('where corrections act').waitFor();
  await shoot('hand-off');
  await page.goto(url('/bench/shot:courier'));
  await page.waitForFunction(() => document.querySelector('tr[data-patch]')?.textContent.includes('%'), null, {
    timeout: 30000,
  });
  await page.keyboard.press('g');
  await drag([700, 480], [760, 600]);
  await drag([1080, 480], [1040, 600]);
  await drag([760, 720], [800, 820]);
  await page.keyboard.press('Shift+G');
  await drag([1400, 300], [1500, 500]);
  await page.keyboard.press('Escape');
  await page.getByRole('switch', { name: 'Pieces apart' }).or(page.getByLabel('Pieces apart')).first().press('Space');
  await page.getByRole('application').focus();
  await page.keyboard.press('4');
  await page.waitForTimeout(1500);
  await shoot('bench-spread');
  // The same thing recoloured.
  await page.getByRole('button', { name: /^3\s*Correct/ }).click();
  await page.getByLabel('Add an adjustment').selectOption('recolour');
  await page.getByRole('textbox', { name: 'Colour as hex code' }).fill('#7a1f2b');
  await page.keyboard.press('Enter');
  await page.locator('[data-recolour]').waitFor();
  await page.getByRole('application').focus();
  await page.keyboard.press('1');
  await page.locator('[data-recolour]').scrollIntoViewIfNeeded();
  await shoot('bench-recolour');
  await page.keyboard.press('1');
  // One press on a face, as it is shown before it is taken.
  await page.goto(url('/bench/shot:cold-window'));
  await ready();
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+T');
  Q = await P0();
  await page.mouse.click(...Q(900, 330));
  await page.getByRole('button', { name: 'Take it' }).waitFor();
  await page.waitForTimeout(1500);
  await shoot('bench-press');
  await page.keyboard.press('Escape');
  await page.keyboard.press('1');
  await page.goto(url('/bench/shot:oven-mouth'));
  await page.waitForFunction(() => document.querySelector('tr[data-patch]')?.textContent.includes('%'));
  await page.getByRole('button', { name: 'Lighter theme' }).click();
  await page.getByRole('application').focus();
  await page.keyboard.press('4');
  await page.keyboard.press('Alt+3');
  await shoot('bench-lighter');
  // One correction again on other shots.
  await page.getByRole('button', { name: 'Darker theme' }).click();
  await page.getByRole('button', { name: /^More for Baker/ }).click();
  await page.getByRole('menuitem', { name: /Carry to other shots/ }).click();
  await page.getByRole('checkbox', { name: 'Night rack' }).check();
  await page.waitForTimeout(2000);
  await shoot('bench-carry');
} finally {
  await browser.close();
  server.kill('SIGTERM');
}
