import { randomUUID } from 'node:crypto';
import type { DataSource, EntityManager } from 'typeorm';
import * as v from 'valibot';
import {
  parseCommand,
  parseDocument,
  parseStoredCommand,
  type Accepted,
  type Gesture,
  type History,
  type Stale,
} from '../../contract/src/index.ts';
import {
  applyCommand,
  COMMAND_VERSION,
  overlap,
  touches,
  type Command,
  type DocumentKind,
  type ProjectDocument,
} from '../../core/src/documents/index.ts';
import { EditConflict, EditRefused } from './errors.ts';
import { withRetry } from './database.ts';
import type { DocumentRow, EditRow } from './entities.ts';

interface Step {
  readonly document: string;
  /** The command, as it came in at a door or as `parseStoredCommand` read it. */
  readonly command: unknown;
  /** Version that the command was made for; null to take the document as it stands. */
  readonly version: number | null;
}

/**
 * Carries out a gesture: every step or none, in one transaction; each becomes an edit with its inverse.
 * @throws EditConflict where a document is no longer at the version that the gesture was made for
 * @throws EditRefused where a command cannot be carried out
 */
export const applyGesture = (database: DataSource, project: string, gesture: Gesture): Promise<Accepted> =>
  withRetry(() => database.transaction((manager) => applyGestureIn(manager, project, gesture)));

/** The same within a transaction that does more. */
async function applyGestureIn(
  manager: EntityManager,
  project: string,
  { gesture, session, label, steps }: Omit<Gesture, 'steps'> & { readonly steps: readonly Step[] },
): Promise<Accepted> {
  // A repeated request (the answer got lost on the way) is answered, not carried out again.
  const ids = steps.map(({ document }) => document);
  const documents = (await isDone(manager, project, gesture))
    ? await documentsOf(manager, project, ids)
    : await applySteps(manager, project, steps, { gesture, session, label, mode: 'do', undoes: null });
  return { documents, history: await historyOf(manager, project, session) };
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
  database: DataSource,
  project: string,
  kind: 'bill' | 'sheet',
  content: ProjectDocument,
  gesture: Pick<Gesture, 'gesture' | 'session' | 'label'>,
  more: (id: string) => readonly Step[] = () => [],
): Promise<string> {
  return withRetry(() =>
    database.transaction(async (manager) => {
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
      const comes: Step = { document: id, version: null, command: { kind: 'setAway', away: false } };
      await applyGestureIn(manager, project, { ...gesture, steps: [comes, ...more(id)] });
      return id;
    }),
  );
}

async function applySteps(
  manager: EntityManager,
  project: string,
  steps: readonly Step[],
  meta: Pick<EditRow, 'gesture' | 'session' | 'label' | 'mode' | 'undoes'>,
): Promise<Accepted['documents']> {
  const open = new Map<string, { row: DocumentRow; content: ProjectDocument; version: number }>();
  for (const id of [...new Set(steps.map(({ document }) => document))].sort()) {
    // one order for all: no deadlock between two gestures
    const [row] = (await manager.query('SELECT * FROM document WHERE id = ? AND project = ? FOR UPDATE', [
      id,
      project,
    ])) as DocumentRow[];
    if (!row) throw new EditRefused('The document is no longer in this project.');
    open.set(id, { row, content: parseDocument(row.kind, JSON.parse(row.content)), version: row.version });
  }
  for (const step of steps) {
    const { row } = open.get(step.document)!;
    if (step.version !== null && step.version !== row.version)
      throw new EditConflict(await staleAnswer(manager, project, steps));
  }
  const now = new Date();
  for (const step of steps) {
    const document = open.get(step.document)!;
    const command = parseCommand(document.row.kind, step.command);
    const applied = applyCommand(document.row.kind, document.content, command);
    if (!applied.ok) throw new EditRefused(applied.reason);
    if (command.kind === 'setAway' && command.away && (await isDrawingsList(manager, project, step.document)))
      throw new EditRefused('The first bill is the drawing’s list: sheets and balloons show its numbers, so it stays.');
    await manager.query(
      'INSERT INTO edit (project, gesture, session, document, fromVersion, label, command, inverse, form, mode, undoes, made) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [
        project,
        meta.gesture,
        meta.session,
        step.document,
        document.version,
        meta.label,
        JSON.stringify(command),
        JSON.stringify(applied.inverse),
        COMMAND_VERSION,
        meta.mode,
        meta.undoes,
        now,
      ],
    );
    document.content = applied.document;
    document.version++;
  }
  for (const [id, { row, content, version }] of open) {
    refuseUnreadable(row.kind, content);
    await manager.query('UPDATE document SET content = ?, version = ?, away = ? WHERE id = ?', [
      JSON.stringify(content),
      version,
      'away' in content,
      id,
    ]);
  }
  await manager.query('UPDATE project SET changed = ? WHERE id = ?', [now, project]);
  return [...open].map(([id, { row, content, version }]) => ({ id, kind: row.kind, version, content }));
}

/**
 * What is kept must open again: a document passes the door that it will come in by.
 * @throws EditRefused with what is wrong
 */
function refuseUnreadable(kind: DocumentKind, content: ProjectDocument): void {
  try {
    parseDocument(kind, JSON.parse(JSON.stringify(content)));
  } catch (error) {
    if (!(error instanceof v.ValiError)) throw error;
    const [issue] = error.issues as v.BaseIssue<unknown>[];
    throw new EditRefused(`That would be more than a ${kind} can hold: ${v.getDotPath(issue) ?? ''} ${issue.message}`);
  }
}

const isDrawingsList = async (manager: EntityManager, project: string, document: string): Promise<boolean> =>
  (
    (await manager.query("SELECT id FROM document WHERE project = ? AND kind = 'bill' ORDER BY position, id LIMIT 1", [
      project,
    ])) as { id: string }[]
  )[0]?.id === document;

async function documentsOf(
  manager: EntityManager,
  project: string,
  ids: readonly string[],
): Promise<Accepted['documents']> {
  const rows = (await manager.query('SELECT * FROM document WHERE project = ? AND id IN (?)', [
    project,
    [...ids],
  ])) as DocumentRow[];
  return rows.map((row) => ({
    id: row.id,
    kind: row.kind,
    version: row.version,
    content: parseDocument(row.kind, JSON.parse(row.content)),
  }));
}

async function staleAnswer(manager: EntityManager, project: string, steps: readonly Step[]): Promise<Stale> {
  const since: Stale['since'] = [];
  for (const { document, version } of steps) {
    const rows = (await manager.query(
      'SELECT e.*, d.kind FROM edit e JOIN document d ON d.id = e.document WHERE e.document = ? AND e.fromVersion >= ? ORDER BY e.fromVersion',
      [document, version],
    )) as KnownEdit[];
    since.push(
      ...rows.map((row) => ({
        document,
        session: row.session,
        label: row.label,
        command: commandOf(row, 'command'),
      })),
    );
  }
  const documents = await documentsOf(
    manager,
    project,
    steps.map(({ document }) => document),
  );
  return { error: 'Somebody else changed this meanwhile.', since, documents };
}

type KnownEdit = EditRow & { readonly kind: DocumentKind };
/** @throws Refusal where a newer program stored it */
const commandOf = (edit: KnownEdit, what: 'command' | 'inverse'): Command =>
  parseStoredCommand(edit.kind, edit.form, JSON.parse(edit[what]));

interface GestureSummary {
  gesture: string;
  label: string;
  mode: EditRow['mode'];
  undoes: string | null;
  last: number;
}

/** This session's gestures as two stacks: what undo takes back next is last. */
async function stacks(
  manager: EntityManager,
  project: string,
  session: string,
): Promise<{ undo: GestureSummary[]; redo: GestureSummary[] }> {
  const gestures = (await manager.query(
    'SELECT gesture, MIN(label) AS label, MIN(mode) AS mode, MIN(undoes) AS undoes, MAX(id) AS last FROM edit WHERE project = ? AND session = ? GROUP BY gesture ORDER BY last',
    [project, session],
  )) as GestureSummary[];
  const undo: GestureSummary[] = [],
    redo: GestureSummary[] = [];
  for (const one of gestures) {
    if (one.mode === 'undo') {
      undo.pop();
      redo.push(one);
    } else {
      if (one.mode === 'redo') redo.pop();
      else redo.length = 0;
      undo.push(one);
    }
  }
  return { undo, redo };
}

/** What this session can take back or do again, in words. */
export async function historyOf(manager: EntityManager, project: string, session: string): Promise<History> {
  const { undo, redo } = await stacks(manager, project, session);
  return { undo: undo.at(-1)?.label ?? null, redo: redo.at(-1)?.label ?? null };
}

/**
 * Takes back this session's last gesture (or does its last undone one again) as a new gesture.
 * @throws EditRefused where there is none, or where what it touched was changed by somebody else since
 */
export function stepBack(
  database: DataSource,
  project: string,
  session: string,
  mode: 'undo' | 'redo',
  gesture: string,
): Promise<Accepted> {
  return withRetry(() =>
    database.transaction(async (manager) => {
      const target = (await stacks(manager, project, session))[mode].at(-1);
      if (!target)
        throw new EditRefused(
          mode === 'undo'
            ? 'There is nothing to take back in this window.'
            : 'There is nothing to do again in this window.',
        );
      const edits = (await manager.query(
        'SELECT e.*, d.kind FROM edit e JOIN document d ON d.id = e.document WHERE e.project = ? AND e.gesture = ? ORDER BY e.id DESC',
        [project, target.gesture],
      )) as KnownEdit[];
      const later = (await manager.query(
        'SELECT e.*, d.kind FROM edit e JOIN document d ON d.id = e.document WHERE e.project = ? AND e.id > ? AND e.session <> ? ORDER BY e.id',
        [project, target.last, session],
      )) as KnownEdit[];
      const touched = (edit: KnownEdit) =>
        touches(edit.kind, commandOf(edit, 'command')).map((name) => `${edit.document} ${name}`);
      const mine = edits.flatMap(touched);
      const clash = later.find((edit) => overlap(mine, touched(edit)));
      if (clash)
        throw new EditRefused(
          `“${target.label}” cannot be taken back: “${clash.label}” changed the same thing since, in another window.`,
        );
      const steps = edits.map((edit) => ({
        document: edit.document,
        version: null,
        command: commandOf(edit, 'inverse'),
      }));
      const documents = await applySteps(manager, project, steps, {
        gesture,
        session,
        label: target.label,
        mode,
        undoes: target.gesture,
      });
      return { documents, history: await historyOf(manager, project, session) };
    }),
  );
}
