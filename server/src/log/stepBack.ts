import type { EntityManager } from 'typeorm';
import type { StepText } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { withRetry } from '../store/database.ts';
import type { Kept } from './documentJson.ts';
import { keepCarried, ISOLATION, lock, presentForm, type GestureTools, type KnownEdit } from './gestureLog.ts';
import { historyOf, push, top } from './history.ts';

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
    database.transaction(ISOLATION, async (manager) => {
      // First: whoever asks at the same time waits here, and then sees what was done.
      const next = await top(manager, project, session, mode, { forUpdate: true });
      const [done] = await editsOf(manager, project, gesture);
      const target = done ? null : next;
      if (!done && !target)
        throw new Refusal(
          'edit-refused',
          mode === 'undo'
            ? 'There is nothing to take back in this window.'
            : 'There is nothing to do again in this window.',
        );
      const edits = await editsOf(manager, project, target?.gesture ?? gesture);
      const steps = edits.map((edit): StepText => ({
        document: edit.document,
        version: null,
        command: presentForm(edit, edit.inverse),
      }));
      const documents = await lock(manager, project, steps);
      if (!target)
        return { documents: await desk.current(documents), history: await historyOf(manager, project, session) };
      const later = (await manager.query(
        "SELECT e.document, e.fromVersion, e.session, e.label, e.command, '' AS inverse, e.form, d.kind FROM edit e JOIN document d ON d.id = e.document WHERE e.project = ? AND e.id > ? AND e.session <> ? AND e.document IN (?) ORDER BY e.id",
        [project, edits[0].id, session, [...new Set(edits.map(({ document }) => document))]],
      )) as KnownEdit[];
      const clash = await desk.clash(edits, later);
      if (clash !== null)
        throw new Refusal(
          'edit-refused',
          `“${target.label}” cannot be taken back: “${later[clash].label}” changed the same thing since, in another window.`,
        );
      const { label } = target;
      const meta = { gesture, session, label, mode, undoes: target.gesture };
      const [outcome] = await keepCarried(manager, desk, project, documents, [{ steps }], [meta]);
      if (!outcome.ok) throw outcome.error;
      await manager.query('DELETE FROM history WHERE id = ?', [target.id]);
      await push(manager, project, mode === 'undo' ? 'redo' : 'undo', [{ session, gesture, label }]);
      return { documents: outcome.kept.documents, history: await historyOf(manager, project, session) };
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
    'SELECT e.id, e.document, e.fromVersion, e.session, e.label, e.command, e.inverse, e.form, d.kind FROM edit e JOIN document d ON d.id = e.document WHERE e.project = ? AND e.gesture = ? ORDER BY e.id DESC',
    [project, gesture],
  );
