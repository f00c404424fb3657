// Before tests: the bundled worker that engine and server tests start, and what the command line needs.
import { join } from 'node:path';
import { bundleIfChanged, projectRoot } from './bundle.mjs';

export default async function setup() {
  process.env.SLEDGEBOARD_WORKER = await bundleIfChanged(join(projectRoot, 'engine/src/worker.ts'));
  process.env.SLEDGEBOARD_DESK = await bundleIfChanged(join(projectRoot, 'server/src/deskWorker.ts'));
  await bundleIfChanged(join(projectRoot, 'bin/src/main.ts'));
}
