import type * as v from 'valibot';
import type { api, StoredText } from '../../../contract/src/index.ts';
import { groupBy } from '../../../core/src/assembly/index.ts';
import { billShownBy } from '../../../core/src/documents/index.ts';
import { blankSheet, usualPaper } from '../../../core/src/sheets/index.ts';
import type { BlobStore } from '../store/blobs.ts';
import { bringDocument, type GestureTools } from '../log/gestureLog.ts';
import { NotFound } from '../errors.ts';
import { openDocuments } from '../opened/openedDocuments.ts';
import { askedOf, storedDocuments } from './projects.ts';
import { revisionsOf } from '../store/revisions.ts';

/** Adds a sheet behind another one: a copy of it, or a blank one on the same paper. */
export async function addSheet(
  { database, desk }: GestureTools,
  project: string,
  { name, from, behind, gesture, session }: v.InferOutput<typeof api.newSheetSchema>,
): Promise<v.InferOutput<typeof api.madeSheetSchema>> {
  const stored = (await storedDocuments(database, project)).filter(({ kind }) => kind === 'sheet' || kind === 'set');
  const set = stored.find(({ kind }) => kind === 'set');
  if (!set) throw new NotFound('There is no such project; it may have been deleted.');
  const { sheets, set: shared } = openDocuments(stored);
  const find = (id: string) => {
    const at = sheets.findIndex((sheet) => sheet.id === id);
    if (at < 0) throw new NotFound('That sheet is no longer in the project.');
    return at;
  };
  const content = from === undefined ? null : sheets[find(from)].content;
  const before = behind === undefined ? sheets.length - 1 : find(behind);
  const paper = content?.paper ?? sheets[before]?.content.paper ?? usualPaper('A3');
  const label = `make the sheet ${name}`.slice(0, 200);
  const document = await bringDocument(
    { database, desk },
    project,
    'sheet',
    // It shows what the one shows that it is a copy of, else what is the project's.
    JSON.stringify(
      content
        ? { ...content, name }
        : { ...blankSheet(name, paper), ...(shared.content.revision ? { revision: shared.content.revision } : {}) },
    ),
    { gesture, session, label },
    {
      more: (id) => [
        {
          document: set.id,
          version: null,
          command: JSON.stringify({
            kind: 'orderSheets',
            order: sheets.map((sheet) => sheet.id).toSpliced(before + 1, 0, id),
          }),
        },
      ],
    },
  );
  return { document };
}

/**
 * Orders of what the views of a sheet, or of all sheets, look at, by the revision that they show. Of the bills only their
 * variants are read: they may be large.
 * @param id null for all sheets
 * @throws NotFound
 */
export async function looksOnSheets(
  { database, desk, blobs }: GestureTools & { readonly blobs: BlobStore },
  project: string,
  id: string | null,
): Promise<readonly RevisionLooks[]> {
  const stored = (await database.query(
    `SELECT id, kind, version, content, JSON_VALUE(content, '$.bill') AS bill, JSON_VALUE(content, '$.revision') AS revision FROM document WHERE project = ? AND ((kind = 'sheet' AND away = 0${id === null ? '' : ' AND id = ?'}) OR kind = 'set')`,
    id === null ? [project] : [project, id],
  )) as (StoredText & { bill: string | null; revision: string | null })[];
  const sheets = stored.filter(({ kind }) => kind === 'sheet');
  if (sheets.length === 0)
    throw new NotFound(id === null ? 'This project has no sheet.' : 'That sheet is no longer in the project.');
  const bills = (await database.query(
    "SELECT id, JSON_VALUE(content, '$.recipe.variant') AS variant FROM document WHERE project = ? AND kind = 'bill' AND away = 0 ORDER BY position, id",
    [project],
  )) as { id: string; variant: string | null }[];
  const set = stored.find(({ kind }) => kind === 'set') ?? null;
  const [first] = await revisionsOf(database, project);
  const looks = await Promise.all(
    sheets.map(async (sheet) => {
      const { variant } = billShownBy(bills, sheet.bill === null ? {} : { bill: sheet.bill });
      const revision = sheet.revision ?? first.id;
      const asked = await askedOf(database, project, revision);
      return { revision, looks: await desk.question(asked, { what: 'sheetLooks', sheet, set, variant }, blobs) };
    }),
  );
  return [...groupBy(looks, ({ revision }) => revision)].map(([revision, of]) => ({
    revision,
    looks: of.flatMap((one) => one.looks),
  }));
}

/** What sheets look at in one revision. */
interface RevisionLooks {
  readonly revision: string;
  /** See LookOrder, each as JSON. */
  readonly looks: readonly string[];
}
