/** Sound of a clip: switched on, in step with the picture; and out again, as it is, with what a render writes. */
import { openAsBlob, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { ALL_FORMATS, BlobSource, EncodedPacketSink, Input } from 'mediabunny';
import { saved, watch } from './helpers';

const dir = mkdtempSync(join(tmpdir(), 'rowanleaf-sound-'));
test.afterAll(() => rmSync(dir, { recursive: true, force: true }));
const data = join(import.meta.dirname, '../data');

interface Sounding {
  codec: string | null;
  times: number[];
  sound: Buffer;
  packets: number;
  frames: number;
}
async function readBack(file: Blob): Promise<Sounding> {
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(file) });
  const a = (await input.getAudioTracks())[0]!;
  const v = await input.getPrimaryVideoTrack();
  const all: { at: number; data: Uint8Array }[] = [];
  for await (const p of new EncodedPacketSink(a).packets()) all.push({ at: p.timestamp, data: p.data });
  let frames = 0;
  if (v) for await (const _p of new EncodedPacketSink(v).packets()) frames++;
  const codec = await a.getCodec();
  input.dispose();
  const times = all.map((p) => p.at);
  return { codec, times, sound: Buffer.concat(all.map((p) => p.data)), packets: all.length, frames };
}
async function importClip(page: Page, file: string): Promise<void> {
  await page.goto('/');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import', exact: true }).click(),
  ]);
  await chooser.setFiles([file]);
  await expect(page.getByRole('slider', { name: 'Playhead' })).toBeVisible();
  await saved(page);
}
/** Renders; answers with the files that come, by their ends. */
async function render(page: Page, format: string, count = 1): Promise<Record<string, string>> {
  await page.getByLabel('Format of the moving picture').selectOption(format);
  const got: Record<string, string> = {};
  const all = new Promise<void>((done) => {
    page.on('download', (d) => {
      const file = join(dir, `${format}-${d.suggestedFilename()}`);
      void d.saveAs(file).then(() => {
        got[file.split('.').pop()!] = file;
        if (Object.keys(got).length === count) done();
      });
    });
  });
  await page.getByRole('button', { name: /^Render \d+ frames/ }).click();
  await all;
  page.removeAllListeners('download');
  return got;
}
interface Started {
  /** On the page's clock, ms: when it is heard; and when the picture began to run. */
  heard: number;
  /** On the device's clock, s. */
  when: number;
  offset: number;
  length: number;
}

test('sound is heard with its picture, each round anew, and ends with a pause @clock', async ({ page }) => {
  const faults = watch(page);
  await page.addInitScript(() => {
    const list: Started[] = [];
    (window as unknown as { started: Started[] }).started = list;
    // Where the picture is, and when: what the machine takes from a key to its first picture is nobody's fault.
    const seen: { at: number; frame: number }[] = [];
    (window as unknown as { seen: typeof seen }).seen = seen;
    new MutationObserver((all) => {
      const el = all.at(-1)!.target as HTMLElement;
      seen.push({ at: performance.now(), frame: Number(el.dataset['frame']) });
    }).observe(document, { subtree: true, attributeFilter: ['data-frame'] });
    const woken: AudioContext[] = [];
    (window as unknown as { woken: AudioContext[] }).woken = woken;
    const Device = AudioContext;
    window.AudioContext = class extends Device {
      constructor() {
        super();
        woken.push(this);
      }
    };
    const start = AudioBufferSourceNode.prototype.start;
    AudioBufferSourceNode.prototype.start = function (this: AudioBufferSourceNode, when = 0, offset = 0, length = 0) {
      // What is started is heard when the device has let it through.
      const late = (this.context as AudioContext).outputLatency || 0;
      const heard = performance.now() + 1000 * (when - this.context.currentTime + late);
      list.push({ heard, when, offset, length });
      start.call(this, when, offset, length);
    };
  });
  const started = (): Promise<Started[]> =>
    page.evaluate(() => (window as unknown as { started: Started[] }).started.splice(0));
  await importClip(page, join(data, 'sound/aac.mp4'));
  const button = page.getByRole('button', { name: /^Sound/ });
  await expect(button).toHaveAccessibleName('Sound on');
  await page.getByRole('application').focus();
  await page.keyboard.press('Space');
  await expect(page.locator('[data-round]')).toBeVisible();
  await page.waitForTimeout(500);
  // Nobody asked for it yet.
  expect(await started()).toEqual([]);
  await page.keyboard.press('Space');
  await page.keyboard.press('Home');

  await button.focus();
  await page.keyboard.press('Enter');
  await expect(button).toHaveAccessibleName('Sound off');
  // The device is awake before anything is due on it.
  await expect
    .poll(() => page.evaluate(() => (window as unknown as { woken: AudioContext[] }).woken.map((c) => c.state)))
    .toEqual(['running']);
  await page.getByRole('application').focus();
  await page.evaluate(() => (window as unknown as { seen: unknown[] }).seen.splice(0));
  await page.keyboard.press('Space');
  // Two seconds a round: into the second one.
  await expect(page.locator('[data-round]')).toHaveAttribute('data-round', 'before', { timeout: 15_000 });
  await page.waitForTimeout(400);
  await page.keyboard.press('Space');
  const list = await started();
  const seen = await page.evaluate(() => (window as unknown as { seen: { at: number; frame: number }[] }).seen);
  const [, last, fps] = /0\u2013(\d+), (\d+) fps/
    .exec((await page.locator('[data-frame]').first().textContent())!)!
    .map(Number) as [number, number, number];
  const ends = seen.findIndex((x, i) => i > 0 && x.frame < seen[i - 1]!.frame);
  expect(ends).toBeGreaterThan(5);
  // A frame is shown when it is due or later, never earlier: the least late tells when the round began.
  const t0 = Math.min(...seen.slice(0, ends).map((x) => x.at - (1000 * x.frame) / fps));
  // One round's sound follows from its beginning on; then it begins anew.
  const first = list.filter((x) => x.heard < t0 + 1990);
  const total = first.reduce((a, x) => a + x.length, 0);
  expect(total).toBeGreaterThan(1.2);
  expect(total).toBeLessThan(2.1);
  const second = list.filter((x) => x.heard >= t0 + 1990);
  expect(second.length).toBeGreaterThan(3);
  // Without holes, on the clock that plays them: that of the page stands still where the machine is busy.
  for (let i = 1; i < first.length; i++)
    expect(Math.abs(first[i]!.when - first[i - 1]!.when - first[i - 1]!.length)).toBeLessThan(0.031);
  // With the picture: what is heard first is as far into the clip as the picture has run by then. The pieces follow one
  // another to the clip's end, so that their lengths tell where the first lies.
  const ahead = first[0]!.heard - t0 - 1000 * ((last + 1) / fps - total);
  expect(ahead).toBeGreaterThan(-60);
  expect(ahead).toBeLessThan(100);
  // Paused, nothing more is begun.
  await page.waitForTimeout(600);
  expect(await started()).toEqual([]);
  // Backwards or faster there is none.
  await page.keyboard.press('l');
  await page.keyboard.press('l');
  await started();
  await page.waitForTimeout(400);
  expect(await started()).toEqual([]);
  await page.keyboard.press('k');
  // What was wanted is remembered.
  await page.reload();
  await expect(button).toHaveAccessibleName('Sound off');
  expect(faults).toEqual([]);
});

test('a render takes the sound along as it is, in the file, in the archive, or beside it', async ({ page }) => {
  const faults = watch(page);
  await importClip(page, join(data, 'sound/aac.mp4'));
  const source = await readBack(await openAsBlob(join(data, 'sound/aac.mp4')));
  await page.getByRole('link', { name: 'Hand-off' }).click();
  const card = page.getByRole('region', { name: 'Moving picture' });
  await page.getByLabel('First frame').fill('12');
  await page.getByLabel('First frame').press('Enter');
  await page.getByLabel('Last frame').fill('35');
  await page.getByLabel('Last frame').press('Enter');
  // What begins in the second from 0.5 s on.
  const meant = source.times.map((t, i) => [t, i] as const).filter(([t]) => t >= 0.5 - 1e-6 && t < 1.5 - 1e-6);
  const late = meant[0]![0] - 0.5;
  expect(late).toBeGreaterThan(0.002);

  await test.step('MP4 holds AAC', async () => {
    await page.getByLabel('Format of the moving picture').selectOption('avc');
    await expect(card).toContainText('Its sound (AAC) goes along as it is.');
    const got = await readBack(await openAsBlob((await render(page, 'avc'))['mp4']!));
    expect(got).toMatchObject({ codec: 'aac', frames: 24, packets: meant.length });
    expect(source.sound.includes(got.sound)).toBe(true);
    expect(got.times[0]).toBeCloseTo(late, 2);
    await expect(
      page.getByRole('status').filter({ hasText: `begins ${Math.round(1000 * late)} ms late` }),
    ).toBeVisible();
  });
  await test.step('WebM does not: a file beside it, said before', async () => {
    await page.getByLabel('Format of the moving picture').selectOption('vp9');
    await expect(card).toContainText('does not fit into such a file: it comes as a .m4a file beside it');
    const files = await render(page, 'vp9', 2);
    const got = await readBack(await openAsBlob(files['m4a']!));
    expect(got).toMatchObject({ codec: 'aac', frames: 0, packets: meant.length });
    expect(source.sound.includes(got.sound)).toBe(true);
    const webm = new Input({ formats: ALL_FORMATS, source: new BlobSource(await openAsBlob(files['webm']!)) });
    expect(await webm.getAudioTracks()).toEqual([]);
    webm.dispose();
  });
  await test.step('an archive holds it as a file; without it when it is not wanted', async () => {
    const zip = unzipSync(new Uint8Array(readFileSync((await render(page, 'png8'))['zip']!)));
    const name = Object.keys(zip).find((n) => n.endsWith('.sound.m4a'))!;
    const got = await readBack(new Blob([Uint8Array.from(zip[name]!)]));
    expect(got.packets).toBe(meant.length);
    expect(Object.keys(zip)).toHaveLength(25);
    await card.getByRole('button', { name: 'Sound' }).click();
    await expect(card).toContainText('The sound of the clip is left out.');
    const bare = unzipSync(new Uint8Array(readFileSync((await render(page, 'png8'))['zip']!)));
    expect(Object.keys(bare)).toHaveLength(24);
  });
  expect(faults).toEqual([]);
});
