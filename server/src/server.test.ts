import { readFileSync } from 'node:fs';
import { connect } from 'node:net';
import { createConnection } from 'mysql2/promise';
import { afterAll, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import type { Accepted, Job, ListPreview, Project, Shapes, Stale, ViewsAnswer } from '../../contract/src/index.ts';
import type { BillDocument } from '../../core/src/documents/index.ts';
import { group, part, stepOf, tableProduct, times } from '../../testkit/stepFiles.ts';
import { blobStore } from './store/blobs.ts';
import { openDatabase } from './store/database.ts';
import { startServer, type RunningServer } from './server.ts';
import { gltf } from '../../testkit/gltf.ts';
import { testSchema } from '../../testkit/schema.ts';
import { bundledThreads } from '../../testkit/threads.ts';

const schema = testSchema('http');
const databaseUrl = schema.url;
const table = stepOf(tableProduct());

let server: RunningServer;
const start = () =>
  startServer({
    databaseUrl,
    threads: bundledThreads(),
    page: null,
    port: 0,
    demoFile: null,
  });
beforeAll(async () => {
  await schema.create();
  server = await start();
});
afterAll(async () => {
  await server?.close();
  await schema.drop();
});

async function call<Body>(
  path: string,
  init?: RequestInit & { json?: unknown },
): Promise<{ status: number; body: Body }> {
  const response = await fetch(
    `${server.url}${path}`,
    init?.json === undefined
      ? init
      : { ...init, method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(init.json) },
  );
  const text = await response.text();
  return {
    status: response.status,
    body: (text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text) as Body,
  };
}

/** Uploads a file and waits for the end of its import. */
async function importFile(name: string, content: string | Uint8Array): Promise<Job> {
  const { body } = await call<{ job: string }>(`/api/imports?name=${encodeURIComponent(name)}`, {
    method: 'POST',
    body: content as string,
  });
  for (;;) {
    const { body: job } = await call<Job>(`/api/jobs/${body.job}`);
    if (job.state !== 'queued' && job.state !== 'running') return job;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
/** Waits until the shapes of what was imported are made too: they go on when the import is done. */
async function quiet(): Promise<void> {
  const connection = await createConnection(databaseUrl);
  await vi.waitFor(
    async () =>
      expect((await connection.query("SELECT id FROM job WHERE state IN ('queued', 'running')"))[0]).toEqual([]),
    { timeout: 50_000 },
  );
  await connection.end();
}
/** Waits until a job is done. */
const ended = (job: string): Promise<void> =>
  vi.waitFor(async () => expect((await call<Job>(`/api/jobs/${job}`)).body.state).toBe('done'), { timeout: 50_000 });
/** Orders one view. */
const order = (project: string, look: { direction: string; variant: string | null }) =>
  call<ViewsAnswer>(`/api/projects/${project}/views`, { json: { looks: [look] } });
const open = async (id: string, session = 'one') =>
  (await call<Project>(`/api/projects/${id}?session=${session}`)).body;
const billOf = (project: Project) =>
  project.documents.find(({ kind }) => kind === 'bill') as { id: string; version: number; content: BillDocument };
let gestures = 0;
const gesture = (
  project: string,
  document: string,
  version: number,
  command: unknown,
  session = 'one',
  label = 'a change',
) =>
  call<Accepted & Stale & { error: string }>(`/api/projects/${project}/edits`, {
    json: { gesture: `g${++gestures}`, session, label, steps: [{ document, version, command }] },
  });
const rowsIn = async (...tables: string[]) => {
  const connection = await createConnection(databaseUrl);
  const counts = [];
  for (const name of tables)
    counts.push(Number(((await connection.query(`SELECT COUNT(*) AS n FROM \`${name}\``))[0] as { n: number }[])[0].n));
  await connection.end();
  return counts;
};

describe('import', () => {
  test('a file becomes a project with a numbered bill and a sheet, which are there after a restart', async () => {
    const job = await importFile('table.step', table);
    expect(job).toMatchObject({ state: 'done', reason: null });
    await server.close();
    server = await start();
    const project = await open(job.project!);
    expect(project.summary).toMatchObject({
      name: 'Table',
      fileName: 'table.step',
      parts: 3,
      leafOccurrences: 13,
      sheets: 1,
    });
    expect(project.documents.map(({ kind, version }) => [kind, version])).toEqual([
      ['components', 1],
      ['bill', 1],
      ['sheet', 1],
      ['set', 1],
    ]);
    expect(Object.values(billOf(project).content.ledger).map(({ number }) => number)).toEqual([1, 2, 3]);
    const { body: assembly } = await call<{ components: { shape: string | null }[] }>(
      `/api/projects/${job.project}/assembly`,
    );
    const shape = assembly.components.find((component) => component.shape)!.shape;
    await quiet();
    expect((await fetch(`${server.url}/api/meshes/${shape}`)).status).toBe(200);
    const picture = await fetch(`${server.url}/api/thumbnails/${shape}`);
    expect([
      picture.headers.get('content-type'),
      Buffer.from(await picture.arrayBuffer())
        .subarray(1, 4)
        .toString(),
    ]).toEqual(['image/png', 'PNG']);
  });

  test.each([
    ['nothing.step', '', 'is empty (0 bytes)'],
    ['picture.step', Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 1, 2, 3), 'the mark of a PNG picture'],
    ['cut.step', table.slice(0, 4000), 'Export it again; nothing was stored.'],
    ['missing.step', table.replace(/(#\d+=PRODUCT_DEFINITION\('design','',)#\d+/, '$1#99999'), 'refers to #99999'],
  ])('%s is refused with a sentence, and nothing is stored', async (name, content, words) => {
    await quiet();
    const before = await rowsIn('project', 'revision', 'document', 'blob');
    const { status, body } =
      content.length === 0
        ? await call<{ error: string }>(`/api/imports?name=${name}`, { method: 'POST', body: content as string })
        : { status: 202, body: { error: '' } };
    const said = status === 400 ? body.error : (await importFile(name, content)).reason;
    expect(said).toContain(words);
    expect(await rowsIn('project', 'revision', 'document', 'blob')).toEqual(before);
  });

  test('an import that a stop of the server cut short goes on after the next start', async () => {
    const { body } = await call<{ job: string }>('/api/imports?name=demo.step', {
      method: 'POST',
      body: readFileSync('demo/files/hauling-sledge-B.step'),
    });
    await vi.waitFor(async () => expect((await call<Job>(`/api/jobs/${body.job}`)).body.state).toBe('running'), {
      timeout: 10_000,
    });
    await server.close();
    server = await start();
    await vi.waitFor(
      async () =>
        expect((await call<Job>(`/api/jobs/${body.job}`)).body).toMatchObject({ state: 'done', reason: null }),
      { timeout: 50_000 },
    );
  });

  test('a cancelled import leaves nothing behind', async () => {
    const before = await rowsIn('project', 'document');
    const { body } = await call<{ job: string }>('/api/imports?name=demo.step', {
      method: 'POST',
      body: readFileSync('demo/files/hauling-sledge-B.step'),
    });
    await call(`/api/jobs/${body.job}/cancel`, { method: 'POST' });
    let job: Job;
    do job = (await call<Job>(`/api/jobs/${body.job}`)).body;
    while (job.state === 'running' || job.state === 'queued');
    expect(job).toMatchObject({ state: 'cancelled', reason: 'It was cancelled; nothing was stored.', project: null });
    expect(await rowsIn('project', 'document')).toEqual(before);
  });
});

describe('who goes away while a file is on its way', () => {
  test('has nothing stored, though all of it had arrived', async () => {
    const before = await rowsIn('project', 'document');
    const bytes = readFileSync('demo/files/hauling-sledge-B.step');
    const { port } = new URL(server.url);
    await new Promise<void>((resolve, reject) => {
      const socket = connect(Number(port), '127.0.0.1', () => {
        socket.write(
          `POST /api/imports?name=demo.step HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Length: ${bytes.length}\r\n\r\n`,
        );
        socket.write(bytes, () => socket.destroy());
      });
      socket.once('close', () => resolve());
      socket.once('error', reject);
    });
    await new Promise((resolve) => setTimeout(resolve, 500)); // for the server to see that nobody is there
    await quiet();
    expect(await rowsIn('project', 'document')).toEqual(before);
  });
});

describe('shapes', () => {
  const shapesOf = async (id: string) => (await call<Shapes>(`/api/projects/${id}/shapes`)).body;

  test('the structure is there at once; shapes, what is measured on them and findings follow', async () => {
    const { project } = await importFile(
      'table.step',
      stepOf(
        group(
          'A-1',
          'Table',
          ...times(2, part('B-1', 'Bolt', 8)),
          ...times(1, part('B-2', 'Bolt, other number', 8)),
          ...times(1, part('T-1', 'Top', 60)),
        ),
      ),
    );
    expect((await open(project!)).summary).toMatchObject({ parts: 3, leafOccurrences: 4 });
    await quiet();
    const { job, facts, findings } = await shapesOf(project!);
    expect(job).toBeNull();
    expect(
      Object.values(facts)
        .map(({ sizes, volume }) => [sizes['Overall size'].value, Math.round(volume!)])
        .sort(),
    ).toEqual([
      ['60 × 60 × 60', 216_000],
      ['8 × 8 × 8', 512],
    ]);
    expect(findings.map(({ code, message }) => [code, message])).toEqual([
      ['same-shape', '“B-1” and “B-2” have the same shape under different numbers.'],
    ]);
  });

  test('shapes whose making was cancelled are made when the project is opened again', async () => {
    const { project } = await importFile('demo.step', readFileSync('demo/files/hauling-sledge-B.step'));
    const { job } = await shapesOf(project!);
    if (job) await call(`/api/jobs/${job}/cancel`, { method: 'POST' });
    await quiet();
    await shapesOf(project!);
    await quiet();
    const { job: rest, facts } = await shapesOf(project!);
    expect([rest, Object.keys(facts).length > 50]).toEqual([null, true]);
  });

  test('the bill shows what was measured and typed, and a decided finding makes one line of two', async () => {
    const { project } = await importFile(
      'table.step',
      stepOf(group('A-1', 'Table', ...times(2, part('B-1', 'Bolt', 8)), ...times(1, part('B-2', 'Other', 8)))),
    );
    await quiet();
    const loaded = await open(project!),
      bill = billOf(loaded);
    const components = loaded.documents.find(({ kind }) => kind === 'components')!;
    const { findings } = await shapesOf(project!);
    const [first, second] = findings[0].components!;
    await gesture(project!, bill.id, bill.version, {
      kind: 'addColumn',
      column: { id: 'size', source: 'property:Overall size', heading: 'Size' },
      at: 4,
    });
    await gesture(project!, components.id, 1, {
      kind: 'typeValues',
      name: 'Name',
      components: { [first]: { value: 'BOLT' } },
      places: {},
    });
    await gesture(project!, components.id, 2, {
      kind: 'decide',
      finding: findings[0].key!,
      decision: { answer: 'same' },
      sameAs: { [second]: first },
    });
    const { body } = await call<string>(`/api/projects/${project}/bills/${bill.id}/csv`);
    expect(body.split('\r\n').slice(1, -1)).toEqual(['1,3,B-1,BOLT,8 × 8 × 8 mm']);
  });
});

describe('other sources', () => {
  const bringIn = (list: string, mapping: unknown) =>
    call<{ job: string }>(`/api/lists/import?name=list.csv&mapping=${encodeURIComponent(JSON.stringify(mapping))}`, {
      method: 'POST',
      body: list,
    });
  test('a list that was only looked at leaves nothing behind', async () => {
    await quiet();
    const before = await rowsIn('blob', 'project');
    await call('/api/lists?name=list.csv', { method: 'POST', body: 'Number;Qty\nA-9;1\n' });
    expect(await rowsIn('blob', 'project')).toEqual(before);
  });

  test('a list is shown with what its columns seem to say, brought in as said, and remembered', async () => {
    const list = 'Stage;Nr;Designation;Pieces\n0;A-1;Table;1\n1;F-1;Foot;4\n2;B-1;Bolt;2\n';
    const send = () => call<ListPreview>('/api/lists?name=list.csv', { method: 'POST', body: list });
    const { body } = await send();
    expect([body.of, body.rows[2], body.remembered]).toEqual([4, ['1', 'F-1', 'Foot', '4'], false]);
    const mapping = { headingRow: 0, roles: ['level', 'partNumber', 'name', 'quantity'] as const };
    const { body: started } = await bringIn(list, mapping);
    await vi.waitFor(async () => expect((await call<Job>(`/api/jobs/${started.job}`)).body.state).toBe('done'));
    const { project } = (await call<Job>(`/api/jobs/${started.job}`)).body;
    expect((await open(project!)).summary).toMatchObject({ name: 'Table', parts: 1, leafOccurrences: 8 });
    expect((await send()).body).toMatchObject({ remembered: true, mapping });
  });
  test('what cannot be a list is refused with a sentence', async () => {
    expect(
      await call('/api/lists?name=list.csv', { method: 'POST', body: Uint8Array.of(0, 1, 2, 3) as never }),
    ).toEqual({
      status: 422,
      body: { error: 'The file holds binary data, so it is no table of text. Save it as CSV or XLSX.' },
    });
    expect((await bringIn('a;b\n1;2\n', { headingRow: 0, roles: ['level', 'quantity'] })).body).toEqual({
      error: 'No column says which part a row is; choose the one with part numbers or names.',
    });
  });
  test('glTF comes in with its meshes', async () => {
    const wedges = gltf([
      { name: 'Wedges', children: [1, 2] },
      { name: 'W', mesh: 0 },
      { name: 'W.001', mesh: 0, translation: [2, 0, 0] },
    ]);
    const { project } = await importFile('wedges.gltf', JSON.stringify(wedges));
    await quiet();
    const { body } = await order(project!, { direction: 'front', variant: null });
    const {
      keys: [key],
    } = body;
    const drawn = () => fetch(`${server.url}/api/views/${key}/lines`);
    expect((await drawn()).status).toBe(404); // asking starts nothing
    await ended(body.job!);
    const answer = await drawn();
    expect([answer.status, answer.headers.get('cache-control')]).toEqual([200, 'private, max-age=31536000, immutable']);
    expect((await order(project!, { direction: 'front', variant: null })).body).toEqual({ keys: [key], job: null });
    expect((await open(project!)).summary).toMatchObject({ name: 'Wedges', parts: 1, leafOccurrences: 2 });
  });
});

describe('edits', () => {
  let id: string;
  beforeEach(async () => {
    id = (await importFile('table.step', table)).project!;
  });

  test('a gesture is kept with its inverse; undo and redo are gestures too', async () => {
    const bill = billOf(await open(id));
    const { body } = await gesture(
      id,
      bill.id,
      1,
      { kind: 'setDepth', depth: 'structured' },
      'one',
      'list level by level',
    );
    expect(body.history).toEqual({ undo: 'list level by level', redo: null });
    expect(billOf(await open(id)).content.recipe.depth).toBe('structured');
    const undone = await call<Accepted>(`/api/projects/${id}/undo`, { json: { session: 'one' } });
    expect(undone.body.history).toEqual({ undo: null, redo: 'list level by level' });
    expect(billOf(await open(id))).toMatchObject({ version: 3, content: { recipe: { depth: 'parts-only' } } });
    await call(`/api/projects/${id}/redo`, { json: { session: 'one' } });
    expect(billOf(await open(id)).content.recipe.depth).toBe('structured');
  });

  test('undo takes back only what this window did', async () => {
    const bill = billOf(await open(id));
    await gesture(id, bill.id, 1, { kind: 'setDepth', depth: 'structured' }, 'one');
    await gesture(id, bill.id, 2, { kind: 'setIdentity', identity: 'name' }, 'two');
    await call(`/api/projects/${id}/undo`, { json: { session: 'one' } });
    expect(billOf(await open(id)).content.recipe).toEqual({ depth: 'parts-only', identity: 'name' });
  });

  test('undo is refused in words when another window changed the same thing since', async () => {
    const bill = billOf(await open(id));
    await gesture(id, bill.id, 1, { kind: 'setDepth', depth: 'structured' }, 'one', 'level by level');
    await gesture(id, bill.id, 2, { kind: 'setDepth', depth: 'single-level' }, 'two', 'first level only');
    expect(await call(`/api/projects/${id}/undo`, { json: { session: 'one' } })).toEqual({
      status: 422,
      body: {
        error:
          '“level by level” cannot be taken back: “first level only” changed the same thing since, in another window.',
      },
    });
  });

  test('a stale write is told, with what happened meanwhile, and changes nothing', async () => {
    const bill = billOf(await open(id));
    await gesture(id, bill.id, 1, { kind: 'setDepth', depth: 'structured' }, 'two', 'level by level');
    const { status, body } = await gesture(id, bill.id, 1, { kind: 'setDepth', depth: 'single-level' }, 'one');
    expect(status).toBe(409);
    expect(body.since).toEqual([
      {
        document: bill.id,
        session: 'two',
        label: 'level by level',
        command: { kind: 'setDepth', depth: 'structured' },
      },
    ]);
    expect(billOf(await open(id)).content.recipe.depth).toBe('structured');
  });

  test('of a gesture with one bad step nothing is kept', async () => {
    const project = await open(id);
    const bill = billOf(project);
    const { status, body } = await call<{ error: string }>(`/api/projects/${id}/edits`, {
      json: {
        gesture: 'half',
        session: 'one',
        label: 'x',
        steps: [
          { document: bill.id, version: 1, command: { kind: 'setDepth', depth: 'structured' } },
          { document: bill.id, version: 1, command: { kind: 'removeColumn', id: 'gone' } },
        ],
      },
    });
    expect([status, body.error]).toEqual([422, 'That column is no longer in the bill.']);
    expect(billOf(await open(id))).toMatchObject({ version: 1, content: { recipe: { depth: 'parts-only' } } });
  });

  test('the same gesture sent twice, because the answer got lost, is carried out once', async () => {
    const bill = billOf(await open(id));
    const json = {
      gesture: 'twice',
      session: 'one',
      label: 'x',
      steps: [{ document: bill.id, version: 1, command: { kind: 'setDepth', depth: 'structured' } }],
    };
    await call(`/api/projects/${id}/edits`, { json });
    expect((await call(`/api/projects/${id}/edits`, { json })).status).toBe(200);
    expect(billOf(await open(id)).version).toBe(2);
  });

  test('many windows at once: every accepted gesture counts, no version is used twice', async () => {
    const bill = billOf(await open(id));
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_, at) =>
        gesture(id, bill.id, 1, { kind: 'renameColumn', id: 'item', heading: `Pos ${at}` }, `w${at}`),
      ),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([200, ...Array<number>(7).fill(409)]);
    expect(billOf(await open(id)).version).toBe(2);
  });
});

describe('hand over', () => {
  test('the bill as CSV with its own columns, the sheet as PDF and SVG', async () => {
    const { project } = await importFile('table.step', table);
    const loaded = await open(project!);
    const sheet = loaded.documents.find(({ kind }) => kind === 'sheet')!;
    const { body: csv } = await call<string>(`/api/projects/${project}/bills/${billOf(loaded).id}/csv`);
    expect(csv.replace('\ufeff', '')).toBe(
      'Item,Qty,Part number,Name\r\n1,8,B-1,Bolt\r\n2,4,P-1,Plate\r\n3,1,T-1,Top\r\n',
    );
    const pdf = await fetch(`${server.url}/api/projects/${project}/sheets/${sheet.id}/pdf`);
    expect([
      pdf.status,
      pdf.headers.get('content-disposition'),
      Buffer.from(await pdf.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ]).toEqual([200, 'attachment; filename="Table Assembly.pdf"', '%PDF-']);
    expect((await call<string>(`/api/projects/${project}/sheets/${sheet.id}/svg`)).body).toContain(
      'viewBox="0 0 420 297"',
    );
  });
});

describe('the edge', () => {
  test.each([
    ['an unknown project', '/api/projects/gone', 404, 'There is no such project; it may have been deleted.'],
    ['an unknown address', '/api/nothing', 404, 'There is no such address.'],
  ])('%s', async (_, path, status, error) => expect(await call(path)).toEqual({ status, body: { error } }));
  test('what is no gesture is refused with the place', async () => {
    const { status, body } = await call<{ error: string }>('/api/projects/x/edits', {
      json: { gesture: 'g', session: 's', label: 'x', steps: [{ document: 'd', version: 'one', command: {} }] },
    });
    expect([status, body.error]).toEqual([
      400,
      expect.stringMatching(/^What was sent is not as expected at steps\.0\.version/),
    ]);
  });
  test('what is no JSON', async () => {
    const response = await fetch(`${server.url}/api/projects/x/edits`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: '{',
    });
    expect([response.status, await response.json()]).toEqual([
      400,
      { error: 'What was sent is no JSON: it breaks off before its end.' },
    ]);
  });
  test('a page of another site gets no answer', async () => {
    const response = await fetch(`${server.url}/api/projects`, { headers: { Origin: 'http://elsewhere.example' } });
    expect(response.status).toBe(403);
  });
  test('deleting a project takes all of it away', async () => {
    const { project } = await importFile('table.step', table);
    const before = await rowsIn('project', 'document');
    expect((await call(`/api/projects/${project}`, { method: 'DELETE' })).status).toBe(200);
    expect(await rowsIn('project', 'document')).toEqual([before[0] - 1, before[1] - 4]);
    expect((await call(`/api/projects/${project}`)).status).toBe(404);
  });
});

test('texts keep their case and script in the database, and large blobs come back whole', async () => {
  const database = await openDatabase(databaseUrl);
  const blobs = blobStore(database);
  const bytes = Uint8Array.from({ length: 2_500_000 }, (_, at) => (at * 31) % 251);
  await blobs.put('M6-a', bytes);
  await blobs.put('M6-A', Uint8Array.of(1));
  expect(Buffer.compare((await blobs.get('M6-a'))!, bytes)).toBe(0);
  expect(await blobs.get('M6-A')).toEqual(Uint8Array.of(1));
  const [charset] = (await database.query(
    'SELECT table_collation AS c FROM information_schema.tables WHERE table_schema = DATABASE() GROUP BY table_collation',
  )) as { c: string }[];
  expect(charset.c).toBe('utf8mb4_nopad_bin');
  await database.destroy();
});
