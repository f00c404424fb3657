import { randomUUID } from 'node:crypto';
import type { DataSource, EntityManager } from 'typeorm';
import { parseStoredCommand, type History, type StoredText } from '../../contract/src/index.ts';
import { Refusal } from '../../core/src/assembly/index.ts';
import { COMMAND_VERSION, type DocumentKind, type ProjectDocument } from '../../core/src/documents/index.ts';
import { EditConflict } from './errors.ts';
import { withRetry } from './database.ts';
import { isLarge, type Desk, type OpenGesture } from './desk.ts';
import type { EditRow } from './entities.ts';

/** What gestures are carried out with. */
export interface GestureTools {
  readonly database: DataSource;
  readonly desk: Desk;
}
interface Step {
  readonly document: string;
  /** JSON of the command. */
  readonly command: string;
  /** Version that the command was made for; null to take the document as it stands. */
  readonly version: number | null;
}
/** After a gesture: documents that changed, whole and as they are stored, and the history of the session. */
export interface Kept {
  readonly documents: readonly StoredText[];
  readonly history: History;
}

/**
 * Carries out a gesture: every step or none, in one transaction; each becomes an edit with its inverse. A gesture that was
 * made for an earlier version is carried out on what is there now, unless the same thing was changed since.
 * @throws EditConflict where it was, Refusal where a command cannot be carried out
 */
export const applyGesture = (tools: GestureTools, project: string, gesture: OpenGesture): Promise<Kept> =>
  withRetry(() =>
    tools.database.transaction((manager) => applyGestureIn(manager, tools.desk, project, gesture, gesture.steps)),
  );

/** The same within a transaction that does more. */
async function applyGestureIn(
  manager: EntityManager,
  desk: Desk,
  project: string,
  { gesture, session, label }: Omit<OpenGesture, 'steps'>,
  steps: readonly Step[],
): Promise<Kept> {
  const documents = await lock(manager, project, steps);
  // A repeated request (the answer got lost on the way) is answered, not carried out again.
  if (await isDone(manager, project, gesture))
    return { documents: await desk.current(documents), history: await historyOf(manager, project, session) };
  const kept = await carryOut(manager, desk, project, documents, steps, {
    gesture,
    session,
    label,
    mode: 'do',
    undoes: null,
  });
  await push(manager, project, session, 'undo', gesture, label);
  const { redo } = await historyOf(manager, project, session);
  if (redo !== null)
    await manager.query("DELETE FROM history WHERE project = ? AND session = ? AND stack = 'redo'", [project, session]);
  return { documents: kept, history: { undo: label, redo: null } };
}

/** The documents of the steps, nobody else's until the transaction ends; in one order for all: no two wait crosswise. */
async function lock(manager: EntityManager, project: string, steps: readonly Step[]): Promise<StoredText[]> {
  const ids = [...new Set(steps.map(({ document }) => document))].sort();
  const rows = (await manager.query(
    'SELECT id, kind, version, content FROM document WHERE project = ? AND id IN (?) ORDER BY id FOR UPDATE',
    [project, ids],
  )) as StoredText[];
  if (rows.length < ids.length) throw new Refusal('edit-refused', 'The document is no longer in this project.');
  return rows;
}

const isDone = async (manager: EntityManager, project: string, gesture: string): Promise<boolean> =>
  (
    (await manager.query('SELECT id FROM edit WHERE project = ? AND gesture = ? LIMIT 1', [
      project,
      gesture,
    ])) as unknown[]
  ).length > 0;

/**
 * Adds a document and brings it by a gesture of the session, which can be taken back like any other: taken back, it is
 * away. All of it or nothing.
 * @param content as it reads when it has come
 * @param more steps of the same gesture, given the new document's id
 * @returns the document's id; that of the first time where the request is a repeated one
 */
export function bringDocument(
  { database, desk }: GestureTools,
  project: string,
  kind: 'bill' | 'sheet',
  content: ProjectDocument,
  gesture: Omit<OpenGesture, 'steps'>,
  more: (id: string) => readonly Step[] = () => [],
): Promise<string> {
  return withRetry(() =>
    database.transaction(async (manager) => {
      // One after the other within a project: a request that is sent twice at once makes one document.
      await manager.query('SELECT id FROM project WHERE id = ? FOR UPDATE', [project]);
      const [done] = (await manager.query('SELECT document FROM edit WHERE project = ? AND gesture = ? LIMIT 1', [
        project,
        gesture.gesture,
      ])) as { document: string }[];
      if (done) return done.document;
      const id = randomUUID();
      await manager.query(
        'INSERT INTO document (id, project, kind, version, content, position, away) SELECT ?, ?, ?, 1, ?, MAX(position) + 1, 1 FROM document WHERE project = ?',
        [id, project, kind, JSON.stringify({ ...content, away: true }), project],
      );
      const comes: Step = { document: id, version: null, command: JSON.stringify({ kind: 'setAway', away: false }) };
      await applyGestureIn(manager, desk, project, gesture, [comes, ...more(id)]);
      return id;
    }),
  );
}

/** @returns the documents as they read after the steps */
async function carryOut(
  manager: EntityManager,
  desk: Desk,
  project: string,
  documents: readonly StoredText[],
  steps: readonly Step[],
  meta: Pick<EditRow, 'gesture' | 'session' | 'label' | 'mode' | 'undoes'>,
): Promise<StoredText[]> {
  const carried = await desk.carry({
    documents,
    steps: steps.map(({ document, command }) => ({ document, command })),
    meanwhile: await madeSince(manager, documents, steps),
  });
  if (carried.clash || isAhead(documents, steps))
    throw new EditConflict(await staleAnswer(manager, desk, documents, steps));
  for (const { document, command } of carried.edits)
    if (goesAway(command) && (await isDrawingsList(manager, project, document)))
      throw new Refusal(
        'edit-refused',
        'The first bill is the drawing’s list: sheets and balloons show its numbers, so it stays.',
      );
  const now = new Date();
  await manager.query(
    'INSERT INTO edit (project, gesture, session, document, fromVersion, label, command, inverse, form, mode, undoes, made) VALUES ?',
    [
      carried.edits.map(({ document, fromVersion, command, inverse }) => [
        project,
        meta.gesture,
        meta.session,
        document,
        fromVersion,
        meta.label,
        command,
        inverse,
        COMMAND_VERSION,
        meta.mode,
        meta.undoes,
        now,
      ]),
    ],
  );
  for (const { id, content, version, away } of carried.documents)
    await manager.query('UPDATE document SET content = ?, version = ?, away = ? WHERE id = ?', [
      content,
      version,
      away,
      id,
    ]);
  await manager.query('UPDATE project SET changed = ? WHERE id = ?', [now, project]);
  return carried.documents.map(({ id, kind, version, content }) => ({ id, kind, version, content }));
}

/** Made for a version that is not there: the database is an older copy of the one that the page knew. */
const isAhead = (documents: readonly StoredText[], steps: readonly Step[]): boolean =>
  steps.some(({ document, version }) => documents.some((one) => one.id === document && (version ?? 0) > one.version));

const goesAway = (command: string): boolean =>
  !isLarge(command) && (JSON.parse(command) as { kind: string; away?: boolean }).away === true;

const isDrawingsList = async (manager: EntityManager, project: string, document: string): Promise<boolean> =>
  (
    (await manager.query("SELECT id FROM document WHERE project = ? AND kind = 'bill' ORDER BY position, id LIMIT 1", [
      project,
    ])) as { id: string }[]
  )[0]?.id === document;

type KnownEdit = Pick<EditRow, 'document' | 'session' | 'label' | 'command' | 'inverse' | 'form'> & {
  readonly kind: DocumentKind;
};

/** Edits since the versions that steps were made for; empty for steps that are up to date. */
async function madeSince(
  manager: EntityManager,
  documents: readonly StoredText[],
  steps: readonly Step[],
): Promise<KnownEdit[]> {
  const all: KnownEdit[] = [];
  for (const { id, kind, version } of documents) {
    const wanted = steps.flatMap((step) => (step.document === id && step.version !== null ? [step.version] : []));
    const from = Math.min(version, ...wanted);
    if (from === version) continue;
    const edits = (await manager.query(
      'SELECT document, session, label, command, inverse, form FROM edit WHERE document = ? AND fromVersion >= ? ORDER BY fromVersion',
      [id, from],
    )) as Omit<KnownEdit, 'kind'>[];
    all.push(...edits.map((edit) => ({ ...edit, kind })));
  }
  return all;
}

/** JSON of the answer to a gesture that came too late: what happened meanwhile, and the documents as they read now. */
async function staleAnswer(
  manager: EntityManager,
  desk: Desk,
  documents: readonly StoredText[],
  steps: readonly Step[],
): Promise<string> {
  const since = (await madeSince(manager, documents, steps)).map((edit) => {
    const { document, session, label } = edit;
    return `{"document":${JSON.stringify(document)},"session":${JSON.stringify(session)},"label":${JSON.stringify(label)},"command":${presentForm(edit)}}`;
  });
  const now = (await desk.current(documents)).map(documentJson);
  return `{"error":"Somebody else changed this meanwhile.","since":[${since.join()}],"documents":[${now.join()}]}`;
}

/** JSON of a stored command as it is written today. */
const presentForm = ({ kind, form, command }: KnownEdit): string =>
  form === COMMAND_VERSION ? command : JSON.stringify(parseStoredCommand(kind, form, JSON.parse(command)));

/** JSON of a document whose content is JSON already. */
export const documentJson = ({ id, kind, version, content }: StoredText): string =>
  `{"id":${JSON.stringify(id)},"kind":${JSON.stringify(kind)},"version":${version},"content":${content}}`;

/** JSON of what a gesture came to. */
export const keptJson = ({ documents, history }: Kept): string =>
  `{"documents":[${documents.map(documentJson).join()}],"history":${JSON.stringify(history)}}`;

type Stack = 'undo' | 'redo';
interface StackRow {
  readonly id: number;
  readonly gesture: string;
  readonly label: string;
}

/** What a stack gives up next. */
async function top(
  manager: EntityManager,
  project: string,
  session: string,
  stack: Stack,
  { forUpdate = false } = {},
): Promise<StackRow | null> {
  const [row] = (await manager.query(
    `SELECT id, gesture, label FROM history WHERE project = ? AND session = ? AND stack = ? ORDER BY id DESC LIMIT 1${forUpdate ? ' FOR UPDATE' : ''}`,
    [project, session, stack],
  )) as StackRow[];
  return row ?? null;
}

const push = (
  manager: EntityManager,
  project: string,
  session: string,
  stack: Stack,
  gesture: string,
  label: string,
): Promise<unknown> =>
  manager.query('INSERT INTO history (project, session, stack, gesture, label) VALUES (?, ?, ?, ?, ?)', [
    project,
    session,
    stack,
    gesture,
    label,
  ]);

/** What this session can take back or do again, in words. */
export async function historyOf(manager: EntityManager, project: string, session: string): Promise<History> {
  if (session === '') return { undo: null, redo: null };
  const undo = await top(manager, project, session, 'undo');
  const redo = await top(manager, project, session, 'redo');
  return { undo: undo?.label ?? null, redo: redo?.label ?? null };
}

/**
 * Takes back this session's last gesture (or does its last undone one again) as a new gesture.
 * @throws Refusal where there is none, or where what it touched was changed by somebody else since
 */
export function stepBack(
  { database, desk }: GestureTools,
  project: string,
  session: string,
  mode: 'undo' | 'redo',
  gesture: string,
): Promise<Kept> {
  return withRetry(() =>
    database.transaction(async (manager) => {
      const [done] = await editsOf(manager, project, gesture);
      const target = done ? null : await top(manager, project, session, mode, { forUpdate: true });
      if (!done && !target)
        throw new Refusal(
          'edit-refused',
          mode === 'undo'
            ? 'There is nothing to take back in this window.'
            : 'There is nothing to do again in this window.',
        );
      const edits = await editsOf(manager, project, target?.gesture ?? gesture);
      const steps = edits.map((edit): Step => ({
        document: edit.document,
        version: null,
        command:
          edit.form === COMMAND_VERSION
            ? edit.inverse
            : JSON.stringify(parseStoredCommand(edit.kind, edit.form, JSON.parse(edit.inverse))),
      }));
      const documents = await lock(manager, project, steps);
      if (!target || (await isDone(manager, project, gesture)))
        return { documents: await desk.current(documents), history: await historyOf(manager, project, session) };
      const later = (await manager.query(
        'SELECT e.document, e.session, e.label, e.command, e.inverse, e.form, d.kind FROM edit e JOIN document d ON d.id = e.document WHERE e.project = ? AND e.id > ? AND e.session <> ? ORDER BY e.id',
        [project, edits[0].id, session],
      )) as KnownEdit[];
      const clash = await desk.clash(edits, later);
      if (clash !== null)
        throw new Refusal(
          'edit-refused',
          `“${target.label}” cannot be taken back: “${later[clash].label}” changed the same thing since, in another window.`,
        );
      const kept = await carryOut(manager, desk, project, documents, steps, {
        gesture,
        session,
        label: target.label,
        mode,
        undoes: target.gesture,
      });
      await manager.query('DELETE FROM history WHERE id = ?', [target.id]);
      await push(manager, project, session, mode === 'undo' ? 'redo' : 'undo', gesture, target.label);
      return { documents: kept, history: await historyOf(manager, project, session) };
    }),
  );
}

/** Edits of a gesture, last first. */
const editsOf = (
  manager: EntityManager,
  project: string,
  gesture: string,
): Promise<(KnownEdit & { readonly id: number })[]> =>
  manager.query(
    'SELECT e.id, e.document, e.session, e.label, e.command, e.inverse, e.form, d.kind FROM edit e JOIN document d ON d.id = e.document WHERE e.project = ? AND e.gesture = ? ORDER BY e.id DESC',
    [project, gesture],
  );
