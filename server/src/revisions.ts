import type { DataSource } from 'typeorm';
import * as v from 'valibot';
import { api } from '../../contract/src/index.ts';
import { Refusal } from '../../core/src/assembly/index.ts';
import type { RevisionRow } from './entities.ts';

/** Revisions of a project, oldest first. */
export const revisionsOf = (database: Pick<DataSource, 'query'>, project: string): Promise<RevisionRow[]> =>
  database.query('SELECT * FROM revision WHERE project = ? ORDER BY created, id', [project]);

const NO_MATCHES: api.Matches = { version: 1, answers: [], keys: {}, unsure: [] };
/** How a revision was recognised; of the first there is nothing to say. */
export const matchesOf = ({ matches }: Pick<RevisionRow, 'matches'>): api.Matches =>
  matches === null ? NO_MATCHES : v.parse(api.matchesSchema, JSON.parse(matches));

/** Parts that are recognised with less than certainty, about which nobody has said anything yet. */
export function unsureIn(row: Pick<RevisionRow, 'matches'>): api.Matches['unsure'] {
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
