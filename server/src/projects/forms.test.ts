import excel from 'exceljs';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { parse as parseDisposition } from 'content-disposition';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Form, FormCheck, Project } from '../../../contract/src/index.ts';
import type { FormLook } from '../../../core/src/forms/index.ts';
import { workshopForm, workshopMap } from '../../../testkit/forms.ts';
import { startLive, type LiveServer } from '../../../testkit/liveServer.ts';
import { stepOf, tableProduct } from '../../../testkit/stepFiles.ts';

let live: LiveServer;
let project: string;
let bill: string;
let form: Uint8Array;
beforeAll(async () => {
  live = await startLive('forms');
  project = await live.importFile('table.step', stepOf(tableProduct()));
  bill = (await live.open(project)).documents.find(({ kind }) => kind === 'bill')!.id;
  form = await workshopForm();
});
afterAll(() => live?.stop());

const bring = async (name: string, bytes: Uint8Array) => {
  const query = new URLSearchParams({ name, fileName: `${name}.xlsx` });
  const response = await fetch(`${live.url}/api/forms?${query}`, { method: 'POST', body: bytes as BodyInit });
  return { status: response.status, body: (await response.json()) as FormLook & { error?: string } };
};
const fill = async (name: string, query: Record<string, string>) => {
  const response = await fetch(
    `${live.url}/api/projects/${project}/forms/${encodeURIComponent(name)}/file?${new URLSearchParams(query)}`,
  );
  return {
    status: response.status,
    name: parseDisposition(response.headers.get('content-disposition') ?? 'none').parameters.filename ?? '',
    bytes: new Uint8Array(await response.arrayBuffer()),
  };
};
const check = (name: string, query: Record<string, string>) =>
  live.get<FormCheck>(`/api/projects/${project}/forms/${encodeURIComponent(name)}/check?${new URLSearchParams(query)}`);
const sheetOf = async (bytes: Uint8Array) => {
  const book = new excel.Workbook();
  await book.xlsx.load(Buffer.from(bytes) as never);
  return book.getWorksheet('Parts')!;
};

describe('a form of the company', () => {
  test('is looked at when it comes in, kept, and filled as somebody has said', async () => {
    const { status, body } = await bring('Order / Lager №1', form);
    expect(status).toBe(201);
    expect(body.headings.map(({ heading }) => heading)).toContain('Part No.');
    const name = 'Order / Lager №1';
    expect(await live.get<Form[]>('/api/forms')).toEqual([{ name, fileName: `${name}.xlsx`, map: null }]);
    expect((await fill(name, { bills: bill })).status).toBe(422); // nobody has said how

    const path = `/api/forms/${encodeURIComponent(name)}`;
    expect((await live.call(path, 'PUT', { ...workshopMap, ready: 0 })).status).toBe(400);
    const kept = await live.call<Form[]>(path, 'PUT', workshopMap);
    expect(kept.body[0].map).toEqual(workshopMap);

    const { name: fileName, bytes } = await fill(name, { bills: bill });
    expect(fileName).toMatch(/ rev .*\.xlsx$/);
    const sheet = await sheetOf(bytes);
    const names = sheet.getColumn(3).values.slice(6, 9);
    expect(names.map(String).sort()).toEqual(['Bolt', 'Plate', 'Top']);
    expect(sheet.getCell('B6').value).toEqual(expect.any(String));
    expect(sheet.getCell('D6').value).toEqual(expect.any(Number));
    const sum = sheet.getColumn(3).values.indexOf('Sum');
    expect(sheet.getCell(sum, 4).formula).toBe(`SUM(D6:D${sum - 1})`);
  });

  test('a second one of its name takes its place and is filled alike; a damaged one changes nothing', async () => {
    const name = 'Order / Lager №1';
    const other = zipSync({ ...unzipSync(form), 'docProps/custom.txt': strToU8('mended') });
    expect((await bring(name, other)).status).toBe(201);
    expect((await live.get<Form[]>('/api/forms'))[0].map).toEqual(workshopMap);
    expect(Object.keys(unzipSync((await fill(name, { bills: bill })).bytes))).toContain('docProps/custom.txt');
    const refused = await bring(name, form.slice(0, 2000));
    expect(refused.status).toBe(422);
    expect(refused.body.error).toMatch(/damaged/);
    expect((await fill(name, { bills: bill })).status).toBe(200);
  });

  test('says by name and cell what it asks for in vain, before anything is written', async () => {
    const name = 'Order / Lager №1';
    const columns = [...workshopMap.columns, { to: 'G', heading: 'Lead time', from: 'Lead time' }];
    await live.call(`/api/forms/${encodeURIComponent(name)}`, 'PUT', { ...workshopMap, columns });
    const [{ problems }] = await check(name, { bills: bill });
    expect(problems.map(({ code }) => code)).toEqual(expect.arrayContaining(['no-such-column', 'unknown-field']));
    const missing = problems.filter(({ code }) => code === 'no-such-column');
    expect(missing.map(({ at }) => at)).toContain('G6 on “Parts”');
    expect(missing.some(({ stops }) => stops)).toBe(false);
    // Formulas stand in the way: it is refused, and said which.
    const over = [...workshopMap.columns, { to: 'F', heading: 'Total', from: 'Mass total' }];
    await live.call(`/api/forms/${encodeURIComponent(name)}`, 'PUT', { ...workshopMap, columns: over });
    const { status, bytes } = await fill(name, { bills: bill });
    expect(status).toBe(422);
    expect(new TextDecoder().decode(bytes)).toMatch(/F6.*=D6\*E6.*Nothing was written/);
    await live.call(`/api/forms/${encodeURIComponent(name)}`, 'PUT', workshopMap);
  });

  test('several lists and subassemblies go out as one archive, each under a name of its own', async () => {
    const name = 'Order / Lager №1';
    const opened: Project = await live.open(project);
    const assembly = await live.get<{
      root: number;
      components: { key: string; partNumber: string; usages: unknown[] }[];
    }>(`/api/projects/${project}/assembly?revision=${opened.revisions[0].id}`);
    const inner = assembly.components.filter(({ usages }, at) => usages.length > 0 && at !== assembly.root);
    expect(inner.length).toBeGreaterThan(0);
    const second = await live.post<{ document: string }>(`/api/projects/${project}/bills`, {
      name: 'Buyer’s list',
      gesture: 'forms-1',
      session: 'one',
    });
    const { name: fileName, bytes } = await fill(name, {
      bills: `${bill},${second.document}`,
      assemblies: inner.map(({ key }) => key).join(),
    });
    expect(fileName).toMatch(/\.zip$/);
    const files = unzipSync(bytes);
    expect(new Set(Object.keys(files)).size).toBe(2 + inner.length);
    const own = Object.keys(files).find((one) => one.startsWith(`${inner[0].partNumber} rev`))!;
    const sheet = await sheetOf(files[own]);
    expect(sheet.getCell('C1').value).toMatch(/^Parts list of /);
    const gone = await fill(name, { bills: bill, assemblies: 'f'.repeat(32) });
    expect(gone.status).toBe(404);
  });

  test('is kept no longer', async () => {
    const path = `/api/forms/${encodeURIComponent('Order / Lager №1')}`;
    expect((await live.call<Form[]>(path, 'DELETE')).body).toEqual([]);
    expect((await live.call(`${path}/look`)).status).toBe(404);
    expect((await fill('Order / Lager №1', { bills: bill })).status).toBe(404);
  });
});
