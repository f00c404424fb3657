import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import type { Job, Project, ViewsAnswer } from '../../contract/src/index.ts';
import { listOccurrences, type Assembly } from '../../core/src/assembly/index.ts';
import {
  billShownBy,
  editedFor,
  projectBill,
  type BillDocument,
  type ComponentEdits,
} from '../../core/src/documents/index.ts';
import { drawSheet, type Sheet } from '../../core/src/sheets/index.ts';
import { unpackViewLines } from '../../core/src/formats/index.ts';
import { lookAt } from '../../core/src/views/index.ts';
import { stepOf, tableProduct } from '../../testkit/stepFiles.ts';
import { testSchema } from '../../testkit/schema.ts';
import { startServer, type RunningServer } from './server.ts';

const schema = testSchema('same');
let server: RunningServer;
beforeAll(async () => {
  await schema.create();
  server = await startServer({
    databaseUrl: schema.url,
    workerFile: process.env.SLEDGEBOARD_WORKER!,
    page: null,
    port: 0,
    demoFile: null,
  });
});
afterAll(async () => {
  await server?.close();
  await schema.drop();
});

const get = async <Body>(path: string): Promise<Body> => (await (await fetch(`${server.url}${path}`)).json()) as Body;
const post = async <Body>(path: string, body: unknown): Promise<Body> =>
  (await (
    await fetch(`${server.url}${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: typeof body === 'string' ? body : JSON.stringify(body),
    })
  ).json()) as Body;
const done = async (job: string): Promise<Job> => {
  await vi.waitFor(async () => expect((await get<Job>(`/api/jobs/${job}`)).state).toBe('done'), { timeout: 50_000 });
  return get<Job>(`/api/jobs/${job}`);
};

test('a turned machine, a listed variant and a part left out: page, lists and sheet say the same', async () => {
  const { job } = await post<{ job: string }>('/api/imports?name=table.step', stepOf(tableProduct()));
  const project = (await done(job)).project!;
  const assembly = await get<Assembly>(`/api/projects/${project}/assembly`);
  const keyOf = (number: string) => assembly.components.find(({ partNumber }) => partNumber === number)!.key;
  const open = () => get<Project>(`/api/projects/${project}?session=one`);
  const edit = async (kind: string, label: string, command: unknown) => {
    const document = (await open()).documents.find((one) => one.kind === kind)!;
    const answer = await post<{ error?: string }>(`/api/projects/${project}/edits`, {
      gesture: `g-${label.replaceAll(' ', '-')}`,
      session: 'one',
      label,
      steps: [{ document: document.id, version: document.version, command }],
    });
    expect(answer.error).toBeUndefined();
  };
  await edit('components', 'turn', { kind: 'setOrientation', orientation: { up: '+y', front: '+z' } });
  await edit('components', 'leave out', {
    kind: 'setTreatment',
    component: keyOf('T-1'),
    treatment: { ownLine: false, countContents: false },
  });
  await edit('components', 'variant', {
    kind: 'setVariant',
    id: 'bare',
    variant: { name: 'Bare', without: [keyOf('B-1')], withoutPlaces: [], exchanged: {}, typed: {} },
  });
  await edit('bill', 'list it', { kind: 'changeRecipe', change: { variant: 'bare' } });
  const plate = listOccurrences(assembly, (index) => assembly.components[index].partNumber === 'P-1')[0];
  await edit('sheet', 'view', {
    kind: 'addView',
    view: { id: 'v1', direction: 'front', scale: 0.5, centre: [150, 120], byHand: true },
  });
  await edit('sheet', 'list', { kind: 'setTable', table: { place: 'title-block' } });
  await edit('sheet', 'balloon', {
    kind: 'changeBalloons',
    remove: [],
    put: [{ id: 'b1', view: 'v1', path: plate.path, end: 'dot', byHand: true, anchor: [5, 5, 5], offset: [60, -40] }],
  });

  const { documents, summary } = await open();
  const of = <Content>(kind: string) =>
    documents.filter((one) => one.kind === kind).map(({ id, content }) => ({ id, content: content as Content }));
  const [sheet] = of<Sheet>('sheet');
  const shown = billShownBy(of<BillDocument>('bill'), sheet.content);
  const ordered = await post<ViewsAnswer>(`/api/projects/${project}/sheets/${sheet.id}/views`, {});
  if (ordered.job) await done(ordered.job);
  const svg = await (await fetch(`${server.url}/api/projects/${project}/sheets/${sheet.id}/svg`)).text();
  const list = await get<{ rows: { item: string; partNumber: string }[] }>(
    `/api/projects/${project}/bills/${shown.id}/json`,
  );

  // What the page works out from the same documents, with the lines that it fetches under the key that it finds itself.
  const input = { original: assembly, edits: of<ComponentEdits>('components')[0].content, facts: new Map() };
  const made = projectBill({ ...input, bill: shown.content, fileName: summary.fileName }, editedFor(input, 'bare'));
  const { key } = lookAt(made.edited.assembly, { direction: 'front' });
  const bytes = await (await fetch(`${server.url}/api/views/${key}/lines`)).arrayBuffer();
  const { layout } = drawSheet({
    sheet: sheet.content,
    assembly: made.edited.assembly,
    bill: made.bill,
    columns: shown.content.columns,
    lines: new Map([['v1', unpackViewLines(new Uint8Array(bytes))]]),
  });
  const [balloon] = layout.balloons;
  expect(list.rows.map(({ partNumber }) => partNumber)).toEqual(['P-1']); // bolts are gone in this build, the top is left out
  expect(made.bill.rows.map(({ item }) => item)).toEqual(list.rows.map(({ item }) => item));
  expect([balloon.item, balloon.part]).toEqual([list.rows[0].item, 'P-1']);
  expect(svg).toMatch(new RegExp(`data-of="balloon b1"[^>]*>${balloon.item}</text>`));
  const [, x1, y1] = /data-of="balloon b1" d="M[\d.-]+[ ,][\d.-]+L([\d.-]+)[ ,]([\d.-]+)/.exec(svg) ?? [];
  expect([Number(x1), Number(y1)].map((value) => Math.round(value * 100))).toEqual(
    balloon.anchor.map((value) => Math.round(value * 100)),
  );
});
