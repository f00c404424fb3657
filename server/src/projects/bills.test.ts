import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import excel from 'exceljs';
import { createConnection } from 'mysql2/promise';
import type { Project, Styles } from '../../../contract/src/index.ts';
import type { BillDocument } from '../../../core/src/documents/index.ts';
import type { Comparison } from '../../../core/src/formats/index.ts';
import { stepOf, tableProduct } from '../../../testkit/stepFiles.ts';
import { startLive, type LiveServer } from '../../../testkit/liveServer.ts';

let live: LiveServer;
let project: string;
const importTable = () => live.importFile('table.step', stepOf(tableProduct()));
beforeAll(async () => {
  live = await startLive('bills');
  project = await importTable();
});
afterAll(() => live?.stop());

const call: LiveServer['call'] = (...request) => live.call(...request);
const bills = async (of = project) =>
  (await call<Project>(`/api/projects/${of}?session=one`)).body.documents
    .filter(({ kind }) => kind === 'bill')
    .map(({ id, version, content }) => ({ id, version, content: content as BillDocument }))
    .filter(({ content }) => !content.away);
let gesture = 0;
const edit = (document: string, version: number, command: unknown) =>
  call<{ error?: string }>(`/api/projects/${project}/edits`, 'POST', {
    gesture: `g${++gesture}`,
    session: 'one',
    label: 'test',
    steps: [{ document, version, command }],
  });
const addBill = (body: { name: string; from?: string; recipe?: unknown; gesture?: string }) =>
  call<{ document: string; missing: string[]; error: string }>(`/api/projects/${project}/bills`, 'POST', {
    gesture: `g${++gesture}`,
    session: 'one',
    ...body,
  });
const step = (mode: 'undo' | 'redo') => call(`/api/projects/${project}/${mode}`, 'POST', { session: 'one' });
const csv = async (id: string) =>
  (await call<string>(`/api/projects/${project}/bills/${id}/csv`)).body.replace('\ufeff', '').trim().split('\r\n');

test('a bill whose name has half a sign goes out in every format', async () => {
  const { body } = await addBill({ name: 'Half \ud83d list', from: (await bills())[0].id });
  const made = (await bills()).find(({ id }) => id === body.document)!;
  expect(made.content.name).toBe('Half \ufffd list');
  // As an earlier version stored it.
  const connection = await createConnection(live.databaseUrl);
  await connection.query('UPDATE document SET content = REPLACE(content, ?, ?) WHERE id = ?', [
    'Half \ufffd',
    'Half \\ud83d',
    body.document,
  ]);
  await connection.end();
  for (const format of ['csv', 'tsv', 'json', 'xlsx', 'recipe']) {
    const response = await fetch(`${live.url}/api/projects/${project}/bills/${body.document}/${format}`);
    expect([format, response.status]).toEqual([format, 200]);
    expect(response.headers.get('content-disposition')).not.toContain('undefined');
    await response.arrayBuffer();
  }
  await edit(body.document, 2, { kind: 'setAway', away: true });
});

describe('several bills', () => {
  test('a copy has everything of the first and goes its own way', async () => {
    const [first] = await bills();
    const { status, body } = await addBill({ name: 'Buyer’s list', from: first.id });
    expect(status).toBe(201);
    const [key] = Object.keys(first.content.ledger);
    await edit(body.document, 2, { kind: 'typeCells', cells: { [key]: { name: 'Ordered as plate' } } });
    await edit(body.document, 3, {
      kind: 'changeRecipe',
      change: { machines: 2, sort: [{ source: 'partNumber', descending: true }] },
    });
    await edit(body.document, 4, {
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
  test('a blank one is numbered; making it and taking it away can be undone', async () => {
    const { body } = await addBill({ name: ' Spares ' });
    const isThere = async () => (await bills()).some(({ id }) => id === body.document);
    const made = (await bills()).find(({ id }) => id === body.document)!;
    expect(made.content.name).toBe('Spares');
    expect(Object.keys(made.content.ledger).length).toBeGreaterThan(0);
    await step('undo');
    expect(await isThere()).toBe(false);
    await step('redo');
    expect(await isThere()).toBe(true);
    await edit(made.id, (await bills()).find(({ id }) => id === made.id)!.version, { kind: 'setAway', away: true });
    expect([await isThere(), (await call(`/api/projects/${project}/bills/${made.id}/csv`)).status]).toEqual([
      false,
      404,
    ]);
    await step('undo');
    expect((await bills()).find(({ id }) => id === made.id)!.content).toEqual(made.content);
  });
  test('a request that is repeated makes one bill', async () => {
    const again = { name: 'Once', gesture: 'the-same' };
    const [one, two] = [await addBill(again), await addBill(again)];
    expect([one.status, two]).toEqual([201, one]);
    expect((await bills()).filter(({ content }) => content.name === 'Once')).toHaveLength(1);
    await step('undo');
  });
  test('the drawing’s list stays', async () => {
    const [first] = await bills();
    expect(await edit(first.id, first.version, { kind: 'setAway', away: true })).toMatchObject({
      status: 422,
      body: { error: 'The first bill is the drawing’s list: sheets and balloons show its numbers, so it stays.' },
    });
    expect((await bills())[0].id).toBe(first.id);
  });
  test('a recipe handed over makes a bill like its own; a part that is not there is told', async () => {
    const [first] = await bills();
    const recipe = (await call<Record<string, unknown>>(`/api/projects/${project}/bills/${first.id}/recipe`)).body;
    expect(recipe).toMatchObject({ kind: 'sledgeboard recipe', version: 1, name: 'Drawing list' });
    const { body } = await addBill({ name: 'Again', recipe: { ...recipe, apart: { 'X-99': 'apart' } } });
    expect(body.missing).toEqual([
      'The recipe names “X-99”, which this file does not have; what it says of it is passed over.',
    ]);
    expect(await csv(body.document)).toEqual(await csv(first.id));
    expect(await addBill({ name: 'Wrong', recipe: { columns: [{ source: 'colour of the sky' }] } })).toMatchObject({
      status: 422,
      body: {
        error: "The recipe's columns name “colour of the sky”, but no column or property is called so in this file.",
      },
    });
    expect(await addBill({ name: 'Wrong', recipe: { depth: 'flat' } })).toMatchObject({ status: 400 });
  });
  test('the list as JSON and as a workbook', async () => {
    const [first] = await bills();
    const { body } = await call<{ columns: { heading: string }[]; rows: { cells: string[] }[] }>(
      `/api/projects/${project}/bills/${first.id}/json`,
    );
    expect([body.columns.map(({ heading }) => heading).join(), ...body.rows.map(({ cells }) => cells.join())]).toEqual(
      await csv(first.id),
    );
    await edit(first.id, first.version, {
      kind: 'addColumn',
      at: 0,
      column: { id: 'picture', source: 'picture', heading: 'Picture' },
    });
    const bytes = await (await fetch(`${live.url}/api/projects/${project}/bills/${first.id}/xlsx`)).arrayBuffer();
    const workbook = new excel.Workbook();
    await workbook.xlsx.load(bytes);
    const [sheet] = workbook.worksheets;
    expect(sheet.name).toBe('Drawing list');
    expect([2, 3, 4].map((row) => [2, 3, 4].map((column) => sheet.getRow(row).getCell(column).value))).toEqual(
      body.rows.map(({ cells: [item, quantity, number] }) => [Number(item), Number(quantity), number]),
    );
    expect(sheet.getImages()).toHaveLength(3);
  });
  test.each([
    [{ name: '  ' }, 400],
    [{ name: 'x', from: 'no-such-bill' }, 404],
  ])('%j is refused', async (body, status) => {
    const answer = await addBill(body);
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
    const connection = await createConnection(live.databaseUrl);
    await connection.query('UPDATE document SET content = ? WHERE id = ?', [
      JSON.stringify({ ...old, version: 1 }),
      id,
    ]);
    await connection.end();
    expect((await bills())[0].content).toEqual(content);
  });
});

test('a sheet shows the bill that it names, and the drawing’s list once that is away', async () => {
  const sheetOf = async () =>
    (await call<Project>(`/api/projects/${project}?session=one`)).body.documents.find(({ kind }) => kind === 'sheet')!;
  const { body } = await addBill({
    name: 'Plates',
    recipe: { columns: [{ source: 'name', heading: 'Plate or bolt' }], recipe: { depth: 'parts-only' } },
  });
  const sheet = await sheetOf();
  await edit(sheet.id, sheet.version, {
    kind: 'changeTables',
    remove: [],
    put: [{ id: 'list', place: 'title-block' }],
  });
  await edit(sheet.id, sheet.version + 1, { kind: 'setBill', bill: body.document });
  const svg = async () => (await call<string>(`/api/projects/${project}/sheets/${sheet.id}/svg`)).body;
  expect(await svg()).toContain('PLATE OR BOLT');
  await edit(body.document, 2, { kind: 'setAway', away: true });
  expect(await svg()).not.toContain('PLATE OR BOLT');
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
    expect((await call<Styles>('/api/styles', 'PUT', style)).body).toEqual({
      styles: [style],
      usual: null,
      unread: [],
    });
    expect((await call<Styles>('/api/styles/usual', 'PUT', { name: 'Workshop' })).body.usual).toBe('Workshop');
    const { body } = await addBill({ name: 'In style' });
    const lines = await csv(body.document);
    expect(lines.slice(0, 3)).toEqual(['Pos,Lead time', '10,–', '20,–']);
    const [first] = await bills(await importTable());
    expect(first.content.columns.map(({ heading }) => heading)).toEqual(['Pos', 'Lead time']);
    expect(Object.values(first.content.ledger).map(({ number }) => number)).toContain(10);
  });
  test('one that a newer program has kept is told with its reason, and is not written over', async () => {
    const connection = await createConnection(live.databaseUrl);
    const newer = JSON.stringify({ kind: 'sledgeboard house style', version: 9, name: 'Large', shine: true });
    await connection.query("INSERT INTO remembered (id, content, changed) VALUES ('house style Large', ?, NOW())", [
      newer,
    ]);
    expect((await call<Styles>('/api/styles')).body.unread).toEqual([
      { name: 'Large', why: expect.stringMatching(/newer version of the program/) as string },
    ]);
    expect((await call<{ error: string }>('/api/styles', 'PUT', { ...style, name: 'Large' })).status).toBe(422);
    const [rows] = await connection.query("SELECT content FROM remembered WHERE id = 'house style Large'");
    expect(rows).toEqual([{ content: newer }]);
    await connection.query("DELETE FROM remembered WHERE id = 'house style Large'");
    await connection.end();
  });
  test('one of the same name is replaced; one that is dropped is nobody’s usual', async () => {
    await call('/api/styles', 'PUT', { ...style, columns: style.columns.slice(0, 1) });
    expect((await call<Styles>('/api/styles')).body.styles.map(({ columns }) => columns.length)).toEqual([1]);
    expect((await call<Styles>('/api/styles/Workshop', 'DELETE')).body).toEqual({
      styles: [],
      usual: null,
      unread: [],
    });
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

test('item numbers of a list that cannot be kept are told', async () => {
  const copy = await live.importFile('odd.csv', 'Item,Number,Qty\n1,A-1,1\n(2),A-2,1\n');
  expect((await live.open(copy)).findings.map(({ message }) => message)).toEqual([
    '1 item numbers of the list cannot be kept as they are written ((2)); these lines show the next free ones.',
  ]);
});

describe.each(['csv', 'xlsx'])('a list handed over as %s', (format) => {
  test('comes back as the same list: numbers, columns, sums', async () => {
    const [{ id, version, content }] = await bills();
    await edit(id, version, { kind: 'setNumbers', numbers: { [Object.keys(content.ledger)[0]]: { number: 40 } } });
    const path = `/api/projects/${project}/bills/${id}`;
    const bytes = new Uint8Array(await (await fetch(`${live.url}${path}/${format}`)).arrayBuffer());
    const copy = await live.importFile(`list.${format}`, bytes);
    const [again] = await bills(copy);
    const text = async (of: string, bill: string) => live.get<string>(`/api/projects/${of}/bills/${bill}/csv`);
    expect(await text(copy, again.id)).toBe(await text(project, id));
    await step('undo');
  });
});

test('two lists are compared, and one in two variants, as files', async () => {
  const own = await importTable();
  const [first] = await bills(own);
  const { components } = await live.get<{ components: { key: string; partNumber: string }[] }>(
    `/api/projects/${own}/assembly`,
  );
  const plate = components.find(({ partNumber }) => partNumber === 'P-1')!.key;
  await live.edit(own, 'components', {
    kind: 'setVariant',
    id: 'bare',
    variant: { name: 'Bare', without: [plate], withoutPlaces: [], exchanged: {}, typed: {} },
  });
  const { document } = await live.post<{ document: string }>(`/api/projects/${own}/bills`, {
    gesture: 'further',
    session: 'one',
    name: 'Buyer’s list',
    from: first.id,
  });
  await live.edit(own, document, { kind: 'typeCells', cells: { [plate]: { name: 'Ordered as plate' } } });
  const compare = async (format: string, query: string) =>
    (await call<Comparison & string>(`/api/projects/${own}/comparison/${format}?${query}`)).body;
  const lists = await compare('json', `was=${first.id}&is=${document}`);
  expect(lists.bill.map(({ kind, item, cells }) => [kind, item, cells])).toEqual([
    ['changed', '2', { Name: { was: 'Plate', is: 'Ordered as plate' } }],
  ]);
  expect(lists.files).toEqual({ was: 'Drawing list', is: 'Buyer’s list' });
  const variants = await compare('json', `was=${first.id}&is=${first.id}&isVariant=bare`);
  expect(variants.bill.map(({ kind, partNumber, quantityWas }) => [kind, partNumber, quantityWas])).toEqual([
    ['removed', 'P-1', 4],
  ]);
  expect(variants.files.is).toBe('Drawing list, Bare');
  expect(await compare('csv', `was=${first.id}&is=${first.id}&isVariant=bare`)).toContain('line removed,2,P-1');
  expect(await compare('text', `was=${first.id}&is=${first.id}`)).toBe('No change.\n');
  expect((await call(`/api/projects/${own}/comparison/json?was=none&is=${first.id}`)).status).toBe(404);
});
