import { defineConfig } from 'vitest/config';

const tests = ['{src,tests,demo}/**/*.test.ts', 'src/**/*.test.tsx'];
/** What puts something else in the place of a module, or needs a page, runs in a world of its own. */
const apart = ['src/{app,ui,document}/**/*.test.ts', 'src/{app,ui}/**/*.test.tsx', 'tests/kinds.test.ts'];

export default defineConfig({
  test: {
    // For what hangs, never for what is slow: machines differ by three times, and two files share one.
    testTimeout: 300_000,
    hookTimeout: 300_000,
    pool: 'forks',
    maxWorkers: 2,
    projects: [
      // Loading the core anew for each file took a sixth of the whole time.
      { extends: true, test: { name: 'together', isolate: false, include: tests, exclude: apart } },
      { extends: true, test: { name: 'apart', include: apart } },
    ],
  },
});
