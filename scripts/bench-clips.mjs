// Clips in the page: `npm run bench:clips [-- first|play|memory]`. How soon the first frame of ten minutes is there
// beside that of ten seconds; 1280x720 with one correction of key, shape, feather and balance, played, stepped and
// scrubbed; memory of all of Chromium's processes (proportional set size) while ten minutes of 1080p play for two
// minutes, and while twenty shots are opened in turn. Makes its clips with ffmpeg (apt-get install ffmpeg); needs a
// build.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { chromiumPath, flags } from './browser.mjs';
import { bin, root } from './install.mjs';

const PORT = 5195;
const only = process.argv[2] ?? '';
const dir = join(root, '.tmp/bench-clips');
mkdirSync(dir, { recursive: true });
if (spawnSync('ffmpeg', ['-version']).status !== 0) {
  console.log('ffmpeg is not installed: its clips are what is measured (apt-get install ffmpeg)');
  process.exit(1);
}
const tags = '-color_primaries bt709 -color_trc bt709 -colorspace bt709 -color_range tv'.split(' ');
/** A clip, made once. */
function clip(name, args) {
  const file = join(dir, name);
  if (!existsSync(file)) execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, ...tags, file]);
  return file;
}
const x264 = ['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-b:v', '6M', '-g', '48'];
const source = (seconds) => ['-f', 'lavfi', '-i', `testsrc2=size=1920x1080:rate=24:duration=${seconds}`];
const demo = join(root, 'demo/stills/courier-crossing.webm');
const [short, long, hd] = [
  clip('ten-seconds.mp4', [...source(10), ...x264]),
  clip('ten-minutes.mp4', [...source(600), ...x264]),
  clip('hd.mp4', ['-stream_loop', '3', '-i', demo, '-an', '-vf', 'scale=1280:720', ...x264]),
];

/** Proportional set size of every process of this browser, and of no other one that may run here, MB. */
function memory() {
  const read = (pid, file) => readFileSync(`/proc/${pid}/${file}`, 'utf8');
  const parents = new Map();
  const ours = new Set();
  for (const pid of readdirSync('/proc').filter((d) => /^\d+$/.test(d)))
    try {
      // The name in brackets may hold anything: what follows the last one is the state and the parent.
      parents.set(pid, /^.*\) \S (\d+)/s.exec(read(pid, 'stat'))[1]);
      if (read(pid, 'cmdline').includes(profile)) ours.add(pid);
    } catch {
      // Ended meanwhile.
    }
  const mine = (pid) => pid !== undefined && (ours.has(pid) || mine(parents.get(pid)));
  let kb = 0;
  for (const pid of [...parents.keys()].filter(mine))
    try {
      kb += Number(/^Pss:\s+(\d+)/m.exec(read(pid, 'smaps_rollup'))?.[1] ?? 0);
    } catch {
      // Ended meanwhile.
    }
  return kb / 1024;
}
const median = (l) => [...l].sort((a, b) => a - b)[l.length >> 1];

const server = spawn(process.execPath, [bin('tsx/dist/cli.mjs'), join(root, 'src/server/index.ts')], {
  cwd: root,
  env: { ...process.env, PORT: String(PORT) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((done) => server.stdout.on('data', (d) => String(d).includes('ready') && done()));
// A profile on disk: of one that is not, kept files would lie in memory.
const profile = mkdtempSync(join(tmpdir(), 'rowanleaf-profile-'));
const browser = await chromium.launchPersistentContext(profile, {
  executablePath: chromiumPath(),
  args: flags,
  viewport: { width: 1280, height: 800 },
});
try {
  const page = await browser.newPage();
  const drawnTimes = () => {
    window.drawn = [];
    window.addEventListener('rowanleaf:drawn', () => window.drawn.push(performance.now()));
  };
  await page.addInitScript(drawnTimes);
  const playhead = page.getByRole('slider', { name: 'Playhead' });
  const stage = page.getByRole('application');
  /** Imports; answers with the ms until its first picture is drawn. */
  async function bring(file) {
    await page.goto(`http://localhost:${PORT}/`);
    await page.waitForSelector('[data-shot]');
    await page.waitForTimeout(2500);
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Import', exact: true }).click(),
    ]);
    await page.evaluate(() => {
      window.drawn = [];
      window.from = performance.now();
    });
    await chooser.setFiles([file]);
    await playhead.waitFor({ timeout: 120_000 });
    await page.waitForFunction(() => window.drawn.length > 0, null, { timeout: 120_000 });
    return page.evaluate(() => window.drawn[0] - window.from);
  }
  const kept = () => page.getByRole('status').filter({ hasText: 'Saved' }).waitFor({ timeout: 180_000 });

  if (!only || only === 'first') {
    // The first one starts the decoders.
    await bring(hd);
    await kept();
    const [shortMs, longMs] = [[], []];
    let t0 = 0;
    for (let i = 0; i < 3; i++) {
      shortMs.push(await bring(short));
      await kept();
      longMs.push(await bring(long));
      t0 = Date.now();
      await kept();
    }
    const all = (l) => `${(median(l) / 1000).toFixed(2)} s (${l.map((v) => (v / 1000).toFixed(2)).join(', ')})`;
    console.log(
      `First picture after choosing the file, 1080p, three times each: ${all(shortMs)} for ten seconds, ` +
        `${all(longMs)} for ten minutes (458 MB)`,
    );
    console.log(`Kept ${((Date.now() - t0) / 1000).toFixed(1)} s later`);
  }
  if (!only || only === 'play') {
    await bring(hd);
    await kept();
    await stage.focus();
    const b = await stage.boundingBox();
    const k = Math.min(b.width / 1280, b.height / 720);
    const at = (x, y) => [b.x + b.width / 2 + (x - 640) * k, b.y + b.height / 2 + (y - 360) * k];
    const drag = async (from, to) => {
      await page.mouse.move(...at(...from));
      await page.mouse.down();
      await page.mouse.move(...at(...to), { steps: 5 });
      await page.mouse.up();
    };
    await page.keyboard.press('n');
    await stage.focus();
    await page.keyboard.press('c');
    await drag([230, 480], [280, 540]);
    await page.waitForTimeout(1500);
    await page.keyboard.press('e');
    await drag([60, 60], [700, 700]);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: /^2\s*Tidy/ }).click();
    await page.getByLabel('Add a tidy step').selectOption('feather');
    await page.getByRole('button', { name: /^3\s*Correct/ }).click();
    await page.getByLabel('Add an adjustment').selectOption('balance');
    const field = page.getByLabel(/, typed$/).last();
    await field.fill('6');
    await field.press('Enter');
    await page.waitForTimeout(3000);
    console.log(`1280x720: ${await page.locator('[data-sentence]').getAttribute('data-sentence')}`);
    await stage.focus();
    await page.keyboard.press('Home');
    await page.waitForTimeout(2500);
    await page.keyboard.press('Space');
    const rounds = [];
    for (let i = 0; i < 2; i++) {
      await page.waitForTimeout(i === 0 ? 12_300 : 12_000);
      rounds.push(
        await page.evaluate(() => {
          const { dropped: d, shown: s } = document.querySelector('[data-dropped]').dataset;
          return `${d} of ${Number(d) + Number(s)}`;
        }),
      );
    }
    await page.keyboard.press('k');
    console.log(`Dropped: ${rounds.join(' in the first round, ')} in the second; to reach a tenth, and none`);
    // Steps to frames that are not made: a change makes all of them anew.
    await field.fill('7');
    await field.press('Enter');
    await stage.focus();
    await page.keyboard.press('Home');
    await page.waitForTimeout(2500);
    const steps = [];
    for (let i = 0; i < 25; i++) {
      steps.push(
        await page.evaluate(async () => {
          const t0 = performance.now();
          const done = new Promise((d) => window.addEventListener('rowanleaf:drawn', d, { once: true }));
          document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
          await done;
          return performance.now() - t0;
        }),
      );
      await page.waitForTimeout(350);
    }
    console.log(`A step by one frame: ${median(steps).toFixed(0)} ms median; to reach 120`);
    // Scrubbing: a hand on the strip that rests here and there.
    const s = await playhead.boundingBox();
    const [rests, firsts] = [[], []];
    await page.mouse.move(s.x + 40, s.y + 20);
    await page.mouse.down();
    for (let i = 0; i < 12; i++) {
      const x = s.x + 40 + ((i * 137) % (s.width - 80));
      await page.mouse.move(x - 12, s.y + 20, { steps: 4 });
      await page.evaluate(() => {
        window.drawn = [];
        window.from = Infinity;
        window.addEventListener('pointermove', (e) => (window.from = e.timeStamp), { once: true, capture: true });
      });
      await page.mouse.move(x, s.y + 20);
      await page.waitForTimeout(700);
      const [first, last] = await page.evaluate(() => {
        const after = window.drawn.filter((t) => t >= window.from);
        return [(after[0] ?? Infinity) - window.from, (after.at(-1) ?? Infinity) - window.from];
      });
      firsts.push(first);
      rests.push(last);
    }
    await page.mouse.up();
    console.log(
      `Scrubbing: a picture ${median(firsts).toFixed(0)} ms after a move (worst ${Math.max(...firsts).toFixed(0)}); ` +
        `to reach 100, the nearest made frame. The frame itself ${median(rests).toFixed(0)} ms after the hand ` +
        `rests (worst ${Math.max(...rests).toFixed(0)}); to reach 300`,
    );
  }
  if (!only || only === 'memory') {
    await bring(long);
    await kept();
    await page.waitForTimeout(2000);
    const before = memory();
    await stage.focus();
    await page.keyboard.press('Space');
    const seen = [];
    for (let i = 0; i < 24; i++) {
      await page.waitForTimeout(5000);
      seen.push(memory());
    }
    await page.keyboard.press('k');
    await page.goto(`http://localhost:${PORT}/bench/shot:courier`);
    await page.waitForTimeout(1000);
    // Within the page, as a person goes: by the links, not by a new page.
    await page.getByRole('link', { name: 'Shots', exact: true }).click();
    await page.waitForTimeout(6000);
    const after = memory();
    const mb = (v) => v.toFixed(0);
    console.log(
      `Ten minutes of 1080p, two minutes of it played: ${mb(before)} MB before, at most ${mb(Math.max(...seen))}, ` +
        `${mb(seen.at(-1))} at the end (to stay under 1500); another shot open: ${mb(after)}`,
    );
    const rounds = [];
    for (let r = 0; r < 6; r++) {
      for (let i = 0; i < 8; i++) {
        await page
          .locator('a.pic')
          .nth(i % (await page.locator('a.pic').count()))
          .click();
        await page.waitForTimeout(2500);
        await page.getByRole('link', { name: 'Shots', exact: true }).click();
        await page.waitForTimeout(500);
      }
      rounds.push(memory());
    }
    console.log(`Shots opened in turn, eight a round: ${rounds.map(mb).join(', ')} MB after each round`);
  }
} finally {
  await browser.close();
  server.kill();
  rmSync(profile, { recursive: true, force: true });
}
