import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { createConnection } from 'mysql2/promise';
import type { Job, Project, Styles } from '../../contract/src/index.ts';
import type { BillDocument } from '../../core/src/documents/index.ts';
import { stepOf, tableProduct } from '../../testkit/stepFiles.ts';
import { testSchema } from '../../testkit/schema.ts';
import { startServer, type RunningServer } from './server.ts';

const schema = testSchema('bills');
let server: RunningServer;
let project: string;
beforeAll(async () => {
  await schema.create();
  server = await startServer({
    databaseUrl: schema.url,
    workerFile: process.env.SLEDGEBOARD_WORKER!,
    page: null,
    port: 0,
    demoFile: null,
  });
  project = await importTable();
});
afterAll(async () => {
  await server?.close();
  await schema.drop();
});

async function call<Body>(path: string, method = 'GET', body?: unknown): Promise<{ status: number; body: Body }> {
  const response = await fetch(`${server.url}${path}`, {
    method,
    ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
  });
  const text = await response.text();
  return { status: response.status, body: (/^[{[]/.test(text) ? JSON.parse(text) : text) as Body };
}
async function importTable(): Promise<string> {
  const response = await fetch(`${server.url}/api/imports?name=table.step`, {
    method: 'POST',
    body: stepOf(tableProduct()),
  });
  const { job } = (await response.json()) as { job: string };
  for (;;) {
    const { body } = await call<Job>(`/api/jobs/${job}`);
    if (body.state === 'done') return body.project!;
    if (body.state === 'failed') throw new Error(body.reason!);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
const bills = async (of = project) =>
  (await call<Project>(`/api/projects/${of}?session=one`)).body.documents
    .filter(({ kind }) => kind === 'bill')
    .map(({ id, version, content }) => ({ id, version, content: content as BillDocument }));
let gesture = 0;
const edit = (document: string, version: number, command: unknown) =>
  call<{ error?: string }>(`/api/projects/${project}/edits`, 'POST', {
    gesture: `g${++gesture}`,
    session: 'one',
    label: 'test',
    steps: [{ document, version, command }],
  });
const csv = async (id: string) =>
  (await call<string>(`/api/projects/${project}/bills/${id}/csv`)).body.replace('\ufeff', '').trim().split('\r\n');

describe('several bills', () => {
  test('a copy has everything of the first and goes its own way', async () => {
    const [first] = await bills();
    const { status, body } = await call<{ document: string }>(`/api/projects/${project}/bills`, 'POST', {
      name: 'Buyer’s list',
      from: first.id,
    });
    expect(status).toBe(201);
    const [key] = Object.keys(first.content.ledger);
    await edit(body.document, 1, { kind: 'typeCells', cells: { [key]: { name: 'Ordered as plate' } } });
    await edit(body.document, 2, {
      kind: 'changeRecipe',
      change: { machines: 2, sort: [{ source: 'partNumber', descending: true }] },
    });
    await edit(body.document, 3, {
      kind: 'addColumn',
      at: 9,
      column: { id: 'twice', source: 'formula', heading: 'Twice', expression: '2 × {quantity}', total: true },
    });
    const after = await bills();
    expect(after.map(({ content }) => content.name)).toEqual(['Drawing list', 'Buyer’s list']);
    expect(after[0].content).toEqual(first.content);
    const lines = await csv(body.document);
    expect(lines[0]).toMatch(/Twice$/);
    expect(lines.some((line) => line.includes('Ordered as plate'))).toBe(true);
    expect(lines.at(-1)).toMatch(/Total.*,\d+$/);
    expect((await csv(first.id)).some((line) => line.includes('Ordered as plate'))).toBe(false);
  });
  test('a blank one is numbered; the first stays, others can be taken away', async () => {
    const { body } = await call<{ document: string }>(`/api/projects/${project}/bills`, 'POST', { name: ' Spares ' });
    const made = (await bills()).find(({ id }) => id === body.document)!;
    expect(made.content.name).toBe('Spares');
    expect(Object.keys(made.content.ledger).length).toBeGreaterThan(0);
    const [first] = await bills();
    expect(await call(`/api/projects/${project}/bills/${first.id}`, 'DELETE')).toEqual({
      status: 422,
      body: { error: 'The first bill is the drawing’s list: sheets and balloons show its numbers, so it stays.' },
    });
    expect((await call(`/api/projects/${project}/bills/${made.id}`, 'DELETE')).status).toBe(200);
    expect((await bills()).some(({ id }) => id === made.id)).toBe(false);
    expect((await call(`/api/projects/${project}/bills/${made.id}`, 'DELETE')).status).toBe(404);
  });
  test.each([
    [{ name: '  ' }, 400],
    [{ name: 'x', from: 'no-such-bill' }, 404],
  ])('%j is refused', async (body, status) => {
    const answer = await call<{ error: string }>(`/api/projects/${project}/bills`, 'POST', body);
    expect(answer.status).toBe(status);
    expect(answer.body.error).toMatch(/[.]$/);
  });
  test.each([
    { kind: 'changeRecipe', change: { machines: 0 } },
    {
      kind: 'changeRecipe',
      change: { filter: { holds: 'all', of: [{ source: 'name', comparison: 'sounds like', operand: '' }] } },
    },
    { kind: 'changeColumn', id: 'name', change: { format: { decimals: 99 } } },
    { kind: 'typeCells', cells: { nonsense: { name: 'x' } } },
    {
      kind: 'changeLines',
      remove: [],
      put: [{ at: 0, line: { id: 'x', parent: null, after: null, quantity: { kind: 'each' }, properties: {} } }],
    },
  ])('a command that is none is refused at the door: %j', async (command) => {
    const [{ id, version, content }] = await bills();
    expect((await edit(id, version, command)).status).toBe(400);
    expect((await bills())[0].content).toEqual(content);
  });
  test('a bill stored before lines could be joined is read as it is meant', async () => {
    const [{ id, content }] = await bills();
    const { joins: _joins, apart: _apart, overrides: _overrides, lines: _lines, ...old } = content;
    const connection = await createConnection(schema.url);
    await connection.query('UPDATE document SET content = ? WHERE id = ?', [
      JSON.stringify({ ...old, version: 1 }),
      id,
    ]);
    await connection.end();
    expect((await bills())[0].content).toEqual(content);
  });
});

describe('house styles', () => {
  const style = {
    kind: 'sledgeboard house style',
    version: 1,
    name: 'Workshop',
    columns: [
      { id: 'item', source: 'item', heading: 'Pos' },
      { id: 'property:Lead time', source: 'property:Lead time', heading: 'Lead time', format: { empty: '–' } },
    ],
    numbering: {
      start: 10,
      step: 10,
      prefix: '',
      width: 1,
      separator: '.',
      letters: false,
      groupRange: 0,
      reserved: [],
    },
  };
  test('one that is kept and usual is what new bills and new projects begin with', async () => {
    expect((await call<Styles>('/api/styles', 'PUT', style)).body).toEqual({ styles: [style], usual: null });
    expect((await call<Styles>('/api/styles/usual', 'PUT', { name: 'Workshop' })).body.usual).toBe('Workshop');
    const { body } = await call<{ document: string }>(`/api/projects/${project}/bills`, 'POST', { name: 'In style' });
    const lines = await csv(body.document);
    expect(lines.slice(0, 3)).toEqual(['Pos,Lead time', '10,–', '20,–']);
    const [first] = await bills(await importTable());
    expect(first.content.columns.map(({ heading }) => heading)).toEqual(['Pos', 'Lead time']);
    expect(Object.values(first.content.ledger).map(({ number }) => number)).toContain(10);
  });
  test('one of the same name is replaced; one that is dropped is nobody’s usual', async () => {
    await call('/api/styles', 'PUT', { ...style, columns: style.columns.slice(0, 1) });
    expect((await call<Styles>('/api/styles')).body.styles.map(({ columns }) => columns.length)).toEqual([1]);
    expect((await call<Styles>('/api/styles/Workshop', 'DELETE')).body).toEqual({ styles: [], usual: null });
  });
  test('what is no style is refused with the place', async () => {
    const { status, body } = await call<{ error: string }>('/api/styles', 'PUT', {
      ...style,
      columns: [{ id: 'x', source: 'colour of the sky', heading: '' }],
    });
    expect(status).toBe(400);
    expect(body.error).toContain('columns.0.source');
  });
});
