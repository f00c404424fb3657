import type { DataSource, EntityManager } from 'typeorm';
import * as v from 'valibot';
import { api } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import type { BlobStore } from './blobs.ts';
import type { RevisionRow } from './entities.ts';
import { inTransaction } from './database.ts';

/** Revisions of a project, oldest first. */
export const revisionsOf = (database: Pick<DataSource, 'query'>, project: string): Promise<RevisionRow[]> =>
  database.query('SELECT * FROM revision WHERE project = ? ORDER BY created, id', [project]);

const NO_MATCHES: api.Matches = { version: 1, answers: [], changes: 0, keys: {}, unsure: [] };
/** How a revision was recognised; of the first there is nothing to say. */
export const matchesOf = ({ matches }: Pick<RevisionRow, 'matches'>): api.Matches =>
  matches === null ? NO_MATCHES : v.parse(api.matchesSchema, JSON.parse(matches));

/** Parts that are recognised with less than certainty, about which nobody has said anything yet. */
function unsureIn(row: Pick<RevisionRow, 'matches'>): api.Matches['unsure'] {
  const { unsure, answers } = matchesOf(row);
  const answered = new Set(answers.map(({ is }) => is));
  return unsure.filter(({ is }) => !answered.has(is));
}

export const presentRevision = (row: RevisionRow): api.Revision => ({
  id: row.id,
  label: row.label,
  fileName: row.fileName,
  created: row.created.toISOString(),
  remark: row.remark,
  who: row.who,
  parts: row.parts,
  leafOccurrences: Number(row.leafOccurrences),
  changes: matchesOf(row).changes,
  unsure: unsureIn(row).length,
});

/** The revision that a document names; the first where it names none. @throws Refusal */
export function revisionIn<Kept extends { readonly id: string }>(
  revisions: readonly Kept[],
  named: string | null | undefined,
): Kept {
  const found = named ? revisions.find(({ id }) => id === named) : revisions[0];
  if (!found) throw new Refusal('not-there', 'The revision that this shows is no longer in the project.');
  return found;
}

/** What a revision is called in sentences. */
export const titleOf = ({ label, fileName }: Pick<RevisionRow, 'label' | 'fileName'>): string =>
  label ? `revision ${label} (${fileName})` : fileName;

/** @throws Refusal where a document of the project shows the revision */
export async function refuseShown(
  manager: Pick<EntityManager, 'query'>,
  project: string,
  row: Pick<RevisionRow, 'id' | 'label' | 'fileName'>,
): Promise<void> {
  const [shown] = (await manager.query(
    "SELECT d.away, JSON_VALUE(d.content, '$.name') AS name FROM document d JOIN reference r ON r.document = d.id AND r.what = 'revision' WHERE d.project = ? AND r.target = ? ORDER BY d.away, d.kind LIMIT 1",
    [project, row.id],
  )) as { away: number; name: string | null }[];
  if (shown)
    throw new Refusal(
      'refused',
      `${titleOf(row)} is shown by ${shown.name ? `“${shown.name}”` : 'the project'}${shown.away ? ', which was taken away but can come back; so the revision stays' : '; take that back first'}. Nothing was changed.`,
    );
}

/**
 * Takes a revision away that nothing shows and none was recognised against, with the bytes that nothing else needs; shapes
 * stay for as long as the project does. False where it is not there.
 * @throws Refusal where something shows it
 */
export async function removeRevision(
  database: DataSource,
  blobs: Pick<BlobStore, 'remove'>,
  project: string,
  id: string,
): Promise<boolean> {
  const free: string[] = [];
  const removed = await inTransaction(database, async (manager) => {
    await manager.query('SELECT id FROM project WHERE id = ? FOR UPDATE', [project]);
    const all = await revisionsOf(manager, project);
    const row = all.find((one) => one.id === id);
    if (!row) return false;
    if (row.id === all[0].id)
      throw new Refusal('refused', 'The first revision of a project goes with the project only; nothing was changed.');
    if (all.some(({ base }) => base === id))
      throw new Refusal(
        'refused',
        `A later revision was recognised against ${titleOf(row)}; take that away first. Nothing was changed.`,
      );
    await refuseShown(manager, project, row);
    await manager.query('DELETE FROM revision WHERE id = ? AND project = ?', [id, project]);
    for (const name of [row.fileBlob, row.assemblyBlob, row.sourceBlob]) {
      const used =
        name === null ||
        (
          (await manager.query(
            'SELECT id FROM revision WHERE fileBlob = ? OR assemblyBlob = ? OR sourceBlob = ? LIMIT 1',
            [name, name, name],
          )) as unknown[]
        ).length > 0;
      if (!used) free.push(name);
    }
    return true;
  });
  for (const name of free) await blobs.remove(name);
  return removed;
}

/** Why and by whom a revision was brought in, as somebody says it now. */
export const remarkRevision = async (
  database: Pick<DataSource, 'query'>,
  { id, project }: Pick<RevisionRow, 'id' | 'project'>,
  { remark, who }: { readonly remark: string; readonly who: string },
): Promise<void> =>
  void (await database.query('UPDATE revision SET remark = ?, who = ? WHERE id = ? AND project = ?', [
    remark,
    who,
    id,
    project,
  ]));
