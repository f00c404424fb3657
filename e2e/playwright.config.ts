import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  // Prints frame times and takes minutes: run by npm run bench:frames only.
  testIgnore: process.env.SLEDGEBOARD_FRAMES ? [] : ['**/frames.spec.ts'],
  globalSetup: './setup.mjs',
  workers: 2,
  fullyParallel: true,
  // A drafter's whole job on two busy cores that also draw 3D in software: a limit for what hangs, not a measure of
  // speed.
  timeout: 600_000,
  expect: { timeout: 30_000 },
  outputDir: '../test-results',
  reporter: 'list',
  use: {
    actionTimeout: 60_000, // a click that finds nothing says so before the whole test is over
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    launchOptions: {
      executablePath: process.env.SLEDGEBOARD_CHROMIUM || '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        '--disable-background-networking',
        '--disable-component-update',
        '--no-first-run',
        // Pages are painted without the software that stands in for a graphics card; it draws 3D alone.
        '--disable-gpu-rasterization',
        '--disable-gpu-compositing',
      ],
    },
  },
});
