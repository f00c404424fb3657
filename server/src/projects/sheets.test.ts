import { createConnection } from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import type { Job, ProjectSummary } from '../../../contract/src/index.ts';
import type { Assembly } from '../../../core/src/assembly/index.ts';
import type { BillDocument, Intention } from '../../../core/src/documents/index.ts';
import {
  noTitleFields,
  sheetsInOrder,
  type CheckReport,
  type Sheet,
  type SheetSet,
} from '../../../core/src/sheets/index.ts';
import { stepOf, tableProduct } from '../../../testkit/stepFiles.ts';
import { startLive, type LiveServer } from '../../../testkit/liveServer.ts';

let live: LiveServer;
beforeAll(async () => void (live = await startLive('sheets')));
afterAll(() => live?.stop());

const newProject = () => live.importFile('table.step', stepOf(tableProduct()));
async function documentsOf(project: string) {
  const { documents } = await live.open(project);
  const of = <Content>(kind: string) =>
    documents.filter((document) => document.kind === kind) as unknown as { id: string; content: Content }[];
  const [set] = of<SheetSet>('set');
  return { set, sheets: sheetsInOrder(set.content, of<Sheet>('sheet')), bills: of<BillDocument>('bill') };
}
const names = async (project: string) => (await documentsOf(project)).sheets.map(({ content }) => content.name);
let gesture = 0;
const add = (project: string, body: { name: string; from?: string; behind?: string; gesture?: string }) =>
  live.call<{ document: string; error?: string }>(`/api/projects/${project}/sheets`, 'POST', {
    gesture: `sheet-${++gesture}`,
    session: 'one',
    ...body,
  });
const step = (project: string, mode: 'undo' | 'redo') =>
  live.post(`/api/projects/${project}/${mode}`, { session: 'one' });

describe('several sheets', () => {
  let project: string;
  beforeAll(async () => void (project = await newProject()));

  test('a new one is blank, on the paper of the one before; a copy has everything of its original', async () => {
    const [first] = (await documentsOf(project)).sheets;
    await live.edit(project, first.id, { kind: 'setPaper', paper: { size: 'A1', landscape: true } });
    await live.edit(project, first.id, {
      kind: 'addView',
      view: { id: 'v1', direction: 'top', scale: 0.5, centre: [100, 90], byHand: true },
    });
    const blank = await add(project, { name: 'Cover' });
    expect(blank.status).toBe(201);
    const copy = await add(project, { name: 'Assembly, copy', from: first.id, behind: first.id });
    const { sheets } = await documentsOf(project);
    expect(sheets.map(({ id, content }) => [id, content.name, content.paper.size, content.views.length])).toEqual([
      [first.id, 'Assembly', 'A1', 1],
      [copy.body.document, 'Assembly, copy', 'A1', 1],
      [blank.body.document, 'Cover', 'A1', 0],
    ]);
  });
  test('what there is to look at on all of them comes as JSON and as PDF', async () => {
    const fetched = async (format: string) => fetch(`${live.url}/api/projects/${project}/check/${format}`);
    await vi.waitFor(
      async () => {
        await live.post(`/api/projects/${project}/set/views`, {});
        expect((await fetched('json')).status).toBe(200);
      },
      { timeout: 50_000, interval: 500 },
    );
    const report = (await (await fetched('json')).json()) as CheckReport;
    const { sheets } = await documentsOf(project);
    expect(report.sheets.map(({ number, name }) => [number, name])).toEqual(
      sheets.map(({ content }, at) => [at + 1, content.name]),
    );
    expect(report.lines.missing).toHaveLength(report.lines.needed);
    const pdf = Buffer.from(await (await fetched('pdf')).arrayBuffer());
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    expect((await fetched('docx')).status).toBe(400);
  });
  test('the same request again answers as the first time and makes no second sheet', async () => {
    const one = await add(project, { name: 'Details', gesture: 'twice' });
    const two = await add(project, { name: 'Details', gesture: 'twice' });
    expect(two.body).toEqual(one.body);
    expect((await names(project)).filter((name) => name === 'Details')).toHaveLength(1);
  });
  test('are put in another order, renamed and taken away, each taken back by undo', async () => {
    const before = await names(project);
    const { set, sheets } = await documentsOf(project);
    const order = sheets.map(({ id }) => id).toReversed();
    await live.edit(project, set.id, { kind: 'orderSheets', order });
    await live.edit(project, sheets[0].id, { kind: 'renameSheet', name: 'Machine' });
    await live.edit(project, sheets[1].id, { kind: 'setAway', away: true });
    expect(await names(project)).toEqual(['Details', 'Cover', 'Machine']);
    for (let back = 0; back < 3; back++) await step(project, 'undo');
    expect(await names(project)).toEqual(before);
    await step(project, 'redo');
    expect(await names(project)).toEqual(before.toReversed());
    await step(project, 'undo');
  });
  test('share the texts of the title block, and each says which of how many it is', async () => {
    const { set, sheets } = await documentsOf(project);
    await live.edit(project, set.id, { kind: 'setSharedField', field: 'owner', value: 'Camp workshop' });
    await live.edit(project, sheets[1].id, { kind: 'setField', field: 'owner', value: 'Drilling crew' });
    const [one, two] = [await live.sheetSvg(project, sheets[0].id), await live.sheetSvg(project, sheets[1].id)];
    expect([one, two].map((svg) => /Camp workshop|Drilling crew/.exec(svg)?.[0])).toEqual([
      'Camp workshop',
      'Drilling crew',
    ]);
    expect([one, two].map((svg) => />(\d \/ \d)</.exec(svg)?.[1])).toEqual(['1 / 4', '2 / 4']);
    await live.edit(project, sheets[1].id, { kind: 'setField', field: 'owner', value: null });
    expect(await live.sheetSvg(project, sheets[1].id)).toContain('Camp workshop');
  });
  test('the start page counts those that are there', async () => {
    const count = async () =>
      (await live.get<ProjectSummary[]>('/api/projects')).find(({ id }) => id === project)!.sheets;
    const { sheets } = await documentsOf(project);
    expect(await count()).toBe(4);
    await live.edit(project, sheets[3].id, { kind: 'setAway', away: true });
    expect(await count()).toBe(3);
  });
  test.each([
    [{ name: '  ' }, 400],
    [{ name: 'x', from: 'gone' }, 404],
    [{ name: 'x', behind: 'gone' }, 404],
  ])('%j is refused and leaves nothing', async (body, status) => {
    const before = (await live.open(project)).documents.length;
    expect((await add(project, body)).status).toBe(status);
    expect((await live.open(project)).documents).toHaveLength(before);
  });
});

test('a document that would not open again is not kept', async () => {
  const project = await newProject();
  const view = (id: number) => ({ id: `v${id}`, direction: 'top', scale: 1, centre: [1, 1], byHand: true });
  for (let id = 0; id < 50; id++) await live.edit(project, 'sheet', { kind: 'addView', view: view(id) });
  expect((await live.edit(project, 'sheet', { kind: 'addView', view: view(50) })).error).toMatch(
    /more than a sheet can hold: views/,
  );
  expect((await documentsOf(project)).sheets[0].content.views).toHaveLength(50);
});

describe('what is meant, in one request', () => {
  let project: string;
  let assembly: Assembly;
  beforeAll(async () => {
    project = await newProject();
    assembly = await live.get<Assembly>(`/api/projects/${project}/assembly`);
  });
  const keyOf = (number: string) => assembly.components.find(({ partNumber }) => partNumber === number)!.key as never;
  const mean = async (intention: Intention, id = `mean-${++gesture}`): Promise<Job> => {
    const { job } = await live.post<{ job: string }>(`/api/projects/${project}/intentions`, {
      gesture: id,
      session: 'one',
      label: 'what is meant',
      intention,
    });
    return (await live.done(job))!;
  };

  test('the drawing is made: a view, a list, and a balloon for every line', async () => {
    const { sheets } = await documentsOf(project);
    await mean({ kind: 'makeDrawing', sheet: sheets[0].id, views: [{ direction: 'isometric' }] });
    const [{ content }] = (await documentsOf(project)).sheets;
    const [{ content: bill }] = (await documentsOf(project)).bills;
    expect([content.views.length, content.tables.length]).toEqual([1, 1]);
    expect(content.balloons).toHaveLength(Object.keys(bill.ledger).length);
  });
  test('another depth: new lines have numbers, balloons stand on the lines that are there now', async () => {
    const { bills, sheets } = await documentsOf(project);
    const before = sheets[0].content.balloons.length;
    await mean({
      kind: 'changeBill',
      bill: bills[0].id,
      commands: [{ kind: 'setDepth', depth: 'single-level' }],
    });
    const after = await documentsOf(project);
    expect(after.bills[0].content.recipe.depth).toBe('single-level');
    const numbered = Object.keys(after.bills[0].content.ledger);
    expect(numbered.some((address) => address.startsWith(`${keyOf('F-1')}@`))).toBe(true);
    expect(after.sheets[0].content.balloons.length).toBeLessThan(before);
    await step(project, 'undo');
    const back = await documentsOf(project);
    expect([back.bills[0].content, back.sheets[0].content.balloons.length]).toEqual([bills[0].content, before]);
  });
  test('the machine is taken apart: a pose that a view shows, the sheet in it, and both taken back by one undo', async () => {
    const before = await documentsOf(project);
    const [sheet] = before.sheets;
    const [view] = sheet.content.views;
    await mean({
      kind: 'proposePose',
      pose: 'apart',
      name: 'Exploded',
      levels: 1,
      view: { sheet: sheet.id, view: view.id },
    });
    const after = await documentsOf(project);
    const [pose] = after.set.content.poses!;
    expect([pose.id, pose.name, pose.moves.length > 0]).toEqual(['apart', 'Exploded', true]);
    expect(after.sheets[0].content.views[0].pose).toBe('apart');
    // Drawn in its pose: another picture than as assembled.
    const exploded = await live.sheetSvg(project, sheet.id);
    await step(project, 'undo');
    const back = await documentsOf(project);
    expect([back.set.content.poses ?? [], back.sheets[0].content.views[0].pose]).toEqual([[], undefined]);
    expect(exploded).not.toBe(await live.sheetSvg(project, sheet.id));
  });
  test('a text typed into a cell, then said in every bill', async () => {
    const { bills } = await documentsOf(project);
    const column = bills[0].content.columns.find(({ source }) => source === 'name')!;
    const line = keyOf('B-1');
    const typed: Intention = {
      kind: 'typeCells',
      bill: bills[0].id,
      cells: [{ line, column: column.id, text: 'Hexagon bolt' }],
    };
    await mean(typed, 'typed');
    await mean(typed, 'typed'); // sent again after an unclear answer
    expect((await documentsOf(project)).bills[0].content.overrides).toEqual({ [line]: { name: 'Hexagon bolt' } });
    await mean({ kind: 'sayEverywhere', bill: bills[0].id, line, column: column.id });
    const { documents } = await live.open(project);
    expect(documents.find(({ kind }) => kind === 'components')!.content).toMatchObject({
      typed: { [line]: { Name: { value: 'Hexagon bolt' } } },
    });
    expect((await documentsOf(project)).bills[0].content.overrides).toEqual({});
  });
  test.each<[Intention, RegExp]>([
    [{ kind: 'placeBalloons', sheet: 'gone' }, /That sheet is no longer there/],
    [{ kind: 'partLine', bill: 'gone', line: 'x' as never }, /not as expected|no longer there/],
  ])('%j is refused with a sentence and changes nothing', async (intention, sentence) => {
    const before = await documentsOf(project);
    const { body } = await live.call<{ job?: string; error?: string }>(`/api/projects/${project}/intentions`, 'POST', {
      gesture: `refused-${++gesture}`,
      session: 'one',
      label: 'x',
      intention,
    });
    const said = body.error ?? (await live.done(body.job!).then(String, (error: Error) => error.message));
    expect(said).toMatch(sentence);
    expect(await documentsOf(project)).toEqual(before);
  });
  test('texts of the title block begin with what the file says', async () => {
    const { set } = await documentsOf(project);
    expect(set.content.fields).toEqual({
      ...noTitleFields,
      title: 'Table',
      drawingNumber: set.content.fields.drawingNumber,
      revision: set.content.fields.revision,
      documentType: 'Assembly drawing',
      date: expect.stringMatching(/^\d{4}-\d\d-\d\d$/) as string,
    });
  });
});

test('a server that was killed between storing a project and ending the job makes it once', async () => {
  const { job } = await live.post<{ job: string }>('/api/imports?name=table.step', stepOf(tableProduct()));
  await live.done(job);
  const before = (await live.get<ProjectSummary[]>('/api/projects')).length;
  const connection = await createConnection(live.databaseUrl);
  await connection.query(
    "UPDATE job SET state = 'queued', owner = NULL, leaseUntil = NULL, project = NULL WHERE id = ?",
    [job],
  );
  await connection.end();
  await live.done(job);
  expect((await live.get<Job>(`/api/jobs/${job}`)).project).toBe(job);
  expect(await live.get<ProjectSummary[]>('/api/projects')).toHaveLength(before);
});
