import { randomUUID } from 'node:crypto';
import type { DataSource, EntityManager } from 'typeorm';
import { MOST_LABEL, parseStoredCommand, type StepText, type StoredText } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { COMMAND_VERSION, type DocumentKind } from '../../../core/src/documents/index.ts';
import { EditConflict, whyAway } from '../errors.ts';
import { execute, withRetry } from '../store/database.ts';
import { keepReferences } from '../store/references.ts';
import type { Desk } from '../desk/desk.ts';
import type { OpenGesture } from '../desk/readings.ts';
import { documentJson, type Kept } from './documentJson.ts';
import type { EditRow } from '../store/entities.ts';
import { clearRedo, historyOf, push } from './history.ts';

/**
 * Every statement sees what is committed by then: what is read behind a lock is what those left who held it before. (In
 * the usual isolation a look before the lock would fix what all later ones see.)
 */
export const ISOLATION = 'READ COMMITTED';

/** What gestures are carried out with. */
export interface GestureTools {
  readonly database: DataSource;
  readonly desk: Desk;
}
/**
 * Carries out a gesture: every step or none, in one transaction; each becomes an edit with its inverse. A gesture that was
 * made for an earlier version is carried out on what is there now, unless the same thing was changed since. Gestures that
 * come to a project while others are on their way are kept together with the next.
 * @throws EditConflict where it was, Refusal where a command cannot be carried out
 */
export function applyGesture(tools: GestureTools, project: string, gesture: OpenGesture): Promise<Kept> {
  return new Promise((resolve, reject) => {
    const waiting = { gesture, resolve, reject };
    let lines = linesOf.get(tools.database);
    if (!lines) linesOf.set(tools.database, (lines = new Map()));
    const line = lines.get(project);
    if (line) return void line.push(waiting);
    lines.set(project, [waiting]);
    void keepInTurn(tools, project, lines);
  });
}

interface Waiting {
  readonly gesture: OpenGesture;
  readonly resolve: (kept: Kept) => void;
  readonly reject: (error: unknown) => void;
}
/** Gestures that wait, by project; of each server its own. */
const linesOf = new WeakMap<DataSource, Map<string, Waiting[]>>();
/** Gestures that are kept in one transaction. */
const AT_ONCE = 64;

async function keepInTurn(tools: GestureTools, project: string, lines: Map<string, Waiting[]>): Promise<void> {
  const line = lines.get(project)!;
  while (line.length > 0) await keep(tools, project, line.splice(0, AT_ONCE));
  lines.delete(project); // in the same breath: what comes next begins a line of its own
}

async function keep(tools: GestureTools, project: string, turn: readonly Waiting[]): Promise<void> {
  try {
    const gestures = turn.map(({ gesture }) => gesture);
    const outcomes = await withRetry(() =>
      tools.database.transaction(ISOLATION, (manager) => applyGesturesIn(manager, tools.desk, project, gestures)),
    );
    for (const [at, { resolve, reject }] of turn.entries()) {
      const outcome = outcomes[at];
      if (outcome.ok) resolve(outcome.kept);
      else reject(outcome.error);
    }
  } catch (error) {
    // One at which the program fails must not take the others with it.
    if (turn.length > 1 && !whyAway(error)) for (const one of turn) await keep(tools, project, [one]);
    else for (const { reject } of turn) reject(error);
  }
}

/** The same, away: its place is the first. */
const awayOf = (content: string): string => `{"away":true,${content.slice(1)}`;

/** Kinds of documents that a project has as many of as wanted. */
type BroughtKind = 'bill' | 'sheet' | 'buying' | 'order';

/** What undo says of one that went well is its label, or what its first command says of itself. */
type Outcome =
  { readonly ok: true; readonly kept: Kept; readonly label: string } | { readonly ok: false; readonly error: unknown };
type Meta = Pick<EditRow, 'gesture' | 'session' | 'label' | 'mode' | 'undoes'>;

/** Letters of a command that names one choice; longer ones are others, and are not looked into here. */
const LONGEST_CHOICE = 300;

/** Together they would make a document that does not open again: which of them it is shows one at a time. */
class NotTogether extends Error {
  override readonly name = 'NotTogether';
}

/** The same within a transaction that does more; a gesture that cannot be carried out leaves the others. */
async function applyGesturesIn(
  manager: EntityManager,
  desk: Desk,
  project: string,
  gestures: readonly (Omit<OpenGesture, 'steps'> & { readonly steps: readonly StepText[] })[],
): Promise<Outcome[]> {
  const documents = await lock(
    manager,
    project,
    gestures.flatMap(({ steps }) => steps),
  );
  // A repeated request (the answer got lost on the way) is answered, not carried out again.
  const done = await doneOf(
    manager,
    project,
    gestures.map(({ gesture }) => gesture),
  );
  const fresh = gestures.filter(
    ({ gesture }, at) => !done.has(gesture) && gestures.findIndex((one) => one.gesture === gesture) === at,
  );
  const metas = fresh.map(
    ({ gesture, session, label }) => ({ gesture, session, label, mode: 'do', undoes: null }) as const,
  );
  const outcomes = await keepCarried(manager, desk, project, documents, fresh, metas);
  const pushed = metas.flatMap((meta, at) => {
    const outcome = outcomes[at];
    return outcome.ok ? [{ ...meta, label: outcome.label }] : [];
  });
  await push(manager, project, 'undo', pushed);
  await clearRedo(manager, project, [...new Set(pushed.map(({ session }) => session))]);
  const now = new Map(documents.map((document) => [document.id, document]));
  for (const outcome of outcomes) if (outcome.ok) for (const one of outcome.kept.documents) now.set(one.id, one);
  return Promise.all(
    gestures.map(async ({ gesture, session, steps }): Promise<Outcome> => {
      const at = fresh.findIndex((one) => one.gesture === gesture);
      const outcome = outcomes[at];
      if (outcome && !outcome.ok) return outcome;
      const ids = new Set(steps.map(({ document }) => document));
      const current = await desk.current([...now.values()].filter(({ id }) => ids.has(id)));
      const history = outcome ? { undo: outcome.label, redo: null } : await historyOf(manager, project, session);
      return { ok: true, kept: { documents: current, history }, label: outcome?.label ?? '' };
    }),
  );
}

/** One gesture within a transaction that does more. @throws EditConflict, Refusal */
async function applyGestureIn(
  manager: EntityManager,
  desk: Desk,
  project: string,
  gesture: Omit<OpenGesture, 'steps'>,
  steps: readonly StepText[],
): Promise<Kept> {
  const [outcome] = await applyGesturesIn(manager, desk, project, [{ ...gesture, steps }]);
  if (!outcome.ok) throw outcome.error;
  return outcome.kept;
}

/** The documents of the steps, nobody else's until the transaction ends; in one order for all: no two wait crosswise. */
export async function lock(manager: EntityManager, project: string, steps: readonly StepText[]): Promise<StoredText[]> {
  const ids = [...new Set(steps.map(({ document }) => document))].sort();
  return (await manager.query(
    'SELECT id, kind, version, content FROM document WHERE project = ? AND id IN (?) ORDER BY id FOR UPDATE',
    [project, ids],
  )) as StoredText[];
}

/** Those of the gestures that were carried out before. */
async function doneOf(manager: EntityManager, project: string, gestures: readonly string[]): Promise<Set<string>> {
  const rows = (await manager.query('SELECT DISTINCT gesture FROM edit WHERE project = ? AND gesture IN (?)', [
    project,
    [...gestures],
  ])) as { gesture: string }[];
  return new Set(rows.map(({ gesture }) => gesture));
}

/** What a new document was to have alone is another one's already. */
export class Claimed extends Error {
  override readonly name = 'Claimed';
  /** @param by the other document's gesture, and when it was made */
  constructor(readonly by: { readonly label: string; readonly made: Date }) {
    super('That is taken.');
  }
}

/**
 * Adds a document and brings it by a gesture of the session, which can be taken back like any other: taken back, it is
 * away. All of it or nothing.
 * @param content JSON of it as it reads when it has come
 * @param more steps of the same gesture, given the new document's id
 * @param claim what it has alone in the project
 * @returns the document's id; that of the first time where the request is a repeated one
 * @throws Claimed
 */
export function bringDocument(
  { database, desk }: GestureTools,
  project: string,
  kind: BroughtKind,
  content: string,
  gesture: Omit<OpenGesture, 'steps'>,
  { more = () => [], claim = null }: { more?: (id: string) => readonly StepText[]; claim?: string | null } = {},
): Promise<string> {
  return withRetry(() =>
    database.transaction(ISOLATION, async (manager) => {
      // One after the other within a project: a request that is sent twice at once makes one document.
      await manager.query('SELECT id FROM project WHERE id = ? FOR UPDATE', [project]);
      const [done] = (await manager.query('SELECT document FROM edit WHERE project = ? AND gesture = ? LIMIT 1', [
        project,
        gesture.gesture,
      ])) as { document: string }[];
      if (done) return done.document;
      const id = randomUUID();
      if (claim !== null) await refuseClaimed(manager, project, claim);
      await insertAway(manager, project, id, kind, content, claim);
      const comes: StepText = {
        document: id,
        version: null,
        command: JSON.stringify({ kind: 'setAway', away: false }),
      };
      await applyGestureIn(manager, desk, project, gesture, [comes, ...more(id)]);
      return id;
    }),
  );
}

/**
 * One gesture that also brings new documents, under ids that its steps know; all of it or nothing. Taken back, they are
 * away. A repeated request changes nothing.
 * @throws EditConflict, Refusal
 */
export function applyGestureWith(
  { database, desk }: GestureTools,
  project: string,
  added: readonly { readonly id: string; readonly kind: BroughtKind; readonly content: string }[],
  { steps, ...gesture }: OpenGesture,
): Promise<void> {
  return withRetry(() =>
    database.transaction(ISOLATION, async (manager) => {
      await manager.query('SELECT id FROM project WHERE id = ? FOR UPDATE', [project]);
      if ((await doneOf(manager, project, [gesture.gesture])).size > 0) return;
      for (const { id, kind, content } of added) await insertAway(manager, project, id, kind, content);
      const come = added.map(({ id }): StepText => ({
        document: id,
        version: null,
        command: JSON.stringify({ kind: 'setAway', away: false }),
      }));
      await applyGestureIn(manager, desk, project, gesture, [...come, ...steps]);
    }),
  );
}

const insertAway = (
  manager: EntityManager,
  project: string,
  id: string,
  kind: BroughtKind,
  content: string,
  claim: string | null = null,
): Promise<unknown> =>
  manager.query(
    'INSERT INTO document (id, project, kind, version, content, position, away, claim) SELECT ?, ?, ?, 1, ?, MAX(position) + 1, 1, ? FROM document WHERE project = ?',
    [id, project, kind, awayOf(content), claim, project],
  );

async function refuseClaimed(manager: EntityManager, project: string, claim: string): Promise<void> {
  const [by] = (await manager.query(
    'SELECT e.label, e.made FROM document d JOIN edit e ON e.document = d.id WHERE d.project = ? AND d.claim = ? ORDER BY e.id LIMIT 1',
    [project, claim],
  )) as { label: string; made: Date }[];
  if (by) throw new Claimed(by);
}

const labelOf = (
  { label }: Pick<Meta, 'label'>,
  { edits }: { readonly edits: readonly { readonly words: string }[] },
) => label || edits[0].words.slice(0, MOST_LABEL);

/** Carries gestures out and writes what they came to. @throws NotTogether */
export async function keepCarried(
  manager: EntityManager,
  desk: Desk,
  project: string,
  documents: readonly StoredText[],
  gestures: readonly { readonly steps: readonly StepText[] }[],
  metas: readonly Meta[],
): Promise<Outcome[]> {
  if (gestures.length === 0) return [];
  await refuseGoneRevisions(
    manager,
    project,
    gestures.flatMap(({ steps }) => steps),
  );
  const meanwhile = await madeSince(
    manager,
    documents,
    gestures.flatMap(({ steps }) => steps),
  );
  const stays = gestures.some(({ steps }) =>
    steps.some(({ command }) => command.length <= LONGEST_CHOICE && command.includes('"setAway"')),
  )
    ? await drawingsList(manager, project)
    : null;
  const carried = await desk.carry({ documents, gestures: gestures.map(({ steps }) => ({ steps })), meanwhile, stays });
  if (!carried.documents) throw new NotTogether();
  const now = new Date();
  const rows = carried.outcomes.flatMap((outcome, at) => {
    const { gesture, session, mode, undoes } = metas[at];
    if (outcome.what !== 'done') return [];
    const label = labelOf(metas[at], outcome);
    return outcome.edits.map(({ document, fromVersion, command, inverse }): NewEdit => ({
      project,
      gesture,
      session,
      document,
      fromVersion,
      label,
      command,
      inverse,
      form: COMMAND_VERSION,
      mode,
      undoes,
      made: now,
    }));
  });
  if (rows.length > 0) {
    await addEdits(manager, rows);
    for (const { id, content, version, away } of carried.documents)
      await execute(manager, 'UPDATE document SET content = ?, version = ?, away = ? WHERE id = ?', [
        content,
        version,
        away,
        id,
      ]);
    await keepReferences(manager, carried.documents);
    await manager.query('UPDATE project SET changed = ? WHERE id = ?', [now, project]);
  }
  const after = new Map(documents.map((document) => [document.id, document]));
  for (const { id, kind, version, content } of carried.documents) after.set(id, { id, kind, version, content });
  return Promise.all(
    carried.outcomes.map(async (outcome, at): Promise<Outcome> => {
      const { steps } = gestures[at];
      const touched = () => [...after.values()].filter(({ id }) => steps.some(({ document }) => document === id));
      if (outcome.what === 'done')
        return {
          ok: true,
          kept: { documents: touched(), history: { undo: null, redo: null } },
          label: labelOf(metas[at], outcome),
        };
      if (outcome.what === 'refused') return { ok: false, error: new Refusal(outcome.code, outcome.message) };
      const since = rows.length > 0 ? await madeSince(manager, [...after.values()], steps) : meanwhile;
      return { ok: false, error: new EditConflict(await staleAnswer(desk, touched(), since)) };
    }),
  );
}

/** A document that shows a revision that is not there could not be opened. @throws Refusal */
async function refuseGoneRevisions(manager: EntityManager, project: string, steps: readonly StepText[]): Promise<void> {
  const named = new Set(
    steps.flatMap(({ command }) => {
      if (command.length > LONGEST_CHOICE || !command.includes('"showRevision"')) return [];
      const { revision } = JSON.parse(command) as { revision?: unknown };
      return typeof revision === 'string' ? [revision] : [];
    }),
  );
  if (named.size === 0) return;
  const there = (await manager.query('SELECT id FROM revision WHERE project = ? AND id IN (?) FOR UPDATE', [
    project,
    [...named],
  ])) as { id: string }[];
  if (there.length < named.size)
    throw new Refusal('edit-refused', 'That revision is not in the project; it may have been taken away.');
}

type NewEdit = Omit<EditRow, 'id'>;
/** Letters of a command from which it is written by a statement of its own. */
const LARGE = 64 * 1024;
const EDIT_COLUMNS = [
  'project',
  'gesture',
  'session',
  'document',
  'fromVersion',
  'label',
  'command',
  'inverse',
  'form',
  'mode',
  'undoes',
  'made',
] as const satisfies readonly (keyof NewEdit)[];
const INSERT_EDIT = `INSERT INTO edit (${EDIT_COLUMNS.join()}) VALUES`;

async function addEdits(manager: EntityManager, edits: readonly NewEdit[]): Promise<void> {
  const values = (edit: NewEdit) => EDIT_COLUMNS.map((column) => edit[column]);
  const isLarge = ({ command, inverse }: NewEdit) => command.length + inverse.length > LARGE;
  const small = edits.filter((edit) => !isLarge(edit));
  if (small.length > 0) await manager.query(`${INSERT_EDIT} ?`, [small.map(values)]);
  for (const edit of edits.filter(isLarge))
    await execute(manager, `${INSERT_EDIT} (${EDIT_COLUMNS.map(() => '?').join()})`, values(edit));
}

const drawingsList = async (manager: EntityManager, project: string): Promise<string | null> =>
  (
    (await manager.query("SELECT id FROM document WHERE project = ? AND kind = 'bill' ORDER BY position, id LIMIT 1", [
      project,
    ])) as { id: string }[]
  )[0]?.id ?? null;

export type KnownEdit = Pick<
  EditRow,
  'document' | 'fromVersion' | 'session' | 'label' | 'command' | 'inverse' | 'form'
> & {
  readonly kind: DocumentKind;
};

/** So many edits of others are looked through for a gesture that comes late. */
const MOST_MISSED = 5000;

/** Edits since the versions that steps were made for; empty for steps that are up to date. */
async function madeSince(
  manager: EntityManager,
  documents: readonly StoredText[],
  steps: readonly StepText[],
): Promise<KnownEdit[]> {
  const all: KnownEdit[] = [];
  for (const { id, kind, version } of documents) {
    const wanted = steps.flatMap((step) => (step.document === id && step.version !== null ? [step.version] : []));
    const from = Math.min(version, ...wanted);
    if (from === version) continue;
    if (version - from > MOST_MISSED)
      throw new Refusal(
        'edit-refused',
        `This window has missed more than ${MOST_MISSED.toLocaleString('en')} changes of the ${kind}. Reload the page, then do it again.`,
      );
    const edits = (await manager.query(
      'SELECT document, fromVersion, session, label, command, inverse, form FROM edit WHERE document = ? AND fromVersion >= ? ORDER BY fromVersion',
      [id, from],
    )) as Omit<KnownEdit, 'kind'>[];
    for (const edit of edits) all.push({ ...edit, kind });
  }
  return all;
}

/** JSON of the answer to a gesture that came too late: what happened meanwhile, and the documents as they read now. */
async function staleAnswer(
  desk: Desk,
  documents: readonly StoredText[],
  meanwhile: readonly KnownEdit[],
): Promise<string> {
  const since = meanwhile.map((edit) => {
    const { document, session, label } = edit;
    return `{"document":${JSON.stringify(document)},"session":${JSON.stringify(session)},"label":${JSON.stringify(label)},"command":${presentForm(edit, edit.command)}}`;
  });
  const now = (await desk.current(documents)).map(documentJson);
  return `{"error":"Somebody else changed this meanwhile.","since":[${since.join()}],"documents":[${now.join()}]}`;
}

/** JSON of a stored command, or of the inverse of one, as it is written today. */
export const presentForm = ({ kind, form }: Pick<KnownEdit, 'kind' | 'form'>, stored: string): string =>
  form === COMMAND_VERSION ? stored : JSON.stringify(parseStoredCommand(kind, form, JSON.parse(stored)));
