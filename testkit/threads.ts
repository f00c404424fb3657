import type { ThreadFiles } from '../server/src/jobs/jobThread.ts';

/** The threads as `scripts/bundleWorker.mjs` bundled them before the tests. */
export const bundledThreads = (): ThreadFiles => ({
  engine: process.env.SLEDGEBOARD_WORKER!,
  desk: process.env.SLEDGEBOARD_DESK!,
  jobs: process.env.SLEDGEBOARD_JOBS!,
});
