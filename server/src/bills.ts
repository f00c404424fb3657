import type { DataSource } from 'typeorm';
import type * as v from 'valibot';
import { parseDocument, type api } from '../../contract/src/index.ts';
import type { BillDocument } from '../../core/src/documents/index.ts';
import type { DocumentRow } from './entities.ts';
import { NotFound } from './errors.ts';
import { bringDocument } from './gestureLog.ts';
import type { Services } from './http.ts';
import { askedOf } from './projects.ts';
import { usualStyle } from './styles.ts';

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
      : // What a recipe file says of components belongs to the whole project and is not taken over.
        await desk.question(
          await askedOf(database, project),
          { what: 'newBill', recipe, style: await usualStyle(database) },
          blobs,
        );
  const label = `make the bill ${name}`.slice(0, 200);
  const document = await bringDocument(
    { database, desk },
    project,
    'bill',
    { ...bill, name },
    { gesture, session, label },
  );
  return { document, missing: [...missing] };
}

async function readBill(database: DataSource, project: string, id: string): Promise<BillDocument> {
  const [row] = (await database.query("SELECT * FROM document WHERE project = ? AND id = ? AND kind = 'bill'", [
    project,
    id,
  ])) as DocumentRow[];
  if (!row) throw new NotFound('That bill is no longer in the project.');
  return parseDocument('bill', JSON.parse(row.content)) as BillDocument;
}
