// npm test: installs what is missing, then types, lint, import rules, unit and server tests, and the real interface in
// Chromium. Ends with the sum over all of them: "N passed, N failed".
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { checkNode, ensurePackages, ensureProgram, projectRoot, run, say } from './setup.mjs';

process.chdir(projectRoot);
checkNode();
await ensurePackages();
const chromium = await ensureProgram(['chromium', 'chromium-browser'], 'chromium', 'The test of the interface');
await ensureProgram(['pdftotext'], 'poppler-utils', 'The check of PDF files');

const scratch = mkdtempSync(join(tmpdir(), 'sledge-test-')); // never the data of npm start
const totals = { passed: 0, failed: 0 };

/** A check that passes or fails as a whole. */
async function check(name, command, args) {
  const { code, output } = await run(command, args);
  say(`${code === 0 ? 'ok    ' : 'FAILED'} ${name}`);
  if (code !== 0) say(output);
  totals[code === 0 ? 'passed' : 'failed']++;
}

/** A runner that writes a JSON report with its own counts, and a sentence for each test that failed where it can be had. */
async function runner(name, args, env, readCounts) {
  const report = join(scratch, `${name}.json`);
  const { code, output } = await run('npx', ['--no-install', ...args(report)], { env });
  let counts;
  try {
    counts = readCounts(JSON.parse(readFileSync(report, 'utf8')));
  } catch {
    counts = { passed: 0, failed: 1, why: [] }; // no report: the runner itself did not work
  }
  if (code !== 0 && counts.failed === 0) counts.failed = 1;
  if (counts.passed + counts.failed === 0) counts.failed = 1;
  say(`${counts.failed === 0 ? 'ok    ' : 'FAILED'} ${name}: ${counts.passed} passed, ${counts.failed} failed`);
  // What failed first: the log of a long run may be cut where it is read.
  for (const sentence of counts.why ?? []) say(`  × ${sentence}`);
  if (counts.failed > 0) say(output.split('\n').slice(-150).join('\n'));
  totals.passed += counts.passed;
  totals.failed += counts.failed;
}

let database = null;
try {
  await check('format', 'npx', ['--no-install', 'prettier', '--check', '--log-level', 'warn', '.']);
  await check('types', 'npx', ['--no-install', 'tsc', '-p', 'tsconfig.json']);
  await check('lint', 'npx', ['--no-install', 'eslint', '.']);
  await check('list of routes', 'node', ['scripts/routes.mjs', '--check']);
  await check('import rules', 'npm', ['run', '-s', 'rules']);
  const { startMariaDb } = await import('./mariadb.mjs');
  database = await startMariaDb(join(scratch, 'data'), { quiet: true });
  const env = { SLEDGEBOARD_TEST_DATABASE: database.url, SLEDGEBOARD_CHROMIUM: chromium, CI: 'true' };
  await runner(
    'vitest',
    (report) => ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`],
    env,
    ({ numPassedTests, numFailedTests, testResults }) => {
      const broken = testResults.filter(
        (file) => file.status === 'failed' && file.assertionResults.every((one) => one.status !== 'failed'),
      ).length;
      const why = testResults.flatMap((file) => [
        ...(file.status === 'failed' && file.message ? [`${file.name}: ${file.message}`] : []),
        ...file.assertionResults
          .filter((one) => one.status === 'failed')
          .map((one) => `${file.name}: ${one.fullName}: ${one.failureMessages.join(' | ').slice(0, 600)}`),
      ]);
      return { passed: numPassedTests, failed: numFailedTests + broken, why };
    },
  );
  await runner(
    'playwright',
    () => ['playwright', 'test', '-c', 'e2e/playwright.config.ts', '--reporter=list,json'],
    { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: join(scratch, 'playwright.json') },
    ({ stats, errors }) => ({ passed: stats.expected, failed: stats.unexpected + stats.flaky + errors.length }),
  );
} catch (error) {
  say(`FAILED ${error.stack ?? error}`);
  totals.failed++;
} finally {
  await database?.stop();
  rmSync(scratch, { recursive: true, force: true });
}
say(`${totals.passed} passed, ${totals.failed} failed`);
process.exit(totals.failed > 0 ? 1 : 0);
