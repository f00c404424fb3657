// npm start: everything that is needed, then the application. See README.md.
import { createServer } from 'node:net';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { dataFolderProblem } from './dataFolder.mjs';
import { checkNode, ensurePackages, isRunning, projectRoot, run, say, stop } from './setup.mjs';

const USUAL_PORT = 4640;
process.chdir(projectRoot);
checkNode();
await ensurePackages();

const folder = resolve(process.env.SLEDGEBOARD_DATA || join(projectRoot, 'data'));
const problem = dataFolderProblem(folder);
if (problem) stop(problem);
takeLock();
rmSync(join(folder, 'incoming'), { recursive: true, force: true }); // of uploads that a stop cut off
const port = await choosePort();

let database = null;
let server = null;
let stopping = false;
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void shutDown(0));

try {
  if (!process.env.DATABASE_URL) {
    const { startMariaDb } = await import('./mariadb.mjs');
    database = await startMariaDb(folder);
  }
  const built = await build();
  const { startServer } = await import(pathToFileURL(built.server).href);
  server = await startServer({
    databaseUrl: process.env.DATABASE_URL || database.url,
    threads: built.threads,
    page: built.page,
    scratch: join(folder, 'incoming'),
    port,
    demoFile: process.env.SLEDGEBOARD_DEMO === 'no' ? null : join(projectRoot, 'demo/files/hauling-sledge-A.step'),
    demoRevision: join(projectRoot, 'demo/files/hauling-sledge-B.step'),
    suppliers: process.env.SLEDGEBOARD_SUPPLIERS || undefined,
    demoCatalogue: join(projectRoot, 'demo/files/camp-workshop.csv'),
    demoBars: join(projectRoot, 'demo/files/camp-bars.csv'),
    demoLayouts: ['A', 'B'].map((revision) => join(projectRoot, `demo/files/site-plan-${revision}.svg`)),
    demoForm: join(projectRoot, 'demo/files/camp-order-form.xlsx'),
  });
  writeFileSync(join(folder, 'lock'), JSON.stringify({ pid: process.pid, url: server.url }));
  say(`\nSledgeboard is ready: ${server.url}\nStop it with Ctrl-C.`);
} catch (error) {
  console.error(`\nSledgeboard could not start: ${explain(error)}`);
  await shutDown(1);
}

async function shutDown(code) {
  if (stopping) return;
  stopping = true;
  await server?.close().catch(() => {});
  await database?.stop().catch(() => {});
  rmSync(join(folder, 'lock'), { force: true });
  process.exit(code);
}

async function build() {
  const { code, output } = await run(process.execPath, ['scripts/build.mjs']);
  const lines = output.trim().split('\n');
  if (code !== 0) throw new Error(`The program could not be built:\n${lines.slice(-15).join('\n')}`);
  return JSON.parse(lines.at(-1));
}

/** One application per data folder; the lock of one that was killed is taken over. */
function takeLock() {
  const file = join(folder, 'lock');
  if (existsSync(file)) {
    let held = {};
    try {
      held = JSON.parse(readFileSync(file, 'utf8'));
    } catch {
      // cut off while being written: nobody holds it
    }
    if (held.pid && held.pid !== process.pid && isRunning(held.pid, 'start.mjs')) {
      stop(
        `Sledgeboard is already running on ${folder}${held.url ? `: ${held.url}` : ''} (process ${held.pid}). Use that one, or give this one its own folder with SLEDGEBOARD_DATA.`,
      );
    }
  }
  writeFileSync(file, JSON.stringify({ pid: process.pid }));
}

async function choosePort() {
  const wanted = process.env.PORT ? Number(process.env.PORT) : null;
  if (wanted !== null) {
    if (!Number.isInteger(wanted) || wanted < 1 || wanted > 65535)
      giveUp(`PORT is “${process.env.PORT}”, which is no port number (1 to 65535).`);
    if (!(await isFree(wanted)))
      giveUp(`Port ${wanted} is in use by another program. Choose another with PORT, or leave PORT out.`);
    return wanted;
  }
  for (let candidate = USUAL_PORT; candidate < USUAL_PORT + 50; candidate++)
    if (await isFree(candidate)) return candidate;
  return giveUp(`No free port between ${USUAL_PORT} and ${USUAL_PORT + 49}. Choose one with PORT.`);
}

function giveUp(sentence) {
  rmSync(join(folder, 'lock'), { force: true });
  stop(sentence);
}

function isFree(candidate) {
  return new Promise((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(candidate, '127.0.0.1', () => probe.close(() => done(true)));
  });
}

function explain(error) {
  if (
    process.env.DATABASE_URL &&
    /ECONNREFUSED|ENOTFOUND|ER_ACCESS_DENIED|ER_BAD_DB|ETIMEDOUT/.test(`${error.code} ${error.message}`)
  ) {
    return `the database of DATABASE_URL cannot be used (${error.message}). Check address, user, password and that the database exists.`;
  }
  return error.stack ?? String(error);
}
