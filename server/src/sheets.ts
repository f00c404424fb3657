import type * as v from 'valibot';
import type { api } from '../../contract/src/index.ts';
import type { SheetSet } from '../../core/src/sheets/index.ts';
import { blankSheet, sheetsInOrder, usualPaper, type Sheet } from '../../core/src/sheets/index.ts';
import { DocumentEntity } from './entities.ts';
import { bringDocument, type GestureTools } from './gestureLog.ts';
import { NotFound } from './errors.ts';
import { readDocument } from './projects.ts';

/** Adds a sheet behind another one: a copy of it, or a blank one on the same paper. */
export async function addSheet(
  { database, desk }: GestureTools,
  project: string,
  { name, from, behind, gesture, session }: v.InferOutput<typeof api.newSheetSchema>,
): Promise<v.InferOutput<typeof api.madeSheetSchema>> {
  const rows = await database
    .getRepository(DocumentEntity)
    .find({ where: { project }, order: { position: 'ASC', id: 'ASC' } });
  const all = rows.filter(({ kind }) => kind === 'sheet' || kind === 'set').map(readDocument);
  const set = all.find(({ kind }) => kind === 'set');
  if (!set) throw new NotFound('There is no such project; it may have been deleted.');
  const sheets = sheetsInOrder(
    set.content as SheetSet,
    all.filter(({ kind }) => kind === 'sheet') as unknown as { id: string; content: Sheet }[],
  );
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
    JSON.stringify(content ? { ...content, name } : blankSheet(name, paper)),
    { gesture, session, label },
    (id) => [
      {
        document: set.id,
        version: null,
        command: JSON.stringify({
          kind: 'orderSheets',
          order: sheets.map((sheet) => sheet.id).toSpliced(before + 1, 0, id),
        }),
      },
    ],
  );
  return { document };
}
