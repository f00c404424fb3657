// Runs one test runner against a database of its own, for work on a part: node scripts/testServices.mjs vitest run
// server
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensurePackages, findProgram, run } from './setup.mjs';

// A test that starts the application would install them anew under the others where the lock file changed.
await ensurePackages();
const { startMariaDb } = await import('./mariadb.mjs');

const scratch = mkdtempSync(join(tmpdir(), 'sledge-test-'));
const database = await startMariaDb(join(scratch, 'data'), { quiet: true });
const { code } = await run('npx', ['--no-install', ...process.argv.slice(2)], {
  shown: true,
  env: {
    SLEDGEBOARD_TEST_DATABASE: database.url,
    SLEDGEBOARD_CHROMIUM: findProgram('chromium', 'chromium-browser') ?? '',
  },
});
await database.stop();
rmSync(scratch, { recursive: true, force: true });
process.exit(code);
