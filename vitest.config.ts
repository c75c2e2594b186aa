import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'src/**/*.test.tsx', 'tests/**/*.test.ts', 'demo/**/*.test.ts'],
    exclude: ['tests/browser/**'],
    testTimeout: 60_000,
    pool: 'forks',
    maxWorkers: 2,
  },
});
