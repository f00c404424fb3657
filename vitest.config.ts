import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

const exclude = ['**/node_modules/**', 'data/**', 'dist/**'];

export default defineConfig({
  test: {
    projects: [
      {
        extends: true,
        // Pure computation changes nothing that another file would see: modules are loaded once per worker, not per file.
        test: { name: 'computation', include: ['{core,contract}/**/*.test.ts'], exclude, isolate: false },
      },
      {
        extends: true,
        test: { name: 'programs', include: ['{engine,server,web,bin,demo,scripts}/**/*.test.{ts,tsx}'], exclude },
      },
    ],
    globalSetup: ['scripts/bundleWorker.mjs'],
    // Left to itself, the runner leaves one core of two idle.
    maxWorkers: Math.max(2, availableParallelism() - 1),
    testTimeout: 120_000,
    hookTimeout: 120_000,
    // Threads start faster than processes, and share what the engine compiled.
    pool: 'threads',
    watch: false,
    // Who builds the page first leaves `production` behind, in which React cannot be tested.
    env: { NODE_ENV: 'test' },
  },
});
