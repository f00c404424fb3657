import { spawn, type ChildProcess } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, test, vi } from 'vitest';
import { testSchema } from '../testkit/schema.ts';

// npm start as a whole, on an existing database server (DATABASE_URL), and its own MariaDB once at the end.
const schema = testSchema('start');
const databaseUrl = schema.url;
let folder: string;
const running = new Set<ChildProcess>();
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'sledge-start-'));
  await schema.create();
});
afterEach(async () => {
  for (const child of running) child.kill('SIGTERM');
  await Promise.all([...running].map(ended));
  running.clear();
});
afterAll(async () => {
  await schema.drop();
  rmSync(folder, { recursive: true, force: true });
});

/** Resolves when the process has ended, also when it had before. */
const ended = (child: ChildProcess): Promise<unknown> =>
  child.exitCode !== null || child.signalCode !== null
    ? Promise.resolve()
    : new Promise((resolve) => child.on('exit', resolve));
const end = (child: ChildProcess, signal: NodeJS.Signals) => {
  child.kill(signal);
  return ended(child);
};

/** Starts the application and waits for its address or its end. */
function start(
  env: Record<string, string>,
): Promise<{ child: ChildProcess; url: string | null; code: number | null; said: string }> {
  const child = spawn(process.execPath, ['scripts/start.mjs'], {
    env: { ...process.env, SLEDGEBOARD_DEMO: 'no', SLEDGEBOARD_DATA: folder, ...env },
  });
  running.add(child);
  let said = '';
  return new Promise((resolve) => {
    const hear = (data: Buffer) => {
      said += data.toString();
      const url = /ready: (http:\S+)/.exec(said);
      if (url) resolve({ child, url: url[1], code: null, said });
    };
    child.stdout!.on('data', hear);
    child.stderr!.on('data', hear);
    child.on('exit', (code) => resolve({ child, url: null, code, said }));
  });
}
const listening = (): Promise<Server> =>
  new Promise((resolve) => {
    const server = createServer();
    server.listen(0, '127.0.0.1', () => resolve(server));
  });

describe('npm start', () => {
  test('serves page and API, and frees its lock when it is stopped', async () => {
    const { child, url } = await start({ DATABASE_URL: databaseUrl });
    expect((await fetch(url!)).headers.get('content-type')).toContain('text/html');
    expect(await (await fetch(`${url}/api/projects`)).json()).toEqual([]);
    await end(child, 'SIGTERM');
    expect(existsSync(join(folder, 'lock'))).toBe(false);
  });
  test('a second one on the same folder says where the first is', async () => {
    const { url } = await start({ DATABASE_URL: databaseUrl });
    const second = await start({ DATABASE_URL: databaseUrl });
    expect([second.code, second.said]).toEqual([
      1,
      expect.stringContaining(`Sledgeboard is already running on ${folder}: ${url}`),
    ]);
  });
  test('the lock of one that was killed is taken over', async () => {
    const { child } = await start({ DATABASE_URL: databaseUrl });
    await end(child, 'SIGKILL');
    expect(existsSync(join(folder, 'lock'))).toBe(true);
    expect((await start({ DATABASE_URL: databaseUrl })).url).not.toBeNull();
  });
  test('a half-written lock is nobody’s', async () => {
    writeFileSync(join(folder, 'lock'), '{"pid":');
    expect((await start({ DATABASE_URL: databaseUrl })).url).not.toBeNull();
  });
  test('a busy port that was asked for is said; without PORT the next free one is taken', async () => {
    const other = await listening();
    const port = (other.address() as { port: number }).port;
    const asked = await start({ DATABASE_URL: databaseUrl, PORT: String(port) });
    expect([asked.code, asked.said]).toEqual([
      1,
      expect.stringContaining(`Port ${port} is in use by another program.`),
    ]);
    other.close();
    expect((await start({ DATABASE_URL: databaseUrl, PORT: 'many' })).said).toContain(
      'PORT is “many”, which is no port number',
    );
  });
  test('a database that cannot be reached is said in a sentence', async () => {
    const { code, said } = await start({ DATABASE_URL: 'mysql://nobody:x@127.0.0.1:9/none' });
    expect([code, said]).toEqual([1, expect.stringContaining('the database of DATABASE_URL cannot be used')]);
  });
  test('with a database of its own: set up once, also after a set-up that was cut off; it ends with the application', async () => {
    const own = join(folder, 'own');
    const first = await start({ SLEDGEBOARD_DATA: own, DATABASE_URL: '' });
    expect(first.said).toContain('Setting up the database (once)');
    await end(first.child, 'SIGTERM');
    expect(existsSync(join(own, 'mariadb.pid'))).toBe(false);
    const second = await start({ SLEDGEBOARD_DATA: own, DATABASE_URL: '' });
    expect(second.said).not.toContain('Setting up');
    await end(second.child, 'SIGKILL'); // its database is left running …
    const third = await start({ SLEDGEBOARD_DATA: own, DATABASE_URL: '' });
    expect([third.url !== null, third.said]).toEqual([
      true,
      expect.stringContaining('Stopping the database that an earlier run left behind'),
    ]);
    await end(third.child, 'SIGTERM');
    mkdirSync(join(own, 'mariadb.making')); // … and as if the power had failed during a set-up
    const fourth = await start({ SLEDGEBOARD_DATA: own, DATABASE_URL: '' });
    expect([fourth.url !== null, fourth.said.includes('Setting up')]).toEqual([true, false]);
    await end(fourth.child, 'SIGTERM');
  }, 180_000);
  test('a database that is killed is started again; meanwhile that is what requests are told', async () => {
    const own = join(folder, 'own');
    const { child, url } = await start({ SLEDGEBOARD_DATA: own, DATABASE_URL: '' });
    const ask = async () => {
      const response = await fetch(`${url}/api/projects`);
      return { status: response.status, body: (await response.json()) as { error?: string } };
    };
    expect((await ask()).status).toBe(200);
    process.kill(Number(readFileSync(join(own, 'mariadb.pid'), 'utf8')), 'SIGKILL');
    await vi.waitFor(async () => expect((await ask()).status).toBe(503), { timeout: 10_000, interval: 20 });
    expect((await ask()).body.error ?? '').toMatch(/^The database is away; it is started again by itself\.|^$/);
    await vi.waitFor(async () => expect((await ask()).status).toBe(200), { timeout: 60_000, interval: 200 });
    await end(child, 'SIGTERM');
    expect(existsSync(join(own, 'mariadb.pid'))).toBe(false);
  }, 120_000);
  test('a data folder that cannot be one is said in a sentence', async () => {
    const file = join(folder, 'file');
    writeFileSync(file, '');
    expect(await start({ SLEDGEBOARD_DATA: file, DATABASE_URL: databaseUrl })).toMatchObject({
      code: 1,
      said: expect.stringContaining(
        `The data folder ${file} is a file. Choose another one with SLEDGEBOARD_DATA.`,
      ) as string,
    });
  });
  test('a database that is there is never set up anew, whatever else of its folder is gone', async () => {
    const own = join(folder, 'own');
    const tables = readdirSync(join(own, 'mariadb', 'sledgeboard')).sort();
    for (const file of readdirSync(own)) if (file !== 'mariadb') rmSync(join(own, file), { recursive: true });
    const again = await start({ SLEDGEBOARD_DATA: own, DATABASE_URL: '' });
    expect([again.url !== null, again.said.includes('Setting up')]).toEqual([true, false]);
    await end(again.child, 'SIGTERM');
    expect(readdirSync(join(own, 'mariadb', 'sledgeboard')).sort()).toEqual(tables);
    renameSync(join(own, 'mariadb', 'ibdata1'), join(own, 'ibdata1'));
    const broken = await start({ SLEDGEBOARD_DATA: own, DATABASE_URL: '' });
    expect([broken.code, broken.said]).toEqual([1, expect.stringContaining('no complete database')]);
    expect(readdirSync(join(own, 'mariadb', 'sledgeboard')).sort()).toEqual(tables);
  }, 180_000);
});
