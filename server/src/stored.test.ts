import { readFileSync } from 'node:fs';
import { createConnection } from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import type { Job, Project, ViewsAnswer } from '../../contract/src/index.ts';
import type { BillDocument, ComponentEdits } from '../../core/src/documents/index.ts';
import type { Sheet } from '../../core/src/sheets/index.ts';
import { testSchema } from '../../testkit/schema.ts';
import { startServer, type RunningServer } from './server.ts';

/**
 * A database as an earlier version left it: a table turned so that y is up, its list renamed, a bolt's number pinned to 7,
 * a view with a list and a balloon set by hand. Six gestures of the session “one”.
 */
const stored = 'testkit/stored/database-2026-11.sql';

const schema = testSchema('stored');
let server: RunningServer;
let project: string;
beforeAll(async () => {
  await schema.create();
  const connection = await createConnection({ uri: schema.url, multipleStatements: true });
  await connection.query(`SET NAMES utf8mb4; SET FOREIGN_KEY_CHECKS = 0; ${readFileSync(stored, 'utf8')}`);
  const [rows] = await connection.query('SELECT id FROM project');
  project = (rows as { id: string }[])[0].id;
  await connection.end();
  server = await startServer({
    databaseUrl: schema.url,
    workerFile: process.env.SLEDGEBOARD_WORKER!,
    page: null,
    port: 0,
    demoFile: null,
  });
});
afterAll(async () => {
  await server?.close();
  await schema.drop();
});

const get = async <Body>(path: string): Promise<Body> => (await (await fetch(`${server.url}${path}`)).json()) as Body;
const post = async <Body>(path: string, body: unknown): Promise<Body> =>
  (await (
    await fetch(`${server.url}${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    })
  ).json()) as Body;
const open = () => get<Project>(`/api/projects/${project}?session=one`);
const contentOf = <Content>(opened: Project, kind: string) =>
  opened.documents.find((document) => document.kind === kind)!.content as Content;

describe('a database of an earlier version', () => {
  test('opens with everything that was typed, pinned, turned and placed', async () => {
    const opened = await open();
    const bill = contentOf<BillDocument>(opened, 'bill');
    expect(bill.name).toBe('Liste für Ø 12');
    expect(Object.values(bill.ledger)).toContainEqual({ number: 7, pinned: true });
    expect(contentOf<ComponentEdits>(opened, 'components').orientation).toEqual({ up: '+y', front: '+z' });
    const sheet = contentOf<Sheet>(opened, 'sheet');
    expect([sheet.views.map(({ id }) => id), sheet.balloons.map(({ byHand }) => byHand)]).toEqual([['v1'], [true]]);
  });
  test('hands its sheet over, with the pinned number in the balloon', async () => {
    const sheet = (await open()).documents.find(({ kind }) => kind === 'sheet')!;
    const { job } = await post<ViewsAnswer>(`/api/projects/${project}/sheets/${sheet.id}/views`, {});
    if (job)
      await vi.waitFor(async () => expect((await get<Job>(`/api/jobs/${job}`)).state).toBe('done'), {
        timeout: 50_000,
      });
    const svg = await (await fetch(`${server.url}/api/projects/${project}/sheets/${sheet.id}/svg`)).text();
    expect(svg).toMatch(/data-of="balloon b1"[^>]*>7<\/text>/);
  });
  test('takes back its last gesture', async () => {
    await post(`/api/projects/${project}/undo`, { session: 'one' });
    expect(contentOf<Sheet>(await open(), 'sheet').balloons).toEqual([]);
  });
});
