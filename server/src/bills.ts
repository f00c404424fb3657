import type { DataSource } from 'typeorm';
import type * as v from 'valibot';
import { parseDocument, parseRecipeFile, type api } from '../../contract/src/index.ts';
import { measuredNames } from '../../core/src/assembly/index.ts';
import { firstNumbers, makeBill, numbersToKeep } from '../../core/src/bill/index.ts';
import { billDecisions, editedFor, newBill, openRecipe, type BillDocument } from '../../core/src/documents/index.ts';
import type { BlobStore } from './blobs.ts';
import type { DocumentRow } from './entities.ts';
import { bringDocument } from './gestureLog.ts';
import { NotFound } from './errors.ts';
import type { Services } from './http.ts';
import { loadInputs } from './projects.ts';
import { usualStyle, withStyle } from './styles.ts';

/**
 * Adds a bill: a copy of another one with all of its decisions, what a recipe file asks for, or a blank one.
 */
export async function addBill(
  { database, blobs, desk }: Pick<Services, 'database' | 'blobs' | 'desk'>,
  project: string,
  { name, from, recipe, gesture, session }: v.InferOutput<typeof api.newBillSchema>,
): Promise<v.InferOutput<typeof api.madeDocumentSchema>> {
  const { bill, missing } =
    from !== undefined
      ? { bill: await readBill(database, project, from), missing: [] }
      : await madeBill(database, blobs, project, recipe);
  const label = `make the bill ${name}`.slice(0, 200);
  const document = await bringDocument(
    { database, desk },
    project,
    'bill',
    { ...bill, name },
    { gesture, session, label },
  );
  return { document, missing };
}

async function readBill(database: DataSource, project: string, id: string): Promise<BillDocument> {
  const [row] = (await database.query("SELECT * FROM document WHERE project = ? AND id = ? AND kind = 'bill'", [
    project,
    id,
  ])) as DocumentRow[];
  if (!row) throw new NotFound('That bill is no longer in the project.');
  return parseDocument('bill', JSON.parse(row.content)) as BillDocument;
}

/**
 * A bill whose numbers are issued. What a recipe file says of components belongs to the whole project and is not
 * taken over.
 */
async function madeBill(
  database: DataSource,
  blobs: BlobStore,
  project: string,
  recipe: unknown,
): Promise<{ bill: BillDocument; missing: string[] }> {
  const { assembly, treatments } = editedFor(await loadInputs(database, blobs, project), null);
  const opened = recipe === undefined ? null : openRecipe(parseRecipeFile(recipe), assembly, measuredNames);
  const bill = opened?.bill ?? withStyle(newBill(assembly, ''), await usualStyle(database));
  const made = makeBill(assembly, bill.recipe, billDecisions(bill, treatments), { columns: bill.columns });
  // Numbers that a recipe has issued are kept; pins alone leave the others to be given out as the list reads.
  const issued = Object.values(bill.ledger).some(({ pinned }) => !pinned);
  return {
    bill: { ...bill, ledger: { ...bill.ledger, ...(issued ? numbersToKeep(made) : firstNumbers(made, bill.ledger)) } },
    missing: (opened?.findings ?? []).map(({ message }) => message),
  };
}
