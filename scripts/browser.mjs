// Chromium from Debian's packages, driven by Playwright: one place for its flags.
import { existsSync } from 'node:fs';
import { chromium } from '@playwright/test';

export const chromiumPath = () =>
  ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find((p) => existsSync(p)) ?? null;
export const flags = [
  '--headless=new',
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-gpu',
];
export async function launch() {
  const executablePath = chromiumPath();
  if (!executablePath)
    throw new Error('Chromium is missing: apt-get update && apt-get install -y --no-install-recommends chromium');
  return chromium.launch({ executablePath, args: flags });
}
