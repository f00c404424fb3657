import type { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ShapeKey } from '../../../core/src/assembly/index.ts';
import { keysOfShape, pictureKey } from '../../../engine/src/index.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { testSchema } from '../../../testkit/schema.ts';
import { blobStore, fileKey } from '../store/blobs.ts';
import { openDatabase } from '../store/database.ts';
import { removeShapes, sweep } from './sweep.ts';

const schema = testSchema('sweep');
let database: DataSource;
beforeAll(async () => {
  await schema.create();
  database = await openDatabase(schema.url);
  await database.query("INSERT INTO project (id, name, created, changed) VALUES ('p', 'Sledge', NOW(), NOW())");
});
afterAll(async () => {
  await database?.destroy();
  await schema.drop();
});
const shape = (digit: string) => digit.repeat(32) as ShapeKey;
const hash = (digit: string) => digit.repeat(64);
const put = (key: string) => blobStore(database).put(key, Uint8Array.of(1));
const left = async (keys: readonly string[]) => [...(await blobStore(database).those(keys))].sort();
const inDays = (days: number) => days * 24 * 3_600_000;

describe('what nothing needs any more', () => {
  test('goes after a day, what something names stays: shapes, files, structures, what was made of views', async () => {
    const used = [...keysOfShape(shape('a')), fileKey(hash('1')), 'assembly used', fileKey(hash('3'))];
    const unused = [...keysOfShape(shape('b')), fileKey(hash('2')), 'assembly unused'];
    for (const key of [...used, ...unused]) await put(key);
    await blobStore(database, 'p').put('lines visible here', Uint8Array.of(1));
    await blobStore(database, 'gone').put('lines visible gone', Uint8Array.of(1));
    await database.query('INSERT INTO shape_use (project, shape) VALUES (?, ?)', ['p', shape('a')]);
    await database.query(
      "INSERT INTO revision (id, project, label, fileName, fileBlob, assemblyBlob, parts, leafOccurrences, created) VALUES ('r', 'p', '', 'a.step', ?, 'assembly used', 1, 1, NOW())",
      [fileKey(hash('1'))],
    );
    await database.query(
      "INSERT INTO job (id, kind, state, payload, about, progress, attempts, cancel, created) VALUES ('j', 'import', 'queued', '{}', ?, '{}', 0, 0, NOW())",
      [fileKey(hash('3'))],
    );
    const all = [...used, ...unused, 'lines visible here', 'lines visible gone'];
    expect(await sweep(database)).toBe(0);
    expect(await left(all)).toEqual([...all].sort());
    expect(await sweep(database, inDays(2))).toBe(unused.length + 1);
    expect(await left(all)).toEqual([...used, 'lines visible here'].sort());
  });
  test('of pictures those go after a week that no document, edit or house style names', async () => {
    const pictures = ['4', '5', '6', '7'].map((digit) => pictureKey(hash(digit)));
    for (const key of pictures) await put(key);
    const content = (digit: string) => JSON.stringify({ logo: { blob: hash(digit) } });
    await database.query(
      "INSERT INTO document (id, project, kind, version, content, position, away) VALUES ('d', 'p', 'set', 1, ?, 1, 0)",
      [content('4')],
    );
    await database.query(
      "INSERT INTO edit (project, gesture, session, document, fromVersion, label, command, inverse, form, mode, made) VALUES ('p', 'g', 's', 'd', 1, '', '{}', ?, 2, 'do', NOW())",
      [content('5')],
    );
    await database.query("INSERT INTO remembered (id, content, changed) VALUES ('house style A', ?, NOW())", [
      content('6'),
    ]);
    await sweep(database, inDays(3));
    expect(await left(pictures)).toEqual(pictures);
    expect(await sweep(database, inDays(8))).toBeGreaterThanOrEqual(1);
    expect(await left(pictures)).toEqual(pictures.slice(0, 3));
  });
  test('of a revision that did not come in its own shapes go at once, those of a project stay', async () => {
    const machine = assemblyOf(
      node('TOP', [1, leaf('A', { shape: shape('c') })], [1, leaf('B', { shape: shape('d') })]),
    );
    const keys = [...keysOfShape(shape('c')), ...keysOfShape(shape('d'))];
    for (const key of keys) await put(key);
    await database.query('INSERT INTO shape_use (project, shape) VALUES (?, ?)', ['p', shape('d')]);
    await removeShapes(database, machine);
    expect(await left(keys)).toEqual(keysOfShape(shape('d')).sort());
  });
});
