// Bundles a TypeScript entry of this project for Node. Small packages of plain code go into the bundle: to find and load
// each by itself takes a starting thread longer than to run it. The others are loaded from node_modules.
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
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

const ofModules = {
  format: 'esm',
  banner: {
    js: "import { createRequire as __createRequire } from 'node:module'; const require = __createRequire(import.meta.url);",
  },
};
const ofScripts = {
  format: 'cjs',
  minifySyntax: true,
  minifyWhitespace: true,
  supported: { 'dynamic-import': false }, // kept code has nobody to ask for a module: packages are required
  define: { 'import.meta.url': '__here' },
  banner: { js: "const __here = require('node:url').pathToFileURL(__filename).href;" },
};

/** The same with other signs written by their numbers: such a file is read in a fraction of the time. */
const inAscii = (text) =>
  text.replace(/[^\x00-\x7f]/g, (sign) => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`);

function bundlePath(entry, extension) {
  const name = relative(projectRoot, entry).replace(/[^a-zA-Z0-9]+/g, '-');
  return join(projectRoot, 'node_modules/.cache/sledgeboard', name + extension);
}

/**
 * Path of the bundle: modules (.mjs), or scripts (.cjs), whose compiled code can be kept, see compiled.mjs. Written under
 * a name of its own first, so that two runs at once do not read each other's half.
 */
export async function bundle(entry, extension = '.mjs') {
  const target = bundlePath(entry, extension);
  const partial = `${target.slice(0, -4)}.${process.pid}${extension}`;
  mkdirSync(dirname(target), { recursive: true });
  // Loaded when it is needed: most calls find their bundle as it is.
  const { build } = await import('esbuild');
  await build({
    entryPoints: [entry],
    outfile: partial,
    bundle: true,
    platform: 'node',
    target: 'node20',
    plugins: [packages],
    logLevel: 'error',
    ...(extension === '.mjs' ? ofModules : ofScripts),
  });
  if (extension === '.cjs') writeFileSync(partial, inAscii(readFileSync(partial, 'utf8')), 'latin1');
  renameSync(partial, target);
  return target;
}

/** Like bundle, but only when a source of core, engine, contract, server, demo or bin is newer than the last bundle. */
export async function bundleIfChanged(entry, extension = '.mjs') {
  const target = bundlePath(entry, extension);
  const built = existsSync(target) ? statSync(target).mtimeMs : 0;
  return sourcesChanged() > built ? bundle(entry, extension) : target;
}

let changed;
/** When a source was changed last; ms. Looked up once: what is changed while this runs is for the next. */
function sourcesChanged() {
  changed ??= Math.max(
    ...['package-lock.json', 'scripts/bundle.mjs'].map((file) => statSync(join(projectRoot, file)).mtimeMs),
    ...['core/src', 'engine/src', 'contract/src', 'server/src', 'bin/src', 'demo'].map((folder) =>
      changedIn(join(projectRoot, folder)),
    ),
  );
  return changed;
}

/** Paths of the threads that a server starts. */
export async function bundleThreads() {
  const threads = {
    engine: 'engine/src/pool/worker.ts',
    desk: 'server/src/desk/deskWorker.ts',
    jobs: 'server/src/work/jobWorker.ts',
  };
  const bundled = Object.entries(threads).map(async ([name, file]) => [
    name,
    await bundleIfChanged(join(projectRoot, file)),
  ]);
  return Object.fromEntries(await Promise.all(bundled));
}

function changedIn(folder) {
  if (!existsSync(folder)) return 0;
  let last = 0;
  for (const file of readdirSync(folder, { withFileTypes: true })) {
    const path = `${folder}/${file.name}`;
    if (file.isDirectory()) last = Math.max(last, changedIn(path));
    else if (/\.(ts|json)$/.test(file.name)) last = Math.max(last, statSync(path).mtimeMs);
  }
  return last;
}
