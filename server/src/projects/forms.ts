import { createHash } from 'node:crypto';
import type { DataSource } from 'typeorm';
import * as v from 'valibot';
import { forms, type Form } from '../../../contract/src/index.ts';
import type { FormMap } from '../../../core/src/forms/index.ts';
import type { BlobStore } from '../store/blobs.ts';
import { NotFound } from '../errors.ts';
import { remember } from '../store/remembered.ts';

const storedSchema = v.object({ ...forms.formSchema.entries, hash: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)) });
type StoredForm = v.InferOutput<typeof storedSchema>;

/** Names may be long; the row's id has room for little. */
const rowId = (name: string): string => `form ${createHash('sha256').update(name).digest('hex')}`;
/** Name of a workbook in the store. */
export const formKey = (hash: string): string => `form ${hash}`;

/** Workbooks that the company's lists are filled into, by their names; those that cannot be read are not among them. */
export async function listForms(database: DataSource): Promise<Form[]> {
  const rows = (await database.query("SELECT content FROM remembered WHERE id LIKE 'form %'")) as { content: string }[];
  return rows
    .flatMap(({ content }) => {
      const read = v.safeParse(storedSchema, JSON.parse(content));
      return read.success ? [withoutHash(read.output)] : [];
    })
    .sort((one, other) => (one.name < other.name ? -1 : 1));
}
const withoutHash = ({ name, fileName, map }: StoredForm): Form => ({ name, fileName, map });

/** @throws NotFound */
export async function findForm(database: DataSource, name: string): Promise<StoredForm> {
  const [row] = (await database.query('SELECT content FROM remembered WHERE id = ?', [rowId(name)])) as {
    content: string;
  }[];
  const read = v.safeParse(storedSchema, row ? JSON.parse(row.content) : null);
  if (!read.success) throw new NotFound(`There is no form “${name}”; it may have been taken away.`);
  return read.output;
}

/** Keeps a workbook under a name; how the one before of that name was filled stays, for a form that was mended. */
export async function keepForm(
  database: DataSource,
  blobs: BlobStore,
  { name, fileName, bytes, hash }: { name: string; fileName: string; bytes: Uint8Array; hash: string },
): Promise<void> {
  const before = await findForm(database, name).catch(() => null);
  await blobs.put(formKey(hash), bytes);
  await remember(database, rowId(name), { name, fileName, hash, map: before?.map ?? null });
  if (before && before.hash !== hash) await dropBytes(database, blobs, before.hash);
}
export async function mapForm(database: DataSource, name: string, map: FormMap): Promise<void> {
  await remember(database, rowId(name), { ...(await findForm(database, name)), map });
}
export async function dropForm(database: DataSource, blobs: BlobStore, name: string): Promise<void> {
  const { hash } = await findForm(database, name);
  await database.query('DELETE FROM remembered WHERE id = ?', [rowId(name)]);
  await dropBytes(database, blobs, hash);
}
/** Two forms may be the same workbook. */
async function dropBytes(database: DataSource, blobs: BlobStore, hash: string): Promise<void> {
  const rows = (await database.query("SELECT id FROM remembered WHERE id LIKE 'form %' AND content LIKE ?", [
    `%${hash}%`,
  ])) as unknown[];
  if (rows.length === 0) await blobs.remove(formKey(hash));
}
