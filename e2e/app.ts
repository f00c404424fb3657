import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect, test as bare, type Page } from '@playwright/test';
import { createConnection } from 'mysql2/promise';
import type { Job } from '../contract/src/index.ts';

/** What was built for all workers, see setup.mjs. */
export interface Built {
  /** Folder of the page. */
  readonly page: string;
  /** Bundle of the server. */
  readonly server: string;
  readonly threads: object;
}
interface Server {
  readonly url: string;
  readonly close: () => Promise<void>;
}

/** The application itself on a schema of its own, one for each worker; addresses are within it. */
async function startApp(worker: number): Promise<Server> {
  const database = process.env.SLEDGEBOARD_TEST_DATABASE!;
  const built = JSON.parse(process.env.SLEDGEBOARD_BUILT!) as Built;
  const schema = `e2e_${process.pid}_${worker}`;
  const connection = await createConnection(database);
  await connection.query(`CREATE DATABASE ${schema}`);
  const { startServer } = (await import(pathToFileURL(built.server).href)) as {
    startServer: (options: object) => Promise<Server>;
  };
  const server = await startServer({
    databaseUrl: Object.assign(new URL(database), { pathname: `/${schema}` }).href,
    threads: built.threads,
    page: built.page,
    port: 0,
    demoFile: null,
  });
  return {
    url: server.url,
    close: async () => {
      await server.close();
      await connection.query(`DROP DATABASE ${schema}`);
      await connection.end();
    },
  };
}

/** A test of the interface, which knows its way around: no hints. */
export const test = bare.extend<{ readonly hintsSeen: void }, { readonly app: Server }>({
  app: [
    async ({}, use, { workerIndex }) => {
      const app = await startApp(workerIndex);
      await use(app);
      await app.close();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  baseURL: ({ app }, use) => use(app.url),
  hintsSeen: [
    async ({ page }, use) => {
      await page.addInitScript(() => localStorage.setItem('hints-seen', '3'));
      await use();
    },
    { auto: true },
  ],
});
export { expect };

/** Long enough for the page to ask, which it does at once where it does. */
const ASKED = 1500;

/** Brings a file in by hand as a project of its own, also where one of that name is there. */
export async function bringAsOwn(page: Page, file: string): Promise<void> {
  await page.waitForLoadState('networkidle'); // the projects are known
  await page.locator('input[type=file]').setInputFiles(file);
  const own = page.getByRole('button', { name: 'A project of its own' });
  await own.waitFor({ timeout: ASKED }).then(
    () => own.click(),
    () => {},
  );
}

export type Station = 'model' | 'bill' | 'sheets' | 'changes' | 'buying';

/** Brings a file in over HTTP as a project of its own and opens a station of it. Its shapes are there then. */
export async function openProject(page: Page, file: string, station: Station): Promise<string> {
  const { request } = page;
  const asked = await request.post(`/api/imports?name=${encodeURIComponent(basename(file))}`, {
    data: readFileSync(file),
    headers: { 'Content-Type': 'application/octet-stream' },
  });
  const { job } = (await asked.json()) as { job: string };
  let done: Job;
  do {
    await new Promise((resolve) => setTimeout(resolve, 50));
    done = (await (await request.get(`/api/jobs/${job}`)).json()) as Job;
  } while (done.state === 'queued' || done.state === 'running');
  if (done.state !== 'done') throw new Error(done.reason ?? done.state);
  await page.goto(`/projects/${done.project}/${station}`);
  await expect(page.locator('.shapes')).toHaveCount(0, { timeout: 120_000 });
  return done.project!;
}
