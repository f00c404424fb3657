import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,contract,engine,server,web,bin,demo,scripts}/**/*.test.{ts,tsx}'],
    exclude: ['**/node_modules/**', 'data/**', 'dist/**'],
    globalSetup: ['scripts/bundleWorker.mjs'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    watch: false,
  },
});
