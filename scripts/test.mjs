// npm test: installs what is missing, then types, lint, import rules and the real interface in Chromium, with unit and
// server tests beside the checks. Ends with the slowest tests and the sum over all of them: "N passed, N failed".
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { checkNode, ensurePackages, ensureProgram, projectRoot, run, say } from './setup.mjs';

process.chdir(projectRoot);
checkNode();
await ensurePackages();
const { buildAll } = await import('./build.mjs');
const chromium = await ensureProgram(['chromium', 'chromium-browser'], 'chromium', 'The test of the interface');
await ensureProgram(['pdftotext'], 'poppler-utils', 'The check of PDF files');

const scratch = mkdtempSync(join(tmpdir(), 'sledge-test-')); // never the data of npm start
const totals = { passed: 0, failed: 0 };
/** Every test with its time in ms. */
const times = [];
const SLOWEST = 10;

/** A check that passes or fails as a whole. */
async function check(name, command, args) {
  const begun = Date.now();
  const { code, output } = await run(command, args);
  times.push({ name, ms: Date.now() - begun });
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
    counts = { passed: 0, failed: 1 }; // no report: the runner itself did not work
  }
  if (code !== 0 && counts.failed === 0) counts.failed = 1;
  if (counts.passed + counts.failed === 0) counts.failed = 1;
  say(`${counts.failed === 0 ? 'ok    ' : 'FAILED'} ${name}: ${counts.passed} passed, ${counts.failed} failed`);
  // What failed first: the log of a long run may be cut where it is read.
  for (const sentence of counts.why ?? []) say(`  × ${sentence}`);
  if (counts.failed > 0) say(output.split('\n').slice(-150).join('\n'));
  totals.passed += counts.passed;
  totals.failed += counts.failed;
  times.push(...(counts.times ?? []));
}

/** Tests of the computation, the server, the command line and the page's own logic. */
const units = (env) =>
  runner(
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
      const took = testResults.flatMap((file) =>
        file.assertionResults.map(({ fullName, duration }) => ({
          name: `${relative(projectRoot, file.name)}: ${fullName}`,
          ms: duration ?? 0,
        })),
      );
      return { passed: numPassedTests, failed: numFailedTests + broken, why, times: took };
    },
  );

/** Tests of the real interface in Chromium. */
const journeys = (env) =>
  runner(
    'playwright',
    () => ['playwright', 'test', '-c', 'e2e/playwright.config.ts', '--reporter=list,json'],
    { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: join(scratch, 'playwright.json') },
    ({ stats, errors, suites }) => ({
      passed: stats.expected,
      failed: stats.unexpected + stats.flaky + errors.length,
      times: suites.flatMap(({ file, specs }) =>
        specs.map(({ title, tests }) => ({
          name: `e2e/${file}: ${title}`,
          ms: Math.max(0, ...tests.flatMap(({ results }) => results.map(({ duration }) => duration))),
        })),
      ),
    }),
  );

/** What is looked at without running it. */
async function checks() {
  await check('types', 'node', ['node_modules/typescript-native/bin/tsc', '-p', 'tsconfig.json']);
  await check('lint', 'npx', ['--no-install', 'eslint', '--cache', '--cache-location', CACHE('eslint.json'), '.']);
  await check('import rules', 'npm', ['run', '-s', 'rules']);
  const kept = ['--cache', '--cache-location', CACHE('prettier.json')];
  await check('format', 'npx', ['--no-install', 'prettier', '--check', '--log-level', 'warn', ...kept, '.']);
}
const CACHE = (name) => join('node_modules/.cache', name);

let database = null;
try {
  await buildAll(); // both runners start the application: neither builds it while the other runs it
  const { startMariaDb } = await import('./mariadb.mjs');
  database = await startMariaDb(join(scratch, 'data'), { quiet: true });
  const env = { SLEDGEBOARD_TEST_DATABASE: database.url, SLEDGEBOARD_CHROMIUM: chromium, CI: 'true' };
  // Unit tests wait for leases and starts: the checks fill that time. Journeys have the machine for themselves, since what
  // a drafter waits for has limits of time.
  await Promise.all([units(env), checks()]);
  await journeys(env);
} catch (error) {
  say(`FAILED ${error.stack ?? error}`);
  totals.failed++;
} finally {
  await database?.stop();
  rmSync(scratch, { recursive: true, force: true });
}
say('The slowest:');
for (const { name, ms } of times.toSorted((a, b) => b.ms - a.ms).slice(0, SLOWEST))
  say(`  ${(ms / 1000).toFixed(1).padStart(6)} s  ${name}`);
say(`${totals.passed} passed, ${totals.failed} failed`);
process.exit(totals.failed > 0 ? 1 : 0);
