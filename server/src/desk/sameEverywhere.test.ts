import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { listOccurrences, type Assembly } from '../../../core/src/assembly/index.ts';
import {
  billShownBy,
  editedFor,
  projectBill,
  type BillDocument,
  type ComponentEdits,
} from '../../../core/src/documents/index.ts';
import { drawSheet, type Sheet, type SheetSet } from '../../../core/src/sheets/index.ts';
import { unpackViewLines } from '../../../core/src/formats/index.ts';
import { lookAt } from '../../../core/src/views/index.ts';
import { stepOf, tableProduct } from '../../../testkit/stepFiles.ts';
import { startLive, type LiveServer } from '../../../testkit/liveServer.ts';

let live: LiveServer;
beforeAll(async () => void (live = await startLive('same')));
afterAll(() => live?.stop());

test('a turned machine, a listed variant and a part left out: page, list, sheet (SVG, PDF) and command line say the same', async () => {
  const project = await live.importFile('table.step', stepOf(tableProduct()));
  const assembly = await live.get<Assembly>(`/api/projects/${project}/assembly`);
  const keyOf = (number: string) => assembly.components.find(({ partNumber }) => partNumber === number)!.key;
  const edit = async (kind: string, command: unknown) =>
    expect((await live.edit(project, kind, command)).error).toBeUndefined();
  await edit('components', { kind: 'setOrientation', orientation: { up: '+y', front: '+z' } });
  await edit('components', {
    kind: 'setTreatment',
    component: keyOf('T-1'),
    treatment: { ownLine: false, countContents: false },
  });
  await edit('components', {
    kind: 'setVariant',
    id: 'bare',
    variant: { name: 'Bare', without: [keyOf('B-1')], withoutPlaces: [], exchanged: {}, typed: {} },
  });
  await edit('bill', { kind: 'changeRecipe', change: { variant: 'bare' } });
  const plate = listOccurrences(assembly, (index) => assembly.components[index].partNumber === 'P-1')[0];
  await edit('sheet', {
    kind: 'addView',
    view: { id: 'v1', direction: 'front', scale: 0.5, centre: [150, 120], byHand: true },
  });
  await edit('sheet', {
    kind: 'changeTables',
    remove: [],
    put: [{ id: 'list', place: 'title-block' }],
  });
  await edit('sheet', {
    kind: 'changeBalloons',
    remove: [],
    put: [{ id: 'b1', view: 'v1', path: plate.path, end: 'dot', byHand: true, anchor: [5, 5, 5], offset: [60, -40] }],
  });

  const { documents, summary } = await live.open(project);
  const of = <Content>(kind: string) =>
    documents.filter((one) => one.kind === kind).map(({ id, content }) => ({ id, content: content as Content }));
  const [sheet] = of<Sheet>('sheet');
  const shown = billShownBy(of<BillDocument>('bill'), sheet.content);
  const svg = await live.sheetSvg(project, sheet.id);
  const list = await live.get<{ rows: { item: string; partNumber: string }[] }>(
    `/api/projects/${project}/bills/${shown.id}/json`,
  );

  // What the page works out from the same documents, with the lines that it fetches under the key that it finds itself.
  const input = { original: assembly, edits: of<ComponentEdits>('components')[0].content, facts: new Map() };
  const made = projectBill({ ...input, bill: shown.content, fileName: summary.fileName }, editedFor(input, 'bare'));
  const { key } = lookAt(made.edited.assembly, { direction: 'front' });
  const bytes = await (await fetch(`${live.url}/api/views/${key}/lines`)).arrayBuffer();
  const { layout } = drawSheet({
    sheet: sheet.content,
    shared: of<SheetSet>('set')[0].content.fields,
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
  const pdf = await (await fetch(`${live.url}/api/projects/${project}/sheets/${sheet.id}/pdf`)).arrayBuffer();
  const texts = execFileSync('pdftotext', ['-', '-'], { input: new Uint8Array(pdf), encoding: 'utf8' }).split(/\s+/);
  expect(texts).toEqual(expect.arrayContaining([balloon.item, 'Plate']));
  expect(texts).not.toContain('Bolt');
  // What the build lacks is neither drawn nor listed: 4 plates and the top are left of 13 things.
  expect(lookAt(made.edited.assembly, { direction: 'front' }).things).toHaveLength(5);
  const folder = mkdtempSync(join(tmpdir(), 'sledge-same-'));
  writeFileSync(join(folder, 'table.step'), stepOf(tableProduct()));
  const recipe = await live.get<object>(`/api/projects/${project}/bills/${shown.id}/recipe`);
  writeFileSync(join(folder, 'recipe.json'), JSON.stringify(recipe));
  const printed = execFileSync(
    process.execPath,
    ['bin/sledgeboard', 'bill', join(folder, 'table.step'), '--up', 'y', '--recipe', join(folder, 'recipe.json')],
    { encoding: 'utf8', env: { ...process.env, XDG_CACHE_HOME: folder } },
  );
  rmSync(folder, { recursive: true });
  const rows = (JSON.parse(printed) as typeof list).rows;
  expect(rows.map(({ item, partNumber }) => [item, partNumber])).toEqual(
    list.rows.map(({ item, partNumber }) => [item, partNumber]),
  );
  const [, x1, y1] = /data-of="balloon b1" d="M[\d.-]+[ ,][\d.-]+L([\d.-]+)[ ,]([\d.-]+)/.exec(svg) ?? [];
  expect([Number(x1), Number(y1)].map((value) => Math.round(value * 100))).toEqual(
    balloon.anchor.map((value) => Math.round(value * 100)),
  );
});
