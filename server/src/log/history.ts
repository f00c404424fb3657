import type { EntityManager } from 'typeorm';
import type { History } from '../../../contract/src/index.ts';

export type Stack = 'undo' | 'redo';
interface StackRow {
  readonly id: number;
  readonly gesture: string;
  readonly label: string;
}

/** What a stack gives up next. */
export async function top(
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

/** What this session can take back or do again, in words. */
export async function historyOf(manager: EntityManager, project: string, session: string): Promise<History> {
  if (session === '') return { undo: null, redo: null };
  const undo = await top(manager, project, session, 'undo');
  const redo = await top(manager, project, session, 'redo');
  return { undo: undo?.label ?? null, redo: redo?.label ?? null };
}

/** Gestures that the sessions can take back (or do again) next, in their order. */
export async function push(
  manager: EntityManager,
  project: string,
  stack: Stack,
  gestures: readonly { readonly session: string; readonly gesture: string; readonly label: string }[],
): Promise<void> {
  if (gestures.length === 0) return;
  await manager.query('INSERT INTO history (project, session, stack, gesture, label) VALUES ?', [
    gestures.map(({ session, gesture, label }) => [project, session, stack, gesture, label]),
  ]);
}

/** A new gesture ends what could have been done again. */
export async function clearRedo(manager: EntityManager, project: string, sessions: readonly string[]): Promise<void> {
  if (sessions.length === 0) return;
  const rows = (await manager.query("SELECT id FROM history WHERE project = ? AND session IN (?) AND stack = 'redo'", [
    project,
    [...sessions],
  ])) as { id: number }[];
  if (rows.length > 0) await manager.query('DELETE FROM history WHERE id IN (?)', [rows.map(({ id }) => id)]);
}
