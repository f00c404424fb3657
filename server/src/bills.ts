import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import type * as v from 'valibot';
import { parseDocument, parseRecipeFile, type api } from '../../contract/src/index.ts';
import { measuredNames } from '../../core/src/assembly/index.ts';
import { firstNumbers, makeBill, numbersToKeep } from '../../core/src/bill/index.ts';
import { billDecisions, editedFor, newBill, openRecipe, type BillDocument } from '../../core/src/documents/index.ts';
import type { BlobStore } from './blobs.ts';
import type { DocumentRow } from './entities.ts';
import { applyGesture } from './edits.ts';
import { NotFound } from './errors.ts';
import { loadInputs } from './projects.ts';
import { usualStyle, withStyle } from './styles.ts';

/**
 * Adds a bill: a copy of another one with all of its decisions, what a recipe file asks for, or a blank one. It is
 * stored as one that is away and then brought by a gesture of the session, which can be taken back like any other.
 */
export async function addBill(
  database: DataSource,
  blobs: BlobStore,
  project: string,
  { name, from, recipe, gesture, session }: v.InferOutput<typeof api.newBillSchema>,
): Promise<v.InferOutput<typeof api.madeDocumentSchema>> {
  // A repeated request (the answer got lost on the way) is answered, not carried out again.
  const [done] = (await database.query('SELECT document FROM edit WHERE project = ? AND gesture = ? LIMIT 1', [
    project,
    gesture,
  ])) as { document: string }[];
  if (done) return { document: done.document, missing: [] };
  const id = randomUUID();
  const { bill, missing } =
    from !== undefined
      ? { bill: await readBill(database, project, from), missing: [] }
      : await madeBill(database, blobs, project, recipe);
  const content: BillDocument = { ...bill, name, away: true };
  await database.query(
    "INSERT INTO document (id, project, kind, version, content, position) SELECT ?, ?, 'bill', 1, ?, MAX(position) + 1 FROM document WHERE project = ?",
    [id, project, JSON.stringify(content), project],
  );
  try {
    await applyGesture(database, project, {
      gesture,
      session,
      label: `make the bill ${name}`.slice(0, 200),
      steps: [{ document: id, version: 1, command: { kind: 'setAway', away: false } }],
    });
  } catch (error) {
    await database.query('DELETE FROM document WHERE id = ?', [id]); // nothing is left half-made
    throw error;
  }
  return { document: id, missing };
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
