import { spawn, type ChildProcess } from 'node:child_process';
import { createInterface } from 'node:readline';
import { createConnection, type Connection, type RowDataPacket } from 'mysql2/promise';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import type { Intention } from '../../../core/src/documents/index.ts';
import type { Sheet, SheetSet } from '../../../core/src/sheets/index.ts';
import { talkTo, type Client } from '../../../testkit/liveServer.ts';
import { testSchema } from '../../../testkit/schema.ts';
import { group, part, stepOf, tableProduct, times } from '../../../testkit/stepFiles.ts';

const database = testSchema('killed');
const processes: ChildProcess[] = [];
/** Looks into the database; the other one keeps others out of a table. */
let behind: Connection, locker: Connection;
beforeAll(async () => {
  await database.create();
  [behind, locker] = [await createConnection(database.url), await createConnection(database.url)];
});
afterAll(async () => {
  for (const process of processes) process.kill('SIGKILL');
  await behind?.end();
  await locker?.end();
  await database.drop();
});

/** A server in a process of its own; killed as a machine that loses its power would kill it. */
async function startProcess(): Promise<Client & { readonly kill: () => Promise<void> }> {
  const child = spawn(process.execPath, ['scripts/run.mjs', 'testkit/serverProcess.ts'], {
    env: { ...process.env, SLEDGEBOARD_KILLED_DATABASE: database.url },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  processes.push(child);
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  for await (const line of createInterface({ input: child.stdout }))
    if (line.startsWith('http')) return { ...talkTo(line), kill: () => (child.kill('SIGKILL'), ended) };
  throw new Error('The server ended before it listened.');
}
const rows = async (query: string) => (await behind.query<RowDataPacket[]>(query))[0];
const stored = () => rows('SELECT id, version, content FROM document ORDER BY id');

test('a server that is killed in the middle of taking a revision over leaves nothing of it; the next one leaves all', async () => {
  const first = await startProcess();
  const project = await first.importFile('table.step', stepOf(tableProduct()));
  const [sheet] = (await first.open(project)).documents.filter(({ kind }) => kind === 'sheet');
  const intend = (client: Client, intention: Intention) =>
    client.post<{ job: string }>(`/api/projects/${project}/intentions`, {
      gesture: intention.kind,
      session: 'one',
      label: 'take over',
      intention,
    });
  await first.done(
    (await intend(first, { kind: 'makeDrawing', sheet: sheet.id, views: [{ direction: 'front' }] })).job,
  );
  const foot = group('F-1', 'Foot', ...times(3, part('B-1', 'Bolt', 4)));
  const later = group('A-1', 'Table', ...times(4, foot), ...times(1, part('T-1', 'Table top', 66)));
  await first.done(
    (await first.post<{ job: string }>(`/api/imports?name=table-B.step&into=${project}`, stepOf(later))).job,
  );
  const { revisions, documents } = await first.open(project);
  const before = await stored();

  // What is written behind the documents waits for this lock: they are written by then, and not yet for good.
  await locker.query('LOCK TABLES history WRITE');
  const { job } = await intend(first, {
    kind: 'takeOver',
    revision: revisions[1].id,
    documents: documents.filter(({ kind }) => kind === 'bill' || kind === 'sheet').map(({ id }) => id),
    retire: true,
    clouds: true,
    line: { revision: 'B', text: 'Drawers', date: '2026-04-01', by: 'I. Maarsund' },
  });
  const waits = async () =>
    (await rows('SHOW PROCESSLIST')).filter(({ State }) => String(State).includes('table metadata lock')).length;
  await vi.waitFor(async () => expect(await waits()).toBe(1), { timeout: 60_000, interval: 100 });
  await behind.query('SET SESSION TRANSACTION ISOLATION LEVEL READ UNCOMMITTED');
  expect(await stored()).not.toEqual(before); // as that transaction sees them
  await behind.query('SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ');
  await first.kill();
  await locker.query('UNLOCK TABLES');
  // Its connection is gone, and what it had not done for good with it.
  await vi.waitFor(async () => expect(await waits()).toBe(0), { timeout: 20_000 });
  expect(await stored()).toEqual(before);

  // The next server finds the job and does it, once.
  const second = await startProcess();
  await second.done(job);
  const after = await second.open(project);
  const contentOf = <Content>(kind: string) => after.documents.find((one) => one.kind === kind)!.content as Content;
  const shown = after.documents
    .filter(({ kind }) => kind !== 'components')
    .map(({ content }) => (content as Sheet).revision);
  expect(new Set(shown)).toEqual(new Set([revisions[1].id]));
  expect(contentOf<SheetSet>('set').block?.revisions).toHaveLength(1);
  expect(contentOf<Sheet>('sheet').clouds?.letter).toBe('B');
  await second.post(`/api/projects/${project}/undo`, { session: 'one', gesture: 'back' });
  const contents = (list: readonly { id: string; content: unknown }[]) =>
    list.map(({ id, content }) => [id, typeof content === 'string' ? JSON.parse(content) : content]).sort();
  expect(contents((await second.open(project)).documents)).toEqual(contents(documents));
}, 120_000);
