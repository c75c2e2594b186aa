// npm run bench:press: a press on skin in the real page, from the pointer going down to the sentence that says what was
// found and to the picture that shows it pushed. Stills of the demo at 1920x1080, places at random inside each face's
// truth, five presses one after another in a page just opened; exits non-zero where the median of one is over a second.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bin, build, generate, installPackages, root } from './install.mjs';

installPackages();
generate();
build();
const { launch } = await import('./browser.mjs');
const { decode, encode } = await import('fast-png');
const PORT = 5195;
const [W, H] = [1920, 1080];
const PRESSES = 5;
/** To reach, in ms. */
const GOAL = 1000;
const FACES = [
  ['courier', 'courier'],
  ['proofing-table', 'left-baker'],
  ['proofing-table', 'right-baker'],
  ['chart-call', 'assistant'],
  ['oven-mouth', 'oven-baker'],
];
const read = (name) => decode(readFileSync(join(root, 'demo/stills', name)));
/** Brought to 1920x1080 by straight lines between pixels. */
function scaled(p) {
  const out = new p.data.constructor(W * H * 3);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const u = Math.min(p.width - 1, Math.max(0, ((x + 0.5) * p.width) / W - 0.5));
      const v = Math.min(p.height - 1, Math.max(0, ((y + 0.5) * p.height) / H - 0.5));
      const [i, j] = [Math.floor(u), Math.floor(v)];
      const [i2, j2] = [Math.min(p.width - 1, i + 1), Math.min(p.height - 1, j + 1)];
      for (let c = 0; c < 3; c++) {
        const at = (a, b) => p.data[(b * p.width + a) * p.channels + c];
        const low = at(i, j) + (u - i) * (at(i2, j) - at(i, j));
        const high = at(i, j2) + (u - i) * (at(i2, j2) - at(i, j2));
        out[3 * (y * W + x) + c] = Math.round(low + (v - j) * (high - low));
      }
    }
  return encode({ width: W, height: H, channels: 3, depth: p.depth, data: out });
}
/** Mulberry32. */
function rng(seed) {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}
/** Places well inside a truth, in pixels of 1920x1080. */
function places(still, person, n) {
  const t = read(`${still}.truth-skin-${person}.png`);
  const r = Math.round(0.012 * t.width);
  const on = (i) => t.data[i * t.channels] > 250;
  const deep = [];
  for (let y = r; y < t.height - r; y++)
    for (let x = r; x < t.width - r; x++) {
      const i = y * t.width + x;
      if ([0, r, -r, r * t.width, -r * t.width].every((d) => on(i + d))) deep.push([x, y]);
    }
  const next = rng(41);
  return Array.from({ length: n }, () => {
    const [x, y] = deep[Math.floor(next() * deep.length)];
    return [((x + 0.5) * W) / t.width, ((y + 0.5) * H) / t.height];
  });
}

const server = spawn(process.execPath, [bin('tsx/dist/cli.mjs'), join(root, 'src/server/index.ts')], {
  cwd: root,
  env: { ...process.env, PORT: String(PORT) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((done) => server.stdout.on('data', (d) => String(d).includes('ready') && done()));
const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-press-'));
const browser = await launch();
let missed = 0;
try {
  console.log(`${W}x${H}, view of a window of 1280x800, ${PRESSES} presses on each face in a page just opened.\n`);
  console.log('| still, person | said after ms | median | pushed picture after ms, median | to reach |');
  console.log('|---|---|---:|---:|---:|');
  for (const [still, person] of FACES) {
    const file = join(dir, `${still}.png`);
    writeFileSync(file, scaled(read(`${still}.png`)));
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await page.addInitScript(() => {
      window.press = { down: 0, said: 0, drawn: 0 };
      window.addEventListener('pointerdown', (e) => (window.press = { down: e.timeStamp, said: 0, drawn: 0 }), true);
      // What is drawn after it was said shows it pushed.
      window.addEventListener('rowanleaf:drawn', () => {
        if (window.press.said > 0 && window.press.drawn === 0) window.press.drawn = performance.now();
      });
      const look = () => {
        const p = window.press;
        if (
          p.down > 0 &&
          p.said === 0 &&
          /% of the picture\./.test(document.querySelector('[aria-label="What the press found"]')?.textContent ?? '')
        )
          p.said = performance.now();
        requestAnimationFrame(look);
      };
      requestAnimationFrame(look);
    });
    await page.goto(`http://localhost:${PORT}/shots`);
    await page.waitForSelector('[data-shot]', { timeout: 30_000 });
    await page.locator('input[type=file]').first().setInputFiles(file);
    await page.waitForURL(/bench\/shot/);
    // As somebody looks at it first.
    await page.waitForTimeout(6500);
    const stage = page.getByRole('application');
    const box = await stage.boundingBox();
    const s = Math.min(box.width / W, box.height / H);
    const [said, drawn] = [[], []];
    for (const [x, y] of places(still, person, PRESSES)) {
      await stage.focus();
      await page.keyboard.press('Shift+T');
      await page.mouse.click(box.x + box.width / 2 + (x - W / 2) * s, box.y + box.height / 2 + (y - H / 2) * s);
      await page.waitForFunction(() => window.press.drawn > 0, null, { timeout: 60_000 });
      const t = await page.evaluate(() => window.press);
      said.push(t.said - t.down);
      drawn.push(t.drawn - t.down);
      await page.keyboard.press('Escape');
      await page.waitForTimeout(1500);
    }
    await context.close();
    const median = (v) => [...v].sort((a, b) => a - b)[v.length >> 1];
    if (median(said) > GOAL) missed++;
    console.log(
      `| ${still}, ${person} | ${said.map((v) => v.toFixed(0)).join(', ')} | ${median(said).toFixed(0)} | ` +
        `${median(drawn).toFixed(0)} | ${GOAL} |`,
    );
  }
} finally {
  await browser.close();
  server.kill('SIGTERM');
}
if (missed > 0) process.exitCode = 1;
