import type { DataSource, EntityManager } from 'typeorm';
import { lastReadable, parseDocument, type StoredText } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import type { Desk } from '../desk/desk.ts';
import { namesIn } from '../../../core/src/documents/index.ts';
import { execute, withRetry } from '../store/database.ts';
import { keepReferences } from '../store/references.ts';
import type { EditRow } from '../store/entities.ts';
import { ISOLATION, lock, type GestureTools } from './gestureLog.ts';

/** So many edits are taken back at most to find a state that can be read. */
const MOST_TAKEN_BACK = 200;

/** A document with what it was last when it could be read in place of what cannot be. @throws Refusal where it never was */
async function readableAgain(manager: EntityManager, stored: StoredText): Promise<StoredText> {
  const edits = (await manager.query(
    'SELECT form, inverse, label FROM edit WHERE document = ? ORDER BY fromVersion DESC LIMIT ?',
    [stored.id, MOST_TAKEN_BACK],
  )) as Pick<EditRow, 'form' | 'inverse' | 'label'>[];
  const found = lastReadable(stored, edits);
  if (found) return { ...stored, ...found };
  throw new Refusal(
    'unreadable',
    `The ${stored.kind} of this project that is stored cannot be read, nor any state before it. Bring back a copy of the data folder; nothing was changed.`,
  );
}

/** A document in the form of today, or where it cannot be read what it was last when it could be. @throws Refusal */
export async function presentOrAgain(
  database: DataSource,
  desk: Pick<Desk, 'current'>,
  stored: StoredText,
): Promise<StoredText> {
  try {
    return (await desk.current([stored]))[0];
  } catch (error) {
    if (!(error instanceof Refusal) || error.code !== 'unreadable') throw error;
    return readableAgain(database.manager, stored);
  }
}

/** Takes a document that cannot be read back to what it was last when it could be. @throws Refusal */
export function takeBack({ database, desk }: GestureTools, project: string, document: string): Promise<StoredText> {
  return withRetry(() =>
    database.transaction(ISOLATION, async (manager) => {
      const [stored] = await lock(manager, project, [{ document, command: '', version: null }]);
      if (!stored) throw new Refusal('not-there', 'The document is no longer in this project.');
      try {
        return (await desk.current([stored]))[0]; // somebody did it already
      } catch {
        const { content } = await readableAgain(manager, stored);
        const version = stored.version + 1;
        await execute(manager, 'UPDATE document SET content = ?, version = ? WHERE id = ?', [
          content,
          version,
          document,
        ]);
        const read = parseDocument(stored.kind, JSON.parse(content));
        await keepReferences(manager, [{ id: document, names: namesIn(stored.kind, read) }]);
        return { ...stored, content, version };
      }
    }),
  );
}
