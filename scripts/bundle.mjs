// Bundles a TypeScript entry of this project for Node. Small packages of plain code go into the bundle: to find and load
// each by itself takes a starting thread longer than to run it. The others are loaded from node_modules.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, statSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';

export const projectRoot = dirname(dirname(fileURLToPath(import.meta.url)));

/** What goes into the bundles, with what it needs itself. */
const INSIDE = new Set([
  '@kninnug/constrainautor',
  '@noble/hashes',
  'bidi-js',
  'commander',
  'delaunator',
  'earcut',
  'fast-png',
  'fflate',
  'flatbush',
  'papaparse',
  'saxes',
  'valibot',
]);
const packages = {
  name: 'packages',
  setup({ onResolve }) {
    onResolve({ filter: /^[^./]/ }, ({ path, importer, kind }) => {
      if (kind === 'entry-point' || /[\\/]node_modules[\\/]/.test(importer)) return undefined;
      const name = path
        .split('/')
        .slice(0, path.startsWith('@') ? 2 : 1)
        .join('/');
      return INSIDE.has(name) ? undefined : { path, external: true };
    });
  },
};

function bundlePath(entry) {
  const name = relative(projectRoot, entry).replace(/[^a-zA-Z0-9]+/g, '-');
  return join(
    projectRoot,
    'node_modules/.cache/sledgeboard',
    `${name}-${createHash('sha1').update(entry).digest('hex').slice(0, 8)}.mjs`,
  );
}

/**
 * Path of the bundle. Written under a name of its own first, so that two runs at once do not read each other's half.
 */
export async function bundle(entry) {
  const target = bundlePath(entry);
  const partial = `${target.slice(0, -4)}.${process.pid}.mjs`;
  mkdirSync(dirname(target), { recursive: true });
  // Loaded when it is needed: most calls find their bundle as it is.
  const { build } = await import('esbuild');
  await build({
    entryPoints: [entry],
    outfile: partial,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    plugins: [packages],
    logLevel: 'error',
    banner: {
      js: "import { createRequire as __createRequire } from 'node:module'; const require = __createRequire(import.meta.url);",
    },
  });
  renameSync(partial, target);
  return target;
}

/** Like bundle, but only when a source of core, engine, contract, server, demo or bin is newer than the last bundle. */
export async function bundleIfChanged(entry) {
  const target = bundlePath(entry);
  const built = existsSync(target) ? statSync(target).mtimeMs : 0;
  const folders = ['core/src', 'engine/src', 'contract/src', 'server/src', 'bin/src', 'demo'];
  const changed =
    folders.some((folder) => newerThan(join(projectRoot, folder), built)) ||
    ['package-lock.json', 'scripts/bundle.mjs'].some((file) => statSync(join(projectRoot, file)).mtimeMs > built);
  return changed ? bundle(entry) : target;
}

/** Paths of the threads that a server starts. */
export async function bundleThreads() {
  const threads = {
    engine: 'engine/src/worker.ts',
    desk: 'server/src/deskWorker.ts',
    jobs: 'server/src/work/jobWorker.ts',
  };
  const bundled = Object.entries(threads).map(async ([name, file]) => [
    name,
    await bundleIfChanged(join(projectRoot, file)),
  ]);
  return Object.fromEntries(await Promise.all(bundled));
}

function newerThan(folder, time) {
  if (!existsSync(folder)) return false;
  return readdirSync(folder, { recursive: true, withFileTypes: true }).some(
    (file) =>
      file.isFile() &&
      /\.(ts|json)$/.test(file.name) &&
      statSync(join(file.parentPath ?? file.path, file.name)).mtimeMs > time,
  );
}
