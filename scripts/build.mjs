// Builds what npm start runs. As a program it prints the paths as JSON: npm start runs it in a process of its own, so that
// the builder's memory is given back before the server starts.
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundleIfChanged, bundleThreads, projectRoot } from './bundle.mjs';
import { buildPage } from './page.mjs';

/** Paths of the built page, the server and its threads. */
export async function buildAll() {
  const page = await buildPage();
  const server = await bundleIfChanged(join(projectRoot, 'server/src/server.ts'));
  return { page, server, threads: await bundleThreads() };
}

if (import.meta.url === pathToFileURL(process.argv[1]).href)
  process.stdout.write(`\n${JSON.stringify(await buildAll())}\n`);
