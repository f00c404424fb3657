import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import type * as v from 'valibot';
import type { api, StoredText } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { execute, inTransaction } from '../store/database.ts';
import type { Desk } from '../desk/desk.ts';
import { documentJson } from '../log/documentJson.ts';
import { NotFound } from '../errors.ts';
import { presentOrAgain } from '../log/unreadable.ts';
import { historyOf } from '../log/history.ts';

/*
 * A catalogue is a document that stands alone: a row among the projects of its own id, without any revision, so that edits,
 * undo and conflicts are those of every other document.
 */

type Summary = v.InferOutput<typeof api.catalogueSummarySchema>;

export async function listCatalogues(database: DataSource): Promise<Summary[]> {
  const rows = (await database.query(
    `SELECT d.id, d.version, JSON_VALUE(d.content, '$.name') AS name, JSON_LENGTH(d.content, '$.items') AS items, p.changed
     FROM document d JOIN project p ON p.id = d.project WHERE d.kind = 'catalogue' ORDER BY name, d.id`,
  )) as (Omit<Summary, 'changed' | 'items'> & { changed: Date; items: number | string })[];
  return rows.map(({ changed, items, name, ...rest }) => ({
    ...rest,
    name: name ?? '',
    items: Number(items),
    changed: changed.toISOString(),
  }));
}

/** Count of edits of each of these catalogues that is there. */
export async function catalogueVersions(
  database: DataSource,
  ids: readonly string[],
): Promise<{ id: string; version: number }[]> {
  if (ids.length === 0) return [];
  return database.query("SELECT id, version FROM document WHERE kind = 'catalogue' AND id IN (?)", [[...ids]]);
}

/** Catalogues as they are stored; those that are gone are left out. */
export async function catalogueTexts(database: DataSource, ids: readonly string[]): Promise<StoredText[]> {
  if (ids.length === 0) return [];
  return database.query("SELECT id, kind, version, content FROM document WHERE kind = 'catalogue' AND id IN (?)", [
    [...ids],
  ]);
}

/** JSON of a catalogue as it is open in a window. @throws NotFound */
export async function catalogueJson(database: DataSource, desk: Desk, id: string, session: string): Promise<string> {
  const [stored] = await catalogueTexts(database, [id]);
  if (!stored) throw new NotFound('There is no such catalogue; it may have been deleted.');
  const document = await presentOrAgain(database, desk, stored);
  const history = await historyOf(database.manager, id, session);
  return `{"documents":[${documentJson(document)}],"history":${JSON.stringify(history)}}`;
}

/** Stores a new catalogue. @param content JSON of it */
export async function addCatalogue(database: DataSource, name: string, content: string): Promise<string> {
  const id = randomUUID();
  const now = new Date();
  await inTransaction(database, async (manager) => {
    await manager.query('INSERT INTO project (id, name, created, changed) VALUES (?, ?, ?, ?)', [
      id,
      name.slice(0, 400),
      now,
      now,
    ]);
    await execute(
      manager,
      'INSERT INTO document (id, project, kind, version, content, position, away) VALUES (?, ?, ?, 1, ?, 1, 0)',
      [id, id, 'catalogue', content],
    );
  });
  return id;
}

/** @throws NotFound, Refusal where a bill takes values from it */
export async function deleteCatalogue(database: DataSource, id: string): Promise<void> {
  await inTransaction(database, async (manager) => {
    const [found] = (await manager.query("SELECT id FROM document WHERE id = ? AND kind = 'catalogue' FOR UPDATE", [
      id,
    ])) as { id: string }[];
    if (!found) throw new NotFound('There is no such catalogue; it may have been deleted already.');
    const users = (await manager.query(
      "SELECT DISTINCT p.name FROM reference r JOIN document d ON d.id = r.document JOIN project p ON p.id = d.project WHERE r.what = 'catalogue' AND r.target = ? ORDER BY p.name LIMIT 5",
      [id],
    )) as { name: string }[];
    if (users.length > 0)
      throw new Refusal(
        'in-use',
        `Lists or plans take values from this catalogue: ${users.map(({ name }) => name).join(', ')}. Take it out of them first.`,
      );
    await manager.query('DELETE FROM project WHERE id = ?', [id]);
  });
}
