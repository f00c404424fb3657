import type { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { testSchema } from '../../../testkit/schema.ts';
import { openDatabase } from './database.ts';
import { cataloguesNamed, keepReferences } from './references.ts';

let database: DataSource;
const schema = testSchema('migrations');
const insert = (id: string, kind: string, content: object, position: number, project = 'machine') =>
  database.query(
    'INSERT INTO document (id, project, kind, version, content, position, away) VALUES (?, ?, ?, 1, ?, ?, 0)',
    [id, project, kind, JSON.stringify(content), position],
  );
beforeAll(async () => {
  await schema.create();
  database = await openDatabase(schema.url);
  // As it was before orders claimed their numbers and documents had their references in rows.
  await database.undoLastMigration();
  await database.undoLastMigration();
  for (const id of ['machine', 'stock'])
    await database.query('INSERT INTO project (id, name, created, changed) VALUES (?, ?, NOW(), NOW())', [id, id]);
  await insert('stock', 'catalogue', { name: 'Bars' }, 1, 'stock');
  await insert('list', 'bill', { catalogues: [{ catalogue: 'stock' }], revision: 'B' }, 1);
  await insert('sheet', 'sheet', { bill: 'list', tables: [], revision: 'A' }, 2);
  await insert('plain', 'sheet', { tables: [{ id: 't', bill: 'list' }] }, 3);
  await insert('plan', 'buying', { bill: null, stock: ['stock'], catalogues: [] }, 4);
  await insert('second', 'order', { number: 'PO-1 ' }, 6);
  await insert('first', 'order', { number: 'PO-1' }, 5);
  await insert('third', 'order', { number: 'PO-2' }, 7);
  await database.runMigrations({ transaction: 'each' });
});
afterAll(async () => {
  await database?.destroy();
  await schema.drop();
});

describe('a database of an earlier version', () => {
  test('gives a number that orders share to the first of them; the others keep theirs on paper', async () => {
    const rows = await database.query("SELECT id, claim FROM document WHERE kind = 'order' ORDER BY position");
    expect(rows).toEqual([
      { id: 'first', claim: 'order PO-1' },
      { id: 'second', claim: null },
      { id: 'third', claim: 'order PO-2' },
    ]);
  });
  test('knows which documents name what', async () => {
    const rows = (await database.query('SELECT document, what, target FROM reference')) as Record<string, string>[];
    expect(rows.map(({ document, what, target }) => `${document} ${what} ${target}`).sort()).toEqual([
      'list catalogue stock',
      'list revision B',
      'plain bill list',
      'plan catalogue stock',
      'sheet bill list',
      'sheet revision A',
    ]);
    expect(await cataloguesNamed(database, 'machine')).toEqual(['stock']);
  });
});

test('references follow what documents say, and go with them', async () => {
  const of = (id: string) =>
    database.query('SELECT what, target AS id FROM reference WHERE document = ? ORDER BY what', [id]);
  const names = [
    { what: 'bill', id: 'list' },
    { what: 'revision', id: 'C' },
  ] as const;
  await keepReferences(database.manager, [{ id: 'sheet', names }]);
  expect(await of('sheet')).toEqual(names);
  await keepReferences(database.manager, [{ id: 'sheet', names }]);
  expect(await of('sheet')).toEqual(names);
  await database.query("DELETE FROM document WHERE id = 'sheet'");
  expect(await of('sheet')).toEqual([]);
});
