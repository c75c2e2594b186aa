// Makes the demo clips of traced frames: `npm run demo:encode -- DIR` takes what `npm run demo:clips` wrote, brings
// it into the application as a person would, and renders it as WebM (VP9) into demo/stills. Needs a build.
import { spawn } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { launch } from '../scripts/browser.mjs';
import { bin, root } from '../scripts/install.mjs';

const PORT = 5198;
/** Under 4 MB each: the noise of the turning head costs more. */
const QUANTIZER = { 'baker-turning': '30' };
const from = process.argv[2] ?? join(tmpdir(), 'rowanleaf-clips');
const server = spawn(process.execPath, [bin('tsx/dist/cli.mjs'), join(root, 'src/server/index.ts')], {
  cwd: root,
  env: { ...process.env, PORT: String(PORT) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((done) => server.stdout.on('data', (d) => String(d).includes('ready') && done()));
const browser = await launch();
try {
  for (const clip of readdirSync(from)) {
    const page = await browser.newPage();
    await page.goto(`http://localhost:${PORT}/`);
    await page.getByRole('button', { name: 'Import a sequence' }).click();
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Choose the pictures' }).click(),
    ]);
    await chooser.setFiles(readdirSync(join(from, clip)).map((f) => join(from, clip, f)));
    await page.getByRole('dialog').getByRole('button', { name: 'Import', exact: true }).click();
    await page.getByRole('slider', { name: 'Playhead' }).waitFor({ timeout: 120_000 });
    await page.getByRole('link', { name: 'Hand-off' }).click();
    await page.getByLabel('Format of the moving picture').selectOption('vp9');
    await page.getByLabel('Quantizer').fill(QUANTIZER[clip] ?? '24');
    await page.getByLabel('Quantizer').press('Enter');
    const coming = page.waitForEvent('download', { timeout: 600_000 });
    await page.getByRole('button', { name: /^Render \d+ frames/ }).click();
    await (await coming).saveAs(join(root, 'demo/stills', `${clip}.webm`));
    console.log(clip);
    await page.close();
  }
} finally {
  await browser.close();
  server.kill();
}
