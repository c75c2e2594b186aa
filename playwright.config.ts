import { defineConfig } from '@playwright/test';
import { chromiumPath, flags } from './scripts/browser.mjs';

const port = Number(process.env['TEST_PORT'] ?? 5193);
export default defineConfig({
  testDir: 'tests/browser',
  outputDir: 'test-results',
  // One page leaves a quarter of two cores idle. What is measured by the clock ("@clock" in its title) has them to
  // itself: scripts/test.mjs runs the projects one after the other.
  workers: 2,
  projects: [
    { name: 'together', grepInvert: /@clock/ },
    { name: 'clock', grep: /@clock/, workers: 1 },
  ],
  timeout: 240_000,
  // For what hangs, never for what is slow: seven small files came in within 5 s on one day, and not in 40 on another.
  expect: { timeout: 100_000 },
  // A test that passes the second time has failed once.
  retries: 0,
  reporter: [['list'], ['json', { outputFile: '.tmp/browser.json' }]],
  use: {
    // What cannot be pressed is said at once, with its name, and not by the end of the test.
    actionTimeout: 60_000,
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: chromiumPath() ?? '', args: flags },
  },
  webServer: {
    command: 'node node_modules/tsx/dist/cli.mjs src/server/index.ts',
    url: `http://localhost:${port}/shots`,
    env: { PORT: String(port) },
    reuseExistingServer: false,
    timeout: 60_000,
  },
});
