// Before tests: the bundled threads that engine and server tests start, and what the command line needs.
import { join } from 'node:path';
import { bundleIfChanged, bundleThreads, projectRoot } from './bundle.mjs';

export default async function setup() {
  const threads = await bundleThreads();
  process.env.SLEDGEBOARD_WORKER = threads.engine;
  process.env.SLEDGEBOARD_DESK = threads.desk;
  process.env.SLEDGEBOARD_JOBS = threads.jobs;
  await bundleIfChanged(join(projectRoot, 'bin/src/main.ts'), '.cjs');
}
