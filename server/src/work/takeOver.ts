import { readStored, type StoredText } from '../../../contract/src/index.ts';
import { groupBy, Refusal } from '../../../core/src/assembly/index.ts';
import {
  applyCommand,
  billShownBy,
  type CarriedOut,
  type GestureStep,
  type Intention,
} from '../../../core/src/documents/index.ts';
import type { Services } from '../http/http.ts';
import { openDocuments } from '../opened/openedDocuments.ts';
import type { StoredProject } from '../opened/openedSheets.ts';
import { revisionIn } from '../store/revisions.ts';
import type { JobContext } from './jobRunner.ts';
import { stateOf, workOut } from './workOut.ts';

type TakeOver = Extract<Intention, { kind: 'takeOver' }>;

/** What taking a revision over comes to. */
interface TakenOver extends CarriedOut {
  /** The documents as they will be; none of it is stored. */
  readonly after: readonly StoredText[];
}

/**
 * Documents may show different revisions until then. Each is told against the one that it shows, so those of one revision
 * go together, lists before the sheets that show their numbers.
 */
export async function takenOver(
  stored: StoredProject,
  intention: TakeOver,
  project: string,
  context: JobContext,
  services: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<TakenOver> {
  const late = meant(stored, intention);
  const isOne = new Set(late.map(({ revision }) => revision)).size <= 1;
  // Where nothing is late that is refused in a sentence.
  const turns = isOne
    ? [intention.documents]
    : [...groupBy(late, ({ kind, revision }) => `${kind} ${revision}`).values()].map((list) =>
        list.map(({ id }) => id),
      );
  let now = stored.documents;
  const steps: GestureStep[] = [],
    problems: CarriedOut['problems'][number][] = [],
    refused: string[] = [];
  for (const documents of turns) {
    const part: TakeOver = { ...intention, documents };
    const state = await stateOf({ ...stored, documents: now }, part, services.blobs);
    const carried = await workOut(state, part, project, context, services);
    steps.push(...carried.steps);
    problems.push(...carried.problems);
    refused.push(...carried.refused);
    now = carriedOut(now, carried.steps);
  }
  return { steps, problems, refused, after: now };
}

/** Documents that come to show it, and which revision each of them shows; a sheet takes its list along. */
function meant({ documents, revisions }: StoredProject, { revision, documents: named }: TakeOver) {
  const { bills, sheets } = openDocuments(documents);
  const wanted = sheets.filter(({ id }) => named.includes(id));
  const ids = new Set([...named, ...wanted.map(({ content }) => billShownBy(bills, content).id)]);
  const shown = ({ revision: of }: { readonly revision?: string }) => revisionIn(revisions, of).id;
  return [
    ...bills.map(({ id, content }) => ({ id, kind: 'bill', revision: shown(content) })),
    ...sheets.map(({ id, content }) => ({ id, kind: 'sheet', revision: shown(content) })),
  ].filter((one) => ids.has(one.id) && one.revision !== revision);
}

/** The documents after commands that are not stored. @throws Refusal where one cannot be carried out */
function carriedOut(documents: readonly StoredText[], steps: readonly GestureStep[]): readonly StoredText[] {
  const byDocument = groupBy(steps, ({ document }) => document);
  return documents.map((stored) => {
    const own = byDocument.get(stored.id);
    if (!own) return stored;
    const content = own.reduce((now, { command }) => {
      const done = applyCommand(stored.kind, now, command);
      if (!done.ok) throw new Refusal('refused', done.reason);
      return done.document;
    }, readStored(stored));
    return { ...stored, content: JSON.stringify(content) };
  });
}
