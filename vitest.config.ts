import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,contract,engine,server,web,bin,demo,scripts}/**/*.test.{ts,tsx}'],
    exclude: ['**/node_modules/**', 'data/**', 'dist/**'],
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
