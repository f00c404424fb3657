import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Job, Project, ProjectSummary } from '../../../contract/src/index.ts';
import type { BillDocument, Intention } from '../../../core/src/documents/index.ts';
import type { Effect, ForeseenSheet } from '../../../core/src/formats/index.ts';
import type { Sheet, SheetProblem, SheetSet } from '../../../core/src/sheets/index.ts';
import { place } from '../../../demo/product.ts';
import { move } from '../../../demo/solids.ts';
import { startLive, type LiveServer } from '../../../testkit/liveServer.ts';
import { group, part, stepOf, tableProduct, times } from '../../../testkit/stepFiles.ts';

let live: LiveServer;
beforeAll(async () => void (live = await startLive('revisions')));
afterAll(() => live?.stop());

/** The table with three bolts in each foot, another name and size of the top, no plates, and a drawer. */
function later(): string {
  const bolt = part('B-1', 'Bolt', 4),
    top = part('T-1', 'Table top', 66),
    drawer = part('D-1', 'Drawer', 20);
  const foot = group('F-1', 'Foot', ...times(3, bolt));
  return stepOf(group('A-1', 'Table', ...times(4, foot), place(top, move(0, 0, 50)), place(drawer, move(0, 0, 30))));
}
const bring = (project: string, text: string, name = 'table-B.step') =>
  live.post<{ job: string }>(
    `/api/imports?name=${encodeURIComponent(name)}&into=${project}&remark=${encodeURIComponent('A drawer')}&who=Ingrid`,
    text,
  );
const bringLater = async (project: string, text = later()) => live.done((await bring(project, text)).job);
const refusedWith = async (job: string) => {
  await expect(live.done(job)).rejects.toThrow();
  return (await live.get<Job>(`/api/jobs/${job}`)).reason;
};
let gestures = 0;
async function intend(project: string, intention: Intention, session = 'one'): Promise<Job> {
  const { job } = await live.post<{ job: string }>(`/api/projects/${project}/intentions`, {
    gesture: `take-${++gestures}`,
    session,
    label: 'take over',
    intention,
  });
  return (await live.done(job))!;
}
const opened = (project: string) => live.open(project);
const documentsOf = <Content>({ documents }: Project, kind: string) =>
  documents.filter((one) => one.kind === kind) as unknown as { id: string; version: number; content: Content }[];
/** Without what was taken away, or taken back before it had come. */
const contents = ({ documents }: Project) =>
  documents.flatMap(({ id, content }) => ((content as { away?: true }).away ? [] : [[id, content]]));
const undo = (project: string) => live.post(`/api/projects/${project}/undo`, { session: 'one' });
const LINE = { revision: 'B', text: 'Drawer added', date: '2026-04-01', by: 'I. Maarsund' };

/** A project with a drawing: numbers pinned, a text typed over, a balloon put by hand; and a later revision of its model. */
async function withDrawing() {
  const project = await live.importFile('table.step', stepOf(tableProduct()));
  const [sheet] = documentsOf<Sheet>(await opened(project), 'sheet');
  await intend(project, { kind: 'makeDrawing', sheet: sheet.id, views: [{ direction: 'isometric' }] });
  const [bill] = documentsOf<BillDocument>(await opened(project), 'bill');
  const pins = Object.entries(bill.content.ledger).map(([address, entry]) => [address, { ...entry, pinned: true }]);
  await live.edit(project, bill.id, { kind: 'setNumbers', numbers: Object.fromEntries(pins) });
  const [address] = Object.keys(bill.content.ledger);
  await live.edit(project, bill.id, { kind: 'typeCells', cells: { [address]: { name: 'Hexagon bolt' } } });
  const balloon = documentsOf<Sheet>(await opened(project), 'sheet')[0].content.balloons[0];
  const byHand = { ...balloon, byHand: true, offset: [-40, -33] };
  await live.edit(project, sheet.id, { kind: 'changeBalloons', remove: [], put: [byHand] });
  await bringLater(project);
  return { project, sheet: sheet.id, bill: bill.id, address, byHand };
}

describe('a further revision of a project', () => {
  let made: Awaited<ReturnType<typeof withDrawing>>;
  let before: Project;
  beforeAll(async () => {
    made = await withDrawing();
    before = await opened(made.project);
  });
  const revisions = async () => (await opened(made.project)).revisions;
  const takeOver = async (documents: readonly string[], line: typeof LINE | null = LINE) =>
    intend(made.project, {
      kind: 'takeOver',
      revision: (await revisions())[1].id,
      documents,
      retire: true,
      clouds: true,
      line,
    });

  test('changes nothing by itself; the project says that it is behind', async () => {
    expect(before.revisions.map(({ fileName, remark, who }) => [fileName, remark, who])).toEqual([
      ['table.step', '', ''],
      ['table-B.step', 'A drawer', 'Ingrid'],
    ]);
    expect(documentsOf<Sheet>(before, 'sheet')[0].content.revision).toBeUndefined();
    const { revision, parts, behind } = before.summary;
    expect([revision, parts, behind]).toEqual(['A', 3, 4]);
    expect(await live.get<ProjectSummary[]>('/api/projects')).toEqual(
      expect.arrayContaining([expect.objectContaining({ id: made.project, behind: 4 })]),
    );
  });
  test('says beforehand what it does to the machine, to each bill and to each sheet', async () => {
    const effect = await live.get<Effect & { was: string; is: string }>(`/api/projects/${made.project}/changes`);
    expect([effect.was, effect.is]).toEqual(before.revisions.map(({ id }) => id));
    expect(effect.model.components.map(({ kind, partNumber, changes }) => [kind, partNumber, changes])).toEqual([
      ['gone', 'P-1', []],
      ['new', 'D-1', []],
      ['changed', 'T-1', ['shape', 'name']],
      ['changed', 'B-1', ['quantity']],
    ]);
    const [bill] = effect.bills;
    expect(
      bill.lines.map(({ kind, partNumber, quantityWas, quantityIs }) => [kind, partNumber, quantityWas, quantityIs]),
    ).toEqual([
      ['changed', 'B-1', 8, 12],
      ['changed', 'T-1', 1, 1],
      ['added', 'D-1', 0, 1],
      ['removed', 'P-1', 4, 0],
    ]);
    expect([bill.given, bill.without]).toEqual([['4'], [2]]);
    expect(effect.sheets).toEqual([
      expect.objectContaining({
        id: made.sheet,
        views: [1],
        of: 1,
        stay: 2,
        hanging: ['2'],
        lacking: ['4'],
        rows: [3, 3],
      }),
    ]);
    expect(contents(await opened(made.project))).toEqual(contents(before));
    const csv = await live.get<string>(`/api/projects/${made.project}/changes/csv`);
    expect(csv).toContain('line changed,1,B-1,');
  });
  test('is foreseen on every sheet, with pictures of before and after, and touches nothing', async () => {
    const [, second] = await revisions();
    const path = `/api/projects/${made.project}`;
    const order = () => live.post<{ name: string; job: string | null }>(`${path}/revisions/${second.id}/foreseen`, {});
    const { name, job } = await order();
    await live.done(job);
    expect(await order()).toEqual({ name, job: null });
    const { sheets } = await live.get<{ sheets: (ForeseenSheet & { id: string })[] }>(`${path}/foreseen/${name}`);
    expect(contents(await opened(made.project))).toEqual(contents(before));
    const [one] = sheets;
    expect(sheets.map(({ id }) => id)).toEqual([made.sheet]);
    expect(one.goes.length).toBeGreaterThan(0);
    for (const { view, box } of [...one.goes, ...one.comes]) {
      expect(view).toBe(1);
      expect(box[0]).toBeLessThan(box[2]);
      expect(box[1]).toBeLessThan(box[3]);
    }
    expect(one.lists).toEqual([
      { rows: [3, 3], heightMm: [expect.any(Number), expect.any(Number)], fits: [true, true] },
    ]);
    expect(one.problems.map(({ code }) => code)).toContain('hanging-balloons');
    for (const side of ['was', 'is']) {
      const response = await fetch(`${live.url}${path}/foreseen/${name}/${made.sheet}/${side}`);
      expect([...new Uint8Array(await response.arrayBuffer()).subarray(1, 4)]).toEqual([80, 78, 71]); // PNG
    }
    // What comes true is what was said: problems that are there then and were not before.
    const problems = async () => {
      await live.sheetSvg(made.project, made.sheet);
      const report = await live.get<{ sheets: { problems: SheetProblem[] }[] }>(`${path}/check/json`);
      return report.sheets[0].problems;
    };
    const had = await problems();
    await intend(made.project, {
      kind: 'takeOver',
      revision: second.id,
      documents: [made.sheet, made.bill],
      retire: true,
      clouds: false,
      line: null,
    });
    const has = await problems();
    expect(has.filter(({ code }) => !had.some((known) => known.code === code))).toEqual(one.problems);
    expect((await order()).name).not.toBe(name);
    await undo(made.project);
    expect((await live.call(`${path}/foreseen/${'0'.repeat(32)}`)).status).toBe(404);
  });
  test('taken over by a sheet and its bill: numbers, pins, typed texts and what was put by hand stay', async () => {
    const printed = await live.sheetSvg(made.project, made.sheet);
    await takeOver([made.sheet]);
    const after = await opened(made.project);
    const [, second] = after.revisions;
    const [bill] = documentsOf<BillDocument>(after, 'bill');
    const [sheet] = documentsOf<Sheet>(after, 'sheet');
    const [set] = documentsOf<SheetSet>(after, 'set');
    expect([bill, sheet, set].map(({ content }) => content.revision)).toEqual([second.id, second.id, second.id]);
    const old = documentsOf<BillDocument>(before, 'bill')[0].content;
    expect(bill.content.overrides).toEqual(old.overrides);
    const numbers = Object.values(bill.content.ledger).map(({ number, pinned, retired }) => [number, pinned, retired]);
    expect(numbers.sort(([one], [other]) => Number(one) - Number(other))).toEqual([
      [1, true, undefined],
      [2, true, true],
      [3, true, undefined],
      [4, undefined, undefined],
    ]);
    expect(sheet.content.balloons.find(({ id }) => id === made.byHand.id)).toMatchObject({
      byHand: true,
      offset: made.byHand.offset,
    });
    expect(set.content.block?.revisions).toEqual([{ ...LINE, of: second.id }]);
    expect(after.summary).toMatchObject({ behind: 0, parts: 3 });
    const now = await live.sheetSvg(made.project, made.sheet);
    expect([printed, now].map((svg) => svg.includes('Drawer added'))).toEqual([false, true]);
    expect([printed, now].map((svg) => svg.includes('>Drawer<'))).toEqual([false, true]);
    // The bill as a file is that of the new revision too.
    expect(await live.get<string>(`/api/projects/${made.project}/bills/${made.bill}/csv`)).toContain('D-1');
  });
  test('… which cannot be taken away while it is shown; undo brings everything back as it was', async () => {
    const [first, second] = await revisions();
    const path = (id: string) => `/api/projects/${made.project}/revisions/${id}`;
    expect(await live.call(path(second.id), 'DELETE')).toMatchObject({ status: 422 });
    expect(await live.call(path(first.id), 'DELETE')).toMatchObject({ status: 422 });
    await undo(made.project);
    expect(contents(await opened(made.project))).toEqual(contents(before));
  });
  test('a sheet that does not take it over stays as it was printed, though its bill did', async () => {
    const printed = await live.sheetSvg(made.project, made.sheet);
    await takeOver([made.bill]);
    const after = await opened(made.project);
    expect([after.summary.behind, documentsOf<Sheet>(after, 'sheet')[0].content.revision]).toEqual([4, undefined]);
    expect(await live.sheetSvg(made.project, made.sheet)).toBe(printed);
    // Taken over later it is told against what it showed, not against what the project shows by now.
    await takeOver([made.sheet]);
    const [sheet] = documentsOf<Sheet>(await opened(made.project), 'sheet');
    expect(sheet.content.clouds).toMatchObject({ letter: 'B' });
    expect(sheet.content.clouds!.paths.length).toBeGreaterThan(0);
    await undo(made.project);
    await undo(made.project);
    expect(contents(await opened(made.project))).toEqual(contents(before));
  });
  test('is shown by nothing that names one that is not there', async () => {
    const { error } = await live.edit(made.project, made.sheet, { kind: 'showRevision', revision: 'none' });
    expect(error).toContain('not in the project');
    expect(contents(await opened(made.project))).toEqual(contents(before));
  });
  test('the same file again is no change, the first one again reads as that; another machine is refused', async () => {
    const same = await bring(made.project, later());
    expect(await refusedWith(same.job)).toContain('No change: table-B.step has the same parts');
    const first = await bring(made.project, stepOf(tableProduct()), 'old.step');
    expect(await refusedWith(first.job)).toContain('as revision A (table.step)');
    const crane = group(
      'Z-9',
      'Crane',
      ...times(2, part('H-1', 'Hook', 33)),
      ...times(3, part('R-7', 'Rope', 44)),
      ...times(1, part('W-3', 'Winch', 71)),
    );
    const other = await bring(made.project, stepOf(crane), 'crane.step');
    expect(await refusedWith(other.job)).toContain('Bring it in as a project of its own');
    expect(await revisions()).toHaveLength(2);
    expect((await live.call('/api/imports?name=a.step&into=none', 'POST', later())).status).toBe(404);
  });
  test('a part that is only likely the same is said; told apart it is new, and told the same it is known again', async () => {
    const project = await live.importFile('table.step', stepOf(tableProduct()));
    const bolt = part('B-1', 'Bolt', 4),
      top = part('T-1', 'Top', 60),
      washer = part('W-1', 'Washer', 10);
    const foot = group('F-1', 'Foot', ...times(2, bolt), ...times(1, washer));
    const text = stepOf(group('A-1', 'Table', ...times(4, foot), place(top, move(0, 0, 50))));
    await bringLater(project, text);
    const [, second] = (await opened(project)).revisions;
    expect(second.unsure).toBe(1);
    const path = `/api/projects/${project}/revisions/${second.id}`;
    const unsure = () =>
      live.get<{ parts: { is: string; was: string; why: string; same: boolean | null }[] }>(`${path}/unsure`);
    const [one] = (await unsure()).parts;
    expect(one).toMatchObject({ same: null, why: expect.stringContaining('shape') });
    const answer = async (same: boolean) => {
      const { job } = await live.post<{ job: string }>(`${path}/answers`, {
        answers: [{ was: one.was, is: one.is, same }],
      });
      await live.done(job);
      return (await live.get<Effect>(`/api/projects/${project}/changes`)).model.components.map(({ kind }) => kind);
    };
    expect(await answer(false)).toEqual(['gone', 'new']);
    expect((await opened(project)).revisions[1].unsure).toBe(0);
    expect(await answer(true)).toEqual(['changed']);
  });
  test('is taken away again, with what only it needed; a remark can be written', async () => {
    const [, second] = await revisions();
    const path = `/api/projects/${made.project}/revisions/${second.id}`;
    await live.call(path, 'PUT', { remark: 'Drawer, as agreed', who: 'T. Halvorsdal' });
    expect((await revisions())[1]).toMatchObject({ remark: 'Drawer, as agreed', who: 'T. Halvorsdal' });
    expect(await live.call(path, 'DELETE')).toMatchObject({ status: 200 });
    expect((await opened(made.project)).revisions).toHaveLength(1);
    expect((await opened(made.project)).summary.behind).toBe(0);
    expect((await live.call(path, 'DELETE')).status).toBe(404);
    // Redo of what was taken back would show a revision that is gone.
    const redone = await live.call<{ error: string }>(`/api/projects/${made.project}/redo`, 'POST', { session: 'one' });
    expect(redone.body.error).toContain('not in the project');
  });
});

test('documents that show different revisions are taken over together, each told against what it showed', async () => {
  const { project, sheet, bill } = await withDrawing();
  const second = (await opened(project)).revisions[1].id;
  // Another sheet shows the second revision already; the first one and its list do not.
  const { document } = await live.post<{ document: string }>(`/api/projects/${project}/sheets`, {
    name: 'Copy',
    from: sheet,
    gesture: 'copy',
    session: 'one',
  });
  const buyer = await live.post<{ document: string }>(`/api/projects/${project}/bills`, {
    name: 'Buyer’s list',
    from: bill,
    gesture: 'buyer',
    session: 'one',
  });
  await live.edit(project, document, { kind: 'setBill', bill: buyer.document });
  const take = { kind: 'takeOver', retire: true, clouds: true } as const;
  await intend(project, { ...take, revision: second, documents: [document], line: LINE });
  // The third has the drawer of the second, another size of it, and no top.
  const foot = group('F-1', 'Foot', ...times(3, part('B-1', 'Bolt', 4)));
  await bringLater(
    project,
    stepOf(group('A-1', 'Table', ...times(4, foot), place(part('D-1', 'Drawer', 24), move(0, 0, 30)))),
  );
  const before = await opened(project);
  const third = before.revisions[2].id;
  const all = before.documents.filter(({ kind }) => kind === 'bill' || kind === 'sheet').map(({ id }) => id);
  await intend(project, { ...take, revision: third, documents: all, line: { ...LINE, revision: 'C' } });
  const after = await opened(project);
  const shown = after.documents.filter(({ kind }) => kind !== 'components');
  expect(shown.map(({ content }) => (content as Sheet).revision)).toEqual(shown.map(() => third));
  const [set] = documentsOf<SheetSet>(after, 'set');
  expect(set.content.block?.revisions.map(({ revision, of }) => [revision, of])).toEqual([
    ['B', second],
    ['C', third],
  ]);
  // What the drawer is marked as hangs on what the sheet showed: new to one, another shape to the other; bolts are new to one only.
  const cloudsOf = (id: string) =>
    documentsOf<Sheet>(after, 'sheet').find((one) => one.id === id)!.content.clouds!.paths;
  expect(cloudsOf(sheet).length).toBeGreaterThan(cloudsOf(document).length);
  expect(cloudsOf(document)).toHaveLength(1);
  await undo(project);
  expect(contents(await opened(project))).toEqual(contents(before));
});

test('new sheets made of one that took a revision over, or beside it, show it too; away they still keep it from going', async () => {
  const { project, sheet } = await withDrawing();
  const [, second] = (await opened(project)).revisions;
  const take = { kind: 'takeOver', revision: second.id, documents: [sheet], retire: true, clouds: false } as const;
  await intend(project, { ...take, line: LINE });
  const { components } = await live.get<{ components: { key: string; partNumber: string }[] }>(
    `/api/projects/${project}/assembly?revision=${second.id}`,
  );
  const parts = components.filter(({ partNumber }) => partNumber === 'D-1').map(({ key }) => key) as never[];
  await intend(project, { kind: 'makePartSheets', sheet, parts, together: false, column: null });
  const cover = { name: 'Cover', gesture: 'cover', session: 'one' };
  const { document } = await live.post<{ document: string }>(`/api/projects/${project}/sheets`, cover);
  const sheets = documentsOf<Sheet>(await opened(project), 'sheet').slice(1);
  expect(sheets.map(({ content }) => content.revision)).toEqual([second.id, second.id]);
  expect(sheets[1].id).toBe(document);
  for (let back = 0; back < 3; back++) await undo(project);
  const { body } = await live.call<{ error: string }>(`/api/projects/${project}/revisions/${second.id}`, 'DELETE');
  expect(body.error).toMatch(/is shown by “.*”, which was taken away but can come back/);
});

test('the demo comes apart into what changed between its two revisions', async () => {
  const file = (name: string) => new Uint8Array(readFileSync(`demo/files/hauling-sledge-${name}.step`));
  const project = await live.importFile('hauling-sledge-A.step', file('A'));
  const { job } = await live.post<{ job: string }>(
    `/api/imports?name=hauling-sledge-B.step&into=${project}`,
    file('B'),
  );
  await live.done(job);
  const { revisions, summary } = await opened(project);
  expect([revisions.map(({ label }) => label), summary.revision, revisions[1].unsure]).toEqual([['A', 'B'], 'A', 0]);
  const { model } = await live.get<Effect>(`/api/projects/${project}/changes`);
  expect(model.summary.changes).toMatchObject({ new: 1, gone: 1, reshaped: 4, quantities: 2 });
});
