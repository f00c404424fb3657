import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import excel from 'exceljs';
import type { CataloguePreview, CatalogueSummary, Project, TableChanges } from '../../../contract/src/index.ts';
import { newCatalogue, type Catalogue } from '../../../core/src/catalogues/index.ts';
import type { BillDocument } from '../../../core/src/documents/index.ts';
import { workshopCatalogueCsv } from '../../../demo/workshopCatalogue.ts';
import { stepOf, tableProduct } from '../../../testkit/stepFiles.ts';
import { startLive, type LiveServer } from '../../../testkit/liveServer.ts';

let live: LiveServer;
beforeAll(async () => {
  live = await startLive('catalogues');
});
afterAll(() => live?.stop());

type Open = Pick<Project, 'documents' | 'history'>;
const open = (id: string, session = 'one') => live.get<Open>(`/api/catalogues/${id}?session=${session}`);
const contentOf = async (id: string) => (await open(id)).documents[0].content as Catalogue;
const send = async <Body>(path: string, bytes: string | Uint8Array) => {
  const response = await fetch(live.url + path, { method: 'POST', body: bytes as BodyInit });
  return { status: response.status, body: (await response.json()) as Body & { error?: string } };
};
const preview = (name: string, bytes: string | Uint8Array) =>
  send<CataloguePreview>(`/api/catalogues/preview?name=${encodeURIComponent(name)}`, bytes);
const bring = <Body>(name: string, bytes: string | Uint8Array, mapping: unknown, into?: string) =>
  send<Body>(
    `/api/catalogues/import?name=${encodeURIComponent(name)}&mapping=${encodeURIComponent(JSON.stringify(mapping))}${into ? `&into=${into}` : ''}`,
    bytes,
  );
async function made(name: string, bytes: string | Uint8Array): Promise<string> {
  const { mapping } = (await preview(name, bytes)).body;
  const { status, body } = await bring<{ id: string }>(name, bytes, mapping);
  expect(status).toBe(201);
  return body.id;
}
let gesture = 0;
const edit = async (
  id: string,
  command: unknown,
  { version, session = 'one' }: { version?: number; session?: string } = {},
) =>
  live.call<Open & { error?: string }>(`/api/projects/${id}/edits`, 'POST', {
    gesture: `c${++gesture}`,
    session,
    label: 'test',
    steps: [{ document: id, version: version ?? (await open(id)).documents[0].version, command }],
  });
const list = async () => live.get<CatalogueSummary[]>('/api/catalogues');
const csv = 'Part number;Unit cost [EUR];Lead time [days]\nT-100;12,50;5\nT-200;3,25;9\n';

describe('a table that comes in', () => {
  test('the workshop’s is read by itself: kinds, units, all its rows; it is listed, and is no project', async () => {
    const { body } = await preview('Camp workshop.csv', workshopCatalogueCsv());
    expect(body.mapping.columns.map(({ kind, unit }) => [kind, unit].join(' ').trim())).toEqual([
      'text',
      'text',
      'text',
      'text',
      'money EUR',
      'number days',
      'number',
      'date',
      'text',
    ]);
    expect([body.remembered, body.isUnsure, body.of]).toEqual([false, false, 121]);
    const id = await made('Camp workshop.csv', workshopCatalogueCsv());
    expect((await list()).find((one) => one.id === id)).toMatchObject({
      name: 'Camp workshop',
      items: 120,
      version: 1,
    });
    expect(await live.get<unknown[]>('/api/projects')).toEqual([]);
    expect((await preview('again.csv', workshopCatalogueCsv())).body.remembered).toBe(true);
  });
  test('a workbook says the same', async () => {
    const workbook = new excel.Workbook();
    const sheet = workbook.addWorksheet('Parts');
    sheet.addRows([
      ['Part number', 'Unit cost [EUR]'],
      ['T-100', 12.5],
    ]);
    const id = await made('parts.xlsx', new Uint8Array(await workbook.xlsx.writeBuffer()));
    const { items, columns } = await contentOf(id);
    expect(columns.map(({ kind }) => kind)).toEqual(['text', 'money']);
    expect(Object.values(items[0].values)).toEqual([{ value: 'T-100' }, { value: 12.5, unit: 'EUR' }]);
  });
  test('a second one tells what it would change, and changes nothing by itself', async () => {
    const id = await made('prices.csv', csv);
    const { mapping } = (await preview('prices.csv', csv)).body;
    const next = csv.replace('12,50', '13,00').replace('T-200', 'T-300');
    const { body } = await bring<TableChanges>('prices.csv', next, mapping, id);
    expect(body.changed.map(({ columns }) => columns.length)).toEqual([1]);
    expect([body.added.length, body.gone.length, body.same]).toEqual([1, 1, 0]);
    expect((await open(id)).documents[0].version).toBe(1);
  });
  test.each([
    ['no workbook', 'x.xlsx', 'PK no', /workbook|archive|ZIP/i],
    ['no rows', 'x.csv', '', /no rows|empty/i],
    [
      'too many cells',
      'x.csv',
      `a;b;c\n${'1;2;3\n'.repeat(400_000)}`,
      /1\.2 million cells; a catalogue has at most 1 million/,
    ],
  ])('%s is refused with a sentence', async (_, name, bytes, sentence) => {
    const { status, body } = await preview(name, bytes);
    expect(status).toBe(422);
    expect(body.error).toMatch(sentence);
  });
  test('a mapping that does not fit the table is refused', async () => {
    const { mapping } = (await preview('prices.csv', csv)).body;
    const { status, body } = await bring<object>('prices.csv', csv, { ...mapping, key: [7] });
    expect([status, body.error]).toEqual([
      422,
      'Say by which column parts are found; it has to be one that is taken over.',
    ]);
  });
});

describe('editing', () => {
  test('is kept, taken back by who did it, and clashes with who was first', async () => {
    const { id } = await live.post<{ id: string }>('/api/catalogues', {
      content: {
        ...newCatalogue,
        name: 'Typed',
        items: [
          { id: 'a', values: { number: { value: 'A' } } },
          { id: 'b', values: {} },
        ],
      },
    });
    const type = (item: string, text: string) => ({
      kind: 'typeItems',
      items: { [item]: { number: { value: text } } },
    });
    expect((await edit(id, type('a', 'A-1'))).status).toBe(200);
    // From what was there before: another item goes through, the same one does not.
    expect((await edit(id, type('b', 'B-1'), { version: 1, session: 'two' })).status).toBe(200);
    expect((await edit(id, type('a', 'A-2'), { version: 1, session: 'two' })).status).toBe(409);
    expect((await contentOf(id)).items.map(({ values }) => values.number?.value)).toEqual(['A-1', 'B-1']);
    expect((await live.call(`/api/projects/${id}/undo`, 'POST', { session: 'one' })).status).toBe(200);
    expect((await contentOf(id)).items.map(({ values }) => values.number?.value)).toEqual(['A', 'B-1']);
    expect((await open(id, 'two')).history.undo).toBe('test');
  });
  test('what is no catalogue is refused at the door', async () => {
    for (const content of [
      { ...newCatalogue, columns: [] },
      { ...newCatalogue, tint: 'red' },
      { ...newCatalogue, items: [{ id: 'a', values: { number: 'A' } }] },
    ])
      expect((await live.call('/api/catalogues', 'POST', { content })).status).toBe(400);
    expect((await live.call('/api/catalogues/nothing')).status).toBe(404);
    expect((await live.call('/api/projects/nothing/edits', 'POST', {})).status).toBe(400);
  });
});

test('a bill takes its values live, in files too; a catalogue that is used stays', async () => {
  const project = await live.importFile('table.step', stepOf(tableProduct()));
  const opened = await live.open(project);
  const bill = opened.documents.find(({ kind }) => kind === 'bill')!;
  const numbers = Object.values(
    (await live.get<{ rows: { partNumber: string }[] }>(`/api/projects/${project}/bills/${bill.id}/json`)).rows.map(
      ({ partNumber }) => partNumber,
    ),
  );
  const [first] = numbers;
  const id = await made('prices.csv', `Part number,Unit cost [EUR]\n${first},12.50\n`);
  await live.edit(project, bill.id, { kind: 'setCatalogues', links: [{ catalogue: id }] });
  await live.edit(project, bill.id, {
    kind: 'addColumn',
    at: 1,
    column: { id: 'cost', source: 'property:Unit cost', heading: 'Unit cost', total: true, format: { decimals: 2 } },
  });
  const lines = async () =>
    (await live.get<string>(`/api/projects/${project}/bills/${bill.id}/csv`)).replace('\ufeff', '').split('\r\n');
  const costs = async () => (await lines()).map((line) => line.split(',')[1]);
  expect((await costs()).filter(Boolean)).toContain('12.50 EUR');
  // Beside a copy that takes nothing from it, the prices are what differs.
  const copy = await live.post<{ document: string }>(`/api/projects/${project}/bills`, {
    gesture: 'copy',
    session: 'one',
    name: 'Without prices',
    from: bill.id,
  });
  await live.edit(project, copy.document, { kind: 'setCatalogues', links: null });
  const told = await live.get<{ bill: unknown[] }>(
    `/api/projects/${project}/comparison/json?was=${bill.id}&is=${copy.document}`,
  );
  expect(JSON.stringify(told.bill)).toMatch(/"was":"12\.50\sEUR","is":""/);
  const { items, columns } = await contentOf(id);
  const price = columns.find(({ heading }) => heading === 'Unit cost')!.id;
  await edit(id, { kind: 'typeItems', items: { [items[0].id]: { [price]: { value: 14, unit: 'EUR' } } } });
  expect(await costs()).toContain('14.00 EUR');

  const used = await live.call<{ error: string }>(`/api/catalogues/${id}`, 'DELETE');
  expect([used.status, used.body.error]).toEqual([
    422,
    expect.stringContaining('Lists or plans take values from this catalogue: '),
  ]);
  const content = (await live.open(project)).documents.find(({ kind }) => kind === 'bill')!.content as BillDocument;
  expect(content.catalogues).toEqual([{ catalogue: id }]);
  await live.edit(project, bill.id, { kind: 'setCatalogues', links: null });
  expect((await costs()).join('')).not.toContain('EUR');
  expect((await live.call(`/api/catalogues/${id}`, 'DELETE')).status).toBe(200);
  expect((await list()).some((one) => one.id === id)).toBe(false);
});

test('a picture of an item is kept as a PNG for all projects; what is none is refused', async () => {
  const send = (body: string) => fetch(`${live.url}/api/pictures`, { method: 'POST', body });
  const kept = await send(
    '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><rect width="40" height="20"/></svg>',
  );
  expect(kept.status).toBe(201);
  const { blob } = (await kept.json()) as { blob: string };
  const shown = await fetch(`${live.url}/api/pictures/${blob}`);
  expect(shown.headers.get('content-type')).toBe('image/png');
  const id = await made('photos.csv', csv);
  const { columns, items } = await contentOf(id);
  const photo = { id: 'photo', heading: 'Photo', kind: 'picture', unit: '' };
  await edit(id, { kind: 'setCatalogueColumns', columns: [...columns, photo], key: [columns[0].id] });
  const typed = { [items[0].id]: { photo: { value: `picture:${blob}` } } };
  expect((await edit(id, { kind: 'typeItems', items: typed })).status).toBe(200);
  expect((await contentOf(id)).items[0].values.photo).toEqual({ value: `picture:${blob}` });
  expect((await send('no picture')).status).toBe(422);
});
