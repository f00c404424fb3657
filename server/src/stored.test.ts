import { readFileSync } from 'node:fs';
import { createConnection } from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Project } from '../../contract/src/index.ts';
import type { BillDocument, ComponentEdits } from '../../core/src/documents/index.ts';
import type { Sheet, SheetSet } from '../../core/src/sheets/index.ts';
import { packAssembly, unpackAssembly } from './opened/packedAssembly.ts';
import { startLive, type LiveServer } from '../../testkit/liveServer.ts';

/**
 * A database as an earlier version left it: a table turned so that y is up, its list renamed, a bolt's number pinned to 7,
 * a view with a list and a balloon set by hand. Six gestures of the session “one”, all of the form of that time.
 */
const stored = 'testkit/stored/database-2026-11.sql';

let live: LiveServer;
let project: string;
beforeAll(async () => {
  live = await startLive('stored', async (uri) => {
    const connection = await createConnection({ uri, multipleStatements: true });
    await connection.query(`SET NAMES utf8mb4; SET FOREIGN_KEY_CHECKS = 0; ${readFileSync(stored, 'utf8')}`);
    const [rows] = await connection.query('SELECT id FROM project');
    project = (rows as { id: string }[])[0].id;
    await connection.end();
  });
});
afterAll(() => live?.stop());

const contentOf = <Content>({ documents }: Project, kind: string) =>
  documents.find((document) => document.kind === kind)!.content as Content;
const open = () => live.open(project);
const undo = () => live.post(`/api/projects/${project}/undo`, { session: 'one' });

describe('a database of an earlier version', () => {
  test('opens with everything that was typed, pinned, turned and placed', async () => {
    const opened = await open();
    const bill = contentOf<BillDocument>(opened, 'bill');
    expect(bill.name).toBe('Liste für Ø 12');
    expect(Object.values(bill.ledger)).toContainEqual({ number: 7, pinned: true });
    expect(contentOf<ComponentEdits>(opened, 'components').orientation).toEqual({ up: '+y', front: '+z' });
    const sheet = contentOf<Sheet>(opened, 'sheet');
    expect([sheet.views.map(({ id }) => id), sheet.balloons.map(({ byHand }) => byHand)]).toEqual([['v1'], [true]]);
  });
  test('has its one sheet as the first of a set, whose title block stands on all sheets', async () => {
    const opened = await open();
    const sheet = opened.documents.find(({ kind }) => kind === 'sheet')!;
    const set = contentOf<SheetSet>(opened, 'set');
    expect(set.order).toEqual([sheet.id]);
    expect(set.fields).toMatchObject({ title: 'Table', documentType: 'Assembly drawing' });
    expect(sheet.content).toMatchObject({ version: 2, fields: {}, notes: [], pictures: [] });
    expect((sheet.content as Sheet).tables).toEqual([{ id: 'list', place: 'title-block' }]);
  });
  test('hands its sheet over, with the pinned number in the balloon', async () => {
    const sheet = (await open()).documents.find(({ kind }) => kind === 'sheet')!;
    const svg = await live.sheetSvg(project, sheet.id);
    expect(svg).toMatch(/data-of="balloon b1"[^>]*>7<\/text>/);
    expect(svg).toContain('>Table</text>');
  });
  test('takes back what was done then: the balloon, the list, the view', async () => {
    await undo();
    expect(contentOf<Sheet>(await open(), 'sheet').balloons).toEqual([]);
    await undo();
    await undo();
    const sheet = contentOf<Sheet>(await open(), 'sheet');
    expect([sheet.tables, sheet.views]).toEqual([[], []]);
    for (let again = 0; again < 3; again++) await live.post(`/api/projects/${project}/redo`, { session: 'one' });
    const back = contentOf<Sheet>(await open(), 'sheet');
    expect([back.tables.length, back.views.length, back.balloons.length]).toEqual([1, 1, 1]);
  });
});

test('a structure that a newer program has stored is refused with a sentence, never read by half', () => {
  const newer = packAssembly({ version: 2, shine: true } as never);
  expect(() => unpackAssembly(newer)).toThrow('This structure was stored by a newer version of the program (version 2');
});
