// Bundles a TypeScript entry of this project for Node; packages stay outside and are loaded from node_modules.
import { createHash } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

export const projectRoot = dirname(dirname(fileURLToPath(import.meta.url)));

/** Path of the bundle. Written under a name of its own first, so that two runs at once do not read each other's half. */
export async function bundle(entry, outfile) {
  const name = relative(projectRoot, entry).replace(/[^a-zA-Z0-9]+/g, '-');
  const target = outfile ?? join(projectRoot, 'node_modules/.cache/sledgeboard', `${name}-${createHash('sha1').update(entry).digest('hex').slice(0, 8)}.mjs`);
  mkdirSync(dirname(target), { recursive: true });
  await build({
    entryPoints: [entry], outfile: target, bundle: true, platform: 'node', format: 'esm', target: 'node20', packages: 'external', sourcemap: 'linked', logLevel: 'error',
    banner: { js: "import { createRequire as __createRequire } from 'node:module'; const require = __createRequire(import.meta.url);" },
  });
  return target;
}
