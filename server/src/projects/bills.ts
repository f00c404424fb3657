import type { DataSource } from 'typeorm';
import type * as v from 'valibot';
import type { api, StoredText } from '../../../contract/src/index.ts';
import { NotFound } from '../errors.ts';
import { bringDocument } from '../log/gestureLog.ts';
import type { Services } from '../http/http.ts';
import { askedOf } from './projects.ts';
import type { Read } from '../desk/readings.ts';
import { usualStyle } from './styles.ts';

/**
 * Adds a bill: a copy of another one with all of its decisions, what a recipe file asks for, or a blank one.
 */
export async function addBill(
  { database, blobs, desk }: Pick<Services, 'database' | 'blobs' | 'desk'>,
  project: string,
  { name, from, recipe, gesture, session }: Read<'newBill'>,
  signal: AbortSignal,
): Promise<v.InferOutput<typeof api.madeDocumentSchema>> {
  // What a recipe file says of components belongs to the whole project and is not taken over.
  const { content, missing } = await desk.question(
    await askedOf(database, project),
    {
      what: 'newBill',
      name,
      from: from === undefined ? null : await storedBill(database, project, from),
      recipe,
      style: await usualStyle(database),
      revision: await ownRevision(database, project),
    },
    blobs,
    signal,
  );
  const label = `make the bill ${name}`.slice(0, 200);
  const document = await bringDocument({ database, desk }, project, 'bill', content, { gesture, session, label });
  return { document, missing: [...missing] };
}

/** The revision that the set names; null for the first. */
async function ownRevision(database: DataSource, project: string): Promise<string | null> {
  const [set] = (await database.query(
    "SELECT r.target AS revision FROM document d JOIN reference r ON r.document = d.id AND r.what = 'revision' WHERE d.project = ? AND d.kind = 'set' LIMIT 1",
    [project],
  )) as { revision: string }[];
  return set?.revision ?? null;
}

async function storedBill(database: DataSource, project: string, id: string): Promise<StoredText> {
  const [stored] = (await database.query(
    "SELECT id, kind, version, content FROM document WHERE project = ? AND id = ? AND kind = 'bill'",
    [project, id],
  )) as StoredText[];
  if (!stored) throw new NotFound('That bill is no longer in the project.');
  return stored;
}
