import excel from 'exceljs';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Catalogue } from '../../../core/src/catalogues/index.ts';
import type { IssuedOrder } from '../../../core/src/buying/index.ts';
import type { CutPlan, CutProblem } from '../../../core/src/cutting/index.ts';
import { cutFaults } from '../../../testkit/slowCutting.ts';
import { workshopForm, workshopMap } from '../../../testkit/forms.ts';
import { startLive, type LiveServer } from '../../../testkit/liveServer.ts';

const LIST = [
  'Item,Qty,Part number,Name,Made or bought,Material,Section,Length [mm],Supplier,Unit cost',
  '1,2,T-1,Post,made,Steel,Tube 30 × 2,1400,,',
  '2,3,T-2,Rail,made,Steel,Tube 30 × 2,900,,',
  '3,16,B-1,Bolt,bought,,,,Fjord Bolts,0.50 EUR',
  '4,1,W-1,Winch,bought,,,,Norrvik,',
].join('\n');
const BARS =
  'Stock number,Section,Material,Stock length [mm],Unit cost [EUR],Supplier\nB6,Tube 30 x 2,Steel,6000,40.00,Tindra\nB3,Tube 30 x 2,Steel,3000,22.00,Tindra\n';

let live: LiveServer;
let project: string;
let plan: string;
let bars: string;
const meta = (gesture: string) => ({ gesture, session: 's' });
beforeAll(async () => {
  live = await startLive('buying');
  project = await live.importFile('frame.csv', LIST);
  const preview = await live.call<{ mapping: unknown }>('/api/catalogues/preview?name=bars.csv', 'POST', BARS);
  const mapping = encodeURIComponent(JSON.stringify(preview.body.mapping));
  const made = await live.call<{ id: string }>(`/api/catalogues/import?name=bars.csv&mapping=${mapping}`, 'POST', BARS);
  bars = made.body.id;
  plan = (await live.post<{ document: string }>(`/api/projects/${project}/buying`, { name: 'Five', ...meta('g1') }))
    .document;
  await live.edit(project, plan, {
    kind: 'changePlan',
    change: { builds: [{ variant: null, count: 5 }], stock: [bars], kerfMm: 2, leastLeftOverMm: 0 },
  });
});
afterAll(() => live?.stop());

const path = (rest: string) => `/api/projects/${project}/${rest}`;
const planned = async () => live.done((await live.post<{ job: string | null }>(path(`buying/${plan}/plans`), {})).job);
interface BuyingJson {
  requirement: { partNumber: string; needed: number; toGet: number }[];
  cutPlans: { bars: { stockMm: number; count: number }[]; cost: number; optimal: boolean }[];
  cost: { known: number; unknownLines: string[] };
}

describe('a plan of buying', () => {
  test('files of it wait for its cut plans, which a job makes once', async () => {
    const early = await live.call<{ error: string }>(path(`buying/${plan}/json`));
    expect(early.status).toBe(409);
    expect(early.body.error).toMatch(/cut plans/);
    await planned();
    expect((await live.post<{ job: string | null }>(path(`buying/${plan}/plans`), {})).job).toBeNull();
    const made = await live.get<BuyingJson>(path(`buying/${plan}/json`));
    expect(made.requirement.map(({ partNumber, needed }) => [partNumber, needed])).toEqual([
      ['T-1', 10],
      ['T-2', 15],
      ['B-1', 80],
      ['W-1', 5],
    ]);
    expect(made.cutPlans).toMatchObject([{ optimal: true }]);
    expect(made.cost.unknownLines).toEqual(['W-1']);
    expect(made.cost.known).toBeCloseTo(made.cutPlans[0].cost + 40, 6);
  });
  test('goes out as a table and as the cut list of the workshop', async () => {
    const response = await fetch(`${live.url}${path(`buying/${plan}/xlsx`)}`);
    const book = new excel.Workbook();
    await book.xlsx.load((await response.arrayBuffer()) as never);
    expect(book.worksheets[0].getRow(1).values).toContain('Cost [EUR]');
    const pdf = await fetch(`${live.url}${path(`buying/${plan}/pdf`)}`);
    expect(pdf.headers.get('content-type')).toBe('application/pdf');
    expect(new TextDecoder('latin1').decode(await pdf.arrayBuffer())).toMatch(/^%PDF/);
    expect((await live.call(path(`buying/${plan}/svg`))).status).toBe(400);
  });
  test('a change of what is built is undone like any other', async () => {
    const json = () => live.get<BuyingJson>(path(`buying/${plan}/json`));
    await live.edit(project, plan, { kind: 'changePlan', change: { builds: [{ variant: null, count: 1 }] } });
    await planned();
    expect((await json()).requirement[2].needed).toBe(16);
    expect((await live.call(path('undo'), 'POST', { session: 'one', gesture: 'undo-1' })).status).toBe(200);
    expect((await json()).requirement[2].needed).toBe(80);
  });
  test('nonsense is refused with a sentence and changes nothing', async () => {
    const before = (await live.open(project)).documents.find(({ id }) => id === plan)!.content;
    for (const change of [
      { builds: [{ variant: null, count: 0 }] },
      { currency: 'XXX' },
      { kerfMm: -1 },
      { builds: [{ variant: null, count: 2.5 }] },
    ])
      expect((await live.edit(project, plan, { kind: 'changePlan', change })).error).toEqual(expect.any(String));
    expect((await live.open(project)).documents.find(({ id }) => id === plan)!.content).toEqual(before);
  });
  test('a catalogue that bars are bought from cannot be deleted under it', async () => {
    const { status, body } = await live.call<{ error: string }>(`/api/catalogues/${bars}`, 'DELETE');
    expect(status).toBe(422);
    expect(body.error).toMatch(/frame/);
    expect(
      (await live.get<{ documents: { content: Catalogue }[] }>(`/api/catalogues/${bars}?session=s`)).documents,
    ).toHaveLength(1);
  });
});

describe('cut plans', () => {
  const problem = (count: number): CutProblem => ({
    pieces: Array.from({ length: 12 }, (_, at) => ({ lengthMm: 310 + 131 * at, count })),
    stock: [
      { lengthMm: 6000, price: 42, available: null },
      { lengthMm: 4000, price: 29.5, available: null },
    ],
    kerfMm: 2.5,
    trimMm: 5,
    leastLeftOverMm: 300,
  });
  interface Answer {
    plans: (CutPlan | null)[];
    job: string | null;
  }
  const order = (problems: readonly CutProblem[], again = false) =>
    live.post<Answer>(path('cut-plans'), { problems, again });
  test('are made by a job, kept, and there at once the next time', async () => {
    const first = await order([problem(3), problem(5)]);
    expect(first.plans).toEqual([null, null]);
    await live.done(first.job);
    const { plans, job } = await order([problem(3), problem(5)]);
    expect(job).toBeNull();
    expect(cutFaults(problem(3), plans[0]!)).toEqual([]);
    expect(cutFaults(problem(5), plans[1]!)).toEqual([]);
  });
  test('where the job is stopped, what was found is kept and can be looked for further', async () => {
    const hard: CutProblem = {
      ...problem(1),
      pieces: Array.from({ length: 400 }, (_, at) => ({ lengthMm: 151.3 + 7.77 * at, count: 1 + (at % 5) })),
    };
    const { job } = await order([hard]);
    // As soon as it runs: a job that only waits is cancelled without a plan.
    for (;;) {
      const { state } = await live.get<{ state: string }>(`/api/jobs/${job}`);
      if (state === 'running') break;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    await live.call(`/api/jobs/${job}/cancel`, 'POST', {});
    await live.done(job);
    const [stopped] = (await order([hard])).plans;
    expect(stopped!.stopped).toBe(true);
    expect(cutFaults(hard, stopped!)).toEqual([]);
    const again = await order([hard], true);
    expect(again.plans).toEqual([null]);
    await live.call(`/api/jobs/${again.job}/cancel`, 'POST', {});
  });
  test.each([
    ['a length of nothing', { pieces: [{ lengthMm: 0, count: 1 }] }],
    ['half a piece', { pieces: [{ lengthMm: 5, count: 0.5 }] }],
    ['a negative price', { stock: [{ lengthMm: 6000, price: -1, available: null }] }],
    ['ends that lean too far', { pieces: [{ lengthMm: 5, count: 1, ends: [90, 0] }] }],
  ])('%s is refused', async (_, change) => {
    const answer = await live.call(path('cut-plans'), 'POST', { problems: [{ ...problem(1), ...change }] });
    expect(answer.status).toBe(400);
  });
  test('a project that is not there orders nothing', async () => {
    const answer = await live.call('/api/projects/none/cut-plans', 'POST', { problems: [problem(1)] });
    expect(answer.status).toBe(404);
  });
});

describe('orders', () => {
  let order: string;
  test('are numbered, and stay as they were on their day whatever changes', async () => {
    await planned();
    const issue = (gesture: string) =>
      live.post<{ document: string }>(path(`buying/${plan}/orders`), meta(gesture)).then(({ document }) => document);
    order = await issue('o1');
    expect(await issue('o1')).toBe(order); // asked twice, issued once
    await issue('o2');
    const year = new Date().toISOString().slice(0, 4);
    const numbers = (await live.open(project)).documents
      .filter(({ kind }) => kind === 'order')
      .map(({ content }) => (content as IssuedOrder).number);
    expect(numbers).toEqual([`${year}-001`, `${year}-002`]);
    const before = await live.get<IssuedOrder>(path(`orders/${order}/json`));
    await live.edit(project, plan, { kind: 'changePlan', change: { builds: [{ variant: null, count: 9 }] } });
    expect(await live.get<IssuedOrder>(path(`orders/${order}/json`))).toEqual(before);
    expect(before.what).toBe('5 machines');
  });
  test('issued at the same moment get numbers of their own; one that is taken is refused with the next free', async () => {
    const of = (gesture: string, number?: string) =>
      live.call<{ document?: string; error?: string }>(path(`buying/${plan}/orders`), 'POST', {
        ...meta(gesture),
        ...(number === undefined ? {} : { number }),
      });
    await planned();
    const both = await Promise.all([of('o3'), of('o4')]);
    expect(both.map(({ status }) => status)).toEqual([201, 201]);
    const numbers = async () =>
      (await live.open(project)).documents
        .filter(({ kind }) => kind === 'order')
        .map(({ content }) => (content as IssuedOrder).number);
    const year = new Date().toISOString().slice(0, 4);
    expect((await numbers()).sort()).toEqual([1, 2, 3, 4].map((at) => `${year}-00${at}`));
    const named = await Promise.all([of('o5', 'A-7'), of('o6', ' A-7 ')]);
    expect(named.map(({ status }) => status).sort()).toEqual([201, 409]);
    const { error } = named.find(({ status }) => status === 409)!.body;
    expect(error).toMatch(/There is an order A-7 already \(“issue the order A-7”, .*\)/);
    expect(error).toContain(`${year}-005 is free`);
    // Taken away it keeps its number, since it may come back.
    const { document } = named.find(({ status }) => status === 201)!.body;
    await live.edit(project, document!, { kind: 'setAway', away: true });
    expect((await of('o7', 'A-7')).status).toBe(409);
  });
  test('go out per supplier', async () => {
    const csv = (await live.call<string>(path(`orders/${order}/csv?supplier=Fjord+Bolts`))).body;
    expect(csv).toContain('B-1');
    expect(csv).not.toContain('Tindra');
    const xlsx = await fetch(`${live.url}${path(`orders/${order}/xlsx`)}`);
    const book = new excel.Workbook();
    await book.xlsx.load((await xlsx.arrayBuffer()) as never);
    expect(book.worksheets[0].getColumn(4).values).toContain('B-1');
  });
  test('go into the company’s form', async () => {
    const name = 'Order form';
    const query = new URLSearchParams({ name, fileName: 'form.xlsx' });
    await fetch(`${live.url}/api/forms?${query}`, { method: 'POST', body: (await workshopForm()) as BodyInit });
    await live.call(`/api/forms/${encodeURIComponent(name)}`, 'PUT', workshopMap);
    const wanted = new URLSearchParams({ order, supplier: 'Fjord Bolts' });
    const response = await fetch(`${live.url}${path(`forms/${encodeURIComponent(name)}/file?${wanted}`)}`);
    expect(response.status).toBe(200);
    const book = new excel.Workbook();
    await book.xlsx.load((await response.arrayBuffer()) as never);
    const sheet = book.getWorksheet('Parts')!;
    expect(sheet.getCell('C6').value).toBe('Bolt');
  });
  test('one that is gone is not there', async () => {
    expect((await live.call(path('orders/none/csv'))).status).toBe(404);
  });
});
