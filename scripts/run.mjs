// Runs a TypeScript file of this project: bundles it with esbuild into node_modules/.cache, then imports it.
// Usage: node scripts/run.mjs FILE.ts [arguments]
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundle } from './bundle.mjs';

const [file, ...rest] = process.argv.slice(2);
if (!file) {
  console.error('Usage: node scripts/run.mjs FILE.ts [arguments]');
  process.exit(2);
}
const built = await bundle(resolve(file));
process.argv = [process.argv[0], built, ...rest];
await import(pathToFileURL(built).href);
