// Builds the page into dist/web when one of its sources is newer than the last build.
import { existsSync, readdirSync, rmSync, renameSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { projectRoot, say } from './setup.mjs';

/** Folder of the built page. */
export async function buildPage() {
  const folder = join(projectRoot, 'dist/web');
  const built = existsSync(join(folder, 'index.html')) ? statSync(join(folder, 'index.html')).mtimeMs : 0;
  const sources = ['web', 'core/src', 'contract/src'].flatMap((name) => filesOf(join(projectRoot, name)));
  sources.push(join(projectRoot, 'package-lock.json'));
  if (sources.every((file) => statSync(file).mtimeMs <= built)) return folder;
  say('Building the page …');
  const { build } = await import('vite');
  const partial = join(projectRoot, 'dist/web-partial');
  await build({
    root: join(projectRoot, 'web'),
    configFile: join(projectRoot, 'web/vite.config.ts'),
    logLevel: 'warn',
    build: { outDir: partial, emptyOutDir: true },
  });
  rmSync(folder, { recursive: true, force: true });
  renameSync(partial, folder);
  return folder;
}

function filesOf(folder) {
  return readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((file) => file.isFile() && !(file.parentPath ?? file.path).includes('node_modules'))
    .map((file) => join(file.parentPath ?? file.path, file.name));
}
