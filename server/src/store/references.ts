import type { DataSource, EntityManager } from 'typeorm';
import type { Reference } from '../../../core/src/documents/index.ts';

/*
 * What documents name by id stands in rows of its own, so that who asks which lists use a catalogue, or whether anything
 * shows a revision, asks an index and not the texts of all documents. They are written in the transaction of the document.
 */

type Named = Reference & { readonly document: string };
const nameOf = ({ document, what, id }: Named): string => `${document} ${what} ${id}`;

/** Keeps what documents name as they read now. */
export async function keepReferences(
  manager: Pick<EntityManager, 'query'>,
  documents: readonly { readonly id: string; readonly names: readonly Reference[] }[],
): Promise<void> {
  if (documents.length === 0) return;
  const kept = (await manager.query('SELECT document, what, target AS id FROM reference WHERE document IN (?)', [
    documents.map(({ id }) => id),
  ])) as Named[];
  const wanted = documents.flatMap(({ id: document, names }) => names.map((name): Named => ({ document, ...name })));
  const known = new Set(kept.map(nameOf));
  const named = new Set(wanted.map(nameOf));
  const gone = kept.filter((one) => !named.has(nameOf(one)));
  const come = wanted.filter((one) => !known.has(nameOf(one)));
  for (const { document, what, id } of gone)
    await manager.query('DELETE FROM reference WHERE document = ? AND what = ? AND target = ?', [document, what, id]);
  if (come.length > 0)
    await manager.query('INSERT INTO reference (document, what, target) VALUES ?', [
      come.map(({ document, what, id }) => [document, what, id]),
    ]);
}

/** Ids of the catalogues that documents of a project take values from. */
export async function cataloguesNamed(database: Pick<DataSource, 'query'>, project: string): Promise<string[]> {
  const rows = (await database.query(
    "SELECT DISTINCT r.target FROM reference r JOIN document d ON d.id = r.document WHERE d.project = ? AND r.what = 'catalogue' ORDER BY r.target",
    [project],
  )) as { target: string }[];
  return rows.map(({ target }) => target);
}
