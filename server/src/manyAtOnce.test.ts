import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { request as httpRequest } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection, type Connection } from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import { MAX_FILE, type Accepted, type Project, type ProjectSummary, type Stale } from '../../contract/src/index.ts';
import type { BillDocument } from '../../core/src/documents/index.ts';
import { startLive, type LiveServer } from '../../testkit/liveServer.ts';
import { testSchema } from '../../testkit/schema.ts';
import { bundledThreads } from '../../testkit/threads.ts';
import { stepOf, tableProduct } from '../../testkit/stepFiles.ts';
import { answerError, whyAway } from './errors.ts';
import { startServer } from './server.ts';
import { serverLog } from './logLines.ts';

let live: LiveServer;
let sql: Connection;
let project: string;
beforeAll(async () => {
  live = await startLive('many');
  sql = await createConnection(live.databaseUrl);
  project = await live.importFile('table.step', stepOf(tableProduct()));
});
afterAll(async () => {
  await sql?.end();
  await live?.stop();
});

const open = (session = 'one') => live.open(project, session);
const bill = async () => {
  const { id, version, content } = (await open()).documents.find(({ kind }) => kind === 'bill')!;
  return { id, version, content: content as BillDocument };
};
let gestures = 0;
const send = (version: number, command: unknown, { session = 'one', gesture = `many-${++gestures}`, document = '' }) =>
  live.call<Accepted & Stale>(`/api/projects/${project}/edits`, 'POST', {
    gesture,
    session,
    label: 'a change',
    steps: [{ document, version, command }],
  });
const heading = (id: string, text: string) => ({ kind: 'renameColumn', id, heading: text });
const count = async (table: string, where = '1') =>
  Number(((await sql.query(`SELECT COUNT(*) AS n FROM \`${table}\` WHERE ${where}`))[0] as { n: number }[])[0].n);

describe('many drafters in one project', () => {
  test('a gesture that was made for an earlier version is carried out where nothing of it was changed since', async () => {
    const { id, version } = await bill();
    await send(version, heading('item', 'Pos'), { session: 'two', document: id });
    const { status, body } = await send(version, heading('quantity', 'Pieces'), { document: id });
    expect([status, body.documents[0].version]).toEqual([200, version + 2]);
    const headings = (await bill()).content.columns.map((column) => column.heading);
    expect(headings).toEqual(expect.arrayContaining(['Pos', 'Pieces']));
  });
  test('… and goes back with what happened where something was', async () => {
    const { id, version } = await bill();
    await send(version, heading('item', 'No.'), { session: 'two', document: id });
    const { status, body } = await send(version, heading('item', 'Nr'), { document: id });
    expect([status, body.since.map(({ session, command }) => [session, command.heading])]).toEqual([
      409,
      [['two', 'No.']],
    ]);
  });
  test('a hundred at once all come in, in some order', async () => {
    const { id, version } = await bill();
    const answers = await Promise.all(
      Array.from({ length: 100 }, (_, at) =>
        send(version, heading(at % 2 ? 'item' : 'quantity', `h${at}`), { document: id, session: `w${at % 2}` }),
      ),
    );
    // Those that touch the same column conflict; of each column at least the first is kept.
    const kept = answers.filter(({ status }) => status === 200).length;
    expect(answers.every(({ status }) => status === 200 || status === 409)).toBe(true);
    expect(kept).toBeGreaterThanOrEqual(2);
    expect((await bill()).version).toBe(version + kept);
  });
  test('a gesture that says nothing is called by what its first command does', async () => {
    const { id, version } = await bill();
    const { status, body } = await live.call<Accepted>(`/api/projects/${project}/edits`, 'POST', {
      gesture: 'unsaid',
      session: 'quiet',
      steps: [{ document: id, version, command: heading('item', 'Nr') }],
    });
    expect([status, body.history.undo]).toEqual([200, 'rename a column Nr']);
    expect((await open('quiet')).history.undo).toBe('rename a column Nr');
  });
  test('a gesture that is sent again, even at the same time, is carried out once', async () => {
    const { id, version } = await bill();
    const answers = await Promise.all(
      Array.from({ length: 5 }, () => send(version, heading('item', 'once'), { gesture: 'the-same', document: id })),
    );
    expect(answers.map(({ status, body }) => [status, body.documents[0].version])).toEqual(
      Array(5).fill([200, version + 1]),
    );
  });
  test('fifty that touch each a thing of its own are all kept, whichever version they were made for', async () => {
    const { id, version } = await bill();
    const numbers = (at: number) => ({ [at.toString(16).padStart(32, '0')]: { number: 500 + at } });
    const answers = await Promise.all(
      Array.from({ length: 50 }, (_, at) =>
        send(version, { kind: 'setNumbers', numbers: numbers(at) }, { document: id, session: `own-${at}` }),
      ),
    );
    expect(answers.map(({ status }) => status)).toEqual(Array(50).fill(200));
    const now = await bill();
    expect(now.version).toBe(version + 50);
    for (let at = 0; at < 50; at++) expect(now.content.ledger).toMatchObject(numbers(at));
  });
  test('undo that is sent several times at once under one name takes back once', async () => {
    const { id, version } = await bill();
    for (let at = 0; at < 4; at++)
      await send(version + at, heading('item', `at ${at}`), { session: 'hasty', document: id });
    const undo = () =>
      live.post<Accepted>(`/api/projects/${project}/undo`, { session: 'hasty', gesture: 'hasty-back' });
    await Promise.all([undo(), undo(), undo()]);
    expect((await bill()).content.columns.find((column) => column.id === 'item')!.heading).toBe('at 2');
  });
  test('undo that is sent again under its name takes back once', async () => {
    const { id, version } = await bill();
    await send(version, heading('item', 'one'), { session: 'undoing', document: id });
    await send(version + 1, heading('item', 'two'), { session: 'undoing', document: id });
    const undo = () =>
      live.post<Accepted>(`/api/projects/${project}/undo`, { session: 'undoing', gesture: 'take-back' });
    const [first, second] = [await undo(), await undo()];
    expect(second).toEqual(first);
    expect((await bill()).content.columns.find((column) => column.id === 'item')!.heading).toBe('one');
  });
  test('what a window can take back stands in rows of its own: two looks, however long its history is', async () => {
    const { id, version } = await bill();
    for (let at = 0; at < 5; at++)
      await send(version + at, heading('item', `n${at}`), { session: 'long', document: id });
    for (let at = 0; at < 3; at++) await live.post(`/api/projects/${project}/undo`, { session: 'long' });
    expect([await count('history', "session = 'long' AND stack = 'undo'"), (await open('long')).history]).toEqual([
      2,
      { undo: 'a change', redo: 'a change' },
    ]);
    await send(version + 8, heading('item', 'new'), { session: 'long', document: id });
    expect(await count('history', "session = 'long' AND stack = 'redo'")).toBe(0);
  });
  test('a gesture of more than four megabytes is kept whole, and can be taken back', async () => {
    const { id, version, content } = await bill();
    const numbers = Object.fromEntries(
      Array.from({ length: 50_000 }, (_, at) => [
        `${at.toString(16).padStart(32, '0')}@${'e'.repeat(32)}`,
        { number: at + 10, pinned: false },
      ]),
    );
    expect(JSON.stringify(numbers).length).toBeGreaterThan(4 * 1024 * 1024);
    const { status, body } = await send(version, { kind: 'setNumbers', numbers }, { session: 'large', document: id });
    expect([status, body.error]).toEqual([200, undefined]);
    expect(Object.keys((await bill()).content.ledger).length).toBeGreaterThanOrEqual(50_000);
    await live.post(`/api/projects/${project}/undo`, { session: 'large' });
    expect((await bill()).content.ledger).toEqual(content.ledger);
  });
});

describe('two servers', () => {
  test('started together on an empty database both start, with one demo between them', async () => {
    const schema = testSchema('twins');
    await schema.create();
    const folder = mkdtempSync(join(tmpdir(), 'sledge-twins-'));
    const demoFile = join(folder, 'table.step');
    writeFileSync(demoFile, stepOf(tableProduct()));
    const start = () =>
      startServer({
        databaseUrl: schema.url,
        threads: bundledThreads(),
        page: null,
        port: 0,
        demoFile,
      });
    const twins = await Promise.all([start(), start(), start()]);
    const lists = twins.map(
      async ({ url }) => (await fetch(`${url}/api/projects`)).json() as Promise<ProjectSummary[]>,
    );
    for (const list of await Promise.all(lists)) expect(list.map(({ name }) => name)).toEqual(['Table']);
    await Promise.all(twins.map((twin) => twin.close()));
    rmSync(folder, { recursive: true });
    await schema.drop();
  });
});

describe('what a deleted project leaves', () => {
  test('is nothing that only it needed, and everything that another one needs', async () => {
    const one = await live.importFile('twin.step', stepOf(tableProduct()));
    const shapes = () => count('blob', "id LIKE 'mesh%'");
    await vi.waitFor(async () => expect(await count('job', "state IN ('queued', 'running')")).toBe(0), {
      timeout: 60_000,
    });
    const before = await shapes();
    await live.call(`/api/projects/${one}`, 'DELETE');
    expect([before > 0, await shapes()]).toEqual([true, before]);
    expect((await live.call(`/api/projects/${project}/picture`)).status).toBe(200);
    await live.call(`/api/projects/${project}`, 'DELETE');
    expect([await count('blob'), await count('blob_chunk'), await count('history')]).toEqual([0, 0, 0]);
    project = await live.importFile('table.step', stepOf(tableProduct()));
  });
  test('looking at the list of projects makes nothing', async () => {
    await vi.waitFor(async () => expect(await count('job', "state IN ('queued', 'running')")).toBe(0), {
      timeout: 60_000,
    });
    const jobs = await count('job');
    for (const { id } of await live.get<ProjectSummary[]>('/api/projects'))
      await live.call(`/api/projects/${id}/picture`);
    expect(await count('job')).toBe(jobs);
  });
});

describe('what comes in and what goes wrong', () => {
  test('a declared size over the limit is refused before anything is sent', async () => {
    const answer = await new Promise<{ status: number; text: string }>((resolve, reject) => {
      const sent = httpRequest(`${live.url}/api/imports?name=huge.step`, {
        method: 'POST',
        headers: { 'Content-Length': MAX_FILE + 1 },
      });
      sent.on('error', reject).on('response', (response) => {
        let text = '';
        response.on('data', (piece: Buffer) => (text += piece.toString()));
        response.on('end', () => resolve({ status: response.statusCode!, text }));
      });
      sent.flushHeaders();
    });
    expect(answer).toEqual({
      status: 413,
      text: '{"error":"The file is larger than 600 MB; that is more than can be read."}',
    });
  });
  test('an error of the program is a sentence with a number, under which the log has the rest', () => {
    const log = vi.spyOn(serverLog, 'error').mockImplementation(() => {});
    let said = '';
    const response = {
      status: (code: number) => ({ json: ({ error }: { error: string }) => (said = `${code} ${error}`) }),
    };
    const failure = new Error('Cannot read properties of undefined (reading "insides")');
    answerError(failure, { method: 'GET', path: '/x' } as never, response as never, () => {});
    const number = /\((error [0-9a-f]{8})\)/.exec(said)![1];
    expect([said.startsWith('500 '), said.includes('insides')]).toEqual([true, false]);
    expect(log.mock.calls[0][0]).toEqual({ err: failure, id: number, where: 'GET /x' });
    log.mockRestore();
  });
  test('a database that is away or has no room is said in words', () => {
    const away = Object.assign(new Error('connect ECONNREFUSED 127.0.0.1:3306'), { code: 'ECONNREFUSED' });
    expect(whyAway(away)).toMatch(/^The database is away/);
    expect(whyAway(new Error("The table 'blob_chunk' is full"))).toMatch(/^The disk is full/);
    expect(whyAway(new Error('x is not a function'))).toBeNull();
  });
  test('a project goes out to a page and to one that cannot unpack', async () => {
    const plain = await fetch(`${live.url}/api/projects/${project}/assembly`, {
      headers: { 'Accept-Encoding': 'identity' },
    });
    const packed = await fetch(`${live.url}/api/projects/${project}/assembly`);
    expect([plain.headers.get('content-encoding'), packed.headers.get('content-encoding')]).toEqual([null, 'gzip']);
    expect(await plain.json()).toEqual(await packed.json());
    expect(((await live.open(project)) satisfies Project).summary.fileName).toBe('table.step');
  });
});

describe('a stored document that cannot be read', () => {
  test('is shown as it was last when it could be, and can be taken back to that', async () => {
    const { id, version } = await bill();
    await send(version, heading('item', 'Good'), { document: id });
    await send(version + 1, { kind: 'setDepth', depth: 'structured' }, { document: id });
    // As a fault of an earlier program might have left it.
    await sql.query(`UPDATE document SET content = JSON_SET(content, '$.recipe.depth', 'sideways') WHERE id = ?`, [id]);
    const opened = (await open()).documents.find((document) => document.id === id)!;
    expect(opened.damaged).toBe('It is shown as it was before “a change”.');
    expect((opened.content as BillDocument).recipe.depth).toBe('parts-only');
    const refused = await send(version + 2, heading('item', 'No'), { document: id });
    expect(refused.status).toBe(422);
    expect(refused.body.error).toContain('The bill of this project that is stored cannot be read: recipe.depth ');
    await live.post(`/api/projects/${project}/documents/${id}/take-back`, {});
    expect((await bill()).content.columns.find((column) => column.id === 'item')!.heading).toBe('Good');
    expect((await send(version + 3, heading('item', 'Yes'), { document: id })).status).toBe(200);
  });
});
