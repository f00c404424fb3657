import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { parseDocument } from '../../contract/src/index.ts';
import { makeBill, numbersToKeep } from '../../core/src/bill/index.ts';
import { billDecisions, editedFor, newBill, type BillDocument } from '../../core/src/documents/index.ts';
import type { BlobStore } from './blobs.ts';
import type { DocumentRow } from './entities.ts';
import { EditRefused } from './edits.ts';
import { loadInputs, NotFound } from './projects.ts';
import { usualStyle, withStyle } from './styles.ts';

const billsOf = async (database: Pick<DataSource, 'query'>, project: string): Promise<DocumentRow[]> => (await database.query("SELECT * FROM document WHERE project = ? AND kind = 'bill' ORDER BY position, id", [project])) as DocumentRow[];

/** Adds a bill: a copy of another one with all of its decisions, or a blank one whose numbers are issued. Its id. */
export async function addBill(database: DataSource, blobs: BlobStore, project: string, name: string, from: string | null): Promise<string> {
  const id = randomUUID();
  const content = from === null ? await blankBill(database, blobs, project, name) : { ...(await readBill(database, project, from)), name };
  await database.query("INSERT INTO document (id, project, kind, version, content, position) SELECT ?, ?, 'bill', 1, ?, MAX(position) + 1 FROM document WHERE project = ?", [id, project, JSON.stringify(content), project]);
  return id;
}

async function readBill(database: DataSource, project: string, id: string): Promise<BillDocument> {
  const row = (await billsOf(database, project)).find((one) => one.id === id);
  if (!row) throw new NotFound('That bill is no longer in the project.');
  return parseDocument('bill', JSON.parse(row.content)) as BillDocument;
}

async function blankBill(database: DataSource, blobs: BlobStore, project: string, name: string): Promise<BillDocument> {
  const { assembly, treatments } = editedFor(await loadInputs(database, blobs, project), null);
  const bill = withStyle(newBill(assembly, name), await usualStyle(database));
  return { ...bill, ledger: numbersToKeep(makeBill(assembly, bill.recipe, billDecisions(bill, treatments))) };
}

/** Takes a bill away with its history. @throws EditRefused for the last one: sheets and balloons need it */
export async function removeBill(database: DataSource, project: string, id: string): Promise<void> {
  await database.transaction(async (manager) => {
    const bills = await billsOf(manager as unknown as DataSource, project);
    if (!bills.some((bill) => bill.id === id)) throw new NotFound('That bill is no longer in the project.');
    if (bills[0].id === id) throw new EditRefused('The first bill is the drawing’s list: sheets and balloons show its numbers, so it stays.');
    await manager.query('DELETE FROM edit WHERE document = ?', [id]);
    await manager.query('DELETE FROM document WHERE id = ?', [id]);
  });
}
